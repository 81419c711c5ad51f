"""What an exercise touches is all there: no caution misses a hand, and a stiff neck is never tilted back or turned."""

from dataclasses import replace
from datetime import UTC, date, datetime

import pytest

from dimbo.catalogue import make_card, shipped_catalogue, shipped_intake
from dimbo.catalogue.safety_book import outcome
from dimbo.catalogue.schema import ExerciseEntry, FigureEntry
from dimbo.core.anatomy import Family
from dimbo.core.exercises.card import MARKS
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.exercises.figure import BEHIND, HEADS, MIDLINE, PAIRED, PALM_COVERS, PLACE_REGIONS, Figure, Hand
from dimbo.core.exercises.touch_words import untold
from dimbo.core.programs.daily_ceilings import takes
from dimbo.core.programs.program import Line
from dimbo.core.safety.cautions import CautionAnswer, Clearance, Effect, stand
from dimbo.core.sessions.eased_version import eased_item
from dimbo.core.sessions.timeline import Item

CATALOGUE = shipped_catalogue()
RULES = shipped_intake().tables.cautions
REGIONS = {m.region for m in CATALOGUE.muscles.values()}
NOON = datetime(2026, 3, 20, 12, tzinfo=UTC)
TODAY = date(2026, 3, 20)
every_card = pytest.mark.parametrize("card", CATALOGUE.cards.values(), ids=CATALOGUE.cards)
VERSIONS = [v for c in CATALOGUE.cards.values() for v in (c, c.easier) if v is not None]
every_version = pytest.mark.parametrize("card", VERSIONS, ids=[c.name for c in VERSIONS])


@every_card
def test_a_cards_regions_are_those_of_its_muscles_its_hands_and_its_moves(card):
    muscles = {CATALOGUE.muscles[m].region for m in card.shares}
    hands = {r for h in card.figure.hands for place in h.path for r in PLACE_REGIONS[place]}
    moves = {r for path in card.figure.moves for place in path for r in PLACE_REGIONS[place]}
    assert muscles | hands | moves <= card.regions and hands <= card.touches <= card.regions


@every_version
def test_where_the_words_put_a_hand_or_move_the_head_the_card_says_so(card):
    assert untold(card.cues, card.regions, card.marks) is None


@pytest.mark.parametrize(
    ("cue", "missing"),
    [
        ("Press both temples.", "temple"),
        ("Fingertips along the nape.", "neck"),
        ("Lay a palm on the chest. Breathe.", None),
        ("Tilt the head back, then smile.", "head-back"),
        ("Draw the head back to level.", None),
        ("Lean the ear to the shoulder.", "head-tilt"),
        ("Now with the head turned.", "neck-turn"),
        ("Hold your breath for five.", "breath-hold"),
        ("Teeth a finger's width apart, lips soft.", None),
    ],
)
def test_words_are_read_on_the_safe_side(cue, missing):
    found = untold([cue], frozenset({"scalp"}), frozenset())
    assert (found is None) is (missing is None)
    if found:
        assert missing in found.regions or missing == found.mark
        assert untold([cue], found.regions, {found.mark}) is None, "listing what is missing settles it"


def test_every_place_of_a_figure_lies_in_a_region_of_the_face():
    assert set(PLACE_REGIONS) == set(MIDLINE) | set(PAIRED) | set(BEHIND)
    assert set().union(*PLACE_REGIONS.values()) <= REGIONS and set().union(*PALM_COVERS.values()) <= REGIONS
    assert REGIONS - {"mouth floor"} <= set().union(*PLACE_REGIONS.values()), "every region can be touched"


@pytest.mark.parametrize(
    ("card", "regions"),
    [
        ("brow-hold-down", {"brow"}),
        ("brow-surprise", {"brow"}),
        ("bracket-open", {"brow"}),
        ("down-gaze-open", {"brow"}),
        ("bracket-squint", {"brow"}),
        ("lid-resist-close", {"brow"}),
        ("brow-level", {"brow"}),
        ("palm-lean-lift", {"temple", "jaw"}),
        ("face-rain", {"temple"}),
        ("orbit-release", {"temple"}),
        ("forehead-smooth", {"temple"}),
        ("nostril-flare", {"mouth"}),
        ("corner-lift-resist", {"mouth"}),
        ("jaw-scoop", {"chin"}),
        ("jaw-resist-open", {"chin"}),
        ("chin-pinch-line", {"chin"}),
        ("warm-palms", {"cheek", "eye"}),
    ],
)
def test_hands_reach_what_no_muscle_of_the_card_tells(card, regions):
    assert regions <= CATALOGUE.cards[card].touches


