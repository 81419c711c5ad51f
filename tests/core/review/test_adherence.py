"""Dose adherence, what lies above plan, patterns, and how long sessions really took."""

from datetime import UTC, date, datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.calendar.schedule import Pause
from dimbo.core.calendar.time_zones import Stay, off_days
from dimbo.core.review.adherence import (
    Adherence,
    Day,
    DayState,
    ExerciseTally,
    SessionRow,
    SessionWork,
    by_part,
    by_weekday,
    day_of,
    days_of,
    dose_adherence,
    left_out_first,
    missed_days,
    overdone,
    took,
)

TODAY = date(2026, 3, 18)


def on(days_ago, state=DayState.DONE, contraction=100.0, done=100.0, **kw):
    return SessionWork(
        day=TODAY - timedelta(days=days_ago),
        part=kw.pop("part", "morning"),
        state=state,
        contraction_s=contraction,
        hands_on_s=60.0,
        contraction_done_s=done,
        **kw,
    )


def test_dose_adherence_counts_contraction_and_hands_on_time_up_to_the_plan():
    rows = [
        on(3, done=130, hands_on_done_s=60, over_s=30),
        on(2, DayState.PARTLY, done=50, hands_on_done_s=0),
        on(1, DayState.SKIPPED, done=0),
    ]
    told = dose_adherence(rows, TODAY)
    assert (told["contraction"].done_s, told["contraction"].planned_s) == (150, 300)
    assert (told["hands-on"].done_s, told["hands-on"].planned_s) == (60, 180)
    assert told["work"].share == pytest.approx(210 / 480) and told["work"].over_s == 30


def test_windows_leave_out_what_is_older_open_future_or_paused():
    rows = [on(28), on(27), on(6), on(0, DayState.OPEN, done=0), on(-1, DayState.FUTURE, done=0), on(2, DayState.PAUSED, done=0)]
    assert dose_adherence(rows, TODAY, 7)["contraction"].planned_s == 100
    assert dose_adherence(rows, TODAY, 28)["contraction"].planned_s == 200
    assert dose_adherence(rows, TODAY)["contraction"].planned_s == 300
    assert dose_adherence([], TODAY)["work"].share is None


def row(days_ago=1, part="morning", plan=100.0, logged=None, done=None, load=None, lifted=None, over=0.0, effort=None):
    day = TODAY - timedelta(days=days_ago)
    week = 1 if plan is not None else None
    return SessionRow(UUID(int=1), UUID(int=2), day, part, week, 0, 1, plan, logged, done, load, lifted, over if done else None, effort)


def test_a_day_adds_up_its_sessions_as_logged_and_as_planned():
    both = [row(logged=90, done=90, load=50, lifted=50), row(part="evening", plan=60)]
    day = day_of(both[0].day, TODAY, both, False)
    assert (day.state, day.share, day.over_s) == (DayState.PARTLY, pytest.approx(0.6), 0)


def test_what_was_overdone_is_told_against_the_load_planned():
    day = day_of(TODAY, TODAY, [row(0, logged=100, done=100, load=80, lifted=160, over=80)], False)
    assert (day.state, day.share, day.over_s, day.over_share) == (DayState.DONE, 1, 80, 1)


@given(st.floats(0, 900), st.floats(0, 900))
def test_more_in_the_morning_never_pays_for_the_evening(morning, evening):
    both = [row(0, logged=100, done=morning, load=1), row(0, "evening", logged=50, done=evening, load=1)]
    day = day_of(TODAY, TODAY, both, False)
    assert day.share == pytest.approx((min(morning, 100) + min(evening, 50)) / 150)
    assert (day.state is DayState.DONE) <= (evening >= 49)


def test_days_come_in_order_and_pauses_leave_them_out():
    rows = [row(3, logged=100, done=100, load=9, lifted=9), row(2), row(2, "evening"), row(1)]
    seen = days_of(rows, TODAY, lambda d: d == TODAY - timedelta(days=2))
    assert [d.state for d in seen] == [DayState.DONE, DayState.PAUSED, DayState.SKIPPED]


