"""Opening a practice, and what whoever runs the server does for its people. Works as the owner of the tables."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid4

from dimbo.store.database import Database
from dimbo.store.people import accounts, practices
from dimbo.store.people.practices import Listed
from dimbo.work.shared.errors import Refused, Why

from .account import password_link
from .signing_in import check_email
from .staff import OWNER, RESET_LINK, invite_to


def create_practice(db: Database, name: str, coach: str, email: str, now: datetime) -> tuple[UUID, str]:
    """A new practice and the invitation of its first coach, who owns it; returns its id and the path of a one-time link.

    Raises Refused; then there is no practice.
    """
    name = name.strip()
    if not 1 <= len(name) <= 120 or not name.isprintable():
        raise Refused(Why.NEEDED, "Name the practice, in at most 120 characters.", "name")
    made = uuid4()
    with db.practice(made) as conn:
        practices.create(conn, made, name)
        token = invite_to(conn, made, practice=name, name=coach, email=email, standing=OWNER, now=now)
    return made, f"/join/{token}"


def every_practice(db: Database) -> list[Listed]:
    """The oldest first."""
    with db.anyone() as conn:
        ids = practices.ids(conn)
    found = []
    for practice_id in ids:
        with db.practice(practice_id) as conn:
            found.append(practices.here(conn))
    return sorted(found, key=lambda p: (p.created_at, p.id))


def _practice(db: Database, wanted: str) -> Listed:
    """A practice by its name, or the beginning of its id; the only one when nothing is named. Raises Refused."""
    known = every_practice(db)
    fitting = [p for p in known if p.name.casefold() == wanted.strip().casefold() or str(p.id).startswith(wanted.strip() or "-")]
    found = fitting if wanted.strip() else known
    if len(found) != 1:
        names = ", ".join(f"{p.name} ({str(p.id)[:8]})" for p in known) or "none yet"
        said = f"Name one practice with --practice, by its name or the beginning of its id. There are: {names}."
        raise Refused(Why.NEEDED, said, "practice")
    return found[0]


def add_coach(db: Database, practice: str, name: str, email: str, standing: str, now: datetime) -> tuple[Listed, str]:
    """Invite a colleague; returns the practice and the path of a one-time link. Raises Refused."""
    to = _practice(db, practice)
    with db.practice(to.id) as conn:
        return to, f"/join/{invite_to(conn, to.id, practice=to.name, name=name, email=email, standing=standing, now=now)}"


def reset_link(db: Database, email: str, now: datetime) -> str:
    """The path of a link by which the account of an address gets a new password. Raises Refused."""
    email = check_email(email)
    with db.anyone() as conn:
        found = accounts.credentials(conn, email)
    if found is None:
        raise Refused(Why.UNKNOWN, f"{email} has no account, or it is disabled.", "email")
    with db.practice(found.practice_id) as conn:
        return f"/new-password/{password_link(conn, found.practice_id, account_id=found.id, until=now + RESET_LINK)}"
