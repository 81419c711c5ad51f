"""What a practice that was just opened does first; gone once everything is done."""

from __future__ import annotations

from dataclasses import dataclass

from dimbo.store.database import Database
from dimbo.store.people import practices
from dimbo.store.people.accounts import Person

WAYS, CLIENT, PROGRAM, COLLEAGUE = "ways", "client", "program", "colleague"
BY_HAND = (WAYS, COLLEAGUE)
"""Steps that somebody says are done; the others show by themselves."""


@dataclass(frozen=True)
class Step:
    id: str
    done: bool


def steps(db: Database, person: Person) -> list[Step]:
    """The first steps in their order; none once all are done."""
    with db.of(person) as conn:
        done = practices.begun(conn)
    out = [Step(WAYS, done.ways), Step(CLIENT, done.client), Step(PROGRAM, done.program), Step(COLLEAGUE, done.colleague)]
    return [] if all(s.done for s in out) else out


def settle(db: Database, person: Person, step: str) -> None:
    """Say of a step of ``BY_HAND`` that it is done, or not wanted here."""
    with db.of(person) as conn:
        practices.settle_step(conn, step)
