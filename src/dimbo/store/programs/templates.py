"""Programs that a practice keeps to begin from."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conflict, Conn, NotThere, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class StoredTemplate:
    id: UUID
    title: str
    about: str
    version: int
    document: dict[str, Any]
    saved_by: str
    updated_at: datetime


_COLUMNS = "id, title, about, version, document, saved_by, updated_at"


def every(conn: Conn) -> list[StoredTemplate]:
    return many(conn, StoredTemplate, f"select {_COLUMNS} from templates order by title")


def one(conn: Conn, template_id: UUID) -> StoredTemplate:
    """Raises NotThere."""
    row = one_or_none(conn, StoredTemplate, f"select {_COLUMNS} from templates where id = %s", (template_id,))
    if row is None:
        raise NotThere("There is no such template.")
    return row


def create(conn: Conn, practice_id: UUID, title: str, about: str, document: dict[str, Any], by: str) -> UUID:
    row = conn.execute(
        "insert into templates (practice_id, title, about, document, saved_by) values (%s, %s, %s, %s, %s) returning id",
        (practice_id, title, about, Jsonb(document), by),
    ).fetchone()
    assert row
    return UUID(str(row[0]))


_SAVE = """
    update templates
    set title = %(title)s, document = %(document)s, version = version + 1, saved_by = %(by)s, saved_from = %(sheet)s, updated_at = now()
    where id = %(id)s and (version = %(base)s or saved_from = %(sheet)s)
    returning version"""


def save(conn: Conn, template_id: UUID, base_version: int, title: str, document: dict[str, Any], by: str, sheet: UUID | None) -> int:
    """Save over ``base_version`` and return the new version. Raises Conflict when it is no longer the newest, unless the newest
    came from the same open ``sheet``: then only the answer was lost."""
    values = {"id": template_id, "base": base_version, "title": title, "document": Jsonb(document), "by": by, "sheet": sheet}
    row = conn.execute(_SAVE, values).fetchone()
    if row is None:
        now = one(conn, template_id)
        raise Conflict(f"{now.saved_by} saved version {now.version} of this template meanwhile. Nothing of yours is lost here.")
    return int(row[0])
