"""Breaks, pauses and what they mean for the calendar."""

import itertools
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.calendar.schedule import DAYS, Pause, Step, paused, plan_days
from dimbo.core.design.weeks import items_of_day, week_plans, work_out
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Line, Settings
from dimbo.core.programs.progression import eased_line, rung_back
from dimbo.core.review.breaks import AfterBreak, after_break, continued, days_without, going_on, returns, steps_from
from tests.core.builders import card, program

days = st.dates(date(2024, 1, 1), date(2030, 12, 1))
sessions = st.lists(st.sampled_from([1, 2, 3, 3.5, 5, 7]), min_size=1, max_size=16)
weekdays = st.sets(st.integers(1, 7)).map(sorted)


@pytest.mark.parametrize(
    ("gap", "rule"),
    [
        (0, AfterBreak.GO_ON),
        (6, AfterBreak.GO_ON),
        (7, AfterBreak.BACK_ONE),
        (20, AfterBreak.BACK_ONE),
        (21, AfterBreak.FIRST_RUNG),
        (90, AfterBreak.FIRST_RUNG),
    ],
)
def test_the_rule_for_breaks(gap, rule):
    assert after_break(gap) is rule


def test_a_break_counts_the_days_between():
    monday = date(2026, 11, 16)
    assert days_without(monday, monday + timedelta(days=1)) == 0
    assert days_without(monday, monday + timedelta(days=8)) == 7
    assert days_without(monday, monday) == 0


def test_one_week_back_and_then_the_week_that_was_not_finished():
    assert steps_from(5, 7, AfterBreak.BACK_ONE) == (Step(5, back=1), Step(5), Step(6), Step(7))
    assert steps_from(5, 7, AfterBreak.GO_ON) == (Step(5), Step(6), Step(7))
    assert [s.week for s in steps_from(5, 7, AfterBreak.FIRST_RUNG)] == [1, 2, 3, 4, 5, 6, 7]
    with pytest.raises(ValueError, match="outside 1 to 7"):
        steps_from(8, 7, AfterBreak.GO_ON)


STEPS = tuple(Step(w) for w in (1, 2, 3, 4))
AGAIN = (Step(1), Step(2), Step(2, back=1), Step(2), Step(3), Step(4))
"""After one break already."""


def test_a_break_goes_on_from_the_week_that_was_not_finished():
    assert going_on(STEPS, 2, 4, 6) == ()
    assert going_on(STEPS, 2, 4, 7) == (Step(3, back=1), Step(3), Step(4))
    assert going_on(AGAIN, 2, 4, 10) == (Step(2, back=1), Step(2), Step(3), Step(4)), "a lighter week is not eased twice"
    assert going_on(AGAIN, 4, 4, 21) == STEPS


@given(st.integers(1, 16), st.integers(0, 120), st.data())
def test_a_break_never_skips_a_week_and_never_asks_more_than_before(weeks, days, data):
    steps = tuple(Step(w) for w in range(1, weeks + 1))
    at = data.draw(st.integers(0, weeks - 1))
    after = going_on(steps, at, weeks, days)
    if after:
        assert after[0].week <= steps[at].week and after[-1] == steps[-1]
        rises = [b.week - a.week for a, b in itertools.pairwise(after)]
        assert all(r in (0, 1) for r in rises) and sum(s.back for s in after) <= 1


def test_a_change_keeps_its_place_and_takes_the_weeks_of_the_new_version():
    assert continued(STEPS, 2, 4) == (Step(3), Step(4))
    assert continued(STEPS, 2, 6) == (Step(3), Step(4), Step(5), Step(6))
    assert continued(STEPS, 1, 2) == (Step(2),)
    assert continued(AGAIN, 2, 3) == (Step(2, back=1), Step(2), Step(3))
    assert continued(STEPS, 4, 4) == ()


def line(*cells):
    return Line(id="a", card=card(), stage=card().stage, cells=cells)


