"""Those who work in a practice: invited, given a standing, shown some clients or all, and leaving."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.store.database import Conflict, Conn, Database
from dimbo.store.people import account_links, accounts, clients, sign_ins
from dimbo.store.people.account_links import AccountLink, Invited
from dimbo.store.people.accounts import Account, Person
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

from . import account_letters
from .account import opened, password_link
from .passwords import hash_password
from .signing_in import Asking, Lasting, Tokens, check_email, start

OWNER, COACH, ASSISTANT = "owner", "coach", "assistant"
LINK_DAYS = 14
RESET_LINK = timedelta(days=2)
"""How long a link for a new password holds that somebody hands over themselves."""


@dataclass(frozen=True)
class Staff:
    """Everybody who works or has worked here, and who was invited."""

    people: list[Account]
    invited: list[Invited]


def everybody(db: Database, person: Person) -> Staff:
    with db.of(person) as conn:
        return Staff(accounts.staff(conn), account_links.invited(conn))


def invite(db: Database, owner: Person, name: str, email: str, standing: str, now: datetime) -> str:
    """Invite a colleague; returns the token of a link that works once. Raises Refused."""
    with db.of(owner) as conn:
        return invite_to(conn, owner.practice_id, practice=owner.practice_name, name=name, email=email, standing=standing, now=now)


def invite_to(conn: Conn, practice_id: UUID, *, practice: str, name: str, email: str, standing: str, now: datetime) -> str:
    """``invite`` within a transaction of the practice."""
    email, name = check_email(email), name.strip()
    if not 1 <= len(name) <= 120 or not name.isprintable():
        raise Refused(Why.NEEDED, "Write the colleague's name.", "name")
    if accounts.email_taken(conn, email):
        raise Refused(Why.ALREADY, "This address already has an account.", "email")
    token = secrets.token_urlsafe(24)
    until = now + timedelta(days=LINK_DAYS)
    account_links.make(conn, practice_id, "colleague", token_hash(token), until, name=name, email=email, standing=standing)
    body = f"{practice} invites you to work with Dimbo. Choose a password within {LINK_DAYS} days:\n\n/join/{token}"
    account_letters.post(conn, practice_id, address=email, subject=f"{practice} invites you", body=body, now=now)
    return token


def take_invitation_back(db: Database, owner: Person, link_id: UUID) -> None:
    """One that was used or taken back already is no error."""
    with db.of(owner) as conn:
        account_links.end(conn, link_id)


def invitation(db: Database, token: str) -> AccountLink:
    """Raises Refused when it cannot be used."""
    return opened(db, token, kind="colleague")


def join(db: Database, token: str, password: str, asking: Asking, now: datetime, lasts: Lasting) -> Tokens:
    """Make a colleague's account and sign in; the link works once. Raises Refused."""
    link = invitation(db, token)
    hashed = hash_password(password, link.name, link.email, link.practice_name)
    try:
        with db.practice(link.practice_id) as conn:
            if not account_links.use(conn, link.id):
                raise Refused(Why.LINK, "This link has been used. Sign in with your e-mail and password.")
            made = accounts.create(
                conn, link.practice_id, "coach", None, link.name, email=link.email, password_hash=hashed, standing=link.standing or COACH
            )
            return start(conn, made, asking, now, lasts)
    except Conflict as error:
        raise Refused(Why.ALREADY, str(error)) from error


@dataclass(frozen=True, kw_only=True)
class Change:
    """What the owner decides of somebody."""

    standing: str
    sees_all: bool
    sees: list[UUID]
    """Whose clients are seen besides the own ones, unless all are."""
    disabled: bool


def change(db: Database, owner: Person, account_id: UUID, to: Change, now: datetime) -> None:
    """Give a standing, say whose clients are seen, disable or let in again. Somebody always owns the practice, and nobody
    leaves with clients. Raises Refused, NotThere."""
    with db.of(owner) as conn:
        people = {a.id: a for a in accounts.staff(conn)}
        known = accounts.one(conn, account_id)
        if account_id not in people:
            raise Refused(Why.CLASH, "This is a client's account. Archive the client instead.")
        owners = [a for a in people.values() if a.standing == OWNER and a.disabled_at is None]
        if known in owners and len(owners) == 1 and (to.standing != OWNER or to.disabled):
            raise Refused(Why.NOT_NOW, f"{known.name} is the only owner. Make somebody else an owner first.", "standing")
        if known.clients and (to.disabled or to.standing == ASSISTANT):
            raise Refused(
                Why.NOT_NOW,
                f"{known.name} has taken on {'1 client' if known.clients == 1 else f'{known.clients} clients'}. Hand them over first.",
                "disabled" if to.disabled else "standing",
            )
        if unknown := [i for i in to.sees if i not in people]:
            raise Refused(Why.UNKNOWN, f"There is no colleague {unknown[0]}.", "sees")
        since = None if not to.disabled else known.disabled_at or now
        accounts.change(conn, account_id, standing=to.standing, sees_all=to.sees_all, disabled_at=since)
        sees = [] if to.sees_all else [i for i in to.sees if i != account_id]
        accounts.see_clients_of(conn, owner.practice_id, account_id=account_id, coaches=sees)
        if to.disabled:
            sign_ins.end_all(conn, account_id)


def new_password_link(db: Database, owner: Person, account_id: UUID, now: datetime) -> str:
    """A link by which somebody of the practice chooses a new password, to be handed over by the owner; returns its token."""
    with db.of(owner) as conn:
        if accounts.one(conn, account_id).role != "coach":
            raise Refused(Why.NOT_YOURS, "A client's password is the client's own: under “Forgotten password?” they get a link by mail.")
        return password_link(conn, owner.practice_id, account_id=account_id, until=now + RESET_LINK)


def takes_on(somebody: Account) -> bool:
    """Whether somebody can take clients on: a coach or an owner who works here."""
    return somebody.standing in (OWNER, COACH) and somebody.disabled_at is None


def hand_over(db: Database, person: Person, to: UUID, *, from_: UUID | None = None, client_id: UUID | None = None) -> int:
    """Hand one client, or all of a colleague's, to another coach; returns how many. The owner may hand over anybody's, a coach
    their own. With the client go the photographs. Raises Refused, NotThere."""
    with db.of(person) as conn:
        taker = accounts.one(conn, to)
        if not takes_on(taker):
            raise Refused(Why.CLASH, "Clients are taken on by a coach or an owner who works here.", "to")
        if client_id is not None:
            client = clients.one(conn, client_id)
            if person.standing != OWNER and client.coach_id != person.id:
                raise Refused(Why.NOT_YOURS, f"{client.name} is handed over by the coach who took them on, or by an owner.")
            return clients.hand_over(conn, to, client_id=client_id)
        if person.standing != OWNER and from_ != person.id:
            raise Refused(Why.NOT_YOURS, "Only an owner hands over a colleague's clients.")
        return clients.hand_over(conn, to, from_=from_)
