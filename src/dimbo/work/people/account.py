"""Everybody's own account: name, address, password, where they are signed in, and a forgotten password."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import zone
from dimbo.store.database import Conflict, Conn, Database
from dimbo.store.people import account_links, accounts, clients, sign_ins
from dimbo.store.people.account_links import AccountLink
from dimbo.store.people.accounts import Account, Person
from dimbo.store.people.sign_ins import SignIn
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

from . import account_letters
from .passwords import hash_password, is_right
from .signing_in import TRIES, Asking, Lasting, Tokens, check_email, start

PASSWORD_LINK, ADDRESS_LINK = timedelta(minutes=30), timedelta(days=2)
ASKED_AGAIN = timedelta(hours=1)
MOST_ASKED = 4
"""Letters about a forgotten password that one address gets in an hour."""


@dataclass(frozen=True, kw_only=True)
class Own:
    """The account page."""

    account: Account
    pending: str
    """An address that waits to be confirmed."""
    recovery_codes: int
    sign_ins: list[SignIn]


def own(db: Database, person: Person, token: str) -> Own:
    with db.of(person) as conn:
        return Own(
            account=accounts.one(conn, person.id),
            pending=account_links.pending_address(conn, person.id),
            recovery_codes=accounts.recovery_codes_left(conn, person.id),
            sign_ins=sign_ins.of_account(conn, person.id, token_hash(token)),
        )


def zone_of(db: Database, person: Person) -> str | None:
    """The zone of the days of somebody who works here, once they have chosen one."""
    with db.of(person) as conn:
        return accounts.one(conn, person.id).time_zone


def rename(db: Database, person: Person, name: str, time_zone: str | None) -> None:
    """Change the name that others read, and for those who work here the zone of their days. Raises Refused."""
    name = name.strip()
    if not 1 <= len(name) <= 120 or not name.isprintable():
        raise Refused(Why.NEEDED, "Write the name that others read.", "name")
    try:
        tz = zone(time_zone).key if time_zone else None
    except ValueError as error:
        raise Refused(Why.UNREADABLE, str(error), "time_zone") from error
    with db.of(person) as conn:
        accounts.change(conn, person.id, name=name, time_zone=tz)
        if person.client_id:
            clients.set_profile(conn, person.client_id, "name", name)


def change_password(db: Database, person: Person, old: str, new: str, token: str) -> int:
    """A new password signs the account out everywhere else, and ends every link that was sent for it; returns in how many
    places it was signed in. Raises Refused."""
    with db.of(person) as conn:
        known = accounts.secrets_of(conn, person.id)
    if not is_right(old, kept=known.password_hash):
        raise Refused(Why.NOT_YOURS, "This is not your password.", "old")
    hashed = hash_password(new, known.name, known.email, person.practice_name)
    with db.of(person) as conn:
        accounts.change(conn, person.id, password_hash=hashed)
        account_links.end_of(conn, person.id)
        return sign_ins.end_all(conn, person.id, but=token_hash(token))


def sign_out_elsewhere(db: Database, person: Person, token: str) -> int:
    """Returns in how many places."""
    with db.of(person) as conn:
        return sign_ins.end_all(conn, person.id, but=token_hash(token))


def end_sign_in(db: Database, person: Person, sign_in_id: UUID) -> None:
    """One that has ended already is no error."""
    with db.of(person) as conn:
        sign_ins.end_one(conn, person.id, sign_in_id=sign_in_id)


def ask_for_address(db: Database, person: Person, email: str, password: str, now: datetime) -> None:
    """Send a link to a new address; the old one holds until it is followed. Raises Refused."""
    email = check_email(email)
    with db.of(person) as conn:
        known = accounts.secrets_of(conn, person.id)
    if not is_right(password, kept=known.password_hash):
        raise Refused(Why.NOT_YOURS, "This is not your password.", "password")
    token = secrets.token_urlsafe(24)
    with db.practice(person.practice_id) as conn:
        if accounts.email_taken(conn, email):
            raise Refused(Why.ALREADY, "This address already has an account.", "email")
        account_links.make(
            conn, person.practice_id, "address", token_hash(token), now + ADDRESS_LINK, account_id=person.id, email=email, name=known.name
        )
        body = f"Follow this link within two days, and you sign in with this address from then on:\n\n/confirm-address/{token}"
        account_letters.post(conn, person.practice_id, address=email, subject="Confirm your address", body=body, now=now)
        told = f"Somebody who knows your password asked that you sign in with {email} instead. If it was not you, change your password."
        account_letters.post(conn, person.practice_id, address=known.email, subject="Your address is about to change", body=told, now=now)


def confirm_address(db: Database, token: str) -> str:
    """The address of an account becomes the one whose link was followed; returns it. Raises Refused."""
    link = opened(db, token, kind="address")
    assert link.account_id
    try:
        with db.practice(link.practice_id) as conn:
            _use(conn, link)
            accounts.change(conn, link.account_id, email=link.email)
    except Conflict as error:
        raise Refused(Why.ALREADY, str(error)) from error
    return link.email


def forgot(db: Database, email: str, asking: Asking, now: datetime) -> None:
    """Send a link for a new password when the address is known. Whoever asks is told the same either way.

    Raises Refused only for too many questions from one place.
    """
    email = email.strip()
    with db.anyone() as conn:
        if not sign_ins.try_once(conn, f"forgot-from:{asking.address}", 5 * TRIES, now - ASKED_AGAIN):
            raise Refused(Why.TOO_MANY, "Too many questions from this place. Wait an hour, then ask again.")
        found = accounts.credentials(conn, email)
        wanted = sign_ins.try_once(conn, f"forgot:{email.lower()[:200]}", MOST_ASKED, now - ASKED_AGAIN)
    if found is None or not wanted:
        return
    with db.practice(found.practice_id) as conn:
        token = password_link(conn, found.practice_id, account_id=found.id, until=now + PASSWORD_LINK)
        body = (
            f"Follow this link within 30 minutes to choose a new password:\n\n/new-password/{token}\n\n"
            "If you did not ask for it, nothing has to be done: your password holds."
        )
        account_letters.post(conn, found.practice_id, address=found.email, subject="A new password", body=body, now=now)


def password_link(conn: Conn, practice_id: UUID, account_id: UUID, until: datetime) -> str:
    """A link by which an account gets a new password, once; returns its token. An earlier one ends."""
    token = secrets.token_urlsafe(24)
    account_links.make(conn, practice_id, "password", token_hash(token), until, account_id=account_id)
    return token


def opened(db: Database, token: str, kind: str) -> AccountLink:
    """What a link is for. Raises Refused when it cannot be used."""
    with db.anyone() as conn:
        link = account_links.by_token(conn, token_hash(token))
    if link is None or link.kind != kind:
        raise Refused(Why.LINK, "This link is not known. Check that it was copied whole, or ask for a new one.")
    if link.used:
        raise Refused(Why.LINK, "This link has been used. Sign in, or ask for a new one.")
    if link.expired:
        raise Refused(Why.LINK, "This link has run out. Ask for a new one.")
    return link


def set_password(db: Database, token: str, password: str, asking: Asking, now: datetime, lasts: Lasting) -> Tokens | None:
    """A new password by a link, once: signs out everywhere, and signs in here unless a second factor is asked for (then None).

    Raises Refused.
    """
    link = opened(db, token, kind="password")
    assert link.account_id
    hashed = hash_password(password, link.name, link.email, link.practice_name)
    with db.practice(link.practice_id) as conn:
        _use(conn, link)
        accounts.change(conn, link.account_id, password_hash=hashed)
        account_links.end_of(conn, link.account_id)
        sign_ins.end_all(conn, link.account_id)
        known = accounts.secrets_of(conn, link.account_id)
        sign_ins.forget_tries(conn, f"mail:{known.email.lower()}")
        return None if known.totp_since else start(conn, link.account_id, asking, now, lasts)


def _use(conn: Conn, link: AccountLink) -> None:
    if not account_links.use(conn, link.id):
        raise Refused(Why.LINK, "This link has been used. Sign in, or ask for a new one.")
