"""Erasing a client: by the client, or by an owner of the practice."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from dimbo.store.database import Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.records import erasures
from dimbo.store.records.erasures import Erasure
from dimbo.work.people.passwords import is_right
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.remembered import forget

from .ledger import queue_noting

REASONS = {"asked for": "the client asked for it", "mistake": "the record was made by mistake"}
"""Why an owner erases; no words of their own, because the reason stays when all else is gone."""


def erase_self(db: Database, client: Person, password: str, now: datetime) -> None:
    """Everything of the client who is signed in, for good; they are signed out everywhere by it. Raises Refused."""
    assert client.client_id
    _check(db, client, password)
    with db.of(client) as conn:
        erasures.erase(conn, client.client_id, by_whom="client", reason="own wish", at=now)
        queue_noting(conn)
    forget(client.client_id)


def erase(db: Database, owner: Person, client_id: UUID, *, name: str, password: str, reason: str, now: datetime) -> None:
    """Everything of a client, for good. ``name`` is the client's name once more, so that it is nobody else. Raises NotThere,
    Refused."""
    if reason not in REASONS:
        raise Refused(Why.NEEDED, "Say why it is erased: the client asked for it, or it was made by mistake.", "reason")
    _check(db, owner, password)
    with db.of(owner) as conn:
        client = clients.one(conn, client_id)
        if " ".join(name.split()).casefold() != " ".join(client.name.split()).casefold():
            raise Refused(Why.CLASH, f"Write the name as it stands here: {client.name}.", "name")
        erasures.erase(conn, client_id, by_whom="owner", reason=reason, at=now)
        queue_noting(conn)
    forget(client_id)


def _check(db: Database, person: Person, password: str) -> None:
    with db.of(person) as conn:
        known = accounts.secrets_of(conn, person.id)
    if not is_right(password, kept=known.password_hash):
        raise Refused(Why.NOT_YOURS, "This is not your password. Nothing was erased.", "password")


def tombstones(db: Database, owner: Person) -> list[Erasure]:
    """What stays of whom the practice erased, the newest first."""
    with db.of(owner) as conn:
        return erasures.every(conn)
