"""Removing and bringing back: nothing that took work is gone with one touch."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.text import long_date
from dimbo.store import removed
from dimbo.store.database import Conn, Database
from dimbo.store.exercises import media
from dimbo.store.people import clients, practices
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.programs import programs, templates
from dimbo.store.removed import Kind, Removed
from dimbo.store.sittings import photographs
from dimbo.work.intake.consenting import require
from dimbo.work.intake.looking import PHOTOGRAPHS, look, may_see, noted
from dimbo.work.shared.bringing_back import KEPT
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.queue import queue_analysis
from dimbo.work.sittings.taking import UNFINISHED


@dataclass(frozen=True)
class Still:
    """What was removed, and the moment from which it is gone for good."""

    row: Removed
    gone_at: datetime


def _photograph(conn: Conn, coach: Person, row_id: UUID, now: datetime) -> None:
    shot = photographs.one(conn, row_id)
    look(conn, coach, shot.client_id, now)


def _program(conn: Conn, coach: Person, row_id: UUID, now: datetime) -> None:
    programs.one(conn, row_id)
    if assignments.has_been_assigned(conn, row_id):
        raise Refused(Why.ALREADY, "This program was assigned, and what was practised by it stays. End it instead of discarding it.")


def _template(conn: Conn, coach: Person, row_id: UUID, now: datetime) -> None:
    templates.one(conn, row_id)


_MAY: dict[Kind, Callable[[Conn, Person, UUID, datetime], None]] = {
    Kind.PHOTOGRAPH: _photograph,
    Kind.PROGRAM: _program,
    Kind.TEMPLATE: _template,
}


def remove(db: Database, coach: Person, kind: Kind, row_id: UUID, now: datetime) -> None:
    """Take a photograph, a program that was never assigned, or a template out of sight. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        _MAY[kind](conn, coach, row_id, now)
        if kind is Kind.PHOTOGRAPH:
            shot, (view, day) = photographs.one(conn, row_id), photographs.view_and_day(conn, row_id)
            subject = f"{VIEWS[view].name}, {long_date(day)}"
            noted(conn, coach, shot.client_id, what="deleted photographs", subject=subject, now=now)
        removed.remove(conn, kind, row_id, by=coach.id, at=now)


def bring_back(db: Database, coach: Person, kind: Kind, row_id: UUID, now: datetime) -> None:
    """Bring back what was removed, as it was. Raises NotThere, Refused when the same picture came again meanwhile."""
    with db.of(coach) as conn:
        if kind is Kind.PHOTOGRAPH and removed.came_again(conn, row_id):
            raise Refused(Why.CHANGED, "The same picture was added again meanwhile. Remove that one first, or leave this one.")
        removed.bring_back(conn, kind, row_id)
        _MAY[kind](conn, coach, row_id, now)
        if kind is Kind.PHOTOGRAPH:
            shot = photographs.one(conn, row_id)
            require(conn, clients.one(conn, shot.client_id), PHOTOGRAPHS, now)
            if shot.state in ("waiting", "working"):
                queue_analysis(conn, coach.practice_id, photograph_id=row_id)


def still(db: Database, coach: Person, kind: Kind, client_id: UUID | None, now: datetime) -> list[Still]:
    """What was removed and can be brought back, the newest first. Raises NotThere."""
    with db.of(coach) as conn:
        if client_id is not None and kind is Kind.PHOTOGRAPH and not may_see(conn, coach, clients.one(conn, client_id), now):
            return []
        return [Still(r, r.removed_at + KEPT) for r in removed.of(conn, kind, client_id) if r.removed_at + KEPT > now]


def forget(db: Database, now: datetime) -> int:
    """Delete for good, in all practices, what was removed 30 days ago and longer, and files that were begun and never finished or used;
    returns how many there were of the first."""
    with db.anyone() as conn:
        ids = practices.ids(conn)
    gone = 0
    for practice_id in ids:
        with db.practice(practice_id) as conn:
            gone += removed.forget(conn, now - KEPT)
            photographs.forget_unfinished(conn, now - UNFINISHED)
            media.forget_unused(conn, now - UNFINISHED)
    return gone
