"""Photographs and records that are older than a practice keeps them: the notice, then their deletion."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

import structlog

from dimbo.core.calendar.keeping import Turn, turn
from dimbo.core.text import long_date
from dimbo.store import removed
from dimbo.store.database import AWAY, Conn, Database
from dimbo.store.messages import messages
from dimbo.store.messages.messages import Letter
from dimbo.store.people import clients, practices
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.records import erasures, keeping
from dimbo.store.records.keeping import Idle, Keeping
from dimbo.store.results import letters
from dimbo.store.sittings import photographs
from dimbo.work.intake.entering import day_of
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.remembered import forget

from .ledger import queue_noting

log = structlog.get_logger()
PHOTOGRAPHS, RECORD = "photographs", "record"


@dataclass(frozen=True)
class Going:
    """That something of a client goes on a day, and whether they were told; ``goes_on`` is None when it is kept without end."""

    what: str
    goes_on: date | None
    told: bool


def of_practice(db: Database, person: Person) -> Keeping:
    with db.of(person) as conn:
        return keeping.of_practice(conn)


def decide(db: Database, owner: Person, wanted: Keeping) -> None:
    """What the practice decides. Raises Refused when photographs were to be kept longer than the record that they are part of."""
    shots, whole = wanted.keep_photographs_months, wanted.keep_records_months
    if whole is not None and (shots is None or shots > whole):
        raise Refused(
            Why.CLASH,
            "The whole record includes the photographs: let photographs go no later than the record.",
            "keep_photographs_months",
        )
    with db.of(owner) as conn:
        keeping.decide(conn, wanted)


def _turns(ours: Keeping, of: Idle, today: date) -> Iterator[tuple[str, Turn]]:
    """Where a client's photographs and record stand today. With none there, no photographs go."""
    yield (
        PHOTOGRAPHS,
        turn(
            of.last_on,
            months=ours.keep_photographs_months if of.photographs else None,
            kept_until=of.kept_until,
            told_on=of.photographs_told_on,
            today=today,
        ),
    )
    yield (
        RECORD,
        turn(of.last_on, months=ours.keep_records_months, kept_until=of.kept_until, told_on=of.record_told_on, today=today),
    )


def going_of(conn: Conn, client: Client, today: date) -> list[Going]:
    """What becomes of a client's photographs and record, as things stand."""
    of = keeping.idle_one(conn, client.id)
    if of is None:
        return []
    told = {PHOTOGRAPHS: of.photographs_told_on, RECORD: of.record_told_on}
    return [Going(what, t.goes_on, told[what] is not None) for what, t in _turns(keeping.of_practice(conn), of, today) if t.goes_on]


def mind(db: Database, now: datetime) -> int:
    """One round over all practices: tell whose time is near, and delete whose time has come; returns how many were either."""
    with db.anyone() as conn:
        ids = practices.ids(conn)
    count = 0
    for practice_id in ids:
        with db.practice(practice_id) as conn:
            for client_id in keeping.running(conn):
                keeping.take_back(conn, client_id)
            ours, found = keeping.of_practice(conn), keeping.idle(conn)
        for idle in found:
            try:
                count += _mind_one(db, practice_id, idle.client_id, ours, now)
            except AWAY:
                raise
            except Exception:  # one record that cannot be worked out must not keep all others for ever
                log.exception("cannot be kept or deleted for age", client_id=str(idle.client_id))
    return count


def _mind_one(db: Database, practice_id: UUID, client_id: UUID, ours: Keeping, now: datetime) -> int:
    """A client at a time, in a transaction that looks again: whoever began a program meanwhile is left alone."""
    with db.practice(practice_id) as conn:
        clients.hold(conn, client_id)
        idle = keeping.idle_one(conn, client_id)
        if idle is None:
            return 0
        client = clients.one(conn, client_id)
        today, done = day_of(client, now), 0
        for what, at in _turns(ours, idle, today):
            if at.take_back:
                keeping.take_back(conn, client_id, what)
            if at.tell and at.goes_on:
                keeping.tell(conn, practice_id, client_id, what, told_on=today, goes_on=at.goes_on)
                _write(conn, practice_id, client, what=what, goes_on=at.goes_on, now=now)
            done += at.tell or at.delete
            if at.delete and what == RECORD:
                erasures.erase(conn, client_id, by_whom="age", reason="kept long enough", at=now)
                queue_noting(conn)
                forget(client_id)
            elif at.delete:
                removed.forget_photographs(conn, client_id)
                photographs.delete_of_client(conn, client_id)
                letters.without_pictures(conn, client_id)
                keeping.take_back(conn, client_id, what)
        return done


_WHAT = {PHOTOGRAPHS: "The photographs", RECORD: "The whole record"}


def _write(conn: Conn, practice_id: UUID, client: Client, *, what: str, goes_on: date, now: datetime) -> None:
    """The notice, to the client and to the coach."""
    at, ours = messages.addresses_of(conn, client.id), messages.reminding(conn)
    day = long_date(goes_on)
    to_client = (
        f"{_WHAT[what]} that {ours.name} keeps of you will be deleted on {day}, because nothing has happened for a long time.\n\n"
        "Take everything out before, or ask your coach to keep it longer, under “Your record”:\n\n/my-record"
    )
    to_coach = (
        f"{_WHAT[what]} of {client.name} will be deleted on {day}: that is how long the practice keeps them. "
        f"They were told as well.\n\nTo keep it longer, open the record:\n\n/clients/{client.id}/record"
    )
    for coach, address, body in ((False, at.client_email, to_client), (True, at.coach_email, to_coach)):
        if address:
            letter = Letter(
                client_id=client.id,
                to_coach=coach,
                address=address,
                kind="keeping",
                subject=f"{_WHAT[what]} will be deleted on {day}",
                body=body,
                key=f"keeping:{client.id}:{what}:{goes_on}:{'coach' if coach else 'client'}",
                due_at=now,
            )
            messages.post(conn, practice_id, letter)
