"""What a practice keeps about safety: who has confirmed which starting value."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.store.database import Conn, many


@dataclass(frozen=True)
class Confirmation:
    """Somebody's word that a starting value may stand, or be loosened, in this practice."""

    value: str
    by_name: str
    role: str
    confirmed_on: date


def confirmations(conn: Conn) -> dict[str, Confirmation]:
    """The newest of each value."""
    found = many(
        conn,
        Confirmation,
        "select distinct on (value) value, by_name, role, confirmed_on from confirmations order by value, made_at desc",
    )
    return {c.value: c for c in found}


def confirm(conn: Conn, practice_id: UUID, confirmation_id: UUID, new: Confirmation, by: UUID, at: datetime) -> None:
    """Keep a confirmation, once."""
    conn.execute(
        """
        insert into confirmations (id, practice_id, value, by_name, role, confirmed_on, made_by, made_at)
        values (%s, %s, %s, %s, %s, %s, %s, %s)
        on conflict (id) do nothing""",
        (confirmation_id, practice_id, new.value, new.by_name, new.role, new.confirmed_on, by, at),
    )
