"""The client page: what was planned and done on one axis of weeks, and what to decide."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.adherence import Adherence, Day, Practised, day_state, missed_in_a_row, session_adherence
from dimbo.core.card import Card
from dimbo.core.cautions import Cautions, stand
from dimbo.core.intake import Rating, severity_by_muscle
from dimbo.core.schedule import practice_day, zone
from dimbo.core.sitting import Measurement
from dimbo.store import clients, facts, photographs, practice, programs, self_intakes, sittings
from dimbo.store.accounts import Person
from dimbo.store.clients import Client
from dimbo.store.database import Database
from dimbo.store.photographs import Photograph
from dimbo.store.practice import Log, Stopped
from dimbo.store.programs import Assignment, PlannedDay, ProgramSummary
from dimbo.store.sittings import Sitting

from .consenting import sees
from .exercises import shelf
from .intake import caution_state, consents, ratings_of
from .measuring import measurement_of


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
    sittings: list[Sitting]
    photographs: list[Photograph]
    measurement: Measurement
    cautions: Cautions
    severity: dict[str, Rating]
    """Severity of the rated concerns by muscle."""
    own_intake: bool
    """Whether an intake that the client filled in waits for review."""
    cards: Mapping[str, Card]
    """Every exercise of the practice by id."""


def course(db: Database, coach: Person, client_id: UUID, now: datetime) -> Course:
    """Load and judge one client's course. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        client = clients.one(conn, client_id)
        running = programs.newest_assignment(conn, client_id)
        planned = programs.planned_days(conn, running.id) if running else []
        sessions = programs.sessions(conn, running.id) if running else []
        logs = practice.logs(conn, running.id) if running else []
        stopped = practice.stopped(conn, client_id)
        written = programs.of_client(conn, client_id)
        seen, shots = sittings.of_client(conn, client_id), photographs.of_client(conn, client_id)
        primary = sittings.primary(conn, client_id)
        standing = facts.standing(conn, client_id)
        sent = self_intakes.newest(conn, client_id)
        cards = shelf(conn, coach.practice_id).cards
    today = practice_day(now, zone(client.time_zone))
    if shots and not sees(consents(standing, today), coach, client):
        shots = []
    by_day: dict[date, list[Log]] = {}
    for log in logs:
        by_day.setdefault(log.day, []).append(log)
    days = []
    for p in planned:
        own = by_day.get(p.day, [])
        practised = _practised(own, [x for x in sessions if x.day == p.day]) if own else None
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
        seen,
        shots,
        measurement_of(client, seen, shots, primary),
        stand(shipped_intake().tables.cautions, *caution_state(standing), today),
        severity_by_muscle(shipped_catalogue().concerns, ratings_of(standing)),
        sent is not None and sent.submitted_at is not None and sent.reviewed_at is None,
        cards,
    )


def _practised(logs: list[Log], sessions: list[PlannedDay]) -> Practised:
    """What was done of a day: each session planned as its logs say, or as the plan says while it has none."""
    told = {part: max(x.planned_s for x in logs if x.part == part) for part in {x.part for x in logs}}
    open_s = sum(s.planned_s for s in sessions if s.part not in told)
    return Practised(sum(x.done_s for x in logs), sum(told.values()) + open_s)


@dataclass(frozen=True)
class ClientLine:
    """A client in the list: the last two weeks, and what needs the coach."""

    client: Client
    days: list[Day]
    week: Adherence
    stopped: int
    missed: int
    cautions: Cautions
    own_intake: bool

    @property
    def rank(self) -> tuple[int, int, int, int]:
        """How much the client needs the coach: urgent signs, pain, locks, three missed days, an intake to review."""
        return (
            -len(self.cautions.urgent),
            -self.stopped,
            -len(self.cautions.locks),
            -(self.missed if self.missed >= 3 else 0) - self.own_intake,
        )


def everybody(db: Database, coach: Person, now: datetime) -> list[ClientLine]:
    """All clients of the practice, those who need the coach first."""
    with db.practice(coach.practice_id) as conn:
        people = clients.every(conn)
        recent = practice.recent_days(conn, now.date() - timedelta(days=15))
        stops = practice.stopped_counts(conn)
        told = facts.every_caution(conn)
        own = self_intakes.waiting(conn)
    rules = shipped_intake().tables.cautions
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
        cautions = stand(rules, *caution_state(told.get(client.id, [])), today)
        week = session_adherence(days, today, 7)
        lines.append(ClientLine(client, days, week, stops.get(client.id, 0), missed_in_a_row(days), cautions, client.id in own))
    return sorted(lines, key=lambda n: (n.rank, n.client.name))
