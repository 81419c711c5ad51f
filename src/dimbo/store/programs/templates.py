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


def save(conn: Conn, template_id: UUID, base_version: int, title: str, document: dict[str, Any], by: str) -> int:
    """Save over ``base_version`` and return the new version. Raises Conflict when it is no longer the newest."""
    row = conn.execute(
        "update templates set title = %s, document = %s, version = version + 1, saved_by = %s, updated_at = now() "
        "where id = %s and version = %s returning version",
        (title, Jsonb(document), by, template_id, base_version),
    ).fetchone()
    if row is None:
        now = one(conn, template_id)
        raise Conflict(f"{now.saved_by} saved version {now.version} of this template meanwhile. Nothing of yours is lost here.")
    return int(row[0])
