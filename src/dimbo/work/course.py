"""The client page: what was planned and done on one axis of weeks, and what to decide."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.adherence import Adherence, Day, Practised, day_state, missed_in_a_row, session_adherence
from dimbo.core.schedule import practice_day, zone
from dimbo.store import clients, practice, programs, sittings
from dimbo.store.accounts import Person
from dimbo.store.clients import Client
from dimbo.store.database import Database
from dimbo.store.practice import Log, Stopped
from dimbo.store.programs import Assignment, PlannedDay, ProgramSummary

from .measuring import SittingView, views


@dataclass(frozen=True)
class Course:
    """Everything the client page shows. ``today`` is the client's own day."""

    client: Client
    today: date
    assignment: Assignment | None
    days: list[tuple[PlannedDay, Day, list[Log]]]
    last_week: Adherence
    whole: Adherence
    missed: int
    stopped: list[Stopped]
    programs: list[ProgramSummary]
    sittings: list[SittingView]


def course(db: Database, coach: Person, client_id: UUID, now: datetime) -> Course:
    """Load and judge one client's course. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        client = clients.one(conn, client_id)
        running = programs.newest_assignment(conn, client_id)
        planned = programs.planned_days(conn, running.id) if running else []
        logs = practice.logs(conn, running.id) if running else []
        stopped = practice.stopped(conn, client_id)
        written = programs.of_client(conn, client_id)
        seen, shots = sittings.of_client(conn, client_id), sittings.photographs(conn, client_id)
    today = practice_day(now, zone(client.time_zone))
    by_day: dict[date, list[Log]] = {}
    for log in logs:
        by_day.setdefault(log.day, []).append(log)
    days = []
    for p in planned:
        own = by_day.get(p.day, [])
        practised = Practised(sum(x.done_s for x in own), max(x.planned_s for x in own)) if own else None
        days.append((p, day_state(p.day, today, practised), own))
    states = [d[1] for d in days]
    return Course(
        client,
        today,
        running,
        days,
        session_adherence(states, today, 7),
        session_adherence(states, today),
        missed_in_a_row(states),
        stopped,
        written,
        views(seen, shots),
    )


@dataclass(frozen=True)
class ClientLine:
    """A client in the list: the last two weeks, and what needs the coach."""

    client: Client
    days: list[Day]
    week: Adherence
    stopped: int
    missed: int


def everybody(db: Database, coach: Person, now: datetime) -> list[ClientLine]:
    """All clients of the practice, those who need the coach first."""
    with db.practice(coach.practice_id) as conn:
        people = clients.every(conn)
        recent = practice.recent_days(conn, now.date() - timedelta(days=15))
        stops = practice.stopped_counts(conn)
    by_client: dict[UUID, list[practice.ClientDay]] = {}
    for day in recent:
        by_client.setdefault(day.client_id, []).append(day)
    lines = []
    for client in people:
        today = practice_day(now, zone(client.time_zone))
        days = [
            day_state(d.day, today, Practised(d.done_s, d.planned_s) if d.done_s else None)
            for d in by_client.get(client.id, [])
            if d.day <= today
        ]
        lines.append(ClientLine(client, days, session_adherence(days, today, 7), stops.get(client.id, 0), missed_in_a_row(days)))
    return sorted(lines, key=lambda n: (-n.stopped, -(n.missed if n.missed >= 3 else 0), n.client.name))
