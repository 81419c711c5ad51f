"""Program documents and their versions."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conflict, Conn, NotThere, Statement, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class StoredProgram:
    id: UUID
    client_id: UUID
    title: str
    version: int
    revision: int
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
    program_id = UUID(str(row[0]))
    _begin_version(conn, program_id, by=by, grows=False)
    return program_id


GROWS_MIN = 60
"""How long a version goes on growing, in minutes: an hour is about one sitting at a sheet, and what came of it is found again by
its time."""

_BEGIN = """
    insert into program_versions (program_id, practice_id, client_id, version, title, document, saved_by, open_until)
    select id, practice_id, client_id, version, title, document, %(by)s,
           case when %(grows)s then now() + make_interval(mins => %(mins)s) end
    from programs where id = %(program)s"""


def _begin_version(conn: Conn, program_id: UUID, by: UUID, grows: bool) -> None:
    conn.execute(_BEGIN, {"program": program_id, "by": by, "grows": grows, "mins": GROWS_MIN})


def one(conn: Conn, program_id: UUID) -> StoredProgram:
    """Raises NotThere."""
    row = one_or_none(
        conn,
        StoredProgram,
        """
        select p.id, p.client_id, p.title, p.version, p.revision, p.document, p.updated_at, a.name as saved_by
        from programs p
        join program_versions v on v.program_id = p.id and v.version = p.version
        left join accounts a on a.id = v.saved_by
        where p.id = %s""",
        (program_id,),
    )
    if row is None:
        raise NotThere("There is no such program.")
    return row


@dataclass(frozen=True, slots=True, kw_only=True)
class _Newest:
    """What a save is made over: the newest revision, from which open sheet it came, and whether its version may go on growing."""

    revision: int
    version: int
    saved_from: UUID | None
    open: bool


_NEWEST = Statement(
    _Newest,
    """
    select p.revision, p.version, p.saved_from,
           coalesce(v.open_until > now(), false) and not exists (
               select from plans where program_id = p.id and program_version = p.version) as open
    from programs p join program_versions v on v.program_id = p.id and v.version = p.version
    where p.id = %(program)s
    for update of p""",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class SavedAs:
    """The version that a save went into, and its own revision."""

    version: int
    revision: int


_SAVE = """
    update programs
    set title = %(title)s, document = %(document)s, version = %(version)s, revision = revision + 1, saved_from = %(sheet)s,
        updated_at = now()
    where id = %(program)s"""

_GROW = """
    update program_versions set title = %(title)s, document = %(document)s, saved_at = now()
    where program_id = %(program)s and version = %(version)s"""


def save(
    conn: Conn, program_id: UUID, base_revision: int, title: str, document: dict[str, Any], by: UUID, sheet: UUID | None = None
) -> SavedAs:
    """Save over ``base_revision``. Without an open ``sheet`` that is the next version; from one, the newest version goes on
    growing as long as the same sheet writes it and nobody practises it. Raises NotThere, Conflict."""
    newest = _NEWEST.one_or_none(conn, {"program": program_id})
    if newest is None:
        raise NotThere("There is no such program.")
    # A save whose answer was lost is sent again over the revision before it: its own sheet is no stranger.
    if newest.revision != base_revision and (sheet is None or newest.saved_from != sheet):
        now = one(conn, program_id)
        raise Conflict(
            f"{now.saved_by} saved version {now.version} of this program while you were working on what was before it. "
            "Nothing of yours is lost: compare, then keep one of them."
        )
    grows = sheet is not None and newest.open and newest.saved_from == sheet
    version = newest.version + (not grows)
    values = {"program": program_id, "title": title, "document": Jsonb(document), "version": version, "sheet": sheet}
    conn.execute(_SAVE, values)
    if grows:
        conn.execute(_GROW, values)
    else:
        _begin_version(conn, program_id, by=by, grows=sheet is not None)
    return SavedAs(version=version, revision=newest.revision + 1)


def of_client(conn: Conn, client_id: UUID) -> list[ProgramSummary]:
    return many(
        conn,
        ProgramSummary,
        """
        select id, title, version, (document->>'weeks')::int as weeks, updated_at
        from programs
        where client_id = %s
        order by updated_at desc""",
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
        """
        select v.version, v.title, coalesce(a.name, '') as saved_by, v.saved_at
        from program_versions v
        left join accounts a on a.id = v.saved_by
        where v.program_id = %s
        order by v.version desc""",
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
