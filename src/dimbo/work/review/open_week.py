"""A week of the course, opened: every session to scale, what was done of it, and which doses became others."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose import Dose
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.programs.program import Program, Settings, read_cell
from dimbo.core.programs.progression import eased_line
from dimbo.core.sessions.timeline import session_s, stretches
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, PlannedDay
from dimbo.store.practice import practice_logs
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.plans.plan_calendar import items_of, program_of


@dataclass(frozen=True, kw_only=True)
class DrawnItem:
    """An exercise of a session: when it begins and how long it takes, its dose, and how much of it was done, 0 to 1."""

    exercise_id: str
    name: str
    dose: Dose
    pace_s: float
    start_s: float
    length_s: float
    done: float
    outcome: str
    """Planned, or what its log says: done, partly, skipped, hurt."""


@dataclass(frozen=True, kw_only=True)
class DrawnSession:
    day: date
    part: str
    title: str
    seconds: float
    items: tuple[DrawnItem, ...]


@dataclass(frozen=True, kw_only=True)
class DoseMove:
    """An exercise whose dose is another one than the week before; an empty line means that it rested."""

    name: str
    before: str
    after: str
    before_dose: Dose | None
    after_dose: Dose | None
    pace_s: float


@dataclass(frozen=True)
class OpenWeek:
    sessions: tuple[DrawnSession, ...]
    moves: tuple[DoseMove, ...]


def open_week(db: Database, coach: Person, client_id: UUID, first: date) -> OpenWeek:
    """The seven days from ``first`` on, of every program. Raises NotThere."""
    last = first + timedelta(days=DAYS - 1)
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        drawn: list[DrawnSession] = []
        moves: list[DoseMove] = []
        for owner in assignments.of_client(conn, client_id):
            planned = assignments.sessions(conn, owner.id, first - timedelta(days=DAYS), until=last)
            if not any(p.day >= first for p in planned):
                continue
            plans = {p.plan: p for p in assignments.plans(conn, owner.id)}
            cards = {n: cards_of(conn, coach.practice_id, p) for n, p in plans.items()}
            drawn += _sessions(conn, owner, [p for p in planned if p.day >= first], plans, cards)
            moves += _moves(planned, first, plans, cards)
    return OpenWeek(tuple(sorted(drawn, key=lambda s: (s.day, s.part == "evening"))), tuple(moves))


def _sessions(
    conn: Conn, owner: Assignment, planned: list[PlannedDay], plans: Mapping[int, Assignment], cards: Mapping[int, Mapping[str, Card]]
) -> list[DrawnSession]:
    logs = [x for x in practice_logs.logs(conn, owner.id) if planned[0].day <= x.day <= planned[-1].day]
    lines = practice_logs.lines_of(conn, [x.id for x in logs])
    out = []
    for p in planned:
        plan = plans[p.plan]
        settings = Settings(**plan.settings)
        items = items_of(plan, program_of(plan, cards[p.plan]), p)
        ids = {x.id for x in logs if (x.day, x.part) == (p.day, p.part)}
        left: dict[str, list[practice_logs.Line]] = {}
        for line in lines:
            if line.log_id in ids:
                left.setdefault(line.exercise_id, []).append(line)
        row = []
        for item, (start, length) in zip(items, stretches(items, settings), strict=True):
            own = left.get(item.card.id) or []
            log = own.pop(0) if own else None
            done = min(log.done_s / log.planned_s, 1.0) if log and log.planned_s else 0.0
            outcome = log.outcome if log else "planned"
            row.append(
                DrawnItem(
                    exercise_id=item.card.id,
                    name=item.card.name,
                    dose=item.dose,
                    pace_s=settings.pace_s,
                    start_s=start,
                    length_s=length,
                    done=done,
                    outcome=outcome,
                )
            )
        out.append(DrawnSession(day=p.day, part=p.part, title=plan.title, seconds=session_s(items, settings), items=tuple(row)))
    return out


def _cells(program: Program, settings: Settings, p: PlannedDay) -> dict[str, tuple[str, str, Dose | None]]:
    """Name, dose line and dose of every row in a planned week."""
    out = {}
    for line in program.lines:
        text = eased_line(line, p.week, back=p.back, pace_s=settings.pace_s).cells[p.week - 1]
        dose = read_cell(text, line.card).dose
        out[line.id] = (line.card.name, print_line(dose, line.card.style) if dose else "", dose)
    return out


def _moves(
    planned: list[PlannedDay], first: date, plans: Mapping[int, Assignment], cards: Mapping[int, Mapping[str, Card]]
) -> list[DoseMove]:
    before, now = [p for p in planned if p.day < first], [p for p in planned if p.day >= first]
    if not before:
        return []
    a, b = before[-1], now[-1]
    if (a.plan, a.week, a.back) == (b.plan, b.week, b.back):
        return []
    settings = Settings(**plans[b.plan].settings)
    then = _cells(program_of(plans[a.plan], cards[a.plan]), settings, a)
    out = []
    for line_id, (name, text, dose) in _cells(program_of(plans[b.plan], cards[b.plan]), settings, b).items():
        _, was, was_dose = then.get(line_id, (name, "", None))
        if was != text:
            out.append(DoseMove(name=name, before=was, after=text, before_dose=was_dose, after_dose=dose, pace_s=settings.pace_s))
    return out
