"""Row-level security over a whole demo: no practice and no client sees a row of another, whatever the table."""

from uuid import uuid4

import psycopg
import pytest

from dimbo.demo import people, scenario
from dimbo.ops.cluster import OWNER
from dimbo.store.database import Database

SHOWN = ("Tobias", "Sunniva", "Casimir", "Tindra")
PUBLIC = {"installation", "migrations", "sign_ins", "failed_sign_ins", "known_devices"}
"""Tables without a practice: they are asked before one is known."""


@pytest.fixture(scope="module")
def demo(cluster):
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
        admin.execute(b"create database demo_isolation template dimbo")
    url, owner_url = cluster.url(database="demo_isolation"), cluster.url(OWNER, "demo_isolation")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(scenario, "STORIES", [s for s in people.STORIES if s.name.split()[0] in SHOWN])
        scenario.ensure_demo(url, owner_url, lambda _: None)
    db = Database(url, most=2)
    db.open()
    owner = psycopg.connect(owner_url, autocommit=True)
    yield db, owner
    owner.close()
    db.close()
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
        admin.execute(b"drop database demo_isolation with (force)")


@pytest.fixture(scope="module")
def tables(demo):
    """Every table of the application with its columns."""
    _, owner = demo
    rows = owner.execute(
        "select table_name, array_agg(column_name::text) from information_schema.columns where table_schema = 'public' "
        "and table_name in (select tablename from pg_tables) and table_name not like 'procrastinate%' group by table_name"
    ).fetchall()
    return {name: set(columns) for name, columns in rows if name not in PUBLIC}


def count(conn, table):
    return conn.execute(f"select count(*) from {table}".encode()).fetchone()[0]


def test_the_demo_fills_the_tables_that_are_looked_at(demo, tables):
    _, owner = demo
    empty = {t for t in tables if count(owner, t) == 0}
    unused = {"invitations", "analyses", "reasoning_texts", "upload_pieces", "settled_alarms", "exercise_media"}
    used_later = {"account_links", "account_sees", "calendar_events", "recovery_codes", "devices", "due_links"}
    used_later |= {"erasures", "keeping_notices", "trail", "coins", "letters", "own_notes"}
    assert empty <= unused | used_later


def test_another_practice_sees_nothing_at_all(demo, tables):
    db, _ = demo
    with db.practice(uuid4()) as conn:
        assert {t: n for t in tables if (n := count(conn, t))} == {}
    with db.anyone() as conn:
        assert {t: n for t in tables if (n := count(conn, t))} == {}


def test_a_client_sees_their_own_rows_and_no_others(demo, tables):
    db, owner = demo
    practice_id = owner.execute("select id from practices").fetchone()[0]
    for (client_id,) in owner.execute("select id from clients").fetchall():
        with db.practice(practice_id, client_id) as conn:
            for table, columns in tables.items():
                if "client_id" in columns:
                    own = owner.execute(f"select count(*) from {table} where client_id = %s".encode(), (client_id,)).fetchone()[0]
                    assert count(conn, table) == own, table
            assert conn.execute("select id from clients").fetchall() == [(client_id,)]


def test_nobody_writes_into_another_practice(demo):
    db, owner = demo
    client_id = owner.execute("select id from clients limit 1").fetchone()[0]
    stranger = owner.execute("insert into practices (name) values ('Elsewhere') returning id").fetchone()[0]
    with pytest.raises(psycopg.Error), db.practice(stranger) as conn:
        conn.execute(
            "insert into facts (id, practice_id, client_id, kind, key, value, at, author, source) "
            "values (gen_random_uuid(), %s, %s, 'note', '', '{}', now(), 'x', 'coach')",
            (stranger, client_id),
        )
    with db.practice(stranger) as conn:
        assert conn.execute("update clients set name = 'x'").rowcount == 0
        assert conn.execute("delete from reasoning_texts").rowcount == 0
