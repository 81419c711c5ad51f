"""Moving between time zones, reminders and quiet hours, what is new, and when photographs are due."""

from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.calendar.photo_due import sitting_due
from dimbo.core.calendar.reminder_times import DEFAULT_TEXT, PLACES, Quiet, checked_text, due_at, filled, moment
from dimbo.core.calendar.schedule import closes_at, plan_days
from dimbo.core.calendar.time_zones import Stay, clock_error, day_at, has_moments
from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.program import Line
from dimbo.core.sessions.session_changes import change, news
from dimbo.core.sessions.timeline import Item
from tests.core.builders import card, style

NAMES = ["Europe/Lisbon", "America/Toronto", "Asia/Seoul", "Pacific/Auckland", "Pacific/Honolulu", "Australia/Lord_Howe", "UTC"]
zones = st.sampled_from(NAMES).map(ZoneInfo)
moments = st.datetimes(datetime(2024, 1, 1), datetime(2030, 1, 1)).map(lambda m: m.replace(tzinfo=UTC))


@given(zones, zones, moments, st.integers(0, 60))
def test_a_move_puts_every_moment_on_one_day_and_keeps_every_planned_date_once(home, away, moved, hours):
    stays = [Stay(datetime(2020, 1, 1, tzinfo=UTC), home), Stay(moved, away)]
    at = moved + timedelta(hours=hours)
    day = day_at(stays, at)
    assert closes_at(day - timedelta(days=1), away) <= at < closes_at(day, away)
    assert has_moments(stays, day)
    planned = plan_days(day_at(stays, moved - timedelta(days=3)), [7, 7])
    assert len({p.day for p in planned}) == 14


def test_only_the_date_line_leaves_a_date_without_a_moment():
    samoa, line_islands = ZoneInfo("Pacific/Pago_Pago"), ZoneInfo("Pacific/Kiritimati")
    moved = datetime(2026, 6, 11, 13, 30, tzinfo=UTC)  # half past two at night: still the 10th there, already the 12th here
    east = [Stay(datetime(2026, 1, 1, tzinfo=UTC), samoa), Stay(moved, line_islands)]
    assert [day_at(east, moved - timedelta(minutes=1)), day_at(east, moved)] == [date(2026, 6, 10), date(2026, 6, 12)]
    assert [has_moments(east, date(2026, 6, d)) for d in (10, 11, 12)] == [True, False, True]
    west = [Stay(datetime(2026, 1, 1, tzinfo=UTC), line_islands), Stay(moved, samoa)]
    assert day_at(west, moved) == date(2026, 6, 10)  # lived through once more; its one session stays one


@pytest.mark.parametrize(("behind", "error"), [(30, 0), (-90, 0), (7200, 7200), (-86400, -86400)])
def test_a_clock_that_is_off_is_told_from_a_slow_line(behind, error):
    now = datetime(2026, 11, 25, 8, tzinfo=UTC)
    sent = now - timedelta(seconds=behind)
    assert clock_error(sent, sent - timedelta(minutes=5), now) == timedelta(seconds=error)


def test_what_was_told_by_a_clock_that_was_set_right_since_is_put_before_its_receipt():
    now = datetime(2026, 11, 25, 8, tzinfo=UTC)
    told = now + timedelta(days=3)
    assert told + clock_error(now, told, now) == now


times = st.times().map(lambda t: t.replace(microsecond=0, second=0))


@given(st.dates(date(2024, 1, 2), date(2030, 1, 1)), times, st.integers(0, 120), times, times, zones)
def test_a_reminder_never_comes_in_quiet_hours_nor_after_the_day(day, at, before, first, last, tz):
    quiet = Quiet(first, last)
    due = due_at(day, at, before, quiet, tz)
    if due is not None:
        assert due < closes_at(day, tz)
        local = due.astimezone(tz)
        folded = local.utcoffset() != (due + timedelta(hours=1)).astimezone(tz).utcoffset()
        assert folded or not quiet.holds(local.time())


def test_quiet_hours_over_midnight_move_an_early_reminder_to_their_end():
    lisbon = ZoneInfo("Europe/Lisbon")
    due = due_at(date(2026, 11, 25), time(7, 5), 15, Quiet(time(21, 30), time(7)), lisbon)
    assert due == datetime(2026, 11, 25, 7, 0, tzinfo=lisbon)
    assert due_at(date(2026, 11, 25), time(23), 0, Quiet(time(21), time(7)), lisbon) is None
    assert moment(date(2026, 11, 25), time(1, 30), lisbon).date() == date(2026, 11, 26)


def test_texts_of_the_practices_own_name_only_what_is_known():
    assert filled(DEFAULT_TEXT, "Ana", 12, time(7, 30), "Quay").startswith("Your session is due: 12 minutes, at 07:30")
    assert checked_text("  Hello {name}, {minutes} minutes with {practice} at {time}  ").startswith("Hello")
    for bad in ("", "x" * 401, "Dear {surname}", "{", "{name.__class__}{0}"):
        with pytest.raises(ValueError):
            checked_text(bad)
    assert set(PLACES) == {"name", "minutes", "time", "practice"}


def item(text, name="lift"):
    c = card(name, dose_style=style(rule=SideRule.WEAK if text.startswith("R") else SideRule.TOGETHER))
    return Item(Line(id=name, card=c, stage=c.stage, cells=(text,)), parse(text, c.style))


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ("1×5 h3", "1×5 h6", "now holds 6 seconds"),
        ("1×5 h4c", "1×5 h6c", "now holds 6 counts"),
        ("1×5 h3", "1×8 h3", "now has 8 repetitions"),
        ("1×5 h3", "2×5 h3", "now has 2 sets"),
        ("R1 L1 ×5 h3", "R3 L2 ×5 h3", "now has 3 on your right and 2 on your left"),
        ("1×5 h3", "1×5 h3", ""),
    ],
)
def test_a_change_is_said_in_one_sentence(before, after, said):
    assert change(item(before).dose, item(after).dose) == said


def test_news_names_what_is_new_and_what_rests():
    told = news([item("1×5 h3"), item("1×5 h3", "press")], [item("1×5 h6"), item("1×3 h3", "smile")])
    assert told == ("Lift now holds 6 seconds.", "Smile is new.", "Press is not done this time.")
    assert news([item("1×5 h3"), item("1×5 h3", "press")], [item("1×5 h3")], {"Press"}) == (), "told elsewhere, with its reason"
    assert news([item("1×5 h3")], [item("1×5 h3")]) == ()


def test_photographs_are_due_at_the_start_and_every_fourth_week():
    start = date(2026, 9, 7)
    week = timedelta(weeks=1)
    assert sitting_due(start, 12, []) == start
    assert sitting_due(start, 12, [start]) == start + 4 * week
    assert sitting_due(start, 12, [start - timedelta(days=2), start + 4 * week - timedelta(days=5)]) == start + 8 * week
    assert sitting_due(start, 12, [start, start + 4 * week, start + 9 * week, start + 12 * week]) is None
    assert sitting_due(start, 3, [start]) == start + 3 * week
