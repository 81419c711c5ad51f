"""The client takes photographs that are due, from their own day on: no link need be waited for."""

from __future__ import annotations

from datetime import datetime, timedelta

from dimbo.core.calendar.photo_due import EARLY_DAYS
from dimbo.core.calendar.time_zones import day_at
from dimbo.core.safety.age import Age, age
from dimbo.store.database import Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.work.intake.consenting import consent_of
from dimbo.work.intake.looking import PHOTOGRAPHS
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.sittings import taking

from .client_sessions import standing
from .days import own_client, photo_due


def begin(db: Database, person: Person, now: datetime) -> str:
    """The token of a link to the sitting that is due: the one that waits since a week at most, or a new one of today.

    It is of the coach who took the client on, and ends when they may not look any more. Raises Refused while none is due,
    photographs are not agreed to, or nobody took the client on.
    """
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        client = clients.one(conn, client_id)
        today = day_at(assignments.stays(conn, client_id), now)
        due = photo_due(conn, standing(conn, person.practice_id, client, now), today, now)
        coach = accounts.at_work(conn, client.coach_id) if client.coach_id else None
        agreed = consent_of(conn, client, PHOTOGRAPHS, now).in_force
    if age(client.birth_year, today) is Age.UNKNOWN:
        raise Refused(Why.NOT_NOW, "Tell your year of birth first; under 16 nobody is photographed.", "birth_year")
    if due is not None and not agreed:
        raise Refused(Why.NOT_AGREED, "Choose first whether photographs may be kept, under “What you agreed to”.", "consent")
    if due is None or due > today:
        raise Refused(Why.NOT_NOW, "No photographs are due. They are asked for at the start and every fourth week.")
    if coach is None:
        raise Refused(Why.NOT_NOW, "Ask your coach for the link: nobody has taken you on yet.")
    with db.of(coach) as conn:
        waiting = taking.waiting(conn, client_id)
    # One that was opened for earlier photographs would give these the wrong day.
    of_now = waiting is not None and waiting.taken_on >= today - timedelta(days=EARLY_DAYS)
    sitting = waiting.id if waiting and of_now else taking.open_sitting(db, coach, client_id, today, now)
    return taking.send_link(db, coach, sitting, now)
