"""GET a client page over HTTP, against its bare SQL."""

from __future__ import annotations

import http.client
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import psycopg

from dimbo.demo.people import COACHES, PASSWORD
from dimbo.demo.scenario import ensure_demo
from dimbo.ops.cluster import OWNER, Cluster, free_port
from dimbo.store import clients, practice, programs, sittings
from dimbo.store.database import enter
from dimbo.store.migrate import migrate

NAME = "Ragna Stavros"


def _request(connection: http.client.HTTPConnection, method: str, path: str, body: str = "", cookie: str = "") -> http.client.HTTPResponse:
    connection.request(method, path, body or None, {"x-dimbo": "1", "content-type": "application/json", "cookie": cookie})
    return connection.getresponse()


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """One client of the demo with eight weeks of logs; the page's statements on one warm connection are the baseline."""
    base = "/dev/shm" if os.access("/dev/shm", os.W_OK) else None
    folder = Path(tempfile.mkdtemp(prefix="dimbo-bench-", dir=base))
    folder.chmod(0o755)
    cluster, port = Cluster(folder / "pg", durable=False), free_port()
    cluster.start()
    migrate(cluster.url(OWNER))
    ensure_demo(cluster.url(), cluster.url(OWNER), lambda _: None)
    web = subprocess.Popen(
        [sys.executable, "-m", "dimbo.ops.cli", "serve"], env={**os.environ, "DIMBO_DATABASE_URL": cluster.url(), "DIMBO_PORT": str(port)}
    )
    connection = http.client.HTTPConnection("127.0.0.1", port)
    for _ in range(200):
        try:
            _request(connection, "GET", "/api/health").read()
            break
        except OSError:
            connection.close()
            time.sleep(0.05)
    answer = _request(connection, "POST", "/api/sign-in", f'{{"email": "{COACHES[0][1]}", "password": "{PASSWORD}"}}')
    answer.read()
    cookie = str(answer.getheader("set-cookie")).split(";")[0]
    conn = psycopg.connect(cluster.url())
    with psycopg.connect(cluster.url(OWNER)) as owner:
        practice_id, client_id = owner.execute("select practice_id, id from clients where name = %s", (NAME,)).fetchone() or (None, None)
    assert practice_id and client_id

    def page() -> bytes:
        got = _request(connection, "GET", f"/api/clients/{client_id}", cookie=cookie)
        body = got.read()
        assert got.status == 200
        return body

    def bare_sql() -> None:
        with conn.transaction():
            enter(conn, practice_id)
            clients.one(conn, client_id)
            running = programs.newest_assignment(conn, client_id)
            if running:
                programs.planned_days(conn, running.id)
                practice.logs(conn, running.id)
            practice.stopped(conn, client_id)
            programs.of_client(conn, client_id)
            sittings.of_client(conn, client_id)
            sittings.photographs(conn, client_id)

    def close() -> None:
        conn.close()
        connection.close()
        web.terminate()
        web.wait(10)
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)

    return page, bare_sql, close
