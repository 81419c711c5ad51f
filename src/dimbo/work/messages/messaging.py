"""Messages between coach and client, and letters for the messenger. Everything has an id or a key, so nothing goes twice."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.store.database import Conn, Database
from dimbo.store.messages import messages
from dimbo.store.messages.messages import Letter, Message, NewMessage, Posted, Undelivered
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.work.exercises.shelf import shelf
from dimbo.work.shared.errors import Refused, Why

LONGEST = 2000


@dataclass(frozen=True, kw_only=True)
class Said:
    """A message as it is written; ``id`` is made by the writer's device. It may speak of a day's session or an exercise."""

    id: UUID
    text: str
    written_at: datetime
    about_day: date | None = None
    exercise_id: str | None = None


def _new(conn: Conn, person: Person, said: Said, by_coach: bool, now: datetime) -> NewMessage:
    text = said.text.strip()
    if not text:
        raise Refused(Why.NEEDED, "Write something first.", "text")
    if len(text) > LONGEST:
        raise Refused(Why.BOUNDS, f"A message has at most {LONGEST} characters; this one has {len(text)}.", "text")
    if said.exercise_id is not None and by_coach and said.exercise_id not in shelf(conn, person.practice_id).cards:
        raise Refused(Why.UNKNOWN, f"There is no exercise “{said.exercise_id}”.", "exercise_id")
    written = min(said.written_at, now)
    return NewMessage(
        id=said.id,
        by_coach=by_coach,
        author=person.id,
        text=text,
        about_day=said.about_day,
        exercise_id=said.exercise_id,
        written_at=max(written, now - timedelta(days=60)),
    )


def write_as_client(db: Database, person: Person, client_id: UUID, said: Said, now: datetime) -> bool:
    """Keep a client's message and tell the coach; False when it was here already. Raises Refused."""
    with db.of(person, client_id) as conn:
        new = messages.write(conn, person.practice_id, client_id, _new(conn, person, said, False, now))
        if new:
            tell_coach(
                conn,
                person,
                client_id,
                "message",
                key=f"message:{said.id}",
                subject=f"{person.name} wrote",
                body=said.text.strip(),
                now=now,
            )
        return new


def write_as_coach(db: Database, coach: Person, client_id: UUID, said: Said, now: datetime) -> bool:
    """Keep a coach's message and tell the client; False when it was here already. Who answers has read what came before.

    Raises Refused, NotThere.
    """
    with db.of(coach) as conn:
        return say_as_coach(conn, coach, client_id, said, now)


def say_as_coach(conn: Conn, coach: Person, client_id: UUID, said: Said, now: datetime) -> bool:
    """The same within a transaction that does more."""
    clients.one(conn, client_id)
    messages.mark_read(conn, client_id, False, now)
    new = messages.write(conn, coach.practice_id, client_id, _new(conn, coach, said, True, now))
    if new:
        address = messages.addresses_of(conn, client_id).client_email
        body = f"{said.text.strip()}\n\n{STANDING_LINE}"
        if address:  # without an account it waits on their first day; the page said so before it was written
            letter = Letter(
                client_id=client_id,
                to_coach=False,
                address=address,
                kind="message",
                subject=f"{coach.name} wrote",
                body=body,
                key=f"message:{said.id}",
                due_at=now,
            )
            messages.post(conn, coach.practice_id, letter)
    return new


def tell_coach(conn: Conn, person: Person, client_id: UUID, kind: str, key: str, subject: str, body: str, now: datetime) -> None:
    """Put a letter to the coach of a client into the outbox, once for its key."""
    address = messages.addresses_of(conn, client_id).coach_email
    messages.post(
        conn,
        person.practice_id,
        Letter(client_id=client_id, to_coach=True, address=address, kind=kind, subject=subject, body=body, key=key, due_at=now),
    )


def of_client(db: Database, person: Person, client_id: UUID) -> list[Message]:
    """What was written between a client and the coaches, for either. Raises NotThere."""
    with db.of(person) as conn:
        clients.one(conn, client_id)
        return messages.of_client(conn, client_id)


def mark_read(db: Database, person: Person, client_id: UUID, now: datetime) -> None:
    """What the other side wrote until now was shown to this one. Raises NotThere."""
    with db.of(person) as conn:
        clients.one(conn, client_id)
        messages.mark_read(conn, client_id, by_coach=person.role == "client", at=now)


def outbox_of(db: Database, person: Person, client_id: UUID | None) -> list[Posted]:
    """What the messenger carried: for a coach all letters of the practice or of one client, for a client their own."""
    with db.of(person) as conn:
        if person.client_id is not None:
            return messages.outbox(conn, person.client_id, to_coach=False)
        return messages.outbox(conn, client_id)


def undelivered(db: Database, coach: Person) -> list[Undelivered]:
    """Whom letters do not reach: each person once."""
    with db.of(coach) as conn:
        return messages.undelivered(conn)
