"""Connections: a pool, and transactions that know whose practice (and which client) they serve."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any, TypeVar
from uuid import UUID

from psycopg import Connection, DataError, OperationalError, connect
from psycopg.rows import TupleRow, class_row
from psycopg_pool import ConnectionPool, PoolTimeout

Conn = Connection[TupleRow]
Row = TypeVar("Row")
AWAY = (OperationalError, PoolTimeout)
"""The database does not answer, or not in time: nothing is wrong with what was asked."""
UNSTORABLE = DataError
"""A value that no column takes, such as an invisible sign in a text."""


class NotThere(LookupError):
    """What was asked for does not exist, or belongs to somebody else; the two are never told apart."""


class Conflict(Exception):
    """What was asked for clashes with what is stored; the message says how."""


class Database:
    """A pool of connections as the application's own role, which row-level security binds."""

    def __init__(self, url: str, *, most: int = 10) -> None:
        self.pool: ConnectionPool[Conn] = ConnectionPool(url, min_size=1, max_size=most, open=False, timeout=10)

    def open(self) -> None:
        self.pool.open(wait=True, timeout=10)

    def close(self) -> None:
        self.pool.close()

    @contextmanager
    def anyone(self) -> Iterator[Conn]:
        """A transaction before sign-in: sees no practice's rows at all."""
        with self.pool.connection() as conn:
            yield conn

    @contextmanager
    def glance(self) -> Iterator[Conn]:
        """A connection for one read before sign-in, without the two round trips of a transaction."""
        with self.pool.connection() as conn:
            conn.autocommit = True
            try:
                yield conn
            finally:
                conn.autocommit = False

    @contextmanager
    def practice(self, practice_id: UUID, client_id: UUID | None = None) -> Iterator[Conn]:
        """A transaction within one practice; with ``client_id`` only that client's rows are there."""
        with self.pool.connection() as conn:
            with conn.pipeline():  # the begin and the binding in one round trip
                enter(conn, practice_id, client_id)
            yield conn


def unbound_role(url: str) -> str | None:
    """The role of a connection when row-level security does not bind it, so that one slip of a query would show every
    practice's rows; None when it is bound, or the database does not answer yet."""
    try:
        with connect(url, connect_timeout=5) as conn:
            found = conn.execute("select rolname from pg_roles where rolname = current_user and (rolsuper or rolbypassrls)").fetchone()
    except AWAY:
        return None
    return str(found[0]) if found else None


def enter(conn: Connection[Any], practice_id: UUID, client_id: UUID | None = None) -> None:
    """Bind the running transaction to a practice, and to one client if given."""
    conn.execute(
        "select set_config('dimbo.practice', %s, true), set_config('dimbo.client', %s, true)",
        (str(practice_id), str(client_id) if client_id else ""),
    )


def many(conn: Conn, kind: type[Row], sql: str, values: tuple[Any, ...] | Mapping[str, Any] = ()) -> list[Row]:
    """Every row of a statement as a value of ``kind``, by column name."""
    with conn.cursor(row_factory=class_row(kind)) as cursor:
        return cursor.execute(sql.encode(), values).fetchall()


def one_or_none(conn: Conn, kind: type[Row], sql: str, values: tuple[Any, ...]) -> Row | None:
    """The row of a statement as a value of ``kind``, or nothing."""
    with conn.cursor(row_factory=class_row(kind)) as cursor:
        return cursor.execute(sql.encode(), values).fetchone()
