"""The end of a course: where it will end at this pace, what was reached at its end, and the prepared ways on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS, Step, practice_day, zone
from dimbo.core.exercises.card import Card
from dimbo.core.programs.program import Program, Settings
from dimbo.core.review.course_end import LineEnd, carried_on, course_end, end_words, last_block
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.plans.plan_calendar import LETS_GO_ON, program_of
from dimbo.work.programs import drafting
from dimbo.work.programs.documents import from_program
from dimbo.work.programs.writing import store_new
from dimbo.work.shared.errors import Refused, Why


class Way(StrEnum):
    """How it goes on after a course."""

    ON = "on"
    AGAIN = "again"
    NEW = "new"


WAYS: Mapping[Way, tuple[str, str]] = {
    Way.ON: ("Carry on from here", "From the present rungs toward the targets, a rung a week, on the present days."),
    Way.AGAIN: ("Repeat the last block", "The last four weeks once more as they are."),
    Way.NEW: ("Next program", "Twelve weeks drafted from the intake as it stands today."),
}
"""What each way is called, and what it prepares."""


@dataclass(frozen=True)
class End:
    """How a course stands to its end."""

    last_day: date
    near: bool
    """Whether its last week has begun, or it is over."""
    lines: tuple[LineEnd, ...]
    sentence: str
    """Where it ends below its plan at this pace; empty when it does not."""


def _planned(plans: Sequence[Assignment]) -> Assignment:
    """The plan that the coach last wrote by hand: as assigned, or as changed."""
    return [p for p in plans if p.kind == "assigned" or (p.kind == "changed" and p.reason != LETS_GO_ON)][-1]


def end_of(running: Assignment, plans: Sequence[Assignment], cards: Mapping[int, Mapping[str, Card]], today: date) -> End:
    """How an assignment stands to its end; ``plans`` are all its plans, oldest first, ``cards`` the cards of each by number."""
    now = program_of(running, cards[running.plan])
    first = _planned(plans)
    place = max((today - running.anchor).days // DAYS, 0)
    steps = [Step(w, back=b) for w, b in running.steps]
    found = course_end(program_of(first, cards[first.plan]), now=now, steps=steps[place:], settings=Settings(**running.settings))
    last_day = running.anchor + timedelta(days=DAYS * len(steps) - 1)
    return End(last_day, place >= len(steps) - 1, found, end_words(found))


def look(conn: Conn, practice_id: UUID, running: Assignment, today: date) -> End:
    """How an assignment stands to its end."""
    plans = assignments.plans(conn, running.id)
    first = _planned(plans)
    cards = {p.plan: cards_of(conn, practice_id, p) for p in (first, running)}
    return end_of(running, plans, cards, today)


def go_on(db: Database, coach: Person, assignment_id: UUID, way: Way, now: datetime) -> UUID:
    """Prepare the program that follows; it is a draft until it is assigned. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        running = assignments.one(conn, assignment_id)
        today = practice_day(now, zone(clients.one(conn, running.client_id).time_zone))
        if not look(conn, coach.practice_id, running, today).near:
            raise Refused(Why.NOT_NOW, "This course has more than a week to go. What follows is prepared in its last week.", "way")
        if way is not Way.NEW:
            program = program_of(running, cards_of(conn, coach.practice_id, running))
            after = last_block(program) if way is Way.AGAIN else carried_on(program, Settings(**running.settings), _weeks(program))
            document = from_program(after, running.document.get("concern"))
            return store_new(conn, coach, running.client_id, running.title, document)
    return drafting.create(db, coach, running.client_id, now, drafting.Wish())


def _weeks(program: Program) -> int:
    """Weeks of a program that carries on: as long as the last one, eight at most."""
    return min(program.weeks, 8)
