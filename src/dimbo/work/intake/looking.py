"""The one gate for photographs and everything made from them: sittings, pictures, points, ratings, links, comparisons.

Every use case that reads or writes one of them asks here; row-level security asks the same once more (``may_look`` in
0013_who_sees_what.sql), so what forgets to ask finds nothing. ``tests/web/people/test_gate.py`` tries every operation.
"""

from __future__ import annotations

from datetime import UTC, datetime
from uuid import UUID, uuid4

from dimbo.core.safety.consent import Consent
from dimbo.store.database import Conn, NotThere
from dimbo.store.intake import facts
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.records import trail
from dimbo.store.records.trail import Step

from .entering import consents, day_of

PHOTOGRAPHS, PRACTISE, SECOND_COACH, COMPARISON, SHOW = "photographs", "practise", "second-coach", "comparison", "show-others"


def consents_of(conn: Conn, client: Client, now: datetime) -> list[Consent]:
    """Where every consent of a client stands now."""
    return consents(facts.of_kind(conn, client.id, "consent"), day_of(client, now), client.birth_year)


def concerned(known: list[Consent], person: Person, client: Client) -> bool:
    """Whether a client's photographs are somebody's business at all: the client's, those of the coach who took the client
    on, and those of the one coach whose account the client named."""
    if client.id == person.client_id or client.coach_id == person.id:
        return True
    second = next(c for c in known if c.text.id == SECOND_COACH)
    return second.in_force and second.account == person.id


def sees(known: list[Consent], person: Person, client: Client) -> bool:
    """Whether someone may look at a client's photographs, from the client's consents. Without consent to keep photographs
    nobody but the client does."""
    kept = next(c for c in known if c.text.id == PHOTOGRAPHS).in_force
    return concerned(known, person, client) and (kept or person.client_id == client.id)


def may_see(conn: Conn, person: Person, client: Client, now: datetime) -> bool:
    """``sees``, with the consents that stand now."""
    return sees(consents_of(conn, client, now), person, client)


def _not_yours(client: Client) -> NotThere:
    return NotThere(f"{client.name}'s photographs are seen by the coach who took them on, unless the client agrees to a second one.")


def come_near(conn: Conn, person: Person, client_id: UUID, now: datetime) -> Client:
    """Pass the gate to plan and arrange, also where photographs may not be kept yet. Returns the client; raises NotThere."""
    client = clients.one(conn, client_id)
    if not concerned(consents_of(conn, client, now), person, client):
        raise _not_yours(client)
    return client


def look(conn: Conn, person: Person, client_id: UUID, now: datetime) -> Client:
    """Pass the gate to see, measure, rate or change photographs. Returns the client; raises NotThere."""
    client = clients.one(conn, client_id)
    if not may_see(conn, person, client, now):
        raise _not_yours(client)
    return client


def noted(conn: Conn, person: Person, client_id: UUID, *, what: str, subject: str, now: datetime, about: object = None) -> None:
    """Put into the client's trail that somebody looked or took something out; what is the client's own doing is not put there.

    The same ``about`` by the same person stands there once an hour.
    """
    if person.client_id == client_id:
        return
    hour = now.astimezone(UTC).strftime("%Y-%m-%dT%H")
    key = f"{what}:{person.id}:{about}:{hour}" if about is not None else str(uuid4())
    step = Step(at=now, by_id=person.id, by_name=person.name, what=what, subject=subject, key=key)
    trail.add_step(conn, person.practice_id, client_id, step)
