"""Which days are planned, and to which day a moment belongs.

Days are dates in the client's own time zone; a day closes at 03:00 local time on the next date, so a
session at half past midnight still belongs to the evening before.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

DAY_CLOSES = time(3, 0)
DAYS = 7


@dataclass(frozen=True, slots=True)
class PlannedDay:
    """A day with a session: its date, and its week in the program (1-based)."""

    day: date
    week: int


def zone(name: str) -> ZoneInfo:
    """The IANA time zone of that name. Raises ValueError with a remedy when there is none."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, IsADirectoryError) as error:
        raise ValueError(f"“{name}” is not a time zone; write one such as Europe/Lisbon") from error


def practice_day(now: datetime, tz: ZoneInfo) -> date:
    """The day that an aware moment belongs to."""
    if now.tzinfo is None:
        raise ValueError("a moment needs its time zone")
    local = now.astimezone(tz)
    return local.date() if local.time() >= DAY_CLOSES else local.date() - timedelta(days=1)


def closes_at(day: date, tz: ZoneInfo) -> datetime:
    """The moment (UTC) at which a day can no longer be practised."""
    return datetime.combine(day + timedelta(days=1), DAY_CLOSES, tz).astimezone(UTC)


def spread(sessions: int) -> tuple[int, ...]:
    """Days of a week (0 is its first) for a number of sessions, as far apart as possible."""
    if not 0 <= sessions <= DAYS:
        raise ValueError(f"a week holds 0 to 7 sessions, not {sessions}")
    return tuple(i * DAYS // sessions for i in range(sessions))


def plan_days(start: date, sessions: Sequence[int]) -> tuple[PlannedDay, ...]:
    """Every planned day from a start date; ``sessions`` has the sessions of each week in turn."""
    return tuple(
        PlannedDay(start + timedelta(days=DAYS * week + offset), week + 1)
        for week, count in enumerate(sessions)
        for offset in spread(count)
    )


def week_of(start: date, day: date) -> int:
    """The week (1-based) of a day; zero or less lies before the start."""
    return (day - start).days // DAYS + 1
