"""Sittings, their links, and the readings that a client's program is judged by."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.store.database import Conn, NotThere, add, many, new_id, one_or_none


@dataclass(frozen=True, kw_only=True)
class Sitting:
    """``asked_views`` are the views of the protocol that this sitting takes; ``how`` and ``hint`` tell how it was
    photographed and by which mark the right way round can be known."""

    id: UUID
    client_id: UUID
    taken_on: date
    note: str
    kind: str
    asked_views: list[str]
    how: str
    hint: str
    handed_in_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class LinkedSitting:
    """What a link opens."""

    sitting_id: UUID
    practice_id: UUID
    client_id: UUID
    client_name: str
    practice_name: str
    expired: bool
    made_by: UUID | None
    """The account that made the link."""


_SITTING = "select id, client_id, taken_on, note, kind, asked_views, how, hint, handed_in_at from sittings"


def create(
    conn: Conn, practice_id: UUID, client_id: UUID, taken_on: date, *, kind: str, asked_views: list[str], note: str = "", hint: str = ""
) -> UUID:
    values = {"practice_id": practice_id, "client_id": client_id, "taken_on": taken_on, "kind": kind, "asked_views": asked_views}
    return new_id(add(conn, "sittings", values | {"note": note, "hint": hint}, "returning id"))


TAKEN = "(s.handed_in_at is not null or sitting_was_taken(s.id))"
"""That photographs of a sitting s came. One that was only opened, or whose link was only sent, was not taken."""


def taken_days(conn: Conn, client_id: UUID) -> list[date]:
    """The days on which photographs of a client were taken."""
    rows = conn.execute(f"select s.taken_on from sittings s where s.client_id = %s and {TAKEN} order by 1".encode(), (client_id,))
    return [row[0] for row in rows]


def of_client(conn: Conn, client_id: UUID) -> list[Sitting]:
    return many(conn, Sitting, f"{_SITTING} where client_id = %s order by taken_on, created_at", (client_id,))


def one(conn: Conn, sitting_id: UUID) -> Sitting:
    """Raises NotThere."""
    row = one_or_none(conn, Sitting, f"{_SITTING} where id = %s", (sitting_id,))
    if row is None:
        raise NotThere("There is no such sitting.")
    return row


def describe(conn: Conn, sitting_id: UUID, *, kind: str, how: str, hint: str, note: str, asked_views: list[str]) -> None:
    conn.execute(
        "update sittings set kind = %s, how = %s, hint = %s, note = %s, asked_views = %s where id = %s",
        (kind, how, hint, note, asked_views, sitting_id),
    )


def set_link(conn: Conn, sitting_id: UUID, token_hash: bytes, by: UUID, expires_at: datetime) -> None:
    """One link per sitting; a new one ends the old."""
    conn.execute(
        "update sittings set link_hash = %s, link_by = %s, link_expires_at = %s where id = %s", (token_hash, by, expires_at, sitting_id)
    )


def end_link(conn: Conn, sitting_id: UUID) -> None:
    conn.execute("update sittings set link_hash = null, link_by = null, link_expires_at = null where id = %s", (sitting_id,))


def by_link(conn: Conn, token_hash: bytes) -> LinkedSitting | None:
    return one_or_none(conn, LinkedSitting, "select * from sitting_by_link(%s)", (token_hash,))


def hand_in(conn: Conn, sitting_id: UUID, at: datetime) -> None:
    conn.execute("update sittings set handed_in_at = %s where id = %s", (at, sitting_id))


def primary(conn: Conn, client_id: UUID) -> list[str]:
    """The readings that were named last; empty when none were."""
    row = conn.execute(
        "select readings from primary_readings where client_id = %s order by named_at desc, id limit 1", (client_id,)
    ).fetchone()
    return list(row[0]) if row else []


def name_primary(conn: Conn, practice_id: UUID, client_id: UUID, readings: list[str], by: UUID, at: datetime) -> None:
    conn.execute(
        "insert into primary_readings (practice_id, client_id, readings, named_by, named_at) values (%s, %s, %s, %s, %s)",
        (practice_id, client_id, readings, by, at),
    )


def has_practised(conn: Conn, client_id: UUID) -> bool:
    """Whether the running program has been practised; from then on its primary readings are locked."""
    row = conn.execute(
        """
        select exists (select from practice_logs l join assignments a on a.id = l.assignment_id where a.client_id = %s
            and a.ended_at is null)""",
        (client_id,),
    ).fetchone()
    return bool(row and row[0])
