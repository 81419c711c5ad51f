"""The client page: what was planned and done on one axis of weeks, and what to decide."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.adherence import Adherence, Day, Practised, day_state, missed_in_a_row, session_adherence
from dimbo.core.breaks import Pause, paused
from dimbo.core.card import Card
from dimbo.core.cautions import Cautions, stand
from dimbo.core.intake import Rating, severity_by_muscle
from dimbo.core.schedule import practice_day, zone
from dimbo.core.sitting import Measurement
from dimbo.core.travel import Stay, has_moments
from dimbo.store import assignments, clients, daily, facts, messages, photographs, practice, programs, self_intakes, sittings
from dimbo.store.accounts import Person
from dimbo.store.assignments import Assignment, PlannedDay, StoredPause
from dimbo.store.clients import Client
from dimbo.store.database import Database
from dimbo.store.photographs import Photograph
from dimbo.store.practice import Log, Stopped
from dimbo.store.programs import ProgramSummary
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
    assignments: list[Assignment]
    """Those that run; the last one that ended when none does."""
    days: list[tuple[PlannedDay, Day, list[Log]]]
    """Every planned day of them, added up, and days without a plan on which something was done."""
    pauses: list[StoredPause]
    plans: list[Assignment]
    """Every plan of the assignments, with the day from which it holds and why."""
    soreness: Mapping[date, int]
    unread: int
    """Messages of the client that no coach has read."""
    groups: Mapping[UUID | None, str]
    """Names of the groups that they started with."""
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
        known = assignments.of_client(conn, client_id)
        shown = [a for a in known if a.ended_at is None] or known[:1]
        sessions = [(a.id, d) for a in shown for d in assignments.sessions(conn, a.id)]
        logs = [x for a in shown for x in practice.logs(conn, a.id)]
        plans = [p for a in shown for p in assignments.plans(conn, a.id)]
        pauses = assignments.pauses(conn, client_id)
        stays = assignments.stays(conn, client_id)
        told = daily.check_ins(conn, client_id)
        groups: dict[UUID | None, str] = {g.id: g.name for a in shown if a.group_id and (g := assignments.group(conn, a.group_id))}
        unread = messages.unread_counts(conn).get(client_id, 0)
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
    days = _days(sessions, logs, today, [p.pause for p in pauses], stays)
    states = [d[1] for d in days]
    return Course(
        client,
        today,
        shown,
        days,
        pauses,
        plans,
        {c.day: c.soreness for c in told},
        unread,
        groups,
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


def _days(
    sessions: list[tuple[UUID, PlannedDay]], logs: list[Log], today: date, pauses: list[Pause], stays: list[Stay]
) -> list[tuple[PlannedDay, Day, list[Log]]]:
    """Every planned day with its sessions added up, and days on which something was done without a plan.

    A date that was jumped over at the date line counts like a pause.
    """
    planned: dict[date, list[tuple[UUID, PlannedDay]]] = {}
    for owner, session in sessions:
        planned.setdefault(session.day, []).append((owner, session))
    by_day: dict[date, list[Log]] = {}
    for log in logs:
        by_day.setdefault(log.day, []).append(log)
    out = []
    for day in sorted({*planned, *by_day}):
        of_day, own = planned.get(day, []), by_day.get(day, [])
        whole = PlannedDay(
            day,
            min((s.week for _, s in of_day), default=1),
            sum(s.planned_s for _, s in of_day),
            sum(s.contraction_right_s for _, s in of_day),
            sum(s.contraction_left_s for _, s in of_day),
        )
        off = paused(pauses, day) or not has_moments(stays, day)
        state = day_state(day, today, _practised(own, of_day) if own else None, off)
        out.append((whole, state, own))
    return out


def _practised(logs: list[Log], sessions: list[tuple[UUID, PlannedDay]]) -> Practised:
    """What was done of a day: each session planned as its logs say, or as the plan says while it has none.

    On a day without a plan nothing was planned, whatever the log was practised from.
    """
    if not sessions:
        return Practised(sum(x.done_s for x in logs), 0.0)
    told: dict[tuple[UUID, str], float] = {}
    for x in logs:
        told[x.assignment_id, x.part] = max(x.planned_s, told.get((x.assignment_id, x.part), 0.0))
    open_s = sum(s.planned_s for owner, s in sessions if (owner, s.part) not in told)
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
    unread: int

    @property
    def rank(self) -> tuple[int, int, int, int]:
        """How much the client needs the coach: urgent signs, pain, locks, three missed days, an intake to review."""
        return (
            -len(self.cautions.urgent),
            -self.stopped,
            -len(self.cautions.locks),
            -(self.missed if self.missed >= 3 else 0) - self.own_intake - (self.unread > 0),
        )


def everybody(db: Database, coach: Person, now: datetime) -> list[ClientLine]:
    """All clients of the practice, those who need the coach first."""
    with db.practice(coach.practice_id) as conn:
        people = clients.every(conn)
        recent = practice.recent_days(conn, now.date() - timedelta(days=15))
        stops = practice.stopped_counts(conn)
        told = facts.every_caution(conn)
        own = self_intakes.waiting(conn)
        off = assignments.every_pause(conn)
        unread = messages.unread_counts(conn)
    rules = shipped_intake().tables.cautions
    by_client: dict[UUID, list[practice.ClientDay]] = {}
    for day in recent:
        by_client.setdefault(day.client_id, []).append(day)
    lines = []
    for client in people:
        today = practice_day(now, zone(client.time_zone))
        days = [
            day_state(d.day, today, Practised(d.done_s, d.planned_s) if d.done_s else None, paused(off.get(client.id, ()), d.day))
            for d in by_client.get(client.id, [])
            if d.day <= today
        ]
        cautions = stand(rules, *caution_state(told.get(client.id, [])), today)
        week = session_adherence(days, today, 7)
        lines.append(
            ClientLine(
                client, days, week, stops.get(client.id, 0), missed_in_a_row(days), cautions, client.id in own, unread.get(client.id, 0)
            )
        )
    return sorted(lines, key=lambda n: (n.rank, n.client.name))
