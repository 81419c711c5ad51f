"""Which days are planned, and to which day a moment belongs.

Days are dates in the client's own time zone; a day closes at 03:00 local time on the next date, so a
session at half past midnight still belongs to the evening before.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

DAY_CLOSES = time(3, 0)
EVENING_FROM = time(15, 0)
"""From then on the evening's session is offered first; a morning that was missed is not made up."""
DAYS = 7


@dataclass(frozen=True, slots=True)
class Step:
    """A calendar week of a course: the week of the program whose doses it has, and how many rungs back."""

    week: int
    back: int = 0


@dataclass(frozen=True, slots=True)
class Pause:
    """Days on which nothing is due, both ends included; without an end it lasts until it is ended."""

    first: date
    last: date | None = None

    def holds(self, day: date) -> bool:
        return self.first <= day and (self.last is None or day <= self.last)


def paused(pauses: Iterable[Pause], day: date) -> bool:
    return any(p.holds(day) for p in pauses)


@dataclass(frozen=True, slots=True)
class PlannedDay:
    """A day with a session: its date, the program week whose doses it has (1-based), its place among the week's days
    (from 0), and how many rungs back it is after a break."""

    day: date
    week: int
    place: int = 0
    back: int = 0


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


EASTERNMOST = timedelta(hours=14)
"""How far the earliest clock on earth is ahead of UTC."""

LATE = timedelta(hours=1)
"""So long after a day has closed, a session that was begun for it still counts for it, when it is still open."""


def just_closed(day: date, began: datetime, tz: ZoneInfo) -> bool:
    """Whether a moment lies within ``LATE`` after a day has closed."""
    return timedelta(0) <= began - closes_at(day, tz) < LATE


def begun_anywhere(day: date, now: datetime) -> bool:
    """Whether a date of the calendar has begun somewhere on earth: for dates written by somebody whose zone is not known."""
    return day <= (now.astimezone(UTC) + EASTERNMOST).date()


def closes_at(day: date, tz: ZoneInfo) -> datetime:
    """The moment (UTC) at which a day can no longer be practised."""
    return datetime.combine(day + timedelta(days=1), DAY_CLOSES, tz).astimezone(UTC)


EVERY_OTHER = 3.5
"""Days a week of a program that is practised every other day, across the ends of weeks."""


def most_days(sessions: float) -> int:
    """Most sessions that a week of so many days a week can have: whole numbers as they are, four for every other day."""
    return 4 if sessions == EVERY_OTHER else int(sessions)


def days_in_words(sessions: float) -> str:
    return "every other day" if sessions == EVERY_OTHER else "daily" if sessions == DAYS else f"{sessions:g} days"


@lru_cache(maxsize=512)
def spread(sessions: int, among: tuple[int, ...] = tuple(range(DAYS))) -> tuple[int, ...]:
    """Days of a week for a number of sessions, as far apart as possible; ``among`` are the days that can be used.

    The smallest gap, going round into the next week, is as large as it can be, then the next smallest, and so on; of
    equal choices the earliest. With more sessions than days every day is used once.
    """
    if not 0 <= sessions <= DAYS:
        raise ValueError(f"a week holds 0 to 7 sessions, not {sessions}")
    if sessions == 0 or not among:
        return ()

    def gaps(days: tuple[int, ...]) -> list[int]:
        return sorted((days[(i + 1) % len(days)] - d - 1) % DAYS + 1 for i, d in enumerate(days))

    choices = itertools.combinations(sorted(among), min(sessions, len(among)))
    return max(choices, key=lambda days: (gaps(days), tuple(-d for d in days)))


@lru_cache(maxsize=512)
def week_days(sessions: float) -> tuple[int, ...]:
    """Days of a program's week (0 is its first) on which it is practised; every other day begins with the first."""
    return (0, 2, 4, 6) if sessions == EVERY_OTHER else spread(int(sessions))


@lru_cache(maxsize=512)
def nested(days: float, sessions: float) -> tuple[int, ...]:
    """Which of a week's ``sessions`` (0 is the first) a line of ``days`` days takes part in, as far apart as possible.

    Worked out on the days that the sessions have, so that three of seven days lie apart in the week.
    """
    on = week_days(sessions)
    if days >= sessions:
        return tuple(range(len(on)))
    chosen = spread(min(most_days(days), len(on)), on)
    return tuple(i for i, day in enumerate(on) if day in chosen)


def plan_days(
    start: date, sessions: Sequence[float], weekdays: Sequence[int] = (), steps: Sequence[Step] | None = None, end: date | None = None
) -> tuple[PlannedDay, ...]:
    """Every planned day from a start date; ``sessions`` has the days a week of each program week.

    ``weekdays`` are the days on which there is time, Monday 1 to Sunday 7; all of them when empty. Every other day goes
    on across the ends of weeks, unless there is no time on every day. ``steps`` are the program weeks in the order in which
    they are practised, all of them when not given; nothing is planned after ``end``.
    """
    order = steps if steps is not None else [Step(w) for w in range(1, len(sessions) + 1)]
    among = tuple(d for d in range(DAYS) if not weekdays or (start + timedelta(days=d)).isoweekday() in weekdays)
    out: list[PlannedDay] = []
    for week, step in enumerate(order):
        count = sessions[step.week - 1]
        if count == EVERY_OTHER and len(among) == DAYS:
            follows = week > 0 and sessions[order[week - 1].week - 1] == EVERY_OTHER
            first = (out[-1].day + timedelta(days=2) - start).days % DAYS if follows else 0
            offsets: Sequence[int] = range(first, DAYS, 2)
        else:
            offsets = spread(most_days(count), among)
        out += [
            PlannedDay(start + timedelta(days=DAYS * week + o), step.week, place=place, back=step.back) for place, o in enumerate(offsets)
        ]
    return tuple(p for p in out if end is None or p.day <= end)


def week_of(start: date, day: date) -> int:
    """The week (1-based) of a day; zero or less lies before the start."""
    return (day - start).days // DAYS + 1
