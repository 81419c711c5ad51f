"""Clients who started a program together."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from dimbo.store.database import Conn, many


@dataclass(frozen=True, kw_only=True)
class Member:
    """A client of a group by the assignment with which they started; ``weeks`` are those of the program."""

    client_id: UUID
    name: str
    time_zone: str
    assignment_id: UUID
    title: str
    start_date: date
    weeks: int
    ended: bool
    has_account: bool


def members(conn: Conn, group_id: UUID) -> list[Member]:
    """Who started in a group, by name."""
    return many(
        conn,
        Member,
        """
        select c.id as client_id, c.name, c.time_zone, a.id as assignment_id, v.title, a.start_date,
            (v.document->>'weeks')::int as weeks, a.ended_at is not null as ended,
                exists (select from accounts x where x.client_id = c.id) as has_account
        from assignments a
        join clients c on c.id = a.client_id
        join programs v on v.id = a.program_id
        where a.group_id = %s
        order by c.name""",
        (group_id,),
    )
