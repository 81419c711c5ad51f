"""Program documents and their versions, and assignments with their planned days."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg.errors import UniqueViolation
from psycopg.types.json import Jsonb

from .database import Conflict, Conn, NotThere, many, one_or_none


@dataclass(frozen=True)
class StoredProgram:
    id: UUID
    client_id: UUID
    title: str
    version: int
    document: dict[str, Any]
    updated_at: datetime
    saved_by: str


@dataclass(frozen=True)
class ProgramSummary:
    id: UUID
    title: str
    version: int
    weeks: int
    updated_at: datetime


@dataclass(frozen=True)
class Assignment:
    id: UUID
    client_id: UUID
    program_id: UUID
    program_version: int
    title: str
    start_date: date
    time_zone: str
    settings: dict[str, float]
    document: dict[str, Any]
    cards: dict[str, str]
    """Exercise to the hash of the card it was assigned with."""
    ended_at: datetime | None


@dataclass(frozen=True)
class PlannedDay:
    """A planned session, or a whole day of them."""

    day: date
    week: int
    planned_s: float
    contraction_right_s: float
    contraction_left_s: float
    part: str = "morning"
    place: int = 0
    """Place of the day among its week's days, from 0."""


def create(conn: Conn, practice_id: UUID, client_id: UUID, title: str, document: dict[str, Any], by: UUID) -> UUID:
    row = conn.execute(
        "insert into programs (practice_id, client_id, title, document) values (%s, %s, %s, %s) returning id",
        (practice_id, client_id, title, Jsonb(document)),
    ).fetchone()
    assert row
    _keep_version(conn, UUID(str(row[0])), by)
    return UUID(str(row[0]))


def _keep_version(conn: Conn, program_id: UUID, by: UUID) -> None:
    conn.execute(
        "insert into program_versions (program_id, practice_id, client_id, version, title, document, saved_by) "
        "select id, practice_id, client_id, version, title, document, %s from programs where id = %s",
        (by, program_id),
    )


def one(conn: Conn, program_id: UUID) -> StoredProgram:
    """Raises NotThere."""
    row = one_or_none(
        conn,
        StoredProgram,
        "select p.id, p.client_id, p.title, p.version, p.document, p.updated_at, a.name as saved_by from programs p "
        "join program_versions v on v.program_id = p.id and v.version = p.version "
        "left join accounts a on a.id = v.saved_by where p.id = %s",
        (program_id,),
    )
    if row is None:
        raise NotThere("There is no such program.")
    return row


def save(conn: Conn, program_id: UUID, base_version: int, title: str, document: dict[str, Any], by: UUID) -> int:
    """Save over ``base_version`` and return the new version. Raises Conflict when it is no longer the newest."""
    row = conn.execute(
        "update programs set title = %s, document = %s, version = version + 1, updated_at = now() "
        "where id = %s and version = %s returning version",
        (title, Jsonb(document), program_id, base_version),
    ).fetchone()
    if row is None:
        now = one(conn, program_id)
        raise Conflict(
            f"{now.saved_by} saved version {now.version} of this program while you were working on "
            f"version {base_version}. Nothing of yours is lost: compare, then keep one of them."
        )
    _keep_version(conn, program_id, by)
    return int(row[0])


def of_client(conn: Conn, client_id: UUID) -> list[ProgramSummary]:
    return many(
        conn,
        ProgramSummary,
        "select id, title, version, (document->>'weeks')::int as weeks, updated_at from programs "
        "where client_id = %s order by updated_at desc",
        (client_id,),
    )


