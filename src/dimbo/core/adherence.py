"""How much of what was planned was done. Future days never count; paused days leave both sides."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum


class DayState(StrEnum):
    DONE = "done"
    PARTLY = "partly"
    SKIPPED = "skipped"
    OPEN = "open"
    """Today, not yet done: counts as soon as it is done, and against nobody before it closes."""
    FUTURE = "future"
    PAUSED = "paused"
    EXTRA = "extra"
    """Practised without a plan for the day: all of it lies above plan, and it counts for nothing."""


@dataclass(frozen=True, slots=True)
class Practised:
    """What was logged for one planned day, in seconds of contraction and hands-on time."""

    done_s: float
    planned_s: float

    @property
    def share(self) -> float:
        """Share of the plan that was done, 0 to 1."""
        return min(self.done_s / self.planned_s, 1.0) if self.planned_s > 0 else 0.0

    @property
    def over_s(self) -> float:
        """Seconds above plan. Extra time is harm, not credit."""
        return max(self.done_s - self.planned_s, 0.0)


@dataclass(frozen=True, slots=True)
class Day:
    """A planned day and what became of it."""

    day: date
    state: DayState
    share: float = 0.0
    over_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Adherence:
    """Sessions done (partly done by their share) over sessions planned, in a window of days."""

    done: float
    planned: int

    @property
    def share(self) -> float | None:
        """0 to 1, or None when nothing was planned yet."""
        return self.done / self.planned if self.planned else None


WHOLE = 0.995
"""A session counts as done from here; the rest is rounding of seconds."""


def day_state(day: date, today: date, practised: Practised | None, paused: bool = False) -> Day:
    """The state of one planned day as seen from ``today``."""
    if practised is not None and practised.done_s > 0 and practised.planned_s <= 0:
        return Day(day, DayState.EXTRA, 0.0, practised.over_s)
    if practised is not None and practised.done_s > 0:
        state = DayState.DONE if practised.share >= WHOLE else DayState.PARTLY
        return Day(day, state, practised.share, practised.over_s)
    if paused:
        return Day(day, DayState.PAUSED)
    if day > today:
        return Day(day, DayState.FUTURE)
    return Day(day, DayState.OPEN if day == today else DayState.SKIPPED)


_COUNTED = {DayState.DONE, DayState.PARTLY, DayState.SKIPPED}


def session_adherence(days: Iterable[Day], today: date, window_days: int | None = None) -> Adherence:
    """Done over planned in the last ``window_days`` days up to and with today (all days if None)."""
    first = today - timedelta(days=window_days - 1) if window_days else date.min
    counted = [d for d in days if d.state in _COUNTED and first <= d.day <= today]
    return Adherence(sum(d.share for d in counted), len(counted))


def missed_in_a_row(days: Sequence[Day]) -> int:
    """Planned days missed since the last one that was practised, oldest first in ``days``."""
    missed = 0
    for day in days:
        if day.state is DayState.SKIPPED:
            missed += 1
        elif day.state in (DayState.DONE, DayState.PARTLY):
            missed = 0
    return missed
