"""A client's days across a move from one time zone to another, and across the phone's own clock.

Planned days are dates, so a move neither loses nor doubles one; only the date line can leave a date without a moment.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from .schedule import Pause, closes_at, paused, practice_day

CLOCK_TOLERANCE = timedelta(minutes=2)
"""How far a phone's clock may be off before its times are corrected and marked."""
KEPT_AT_MOST = timedelta(days=60)
"""How long something may wait on a phone before the clock that dated it is disbelieved."""


@dataclass(frozen=True, slots=True)
class Stay:
    """The time zone in which a client lives from a moment (UTC) on."""

    since: datetime
    tz: ZoneInfo


def zone_at(stays: Sequence[Stay], moment: datetime) -> ZoneInfo:
    """The zone at a moment; ``stays`` are in the order of time, and the first also holds before it began."""
    found = stays[0].tz
    for stay in stays:
        if stay.since <= moment:
            found = stay.tz
    return found


def day_at(stays: Sequence[Stay], moment: datetime) -> date:
    """The practice day of an aware moment, by the zone in which the client was then."""
    return practice_day(moment, zone_at(stays, moment))


def has_moments(stays: Sequence[Stay], day: date) -> bool:
    """Whether a date had any moment for the client; false for one that was jumped over at the date line."""
    for n, stay in enumerate(stays):
        since = stay.since if n else datetime.min.replace(tzinfo=UTC)
        until = stays[n + 1].since if n + 1 < len(stays) else datetime.max.replace(tzinfo=UTC)
        if max(since, closes_at(day - timedelta(days=1), stay.tz)) < min(until, closes_at(day, stay.tz)):
            return True
    return False


def clock_error(sent_at: datetime, told: datetime, received_at: datetime) -> timedelta:
    """How far a phone's clock was behind (positive) or ahead; nothing within the tolerance, which is mere delay.

    What was ``told`` of a moment after the sending, or of one long before it, was told by a clock that was set right in
    between: it can have been at the latest when it was received.
    """
    if clock_jumped(sent_at, told=told):
        return received_at - told
    error = received_at - sent_at
    return error if abs(error) > CLOCK_TOLERANCE else timedelta(0)


def clock_jumped(sent_at: datetime, told: datetime) -> bool:
    """Whether a phone's clock was set to another time between a moment and the sending of it."""
    return told > sent_at + CLOCK_TOLERANCE or told < sent_at - KEPT_AT_MOST


def off_days(pauses: Sequence[Pause], stays: Sequence[Stay]) -> Callable[[date], bool]:
    """Whether nothing is due on a day: it is paused, or was jumped over at the date line. Without stays no day was."""
    if not pauses and len(stays) < 2:
        return lambda _: False
    return lambda day: paused(pauses, day) or (len(stays) > 1 and not has_moments(stays, day))
