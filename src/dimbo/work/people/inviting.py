"""Invitations of clients: a link that makes their account, once."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.store.database import Conflict, Conn, Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Invitation, Person
from dimbo.store.people.clients import Client
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

from .passwords import hash_password
from .signing_in import Asking, Lasting, Tokens, check_email, start

INVITATION_DAYS = 14


def require_near(coach: Person, client: Client) -> None:
    """Whoever holds a client's link opens the account, and with it the photographs. Raises Refused for another coach's client."""
    if client.coach_id not in (None, coach.id):
        raise Refused(Why.NOT_YOURS, f"{client.name} is invited by the coach who took them on, or after being handed over.")


def require_free(conn: Conn, email: str) -> None:
    """Raises Refused for an address that somebody signs in with already."""
    if accounts.email_taken(conn, email):
        raise Refused(Why.ALREADY, "This e-mail address already has an account.", "email")


def invite_client(db: Database, coach: Person, client_id: UUID, email: str, now: datetime, *, token: str = "") -> str:
    """A one-time link token for a client without an account; ``token`` where it is made already. Raises Refused."""
    email = check_email(email)
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        require_near(coach, client)
        if client.has_account:
            raise Refused(Why.ALREADY, f"{client.name} has an account already.")
        require_free(conn, email)
        token = token or secrets.token_urlsafe(24)
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


def accept_invitation(db: Database, token: str, password: str, asking: Asking, now: datetime, lasts: Lasting) -> Tokens:
    """Make the client's account and sign in. The link works once, however often it is sent. Raises Refused."""
    found = invitation(db, token)
    hashed = hash_password(password, found.client_name, found.email, found.practice_name)
    try:
        with db.practice(found.practice_id) as conn:
            if not accounts.use_invitation(conn, token_hash(token)):
                raise Refused(Why.LINK, "This link has been used. Sign in with your e-mail and password.")
            account = accounts.create(
                conn, found.practice_id, "client", found.client_id, found.client_name, email=found.email, password_hash=hashed
            )
            return start(conn, account, asking, now, lasts)
    except Conflict as error:
        raise Refused(Why.ALREADY, str(error)) from error
