"""Program documents and their versions."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conflict, Conn, NotThere, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class StoredProgram:
    id: UUID
    client_id: UUID
    title: str
    version: int
    document: dict[str, Any]
    updated_at: datetime
    saved_by: str


@dataclass(frozen=True, kw_only=True)
class ProgramSummary:
    id: UUID
    title: str
    version: int
    weeks: int
    updated_at: datetime


def create(conn: Conn, practice_id: UUID, client_id: UUID, title: str, document: dict[str, Any], by: UUID) -> UUID:
    row = conn.execute(
        "insert into programs (practice_id, client_id, title, document) values (%s, %s, %s, %s) returning id",
        (practice_id, client_id, title, Jsonb(document)),
    ).fetchone()
    assert row
    _keep_version(conn, UUID(str(row[0])), by=by)
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
    _keep_version(conn, program_id, by=by)
    return int(row[0])


def of_client(conn: Conn, client_id: UUID) -> list[ProgramSummary]:
    return many(
        conn,
        ProgramSummary,
        "select id, title, version, (document->>'weeks')::int as weeks, updated_at from programs "
        "where client_id = %s order by updated_at desc",
        (client_id,),
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