def test_a_rung_back_is_the_last_lighter_dose_of_the_line_itself():
    climbing = line("1×5 h3", "1×5 h4", "1×5 h4", "1×6 h4", "")
    assert rung_back(climbing, 4, 1, 1.0) == "1×5 h4"
    assert rung_back(climbing, 3, 1, 1.0) == "1×5 h3"
    assert rung_back(climbing, 4, 2, 1.0) == "1×5 h3"
    assert rung_back(climbing, 1, 1, 1.0) == "1×5 h3"
    assert rung_back(climbing, 5, 1, 1.0) == ""
    assert rung_back(line("1×5 h3", "??"), 2, 1, 1.0) == "??"
    assert eased_line(climbing, 4, 0, 1.0) is climbing


@given(st.lists(st.integers(2, 12), min_size=1, max_size=8), st.data())
def test_going_back_never_makes_a_dose_larger(reps, data):
    cells = [f"1×{r} h4" for r in reps]
    week = data.draw(st.integers(1, len(cells)))
    c = card()
    before, after = parse(cells[week - 1], c.style), parse(rung_back(line(*cells), week, 1, 1.0), c.style)
    assert load_s(after, 1.0) <= load_s(before, 1.0)


def test_a_week_back_is_compiled_with_its_lighter_doses():
    p = program((card(), ("1×5 h3", "1×8 h3")))
    assert items_of_day(p, Settings(), 2, 0)[0].dose.phases[0].reps == 8
    assert items_of_day(p, Settings(), 2, 0, back=1)[0].dose.phases[0].reps == 5


@given(st.integers(1, 3))
def test_one_week_alone_is_what_the_whole_program_has(week):
    p = program((card(), ("1×5 h3", "1×6 h3", "1×8 h4")), (card("press"), ("1×3 h3", "", "1×4 h3")), sessions=(3, 3.5, 7))
    assert week_plans(p, Settings(), week) == work_out(p, Settings()).weeks[week - 1].plans


def test_pauses_hold_both_ends_and_open_ones_go_on():
    closed, endless = Pause(date(2026, 3, 28), date(2026, 3, 31)), Pause(date(2026, 5, 1))
    assert [paused([closed], date(2026, 3, d)) for d in (27, 28, 31)] == [False, True, True]
    assert not paused([closed], date(2026, 4, 1))
    assert paused([closed, endless], date(2027, 1, 1))


@given(days, sessions, weekdays, st.data())
def test_weeks_in_any_order_keep_one_session_a_day_on_days_with_time(start, counts, among, data):
    """Daylight saving and month ends cannot matter, because days are dates; weeks that come again are weeks like others."""
    order = data.draw(st.lists(st.integers(1, len(counts)), min_size=1, max_size=20))
    steps = [Step(w) for w in order]
    planned = plan_days(start, counts, among, steps)
    on = [p.day for p in planned]
    assert on == sorted(set(on))
    assert all(not among or d.isoweekday() in among for d in on)
    assert all(order[(p.day - start).days // DAYS] == p.week for p in planned)


@given(days, sessions, st.integers(0, 100))
def test_an_end_cuts_the_calendar_and_changes_nothing_before_it(start, counts, after):
    end = start + timedelta(days=after)
    assert plan_days(start, counts, end=end) == tuple(p for p in plan_days(start, counts) if p.day <= end)


def test_how_practice_would_go_on_is_said_by_the_days_without_it():
    last = date(2026, 3, 1)
    first = last + timedelta(days=2)
    for days, says in ((6, "where it was"), (7, "one rung lower"), (20, "one rung lower"), (21, "first rungs")):
        assert says in returns(last, [first], last + timedelta(days=days + 1))
    assert returns(last, [], last + timedelta(days=40)) == ""
    assert "one rung lower" in returns(None, [first], first + timedelta(days=7)), "who never practised is away since the first day"
