"""Cautions: what a yes reaches, what releases it, and that nothing else does."""

from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.safety.cautions import CautionAnswer, Clearance, Effect, State, lock_changes, silenced, stand

TODAY = date(2026, 3, 20)
NOON = datetime(2026, 3, 20, 12, tzinfo=UTC)
RULES = {r.id: r for r in shipped_intake().tables.cautions}
CARDS = shipped_catalogue().cards
REGIONS = shipped_intake().tables.regions


def said(caution, answer="yes", **more):
    return CautionAnswer(caution=caution, answer=answer, at=more.pop("at", NOON), **more)


def cleared(caution, given_on=TODAY, **more):
    role = more.pop("role", RULES[caution].roles[0])
    return Clearance(
        caution=caution, by_name="Dr. Ina Quell", role=role, given_on=given_on, at=more.pop("at", NOON), says="May begin.", **more
    )


def standing(*answers, clearances=(), today=TODAY):
    return stand(RULES.values(), {a.caution: a for a in answers}, clearances, today)


def effects(found):
    return {c.id: found.of(c).effect for c in CARDS.values() if found.of(c).effect}


def test_one_urgent_sign_locks_everything_and_comes_first():
    found = standing(said("contact-lenses"), said("glaucoma"), said("unequal-pupils"))
    assert [h.rule.id for h in found.urgent] == ["unequal-pupils"]
    assert found.held[0].rule.id == "unequal-pupils"
    assert set(effects(found).values()) == {Effect.LOCK} and len(effects(found)) == len(CARDS)


def test_not_sure_counts_as_yes_and_no_as_nothing():
    assert standing(said("facial-palsy", "unsure")).locks
    assert not standing(said("facial-palsy", "no")).held


def test_noted_regions_narrow_a_lock_and_none_noted_lock_them_all():
    everywhere = effects(standing(said("fillers")))
    assert everywhere["brow-hold-down"] is everywhere["oval-lift"] is Effect.LOCK
    only = effects(standing(said("fillers", regions=frozenset({"forehead"}))))
    assert only["brow-hold-down"] is Effect.LOCK and "oval-lift" not in only


def test_skin_locks_hands_and_leaves_the_muscle_alone():
    found = effects(standing(said("skin-flare", regions=frozenset({"cheek", "jaw"}))))
    assert found["chewer-circles"] is Effect.LOCK
    assert "oval-lift" not in found, "contracting without hands goes on"


@pytest.mark.parametrize(
    ("caution", "card", "effect"),
    [
        ("blood-thinners", "chewer-circles", Effect.EASE),
        ("blood-thinners", "temple-wide", Effect.EASE),
        ("lymph-cancer", "neck-side-drain", Effect.LOCK),
        ("cold-sore", "upper-lip-press", Effect.LOCK),
        ("dry-eyes", "bracket-open", Effect.EASE),
        ("contact-lenses", "bracket-open", Effect.REMIND),
        ("neck-injury", "swallow-lift", Effect.LOCK),
        ("blood-pressure", "swallow-lift", Effect.EASE),
        ("blood-pressure", "oval-lift", Effect.REMIND),
        ("jaw-joint", "chewer-circles", Effect.LOCK),
        ("eye-surgery", "warm-palms", Effect.LOCK),
        ("pregnancy", "tongue-roof", Effect.EASE),
    ],
)
def test_each_caution_reaches_what_it_names(caution, card, effect):
    assert effects(standing(said(caution)))[card] is effect


def test_the_gravest_effect_counts():
    verdict = standing(said("dry-eyes"), said("eye-surgery")).of(CARDS["bracket-open"])
    assert verdict.effect is Effect.LOCK
    assert [h.rule.id for h in verdict.held] == ["eye-surgery", "dry-eyes"]


def test_a_clearance_releases_until_its_last_day_and_then_locks_again():
    word = cleared("blood-thinners", date(2026, 1, 10), until=date(2026, 3, 20))
    assert standing(said("blood-thinners"), clearances=[word]).held[0].state is State.CLEARED
    after = standing(said("blood-thinners"), clearances=[word], today=date(2026, 3, 21))
    assert after.held[0].state is State.EXPIRED and after.locks
    assert "Dr. Ina Quell" in after.held[0].reason and "20 March 2026" in after.held[0].reason


