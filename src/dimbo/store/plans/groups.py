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


def take_out(conn: Conn, group_id: UUID, assignment_id: UUID) -> None:
    """Take an assignment out of a group; it is kept which one it was. Raises NotThere."""
    done = conn.execute(
        "update assignments set group_id = null, left_group_id = group_id where id = %s and group_id = %s", (assignment_id, group_id)
    )
    if done.rowcount == 0:
        raise NotThere("This client is not in the group any more.")


def put_back(conn: Conn, group_id: UUID, assignment_id: UUID) -> None:
    """Put an assignment back into the group that it was taken out of. Raises NotThere where it was in none or in another."""
    done = conn.execute(
        """
        update assignments set group_id = left_group_id, left_group_id = null
        where id = %s and left_group_id = %s and group_id is null""",
        (assignment_id, group_id),
    )
    if done.rowcount == 0:
        raise NotThere("This program was not taken out of this group.")
