"""Clients who started a program together."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import NamedTuple
from uuid import UUID

from dimbo.store.database import Conn, NotThere, Statement, many
from dimbo.store.practice.practice_logs import STANDS


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


class Outcome(NamedTuple):
    """What became of an exercise in a session: skipped, hurt, done or partly."""

    client_id: UUID
    exercise_id: str
    outcome: str


OUTCOMES = Statement(
    Outcome,
    f"""
    select l.client_id, n.exercise_id, n.outcome
    from practice_logs l
    join practice_log_lines n on n.log_id = l.id
    where l.assignment_id = any(%(assignments)s) and l.day >= %(since)s and {STANDS.format("l")}""",
)


def outcomes(conn: Conn, assignments: list[UUID], since: date) -> list[Outcome]:
    """What became of every exercise of some assignments since a day."""
    return OUTCOMES.all(conn, {"assignments": assignments, "since": since})


def program_of(conn: Conn, group_id: UUID) -> UUID:
    """The program that a group started with: that of whoever started first. Raises NotThere."""
    row = conn.execute("select program_id from assignments where group_id = %s order by created_at limit 1", (group_id,)).fetchone()
    if row is None:
        raise NotThere("There is no such group.")
    return UUID(str(row[0]))


def put(conn: Conn, assignment_id: UUID, *, into: UUID | None, out_of: UUID | None) -> None:
    """Move an assignment into a group, or out of one. Raises NotThere when it is not where it was thought to be."""
    done = conn.execute(
        "update assignments set group_id = %s where id = %s and group_id is not distinct from %s", (into, assignment_id, out_of)
    )
    if done.rowcount == 0:
        raise NotThere("This client is not in the group any more." if out_of else "This program is in a group already.")