def held(caution, **more):
    no = {r.id: CautionAnswer(caution=r.id, answer="no", at=NOON) for r in RULES}
    regions = frozenset(more.pop("regions", ()))
    return stand(
        RULES,
        no | {caution: CautionAnswer(caution=caution, answer="yes", at=NOON, regions=regions, **more)},
        more.pop("clearances", ()),
        TODAY,
    )


@pytest.mark.parametrize("caution", [r.id for r in RULES if r.noted_regions])
@pytest.mark.parametrize("region", sorted(REGIONS))
def test_no_hand_reaches_a_treated_region(caution, region):
    """Injections, threads, a flare: whatever version of an exercise is left lays no hand there."""
    cautions = held(caution, regions=[region])
    left = [v for c in CATALOGUE.cards.values() if (v := cautions.of(c).version) is not None]
    assert [v.name for v in left if region in v.touches] == []


def test_injections_in_brow_and_forehead_hold_every_finger_there():
    cautions = held("muscle-injection", regions=["brow", "forehead"])
    for card in CATALOGUE.cards.values():
        version = cautions.of(card).version
        assert version is None or not version.regions & {"brow", "forehead"}, card.id


@every_card
def test_a_cold_sore_holds_all_work_and_every_hand_at_the_lips(card):
    version = held("cold-sore").of(card).version
    if version is not None:
        assert "mouth" not in version.touches and not version.inside_mouth
        assert version.family in (Family.BREATHE, Family.ALIGN, Family.HABIT) or "mouth" not in version.regions


@every_card
@pytest.mark.parametrize("caution", ["neck-stiff", "neck-injury"])
def test_a_stiff_or_injured_neck_is_never_tilted_or_turned_in_any_version(card, caution):
    version = held(caution).of(card).version
    assert version is None or not version.marks & {"head-back", "head-tilt", "neck-turn"}


@every_card
def test_what_tilts_or_turns_the_head_has_an_eased_version_that_does_not(card):
    if card.marks & {"head-back", "head-tilt", "neck-turn"}:
        eased = card.easier
        assert eased is not None and not eased.marks & {"head-back", "head-tilt", "neck-turn"}
        assert eased.cues != card.cues and eased.figure != card.figure
        assert eased.id == card.id and eased.ceiling == card.ceiling, "it shares the ceiling of the day"
        assert set(eased.figure.head) == {"level"}


@every_card
def test_an_eased_version_is_dosed_by_itself_and_asks_for_less(card):
    if card.easier is None:
        return
    full = Item(Line(id="a", card=card, stage=card.stage, cells=(card.target_line,)), parse(card.target_line, card.style))
    eased = eased_item(full)
    assert eased.card is card.easier and print_line(eased.dose, eased.card.style) == card.easier.start_line
    assert sum(vars_of(eased)) < sum(vars_of(full))


def vars_of(item):
    used = takes(item.card, item.dose, 1.0).exercises[item.card.id]
    return used.right, used.left


def test_a_side_that_is_not_worked_stays_so_in_the_eased_version():
    card = CATALOGUE.cards["side-neck-lean"]
    eased = eased_item(Item(Line(id="a", card=card, stage=card.stage, cells=("R1 ×2 h10",)), parse("R1 ×2 h10", card.style)))
    assert print_line(eased.dose, eased.card.style) == "R1 ×2 h8"


def test_head_and_turns_are_marked_by_figure_and_directions():
    for card in VERSIONS:
        for head in card.figure.head:
            assert head in HEADS
        ways = {w.name for p in card.style.phases for w in p.directions}
        if any(name.startswith("turned") for name in ways):
            assert "neck-turn" in card.marks, card.name
    assert Figure(head=("level", "back")).marks == {"head-back"} and Figure(head=("left",)).marks == {"neck-turn"}


def test_every_mark_that_a_caution_names_is_on_a_card_or_waits_for_own_ones():
    named = {m for r in RULES for t in r.touches for m in t.marks}
    assert named <= set(MARKS)


def own(**change):
    family, entry = CATALOGUE.entries["nostril-flare"]
    document = entry.model_dump(mode="json", by_alias=True) | {"id": "own-flare"} | change
    return make_card(ExerciseEntry.model_validate(document), family, {}, CATALOGUE.muscles, own=True)


def test_an_own_exercise_evades_no_lock_by_leaving_regions_out():
    figure = {"hands": [{"with": "thumb", "at": "lid-upper", "do": "press"}], "head": "back"}
    card = own(figure=figure, regions=[], marks=[])
    assert "eye" in card.touches and "head-back" in card.marks
    for caution in ("eye-surgery", "blood-pressure"):
        assert held(caution).of(replace(card, easier=None)).effect is Effect.LOCK
        assert held(caution).of(card).version is card.easier, "without the hand and with a level head it is free"