def test_a_clearance_that_begins_later_still_locks():
    word = cleared("peel-laser", valid_from=TODAY + timedelta(days=3))
    answer = said("peel-laser", regions=frozenset({"cheek"}), event_on=date(2026, 3, 15))
    assert standing(answer, clearances=[word]).held[0].state is State.WAITS
    assert standing(answer, clearances=[word], today=TODAY + timedelta(days=3)).held[0].state is State.CLEARED


def test_a_clearance_older_than_the_event_does_not_count():
    word = cleared("muscle-injection", date(2026, 2, 1))
    assert standing(said("muscle-injection", event_on=date(2026, 3, 1)), clearances=[word]).locks
    assert not standing(said("muscle-injection", event_on=date(2026, 1, 1)), clearances=[word]).locks


def test_an_urgent_sign_reported_again_is_not_covered_by_the_earlier_word():
    word = cleared("sudden-face", at=NOON)
    assert not standing(said("sudden-face", at=NOON - timedelta(hours=1)), clearances=[word]).locks
    assert standing(said("sudden-face", at=NOON + timedelta(hours=1)), clearances=[word]).urgent


def test_a_clearance_for_some_regions_releases_those_only():
    answer = said("fillers", regions=frozenset({"cheek", "forehead"}))
    found = standing(answer, clearances=[cleared("fillers", regions=frozenset({"cheek"}))])
    assert found.held[0].state is State.PARTLY and found.held[0].scope == {"forehead"}
    assert effects(found)["brow-hold-down"] is Effect.LOCK and "chewer-circles" not in effects(found)
    both = [cleared("fillers", regions=frozenset({r})) for r in ("cheek", "forehead")]
    assert standing(answer, clearances=both).held[0].state is State.CLEARED


def test_regions_tell_whole_locks_from_partial_ones():
    states = {r.region: r for r in standing(said("eye-surgery"), said("retinal-trouble")).regions(REGIONS)}
    assert states["eye"].effect is Effect.LOCK and not states["eye"].partial
    assert set(states) == {"eye", "brow"}
    partial = {r.region: r for r in standing(said("cold-sore")).regions(REGIONS)}
    assert partial["mouth"].partial


def test_an_answer_cannot_take_a_lock_away():
    before = standing(said("facial-palsy"))
    assert silenced(before, standing(said("facial-palsy", "no"))).rule.id == "facial-palsy"
    assert silenced(before, standing(said("facial-palsy"), said("glaucoma", "no"))) is None
    with_end = [cleared("facial-palsy", until=TODAY + timedelta(days=9))]
    released = standing(said("facial-palsy"), clearances=with_end)
    assert silenced(released, standing(said("facial-palsy", "no"), clearances=with_end))
    for_good = [cleared("facial-palsy")]
    assert not silenced(standing(said("facial-palsy"), clearances=for_good), standing(said("facial-palsy", "no"), clearances=for_good))


def test_noting_the_regions_is_no_silencing_but_dropping_one_is():
    none, two, one = (said("fillers", regions=frozenset(r)) for r in ((), ("cheek", "chin"), ("cheek",)))
    assert silenced(standing(none), standing(two)) is None
    assert silenced(standing(two), standing(one))
    assert silenced(standing(one), standing(two)) is None


def test_moving_the_day_of_the_event_cannot_revive_an_old_clearance():
    word = cleared("dental-surgery", date(2026, 2, 1))
    before = standing(said("dental-surgery", event_on=date(2026, 3, 1)), clearances=[word])
    assert silenced(before, standing(said("dental-surgery", event_on=date(2026, 1, 1)), clearances=[word]))


# ---------------------------------------------------------------- how long a word holds, and for which event
LOCKING = [r.id for r in RULES.values() if r.locks]
every_lock = pytest.mark.parametrize("caution", LOCKING)


def told(caution, *answers, **more):
    """Answers one after the other, ten days apart, as the newest stands."""
    given = None
    for n, answer in enumerate(answers):
        change = {} if isinstance(answer, str) else answer[1]
        word = answer if isinstance(answer, str) else answer[0]
        given = said(caution, word, at=NOON - timedelta(days=10 * (len(answers) - 1 - n)), **change).after(given)
    return given


@every_lock
@pytest.mark.parametrize(
    "again",
    [("yes", "yes"), ("yes", "no", "yes"), ("unsure", "unsure"), ("unsure", "yes")],
    ids=["again", "no, then yes", "not sure again", "sure now"],
)
def test_what_was_cleared_once_is_locked_when_it_happens_again(caution, again):
    word = cleared(caution, TODAY - timedelta(days=15), at=NOON - timedelta(days=5))
    assert not standing(told(caution, "yes", *[("yes", {"note": "More."})]), clearances=[cleared(caution)]).locks
    found = standing(told(caution, *again), clearances=[word])
    assert found.locks and found.held[0].state is State.EXPIRED
    assert "Dr. Ina Quell" in found.held[0].reason and "told again" in found.held[0].reason


