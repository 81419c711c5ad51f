"""The demo tells its stories, ends today, and is the same whenever it is made on the same day."""

from datetime import UTC, datetime, timedelta

import psycopg
import pytest

from dimbo.core.calendar.schedule import practice_day
from dimbo.demo import people, scenario
from dimbo.ops.cluster import OWNER
from dimbo.vision.terms import NEUTRAL, identities

TOLD = [s for s in people.STORIES if s.name.split()[0] in ("Tobias", "Casimir", "Eluned", "Oriane", "Tindra")]


@pytest.fixture
def make(cluster, monkeypatch):
    """Makes the demo (four of its stories) in a fresh database and opens it as the owner."""
    monkeypatch.setattr(scenario, "STORIES", list(TOLD))
    opened = []

    def build(name):
        with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
            conn.execute(f"create database {name} template dimbo".encode())
        url, owner = cluster.url(database=name), cluster.url(OWNER, name)
        scenario.ensure_demo(url, owner, lambda _: None)
        opened.append((name, psycopg.connect(owner, autocommit=True)))
        return opened[-1][1], (url, owner)

    yield build
    for name, conn in opened:
        conn.close()
        with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
            admin.execute(f"drop database {name} with (force)".encode())


PRACTISED = """select c.name, l.day, l.planned_s, l.done_s, l.effort, l.note from practice_logs l join clients c on c.id = l.client_id
    order by c.name, l.day"""


def test_the_same_day_makes_the_same_demo_and_a_second_start_adds_nothing(make):
    (one, urls), (two, _) = make("demo_one"), make("demo_two")
    first = one.execute(PRACTISED).fetchall()
    assert len(first) >= 15
    assert first == two.execute(PRACTISED).fetchall()
    pictures = "select source_hash from photographs order by id"
    assert one.execute(pictures).fetchall() == two.execute(pictures).fetchall()
    scenario.ensure_demo(*urls, lambda _: None)
    assert one.execute(PRACTISED).fetchall() == first


def test_history_ends_today_and_shows_what_each_story_says(make):
    conn, _ = make("demo_stories")
    last = conn.execute("select max(day) from practice_logs").fetchone()[0]
    today = practice_day(datetime.now(UTC), UTC)
    assert today - timedelta(days=3) <= last <= today + timedelta(days=1)
    stopped = conn.execute("select c.name, s.exercise_id from stopped_exercises s join clients c on c.id = s.client_id").fetchall()
    assert stopped == [("Tobias Okonkwo-Lund", "corner-lift-resist")]
    logs = "from practice_logs l join clients c on c.id = l.client_id"
    over = conn.execute(f"select distinct c.name {logs} where l.done_s > 1.25 * l.planned_s")
    assert over.fetchall() == [("Eluned Farrokhzad",)]
    silent = conn.execute(f"select max(l.day) {logs} where c.name like 'Casimir%'").fetchone()
    assert silent[0] < today - timedelta(days=4)
    waiting = conn.execute("select count(*) from procrastinate_jobs where status = 'todo'").fetchone()[0]
    assert waiting == conn.execute("select count(*) from photographs").fetchone()[0] > 0


def test_every_story_can_be_played():
    assert 12 <= len(people.STORIES) <= 20
    assert len({s.name for s in people.STORIES}) == len(people.STORIES)
    for story in people.STORIES:
        assert story.portrait in identities()
        assert all(taken.state in NEUTRAL for taken in story.sittings)
