"""What is held of a client, what becomes of it, and what was done with it: a client's own page, and the coach's about a client."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.keeping import months_after
from dimbo.core.text import long_date
from dimbo.store.database import Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.records import keeping, trail, whole
from dimbo.store.records.keeping import Keeping
from dimbo.store.records.trail import Step
from dimbo.store.records.whole import Counts
from dimbo.work.intake.entering import day_of
from dimbo.work.intake.looking import noted
from dimbo.work.people.staff import OWNER
from dimbo.work.shared.errors import Refused, Why

from .keeping import Going, going_of

LONGEST_KEPT_YEARS = 10


@dataclass(frozen=True, kw_only=True)
class Record:
    """``own`` says whether it is the client's own page or that of the coach who took the client on."""

    client: Client
    own: bool
    coach: str
    held: Counts
    keeps: Keeping
    going: list[Going]
    steps: list[Step]
    running: bool


def near(person: Person, client: Client) -> bool:
    """Whether a client's record as a whole is somebody's business: the client's, and that of the coach who took them on."""
    return client.id == person.client_id or client.coach_id == person.id


def of_client(db: Database, person: Person, client_id: UUID, now: datetime) -> Record:
    """Colleagues see what is held and what becomes of it, and not who looked. Raises NotThere."""
    with db.of(person) as conn:
        client = clients.one(conn, client_id)
        own = near(person, client)
        return Record(
            client=client,
            own=own,
            coach=accounts.coaches(conn).get(client.coach_id, "") if client.coach_id else "",
            held=whole.counts(conn, client_id),
            keeps=keeping.of_practice(conn),
            going=going_of(conn, client, day_of(client, now)),
            steps=trail.of_client(conn, client_id) if own or person.standing == OWNER else [],
            running=bool(assignments.running_of(conn, client_id)),
        )


def archive(db: Database, person: Person, client_id: UUID, *, archived: bool, now: datetime) -> None:
    """Put a client whose course is over away from desk and list, or bring them back; nothing of the record goes. Doing it twice
    is harmless. Raises NotThere, Refused while a program runs."""
    with db.of(person) as conn:
        client = clients.one(conn, client_id)
        if archived and assignments.running_of(conn, client_id):
            raise Refused(Why.NOT_NOW, f"A program of {client.name} is running. End it first; what was practised stays.")
        if (client.archived_at is not None) != archived:
            clients.archive(conn, client_id, now if archived else None)
            noted(conn, person, client_id, what="archived" if archived else "restored", subject="", now=now)


def keep_longer(db: Database, person: Person, client_id: UUID, until: date | None, now: datetime) -> None:
    """Nothing of a client is deleted for its age before a day; a notice that was sent holds no more. Raises NotThere, Refused."""
    with db.of(person) as conn:
        client = clients.one(conn, client_id)
        today = day_of(client, now)
        if until is not None and not today < until <= months_after(today, LONGEST_KEPT_YEARS * 12):
            last = long_date(months_after(today, LONGEST_KEPT_YEARS * 12))
            raise Refused(Why.BOUNDS, f"Choose a day between {long_date(today + timedelta(days=1))} and {last}.", "until")
        keeping.keep_until(conn, client_id, until)
        keeping.take_back(conn, client_id)
        subject = f"until {long_date(until)}" if until else "no longer than the practice keeps everything"
        noted(conn, person, client_id, what="kept longer", subject=subject, now=now)