@pytest.mark.parametrize("caution", [r.id for r in RULES.values() if r.locks and r.noted_regions])
def test_a_region_or_a_day_that_is_added_speaks_of_the_same_event(caution):
    brow = frozenset({"brow"})
    word = cleared(caution, TODAY - timedelta(days=8), at=NOON - timedelta(days=8))
    assert not standing(told(caution, "yes", ("yes", {"regions": brow})), clearances=[word]).locks
    other = told(caution, ("yes", {"regions": brow}), ("yes", {"regions": frozenset({"eye"})}))
    assert standing(other, clearances=[word]).locks, "another region instead is another event"


@every_lock
def test_nobodys_word_holds_for_ever(caution):
    rule = RULES[caution]
    assert rule.lasts_months <= (9 if caution == "pregnancy" else 3 if "coach" in rule.roles else 12)
    given = said(caution, at=NOON - timedelta(days=500))
    fresh = cleared(caution, TODAY - timedelta(days=60), at=NOON - timedelta(days=60))
    assert not standing(given, clearances=[fresh]).locks
    old = cleared(caution, TODAY - timedelta(days=31 * rule.lasts_months + 1), at=NOON - timedelta(days=400))
    (held,) = standing(given, clearances=[old]).held
    assert held.locked and held.state is State.EXPIRED


@every_lock
def test_only_the_roles_that_it_concerns_release_it(caution):
    rule, every = RULES[caution], {role for r in RULES.values() for role in r.roles}
    for role in sorted(every | {"nurse", "other licensed clinician"}):
        (held,) = standing(said(caution), clearances=[cleared(caution, role=role)]).held
        assert held.locked is (role not in rule.roles), (caution, role)
        assert role in rule.roles or f"not for a {role} to release" in held.reason
    assert rule.group != "urgent" or set(rule.roles) == {"physician", "surgeon", "neurologist", "eye doctor"}


ANSWERS = st.sampled_from(["yes", "no", "unsure"])
SOME_REGIONS = st.frozensets(st.sampled_from(REGIONS), max_size=3)


@given(st.lists(st.tuples(st.sampled_from(sorted(RULES)), ANSWERS, SOME_REGIONS), max_size=25))
def test_whatever_is_answered_a_lock_stays_until_somebody_clears_it(steps):
    answers, ever = {}, set()
    for caution, answer, regions in steps:
        after = {**answers, caution: said(caution, answer, regions=regions if RULES[caution].noted_regions else frozenset())}
        if silenced(standing(*answers.values()), standing(*after.values())) is None:
            answers = after
        locked = {h.rule.id for h in standing(*answers.values()).locks}
        assert ever <= locked
        ever = locked


@given(st.sets(st.sampled_from(sorted(RULES)), max_size=6), st.sampled_from(sorted(RULES)))
def test_one_more_yes_never_lightens_an_exercise(some, more):
    gravity = {None: 0, Effect.REMIND: 1, Effect.EASE: 2, Effect.LOCK: 3}
    less, now = standing(*map(said, some)), standing(*map(said, some | {more}))
    for card in CARDS.values():
        assert gravity[now.of(card).effect] >= gravity[less.of(card).effect]


def test_every_lock_and_release_is_told_once():
    nothing, locked = standing(), standing(said("glaucoma"))
    assert [(c.caution, c.locked) for c in lock_changes(nothing, locked)] == [("glaucoma", True)]
    free = standing(said("glaucoma"), clearances=[cleared("glaucoma")])
    (change,) = lock_changes(locked, free)
    assert not change.locked and "Dr. Ina Quell" in change.reason
    assert lock_changes(locked, locked) == []


def test_the_reminder_to_ask_comes_after_the_usual_days():
    asked = standing(said("muscle-injection", regions=frozenset({"brow"}), event_on=TODAY - timedelta(days=14)))
    early = standing(said("muscle-injection", regions=frozenset({"brow"}), event_on=TODAY - timedelta(days=13)))
    assert "14 days have passed" in asked.held[0].remedy
    assert "have passed" not in early.held[0].remedy
    assert asked.locks and early.locks, "days alone release nothing"
