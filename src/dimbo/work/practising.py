"""Assigning, the client's day, and handing in what was practised."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.anatomy import Stage
from dimbo.core.card import Card
from dimbo.core.cautions import URGENT_CARE, Cautions, Effect
from dimbo.core.checks import Weight
from dimbo.core.program import Settings, When, read_cell
from dimbo.core.schedule import plan_days, practice_day, zone
from dimbo.core.session import Cue, Item, session_s, timeline
from dimbo.core.sheet import compile_sheet
from dimbo.core.text import join_words
from dimbo.core.week import NOTHING_HELD, items_of_day
from dimbo.core.words import in_words
from dimbo.store import clients, practice, programs
from dimbo.store.accounts import Person
from dimbo.store.database import Database, NotThere
from dimbo.store.practice import Log, LogLine, Stopped
from dimbo.store.programs import Assignment, PlannedDay

from .consenting import PRACTISE, consent_of
from .documents import ProgramDocument, to_program
from .errors import Refused
from .exercises import cards_of, keep_for_assignment, shelf
from .intake import cautions_of
from .knowing import about

CLOCK_SLACK = timedelta(minutes=10)
"""How far ahead a phone's clock may be."""
LONGEST_SESSION = timedelta(hours=6)


def assign(db: Database, coach: Person, program_id: UUID, start: date, now: datetime) -> UUID:
    """Assign the newest version from a date; its days are kept with it.

    Raises Refused while an urgent sign or a lock stands, or when consent to practise was refused, withdrawn or ran out.

    A day's planned seconds are those of its exercises; change-overs are nobody's practice.
    """
    with db.practice(coach.practice_id) as conn:
        stored = programs.one(conn, program_id)
        client = clients.one(conn, stored.client_id)
        settings = clients.settings(conn, stored.client_id)
        document = ProgramDocument.model_validate(stored.document)
        books = shelf(conn, coach.practice_id)
        known = about(conn, coach, stored.client_id, books, now, program_id)
        cautions = known.cautions
        if cautions.urgent:
            raise Refused(f"{URGENT_CARE} {cautions.urgent[0].reason} {cautions.urgent[0].remedy}")
        agreed = consent_of(conn, client, PRACTISE, now)
        if agreed.on and not agreed.in_force:
            raise Refused(f"{client.name} has not agreed to practise with guidance. {agreed.sentence} Ask again under Intake.")
        sheet = compile_sheet(to_program(stored.title, document, books.cards), settings, known)
        stops = [n for n in sheet.notes if n.weight is Weight.STOP]
        if stops:
            raise Refused(f"{stops[0].text} {stops[0].remedy}")
        if not sheet.assignable:
            empty = next(w.number for w in sheet.weeks if not w.items)
            raise Refused(f"Week {empty} has nothing to practise. Fill it first.")
        days = []
        for planned in plan_days(start, document.sessions, client.days):
            for plan in sheet.weeks[planned.week - 1].plans:
                if planned.place in plan.on:
                    exercise_s = sum(i.seconds(settings) for i in plan.items)
                    load = plan.contraction
                    days.append(
                        PlannedDay(
                            planned.day,
                            planned.week,
                            round(exercise_s, 1),
                            round(load.right, 1),
                            round(load.left, 1),
                            plan.when.value,
                            planned.place,
                        )
                    )
        kept = keep_for_assignment(conn, coach.practice_id, [n.exercise for n in document.lines])
        return programs.assign(
            conn, coach.practice_id, stored.client_id, stored, start, client.time_zone, asdict(settings), kept, days, coach.id
        )


def end_assignment(db: Database, coach: Person, assignment_id: UUID, now: datetime) -> None:
    """End a running assignment today; what was done stays."""
    with db.practice(coach.practice_id) as conn:
        running = programs.assignment(conn, assignment_id)
        programs.end(conn, assignment_id, practice_day(now, zone(running.time_zone)))


@dataclass(frozen=True)
class Session:
    """One day's session: its exercises with their timeline, those left out because they hurt or a caution locks them,
    and the cautions that ease or remind, by exercise."""

    assignment: Assignment
    day: date
    week: int
    part: str
    items: tuple[Item, ...]
    cues: tuple[Cue, ...]
    seconds: float
    settings: Settings
    left_out: tuple[str, ...]
    eased: dict[str, str]