def assign(
    conn: Conn,
    practice_id: UUID,
    client_id: UUID,
    program: StoredProgram,
    start: date,
    time_zone: str,
    settings: dict[str, float],
    cards: dict[str, str],
    days: list[PlannedDay],
    by: UUID,
) -> UUID:
    """A new running assignment with its days. Raises Conflict when one is running already."""
    try:
        row = conn.execute(
            "insert into assignments (practice_id, client_id, program_id, program_version, start_date, time_zone, settings, "
            "cards, created_by) values (%s, %s, %s, %s, %s, %s, %s, %s, %s) returning id",
            (practice_id, client_id, program.id, program.version, start, time_zone, Jsonb(settings), Jsonb(cards), by),
        ).fetchone()
    except UniqueViolation as error:
        raise Conflict("A program is running already. End it first; what was done of it stays.") from error
    assert row
    with conn.cursor() as cur:
        cur.executemany(
            "insert into planned_days (assignment_id, practice_id, client_id, day, week, planned_s, contraction_right_s, "
            "contraction_left_s, part, place) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [
                (row[0], practice_id, client_id, d.day, d.week, d.planned_s, d.contraction_right_s, d.contraction_left_s, d.part, d.place)
                for d in days
            ],
        )
    return UUID(str(row[0]))


def end(conn: Conn, assignment_id: UUID, on: date) -> None:
    """End an assignment: days from ``on`` that were not practised are no longer planned."""
    conn.execute(
        "delete from planned_days d where assignment_id = %s and day >= %s and not exists "
        "(select from practice_logs l where l.assignment_id = d.assignment_id and l.day = d.day and l.part = d.part)",
        (assignment_id, on),
    )
    done = conn.execute("update assignments set ended_at = now() where id = %s and ended_at is null", (assignment_id,))
    if done.rowcount == 0:
        raise NotThere("This assignment has ended already.")


_ASSIGNMENT = """select a.id, a.client_id, a.program_id, a.program_version, v.title, a.start_date, a.time_zone, a.settings,
    v.document, a.cards, a.ended_at from assignments a join program_versions v on v.program_id = a.program_id
    and v.version = a.program_version"""


def newest_assignment(conn: Conn, client_id: UUID) -> Assignment | None:
    """The running assignment, else the last one."""
    return one_or_none(
        conn,
        Assignment,
        f"{_ASSIGNMENT} where a.client_id = %s order by a.ended_at desc nulls first, a.created_at desc limit 1",
        (client_id,),
    )


def assignment(conn: Conn, assignment_id: UUID) -> Assignment:
    """Raises NotThere."""
    row = one_or_none(conn, Assignment, f"{_ASSIGNMENT} where a.id = %s", (assignment_id,))
    if row is None:
        raise NotThere("There is no such assignment.")
    return row


def sessions(conn: Conn, assignment_id: UUID) -> list[PlannedDay]:
    """Every planned session, morning before evening."""
    return many(
        conn,
        PlannedDay,
        "select day, week, planned_s::float8, contraction_right_s::float8, contraction_left_s::float8, part, place from planned_days "
        "where assignment_id = %s order by day, part desc",
        (assignment_id,),
    )


def planned_days(conn: Conn, assignment_id: UUID) -> list[PlannedDay]:
    """Every planned day, its sessions added up."""
    return many(
        conn,
        PlannedDay,
        "select day, min(week) as week, sum(planned_s)::float8 as planned_s, sum(contraction_right_s)::float8 as contraction_right_s, "
        "sum(contraction_left_s)::float8 as contraction_left_s, 'morning' as part, min(place) as place from planned_days "
        "where assignment_id = %s group by day order by day",
        (assignment_id,),
    )


@dataclass(frozen=True)
class Version:
    """A saved version of a program."""

    version: int
    title: str
    saved_by: str
    saved_at: datetime


def versions(conn: Conn, program_id: UUID) -> list[Version]:
    """Newest first."""
    return many(
        conn,
        Version,
        "select v.version, v.title, coalesce(a.name, '') as saved_by, v.saved_at from program_versions v "
        "left join accounts a on a.id = v.saved_by where v.program_id = %s order by v.version desc",
        (program_id,),
    )


def version(conn: Conn, program_id: UUID, number: int) -> tuple[str, dict[str, Any]]:
    """Title and document of a version. Raises NotThere."""
    row = conn.execute(
        "select title, document from program_versions where program_id = %s and version = %s", (program_id, number)
    ).fetchone()
    if row is None:
        raise NotThere(f"There is no version {number} of this program.")
    return str(row[0]), row[1]


def running(conn: Conn) -> list[Assignment]:
    """Every running assignment of the practice."""
    return many(conn, Assignment, f"{_ASSIGNMENT} where a.ended_at is null")
