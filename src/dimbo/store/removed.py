"""What was removed and is kept for a while: out of sight of every other statement by row-level security."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from uuid import UUID

from .database import Conn, NotThere, many


class Kind(StrEnum):
    """What can be removed and brought back; each is the name of its table."""

    PHOTOGRAPH = "photographs"
    PROGRAM = "programs"
    TEMPLATE = "templates"


_NAME = {Kind.PHOTOGRAPH: "source_name", Kind.PROGRAM: "title", Kind.TEMPLATE: "title"}
_OF_CLIENT = {Kind.PHOTOGRAPH: "client_id", Kind.PROGRAM: "client_id", Kind.TEMPLATE: "null::uuid"}


@dataclass(frozen=True)
class Removed:
    """``name`` is a title, or the name of a photograph's file."""

    id: UUID
    client_id: UUID | None
    name: str
    removed_at: datetime


@contextmanager
def _seen(conn: Conn) -> Iterator[None]:
    """Within this, statements of the transaction see what was removed."""
    conn.execute("select set_config('dimbo.removed', 'on', true)")
    yield
    conn.execute("select set_config('dimbo.removed', '', true)")


def remove(conn: Conn, kind: Kind, row_id: UUID, by: UUID, at: datetime) -> None:
    """Take a row out of sight; removed twice it stays removed as it was. Raises NotThere."""
    with _seen(conn):
        sql = f"update {kind} set removed_at = coalesce(removed_at, %s), removed_by = coalesce(removed_by, %s) where id = %s"
        done = conn.execute(sql.encode(), (at, by, row_id))
    if done.rowcount == 0:
        raise NotThere("There is no such thing to remove.")


def bring_back(conn: Conn, kind: Kind, row_id: UUID) -> None:
    """Raises NotThere when it was never there, or is gone for good."""
    with _seen(conn):
        done = conn.execute(f"update {kind} set removed_at = null, removed_by = null where id = %s".encode(), (row_id,))
    if done.rowcount == 0:
        raise NotThere("It is gone for good: what is removed is kept for 30 days.")


def of(conn: Conn, kind: Kind, client_id: UUID | None = None) -> list[Removed]:
    """What was removed, the newest first; of one client if given."""
    with _seen(conn):
        owner = _OF_CLIENT[kind]
        return many(
            conn,
            Removed,
            f"""
            select id, {owner} as client_id, {_NAME[kind]} as name, removed_at
            from {kind}
            where removed_at is not null and (%(client)s::uuid is null or {owner} = %(client)s)
            order by removed_at desc, id""",
            {"client": client_id},
        )


def came_again(conn: Conn, photograph_id: UUID) -> bool:
    """Whether the file of a removed photograph was added to its sitting again."""
    with _seen(conn):
        row = conn.execute(
            """
            select exists (select from photographs o join photographs n on n.sitting_id = o.sitting_id
                and n.source_hash = o.source_hash and n.removed_at is null where o.id = %s
                    and o.removed_at is not null)""",
            (photograph_id,),
        ).fetchone()
    return bool(row and row[0])


def forget(conn: Conn, before: datetime) -> int:
    """Delete for good what was removed before a moment; returns how many rows of the three kinds went."""
    gone = 0
    with _seen(conn):
        for kind in Kind:
            gone += conn.execute(f"delete from {kind} where removed_at < %s".encode(), (before,)).rowcount
    return gone


def forget_photographs(conn: Conn, client_id: UUID) -> None:
    """Delete for good, at once, what was removed of a client's photographs: their consent is taken back."""
    with _seen(conn):
        conn.execute("delete from photographs where client_id = %s and removed_at is not null", (client_id,))
