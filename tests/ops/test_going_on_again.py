"""What ends by itself goes on by itself: processes, the database, jobs that were being done, and words while it lasts."""

from __future__ import annotations

import asyncio
import os
import signal
import socket
import subprocess
import sys
import time
from uuid import uuid4

import psycopg
import pytest
from fastapi.testclient import TestClient

from dimbo import worker
from dimbo.ops import supervise
from dimbo.ops.cluster import OWNER, Cluster, free_port
from dimbo.ops.settings import Settings
from dimbo.ops.supervise import CannotStart, Supervisor
from dimbo.store.migrate import migrate
from dimbo.web.app import build_app
from dimbo.work.practice.reminding import Carriers
from dimbo.work.sittings import analysing
from tests.postman import Postman


class Standing:
    """A cluster that runs, or is made to have ended."""

    def __init__(self):
        self.runs, self.started = True, 0

    def is_running(self):
        return self.runs

    def start(self):
        self.runs, self.started = True, self.started + 1

    log = "server.log"


@pytest.fixture
def supervisor(tmp_path, monkeypatch):
    monkeypatch.setattr(supervise, "HOME", tmp_path)
    monkeypatch.setattr(supervise.time, "sleep", lambda _: None)
    found = Supervisor.__new__(Supervisor)
    found.children, found._commands, found._ended, found.cluster = {}, {}, {}, Standing()
    monkeypatch.setattr(Supervisor, "_environment", {})
    monkeypatch.setattr(Supervisor, "log_of", staticmethod(lambda name: tmp_path / f"{name}.log"))
    yield found
    for child in found.children.values():
        child.kill()
        child.wait()


def test_a_process_that_is_killed_is_started_again(supervisor):
    supervisor._child("web", ["sh", "-c", "echo here; sleep 60"])
    first = supervisor.children["web"]
    first.send_signal(signal.SIGKILL)
    first.wait()
    supervisor.look_after()
    second = supervisor.children["web"]
    assert second.pid != first.pid and second.poll() is None
    supervisor.look_after()
    assert supervisor.children["web"] is second


def test_a_database_that_ended_comes_first(supervisor):
    supervisor.cluster.runs = False
    supervisor.look_after()
    assert supervisor.cluster.started == 1


def test_what_cannot_stay_up_is_told(supervisor):
    supervisor._child("web", ["sh", "-c", "exit 3"])
    with pytest.raises(CannotStart, match="does not stay up"):
        for _ in range(supervise.MOST_ENDED + 2):
            supervisor.children["web"].wait()
            supervisor.look_after()


@pytest.fixture
def own(cluster):
    """A migrated cluster of one test's own, that may be stopped."""
    found = Cluster(cluster.home.parent / f"own {uuid4().hex[:6]}", durable=False)
    found.start()
    migrate(found.url(OWNER))
    yield found
    found.stop()
    subprocess.run(["rm", "-rf", str(found.home)], check=True)


def test_the_web_says_so_while_the_database_is_gone_and_goes_on_by_itself(own):
    with TestClient(build_app(Settings(database_url=own.url())), headers={"x-dimbo": "1"}) as page:
        assert page.get("/api/health").json()["database"] == "up"
        own.stop()
        gone = page.post("/api/sign-in", json={"email": "a@b.example", "password": "x"})
        assert (gone.status_code, gone.json()["code"]) == (503, "away")
        health = page.get("/api/health")
        assert (health.status_code, health.json()["database"]) == (503, "away")
        own.start()
        until = time.monotonic() + 20
        while page.get("/api/health").status_code != 200:
            assert time.monotonic() < until, "back within 20 s"
            time.sleep(0.2)
        assert page.post("/api/sign-in", json={"email": "a@b.example", "password": "x"}).status_code == 422


def test_the_web_starts_before_its_database(own):
    own.stop()
    with TestClient(build_app(Settings(database_url=own.url()))) as page:
        assert page.get("/api/health").status_code == 503
        own.start()
        until = time.monotonic() + 20
        while page.get("/api/health").status_code != 200:
            assert time.monotonic() < until
            time.sleep(0.2)


@pytest.mark.parametrize(("state", "says"), [("53100", "disk is full"), ("25006", "only reads")])
def test_a_full_disk_and_a_database_that_only_reads_are_said_in_words(page_of_a_coach, owner, practice, state, says):
    owner.execute(
        f"create function fails() returns trigger language plpgsql as $$ begin raise exception 'no room' using errcode = '{state}'; end $$"
    )
    owner.execute("create trigger fails before insert on messages for each row execute function fails()")
    said = {"id": str(uuid4()), "text": "Well done."}
    answer = page_of_a_coach.post(f"/api/clients/{practice.client_id}/messages", json=said)
    assert (answer.status_code, answer.json()["code"]) == (503, "away") and says in answer.json()["message"]


