"""Consents: giving, withdrawing, and asking before something is done that needs one."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid4

from dimbo.catalogue import shipped_intake
from dimbo.core.safety.age import Age, age
from dimbo.core.safety.consent import Consent, ConsentState
from dimbo.store import removed
from dimbo.store.database import Conn, Database
from dimbo.store.intake import facts
from dimbo.store.intake.facts import NewFact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.sittings import photographs
from dimbo.work.shared.errors import Refused, Why

from .entering import Author, consents, day_of

PHOTOGRAPHS, PRACTISE, SECOND_COACH, COMPARISON, SHOW = "photographs", "practise", "second-coach", "comparison", "show-others"

NOT_TAKEN = (ConsentState.REFUSED, ConsentState.WITHDRAWN, ConsentState.EXPIRED)
"""States of the consent in which no photographs are due; one that nobody asked for yet is asked for when they are."""


def _all(conn: Conn, client: Client, now: datetime) -> list[Consent]:
    return consents(facts.of_kind(conn, client.id, "consent"), day_of(client, now), client.birth_year)


def consent_of(conn: Conn, client: Client, choice: str, now: datetime) -> Consent:
    """Where one consent of a client stands now."""
    return next(c for c in _all(conn, client, now) if c.text.id == choice)


def require(conn: Conn, client: Client, choice: str, now: datetime) -> None:
    """Raises Refused unless the consent is in force."""
    if age(client.birth_year, day_of(client, now)) is Age.UNKNOWN:
        raise Refused(
            Why.NOT_NOW,
            f"The year of birth of {client.name} is not known; under 16 nobody is photographed. Ask under Intake.",
            "birth_year",
        )
    found = consent_of(conn, client, choice, now)
    if not found.in_force:
        raise Refused(
            Why.NOT_AGREED, f"{client.name} has not agreed to “{found.text.name.lower()}”. {found.sentence} Ask under Intake.", "consent"
        )


def may_see(conn: Conn, person: Person, client: Client, now: datetime) -> bool:
    """Whether someone may look at a client's photographs: the client, the coach who took the client on, or a second coach
    whom the client named. Without consent to keep photographs nobody but the client sees them."""
    return person.client_id == client.id or sees(_all(conn, client, now), person, client)


def sees(known: list[Consent], person: Person, client: Client) -> bool:
    """``may_see`` for a coach, from the client's consents."""
    state = {c.text.id: c for c in known}
    if not state[PHOTOGRAPHS].in_force:
        return False
    if client.coach_id is None or client.coach_id == person.id:
        return True
    second = state[SECOND_COACH]
    return second.in_force and second.person.casefold() == person.name.casefold()


def of_client(db: Database, person: Person, client_id: UUID, now: datetime) -> tuple[list[Consent], int]:
    """Every consent of a client, and how many photographs are kept. Raises NotThere."""
    with db.practice(person.practice_id, person.client_id) as conn:
        client = clients.one(conn, client_id)
        return _all(conn, client, now), photographs.count(conn, client_id)


def choose(
    db: Database,
    person: Person,
    client_id: UUID,
    choice: str,
    given: bool,
    now: datetime,
    *,
    version: int,
    second_coach: str = "",
    deletes: int | None = None,
) -> None:
    """Give, refuse or withdraw one consent, by the client or by the coach in the client's presence.

    Withdrawing "keep photographs" deletes them in the same transaction; ``deletes`` must name how many there are.
    Raises Refused.
    """
    with db.practice(person.practice_id, person.client_id) as conn:
        author = Author(person.practice_id, person.name, person.id, person.role)
        decide(conn, author, client_id, choice, given=given, now=now, version=version, second_coach=second_coach, deletes=deletes)


def decide(
    conn: Conn,
    author: Author,
    client_id: UUID,
    choice: str,
    given: bool,
    now: datetime,
    *,
    version: int,
    second_coach: str = "",
    deletes: int | None = None,
    fact_id: UUID | None = None,
) -> None:
    """``choose`` within a transaction; ``fact_id`` where the one who chose has made an id, so that it is kept once."""
    text = shipped_intake().consents.get(choice)
    if text is None:
        raise Refused(Why.UNKNOWN, f"There is no consent “{choice}”.", "consent")
    if version != text.version:
        raise Refused(Why.CHANGED, "The text has changed in the meantime. Reload the page and read it again.", "version")
    second_coach = second_coach.strip()[:120]
    if given and text.names and len(second_coach) < 2:
        raise Refused(Why.NEEDED, f"Write the name of the {text.names}.", "second_coach")
    client = clients.one(conn, client_id)
    value = {"given": given, "on": day_of(client, now).isoformat(), "version": version, "person": second_coach if given else ""}
    new = [
        NewFact(
            id=fact_id or uuid4(),
            kind="consent",
            key=choice,
            value=value,
            at=now,
            author=author.name,
            author_id=author.account_id,
            source=author.source,
        )
    ]
    if choice == PHOTOGRAPHS and not given:
        kept = photographs.count(conn, client_id)
        if kept and deletes != kept:
            what = "1 photograph" if kept == 1 else f"{kept} photographs"
            raise Refused(Why.NEEDED, f"This deletes {what} and what was measured. Confirm the number.", "deletes")
        removed.forget_photographs(conn, client_id)
        if kept:
            photographs.delete_of_client(conn, client_id)
            new.append(
                NewFact(
                    id=uuid4(),
                    kind="photographs",
                    key="deleted",
                    value={"count": kept},
                    at=now,
                    author=author.name,
                    author_id=author.account_id,
                    source=author.source,
                )
            )
    facts.add(conn, author.practice_id, client_id, new)