def test_a_lock_of_which_only_the_eased_version_is_free_eases():
    card = CATALOGUE.cards["tongue-roof"]
    verdict = held("blood-pressure").of(card)
    assert (verdict.effect, verdict.version) == (Effect.EASE, card.easier)
    both = stand(RULES, {c: CautionAnswer(caution=c, answer="yes", at=NOON) for c in ("blood-pressure", "neck-injury")}, (), TODAY)
    assert both.of(card).effect is Effect.LOCK and both.of(card).version is None


def test_a_clearance_for_one_region_leaves_the_hand_on_the_other_held():
    word = Clearance(
        caution="fillers", by_name="Dr. Ina Quell", role="physician", given_on=TODAY, at=NOON, says="Allowed.", regions=frozenset({"eye"})
    )
    answers = {"fillers": CautionAnswer(caution="fillers", answer="yes", at=NOON, regions=frozenset({"eye", "brow"}))}
    cautions = stand(RULES, answers, [word], TODAY)
    card = CATALOGUE.cards["bracket-open"]
    assert cautions.of(replace(card, easier=None)).effect is Effect.LOCK, "the bracket lies on the brow"
    assert cautions.of(card).version is card.easier, "which has no bracket"
    assert cautions.of(CATALOGUE.cards["wink-warm"]).effect is None


def test_a_palm_covers_more_than_a_fingertip():
    palm, tip = (Figure(hands=(Hand(tool, ("lid-upper",), "still"),)) for tool in ("palm", "fingertips"))
    assert palm.touches > tip.touches
    assert FigureEntry.model_validate({"hands": [{"with": "palm", "at": "cheek", "do": "still"}]}).figure().touches == {"cheek", "eye"}


# ---------------------------------------------------------------- every caution on every exercise
MATRIX = {r.id: outcome(r, CATALOGUE.cards.values()) for r in RULES}


@pytest.mark.parametrize("rule", RULES, ids=lambda r: r.id)
def test_a_caution_holds_every_exercise_that_its_words_name(rule):
    """By rule, card by card: a touch without keys reaches all; each key that is given must name something of the card."""
    for card in CATALOGUE.cards.values():
        reached = set()
        for touch in rule.touches:
            own = touch.regions or (REGIONS if touch.noted else None)
            hit = card.touches if touch.hands else card.regions
            wanted = (
                (not touch.families or card.family.value in touch.families)
                and (not touch.pressures or card.pressure in touch.pressures)
                and (not touch.needs or touch.needs & set(card.needs))
                and (not touch.marks or touch.marks & card.marks)
                and (not touch.exercises or card.id in touch.exercises)
                and (not touch.hands or card.touches)
                and (own is None or touch.noted or own & hit)
            )
            if wanted:
                reached.add(touch.effect)
        found = [e for e, cards in MATRIX[rule.id].items() if card in cards]
        if not reached:
            assert found == [], card.id
        elif Effect.LOCK in reached:
            assert found == [Effect.LOCK] or (card.easier is not None and found == [Effect.EASE]), card.id
        else:
            assert found == [Effect.EASE if Effect.EASE in reached else Effect.REMIND], card.id


def test_every_mark_stands_on_a_card_or_is_there_for_own_exercises():
    worn = {m for v in VERSIONS for m in v.marks}
    named = {m for r in RULES for t in r.touches for m in t.marks}
    assert named - worn <= {"head-down", "twist"}, "no shipped exercise puts the head below the heart or twists; an own one may"
    assert untold(["Let the head hang down below the heart."], REGIONS, frozenset()).mark == "head-down"


@pytest.mark.parametrize(
    ("caution", "cards"),
    [
        ("jaw-joint", ["jaw-scoop", "under-chin-push", "jaw-lift-series", "lower-lip-neck"]),
        ("facial-palsy", ["lower-lip-neck", "ear-wake", "scalp-lift", "side-neck-lean"]),
        ("glaucoma", ["orbit-release", "warm-palms", "temple-press-back", "bracket-open"]),
        ("blood-thinners", ["palm-lean-lift", "chin-pinch-line", "upper-lip-press"]),
        ("dental-surgery", ["tongue-roof", "swallow-lift", "cheek-shift"]),
        ("muscle-nerve", ["oval-lift", "sky-tilt", "brow-level"]),
        ("lump", ["oval-lift"]),
    ],
)
def test_what_the_first_release_left_open_is_held(caution, cards):
    held_now = {c.id for e in (Effect.LOCK, Effect.EASE) for c in MATRIX[caution][e]}
    assert set(cards) <= held_now
