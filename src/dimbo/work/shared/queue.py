"""The job queue in PostgreSQL: what is put in with the caller's transaction, and what workers run."""

from __future__ import annotations

from procrastinate import App, SyncPsycopgConnector

from dimbo.store.database import Conn

ANALYSE = "analyse-photograph"
REMIND = "remind-and-carry"
FORGET = "forget-removed"
KEEP = "mind-how-long-things-are-kept"
NOTE_ERASED = "note-who-was-erased"

queue = App(connector=SyncPsycopgConnector())
"""Defers only, on a connection that the caller brings; docs/architecture.md shows the road of a photograph."""


def defer(conn: Conn, task: str, **about: str) -> None:
    """Put a job into the queue, within the caller's transaction."""
    queue.configure_task(task, connection=conn).defer(**about)