def build_session(
    assignment: Assignment,
    planned: PlannedDay,
    cards: Mapping[str, Card],
    stopped: list[Stopped],
    cautions: Cautions = NOTHING_HELD,
) -> Session:
    """Compile a planned session exactly as it was assigned, without exercises that wait for the coach or for a clearance."""
    settings = Settings(**assignment.settings)
    program = to_program(assignment.title, ProgramDocument.model_validate(assignment.document), cards)
    everything = items_of_day(program, settings, planned.week, planned.place, When(planned.part))
    verdicts = {i.card.id: cautions.of(i.card) for i in everything}
    waiting = {s.exercise_id for s in stopped} | {i for i, v in verdicts.items() if v.effect is Effect.LOCK}
    eased = {i: join_words([h.rule.name for h in v.held]) for i, v in verdicts.items() if v.effect is Effect.EASE}
    items = tuple(i for i in everything if i.card.id not in waiting)
    left_out = tuple(i.card.name for i in everything if i.card.id in waiting)
    return Session(
        assignment,
        planned.day,
        planned.week,
        planned.part,
        items,
        timeline(items, settings),
        session_s(items, settings),
        settings,
        left_out,
        eased,
    )


@dataclass(frozen=True)
class HabitTask:
    """A small task in the day: its name, how often in words, and what to do."""

    name: str
    often: str
    say: str


def habits_of(running: Assignment, cards: Mapping[str, Card], week: int, cautions: Cautions) -> tuple[HabitTask, ...]:
    """The habit tasks of a week (1-based), in the coach's words where there are any; locked ones are left out."""
    settings = Settings(**running.settings)
    program = to_program(running.title, ProgramDocument.model_validate(running.document), cards)
    found = []
    for line in program.lines:
        dose = read_cell(line.cells[week - 1], line.card).dose if line.stage is Stage.DAY and week <= program.weeks else None
        if dose is not None and cautions.of(line.card).effect is not Effect.LOCK:
            found.append(HabitTask(line.card.name, in_words(dose, settings.pace_s), line.note or " ".join(line.card.cues)))
    return tuple(found)


@dataclass(frozen=True)
class Today:
    """What a client's day looks like. ``session`` is None on a day without one, and while ``halt`` says why nothing may
    be practised."""

    name: str
    coach_practice: str
    day: date
    session: Session | None
    log: Log | None
    next_day: date | None
    done: int
    planned: int
    title: str | None
    changed: list[str]
    halt: str = ""
    habits: tuple[HabitTask, ...] = ()


def today(db: Database, client: Person, now: datetime) -> Today:
    """The client's day in their own time zone."""
    client_id = _own(client)
    with db.practice(client.practice_id, client_id) as conn:
        me = clients.one(conn, client_id)
        day = practice_day(now, zone(me.time_zone))
        cautions = cautions_of(conn, me, now)
        agreed = consent_of(conn, me, PRACTISE, now)
        running = programs.newest_assignment(conn, client_id)
        if running is None or running.ended_at:
            return Today(me.name, client.practice_name, day, None, None, None, 0, 0, None, [])
        days = programs.sessions(conn, running.id)
        logs = practice.logs(conn, running.id)
        stopped = practice.stopped(conn, client_id)
        cards = cards_of(conn, client.practice_id, running)
    of_today = [d for d in days if d.day == day]
    done_parts = {x.part for x in logs if x.day == day}
    planned = next((d for d in of_today if d.part not in done_parts), of_today[-1] if of_today else None)
    halt = ""
    if cautions.urgent:
        halt = f"{URGENT_CARE} No exercises until your coach has recorded a clearance."
    elif agreed.on and not agreed.in_force:
        halt = "You have not agreed to practise with guidance. Open your agreements to change that."
    session = build_session(running, planned, cards, stopped, cautions) if planned and not halt else None
    week = planned.week if planned else max((d.week for d in days if d.day <= day), default=1)
    of_week = [(d.day, d.part) for d in days if d.week == week]
    done_days = {(x.day, x.part) for x in logs}
    return Today(
        me.name,
        client.practice_name,
        day,
        session,
        next((x for x in logs if x.day == day and planned and x.part == planned.part), None),
        next((d.day for d in days if d.day > day), None),
        sum(d in done_days for d in of_week),
        len(of_week),
        running.title,
        _changed(running, cards, days, session),
        halt,
        () if halt else habits_of(running, cards, week, cautions),
    )