def test_a_database_that_only_reads_still_shows_everything(page_of_a_coach, owner, practice):
    owner.execute("update sign_ins set seen_at = now() - interval '1 hour'")
    owner.execute(
        "create function stays() returns trigger language plpgsql as $$ begin raise exception 'no' using errcode = '25006'; end $$"
    )
    owner.execute("create trigger stays before update on sign_ins for each row execute function stays()")
    assert page_of_a_coach.get(f"/api/clients/{practice.client_id}").status_code == 200


@pytest.fixture
def practice(db, owner):
    from tests.web.conftest import make_practice

    return make_practice(db, owner, "harbour")


@pytest.fixture
def page_of_a_coach(cluster, database_name, practice):
    from tests.web.conftest import PASSWORD

    with TestClient(build_app(Settings(database_url=cluster.url(database=database_name))), headers={"x-dimbo": "1"}) as page:
        page.post("/api/sign-in", json={"email": practice.coach_email, "password": PASSWORD})
        yield page


def begun(owner, practice, attempts):
    """A job that a worker which is gone had begun so often, of a photograph that says that it is being measured."""
    photo = uuid4()
    owner.execute("insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 minute')")
    owner.execute(
        "insert into procrastinate_jobs (queue_name, task_name, args, status, attempts, worker_id) "
        "select 'default', %s, jsonb_build_object('practice_id', %s::text, 'photograph_id', %s::text), 'doing', %s, max(id) "
        "from procrastinate_workers",
        (worker.ANALYSE, str(practice.id), str(photo), attempts),
    )
    return photo


@pytest.mark.parametrize(("attempts", "status"), [(0, "todo"), (1, "todo"), (2, "failed")])
def test_jobs_of_a_worker_that_is_gone_are_taken_up_and_given_up_after_three_tries(
    cluster, database_name, db, owner, practice, monkeypatch, attempts, status
):
    photo, given_up = begun(owner, practice, attempts), []
    monkeypatch.setattr(analysing, "give_up", lambda db, practice_id, photograph_id: given_up.append(photograph_id))

    async def once():
        app = worker.build(Settings(database_url=cluster.url(database=database_name)), db, Carriers(messenger=Postman()))
        async with app.open_async():
            return [await worker.take_up(app, db), await worker.take_up(app, db)]

    assert asyncio.run(once()) == [1, 0]
    assert owner.execute("select status::text from procrastinate_jobs").fetchone() == (status,)
    assert given_up == ([photo] if status == "failed" else [])


def test_a_worker_that_lives_keeps_its_jobs(cluster, database_name, db, owner, practice):
    begun(owner, practice, 0)
    owner.execute("update procrastinate_workers set last_heartbeat = now()")

    async def once():
        app = worker.build(Settings(database_url=cluster.url(database=database_name)), db, Carriers(messenger=Postman()))
        async with app.open_async():
            return await worker.take_up(app, db)

    assert asyncio.run(once()) == 0


def test_the_worker_begins_anew_when_its_database_went_away(monkeypatch):
    tried = []

    async def run(settings):
        tried.append(1)
        if len(tried) < 3:
            raise psycopg.OperationalError("gone")

    monkeypatch.setattr(worker, "run", run)
    monkeypatch.setattr(worker, "REST_S", 0)
    asyncio.run(worker.serve(Settings()))
    assert len(tried) == 3


@pytest.mark.parametrize("away", ["nobody listens", "nobody answers"])
def test_a_worker_that_is_told_to_stop_while_the_database_is_away_stops(away):
    """It must not begin anew instead: whoever starts the next one would have two."""
    silent = socket.create_server(("127.0.0.1", 0))
    port = silent.getsockname()[1] if away == "nobody answers" else free_port()
    environment = {**os.environ, "DIMBO_DATABASE_URL": f"postgresql://dimbo_app:x@127.0.0.1:{port}/dimbo"}
    child = subprocess.Popen(
        [sys.executable, "-m", "dimbo.ops.cli", "worker"], env=environment, stderr=subprocess.DEVNULL, stdout=subprocess.DEVNULL
    )
    time.sleep(6)
    assert child.poll() is None, "it waits for its database"
    child.send_signal(signal.SIGTERM)
    assert child.wait(20) in (0, -signal.SIGTERM)
    silent.close()


def test_a_worker_that_is_told_to_stop_stops(cluster, database_name):
    environment = {**os.environ, "DIMBO_DATABASE_URL": cluster.url(database=database_name)}
    child = subprocess.Popen(
        [sys.executable, "-m", "dimbo.ops.cli", "worker"], env=environment, stderr=subprocess.DEVNULL, stdout=subprocess.DEVNULL
    )
    with psycopg.connect(cluster.url(OWNER, database_name), autocommit=True) as conn:
        until = time.monotonic() + 60
        while not conn.execute("select 1 from procrastinate_workers").fetchone():
            assert time.monotonic() < until and child.poll() is None
            time.sleep(0.2)
    child.send_signal(signal.SIGTERM)
    assert child.wait(40) == 0
