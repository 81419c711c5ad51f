"""The job queue in PostgreSQL: what is put in with the caller's transaction, and what workers run."""

from __future__ import annotations

from uuid import UUID

from procrastinate import App, SyncPsycopgConnector

from dimbo.store.database import Conn

ANALYSE = "analyse-photograph"
REMIND = "remind-and-carry"
FORGET = "forget-removed"
KEEP = "mind-how-long-things-are-kept"
READ_AGAIN = "read-older-photographs-again"
NOTE_ERASED = "note-who-was-erased"

queue = App(connector=SyncPsycopgConnector())
"""Defers only, on a connection that the caller brings; docs/architecture.md shows the road of a photograph."""


def defer(conn: Conn, task: str, *, lock: str | None = None, **about: str) -> None:
    """Put a job into the queue, within the caller's transaction; jobs of one ``lock`` run one after the other."""
    queue.configure_task(task, connection=conn, lock=lock).defer(**about)


def queue_analysis(conn: Conn, practice_id: UUID, photograph_id: UUID) -> None:
    """Put a photograph into the worker's queue, within the caller's transaction."""
    defer(conn, ANALYSE, lock=str(photograph_id), practice_id=str(practice_id), photograph_id=str(photograph_id))
