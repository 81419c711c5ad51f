"""The worker does jobs side by side, one on each core, but never the same thing beside itself."""

from __future__ import annotations

import asyncio
import threading
import time
from uuid import uuid4

import pytest

from dimbo import worker
from dimbo.ops.settings import Settings
from dimbo.work.records import ledger
from dimbo.work.shared.queue import READ_AGAIN, defer, queue_analysis
from dimbo.work.sittings import analysing, reading_again


class Watch:
    """Jobs that take a while, and which of them were at work at once."""

    def __init__(self):
        self.now, self.together, self.done = [], [], []
        self.lock = threading.Lock()

    def work(self, name):
        with self.lock:
            self.now.append(name)
            self.together.append(sorted(self.now))
        time.sleep(0.4)
        with self.lock:
            self.now.remove(name)
            self.done.append(name)


@pytest.fixture
def watch(monkeypatch):
    seen = Watch()
    monkeypatch.setattr(worker, "AT_ONCE", 2)
    monkeypatch.setattr(analysing, "analyse", lambda db, practice_id, photograph_id: seen.work(str(photograph_id)))
    monkeypatch.setattr(reading_again, "read_some", lambda db: seen.work("older"))
    monkeypatch.setattr(ledger, "write_down", lambda *_: seen.work("erased"))
    return seen


def run(cluster, database_name, tmp_path):
    settings = Settings(database_url=cluster.url(database=database_name), erased_file=tmp_path / "erased")
    asyncio.run(worker.run(settings, wait=False))


def test_two_photographs_are_read_at_once_and_one_photograph_once_at_a_time(cluster, database_name, owner, watch, tmp_path):
    practice, photographs = uuid4(), sorted((uuid4(), uuid4()), key=str)
    with owner.transaction():
        for photograph in sorted(photographs * 2, key=str):
            queue_analysis(owner, practice, photograph_id=photograph)
    run(cluster, database_name, tmp_path)
    names = [str(p) for p in photographs]
    assert names in watch.together
    assert not any(len(set(at_once)) < len(at_once) for at_once in watch.together)
    assert [watch.done.count(name) for name in names] == [2, 2]


def test_the_list_of_the_erased_is_not_written_by_two_while_older_photographs_are_read(cluster, database_name, owner, watch, tmp_path):
    with owner.transaction():
        for _ in range(2):
            ledger.queue_noting(owner)
        defer(owner, READ_AGAIN)
    run(cluster, database_name, tmp_path)
    assert ["erased", "older"] in watch.together and ["erased", "erased"] not in watch.together
    assert watch.done.count("erased") == 2
