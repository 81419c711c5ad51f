"""One link that opens everything that is due of a client, in one place: the account, the intake, photographs.

Each is opened by a link of its own kind, made when it is wanted, on behalf of the coach who made this one and by that coach's
rights at that moment. Opened again it is the same link, so that another tab goes on.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum
from uuid import UUID

from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.store.database import Conn, Database
from dimbo.store.intake import self_intakes
from dimbo.store.messages import messages
from dimbo.store.people import accounts, clients, due_links
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.people.due_links import DueLink
from dimbo.store.sittings import photographs
from dimbo.work.intake import self_filling
from dimbo.work.intake.consenting import consent_of
from dimbo.work.intake.looking import PHOTOGRAPHS
from dimbo.work.people import account_letters, inviting
from dimbo.work.people.signing_in import check_email
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import derived, token_hash
from dimbo.work.sittings import taking

LINK_DAYS = 14


class What(StrEnum):
    ACCOUNT = "account"
    INTAKE = "intake"
    PHOTOGRAPHS = "photographs"


class At(StrEnum):
    DUE = "due"
    DONE = "done"
    NOT_YET = "not yet"


@dataclass(frozen=True, kw_only=True)
class Due:
    """What a client sees behind the link."""

    client_name: str
    practice_name: str
    account: At
    intake: At
    photographs: At


def make(db: Database, coach: Person, client_id: UUID, email: str, now: datetime) -> str:
    """A link for a client of the coach's own; returns its token. With an address it goes there by mail as well, and is what the
    client signs in with. An earlier link ends. Raises Refused."""
    token = secrets.token_urlsafe(24)
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        inviting.require_near(coach, client)
        if not client.has_account:
            email = check_email(email or client.email)
            inviting.require_free(conn, email)
            clients.set_profile(conn, client_id, "email", email)
        until = now + timedelta(days=LINK_DAYS)
        due_links.make(
            conn, practice_id=coach.practice_id, client_id=client_id, made_by=coach.id, token_hash=token_hash(token), expires_at=until
        )
        if address := messages.addresses_of(conn, client_id).client_email:
            body = (
                f"{coach.name} sends you one link for all that is due: it opens what you have not done yet, for {LINK_DAYS} days."
                f"\n\n/due/{token}\n\n{STANDING_LINE}"
            )
            # Whoever holds it opens the account, so it is read by the worker that carries it and by nobody else.
            account_letters.post(
                conn, coach.practice_id, address=address, subject=f"{coach.practice_name}: what is due", body=body, now=now
            )
    return token


def _opened(db: Database, token: str) -> DueLink:
    with db.anyone() as conn:
        link = due_links.by_token(conn, token_hash(token))
    if link is None:
        raise Refused(Why.LINK, "This link is not known, or a newer one was sent. Ask your coach.")
    if link.expired:
        raise Refused(Why.LINK, "This link has run out. Ask your coach for a new one.")
    return link


def _intake(conn: Conn, client: Client) -> At:
    sent = self_intakes.newest(conn, client.id)
    return At.DONE if client.intake_finished_at or (sent and sent.submitted_at) else At.DUE


def _photographs(conn: Conn, client: Client, now: datetime) -> At:
    if not consent_of(conn, client, PHOTOGRAPHS, now).in_force:
        return At.NOT_YET
    if taking.waiting(conn, client.id):
        return At.DUE
    return At.DONE if photographs.count(conn, client.id) else At.NOT_YET


def look(db: Database, token: str, now: datetime) -> Due:
    """All that is due. Raises Refused."""
    link = _opened(db, token)
    with db.practice(link.practice_id, link.client_id) as conn:
        client = clients.one(conn, link.client_id)
        return Due(
            client_name=link.client_name,
            practice_name=link.practice_name,
            account=At.DONE if client.has_account else At.DUE,
            intake=_intake(conn, client),
            photographs=_photographs(conn, client, now),
        )


def open_one(db: Database, token: str, what: What, now: datetime) -> str:
    """The page that opens one of the things that are due. Raises Refused, also when the coach who made the link may not any more."""
    link = _opened(db, token)
    with db.practice(link.practice_id) as conn:
        maker = accounts.at_work(conn, link.made_by)
        client = clients.one(conn, link.client_id)
        sitting = taking.waiting(conn, link.client_id) if what is What.PHOTOGRAPHS else None
    if maker is None:
        raise Refused(Why.LINK, "This link has ended with whoever sent it. Ask your coach for a new one.")
    own = derived(token, purpose=f"{what} {sitting.id}" if sitting else what)
    match what:
        case What.ACCOUNT:
            if not _still_invites(db, own):
                inviting.invite_client(db, maker, client.id, client.email, now, token=own)
            return f"/invite/{own}"
        case What.INTAKE:
            known = _known_intake(db, own)
            if known is False:
                own = self_filling.send(db, maker, client.id, now)
            elif known is None:
                self_filling.send(db, maker, client.id, now, token=own)
            return f"/intake/{own}"
        case _:
            if sitting is None:
                raise Refused(Why.NOT_NOW, "No photographs are due at this moment.")
            taking.send_link(db, maker, sitting.id, now, token=own)
            return f"/photographs/{own}"


def _still_invites(db: Database, token: str) -> bool:
    with db.anyone() as conn:
        found = accounts.invitation(conn, token_hash(token))
    return found is not None and not found.used and not found.expired


def _known_intake(db: Database, token: str) -> bool | None:
    """Whether the intake behind a token can be filled in still; None when there is none yet."""
    with db.anyone() as conn:
        found = self_intakes.by_token(conn, token_hash(token))
    return None if found is None else not (found.expired or found.revoked or found.submitted)
