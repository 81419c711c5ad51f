"""The arithmetic of a dose: the worked cases of the craft, and what must hold for every dose."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Side
from dimbo.core.exercises.dose import Apart, Dose, Phase, PhaseKind, Span, Together, Unit, exercise_s
from tests.core.builders import THREE_WAYS, apart, doses, hold, paces, spans, styles, together

R, L = Side.RIGHT, Side.LEFT


def set_s(dose, pace_s):
    """Seconds of one run of the right side."""
    return sum(p.seconds(pace_s) for p in dose.phases_of(R))


def test_three_ways_in_counts_at_a_slow_pace():
    dose = Dose((hold(5, 1, 10, 3, unit=Unit.COUNTS, ways=THREE_WAYS),), Together(1))
    assert set_s(dose, 1.5) == 285


def test_the_same_at_pace_one():
    dose = Dose((hold(5, 1, 10, 3, unit=Unit.COUNTS, ways=THREE_WAYS),), Together(1))
    assert set_s(dose, 1.0) == 210


def test_compound_with_a_rest_phase():
    phases = (hold(1, 2, 10, 0), hold(20, 2, 0, 2), Phase(kind=PhaseKind.PAUSE, hold=Span(5)))
    dose = Dose(phases, Together(2), rest=Span(10))
    assert set_s(dose, 1) == 97
    assert exercise_s(dose, 1, setup_s=5, settle_s=0) == 209
    assert dose.loaded_s(R, 1) == dose.loaded_s(L, 1) == 104


@pytest.mark.parametrize(("held", "reps", "contraction"), [(1, 30, 30), (2, 20, 40), (3, 15, 45)])
def test_fixed_window_raises_the_load_and_not_the_clock(held, reps, contraction):
    phase = hold(1, 0, held, 1, window=Span(60))
    dose = Dose((phase,), Together(1))
    assert phase.count(1) == reps
    assert set_s(dose, 1) == 60
    assert dose.loaded_s(L, 1) == contraction


def test_weak_side_bias():
    dose = Dose((hold(1, 1, 10, 4),), Apart(right_sets=3, left_sets=2), rest=Span(5))
    assert dose.runs == 5
    assert exercise_s(dose, 1) == 95
    assert (dose.loaded_s(R, 1), dose.loaded_s(L, 1)) == (33, 22)


def test_breath():
    dose = Dose((Phase(kind=PhaseKind.BREATHS, reps=6, lead=Span(4), release=Span(6)),), Together(1))
    assert exercise_s(dose, 1) == 60


def test_a_turned_head_loads_the_other_side():
    dose = Dose((hold(2, 1, 5, 3, ways=THREE_WAYS[:2]),), Together(1))  # front, turned left
    assert dose.loaded_s(R, 1) == 2 * 2 * 6
    assert dose.loaded_s(L, 1) == 1 * 2 * 6


def test_a_window_that_does_not_divide_keeps_its_length():
    dose = Dose((hold(1, 0, 2.5, 1, window=Span(60)),), Together(1))
    assert dose.phases[0].count(1) == 17
    assert set_s(dose, 1) == 60


def test_turns_keep_the_sum_and_change_the_order():
    blocks, turns = Apart(3, 2), Apart(3, 2, alternate=True)
    assert blocks.order() == (R, R, R, L, L)
    assert turns.order() == (R, L, R, L, R)


@pytest.mark.parametrize(
    "bad",
    [
        lambda: Span(-1),
        lambda: Span(0.25),
        lambda: Phase(kind=PhaseKind.HOLD, reps=0),
        lambda: Together(0),
        lambda: Apart(0, 0),
        lambda: Dose((), Together(1)),
    ],
)
def test_impossible_doses_cannot_be_made(bad):
    with pytest.raises(ValueError):
        bad()


any_dose = styles().flatmap(doses)


@given(any_dose, paces)
def test_duration_is_runs_of_sets_and_rests_between(dose, pace):
    runs = dose.sides.order() if isinstance(dose.sides, Apart) else (R,) * dose.runs
    expected = sum(p.seconds(pace) for side in runs for p in dose.phases_of(side)) + (dose.runs - 1) * dose.rest.seconds(pace)
    assert dose.practice_s(pace) == pytest.approx(expected)
    assert exercise_s(dose, pace, 5, 3) == pytest.approx(expected + 8)


@given(any_dose, paces)
def test_contraction_never_passes_the_time_of_the_side(dose, pace):
    for side in Side:
        assert 0 <= dose.loaded_s(side, pace) <= dose.hands_on_s(side, pace) + 1e-6


@given(spans, spans, spans, st.integers(1, 20), apart, paces)
def test_mirroring_a_side_plan_mirrors_the_load(lead, held, release, reps, plan, pace):
    phase = Phase(kind=PhaseKind.HOLD, reps=reps, lead=lead, hold=held, release=release)
    there = Dose((phase,), plan)
    back = Dose((phase,), Apart(plan.left_sets, plan.right_sets, plan.alternate))
    assert there.loaded_s(R, pace) == back.loaded_s(L, pace)
    assert there.practice_s(pace) == back.practice_s(pace)


@given(st.integers(1, 30), spans, together, st.sampled_from([0.8, 1.0, 1.3]))
def test_counts_scale_with_the_pace_and_seconds_do_not(reps, held, sides, pace):
    counted = Dose((Phase(kind=PhaseKind.HOLD, reps=reps, hold=Span(held.amount, Unit.COUNTS)),), sides)
    timed = Dose((Phase(kind=PhaseKind.HOLD, reps=reps, hold=Span(held.amount, Unit.SECONDS)),), sides)
    assert counted.practice_s(pace) == pytest.approx(pace * counted.practice_s(1))
    assert timed.practice_s(pace) == timed.practice_s(1)


def test_a_side_may_last_longer_than_the_other():
    right, left = hold(1, 0, 30, 0), hold(1, 0, 45, 0)
    dose = Dose((right,), Apart(2, left_sets=1), Span(10), left=(left,))
    assert dose.practice_s(1) == 2 * 30 + 45 + 2 * 10
    assert (dose.hands_on_s(R, 1), dose.hands_on_s(L, 1)) == (60, 45)
    assert (dose.loaded_s(R, 1), dose.loaded_s(L, 1)) == (60, 45)


@pytest.mark.parametrize(
    ("sides", "left"),
    [(Together(1), (hold(1, 0, 45, 0),)), (Apart(1, left_sets=0), (hold(1, 0, 45, 0),)), (Apart(1, left_sets=1), (hold(1, 0, 45, 0),) * 2)],
)
def test_phases_of_one_side_need_two_sides_that_do_the_same_parts(sides, left):
    with pytest.raises(ValueError, match=r"apart|same parts"):
        Dose((hold(1, 0, 30, 0),), sides, left=left)


def test_breathing_in_is_never_contraction():
    phase = Phase(kind=PhaseKind.REPS, reps=8, hold=Span(6), release=Span(4), on_breath=True)
    dose = Dose((phase,), Together(1))
    assert dose.practice_s(1) == 80
    assert dose.loaded_s(R, 1) == 48
    with pytest.raises(ValueError, match="no lead"):
        Phase(kind=PhaseKind.REPS, reps=8, lead=Span(4), hold=Span(6), release=Span(4), on_breath=True)
