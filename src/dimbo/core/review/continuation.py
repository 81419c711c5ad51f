"""What follows a week: where a review takes hold, and how an earned program waits for one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import dropwhile

from dimbo.core.calendar.schedule import DAYS, Step

from .course_weeks import CourseWeek


@dataclass(frozen=True, slots=True)
class Ahead:
    """What follows a reviewed week. ``anchor`` is the first day of the week that comes next, ``from_day`` the first day that
    can still change, ``steps`` the weeks from there on. ``waiting`` says that the week is laid out to come again until it is
    reviewed; the steps are those without that."""

    anchor: date
    from_day: date
    steps: tuple[Step, ...]
    waiting: bool


def ahead(week: CourseWeek, anchor: date, steps: Sequence[Step], *, waiting: bool, today: date, practised_today: bool) -> Ahead | None:
    """What follows a week in the newest plan, which counts its weeks from ``anchor``; None at the end of the program.

    A review that comes late takes hold in the week that has begun, from the next day that was not practised.
    """
    after = week.last + timedelta(days=1)
    now = today + timedelta(days=1) if practised_today else today
    if waiting:
        begins = after + timedelta(days=max((today - after).days // DAYS, 0) * DAYS)
        rest = tuple(dropwhile(lambda s: s == Step(week.week, back=week.back), steps))
    else:
        place = max((after - anchor).days // DAYS, (today - anchor).days // DAYS, 0)
        begins, rest = anchor + timedelta(days=DAYS * place), tuple(steps[place:])
    return Ahead(begins, from_day=max(begins, now), steps=rest, waiting=waiting) if rest else None


@dataclass(frozen=True, slots=True)
class Again:
    """A plan in which a week comes again: its first day, the first day that changes, and its weeks."""

    anchor: date
    from_day: date
    steps: tuple[Step, ...]


def waits(anchor: date, steps: Sequence[Step], reviewed: Sequence[date], today: date) -> Again | None:
    """How an earned program goes on while its weeks are not reviewed: the week comes again, never the next one unearned.

    The plan counts its weeks from ``anchor``; ``reviewed`` has the first days of reviewed weeks. The week after the present
    one is laid out as the present one again, and the present one as the week before it, when that was not reviewed. None
    when nothing must change; the last week of a program waits for nothing.
    """
    place = (today - anchor).days // DAYS
    if not 0 <= place < len(steps):
        return None
    first = anchor + timedelta(days=DAYS * place)
    if place > 0 and first - timedelta(days=DAYS) not in reviewed and steps[place] != steps[place - 1]:
        before = steps[place - 1]
        return Again(first, from_day=today, steps=(before, before, *steps[place:]))
    if place + 1 < len(steps) and first not in reviewed and steps[place + 1] != steps[place]:
        after = first + timedelta(days=DAYS)
        return Again(after, from_day=after, steps=(steps[place], *steps[place + 1 :]))
    return None
