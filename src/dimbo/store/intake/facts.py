"""Facts: everything that was said, chosen, tested, rated, cleared or agreed to, each dated and never changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple
from uuid import UUID

from dimbo.store.database import Conflict, Conn, add_all, columns_of, many
from dimbo.store.database import add as add_row


class Fact(NamedTuple):
    """One fact. ``key`` says what it is about within its kind; ``value`` is shaped by the kind."""

    client_id: UUID
    id: UUID
    seq: int
    kind: str
    key: str
    value: dict[str, Any]
    at: datetime
    author: str
    source: str


@dataclass(frozen=True, kw_only=True)
class NewFact:
    id: UUID
    kind: str
    key: str
    value: dict[str, Any]
    at: datetime
    author: str
    author_id: UUID | None
    source: str


_COLUMNS = "client_id, id, seq, kind, key, value, at, author, source"


def add(conn: Conn, practice_id: UUID, client_id: UUID, new: Sequence[NewFact]) -> None:
    """Keep facts. An id that is here already must be of the same client; then nothing happens. Raises Conflict."""
    for f in new:
        kept = add_row(conn, "facts", _row(practice_id, client_id, f), "on conflict (id) do nothing")
        if kept.rowcount == 0 and not known(conn, client_id, [f.id]):
            raise Conflict("This entry's id belongs to another client. Enter it anew.")


def add_many(conn: Conn, practice_id: UUID, new: Sequence[tuple[UUID, NewFact]]) -> None:
    """Keep many new facts of many clients."""
    add_all(conn, "facts", [_row(practice_id, client_id, f) for client_id, f in new])


def _row(practice_id: UUID, client_id: UUID, fact: NewFact) -> dict[str, Any]:
    return {"practice_id": practice_id, "client_id": client_id} | columns_of(fact, json=("value",))


def known(conn: Conn, client_id: UUID, ids: list[UUID]) -> set[UUID]:
    """Which of these facts are kept already."""
    rows = conn.execute("select id from facts where client_id = %s and id = any(%s)", (client_id, ids)).fetchall()
    return {r[0] for r in rows}


STANDING = f"""
    select * from (
        select distinct on (kind, key) {_COLUMNS}
        from facts
        where client_id = %(client)s
            and kind not in ('caution', 'clearance', 'consent', 'note', 'lock', 'release', 'intake', 'photographs')
        order by kind, key, seq desc) newest
    union all
    select {_COLUMNS}
    from facts
    where client_id = %(client)s and kind in ('caution', 'clearance', 'consent')
    order by seq"""
"""What the present is made of: the newest fact of each kind and key, and every answer to a caution, clearance and consent."""


SORENESS = "soreness"
"""The key under which a coach keeps what soreness was that stopped strength."""


def soreness_asked(conn: Conn, client_id: UUID) -> datetime | None:
    """When a coach asked last about soreness that stopped strength."""
    told = "select max(at) from facts where client_id = %s and kind = 'asked' and key = %s"
    row = conn.execute(told, (client_id, SORENESS)).fetchone()
    return row[0] if row else None


def last_asked(conn: Conn, client_id: UUID) -> datetime | None:
    """When anything about health was answered last: an answer to a caution, or that nothing has changed."""
    told = "select max(at) from facts where client_id = %s and (kind = 'caution' or (kind = 'asked' and key = 'health'))"
    row = conn.execute(told, (client_id,)).fetchone()
    return row[0] if row else None


def standing(conn: Conn, client_id: UUID) -> list[Fact]:
    """What the present is made of, oldest first."""
    return many(conn, Fact, STANDING, {"client": client_id})


def history(conn: Conn, client_id: UUID, *, before: int | None = None, most: int = 200) -> list[Fact]:
    """Everything that ever changed, the newest first."""
    return many(
        conn,
        Fact,
        f"select {_COLUMNS} from facts where client_id = %s and (%s::bigint is null or seq < %s) order by seq desc limit %s",
        (client_id, before, before, most),
    )


def of_kind(conn: Conn, client_id: UUID, kind: str, key: str | None = None) -> list[Fact]:
    """Every fact of a kind (and key), oldest first."""
    return many(
        conn,
        Fact,
        f"select {_COLUMNS} from facts where client_id = %s and kind = %s and (%s::text is null or key = %s) order by seq",
        (client_id, kind, key, key),
    )
