"""What the first release kept is read by the new rules: nothing is released in silence, and what no longer holds is due."""

from datetime import UTC, datetime
from uuid import uuid4

import psycopg
import pytest
from psycopg.types.json import Jsonb

from dimbo.core.safety.cautions import State
from dimbo.ops.cluster import APP, OWNER
from dimbo.store import migrate as migrations
from dimbo.store.database import Database
from dimbo.store.intake import facts
from dimbo.store.people import clients
from dimbo.work.intake.entering import cautions_of

FIRST_RELEASE = "0006_review.sql"
NOW = datetime(2026, 11, 29, 12, tzinfo=UTC)


@pytest.fixture
def older(cluster, monkeypatch):
    """A database as the first release left it."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"create database older")
    every = migrations._own_files()
    monkeypatch.setattr(migrations, "_own_files", lambda: [m for m in every if m.name <= FIRST_RELEASE])
    migrations.migrate(cluster.url(OWNER, "older"))
    monkeypatch.setattr(migrations, "_own_files", lambda: every)
    yield cluster.url(OWNER, "older")
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"drop database older with (force)")


def yes(day, caution, **more):
    return day, "caution", caution, {"answer": "yes", **more}


def word(day, caution, name, role):
    return day, "clearance", caution, {"by_name": name, "role": role, "given_on": day, "says": "It may begin."}


SAID = [
    yes("2025-09-01", "glaucoma"),
    word("2025-09-02", "glaucoma", "Dr. Ina Quell", "eye doctor"),
    yes("2026-08-01", "dental-surgery", event_on="2026-07-20"),
    yes("2026-09-01", "sudden-face"),
    word("2026-09-01", "dental-surgery", "Dr. Pell", "dentist"),
    word("2026-09-20", "sudden-face", "Mo Vance", "midwife"),
    yes("2026-10-01", "blood-thinners"),
    word("2026-10-02", "blood-thinners", "Dr. Orr", "physician"),
    yes("2026-11-01", "dental-surgery", event_on="2026-10-30"),
]
ADD_CLIENT = "insert into clients (practice_id, name, birth_year, time_zone) values (%s, 'Old Friend', 1970, 'UTC') returning id"
ADD_FACT = (
    "insert into facts (id, practice_id, client_id, kind, key, value, at, author, source) values (%s, %s, %s, %s, %s, %s, %s, %s, %s)"
)


def test_facts_and_clearances_of_the_first_release_are_read_by_the_new_rules(cluster, older):
    with psycopg.connect(older, autocommit=True) as conn:
        practice = conn.execute("insert into practices (name) values ('Older') returning id").fetchone()[0]
        client = conn.execute(ADD_CLIENT, (practice,)).fetchone()[0]
        for day, kind, key, value in SAID:
            conn.execute(ADD_FACT, (uuid4(), practice, client, kind, key, Jsonb(value), f"{day} 12:00+00", "A Coach", "coach"))
        kept = conn.execute("select count(*) from facts").fetchone()[0]
    assert migrations.migrate(older) == [m.name for m in migrations._own_files() if m.name > FIRST_RELEASE]
    db = Database(cluster.url(APP, "older"))
    db.open()
    try:
        with db.practice(practice) as conn:
            assert len(facts.history(conn, client)) == kept == len(SAID)
            assert clients.one(conn, client).birth_year == 1970
            found = {h.rule.id: h for h in cautions_of(conn, clients.one(conn, client), NOW).held}
    finally:
        db.close()
    assert found["blood-thinners"].state is State.CLEARED
    assert "ended on" in found["glaucoma"].reason and found["glaucoma"].locked, "a word without an end ends after a year"
    assert "not for a midwife" in found["sudden-face"].reason and found["sudden-face"].locked
    assert "told again" in found["dental-surgery"].reason and found["dental-surgery"].locked, "it happened again since"
    assert all(h.remedy for h in found.values() if h.locked), "the coach is told what is due"
