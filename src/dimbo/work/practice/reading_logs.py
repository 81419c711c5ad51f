"""Reading logs back, exercise by exercise and side by side, for the coach and for the client."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from dimbo.core.sessions.crediting import SideWork
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.practice import practice_logs
from dimbo.store.practice.practice_logs import Line, Log
from dimbo.work.exercises.shelf import cards_of


@dataclass(frozen=True)
class ReadLog:
    """A log with its exercises; ``stands`` is false when another stands in its place."""

    log: Log
    stands: bool
    lines: tuple[tuple[Line, str, tuple[SideWork, ...]], ...]
    """Each exercise with its name and its sides."""


def of_day(db: Database, person: Person, client_id: UUID, day: date) -> list[ReadLog]:
    """Every log of a client's day, those that no longer stand too. Raises NotThere."""
    with db.of(person) as conn:
        out = []
        for plan in assignments.of_client(conn, client_id):
            names = {i: c.name for i, c in cards_of(conn, person.practice_id, plan).items()}
            logs = [x for x in practice_logs.all_logs(conn, plan.id) if x.day == day]
            standing = {x.id for x in practice_logs.logs(conn, plan.id)}
            ids = [x.id for x in logs]
            sides = practice_logs.sides(conn, ids)
            lines = practice_logs.lines_of(conn, ids)
            for log in logs:
                own = tuple(
                    (n, names.get(n.exercise_id, n.exercise_id), sides.get((n.log_id, n.place), ())) for n in lines if n.log_id == log.id
                )
                out.append(ReadLog(log, log.id in standing, own))
        return sorted(out, key=lambda r: r.log.started_at)
