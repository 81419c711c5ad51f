"""Intakes that clients fill in alone: invitations by link, and the drafts behind them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conn, add, one_or_none


@dataclass(frozen=True, kw_only=True)
class LinkedIntake:
    """What a link opens."""

    id: UUID
    practice_id: UUID
    client_id: UUID
    client_name: str
    practice_name: str
    expires_at: datetime
    expired: bool
    revoked: bool
    submitted: bool
    document: dict[str, Any]
    revision: int


@dataclass(frozen=True, kw_only=True)
class SelfIntake:
    """What the coach sees of it."""

    id: UUID
    created_at: datetime
    expires_at: datetime
    revoked_at: datetime | None
    document: dict[str, Any]
    revision: int
    submitted_at: datetime | None
    reviewed_at: datetime | None


def by_token(conn: Conn, token_hash: bytes) -> LinkedIntake | None:
    return one_or_none(conn, LinkedIntake, "select * from self_intake_by_token(%s)", (token_hash,))


def made_by(conn: Conn, intake_id: UUID) -> UUID:
    """The account that sent the link."""
    row = conn.execute("select created_by from self_intakes where id = %s", (intake_id,)).fetchone()
    assert row
    return UUID(str(row[0]))


NEWEST = """
    select id, created_at, expires_at, revoked_at, document, revision, submitted_at, reviewed_at
    from self_intakes
    where client_id = %s and revoked_at is null
    order by created_at desc
    limit 1"""
"""The last one that was sent and not taken back."""


def newest(conn: Conn, client_id: UUID) -> SelfIntake | None:
    return one_or_none(conn, SelfIntake, NEWEST, (client_id,))


def create(conn: Conn, practice_id: UUID, client_id: UUID, token_hash: bytes, by: UUID, at: datetime, expires_at: datetime) -> None:
    """A new link; an earlier one that was not sent in yet ends, and its draft goes on in the new one."""
    earlier = conn.execute(
        """
        update self_intakes
        set revoked_at = %s
        where client_id = %s and submitted_at is null and revoked_at is null
        returning document, revision""",
        (at, client_id),
    ).fetchone()
    document, revision = earlier or ({}, 0)
    values = {
        "token_hash": token_hash,
        "practice_id": practice_id,
        "client_id": client_id,
        "created_at": at,
        "created_by": by,
        "expires_at": expires_at,
        "document": Jsonb(document),
        "revision": revision,
    }
    add(conn, "self_intakes", values)


def revoke(conn: Conn, client_id: UUID, at: datetime) -> bool:
    """Take the open link back; False when there is none."""
    done = conn.execute(
        "update self_intakes set revoked_at = %s where client_id = %s and submitted_at is null and revoked_at is null", (at, client_id)
    )
    return done.rowcount > 0


def save(conn: Conn, intake_id: UUID, document: dict[str, Any], base: int) -> bool:
    """Keep a draft made from revision ``base``; False when another window saved in between, or it was sent in."""
    done = conn.execute(
        "update self_intakes set document = %s, revision = revision + 1 where id = %s and revision = %s and submitted_at is null",
        (Jsonb(document), intake_id, base),
    )
    return done.rowcount == 1


def submit(conn: Conn, intake_id: UUID, at: datetime) -> bool:
    """Send it in, once."""
    return conn.execute("update self_intakes set submitted_at = %s where id = %s and submitted_at is null", (at, intake_id)).rowcount == 1


def reviewed(conn: Conn, intake_id: UUID, at: datetime) -> None:
    conn.execute("update self_intakes set reviewed_at = %s where id = %s", (at, intake_id))
