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


@dataclass(frozen=True, kw_only=True)
class Begun:
    """What a practice has done of its first steps."""

    ways: bool
    client: bool
    program: bool
    colleague: bool


def begun(conn: Conn) -> Begun:
    """Raises NotThere."""
    found = one_or_none(
        conn,
        Begun,
        """
        select 'ways' = any(p.begun) as ways,
            exists (select from clients) as client,
            exists (select from programs) as program,
            'colleague' = any(p.begun) or (select count(*) > 1 from accounts a where a.role = 'coach')
                or exists (select from account_links l where l.kind = 'colleague' and l.used_at is null) as colleague
        from practices p
        where p.id = current_practice()""",
        (),
    )
    if found is None:
        raise NotThere("There is no such practice.")
    return found


def settle_step(conn: Conn, step: str) -> None:
    """Note that a first step is done, or not wanted."""
    conn.execute("update practices set begun = array(select distinct unnest(begun || %s::text)) where id = current_practice()", (step,))
