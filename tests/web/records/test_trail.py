"""Who looked at which photograph and when: the client sees it, nobody edits it, and nothing is looked at without it."""

from __future__ import annotations

from datetime import datetime
from uuid import uuid4

import psycopg
import pytest

from dimbo.store.people import accounts
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.sittings import analysing

from ..conftest import HASH


@pytest.fixture
def shot(coach, practice, db):
    sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": "2026-04-20"}).json()["id"]
    photo = uuid4()
    data = shoot(Scene(identity="aster", state="even", seed=3)).jpeg(datetime.fromisoformat("2026-04-20T08:40:00+00:00"))
    form = {"photograph_id": str(photo), "view": "front-neutral"}
    coach.post(f"/api/sittings/{sitting}/photographs", data=form, files={"file": ("a.jpg", data)})
    analysing.analyse(db, practice.id, photo)
    return str(photo)


def steps(client):
    return [(s["by_name"], s["what"], s["subject"]) for s in client.get("/api/my-record").json()["steps"]]


def test_a_look_stands_there_once_an_hour_and_the_clients_own_do_not(coach, client, shot):
    for path in (f"/api/photographs/{shot}.jpg", f"/api/photographs/{shot}/small.jpg", f"/api/photographs/{shot}.jpg"):
        assert coach.get(path).status_code == client.get(path).status_code == 200
    assert steps(client) == [("Coach of harbour", "looked", "Front, neutral, 20 April 2026")]


def test_what_is_taken_out_stands_there_as_well(coach, client, practice, shot):
    c = practice.client_id
    for path in (f"/api/clients/{c}/points.json", f"/api/clients/{c}/readings.csv", f"/api/clients/{c}/record.zip"):
        assert coach.get(path).status_code == 200
    assert coach.get("/api/export/logs.csv").status_code == 200, "of all clients"
    assert [s[1:] for s in steps(client)] == [
        ("took out", "what was practised, as a table"),
        ("took out", "everything"),
        ("took out", "what was measured, as a table"),
        ("took out", "the points of the photographs"),
    ]


def test_a_photograph_that_a_coach_removes_stands_there(coach, client, shot):
    assert coach.delete(f"/api/photographs/{shot}").status_code == 204
    assert steps(client) == [("Coach of harbour", "deleted photographs", "Front, neutral, 20 April 2026")]


def test_whoever_may_not_look_leaves_no_trail_and_sees_none(colleague, client, practice, shot):
    assert colleague.get(f"/api/photographs/{shot}.jpg").status_code == 404
    assert steps(client) == []
    assert colleague.get(f"/api/clients/{practice.client_id}/record").json()["steps"] == []


def test_what_cannot_be_noted_is_not_shown(cluster, database_name, coach, client, practice, shot, app):
    """The trail is whole or the picture is not there: with a database that only reads, nobody but the client looks."""
    with psycopg.connect(cluster.url("dimbo_owner", "postgres"), autocommit=True) as conn:
        conn.execute(f"alter database {database_name} set default_transaction_read_only = on".encode())
    app.state.context.db.pool.close()
    app.state.context.db.pool.__init__(cluster.url(database=database_name), min_size=1, max_size=4, open=True)
    answer = coach.get(f"/api/photographs/{shot}.jpg")
    assert answer.status_code == 503 and "only reads" in answer.json()["message"]
    assert client.get(f"/api/photographs/{shot}.jpg").status_code == 200


def test_nobody_edits_it(db, practice, coach, shot, owner):
    coach.get(f"/api/photographs/{shot}.jpg")
    with db.practice(practice.id) as conn:
        assert accounts.coaches(conn)
    for statement in ("update trail set by_name = 'Somebody'", "delete from trail", "truncate trail"):
        with pytest.raises(psycopg.Error), db.practice(practice.id) as conn:
            conn.execute(statement.encode())
        with pytest.raises(psycopg.errors.RaiseException, match="only ever added to"):
            owner.execute(statement.encode())
    assert owner.execute("select count(*) from trail").fetchone() == (1,)


def test_no_browser_keeps_a_photograph(coach, client, shot):
    for page in (coach, client):
        for path in (f"/api/photographs/{shot}.jpg", f"/api/photographs/{shot}/small.jpg"):
            assert page.get(path).headers["cache-control"] == "no-store"


def test_an_owner_of_the_practice_sees_the_trail_too(browser, practice, db, coach, shot):
    coach.get(f"/api/photographs/{shot}.jpg")
    with db.practice(practice.id) as conn:
        accounts.create(conn, practice.id, "coach", None, "Owner", "owner@harbour.example", HASH, standing="owner")
    found = browser("owner@harbour.example").get(f"/api/clients/{practice.client_id}/record").json()
    assert [s["what"] for s in found["steps"]] == ["looked"] and not found["own"] and found["may_erase"]
