"""What a client tells of their health from the phone: open questions, something that has changed, a sudden sign; and
agreeing to practise. Each is a fact like any other, kept once, and what it locks is locked from that moment."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID, uuid4

from dimbo.catalogue import shipped_intake
from dimbo.core.safety.cautions import URGENT, stop_words
from dimbo.store.database import Conn, Database
from dimbo.store.intake import facts
from dimbo.store.intake.facts import SORENESS, NewFact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.work.intake.consenting import Word, decide
from dimbo.work.intake.entering import Author, Entry, coach_author, enter
from dimbo.work.intake.looking import PRACTISE
from dimbo.work.messages.messaging import tell_coach
from dimbo.work.shared.errors import Refused, Why

from .days import own_client

SOURCE = "client"


@dataclass(frozen=True, kw_only=True)
class Answer:
    """A client's answer to one caution; ``id`` is made on the device, so that sending it twice is harmless."""

    id: UUID
    caution: str
    answer: str
    regions: Sequence[str] = ()
    event_on: date | None = None


@dataclass(frozen=True)
class Agreement:
    """A client's word on practising with guidance, to the version of the text that was read."""

    id: UUID
    given: bool
    version: int


def _author(person: Person) -> Author:
    """A client who comes by a link has no account here."""
    account = None if person.id == person.client_id else person.id
    return Author(person.practice_id, person.name, account, SOURCE)


def answer(db: Database, person: Person, said: Answer, now: datetime) -> tuple[bool, tuple[str, ...]]:
    """Keep an answer once; a sudden sign stops everything at once and goes to the coach.

    Returns whether it was new, and what the client is told. Raises Refused, also for a no that would silence a lock.
    """
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        if facts.known(conn, client_id, [said.id]):
            return False, ()
        value = {"answer": said.answer, "regions": list(said.regions), "event_on": said.event_on.isoformat() if said.event_on else None}
        enter(conn, _author(person), client_id, [Entry(said.id, "caution", key=said.caution, value=value)], now)
        return True, _told(conn, person, client_id, said, now)


def _told(conn: Conn, person: Person, client_id: UUID, said: Answer, now: datetime) -> tuple[str, ...]:
    if said.answer == "no":
        return ()
    rule = next(r for r in shipped_intake().tables.cautions if r.id == said.caution)
    if rule.group == URGENT:
        tell_coach(
            conn,
            person,
            client_id,
            "urgent",
            key=f"urgent:{said.id}",
            subject=f"{person.name} reported a sudden sign",
            body=rule.name,
            now=now,
        )
        return (stop_words([rule], clients.emergency_number(conn)),)
    tell_coach(
        conn,
        person,
        client_id,
        "health",
        key=f"health:{said.id}",
        subject=f"{person.name} told of a change in health",
        body=rule.name,
        now=now,
    )
    after = " What it touches is left out until a clearance is recorded." if rule.locks else ""
    return (f"{rule.name}: {rule.text}{after} Your coach is told.",)


def nothing_changed(db: Database, person: Person, said_id: UUID, now: datetime) -> bool:
    """Keep, once, that the client was asked again and that nothing has changed."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        return _keep_asked(conn, _author(person), client_id, said_id=said_id, source="client", now=now)


def born(db: Database, person: Person, said_id: UUID, year: int, now: datetime) -> bool:
    """Keep the client's year of birth, once. Raises Refused for one that cannot be."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        if facts.known(conn, client_id, [said_id]):
            return False
        enter(conn, _author(person), client_id, [Entry(said_id, "profile", key="birth_year", value={"value": year})], now)
        return True


def asked_by_coach(db: Database, coach: Person, client_id: UUID, now: datetime) -> None:
    """Keep that the coach asked, as before a sitting, and that nothing has changed. Raises NotThere."""
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        _keep_asked(conn, coach_author(coach), client_id, said_id=uuid4(), source="coach", now=now)


def soreness_asked(db: Database, coach: Person, client_id: UUID, note: str, now: datetime) -> None:
    """Keep what soreness that stopped strength was, as the coach has asked; it ends the stop. Raises NotThere, Refused."""
    found = note.strip()
    if not found:
        raise Refused(Why.NEEDED, "Write down what it was, or what was agreed.", "note")
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        author = coach_author(coach)
        fact = NewFact(
            id=uuid4(),
            kind="asked",
            key=SORENESS,
            value={"answer": found[:400]},
            at=now,
            author=author.name,
            author_id=author.account_id,
            source=author.source,
        )
        facts.add(conn, coach.practice_id, client_id, [fact])


def _keep_asked(conn: Conn, author: Author, client_id: UUID, said_id: UUID, source: str, now: datetime) -> bool:
    if facts.known(conn, client_id, [said_id]):
        return False
    fact = NewFact(
        id=said_id,
        kind="asked",
        key="health",
        value={"answer": "nothing has changed"},
        at=now,
        author=author.name,
        author_id=author.account_id,
        source=source,
    )
    facts.add(conn, author.practice_id, client_id, [fact])
    return True


def agree(db: Database, person: Person, said: Agreement, now: datetime) -> bool:
    """Give or refuse consent to practise, once. Raises Refused for a text that has changed."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        if facts.known(conn, client_id, [said.id]):
            return False
        decide(conn, _author(person), client_id, PRACTISE, Word(given=said.given, version=said.version), now=now, fact_id=said.id)
        return True
