"""A practice's own copies of reasoning entries."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conn, many


@dataclass(frozen=True)
class OwnText:
    concern: str
    document: dict[str, Any]
    edited_by: str
    edited_at: datetime


OWN = "select concern, document, edited_by, edited_at from reasoning_texts"
"""What the practice keeps of its own."""


def own(conn: Conn) -> list[OwnText]:
    return many(conn, OwnText, OWN)


def keep(conn: Conn, practice_id: UUID, concern: str, document: dict[str, Any], by: str) -> None:
    conn.execute(
        """
        insert into reasoning_texts (practice_id, concern, document, edited_by)
        values (%s, %s, %s, %s)
        on conflict (practice_id, concern) do update set document = excluded.document, edited_by = excluded.edited_by,
            edited_at = now()""",
        (practice_id, concern, Jsonb(document), by),
    )


def shipped_again(conn: Conn, concern: str) -> bool:
    """Drop the practice's own copy; False when there was none."""
    return conn.execute("delete from reasoning_texts where concern = %s", (concern,)).rowcount == 1
