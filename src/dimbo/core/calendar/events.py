"""What a calendar is told of a client's sessions, each time it asks: what is new, what changed, and what no longer stands.

A calendar program keeps what it was told last and believes the higher revision (RFC 5545, 3.8.7.4), so revisions and stamps grow
with what has been told, and what no longer stands is said to be cancelled before it is left out.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

BACK_DAYS, AHEAD_DAYS = 14, 200
"""Sessions of so many days before today and after it are told."""
CANCELLED_FOR = timedelta(days=30)
"""So long it is said that a session no longer stands; every program asks meanwhile."""
FIRST_REVISION = 1000
"""Higher than any that was told before revisions were kept."""
Key = tuple[date, str]
"""Day of practice, and morning or evening."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Session:
    """``at`` is the time of day in ``time_zone``, None for a session of no set time; ``alarm_min`` minutes before it an alarm goes,
    None for none."""

    titles: tuple[str, ...]
    minutes: int
    at: time | None
    time_zone: str
    alarm_min: int | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """A session as it was told last, ``changed_at`` for the first time like this."""

    session: Session
    revision: int
    changed_at: datetime
    cancelled: bool = False

    def _told(self, session: Session, now: datetime, *, cancelled: bool) -> Event:
        at = max(now, self.changed_at)
        return Event(session=session, revision=self.revision + 1, changed_at=at, cancelled=cancelled)


def told(
    before: Mapping[Key, Event], wanted: Mapping[Key, Session], practised: Collection[Key], today: date, now: datetime
) -> dict[Key, Event]:
    """Every event as it is told from ``now`` on: those of ``before`` and the sessions that stand now (``wanted``).

    ``wanted`` and ``practised`` tell of the days around today. A session that was practised stays as it was told, and so does a
    day that is over: what a program has come to since then is no reason to tell it otherwise.
    """
    out: dict[Key, Event] = {}
    for key in before.keys() | wanted.keys():
        was, session = before.get(key), wanted.get(key)
        if was is None:
            assert session is not None
            out[key] = Event(session=session, revision=FIRST_REVISION, changed_at=now)
        elif key in practised and was.cancelled:
            out[key] = was._told(was.session, now, cancelled=False)
        elif key in practised or key[0] < today:
            out[key] = was
        elif session is None:
            out[key] = was if was.cancelled else was._told(was.session, now, cancelled=True)
        elif was.cancelled or session != was.session:
            out[key] = was._told(session, now, cancelled=False)
        else:
            out[key] = was
    return out


def shown(events: Mapping[Key, Event], today: date, now: datetime) -> dict[Key, Event]:
    """Those that a calendar is told: of the days around today, and what was cancelled lately; in the order of time."""
    first, last = today - timedelta(days=BACK_DAYS), today + timedelta(days=AHEAD_DAYS)
    held = {k: e for k, e in events.items() if (now - e.changed_at < CANCELLED_FOR if e.cancelled else first <= k[0] <= last)}
    return dict(sorted(held.items(), key=lambda n: (n[0][0], n[0][1] == "evening")))
