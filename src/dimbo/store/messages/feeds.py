"""Private addresses of calendar feeds, of which only the hash is kept, and what calendars were told."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import date, datetime, time
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.core.calendar.events import Event, Key, Session
from dimbo.store.database import Conn, one_or_none
from dimbo.store.practice.practice_logs import STANDS


@dataclass(frozen=True)
class Feed:
    made_at: datetime
    read_at: datetime | None


@dataclass(frozen=True)
class FeedOwner:
    practice_id: UUID
    client_id: UUID
    revoked: bool


def current(conn: Conn, client_id: UUID) -> Feed | None:
    """The feed that is open, if there is one."""
    return one_or_none(conn, Feed, "select made_at, read_at from feeds where client_id = %s and revoked_at is null", (client_id,))


def revoke(conn: Conn, client_id: UUID, at: datetime) -> bool:
    """Close the open feed; False when none was open."""
    return conn.execute("update feeds set revoked_at = %s where client_id = %s and revoked_at is null", (at, client_id)).rowcount == 1


def open_new(conn: Conn, practice_id: UUID, client_id: UUID, token_hash: bytes, at: datetime) -> None:
    """A new address; the one before it is closed."""
    revoke(conn, client_id, at)
    conn.execute(
        "insert into feeds (token_hash, practice_id, client_id, made_at) values (%s, %s, %s, %s)", (token_hash, practice_id, client_id, at)
    )


def by_token(conn: Conn, token_hash: bytes) -> FeedOwner | None:
    return one_or_none(conn, FeedOwner, "select * from feed_by_token(%s)", (token_hash,))


def note_read(conn: Conn, token_hash: bytes, at: datetime) -> None:
    conn.execute("update feeds set read_at = %s where token_hash = %s", (at, token_hash))


def practised(conn: Conn, client_id: UUID, since: date) -> set[Key]:
    """Sessions that were practised since a day."""
    sql = f"select distinct day, part from practice_logs l where client_id = %s and day >= %s and {STANDS.format('l')}"
    return {(day, part) for day, part in conn.execute(sql.encode(), (client_id, since)).fetchall()}


def told(conn: Conn, client_id: UUID) -> dict[Key, Event]:
    """What calendars were told last; nobody else tells them anything meanwhile."""
    conn.execute("select pg_advisory_xact_lock(hashtextextended('calendar ' || %s::text, 0))", (client_id,))
    found = conn.execute(
        "select day, part, said, revision, changed_at, cancelled from calendar_events where client_id = %s", (client_id,)
    ).fetchall()
    return {
        (day, part): Event(session=_session(said), revision=revision, changed_at=changed_at, cancelled=cancelled)
        for day, part, said, revision, changed_at, cancelled in found
    }


def keep_told(conn: Conn, practice_id: UUID, client_id: UUID, events: Mapping[Key, Event]) -> None:
    """Keep what calendars are told from now on."""
    with conn.cursor() as cursor:
        cursor.executemany(
            """
            insert into calendar_events (practice_id, client_id, day, part, said, revision, changed_at, cancelled)
            values (%s, %s, %s, %s, %s, %s, %s, %s)
            on conflict (client_id, day, part) do update set said = excluded.said, revision = excluded.revision,
                changed_at = excluded.changed_at, cancelled = excluded.cancelled""",
            [
                (practice_id, client_id, day, part, Jsonb(_said(e.session)), e.revision, e.changed_at, e.cancelled)
                for (day, part), e in events.items()
            ],
        )


def _said(session: Session) -> dict[str, Any]:
    return asdict(session) | {"titles": list(session.titles), "at": session.at.isoformat() if session.at else None}


def _session(said: dict[str, Any]) -> Session:
    at = time.fromisoformat(said["at"]) if said["at"] else None
    return Session(**said | {"titles": tuple(said["titles"]), "at": at})
