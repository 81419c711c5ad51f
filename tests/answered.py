"""Clients who were asked about their health and agreed to practise, as everybody must be before a program is assigned."""

from __future__ import annotations

from datetime import UTC, datetime
from uuid import UUID, uuid4

from dimbo.catalogue import shipped_intake
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.work.intake import consenting
from dimbo.work.intake.entering import Entry, coach_author, enter


def answer_all(db: Database, coach: Person, client_id: UUID, *yes: str, consent: bool = True) -> None:
    """No to every caution but those named, and yes to practising with guidance."""
    entries = [
        Entry(uuid4(), "caution", rule.id, {"answer": "yes" if rule.id in yes else "no"}) for rule in shipped_intake().tables.cautions
    ]
    with db.practice(coach.practice_id) as conn:
        enter(conn, coach_author(coach), client_id, entries, datetime.now(UTC))
    if consent:
        agreed = consenting.Word(given=True, version=shipped_intake().consents["practise"].version)
        consenting.choose(db, coach, client_id, "practise", agreed, now=datetime.now(UTC))


def answer_over_wire(wire, client_id: str) -> None:
    """The same through the API of a signed-in coach, with a no to everything."""
    entries = [{"id": str(uuid4()), "kind": "caution", "key": r.id, "value": {"answer": "no"}} for r in shipped_intake().tables.cautions]
    kept = wire.post(f"/api/clients/{client_id}/facts", json={"entries": entries})
    assert kept.status_code == 200, kept.text
    version = shipped_intake().consents["practise"].version
    agreed = wire.put(f"/api/clients/{client_id}/consents/practise", json={"given": True, "version": version})
    assert agreed.status_code == 200, agreed.text
