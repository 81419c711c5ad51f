"""What an intake concludes, from everything that was entered."""

from datetime import UTC, date, datetime

from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import Side
from dimbo.core.intake.conclusions import Intake, Rating, conclude, severity_by_muscle
from dimbo.core.intake.side_tests import TestResult
from dimbo.core.safety.cautions import CautionAnswer

TODAY = date(2026, 3, 20)
NOON = datetime(2026, 3, 20, 12, tzinfo=UTC)
TABLES = shipped_intake().tables
SHIPPED = shipped_catalogue()
REGION = {m.id: m.region for m in SHIPPED.muscles.values()}


def concluded(**entered):
    return conclude(TABLES, Intake(**entered), SHIPPED.cards.values(), REGION, TODAY)


def cautions(**answers):
    return {(c := k.replace("_", "-")): CautionAnswer(caution=c, answer=a, at=NOON) for k, a in answers.items()}


def results(**answers):
    return {(t := k.replace("_", "-")): TestResult(t, a, TODAY) for k, a in answers.items()}


def all_no():
    return {r.id: CautionAnswer(caution=r.id, answer="no", at=NOON) for r in TABLES.cautions}


def places(found):
    return [(a.place, a.key) for a in found.ask_next]


def test_an_empty_intake_asks_for_urgent_signs_first_then_cautions_then_concerns():
    asked = places(concluded())
    urgent = [r.id for r in TABLES.cautions if r.group == "urgent"]
    assert asked[: len(urgent)] == [("cautions", u) for u in urgent]
    assert asked[len(urgent)][0] == "cautions"
    assert ("concerns", "") in asked and ("time", "minutes") in asked and ("time", "goals") in asked


def test_a_full_intake_asks_nothing():
    full = concluded(
        cautions=all_no(),
        ratings={"flat-cheeks": Rating(2, 2)},
        answers={("flat-cheeks", "smile-lifts"): "no"},
        minutes=12,
        goals="Cheeks.",
    )
    assert full.ask_next == ()


def test_a_side_test_answers_the_question_it_belongs_to():
    deeper_left = {"nasolabial-fold": Rating(1, 3)}
    (view,) = concluded(ratings=deeper_left, results=results(chewing="left")).concerns
    assert view.derived == {"chewing-side": "yes"} and view.cause.id == "chewing-habit"
    (other,) = concluded(ratings=deeper_left, results=results(chewing="right")).concerns
    assert other.derived == {"chewing-side": "no"} and other.cause.id != "chewing-habit"
    (equal,) = concluded(ratings={"nasolabial-fold": Rating(2, 2)}, results=results(chewing="left")).concerns
    assert equal.derived == {}, "without a deeper side the chewing side says nothing"


def test_the_coachs_own_answer_overrules_the_side_test():
    found = concluded(
        ratings={"nasolabial-fold": Rating(1, 3)},
        results=results(chewing="left"),
        answers={("nasolabial-fold", "chewing-side"): "no"},
    )
    assert found.concerns[0].derived == {} and found.concerns[0].cause.id != "chewing-habit"


def test_a_conflict_between_tests_answers_nothing():
    found = concluded(ratings={"eye-less-open": Rating(3, 1)}, results=results(evening_droop="left", wider_eye="left"))
    assert "opens-less" not in found.concerns[0].derived
    assert [t.side for t in found.topics] == [None] and found.topics[0].conflict


def test_an_urgent_sign_answers_how_it_began():
    (view,) = concluded(ratings={"mouth-asymmetry": Rating(0, 3)}, cautions=cautions(sudden_face="yes")).concerns
    assert view.cause.id == "sudden-onset" and view.cause.families == ()


def test_the_coach_has_the_last_word_and_the_page_says_so():
    entered = {"ratings": {"under-eye-puffiness": Rating(2, 2)}, "answers": {("under-eye-puffiness", "worse-morning"): "yes"}}
    (view,) = concluded(**entered, causes={"under-eye-puffiness": "fullness"}).concerns
    assert view.chosen and view.differs and view.cause.id == "fullness"
    assert view.suggestion.first.cause.id == "fluid", "the suggestion is kept beside it"


def test_families_weigh_by_severity_and_name_their_locks():
    found = concluded(ratings={"flat-cheeks": Rating(3, 3), "under-eye-puffiness": Rating(1, 2)}, cautions=cautions(lymph_cancer="yes"))
    by_name = {f.family: f for f in found.families}
    assert by_name["contract"].weight == 3 and by_name["drain"].weight == 2
    assert found.families[0].weight >= found.families[-1].weight
    assert by_name["drain"].locked == ("Lymph disease, or cancer treatment of head and neck",)
    assert by_name["contract"].locked == by_name["drain"].locked


def test_a_lock_elsewhere_leaves_a_family_alone():
    found = concluded(ratings={"flat-cheeks": Rating(3, 3)}, cautions=cautions(eye_surgery="yes"))
    assert all(f.locked == () for f in found.families)
    assert {c.id for c, v in found.exercises} & {"bracket-open"} and not {c.id for c, _ in found.exercises} & {"oval-lift"}


def test_a_lock_without_regions_or_day_is_asked_for():
    found = concluded(cautions={**all_no(), "fillers": CautionAnswer(caution="fillers", answer="yes", at=NOON)})
    asked = [a for a in found.ask_next if a.key == "fillers"]
    assert [a.text for a in asked] == ["Fillers: which regions?", "Fillers: when was it?"]


def test_habits_are_offered_and_remembered():
    offered = concluded(results=results(chewing="right", bag="both")).habits
    assert [(h.test, h.text, h.agreed) for h in offered] == [("chewing", "Chew on the left side", False)]
    assert concluded(results=results(chewing="right"), habits=frozenset({"chewing"})).habits[0].agreed


def test_severity_shows_at_every_muscle_of_a_concern_and_the_gravest_counts():
    shown = severity_by_muscle(TABLES.concerns, {"crows-feet": Rating(1, 2), "hooded-lid": Rating(3, 0), "jowls": Rating(0, 0)})
    assert shown["orbicularis_oculi"] == Rating(3, 2)
    assert "masseter" not in shown


SIDED = st.sampled_from(["right", "left", "neither"])
RATINGS = st.builds(Rating, st.integers(0, 4), st.integers(0, 4))
PAIRED = [c.id for c in TABLES.concerns.values() if c.paired]
TESTED = [t.id for t in TABLES.tests.values() if t.speaks and "neither" in t.answers]
MIRROR = {"right": "left", "left": "right", "neither": "neither"}


@given(st.dictionaries(st.sampled_from(PAIRED), RATINGS, max_size=5), st.dictionaries(st.sampled_from(TESTED), SIDED))
def test_a_mirrored_client_comes_to_the_same_causes(ratings, tested):
    straight = concluded(ratings=ratings, results={t: TestResult(t, a, TODAY) for t, a in tested.items()})
    mirrored = concluded(
        ratings={c: Rating(r.left, r.right) for c, r in ratings.items()},
        results={t: TestResult(t, MIRROR[a], TODAY) for t, a in tested.items()},
    )
    assert [(v.concern.id, v.cause.id, v.derived) for v in straight.concerns] == [
        (v.concern.id, v.cause.id, v.derived) for v in mirrored.concerns
    ]
    assert straight.families == mirrored.families


def test_deeper_names_the_clients_own_side():
    assert Rating(3, 1).deeper is Side.RIGHT and Rating(1, 3).deeper is Side.LEFT and Rating(2, 2).deeper is None
