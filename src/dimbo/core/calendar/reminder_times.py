"""When a reminder may go out: at its time, but never in the quiet hours, and never after the day has closed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from .schedule import closes_at

PLACES = ("name", "minutes", "time", "practice")
"""What a practice's own text of a reminder may name in braces."""
DEFAULT_TEXT = "Your session is due: {minutes} minutes, at {time}. Nothing has to be made up if a day was missed."


@dataclass(frozen=True, slots=True)
class Quiet:
    """Hours in which nothing is sent, in the client's own time; they may go over midnight. Equal ends mean none."""

    first: time = time(21, 30)
    last: time = time(7, 0)

    def holds(self, at: time) -> bool:
        if self.first == self.last:
            return False
        if self.first < self.last:
            return self.first <= at < self.last
        return at >= self.first or at < self.last


def moment(day: date, at: time, tz: ZoneInfo) -> datetime:
    """A time of day of a practice day as a moment in UTC: before 03:00 it belongs to the night after.

    A time that the change to summer time leaves out is taken as it would have been without the change; one that comes
    twice in autumn is the first.
    """
    on = day + timedelta(days=1) if at < time(3, 0) else day
    return datetime.combine(on, at, tz).astimezone(UTC)


def due_at(day: date, session_at: time, before_min: int, quiet: Quiet, tz: ZoneInfo) -> datetime | None:
    """When to remind of a session: ``before_min`` minutes ahead of it, or when the quiet hours end.

    None when the quiet hours end only after the day has closed.
    """
    due = moment(day, session_at, tz) - timedelta(minutes=before_min)
    local = due.astimezone(tz)
    if quiet.holds(local.time()):
        ends = datetime.combine(local.date(), quiet.last, tz)
        if ends <= local:
            ends = datetime.combine(local.date() + timedelta(days=1), quiet.last, tz)
        due = ends.astimezone(UTC)
    return due if due < closes_at(day, tz) else None


def checked_text(text: str) -> str:
    """A practice's own text. Raises ValueError that names what cannot be filled in."""
    text = text.strip()
    if not 1 <= len(text) <= 400:
        raise ValueError("a reminder has 1 to 400 characters")
    try:
        filled(text, name="", minutes=0, at=time(0), practice="")
    except (KeyError, IndexError, ValueError) as error:
        known = ", ".join(f"{{{p}}}" for p in PLACES)
        raise ValueError(f"the text names something that cannot be filled in ({error}); known are {known}") from error
    return text


def filled(text: str, name: str, minutes: int, at: time, practice: str) -> str:
    """The text with its places filled in."""
    values = {"name": name, "minutes": str(minutes), "time": f"{at:%H:%M}", "practice": practice}
    return text.format_map(values)
