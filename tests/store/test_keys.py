"""A row belongs to the practice and the client of what it hangs on, and the owner of the tables is bound as everybody is."""

from datetime import UTC, datetime
from uuid import uuid4

import psycopg
import pytest

from dimbo.ops import cli
from dimbo.ops.cluster import APP, OWNER
from dimbo.ops.settings import Settings
from dimbo.ops.supervise import CannotStart
from dimbo.store.database import Database, unbound_role
from dimbo.store.migrate import migrate
from dimbo.store.people import accounts
from tests.web.conftest import make_practice

COLUMNS = """select c.relname, array_agg(a.attname::text) from pg_class c join pg_attribute a on a.attrelid = c.oid
    where c.relkind = 'r' and c.relnamespace = 'public'::regnamespace and a.attnum > 0 and not a.attisdropped
    and c.relname not like 'procrastinate%' group by c.relname"""
KEYS = """select conrelid::regclass::text, confrelid::regclass::text,
    (select array_agg(attname::text) from pg_attribute where attrelid = conrelid and attnum = any (conkey))
    from pg_constraint where contype = 'f' and conrelid::regclass::text not like 'procrastinate%'"""


def test_every_key_names_the_practice_and_the_client_wherever_both_ends_have_them(owner):
    columns = dict(owner.execute(COLUMNS).fetchall())
    keys = owner.execute(KEYS).fetchall()
    loose = [
        (child, parent, own)
        for child, parent, own in keys
        for shared in ("practice_id", "client_id")
        if shared in columns[child] and shared in columns[parent] and shared not in own and parent != "accounts"
    ]
    assert loose == []
    assert all("practice_id" in own for child, parent, own in keys if parent == "accounts" and child not in ("sign_ins", "known_devices"))


def test_every_row_about_a_client_hangs_on_that_client(owner):
    columns = dict(owner.execute(COLUMNS).fetchall())
    tied = {child for child, _, own in owner.execute(KEYS) if {"practice_id", "client_id"} <= set(own)}
    assert {t for t, names in columns.items() if "client_id" in names} - tied == set()


def test_a_row_with_another_clients_id_is_refused(db, owner):
    here, there = make_practice(db, owner, "Here"), make_practice(db, owner, "There")
    sitting = uuid4()
    add_sitting = "insert into sittings (id, practice_id, client_id, taken_on) values (%s, %s, %s, current_date)"
    owner.execute(add_sitting, (sitting, here.id, here.client_id))
    other = owner.execute(
        "insert into clients (practice_id, name, time_zone) values (%s, 'Another', 'UTC') returning id", (here.id,)
    ).fetchone()[0]
    for practice_id, client_id in ((here.id, other), (there.id, there.client_id), (here.id, there.client_id)):
        with pytest.raises(psycopg.errors.ForeignKeyViolation):
            owner.execute(
                "insert into photographs (id, practice_id, client_id, sitting_id, source_name, source_hash, image, thumbnail, width, "
                "height) values (%s, %s, %s, %s, 'a.jpg', '\\x01', '\\x00', '\\x00', 1, 1)",
                (uuid4(), practice_id, client_id, sitting),
            )


def test_the_owner_is_bound_by_row_level_security_too(cluster, plain_owner):
    name, url = plain_owner
    migrate(url)
    with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as conn:
        practice_id = conn.execute("insert into practices (name) values ('Bound') returning id").fetchone()[0]
        unbound = conn.execute("select relname from pg_class where relkind = 'r' and relrowsecurity and not relforcerowsecurity").fetchall()
    assert unbound == []
    db = Database(cluster.url(APP, name))
    db.open()
    try:
        with db.practice(practice_id) as conn:
            accounts.create(conn, practice_id, "coach", None, "Ada", "ada@bound.example", "hash")
        with psycopg.connect(url, autocommit=True) as conn:
            assert conn.execute("select count(*) from accounts").fetchone() == (0,), "the owner sees no practice's rows"
            assert conn.execute("select name from account_by_email('ada@bound.example')").fetchone() == ("Ada",)
            assert conn.execute("select count(*) from accounts").fetchone() == (0,), "what a function was allowed ends with it"
        with db.anyone() as conn:
            assert conn.execute("select name from account_by_email('ada@bound.example')").fetchone() == ("Ada",), "sign-in works"
            conn.execute("set local search_path = public, before_sign_in")
            assert conn.execute("select count(*) from accounts").fetchone() == (0,), "the application cannot open it for itself"
    finally:
        db.close()


def test_a_later_migration_of_data_reaches_every_row(cluster, plain_owner, monkeypatch):
    """Bound tables would make an update of a migration touch nothing, in silence."""
    from dimbo.store import migrate as migrations

    name, url = plain_owner
    migrate(url)
    with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as conn:
        conn.execute("insert into practices (name) values ('Bound')")
    files = migrations._own_files()
    later = migrations.Migration("9999_later.sql", "update practices set name = 'Reached';", ours=True)
    monkeypatch.setattr(migrations, "_own_files", lambda: [*files, later])
    assert migrate(url) == ["9999_later.sql"]
    with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as conn:
        assert conn.execute("select name from practices").fetchall() == [("Reached",)]
        assert conn.execute("select relforcerowsecurity from pg_class where relname = 'practices'").fetchone() == (True,)
        assert datetime.now(UTC) > conn.execute("select applied_at from migrations where name = '9999_later.sql'").fetchone()[0]


def test_the_application_does_not_start_as_a_role_that_nothing_binds(cluster, database_name):
    url = cluster.url(OWNER, database_name)
    assert unbound_role(url) == OWNER
    assert unbound_role(cluster.url(APP, database_name)) is None
    with pytest.raises(CannotStart, match="row-level security does not bind"):
        cli._configured(Settings(database_url=url))
