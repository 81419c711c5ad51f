"""The project's own cluster: starts again after anything, and says plainly what is in its way."""

import os
import signal
import socket
import subprocess
import sys
import time

import psycopg
import pytest

from dimbo.ops import supervise
from dimbo.ops.cluster import OWNER, Cluster, ClusterError, children_of, port_is_free
from dimbo.ops.supervise import CannotStart, claim

CHILD = """
import sys, time
from pathlib import Path
from dimbo.ops.cluster import Cluster, OWNER
import psycopg
cluster = Cluster(Path(sys.argv[1]))
cluster.start()
with psycopg.connect(cluster.url(OWNER)) as conn:
    conn.execute("create table kept (n int)")
    conn.execute("insert into kept values (7)")
print("saved", flush=True)
time.sleep(60)
"""


@pytest.fixture
def home(cluster):
    """A place beside the session's cluster, with a space in its path, that the server's user may enter."""
    place = cluster.home.parent / "another one"
    yield place
    subprocess.run(["rm", "-rf", str(place)], check=True)


def test_what_was_saved_survives_kill_9_of_the_parent(home):
    with subprocess.Popen([sys.executable, "-c", CHILD, str(home)], stdout=subprocess.PIPE, text=True) as child:
        assert child.stdout.readline() == "saved\n"
        child.send_signal(signal.SIGKILL)
        child.wait()
    again = Cluster(home)
    again.start()
    try:
        with psycopg.connect(again.url(OWNER)) as conn:
            assert conn.execute("select n from kept").fetchone() == (7,)
    finally:
        again.stop()


def test_a_server_that_waits_for_a_client_that_is_no_more_is_ended(home):
    """One of its processes hangs and another waits for the first word of somebody: it would never end by itself."""
    with subprocess.Popen([sys.executable, "-c", CHILD, str(home)], stdout=subprocess.PIPE, text=True) as child:
        assert child.stdout.readline() == "saved\n"
        lock = (home / "data" / "postmaster.pid").read_text().splitlines()
        pid, port = int(lock[0]), int(lock[3])
        url = f"postgresql://{OWNER}:{(home / 'password').read_text().strip()}@127.0.0.1:{port}/dimbo"
        hangs = psycopg.connect(url)
        os.kill(hangs.info.backend_pid, signal.SIGSTOP)
        child.send_signal(signal.SIGKILL)
        child.wait()
    until = time.monotonic() + 20
    while "stopping" not in (home / "data" / "postmaster.pid").read_text():
        assert time.monotonic() < until
        time.sleep(0.05)
    before = set(children_of(pid))
    with socket.create_connection(("127.0.0.1", port)):
        while not set(children_of(pid)) - before:
            assert time.monotonic() < until
            time.sleep(0.05)
        again = Cluster(home)
        again.start()
        try:
            with psycopg.connect(again.url(OWNER)) as conn:
                assert conn.execute("select n from kept").fetchone() == (7,)
        finally:
            again.stop()
    hangs.close()


def test_a_second_start_keeps_the_data_and_a_stale_lock_is_no_hindrance(home):
    one = Cluster(home)
    one.start()
    one.stop()
    (one.data / "postmaster.pid").write_text("999999\n")
    began = time.monotonic()
    one.start()
    one.stop()
    assert time.monotonic() - began < 10
    assert not (one.data / "postmaster.pid").exists()


def test_a_living_server_is_never_taken_its_lock_from(home, monkeypatch):
    one, two = Cluster(home), Cluster(home)
    one.start()
    try:
        monkeypatch.setattr(time, "sleep", lambda _: None)
        lock = (one.data / "postmaster.pid").read_text()
        with pytest.raises(ClusterError, match=r"still runs|already runs"):
            two.start()
        assert (one.data / "postmaster.pid").read_text() == lock
        with psycopg.connect(one.url(OWNER)) as conn:
            assert conn.execute("select 1").fetchone() == (1,)
    finally:
        monkeypatch.undo()
        one.stop()


def test_data_of_another_version_is_named(home):
    one = Cluster(home)
    one.create()
    (one.data / "PG_VERSION").write_text("9.6\n")
    with pytest.raises(ClusterError, match="another version"):
        one.start()
    one.stop()


def test_the_application_may_not_change_the_schema_or_practices(cluster):
    with psycopg.connect(cluster.url()) as conn, pytest.raises(psycopg.errors.InsufficientPrivilege):
        conn.execute("create table mine (n int)")
    with psycopg.connect(cluster.url()) as conn, pytest.raises(psycopg.errors.InsufficientPrivilege):
        conn.execute("insert into practices (name) values ('x')")


def test_a_busy_port_is_told_with_the_remedy(monkeypatch, tmp_path):
    monkeypatch.setattr(supervise, "PID_FILE", tmp_path / "pid")
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        s.listen()
        port = s.getsockname()[1]
        assert not port_is_free(port)
        with pytest.raises(CannotStart, match=f"--port {port + 1}"):
            claim(port)
    with pytest.raises(CannotStart, match="no port"):
        claim(99_999)
