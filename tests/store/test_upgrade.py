"""The first release with the data of its demo is brought to today: nothing is lost, and every page and table can be had."""

import lzma
from pathlib import Path

import psycopg
import pytest
from fastapi.testclient import TestClient

from dimbo.demo.people import COACHES, PASSWORD
from dimbo.ops.cluster import OWNER
from dimbo.ops.settings import Settings
from dimbo.store import migrate as migrations
from dimbo.web.app import build_app

DUMP = Path(__file__).with_name("first_release.sql.xz")
"""The demo of the first release, as pg_dump wrote it, with the pictures themselves left out."""


@pytest.fixture
def first_release(cluster):
    """The name of a database as the first release left it."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"create database first_release")
    with psycopg.connect(cluster.url(OWNER, "first_release"), autocommit=True) as conn:
        conn.execute(lzma.decompress(DUMP.read_bytes()))
    yield "first_release"
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"drop database first_release with (force)")


def counts(url):
    """Rows of every table."""
    with psycopg.connect(url) as conn:
        tables = conn.execute("select relname from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace").fetchall()
        found = {t: conn.execute(f'select count(*) from "{t}"'.encode()).fetchone()[0] for (t,) in tables}
    return {t: n for t, n in found.items() if n and t != "migrations"}


def test_the_first_release_and_its_data_come_to_today(cluster, first_release):
    url = cluster.url(OWNER, first_release)
    before = counts(url)
    assert before["clients"] > 15 and before["practice_log_sides"] > 2000 and before["analyses"] > 70
    done = migrations.migrate(url)
    assert done[0] == "0007_safety.sql" and not [n for n in done if "queue" in n], "the queue's schema was there"
    after = counts(url)
    assert {t: after[t] for t in before} == before
    assert migrations.pending(url) == []
    with TestClient(build_app(Settings(database_url=cluster.url(database=first_release)))) as page:
        page.headers["x-dimbo"] = "1"
        signed_in = page.post("/api/sign-in", json={"email": COACHES[0][1], "password": PASSWORD})
        assert signed_in.status_code < 300, signed_in.text
        clients = page.get("/api/clients").json()
        asked = [
            "/api/desk",
            "/api/templates",
            "/api/catalogue",
            "/api/export/logs.csv",
            "/api/export/adherence.csv",
            "/api/export/reviews.csv",
        ]
        for c in clients:
            course = page.get(f"/api/clients/{c['id']}").json()
            asked += [f"/api/clients/{c['id']}/{what}" for what in ("intake", "sittings", "timeline", "messages")]
            asked += [f"/api/programs/{p['id']}" for p in course["programs"]]
            asked += [f"/api/assignments/{a['id']}/review" for a in course["assignments"]]
        answers = {path: page.get(path).status_code for path in asked}
    assert len(clients) == before["clients"] and len(answers) > 100
    closed = {p: s for p, s in answers.items() if s != 200}
    with psycopg.connect(url) as conn:
        theirs = conn.execute("select c.id from clients c join accounts a on a.id = c.coach_id where a.email <> %s", (COACHES[0][1],))
        not_ours = {f"/api/clients/{c}/sittings": 404 for (c,) in theirs}
    assert not_ours and closed == not_ours, "a colleague's photographs, and nothing else"


def test_a_queue_that_was_installed_by_another_version_of_its_library_stops_nothing(cluster, first_release, monkeypatch):
    url = cluster.url(OWNER, first_release)
    with psycopg.connect(url, autocommit=True) as conn:
        conn.execute("update migrations set checksum = 'that of an older library' where name = 'queue.sql'")
    newer = migrations.Migration("queue/99.00.00_01_newer.sql", "create table procrastinate_newer (id int);", ours=False)
    library = migrations._queue_files()
    monkeypatch.setattr(migrations, "_queue_files", lambda: [*library, newer])
    assert migrations.pending(url)[-1] == newer.name
    assert migrations.migrate(url)[-1] == newer.name
    assert migrations.migrate(url) == [], "each of the library's steps is taken once"
    monkeypatch.undo()
    assert migrations.pending(url) == []


def test_a_new_installation_takes_the_queue_whole(cluster, database_name):
    with psycopg.connect(cluster.url(OWNER, database_name)) as conn:
        known = {r[0] for r in conn.execute("select name from migrations")}
    assert {m.name for m in migrations._queue_files()} < known
    assert f"queue/{migrations.QUEUE_BASE}" in known, "the library's own file: the base must be one that it ships"
