"""Days, closing times and adherence."""

import itertools
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.calendar.schedule import (
    begun_anywhere,
    closes_at,
    days_in_words,
    just_closed,
    nested,
    plan_days,
    practice_day,
    spread,
    week_days,
    week_of,
    zone,
)
from dimbo.core.review.adherence import DayState, Practised, day_state, missed_in_a_row, session_adherence

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
    assert state(-1, 140).share == 1
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


@given(st.integers(1, 7), st.sets(st.integers(0, 6), min_size=1))
def test_sessions_lie_as_far_apart_as_the_days_allow(count, days):
    among = tuple(sorted(days))
    chosen = spread(count, among)
    assert set(chosen) <= days and len(chosen) == min(count, len(days))

    def smallest(choice):
        return min((choice[(i + 1) % len(choice)] - d - 1) % 7 + 1 for i, d in enumerate(choice))

    best = max(smallest(c) for c in itertools.combinations(among, len(chosen)))
    assert smallest(chosen) == best


@given(st.integers(1, 7), st.sampled_from([1, 2, 3, 3.5, 4, 5, 6, 7]))
def test_a_line_takes_part_in_days_of_the_program(days, sessions):
    places = nested(days, sessions)
    assert len(places) == min(days, len(week_days(sessions)))
    assert list(places) == sorted(set(places)) and all(0 <= p < len(week_days(sessions)) for p in places)


def test_three_days_of_a_daily_program_lie_apart():
    assert [week_days(7)[i] for i in nested(3, 7)] == [0, 2, 4]


def test_every_other_day_goes_on_across_the_ends_of_weeks():
    days = [p.day for p in plan_days(date(2026, 3, 2), (3.5,) * 4)]
    assert {(b - a).days for a, b in itertools.pairwise(days)} == {2} and len(days) == 14
    mixed = plan_days(date(2026, 3, 2), (7, 3.5, 3.5))
    assert [(p.day - date(2026, 3, 2)).days for p in mixed if p.week > 1] == [7, 9, 11, 13, 15, 17, 19]
    assert [p.place for p in mixed if p.week == 3] == [0, 1, 2]


def test_a_client_without_every_day_gets_the_days_that_there_are():
    planned = plan_days(date(2026, 3, 4), (3, 5), (1, 3, 5))
    assert {p.day.isoweekday() for p in planned} == {1, 3, 5}
    assert [p.week for p in planned] == [1, 1, 1, 2, 2, 2]


@pytest.mark.parametrize(("sessions", "says"), [(7, "daily"), (3.5, "every other day"), (3, "3 days")])
def test_days_in_words(sessions, says):
    assert days_in_words(sessions) == says


def test_a_session_a_little_after_three_may_count_for_the_evening_before():
    tz, evening = zone("Europe/Lisbon"), date(2026, 3, 18)
    at = datetime(2026, 3, 19, 3, 0, tzinfo=tz)
    assert just_closed(evening, at, tz) and just_closed(evening, at + timedelta(minutes=59), tz)
    assert not just_closed(evening, at - timedelta(minutes=1), tz), "it is still that day"
    assert not just_closed(evening, at + timedelta(hours=1), tz) and not just_closed(evening - timedelta(days=1), at, tz)


@given(st.datetimes(datetime(2024, 1, 1), datetime(2030, 1, 1)))
def test_a_written_day_has_begun_as_soon_as_it_has_for_anybody(moment):
    now = moment.replace(tzinfo=UTC)
    here = [now.astimezone(ZoneInfo(name)).date() for name in ("Pacific/Kiritimati", "Pacific/Auckland", "UTC", "Pacific/Pago_Pago")]
    assert all(begun_anywhere(day, now) for day in here)
    assert not begun_anywhere(here[0] + timedelta(days=1), now)
