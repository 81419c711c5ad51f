"""What a client tells of a day besides practice: how sore, where, and the habit tasks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Side, Stage
from dimbo.core.calendar.time_zones import Stay, clock_error, day_at
from dimbo.store.database import Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.practice import daily
from dimbo.store.practice.daily import CheckIn, Tick
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.plans.plan_calendar import program_of
from dimbo.work.shared.errors import Refused, Why

from .days import own_client


@dataclass(frozen=True)
class Sore:
    """A place on the face map."""

    muscle: str
    side: str


@dataclass(frozen=True, kw_only=True)
class CheckInSaid:
    """Soreness 0 to 10 after the last practice, as a device tells it."""

    id: UUID
    soreness: int
    places: Sequence[Sore]
    said_at: datetime
    sent_at: datetime


@dataclass(frozen=True, kw_only=True)
class TickSaid:
    """A habit task done once more (1), or a tick taken back (-1), as a device tells it."""

    id: UUID
    assignment_id: UUID
    exercise_id: str
    amount: int
    said_at: datetime
    sent_at: datetime


def _day(stays: Sequence[Stay], said_at: datetime, sent_at: datetime, now: datetime) -> tuple[date, datetime]:
    """The day that something was said on, and when, by a right clock."""
    moment = min(said_at + clock_error(sent_at, told=said_at, received_at=now), now)
    return day_at(stays, moment), moment


def check_in(db: Database, person: Person, said: CheckInSaid, now: datetime) -> bool:
    """Keep a check-in once; the newest of a day holds. Raises Refused."""
    client_id = own_client(person)
    muscles = shipped_catalogue().muscles
    for place in said.places:
        if place.muscle not in muscles:
            raise Refused(Why.UNKNOWN, f"There is no muscle “{place.muscle}” on the face map.", "places")
        if place.side not in set(Side):
            raise Refused(Why.UNREADABLE, "A side is right or left, the client’s own.", "places")
    with db.of(person, client_id) as conn:
        day, moment = _day(assignments.stays(conn, client_id), said.said_at, sent_at=said.sent_at, now=now)
        places = [{"muscle": p.muscle, "side": p.side} for p in said.places]
        return daily.check_in(
            conn, person.practice_id, client_id, CheckIn(id=said.id, day=day, soreness=said.soreness, places=places, said_at=moment)
        )


def tick(db: Database, person: Person, said: TickSaid, now: datetime) -> bool:
    """Keep a tick of a habit task once. Raises Refused, NotThere."""
    client_id = own_client(person)
    if said.amount not in (1, -1):
        raise Refused(Why.BOUNDS, "A habit is counted one at a time.", "amount")
    with db.of(person, client_id) as conn:
        running = assignments.one(conn, said.assignment_id)
        if running.client_id != client_id:
            raise NotThere("There is no such assignment.")
        program = program_of(running, cards_of(conn, person.practice_id, running))
        if not any(n.card.id == said.exercise_id and n.stage is Stage.DAY for n in program.lines):
            raise Refused(Why.UNKNOWN, "This habit is not part of the program.", "exercise_id")
        day, moment = _day(assignments.stays(conn, client_id), said.said_at, sent_at=said.sent_at, now=now)
        told = Tick(id=said.id, assignment_id=running.id, exercise_id=said.exercise_id, day=day, amount=said.amount, said_at=moment)
        return daily.tick(conn, person.practice_id, client_id, told)
