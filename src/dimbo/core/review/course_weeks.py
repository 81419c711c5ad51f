"""The weeks of a course as they were practised: counted from the day from which a plan counts its own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from dimbo.core.calendar.schedule import DAYS

from .adherence import Day, DayState


@dataclass(frozen=True, slots=True, kw_only=True)
class CourseWeek:
    """A week of an assignment: its first and last day, the program week whose doses it had, and how many rungs back."""

    first: date
    last: date
    week: int
    back: int
    plan: int
    days: tuple[date, ...]
    """Days with a session."""


def course_length(start: date, anchor: date, steps: int) -> int:
    """Weeks of a course that began on a day and whose newest plan counts so many weeks from ``anchor`` on."""
    return -(-((anchor - start).days + DAYS * steps) // DAYS)


def course_weeks(planned: Iterable[tuple[date, int, int, int]], anchors: Mapping[int, date]) -> list[CourseWeek]:
    """The weeks in their order, of planned days (day, program week, rungs back, number of the plan), earliest first.

    ``anchors`` is the day from which each plan counts its weeks. A week ends early where the next one begins in it.
    """
    found: dict[date, list[tuple[date, int, int, int]]] = {}
    for row in planned:
        anchor = anchors[row[3]]
        found.setdefault(anchor + timedelta(days=(row[0] - anchor).days // DAYS * DAYS), []).append(row)
    firsts = sorted(found)
    out = []
    for n, first in enumerate(firsts):
        after = firsts[n + 1] if n + 1 < len(firsts) else None
        last = first + timedelta(days=DAYS - 1)
        rows = found[first]
        newest = rows[-1]
        ends = min(last, after - timedelta(days=1)) if after else last
        out.append(
            CourseWeek(
                first=first, last=ends, week=newest[1], back=newest[2], plan=newest[3], days=tuple(dict.fromkeys(r[0] for r in rows))
            )
        )
    return out


def is_over(week: CourseWeek, states: Mapping[date, Day]) -> bool:
    """Whether nothing of a week can still be practised: each of its days is done, or has closed."""
    open_ones = (DayState.OPEN, DayState.FUTURE)
    return all(d in states and states[d].state not in open_ones for d in week.days)


def review_due(weeks: Sequence[CourseWeek], states: Mapping[date, Day], reviewed: Iterable[date]) -> CourseWeek | None:
    """The newest week that is over, unless it was reviewed; earlier ones that nobody reviewed are let go.

    ``reviewed`` has the first days of reviewed weeks. A week in which all days were paused is not due, nor are the days
    between a reviewed week and the one that began, within it, with what the review decided.
    """
    known = set(reviewed)
    over = [w for w in weeks if is_over(w, states) and any(states[d].state is not DayState.PAUSED for d in w.days)]
    if not over or over[-1].first in known or _between(weeks, over[-1], known):
        return None
    return over[-1]


def _between(weeks: Sequence[CourseWeek], week: CourseWeek, reviewed: set[date]) -> bool:
    """Whether a week was cut short by what the review of the week before it decided."""
    before = next((w for w in weeks if w.last + timedelta(days=1) == week.first), None)
    short = (week.last - week.first).days + 1 < DAYS
    return short and before is not None and before.first in reviewed
