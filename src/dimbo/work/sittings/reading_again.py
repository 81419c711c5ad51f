"""Photographs put into the worker's queue: new ones, and those that an earlier method analysed."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, Database
from dimbo.store.people.accounts import Person
from dimbo.store.sittings import photographs
from dimbo.vision.terms import METHOD
from dimbo.work.intake.looking import look
from dimbo.work.shared.queue import ANALYSE, defer


def queue_analysis(conn: Conn, practice_id: UUID, photograph_id: UUID) -> None:
    """Put a photograph into the worker's queue, within the caller's transaction."""
    defer(conn, ANALYSE, practice_id=str(practice_id), photograph_id=str(photograph_id))


def read_again(db: Database, coach: Person, client_id: UUID, now: datetime) -> int:
    """Queue every photograph of a client that an earlier method analysed; both results are kept. Returns how many."""
    with db.of(coach) as conn:
        look(conn, coach, client_id, now)
        old = photographs.outdated(conn, client_id, METHOD)
        for photograph_id in old:
            photographs.step(conn, photograph_id, "waiting", words="to be read again")
            queue_analysis(conn, coach.practice_id, photograph_id=photograph_id)
    return len(old)
