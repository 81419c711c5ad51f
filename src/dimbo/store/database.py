"""Connections: a pool, and transactions that know whose practice (and which client) they serve."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import AbstractContextManager, contextmanager
from copy import copy
from dataclasses import dataclass, fields
from enum import Enum
from typing import TYPE_CHECKING, Any, Generic, Protocol, TypeVar
from uuid import UUID

from psycopg import Connection, Cursor, DataError, OperationalError, connect
from psycopg.errors import DiskFull, ReadOnlySqlTransaction
from psycopg.rows import RowFactory, TupleRow, class_row
from psycopg.types.json import Jsonb
from psycopg_pool import ConnectionPool, PoolTimeout

if TYPE_CHECKING:
    from _typeshed import DataclassInstance

Conn = Connection[TupleRow]
Row = TypeVar("Row")
Values = tuple[Any, ...] | Mapping[str, Any]
AWAY = (OperationalError, PoolTimeout)
"""The database does not answer, or not in time: nothing is wrong with what was asked."""
FULL, READ_ONLY = DiskFull, ReadOnlySqlTransaction
"""The database answers and cannot keep anything."""
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
        self._only_reads = False

    def reading(self) -> Database:
        """The same pool for whoever only reads: its transactions refuse every write."""
        same = copy(self)
        same._only_reads = True
        return same

    def open(self, *, wait: bool = True) -> None:
        """Without ``wait`` a database that is not there yet is no error; it is used as soon as it is."""
        self.pool.open(wait=wait, timeout=10)

    def close(self) -> None:
        self.pool.close()

    @contextmanager
    def anyone(self) -> Iterator[Conn]:
        """A transaction before sign-in: sees no practice's rows at all."""
        with self.pool.connection() as conn:
            if self._only_reads:
                conn.execute("set transaction read only")
            yield conn

    def state(self) -> tuple[bool, float | None]:
        """Whether the database takes changes, and how many seconds ago a worker last said that it lives (None for never).

        Raises one of AWAY when the database does not answer.
        """
        with self.glance() as conn:
            row = conn.execute(
                """
                select not pg_is_in_recovery() and current_setting('default_transaction_read_only') = 'off',
                    extract(epoch from now() - max(last_heartbeat))::float8
                from procrastinate_workers"""
            ).fetchone()
        assert row
        return bool(row[0]), row[1]

    @contextmanager
    def glance(self) -> Iterator[Conn]:
        """A connection for one read before sign-in, without the two round trips of a transaction."""
        with self.pool.connection() as conn:
            conn.autocommit = True
            try:
                yield conn
            finally:
                conn.autocommit = False

    def of(self, who: Who, client_id: UUID | None = None) -> AbstractContextManager[Conn]:
        """A transaction as somebody who is signed in or came by a link: the rows that they may see, of one client if given."""
        return self._bound(Binding.of(who, client_id))

    def practice(self, practice_id: UUID, client_id: UUID | None = None) -> AbstractContextManager[Conn]:
        """A transaction of the worker or of a link within one practice; with ``client_id`` only that client's rows are there."""
        return self._bound(Binding(practice_id, client_id))

    @contextmanager
    def _bound(self, to: Binding) -> Iterator[Conn]:
        with self.pool.connection() as conn:
            with conn.pipeline():  # the begin, the mode and the binding in one round trip
                if self._only_reads:
                    conn.execute("set transaction read only")
                to.enter(conn)
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


class Who(Protocol):
    """Whoever a transaction is for; see ``store.people.accounts.Person``."""

    @property
    def id(self) -> UUID: ...
    @property
    def practice_id(self) -> UUID: ...
    @property
    def client_id(self) -> UUID | None: ...
    @property
    def sees_all(self) -> bool: ...


@dataclass(frozen=True)
class Binding:
    """What row-level security goes by: the practice; one client, if given; and the account of somebody who works in the
    practice, which decides on photographs and, unless it sees everybody, on clients. Without an account it is the worker's."""

    practice_id: UUID
    client_id: UUID | None = None
    account_id: UUID | None = None
    sees_all: bool = True

    @staticmethod
    def of(who: Who, client_id: UUID | None = None) -> Binding:
        at_work = who.client_id is None
        return Binding(who.practice_id, client_id or who.client_id, account_id=who.id if at_work else None, sees_all=who.sees_all)

    def enter(self, conn: Connection[Any]) -> None:
        """Bind the running transaction."""
        conn.execute(
            """
            select set_config('dimbo.practice', %s, true), set_config('dimbo.client', %s, true),
                set_config('dimbo.account', %s, true), set_config('dimbo.own_only', %s, true)""",
            (str(self.practice_id), str(self.client_id or ""), str(self.account_id or ""), "" if self.sees_all else "on"),
        )


