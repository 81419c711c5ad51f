"""How long things are kept: no life, however it goes, loses anything without notice or keeps anything for ever."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.calendar.keeping import NOTICE, Turn, months_after, turn

START = date(2026, 1, 31)


@pytest.mark.parametrize(
    ("day", "months", "expected"),
    [
        (date(2026, 1, 31), 1, date(2026, 2, 28)),
        (date(2027, 12, 15), 1, date(2028, 1, 15)),
        (date(2026, 8, 31), 6, date(2027, 2, 28)),
        (date(2024, 2, 29), 12, date(2025, 2, 28)),
        (date(9999, 6, 1), 600, date.max),
    ],
)
def test_months_end_within_their_month(day, months, expected):
    assert months_after(day, months) == expected


def test_without_an_end_nothing_goes_and_an_old_notice_is_taken_back():
    assert turn(START, months=None, kept_until=None, told_on=None, today=date(2090, 1, 1)) == Turn(None)
    assert turn(START, months=None, kept_until=None, told_on=START, today=date(2090, 1, 1)).take_back


def test_a_worker_that_stood_still_for_years_still_tells_first():
    late = date(2031, 5, 1)
    at = turn(START, months=12, kept_until=None, told_on=None, today=late)
    assert at == Turn(late + NOTICE, tell=True)
    assert not turn(START, months=12, kept_until=None, told_on=late, today=late + NOTICE - timedelta(days=1)).delete
    assert turn(START, months=12, kept_until=None, told_on=late, today=late + NOTICE).delete


# What can happen on a day of a life: nothing, a session, the practice decides anew, the coach keeps longer.
EVENTS = st.lists(
    st.tuples(
        st.integers(1, 500),
        st.one_of(
            st.just(("practised", None)),
            st.tuples(st.just("months"), st.one_of(st.none(), st.integers(1, 36))),
            st.tuples(st.just("kept"), st.integers(0, 900)),
            st.just(("asleep", None)),
        ),
    ),
    max_size=12,
)


@given(EVENTS, st.integers(1, 24))
def test_whole_lives(events, months):
    """Day by day, with the worker awake or not: what goes was told at least 30 days before, with nothing in between that would
    have kept it; and 31 days after everything is quiet for long enough, it is gone."""
    today, last, told, kept, awake, calm = START, START, None, None, True, None
    happens = {}
    day = START
    for after, what in events:
        day += timedelta(days=after)
        happens[day] = what
    end = day + timedelta(days=38 * 31 + 950)
    while today <= end:
        kind, value = happens.get(today, ("", None))
        awake = kind != "asleep"
        if kind == "practised":
            last = calm = today
        elif kind == "months":
            months, calm = value, today
        elif kind == "kept":
            kept, calm = today + timedelta(days=value), today
            told = None  # the use case takes the notice back
        if awake:
            at = turn(last, months=months, kept_until=kept, told_on=told, today=today)
            assert not (at.delete and (at.tell or at.take_back))
            if at.take_back:
                told = None
            if at.tell:
                assert told is None and at.goes_on >= today + NOTICE
                told = today
            if at.delete:
                assert months is not None and told is not None
                assert today - told >= NOTICE and today >= months_after(last, months) and (kept is None or today >= kept)
                return
        today += timedelta(days=1)
    assert months is None, f"still there {end - (calm or START)} after the last that happened"
