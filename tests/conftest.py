"""One cluster per run on memory, one migrated template, one clone of it per test that asks."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest
from hypothesis import settings

from dimbo.ops.cluster import OWNER, Cluster
from dimbo.store.database import Database
from dimbo.store.migrate import migrate

settings.register_profile("steady", deadline=None, derandomize=True)
settings.register_profile("brief", deadline=None, derandomize=True, max_examples=20)
settings.register_profile("searching", deadline=None, max_examples=1000)
settings.load_profile("steady")
"""The same examples in every run, so that a run says something of the change before it. ``brief`` is what ``./dimbo test``
takes for a single part, in the loop of editing; ``--hypothesis-profile=searching`` looks for new examples, and what it finds
becomes an ``@example``."""


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    base = "/dev/shm" if os.access("/dev/shm", os.W_OK) else None
    folder = Path(tempfile.mkdtemp(prefix="dimbo test ", dir=base))  # a space, because users' paths have them
    folder.chmod(0o755)
    cluster = Cluster(folder / "pg", durable=False)
    try:
        cluster.start()
        migrate(cluster.url(OWNER))
        yield cluster
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def database_name(cluster: Cluster) -> Iterator[str]:
    """A fresh, migrated database of its own."""
    name = f"t{uuid4().hex}"
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(f"create database {name} template dimbo".encode())
    yield name
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(f"drop database {name} with (force)".encode())


@pytest.fixture
def owner(cluster: Cluster, database_name: str) -> Iterator[psycopg.Connection]:
    """The owner's connection, for arranging what the application may not."""
    with psycopg.connect(cluster.url(OWNER, database_name), autocommit=True) as conn:
        yield conn


@pytest.fixture
def db(cluster: Cluster, database_name: str) -> Iterator[Database]:
    database = Database(cluster.url(database=database_name), most=4)
    database.open()
    yield database
    database.close()


@pytest.fixture
def plain_owner(cluster):
    """A database whose owner is no superuser, as a careful installation has it; its name, and the owner's address."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(f"create role plain_owner login password '{cluster.password}'".encode())
        conn.execute(b"create database owned owner plain_owner")
    yield "owned", cluster.url("plain_owner", "owned")
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"drop database owned with (force)")
        conn.execute(b"drop role plain_owner")
