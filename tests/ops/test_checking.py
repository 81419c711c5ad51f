"""./dimbo check and ./dimbo migrate say in words what is missing."""

from __future__ import annotations

import psycopg
import pytest

from dimbo.ops import checking
from dimbo.ops.checking import Mark
from dimbo.ops.cluster import OWNER, free_port
from dimbo.ops.settings import Settings
from dimbo.store.migrate import MigrationError, migrate


def found(settings: Settings) -> dict[str, tuple[Mark, str]]:
    return {f.about: (f.mark, f.words) for f in checking.check(settings)}


@pytest.fixture
def good(cluster, database_name, tmp_path):
    """An installation as it should be, but for its worker and its mail."""
    return {
        "database_url": cluster.url(database=database_name),
        "owner_url": cluster.url(OWNER, database_name),
        "base_url": "https://practice.example",
        "trusted_proxies": "127.0.0.1",
        "erased_file": tmp_path / "erased.jsonl",
    }


def test_what_is_well_is_said_and_what_deserves_care(good, tmp_path):
    said = found(Settings(**good))
    assert {about for about, (mark, _) in said.items() if mark is Mark.CARE} >= {"Worker", "DIMBO_SMTP_URL"}
    assert not [about for about, (mark, _) in said.items() if mark is Mark.BAD]
    heard = []
    assert checking.report(Settings(**good), heard.append) == 0 and "Nothing stands in the way" in heard[-1]


@pytest.mark.parametrize(
    ("change", "about", "mark", "words"),
    [
        ({"database_url": ""}, "DIMBO_DATABASE_URL", Mark.BAD, "is not set"),
        ({"database_url": "postgresql://dimbo_app@127.0.0.1:1/dimbo"}, "DIMBO_DATABASE_URL", Mark.BAD, "No PostgreSQL server answers"),
        ({"database_url": "not an address"}, "DIMBO_DATABASE_URL", Mark.BAD, "cannot be read"),
        ({"base_url": ""}, "DIMBO_BASE_URL", Mark.CARE, "is not set"),
        ({"base_url": "http://practice.example"}, "DIMBO_BASE_URL", Mark.CARE, "in the clear"),
        ({"trusted_proxies": ""}, "DIMBO_TRUSTED_PROXIES", Mark.CARE, "is not set"),
        ({"erased_file": None}, "DIMBO_ERASED_FILE", Mark.CARE, "comes back with an older backup"),
        ({"erased_file": "/nowhere/at/all"}, "DIMBO_ERASED_FILE", Mark.BAD, "cannot be written"),
        ({"smtp_url": "mail.example"}, "DIMBO_SMTP_URL", Mark.BAD, "Write it like"),
        ({"smtp_url": "smtp://127.0.0.1:1"}, "DIMBO_SMTP_URL", Mark.BAD, "cannot be used"),
        ({"ui_folder": "/nowhere"}, "Interface", Mark.CARE, "is not built"),
    ],
)
def test_each_thing_that_is_missing_has_its_words(good, change, about, mark, words):
    said = found(Settings(**(good | change)))
    assert said[about][0] is mark and words in said[about][1]


def test_a_role_that_sees_everything_and_a_worker_that_lives(good, owner):
    said = found(Settings(**(good | {"database_url": good["owner_url"]})))
    assert said["DIMBO_DATABASE_URL"][0] is Mark.BAD and "row-level security" in said["DIMBO_DATABASE_URL"][1]
    owner.execute("insert into procrastinate_workers (last_heartbeat) values (now())")
    assert found(Settings(**good))["Worker"][0] is Mark.GOOD


def test_migrations_that_wait_are_named(good, owner):
    owner.execute("delete from migrations where name = '0016_records.sql'")
    said = found(Settings(**good))["Migrations"]
    assert said[0] is Mark.BAD and "0016_records.sql" in said[1]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda url: url.replace("dimbo_owner", "nobody_here"), "not there"),
        (lambda url: url.replace(url.split(":")[2].split("@")[0], "wrong"), "password is wrong"),
        (lambda url: url.rpartition("/")[0] + "/nowhere", "database is not there"),
        (lambda url: f"postgresql://dimbo_owner@127.0.0.1:{free_port()}/dimbo", "Is it started"),
    ],
)
def test_migrate_says_why_it_cannot_begin(cluster, change, words):
    with pytest.raises(MigrationError, match=words):
        migrate(change(cluster.url(OWNER)))


def test_migrate_says_which_right_is_missing(cluster, plain_owner):
    name, url = plain_owner
    with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as conn:
        conn.execute(b"alter database owned owner to dimbo_owner")
        with pytest.raises(MigrationError, match="alter database owned owner to plain_owner"):
            migrate(url)
        conn.execute(b"create table public.others (x int)")
        conn.execute(b"grant create on schema public to plain_owner")
        with pytest.raises(MigrationError, match="belong to dimbo_owner"):
            migrate(url)
        conn.execute(b"alter database owned owner to plain_owner")
