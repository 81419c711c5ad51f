"""A running demo installation for the benchmarks that ask over HTTP."""

from __future__ import annotations

import http.client
import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any
from uuid import UUID

import psycopg

from dimbo.demo.people import COACHES, PASSWORD
from dimbo.demo.scenario import ensure_demo
from dimbo.ops.cluster import OWNER, Cluster, free_port
from dimbo.store.database import Conn
from dimbo.store.migrate import migrate


class Installation:
    """The demo on a cluster of its own, a coach signed in on one kept connection, and one warm connection to its
    database."""

    def __init__(self) -> None:
        base = "/dev/shm" if os.access("/dev/shm", os.W_OK) else None
        self._folder = Path(tempfile.mkdtemp(prefix="dimbo-bench-", dir=base))
        self._folder.chmod(0o755)
        self._cluster, port = Cluster(self._folder / "pg", durable=False), free_port()
        self._cluster.start()
        self.url = url = self._cluster.url()
        migrate(self._cluster.url(OWNER))
        ensure_demo(url, owner_url=self._cluster.url(OWNER), say=lambda _: None)
        self._web = subprocess.Popen(
            [sys.executable, "-m", "dimbo.ops.cli", "serve"], env={**os.environ, "DIMBO_DATABASE_URL": url, "DIMBO_PORT": str(port)}
        )
        self.port, self.owner_url = port, self._cluster.url(OWNER)
        self._http = http.client.HTTPConnection("127.0.0.1", port)
        for _ in range(200):
            try:
                self._ask("GET", path="/api/health").read()
                break
            except OSError:
                self._http.close()
                time.sleep(0.05)
        answer = self._ask("POST", path="/api/sign-in", body=f'{{"email": "{COACHES[0][1]}", "password": "{PASSWORD}"}}')
        answer.read()
        self._cookie = str(answer.getheader("set-cookie")).split(";")[0]
        self.conn: Conn = psycopg.connect(url)

    def _ask(self, method: str, path: str, body: str = "", cookie: str = "") -> http.client.HTTPResponse:
        self._http.request(method, path, body or None, {"x-dimbo": "1", "content-type": "application/json", "cookie": cookie})
        return self._http.getresponse()

    def get(self, path: str) -> bytes:
        """The body of a page as the coach sees it."""
        got = self._ask("GET", path=path, cookie=self._cookie)
        body = got.read()
        assert got.status == 200, body
        return body

    def send(self, method: str, path: str, body: object) -> dict[str, Any]:
        """What the server answers to a coach's JSON."""
        got = self._ask(method, path=path, body=json.dumps(body), cookie=self._cookie)
        answer = got.read()
        assert got.status in (200, 201), answer
        read: dict[str, Any] = json.loads(answer)
        return read

    def reconnect(self) -> None:
        """Begin the kept connection anew, after a long pause."""
        self._http.close()

    def client(self, name: str) -> tuple[UUID, UUID]:
        """Practice and id of a client by name."""
        with psycopg.connect(self._cluster.url(OWNER)) as owner:
            row = owner.execute("select practice_id, id from clients where name = %s", (name,)).fetchone()
        assert row
        return row[0], row[1]

    def close(self) -> None:
        self.conn.close()
        self._http.close()
        self._web.terminate()
        self._web.wait(10)
        self._cluster.stop()
        shutil.rmtree(self._folder, ignore_errors=True)