def _changed(running: Assignment, cards: Mapping[str, Card], days: list[PlannedDay], session: Session | None) -> list[str]:
    """What is new in this session against the planned day before it, in the words of the sheet."""
    if session is None:
        return []
    before = max((d for d in days if d.day < session.day), key=lambda d: d.day, default=None)
    if before is None or before.week == session.week:
        return []
    rows = ProgramDocument.model_validate(running.document).lines
    here = {i.line.id for i in session.items}
    return [
        f"{cards[r.exercise].name}: {r.cells[before.week - 1] or 'rest'} becomes {r.cells[session.week - 1]}"
        for r in rows
        if r.cells[session.week - 1] and r.cells[session.week - 1] != r.cells[before.week - 1] and r.id in here
    ]


@dataclass(frozen=True)
class LineReport:
    """What a client's device tells of one row of the session. ``outcome``: done, partly, skipped or hurt."""

    line_id: str
    done_s: float
    outcome: str
    pain_side: str | None = None
    pain_level: int | None = None
    pain_where: str = ""


@dataclass(frozen=True)
class Report:
    """A finished session as a client's device tells it; ``id`` is made there, so that sending twice is harmless."""

    id: UUID
    assignment_id: UUID
    day: date
    started_at: datetime
    ended_at: datetime
    effort: int | None
    note: str
    lines: list[LineReport]
    part: str = "morning"


def hand_in(db: Database, client: Person, report: Report, now: datetime) -> bool:
    """Keep a practice log once; False if it was here already. The plan decides what was planned, not the phone.

    Raises Refused for a day that is not planned or not yet begun, and for times that cannot be.
    """
    client_id = _own(client)
    if report.started_at > now + CLOCK_SLACK:
        raise Refused("The session starts in the future. Check the clock of the phone.", "started_at")
    if report.ended_at < report.started_at or report.ended_at - report.started_at > LONGEST_SESSION:
        raise Refused("The session ends before it starts, or lasts longer than six hours.", "ended_at")
    with db.practice(client.practice_id, client_id) as conn:
        running = programs.assignment(conn, report.assignment_id)
        of_day = [d for d in programs.sessions(conn, running.id) if d.day == report.day]
        planned = next((d for d in of_day if d.part == report.part), None)
        if planned is None:
            which = f"{report.part} session" if of_day else "session"
            raise Refused(f"No {which} is planned on {report.day:%d %B %Y}.", "day")
        if report.day > practice_day(now, zone(running.time_zone)):
            raise Refused("This day has not begun yet.", "day")
        settings = Settings(**running.settings)
        cards = cards_of(conn, client.practice_id, running)
        program = to_program(running.title, ProgramDocument.model_validate(running.document), cards)
        items = {i.line.id: i for i in items_of_day(program, settings, planned.week, planned.place, When(planned.part))}
        lines = []
        for place, told in enumerate(report.lines):
            if told.line_id not in items:
                raise Refused(f"Row “{told.line_id}” is not part of this session.", "lines")
            item = items[told.line_id]
            lines.append(
                LogLine(
                    place,
                    item.card.id,
                    item.line.cells[planned.week - 1],
                    round(item.seconds(settings), 1),
                    round(told.done_s, 1),
                    told.outcome,
                    told.pain_side,
                    told.pain_level,
                    told.pain_where,
                )
            )
        log = Log(
            report.id,
            report.assignment_id,
            report.day,
            report.started_at,
            report.ended_at,
            sum(n.planned_s for n in lines),
            sum(n.done_s for n in lines),
            report.effort,
            report.note,
            report.part,
        )
        return practice.add(conn, client.practice_id, client_id, log, lines)


def clear_stop(db: Database, coach: Person, client_id: UUID, exercise_id: str) -> None:
    """The coach lets an exercise that hurt go on."""
    with db.practice(coach.practice_id) as conn:
        if practice.clear(conn, client_id, exercise_id, coach.id) == 0:
            raise NotThere("This exercise is not stopped.")


def _own(client: Person) -> UUID:
    if client.client_id is None:
        raise NotThere("This page is for clients.")
    return client.client_id
