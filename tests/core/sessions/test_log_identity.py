"""What a log says of an exercise, and which of two logs of one session stands."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Family, Side
from dimbo.core.exercises.card import CeilingBasis
from dimbo.core.sessions.crediting import ItemWork, SideWork
from dimbo.core.sessions.log_identity import NOTHING, WHOLE, credit_s, outcome, over_s, same_practice, stands_before
from tests.core.builders import card

T0 = datetime(2026, 11, 25, 7, tzinfo=UTC)


@dataclass(frozen=True)
class Log:
    source: str
    started_at: datetime
    ended_at: datetime
    done_s: float


def log(start_min, length_min, done_s=600.0, source="player"):
    begun = T0 + timedelta(minutes=start_min)
    return Log(source, begun, begun + timedelta(minutes=length_min), done_s)


logs = st.builds(log, st.integers(0, 60), st.integers(1, 30), st.floats(0, 2000), st.sampled_from(["player", "manual"]))


def test_times_that_overlap_are_one_practice_and_others_are_two():
    assert same_practice(log(0, 12), log(5, 12))
    assert not same_practice(log(0, 12), log(12, 12))
    assert not same_practice(log(0, 12), log(30, 12))
    assert not same_practice(log(0, 12, source="manual"), log(30, 12, source="manual"))


def test_what_was_told_by_hand_is_the_same_as_what_was_played():
    assert same_practice(log(0, 12), log(200, 12, source="manual"))


def test_what_was_played_stands_before_what_was_told_and_the_fuller_before_the_thinner():
    assert stands_before(log(0, 12, 10), log(0, 12, 900, source="manual"))
    assert stands_before(log(0, 12, 700), log(0, 12, 600))
    assert not stands_before(log(0, 12, 600), log(0, 12, 600)), "of two that say the same the first to arrive stands"


@given(logs, logs)
def test_it_does_not_matter_which_of_two_arrives_first(a, b):
    assert same_practice(a, b) == same_practice(b, a)
    assert not (stands_before(a, b) and stands_before(b, a))


def work(done_s, planned_s=100.0, done_reps=0, planned_reps=10):
    side = SideWork(
        side=Side.RIGHT,
        planned_sets=1,
        done_sets=0,
        planned_reps=planned_reps,
        done_reps=done_reps,
        planned_hold_s=0,
        done_hold_s=0,
        planned_s=60,
        done_s=0,
    )
    return ItemWork(planned_s=planned_s, done_s=done_s, sides=(side,))


@pytest.mark.parametrize(
    ("share", "said"),
    [(0, "skipped"), (NOTHING - 0.001, "skipped"), (NOTHING, "partly"), (WHOLE - 0.01, "partly"), (WHOLE, "done"), (3, "done")],
)
def test_an_exercise_is_judged_by_the_share_of_its_time(share, said):
    assert outcome(work(100 * share), hurt=False, told_by_hand=False) == said
    assert outcome(work(100 * share), hurt=True, told_by_hand=False) == "hurt"


def test_told_by_hand_it_is_judged_by_its_repetitions():
    assert outcome(work(30, done_reps=10), hurt=False, told_by_hand=True) == "done"
    assert outcome(work(100, done_reps=5), hurt=False, told_by_hand=True) == "partly"
    assert outcome(ItemWork(planned_s=100, done_s=50, sides=()), hurt=False, told_by_hand=True) == "partly"


def side(which, planned, done):
    return SideWork(
        side=which,
        planned_sets=1,
        done_sets=1,
        planned_reps=5,
        done_reps=5,
        planned_hold_s=0,
        done_hold_s=0,
        planned_s=planned,
        done_s=done,
    )


@given(st.floats(1, 500), st.floats(1, 500), st.floats(0, 900), st.floats(0, 900))
def test_each_side_counts_at_most_whole(right, left, did_right, did_left):
    sides = [side(Side.RIGHT, right, did_right), side(Side.LEFT, left, did_left)]
    whole = credit_s(100, 500, sides)
    assert whole == pytest.approx(100 * (min(right, did_right) + min(left, did_left)) / (right + left))
    assert credit_s(100, did_right, ()) == min(100, did_right), "where no side works, by its time"


def test_overdoing_is_about_load_and_hands_beyond_their_ceiling():
    twice = [side(s, 20, 40) for s in Side]
    assert over_s(card("lift"), twice) == 40
    assert over_s(card("taps", family=Family.TAP, basis=CeilingBasis.HANDS_ON), twice) == 0
    kneaded = card("knead", family=Family.RELEASE, ceiling_s=30, basis=CeilingBasis.HANDS_ON)
    assert over_s(kneaded, twice) == 20
    assert over_s(kneaded, [side(s, 20, 30) for s in Side]) == 0
    assert over_s(card("breath", family=Family.BREATHE, ceiling_s=10, basis=CeilingBasis.TIMES), twice) == 0
