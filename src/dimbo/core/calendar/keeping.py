"""How long a practice keeps photographs and records after the last course, and when whoever they are about is told."""

from __future__ import annotations

import calendar
from dataclasses import dataclass
from datetime import date, timedelta

NOTICE = timedelta(days=30)
"""Nobody's photographs or record are deleted for their age without having been told so long before."""


def months_after(day: date, months: int) -> date:
    """The same day so many months later; the last of the month where it has no such day."""
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    if year > date.max.year:
        return date.max
    return date(year, month + 1, min(day.day, calendar.monthrange(year, month + 1)[1]))


@dataclass(frozen=True)
class Turn:
    """Where something stands on a day: the day on which it goes (None: kept without end); whether the notice is to be sent
    now, whether one that was sent holds no more, and whether it is to be deleted now."""

    goes_on: date | None
    tell: bool = False
    take_back: bool = False
    delete: bool = False


def turn(last_on: date, *, months: int | None, kept_until: date | None, told_on: date | None, today: date) -> Turn:
    """What is to be done today.

    It goes ``months`` after the last day on which anything happened, not before ``kept_until``, and not before ``NOTICE`` has
    passed since the notice: a worker that stood still for a year, or a practice that shortens its time, deletes nothing that
    nobody was told of. A notice that came for an earlier day (something happened since, or the practice keeps longer) is taken
    back, and the next one is sent in its own time.
    """
    if months is None:
        return Turn(None, take_back=told_on is not None)
    due = max(months_after(last_on, months), kept_until or date.min)
    if due - NOTICE > today:
        return Turn(due, take_back=told_on is not None)
    if told_on is None:
        return Turn(max(due, today + NOTICE), tell=True)
    goes = max(due, told_on + NOTICE)
    return Turn(goes, delete=today >= goes)
