import psycopg
import pytest

from dimbo.ops.cluster import OWNER
from dimbo.store.migrate import MigrationError, migrate, pending


def test_a_second_run_changes_nothing(cluster, database_name):
    url = cluster.url(OWNER, database_name)
    assert migrate(url) == []
    assert pending(url) == []


def test_every_table_of_a_practice_is_guarded(owner):
    rows = owner.execute(
        "select c.relname from pg_class c where relkind = 'r' and relnamespace = 'public'::regnamespace "
        "and not relrowsecurity and relname not like 'procrastinate%'"
    ).fetchall()
    assert {r[0] for r in rows} == {"migrations", "sign_ins", "failed_sign_ins", "known_devices", "installation"}


def test_a_changed_file_is_refused(cluster, database_name, owner):
    owner.execute("update migrations set checksum = 'x' where name = '0001_foundations.sql'")
    with pytest.raises(MigrationError, match=r"0001_foundations.sql was changed"):
        migrate(cluster.url(OWNER, database_name))


def test_migrations_start_from_nothing_and_can_be_listed(cluster):
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"create database empty")
    try:
        url = cluster.url(OWNER, "empty")
        wanted = pending(url)
        assert wanted[0] == "0001_foundations.sql"
        assert migrate(url) == wanted
        assert pending(url) == []
    finally:
        with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
            conn.execute(b"drop database empty with (force)")


def test_practice_logs_are_append_only_for_the_application(db, owner):
    with pytest.raises(psycopg.errors.InsufficientPrivilege), db.anyone() as conn:
        conn.execute("delete from practice_logs")
    with pytest.raises(psycopg.errors.InsufficientPrivilege), db.anyone() as conn:
        conn.execute("update practice_logs set day = current_date")
    with pytest.raises(psycopg.errors.InsufficientPrivilege), db.anyone() as conn:
        conn.execute("update program_versions set version = 1")
