"""What a log says of an exercise, and which of two logs of one session stands."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Side
from dimbo.core.logged import NOTHING, WHOLE, outcome, over_s, same_practice, stands_before
from dimbo.core.playback import ItemWork, SideWork

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
    side = SideWork(Side.RIGHT, 1, 0, planned_reps, done_reps, 0, 0, 60, 0)
    return ItemWork(planned_s, done_s, (side,))


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
    assert outcome(ItemWork(100, 50, ()), hurt=False, told_by_hand=True) == "partly"


@given(st.lists(st.tuples(st.floats(0, 500), st.floats(1, 500)), max_size=6))
def test_what_was_left_out_takes_nothing_from_what_was_too_much(pairs):
    works = tuple(work(done, planned) for done, planned in pairs)
    assert over_s(works) >= sum(d for d, _ in pairs) - sum(p for _, p in pairs) - 1e-6
    assert over_s(works) == pytest.approx(sum(d - p for d, p in pairs if d > p))
