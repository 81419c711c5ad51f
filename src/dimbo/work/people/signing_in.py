"""Signing in, invitations, and who may do what."""

from __future__ import annotations

import re
import secrets
from datetime import UTC, datetime, timedelta
from uuid import UUID

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from dimbo.store.database import Conflict, Conn, Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Invitation, Person
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

MIN_PASSWORD = 10
INVITATION_DAYS = 14
TRIES, TRY_WINDOW = 8, timedelta(minutes=10)
"""Failed sign-ins of one e-mail, and five times as many of one address, before both must wait."""

_HASHER = PasswordHasher()
_NOBODY = _HASHER.hash("nobody has this password")
_EMAIL = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")


def hash_password(password: str) -> str:
    """argon2id, with a length that people can keep. Raises Refused."""
    if len(password) < MIN_PASSWORD:
        raise Refused(Why.BOUNDS, f"Use at least {MIN_PASSWORD} characters; four words are easy to keep.", "password")
    if len(password) > 200:
        raise Refused(Why.BOUNDS, "Use at most 200 characters.", "password")
    return _HASHER.hash(password)


def check_email(email: str) -> str:
    email = email.strip()
    if len(email) > 200 or not _EMAIL.fullmatch(email):
        raise Refused(Why.UNREADABLE, f"“{email[:60]}” is not an e-mail address. Write it like name@example.org.", "email")
    return email


def sign_in(db: Database, email: str, password: str, address: str, now: datetime, days: int) -> str:
    """Check and start a sign-in; returns its token. Raises Refused, after repeated failures for a while."""
    mail_key, address_key = f"mail:{email.strip().lower()}", f"from:{address}"
    with db.anyone() as conn:
        since = now - TRY_WINDOW
        if accounts.failures(conn, mail_key, since) >= TRIES or accounts.failures(conn, address_key, since) >= 5 * TRIES:
            raise Refused(Why.TOO_MANY, "Too many tries. Wait ten minutes, then sign in again.")
        found = accounts.credentials(conn, email.strip())
    try:
        _HASHER.verify(found.password_hash if found else _NOBODY, password)
        right = found is not None
    except (VerifyMismatchError, InvalidHashError):
        right = False
    with db.anyone() as conn:
        if not right or found is None:
            accounts.note_failure(conn, [mail_key, address_key])
        else:
            accounts.forget_failures(conn, mail_key)
            return _start(conn, found.id, now, days)
    raise Refused(Why.NOT_YOURS, "E-mail and password do not belong together. Check both; capital letters count.")


def _start(conn: Conn, account_id: UUID, now: datetime, days: int) -> str:
    token = secrets.token_urlsafe(32)
    accounts.start_sign_in(conn, account_id, token_hash(token), now + timedelta(days=days))
    return token


def sign_out(db: Database, token: str) -> None:
    with db.anyone() as conn:
        accounts.end_sign_in(conn, token_hash(token))


def who(db: Database, token: str | None) -> Person | None:
    """The person behind a sign-in token, or nobody."""
    if not token:
        return None
    with db.glance() as conn:
        return accounts.person(conn, token_hash(token))


def invite_client(db: Database, coach: Person, client_id: UUID, email: str, now: datetime) -> str:
    """A one-time link token for a client without an account."""
    email = check_email(email)
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        if client.has_account:
            raise Refused(Why.ALREADY, f"{client.name} has an account already.")
        if accounts.email_taken(conn, email):
            raise Refused(Why.ALREADY, "This e-mail address already has an account.", "email")
        token = secrets.token_urlsafe(24)
        accounts.invite(
            conn, coach.practice_id, client_id, email, token_hash=token_hash(token), expires_at=now + timedelta(days=INVITATION_DAYS)
        )
    return token


def invitation(db: Database, token: str) -> Invitation:
    """What an invitation link is for. Raises Refused when it cannot be used."""
    with db.anyone() as conn:
        found = accounts.invitation(conn, token_hash(token))
    if found is None:
        raise Refused(Why.LINK, "This link is not known. Ask your coach for a new one.")
    if found.used:
        raise Refused(Why.LINK, "This link has been used. Sign in with your e-mail and password.")
    if found.expired:
        raise Refused(Why.LINK, "This link has run out. Ask your coach for a new one.")
    return found


def accept_invitation(db: Database, token: str, password: str, days: int) -> str:
    """Make the client's account and sign in. The link works once, however often it is sent."""
    found, hashed, now = invitation(db, token), hash_password(password), datetime.now(UTC)
    try:
        with db.practice(found.practice_id) as conn:
            if not accounts.use_invitation(conn, token_hash(token)):
                raise Refused(Why.LINK, "This link has been used. Sign in with your e-mail and password.")
            account = accounts.create(
                conn, found.practice_id, "client", found.client_id, found.client_name, email=found.email, password_hash=hashed
            )
            return _start(conn, account, now, days)
    except Conflict as error:
        raise Refused(Why.ALREADY, str(error)) from error
