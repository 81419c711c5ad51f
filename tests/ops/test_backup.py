"""Everything in one file and back: the drill that an operator makes, as the roles of a careful installation."""

from __future__ import annotations

from uuid import uuid4

import psycopg
import pytest
from fastapi.testclient import TestClient

from dimbo.ops.backup import backup, restore
from dimbo.ops.cluster import OWNER
from dimbo.ops.settings import Settings
from dimbo.ops.supervise import CannotStart
from dimbo.store.migrate import pending
from dimbo.web.app import build_app
from tests.web.conftest import PASSWORD, make_practice

EVERY = "select relname from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace"
ENDED = {"sign_ins", "failed_sign_ins", "account_links", "known_devices"}


def counts(url):
    with psycopg.connect(url) as conn:
        return {t: conn.execute(f'select count(*) from "{t}"'.encode()).fetchone()[0] for (t,) in conn.execute(EVERY).fetchall()}


@pytest.fixture
def empty(cluster):
    """An empty database beside; its address as the owner."""
    name = f"r{uuid4().hex}"
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(f"create database {name}".encode())
    yield cluster.url(OWNER, name)
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(f"drop database {name} with (force)".encode())


@pytest.fixture
def saved(cluster, database_name, db, owner, tmp_path):
    """A practice with people who are signed in, and its backup."""
    practice = make_practice(db, owner, "harbour")
    with TestClient(build_app(Settings(database_url=cluster.url(database=database_name))), headers={"x-dimbo": "1"}) as page:
        page.post("/api/sign-in", json={"email": practice.coach_email, "password": PASSWORD})
        page.post("/api/people/invitations", json={"name": "Ines", "email": "ines@harbour.example", "standing": "coach"})
        kept = dict(page.cookies)
    file = tmp_path / "dimbo.backup"
    assert backup(cluster.url(OWNER, database_name), file) > 10_000
    return practice, file, kept


def test_everything_comes_back_and_nobody_is_signed_in(cluster, database_name, empty, saved):
    practice, file, cookies = saved
    assert file.stat().st_mode & 0o077 == 0, "nobody else reads it"
    restore(empty, file, erased=None)
    before, after = counts(cluster.url(OWNER, database_name)), counts(empty)
    assert all(before[t] for t in ("facts", "clients", "sign_ins", "account_links"))
    assert {t: n for t, n in after.items() if t not in ENDED} == {t: n for t, n in before.items() if t not in ENDED}
    assert {after[t] for t in ENDED} == {0} and pending(empty) == []
    app = build_app(Settings(database_url=empty.replace("dimbo_owner", "dimbo_app")))
    with TestClient(app, headers={"x-dimbo": "1"}, cookies=cookies) as page:
        assert page.get("/api/me").status_code == 401, "a sign-in of then opens nothing"
        page.post("/api/sign-in", json={"email": practice.coach_email, "password": PASSWORD})
        assert [c["name"] for c in page.get("/api/clients").json()] == ["Client of harbour"]


def test_row_level_security_is_as_strict_after_a_restore(empty, saved):
    _, file, _ = saved
    restore(empty, file, erased=None)
    with psycopg.connect(empty) as conn:
        loose = conn.execute("select relname from pg_class where relrowsecurity and not relforcerowsecurity").fetchall()
        bound = conn.execute("select count(*) from pg_class where relforcerowsecurity").fetchone()[0]
    assert loose == [] and bound > 30
    with psycopg.connect(empty.replace("dimbo_owner", "dimbo_app")) as conn:
        assert conn.execute("select count(*) from clients").fetchone() == (0,)


def test_what_is_in_the_way_is_said_and_nothing_is_half_done(cluster, database_name, plain_owner, empty, saved, tmp_path):
    _, file, _ = saved
    with pytest.raises(CannotStart, match="is there already"):
        backup(cluster.url(OWNER, database_name), file)
    with pytest.raises(CannotStart, match="is not empty"):
        restore(cluster.url(OWNER, database_name), file, erased=None)
    with pytest.raises(CannotStart, match="bypassrls"):
        backup(plain_owner[1], tmp_path / "bound")
    broken = tmp_path / "broken"
    broken.write_bytes(file.read_bytes()[:-4000])
    with pytest.raises(CannotStart, match="as empty as before"):
        restore(empty, broken, erased=None)
    with psycopg.connect(empty) as conn:
        assert conn.execute(EVERY).fetchall() == []
    restore(empty, file, erased=None)
    assert not list(tmp_path.glob("*.part")) and not (tmp_path / "bound").exists()
