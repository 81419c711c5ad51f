"""Consents: giving, withdrawing, and asking before something is done that needs one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID, uuid4

from dimbo.catalogue import shipped_intake
from dimbo.core.safety.age import GUARDIANS, Age, age
from dimbo.core.safety.consent import Consent, ConsentState
from dimbo.store import removed
from dimbo.store.database import Conn, Database
from dimbo.store.intake import facts
from dimbo.store.intake.facts import NewFact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.results import letters
from dimbo.store.sittings import photographs
from dimbo.work.shared.errors import Refused, Why

from .entering import Author, day_of, second_coaches
from .looking import COMPARISON, PHOTOGRAPHS, SECOND_COACH, SHOW, come_near, consents_of

GUARDIAN_OF_PHOTOGRAPHS = GUARDIANS[PHOTOGRAPHS]
OF_PHOTOGRAPHS = frozenset({PHOTOGRAPHS, SECOND_COACH, COMPARISON, SHOW, GUARDIAN_OF_PHOTOGRAPHS})
"""Consents that decide on photographs: given and taken back by the client, or noted down by whoever may look at them."""
HOW_TOLD = ("in person", "in writing", "by telephone")
"""How a client told their coach whom they name."""

NOT_TAKEN = (ConsentState.REFUSED, ConsentState.WITHDRAWN, ConsentState.EXPIRED)
"""States of the consent in which no photographs are due; one that nobody asked for yet is asked for when they are."""


def consent_of(conn: Conn, client: Client, choice: str, now: datetime) -> Consent:
    """Where one consent of a client stands now."""
    return next(c for c in consents_of(conn, client, now) if c.text.id == choice)


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


@dataclass(frozen=True, kw_only=True)
class Agreements:
    """Every consent of a client, how many photographs are kept, and whom the client can name as second coach."""

    consents: list[Consent]
    photographs: int
    coaches: dict[UUID, str]


def of_client(db: Database, person: Person, client_id: UUID, now: datetime) -> Agreements:
    """Raises NotThere."""
    with db.of(person) as conn:
        client = clients.one(conn, client_id)
        return Agreements(
            consents=consents_of(conn, client, now),
            photographs=photographs.count(conn, client_id),
            coaches=second_coaches(conn, client),
        )


@dataclass(frozen=True, kw_only=True)
class Word:
    """A client's word on one consent. ``version`` is the text that was read; ``person`` names a guardian; ``account`` the
    second coach; ``how`` a coach who notes it down was told; ``deletes`` is how many photographs a withdrawal deletes."""

    given: bool
    version: int
    person: str = ""
    account: UUID | None = None
    how: str = ""
    deletes: int | None = None


def choose(db: Database, person: Person, client_id: UUID, choice: str, word: Word, *, now: datetime) -> None:
    """Give, refuse or withdraw one consent, by the client or by the coach in the client's presence. What decides on
    photographs is noted down only by whoever may look at them, so that nobody lets themselves in.

    Withdrawing "keep photographs" deletes them in the same transaction. Raises Refused, NotThere.
    """
    with db.of(person) as conn:
        if choice in OF_PHOTOGRAPHS:
            come_near(conn, person, client_id, now)
        if choice == SECOND_COACH and word.given and person.client_id is None and word.how not in HOW_TOLD:
            raise Refused(Why.NEEDED, "Say how the client told you: in person, in writing or by telephone.", "how")
        author = Author(person.practice_id, person.name, person.id, person.role)
        decide(conn, author, client_id, choice, word, now=now)


def _second_coach(conn: Conn, client: Client, account: UUID | None) -> str:
    """The name of the colleague who is named. Raises Refused."""
    here = second_coaches(conn, client)
    if not here:
        raise Refused(Why.NOT_NOW, "There is no other coach in this practice yet.", "account")
    if account not in here:
        raise Refused(Why.NEEDED, "Choose the second coach from the list.", "account")
    return here[account]


def decide(conn: Conn, author: Author, client_id: UUID, choice: str, word: Word, *, now: datetime, fact_id: UUID | None = None) -> None:
    """``choose`` within a transaction; ``fact_id`` where the one who chose has made an id, so that it is kept once."""
    text = shipped_intake().consents.get(choice)
    if text is None:
        raise Refused(Why.UNKNOWN, f"There is no consent “{choice}”.", "consent")
    if word.version != text.version:
        raise Refused(Why.CHANGED, "The text has changed in the meantime. Reload the page and read it again.", "version")
    client = clients.one(conn, client_id)
    value: dict[str, object] = {"given": word.given, "on": day_of(client, now).isoformat(), "version": word.version, "person": ""}
    if word.given and choice == SECOND_COACH:
        value |= {"person": _second_coach(conn, client, word.account), "account": str(word.account), "how": word.how}
    elif word.given and text.names:
        name = word.person.strip()[:120]
        if len(name) < 2:
            raise Refused(Why.NEEDED, f"Write the name of the {text.names}.", "person")
        value["person"] = name
    new = [_fact("consent", key=choice, value=value, author=author, now=now, fact_id=fact_id)]
    if choice == PHOTOGRAPHS and not word.given:
        kept = photographs.count(conn, client_id)
        if kept and word.deletes != kept:
            what = "1 photograph" if kept == 1 else f"{kept} photographs"
            raise Refused(Why.NEEDED, f"This deletes {what} and what was measured. Confirm the number.", "deletes")
        removed.forget_photographs(conn, client_id)
        if kept:
            photographs.delete_of_client(conn, client_id)
            letters.without_pictures(conn, client_id)
            new.append(_fact("photographs", key="deleted", value={"count": kept}, author=author, now=now))
    facts.add(conn, author.practice_id, client_id, new)


def _fact(kind: str, key: str, value: dict[str, object], author: Author, now: datetime, fact_id: UUID | None = None) -> NewFact:
    return NewFact(
        id=fact_id or uuid4(),
        kind=kind,
        key=key,
        value=value,
        at=now,
        author=author.name,
        author_id=author.account_id,
        source=author.source,
    )
