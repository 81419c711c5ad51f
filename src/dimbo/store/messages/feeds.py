"""Private addresses of calendar feeds: the store keeps the hash of a token only."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, one_or_none


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
