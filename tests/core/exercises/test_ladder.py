"""Rungs: one axis at a time, about 30 % at most, never past the ceiling."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import Axis, SideRule
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.exercises.ladder import GROWTH_LIMIT, ladder, load_s
from tests.core.builders import hold, style

BOTH, EACH = style(), style(rule=SideRule.WEAK)
WINDOW = style(hold(1, 0, 0, 1))


def lines(start, target, axes, of=BOTH, **kw):
    found = ladder(parse(start, of), parse(target, of), axes, pace_s=1, **kw)
    return [print_line(r.dose, of) for r in found.rungs], found


def test_adding_a_set_drops_the_repetitions_first():
    assert lines("1×8 h3", "2×8 h3", [Axis.SETS])[0] == ["1×8 h3", "2×5 h3", "2×6 h3", "2×8 h3"]


def test_axes_are_raised_in_their_order():
    got, _ = lines("1×5 h3", "1×6 h4", [Axis.REPS, Axis.HOLD])
    assert got == ["1×5 h3", "1×6 h3", "1×6 h4"]
    got, _ = lines("1×5 h3", "1×6 h4", [Axis.HOLD, Axis.REPS])
    assert got == ["1×5 h3", "1×5 h4", "1×6 h4"]


def test_fixed_window_raises_the_hold():
    assert lines("60 s h1", "60 s h3", [Axis.HOLD], WINDOW)[0] == ["60 s h1", "60 s h2", "60 s h3"]


def test_level_sides_rise_together_and_a_bias_on_its_side():
    got, _ = lines("R1 L1 ×6 h3", "R2 L2 ×6 h3", [Axis.SETS], EACH)
    assert all(line.startswith(("R1 L1", "R2 L2")) for line in got)
    got, _ = lines("R2 L2 ×6 h3", "R3 L2 ×6 h3", [Axis.SETS], EACH)
    assert got[-1] == "R3 L2 ×6 h3"


def test_few_repetitions_drop_the_hold_instead():
    got, found = lines("1×2 h10", "2×2 h10", [Axis.SETS])
    assert got[0] == "1×2 h10" and got[-1] == "2×2 h10"
    assert not any(r.steep for r in found.rungs)


def test_sessions_are_an_axis_too():
    _, found = lines("1×5 h3", "1×5 h3", [Axis.SESSIONS], sessions=(3, 6))
    assert [r.sessions for r in found.rungs] == [3, 4, 5, 6]
    assert not any(r.steep for r in found.rungs)


def test_the_ceiling_ends_the_ladder_and_says_so():
    got, found = lines("1×5 h3", "2×8 h8", [Axis.HOLD, Axis.REPS, Axis.SETS], fits=lambda dose: dose.loaded_s(Side.LEFT, 1) <= 40)
    assert found.capped
    assert got[-1] == "1×5 h7"


def test_doses_that_differ_in_more_than_the_axes_are_refused():
    with pytest.raises(ValueError, match="differ"):
        ladder(parse("1×5 h3 r1", BOTH), parse("1×5 h5", BOTH), [Axis.HOLD], pace_s=1)


@given(
    st.integers(1, 15),
    st.integers(0, 10),
    st.integers(1, 3),
    st.integers(0, 8),
    st.integers(0, 8),
    st.integers(0, 2),
    st.permutations([Axis.HOLD, Axis.REPS, Axis.SETS]),
)
def test_every_ladder_is_gentle_arrives_and_rises(reps, held, sets, more_reps, more_hold, more_sets, axes):
    start = parse(f"{sets}×{reps} h{held}", BOTH)
    target = parse(f"{sets + more_sets}×{reps + more_reps} h{held + more_hold}", BOTH)
    rungs = ladder(start, target, axes, pace_s=1).rungs
    assert rungs[0].dose == start
    assert rungs[-1].dose == target
    for before, after in itertools.pairwise(rungs):
        assert after.dose != before.dose
        if not after.steep:
            assert load_s(after.dose, 1) <= load_s(before.dose, 1) * GROWTH_LIMIT + 1e-6


@given(st.integers(1, 26), st.integers(2, 9))
def test_weeks_climb_rung_by_rung_and_start_low(weeks, target_hold):
    steps = ladder(parse("1×5 h1", BOTH), parse(f"1×5 h{target_hold}", BOTH), [Axis.HOLD], pace_s=1)
    places = [steps.rungs.index(steps.at_week(w, weeks)) for w in range(1, weeks + 1)]
    assert places[0] == 0
    assert all(0 <= b - a <= 1 for a, b in itertools.pairwise(places))
    if weeks >= len(steps.rungs):
        assert places[-1] == len(steps.rungs) - 1