def test_a_day_without_a_plan_counts_for_nothing_and_lies_above_plan():
    extra = day_of(TODAY, TODAY, [row(0, plan=None, logged=50, done=50, load=40, lifted=40)], False)
    assert (extra.state, extra.share, extra.over_s, extra.over_share) == (DayState.EXTRA, 0, 40, 1)
    breath = day_of(TODAY, TODAY, [row(0, plan=None, logged=50, done=50, load=0, lifted=0)], False)
    assert (breath.state, breath.over_share) == (DayState.EXTRA, 0), "load without a plan is overdone; breath is not"
    assert dose_adherence([on(0, DayState.EXTRA, contraction=0, done=80, over_s=80)], TODAY)["work"].share == 0


def test_overdone_days_are_those_above_the_share():
    days = [
        Day(day=TODAY, state=DayState.DONE, share=1, over_s=25, load_s=100),
        Day(day=TODAY, state=DayState.PARTLY, share=0.9, over_s=26, load_s=100),
        Day(day=TODAY, state=DayState.EXTRA, share=0, over_s=5),
    ]
    assert overdone(days, 0.25) == days[1:]


def test_missed_days_begin_anew_after_every_practice():
    days = [
        Day(day=TODAY - timedelta(days=n), state=s)
        for n, s in ((5, DayState.SKIPPED), (4, DayState.PARTLY), (3, DayState.SKIPPED), (2, DayState.PAUSED))
    ]
    assert missed_days(days) == [TODAY - timedelta(days=3)]


def test_patterns_by_weekday_and_part_of_the_day():
    days = [
        Day(day=TODAY - timedelta(days=n), state=s, share=share)
        for n, s, share in ((7, DayState.SKIPPED, 0), (0, DayState.DONE, 1), (1, DayState.PARTLY, 0.4))
    ]
    assert by_weekday(days) == {2: Adherence(0.4, 1), 3: Adherence(1, 2)}
    rows = [on(1, share=1.0), on(1, DayState.SKIPPED, part="evening"), on(-1, DayState.FUTURE, part="evening")]
    assert by_part(rows) == {"morning": Adherence(1.0, 1), "evening": Adherence(0, 1)}


def test_the_exercise_that_is_left_out_most_comes_first():
    tallies = [
        ExerciseTally(exercise_id="a", sessions=9, done=8, left_out=1, hurt=0),
        ExerciseTally(exercise_id="b", sessions=9, done=4, left_out=4, hurt=0),
        ExerciseTally(exercise_id="c", sessions=9, done=9, left_out=0, hurt=1),
        ExerciseTally(exercise_id="d", sessions=9, done=3, left_out=4, hurt=0),
    ]
    assert [t.exercise_id for t in left_out_first(tallies)] == ["d", "b", "a"]


def test_real_length_is_told_of_whole_sessions_only():
    rows = [on(1, length_s=600, took_s=700), on(2, length_s=600, took_s=660), on(3, length_s=620, took_s=900)]
    rows += [on(4, DayState.PARTLY, length_s=600, took_s=100), on(5, length_s=600)]
    told = took(rows)
    assert told is not None and (told.planned_s, told.took_s, told.sessions) == (600, 700, 3)
    assert took(rows[3:]) is None


def test_nothing_is_due_in_a_pause_and_on_a_date_that_was_jumped_over():
    kiritimati, honolulu = ZoneInfo("Pacific/Kiritimati"), ZoneInfo("Pacific/Honolulu")
    east = [Stay(datetime(2026, 1, 1, tzinfo=UTC), honolulu), Stay(datetime(2026, 3, 10, 13, tzinfo=UTC), kiritimati)]
    off = off_days([Pause(date(2026, 3, 20), date(2026, 3, 21))], east)
    assert [d for d in (date(2026, 3, n) for n in range(8, 23)) if off(d)] == [date(2026, 3, 10), date(2026, 3, 20), date(2026, 3, 21)]
    assert not off_days([], east[:1])(date(2026, 3, 10))