def _rows_of(kind: type[Row]) -> RowFactory[Row]:
    """Makes rows of ``kind``. A NamedTuple is filled by place, once its fields were compared with the columns: a frozen value
    by name costs about fifteen times as much a row, which shows where rows come by the thousand. Others are filled by name."""
    fields = getattr(kind, "_fields", None)
    if fields is None:
        return class_row(kind)

    def by_place(cursor: Cursor[Any]) -> Callable[[Sequence[Any]], Row]:
        columns = tuple(c.name for c in cursor.description or ())
        if columns and columns != fields:
            raise TypeError(f"{kind.__name__} has the fields {fields}, the statement the columns {columns}")
        return kind._make  # type: ignore[attr-defined, no-any-return]

    return by_place


class Statement(Generic[Row]):
    """A statement together with the type of its rows, which are read by the names of its columns."""

    def __init__(self, kind: type[Row], sql: str) -> None:
        self.kind, self.sql = kind, sql
        self._rows = _rows_of(kind)

    def run(self, conn: Conn, values: Values = ()) -> Cursor[Row]:
        """Begin it; the rows are fetched from the cursor, which may be after other statements of a pipeline have begun."""
        return conn.cursor(row_factory=self._rows).execute(self.sql.encode(), values)

    def all(self, conn: Conn, values: Values = ()) -> list[Row]:
        with self.run(conn, values) as cursor:
            return cursor.fetchall()

    def one_or_none(self, conn: Conn, values: Values = ()) -> Row | None:
        with self.run(conn, values) as cursor:
            return cursor.fetchone()


def many(conn: Conn, kind: type[Row], sql: str, values: Values = ()) -> list[Row]:
    """Every row of a statement as a value of ``kind``, by column name."""
    return Statement(kind, sql).all(conn, values)


def one_or_none(conn: Conn, kind: type[Row], sql: str, values: Values) -> Row | None:
    """The row of a statement as a value of ``kind``, or nothing."""
    return Statement(kind, sql).one_or_none(conn, values)


def selected(kind: type[DataclassInstance], of: str) -> str:
    """The columns of a value, for a select from a table called ``of``; numbers come as floats where the value has floats."""
    return ", ".join(f"{of}.{f.name}::float8" if str(f.type).startswith("float") else f"{of}.{f.name}" for f in fields(kind))


def insert(table: str, columns: Iterable[str], then: str = "") -> bytes:
    """The statement that adds a row of named values; ``then`` follows it."""
    names = list(columns)
    return f"insert into {table} ({', '.join(names)}) values ({', '.join(f'%({n})s' for n in names)}) {then}".encode()


def add(conn: Conn, table: str, values: Mapping[str, Any], then: str = "") -> Cursor[Any]:
    """Add a row of named values; ``then`` follows the statement, as ``on conflict`` or ``returning``."""
    return conn.execute(insert(table, values, then), values)


def new_id(added: Cursor[Any]) -> UUID:
    """The id that an insert returned."""
    row = added.fetchone()
    assert row
    return UUID(str(row[0]))


def add_all(conn: Conn, table: str, rows: Sequence[Mapping[str, Any]], then: str = "") -> None:
    """Add rows of the same names, in one round trip."""
    if rows:
        with conn.cursor() as cursor:
            cursor.executemany(insert(table, rows[0], then), rows)


def columns_of(value: DataclassInstance, *, json: Collection[str] = (), leave: Collection[str] = ()) -> dict[str, Any]:
    """The fields of a value by name, ready to be stored: enumerations as their text, those in ``json`` as documents, without
    those in ``leave``."""
    found = {f.name: getattr(value, f.name) for f in fields(value) if f.name not in leave}
    return {n: Jsonb(v) if n in json else v.value if isinstance(v, Enum) else v for n, v in found.items()}
