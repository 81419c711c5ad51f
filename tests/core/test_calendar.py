"""Days, closing times and adherence."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.adherence import DayState, Practised, day_state, missed_in_a_row, session_adherence
from dimbo.core.schedule import closes_at, plan_days, practice_day, spread, week_of, zone

LISBON = ZoneInfo("Europe/Lisbon")
zones = st.sampled_from(["Europe/Lisbon", "America/Toronto", "Asia/Seoul", "Australia/Lord_Howe", "Africa/Nairobi", "UTC"])
days = st.dates(date(2024, 1, 1), date(2030, 12, 31))


def test_sessions_lie_as_far_apart_as_possible():
    assert spread(3) == (0, 2, 4)
    assert spread(1) == (0,)
    assert spread(7) == (0, 1, 2, 3, 4, 5, 6)


def test_a_session_after_midnight_belongs_to_the_evening_before():
    assert practice_day(datetime(2026, 11, 18, 2, 59, tzinfo=LISBON), LISBON) == date(2026, 11, 17)
    assert practice_day(datetime(2026, 11, 18, 3, 0, tzinfo=LISBON), LISBON) == date(2026, 11, 18)


def test_unknown_zones_are_named():
    with pytest.raises(ValueError, match="Atlantis"):
        zone("Europe/Atlantis")
    with pytest.raises(ValueError):
        practice_day(datetime(2026, 1, 1), LISBON)


@given(days, st.lists(st.integers(1, 7), min_size=1, max_size=26))
def test_every_planned_day_lies_once_in_its_week(start, sessions):
    planned = plan_days(start, sessions)
    assert len({p.day for p in planned}) == len(planned) == sum(sessions)
    assert all(week_of(start, p.day) == p.week for p in planned)
    assert [p.day for p in planned] == sorted(p.day for p in planned)


@given(days, zones)
def test_days_close_without_gap_or_overlap_even_when_clocks_change(day, name):
    tz = zone(name)
    end = closes_at(day, tz)
    assert practice_day(end - timedelta(seconds=1), tz) == day
    assert practice_day(end, tz) == day + timedelta(days=1)
    assert timedelta(hours=22) < closes_at(day + timedelta(days=1), tz) - end < timedelta(hours=26)


@given(st.datetimes(datetime(2024, 1, 1), datetime(2030, 1, 1)), zones)
def test_a_moment_belongs_to_the_day_that_has_not_closed(moment, name):
    now, tz = moment.replace(tzinfo=UTC), zone(name)
    day = practice_day(now, tz)
    assert closes_at(day - timedelta(days=1), tz) <= now < closes_at(day, tz)


TODAY = date(2026, 11, 18)


def state(offset, done=None, planned=100.0, **kw):
    practised = Practised(done, planned) if done is not None else None
    return day_state(TODAY + timedelta(days=offset), TODAY, practised, **kw)


def test_what_becomes_of_a_day():
    assert state(-1).state is DayState.SKIPPED
    assert state(0).state is DayState.OPEN
    assert state(1).state is DayState.FUTURE
    assert state(-1, 100).state is DayState.DONE
    assert state(-1, 60).state is DayState.PARTLY and state(-1, 60).share == 0.6
    assert state(-1, 140).over_s == 40 and state(-1, 140).share == 1
    assert state(-1, paused=True).state is DayState.PAUSED


def test_future_open_and_paused_days_leave_both_sides_of_the_fraction():
    seen = [state(-3, 100), state(-2), state(-1, 50), state(-1, paused=True), state(0), state(1)]
    found = session_adherence(seen, TODAY)
    assert (found.done, found.planned) == (1.5, 3)
    assert session_adherence([state(0), state(2)], TODAY).share is None


def test_today_counts_as_soon_as_it_is_done():
    assert session_adherence([state(0, 100)], TODAY).share == 1


def test_windows_and_misses_in_a_row():
    seen = [state(-20, 100), state(-3), state(-2), state(-1), state(0)]
    assert session_adherence(seen, TODAY, 7).planned == 3
    assert missed_in_a_row(seen) == 3
    assert missed_in_a_row([*seen[:2], state(-1, 40)]) == 0


@given(st.lists(st.tuples(st.integers(-40, 10), st.floats(0, 300)), max_size=40))
def test_adherence_never_passes_one_whatever_was_overdone(raw):
    share = session_adherence([state(o, d) for o, d in raw], TODAY).share
    assert share is None or 0 <= share <= 1
