"""Practices as whoever runs the server sees them. Only the owner of the tables makes one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, NotThere, add, one_or_none


@dataclass(frozen=True, kw_only=True)
class Listed:
    """A practice with how much is in it."""

    id: UUID
    name: str
    created_at: datetime
    staff: int
    """Who works there now."""
    clients: int


def create(conn: Conn, practice_id: UUID, name: str) -> None:
    """Within a transaction that is bound to the new practice."""
    add(conn, "practices", {"id": practice_id, "name": name})


def ids(conn: Conn) -> list[UUID]:
    """Every practice, in a transaction of none."""
    return [r[0] for r in conn.execute("select practice_ids()").fetchall()]


def here(conn: Conn) -> Listed:
    """The practice that the transaction is bound to. Raises NotThere."""
    found = one_or_none(
        conn,
        Listed,
        """
        select p.id, p.name, p.created_at,
            (select count(*)::int from accounts a where a.practice_id = p.id and a.role = 'coach' and a.disabled_at is null) as staff,
            (select count(*)::int from clients c where c.practice_id = p.id) as clients
        from practices p
        where p.id = current_practice()""",
        (),
    )
    if found is None:
        raise NotThere("There is no such practice.")
    return found
