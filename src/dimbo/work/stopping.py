"""Exercises that hurt: they wait until the coach lets them go on."""

from __future__ import annotations

from uuid import UUID

from dimbo.store import practice
from dimbo.store.accounts import Person
from dimbo.store.database import Database, NotThere


def clear_stop(db: Database, coach: Person, client_id: UUID, exercise_id: str) -> None:
    """The coach lets an exercise that hurt go on. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        if practice.clear(conn, client_id, exercise_id, coach.id) == 0:
            raise NotThere("This exercise is not stopped.")
