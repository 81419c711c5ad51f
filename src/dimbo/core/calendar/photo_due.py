"""When the next photographs are due: a baseline at the start, then weeks 4, 8 and 12, and every fourth week after."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date, timedelta

EVERY_WEEKS = 4
EARLY_DAYS = 7
"""A sitting up to a week before its day counts for it."""


def sitting_due(start: date, weeks: int, taken: Sequence[date]) -> date | None:
    """The day of the first sitting of a course of so many weeks that is not yet taken; None when all are.

    A course shorter than four weeks ends with its one follow-up.
    """
    days = [start] + [start + timedelta(days=7 * w) for w in range(EVERY_WEEKS, weeks + 1, EVERY_WEEKS)]
    if weeks % EVERY_WEEKS and weeks < EVERY_WEEKS:
        days.append(start + timedelta(days=7 * weeks))
    for n, day in enumerate(days):
        until = days[n + 1] - timedelta(days=EARLY_DAYS) if n + 1 < len(days) else date.max
        since = date.min if n == 0 else day - timedelta(days=EARLY_DAYS)
        if not any(since <= t < until for t in taken):
            return day
    return None


def next_sitting(courses: Iterable[tuple[date, int]], taken: Sequence[date], today: date, *, refused: bool) -> date | None:
    """The day since or from which photographs are due over all running courses, each by its first day and its weeks; None
    while photographs are ``refused``, and for courses that have not begun."""
    if refused:
        return None
    due = [d for start, weeks in courses if start <= today and (d := sitting_due(start, weeks, taken)) is not None]
    return min(due, default=None)
