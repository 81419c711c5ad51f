"""Erasing a client, and the tombstones that stay."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, many


@dataclass(frozen=True)
class Erasure:
    """A tombstone: no name, only that there was a record, since when it is gone, by whom (client, owner, age) and why."""

    erased_client: UUID
    practice_id: UUID
    erased_at: datetime
    by_whom: str
    reason: str


_COLUMNS = "erased_client, practice_id, erased_at, by_whom, reason"


def erase(conn: Conn, client_id: UUID, *, by_whom: str, reason: str, at: datetime) -> None:
    """Everything of a client in every table, for good (``erase_client`` in 0016_records.sql)."""
    conn.execute("select erase_client(%s, %s, %s, %s)", (client_id, by_whom, reason, at))


def every(conn: Conn) -> list[Erasure]:
    """Of the practice, the newest first."""
    return many(conn, Erasure, f"select {_COLUMNS} from erasures order by erased_at desc, erased_client")


def not_noted(conn: Conn) -> list[Erasure]:
    """Those that the list outside the database lacks, the oldest first."""
    return many(conn, Erasure, f"select {_COLUMNS} from erasures where noted_at is null order by erased_at, erased_client")


def noted(conn: Conn, client_id: UUID, at: datetime) -> None:
    conn.execute("update erasures set noted_at = %s where erased_client = %s", (at, client_id))
