"""Ending a program, with what follows, and taking an ending back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.programs.program import Settings
from dimbo.core.sessions.merging import MOST_AT_ONCE
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, PlannedDay
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.shared.bringing_back import KEPT
from dimbo.work.shared.errors import Refused, Why

from .assigning import standing_against
from .plan_calendar import lay, program_of

FOLLOWS = {
    "next": "Your coach is preparing what comes next. Until then nothing is due.",
    "rest": "Now is a rest. Nothing is due until your coach plans again.",
    "done": "Your program is complete. Keep what does you good, in small doses; your coach is there when you want to go on.",
}
"""What comes after a program that was ended, and what the client reads about it."""


@dataclass(frozen=True)
class Ended:
    """What an ending takes away: sessions that were still planned, and the last day of them."""

    sessions: int
    last: date | None


def _today(client: Client, now: datetime) -> date:
    return practice_day(now, zone(client.time_zone))


def preview(db: Database, coach: Person, assignment_id: UUID, now: datetime) -> Ended:
    """What would no longer be due. Raises NotThere."""
    with db.of(coach) as conn:
        running = assignments.one(conn, assignment_id)
        ahead = assignments.sessions(conn, running.id, _today(clients.one(conn, running.client_id), now))
        return Ended(len(ahead), ahead[-1].day if ahead else None)


def end(db: Database, coach: Person, assignment_id: UUID, follows: str, now: datetime) -> None:
    """End a running assignment today; what was done stays. Raises NotThere, Refused while nobody said what follows."""
    if follows not in FOLLOWS:
        raise Refused(Why.NEEDED, "Say what follows: the next program, a rest, or that it is complete.", "follows")
    with db.of(coach) as conn:
        running = assignments.one(conn, assignment_id)
        client = clients.one(conn, running.client_id)
        assignments.end(conn, assignment_id, _today(client, now), follows, now)


def take_back(db: Database, coach: Person, assignment_id: UUID, now: datetime) -> None:
    """Let a program that was ended run again, its days laid out as they were. Raises NotThere, Refused.

    What lay between is treated like any days without practice.
    """
    with db.of(coach) as conn:
        ended = assignments.one(conn, assignment_id)
        if ended.ended_at is None:
            raise Refused(Why.ALREADY, "This program is running.")
        if ended.ended_at + KEPT < now:
            raise Refused(Why.ALREADY, "It was ended more than 30 days ago. Assign the program anew.")
        client = clients.one(conn, ended.client_id)
        _may_run(conn, coach, client, ended, now)
        since = ended.ended_from or _today(client, ended.ended_at)
        assignments.take_ending_back(conn, assignment_id)
        assignments.replan(
            conn,
            coach.practice_id,
            client.id,
            assignment_id=assignment_id,
            from_day=since,
            days=_days_from(conn, coach.practice_id, ended, since),
        )


def _may_run(conn: Conn, coach: Person, client: Client, ended: Assignment, now: datetime) -> None:
    """Whether the program still fits beside what was assigned since. Raises Refused."""
    beside = assignments.running_of(conn, client.id)
    if len(beside) >= MOST_AT_ONCE:
        raise Refused(Why.NOT_NOW, f"{client.name} practises two other programs now; two at once are the most. End one first.")
    if any(a.program_id == ended.program_id for a in beside):
        raise Refused(Why.CHANGED, "This program was assigned again meanwhile, and runs.")
    if beside:
        program = program_of(ended, cards_of(conn, coach.practice_id, ended))
        against, _ = standing_against(conn, coach, client, program, settings=Settings(**ended.settings), now=now, own=ended.program_id)
        if against:
            raise Refused(Why.CARE, against[0])


def _days_from(conn: Conn, practice_id: UUID, ended: Assignment, since: date) -> list[PlannedDay]:
    """The sessions from a day on, each by the plan that held for it."""
    plans = assignments.plans(conn, ended.id)
    out: list[PlannedDay] = []
    for n, plan in enumerate(plans):
        until = _until(plans[n + 1 :])
        laid = lay(program_of(plan, cards_of(conn, practice_id, plan)), Settings(**plan.settings), plan, plan.plan)
        out += [d for d in laid if max(since, plan.from_day) <= d.day < until]
    return out


def _until(later: Sequence[Assignment]) -> date:
    """The day from which later plans hold instead: the earliest of theirs."""
    return min((p.from_day for p in later), default=date.max)


def last_ended(conn: Conn, client_id: UUID, now: datetime) -> str:
    """What the client reads when no program runs and one was ended lately; empty otherwise."""
    known = assignments.of_client(conn, client_id)
    recent = [a for a in known if a.ended_at is not None and a.follows and now - a.ended_at < KEPT]
    if any(a.ended_at is None for a in known) or not recent:
        return ""
    return FOLLOWS[max(recent, key=lambda a: a.ended_at or now).follows]
