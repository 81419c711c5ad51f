"""Who looked at which photograph and when, and what else was done with a client's records. Only ever added to."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, add, many


@dataclass(frozen=True, kw_only=True)
class Step:
    """``what`` as the table's check lists it; ``subject`` says of what; ``key`` makes it stand there once."""

    at: datetime
    by_id: UUID
    by_name: str
    what: str
    subject: str
    key: str


def add_step(conn: Conn, practice_id: UUID, client_id: UUID, step: Step) -> None:
    values = {"practice_id": practice_id, "client_id": client_id, "at": step.at, "by_id": step.by_id, "by_name": step.by_name}
    values |= {"what": step.what, "subject": step.subject, "key": step.key}
    add(conn, "trail", values, "on conflict do nothing")


def of_client(conn: Conn, client_id: UUID, most: int = 2000) -> list[Step]:
    """The newest first."""
    return many(
        conn,
        Step,
        "select at, by_id, by_name, what, subject, key from trail where client_id = %s order by at desc, id desc limit %s",
        (client_id, most),
    )
