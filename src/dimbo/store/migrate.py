"""Migrations: numbered .sql files, each in a transaction of its own, under one lock, with a checksum."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from pathlib import Path

import psycopg
from procrastinate.schema import SchemaManager

FOLDER = Path(__file__).parent / "migrations"
LOCK = 0x64696D62

_GRANT_QUEUE = """
do $$ declare t text; begin
    for t in select tablename from pg_tables where schemaname = 'public' and tablename like 'procrastinate%' loop
        execute format('grant select, insert, update, delete on %I to dimbo_app', t);
    end loop;
end $$;
grant usage, select on all sequences in schema public to dimbo_app;
"""


class MigrationError(RuntimeError):
    """The database and the files disagree; the message says which and what to do."""


def _files() -> list[tuple[str, str]]:
    files = [(f.name, f.read_text(encoding="utf-8")) for f in sorted(FOLDER.glob("*.sql"))]
    queue = SchemaManager.get_schema()
    return [*files, ("queue.sql", f"{queue}\n{_GRANT_QUEUE}")]


def migrate(owner_url: str, say: Callable[[str], None] = lambda _: None) -> list[str]:
    """Apply what is missing and return its names. Raises MigrationError when an applied file was changed."""
    applied = []
    with psycopg.connect(owner_url, autocommit=True) as conn:
        conn.execute("select pg_advisory_lock(%s)", (LOCK,))
        conn.execute(
            "create table if not exists migrations (name text primary key, checksum text not null, "
            "applied_at timestamptz not null default now())"
        )
        known: dict[str, str] = dict(conn.execute("select name, checksum from migrations").fetchall())
        for name, sql in _files():
            checksum = hashlib.sha256(sql.encode()).hexdigest()
            if name in known:
                if known[name] != checksum:
                    raise MigrationError(
                        f"{name} was changed after it had been applied; add a new migration instead, or start the demo anew with --fresh"
                    )
                continue
            say(name)
            with conn.transaction():
                conn.execute(sql.encode())
                conn.execute("insert into migrations (name, checksum) values (%s, %s)", (name, checksum))
            applied.append(name)
    return applied


def pending(owner_url: str) -> list[str]:
    """Names of the files that are not applied yet."""
    with psycopg.connect(owner_url) as conn:
        if conn.execute("select to_regclass('migrations')").fetchone() == (None,):
            return [name for name, _ in _files()]
        known = {row[0] for row in conn.execute("select name from migrations")}
    return [name for name, _ in _files() if name not in known]
