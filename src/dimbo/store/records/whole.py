"""Everything that is held of a client, table by table, as the database has it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from dimbo.store.database import Conn, many

LEFT_OUT: dict[str, tuple[str, ...]] = {
    "accounts": ("password_hash", "totp_secret", "totp_step"),
    "invitations": ("token_hash",),
    "self_intakes": ("token_hash",),
    "sittings": ("link_hash",),
    "feeds": ("token_hash",),
    "reminder_wishes": ("token",),
    "devices": ("endpoint", "p256dh", "auth", "sign_in_id"),
    "due_links": ("token_hash",),
    "photographs": ("image", "thumbnail", "source_hash"),
    "upload_pieces": ("data",),
}
"""What is no word about a client but a key to something, by table; photographs come as files."""
ITSELF = "clients"


@dataclass(frozen=True)
class Column:
    """``kind`` is the database's name of the type."""

    table: str
    name: str
    kind: str
    needed: bool


def columns(conn: Conn) -> list[Column]:
    """Every column that is taken out, of every table that has a client, in the order of tables and columns."""
    found = many(
        conn,
        Column,
        """
        select c.relname::text as table, a.attname::text as name, format_type(a.atttypid, null) as kind, a.attnotnull as needed
        from pg_attribute a
        join pg_class c on c.oid = a.attrelid
        where a.attnum > 0 and not a.attisdropped and c.relkind = 'r' and c.relnamespace = 'public'::regnamespace
            and (c.relname = 'clients' or exists (select from pg_attribute k
                where k.attrelid = c.oid and k.attname = 'client_id' and not k.attisdropped))
        order by c.relname <> 'clients', c.relname, a.attnum""",
    )
    return [c for c in found if c.name not in LEFT_OUT.get(c.table, ()) and c.name != "practice_id"]


@contextmanager
def with_removed(conn: Conn) -> Iterator[None]:
    """Within this, what was removed and is still kept is seen as well."""
    conn.execute("select set_config('dimbo.removed', 'on', true)")
    yield
    conn.execute("select set_config('dimbo.removed', '', true)")


def rows(conn: Conn, table: str, names: list[str], client_id: UUID) -> list[dict[str, Any]]:
    """Every row of a client in a table that ``columns`` names."""
    key = "id" if table == ITSELF else "client_id"
    found = conn.execute(
        f"select to_jsonb(r) from (select {', '.join(names)} from {table} where {key} = %s) r".encode(), (client_id,)
    ).fetchall()
    return sorted((r[0] for r in found), key=lambda r: str(r.get("seq") or r.get("day") or r.get("at") or r.get("made_at") or ""))


def photograph(conn: Conn, photograph_id: UUID) -> bytes:
    """The JPEG of a photograph, also of one that was removed and is still kept."""
    row = conn.execute("select image from photographs where id = %s", (photograph_id,)).fetchone()
    return bytes(row[0]) if row else b""


COUNTS = """
    select (select count(*) from photographs where client_id = %(c)s)::int as photographs,
        (select count(*) from sittings where client_id = %(c)s)::int as sittings,
        (select count(*) from practice_logs where client_id = %(c)s and replaced_by is null)::int as sessions,
        (select count(*) from programs where client_id = %(c)s)::int as programs,
        (select count(*) from facts where client_id = %(c)s)::int as entries,
        (select count(*) from messages where client_id = %(c)s)::int as messages"""


@dataclass(frozen=True, kw_only=True)
class Counts:
    """How much is held; what was removed and is still kept is counted."""

    photographs: int
    sittings: int
    sessions: int
    programs: int
    entries: int
    messages: int


def counts(conn: Conn, client_id: UUID) -> Counts:
    """Photographs of somebody who may not look at them are counted as none."""
    with with_removed(conn):
        return many(conn, Counts, COUNTS, {"c": client_id})[0]
