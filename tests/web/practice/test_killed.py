"""The server is killed in the middle of hand-in: nothing that it acknowledged is lost, and nothing comes twice."""

import json
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from http.client import HTTPException
from uuid import uuid4

import pytest

from dimbo.ops.cluster import free_port
from tests.web.conftest import PASSWORD, new_program
from tests.web.practising import log, todays


class Served:
    """A web server as a process of its own, on a fixed port."""

    def __init__(self, url: str) -> None:
        self.port, self.url = free_port(), url
        self.start()

    def start(self) -> None:
        environment = {**os.environ, "DIMBO_DATABASE_URL": self.url, "DIMBO_PORT": str(self.port)}
        self.process = subprocess.Popen([sys.executable, "-m", "dimbo.ops.cli", "serve"], env=environment)
        for _ in range(600):
            try:
                self.ask("GET", "/api/health")
                return
            except OSError:
                assert self.process.poll() is None
                time.sleep(0.05)

    def ask(self, method: str, path: str, body: object = None, cookie: str = "") -> tuple[bytes, str]:
        data = json.dumps(body).encode() if body is not None else None
        headers = {"x-dimbo": "1", "content-type": "application/json", "cookie": cookie}
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", data, headers, method=method)
        with urllib.request.urlopen(request, timeout=20) as answer:
            return answer.read(), answer.headers.get("set-cookie", "").split(";")[0]

    def kill(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait(10)

    def stop(self) -> None:
        if self.process.poll() is None:
            self.process.terminate()
            self.process.wait(20)


@pytest.fixture
def served(cluster, database_name):
    server = Served(cluster.url(database=database_name))
    yield server
    server.stop()


def entries(today, count):
    """A session and many words, as a phone that was away has them."""
    words = [{"kind": "message", "id": str(uuid4()), "text": f"{n}", "written_at": "2026-01-01T00:00:00Z"} for n in range(count)]
    return [log(today), *words]


def test_a_kill_in_the_middle_loses_nothing_that_was_acknowledged(served, coach, client, practice, owner):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    queue = entries(todays(client), 160)
    _, cookie = served.ask("POST", "/api/sign-in", {"email": practice.client_email, "password": PASSWORD})
    acknowledged: set[str] = set()
    answers: list[str] = []

    def deliver(batch):
        body = {"sent_at": log(todays(client))["ended_at"], "entries": batch}
        try:
            results = json.loads(served.ask("POST", "/api/hand-in", body, cookie)[0])["results"]
        except (OSError, HTTPException, ValueError):
            return
        answers.extend(r["state"] for r in results)
        acknowledged.update(r["id"] for r in results if r["state"] != "refused")

    batches = [queue[n : n + 8] for n in range(0, len(queue), 8)]
    threads = [threading.Thread(target=lambda part=part: [deliver(b) for b in part]) for part in (batches[::2], batches[1::2])]
    for thread in threads:
        thread.start()
    while not acknowledged:
        time.sleep(0.01)
    served.kill()
    for thread in threads:
        thread.join()
    kept = {str(r[0]) for r in owner.execute("select id from messages union select id from practice_logs").fetchall()}
    assert acknowledged and acknowledged <= kept
    assert len(acknowledged) < len(queue), "the kill came too late to show anything"

    served.start()
    for batch in batches:  # the phone sends again whatever it has no word of, and whatever it has
        deliver(batch)
    assert acknowledged == {e["id"] for e in queue} and "refused" not in answers
    count = owner.execute("select (select count(*) from messages), (select count(*) from practice_logs)").fetchone()
    assert count == (160, 1)
    lines = owner.execute("select count(*) from practice_log_lines").fetchone()[0]
    assert lines == len(queue[0]["items"])
