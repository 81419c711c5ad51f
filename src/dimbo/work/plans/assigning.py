"""Assigning programs to clients: looking at the real calendar first, one client or a group, changes from a day on, the end."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, datetime, time, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS, Step, most_days, paused, practice_day, week_of, zone
from dimbo.core.design.checks import Weight
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import items_of_day
from dimbo.core.programs.program import Program, Settings, When
from dimbo.core.review.breaks import continued
from dimbo.core.safety.cautions import care
from dimbo.core.sessions.merging import MOST_AT_ONCE
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments, groups
from dimbo.store.plans.assignments import Assignment, NewPlan, PlannedDay
from dimbo.store.programs import programs
from dimbo.store.programs.programs import StoredProgram
from dimbo.work.exercises.shelf import keep_for_assignment, shelf
from dimbo.work.programs.check_context import about
from dimbo.work.programs.documents import ProgramDocument, to_program
from dimbo.work.shared.errors import Refused, Why

from .chosen_sides import chosen_sides
from .plan_calendar import lay

FURTHEST = timedelta(days=366)
"""How far away a first day may be."""
PARTS = ("morning", "evening")


@dataclass(frozen=True, kw_only=True)
class Wish:
    """How a coach wants a program practised. ``start`` is its first day, or the day from which a change holds.

    Weekdays are Monday 1 to Sunday 7, none for those on which the client has time; times are by part of the day.
    """

    start: date
    end: date | None = None
    weekdays: tuple[int, ...] = ()
    times: tuple[tuple[str, str], ...] = ()
    remind_min: int | None = None
    as_part: str | None = None


@dataclass(frozen=True)
class CalendarDay:
    """A day of the preview: seconds of its sessions by part, and of those of another program."""

    day: date
    parts: tuple[tuple[str, float], ...]
    beside_s: float
    paused: bool


@dataclass(frozen=True)
class CalendarWeek:
    """A week of the preview, counted from the first day."""

    number: int
    days: tuple[CalendarDay, ...]
    total_s: float


@dataclass(frozen=True, kw_only=True)
class Prepared:
    """A program made ready for a client: the sessions it would have, and why it may not be assigned."""

    client: Client
    refusals: tuple[str, ...]
    weeks: tuple[CalendarWeek, ...]
    plan: NewPlan
    days: tuple[PlannedDay, ...]
    document: ProgramDocument
    unasked: bool
    """Whether health questions or consent are missing, which the client or the coach can answer now."""
    remarks: tuple[str, ...] = ()
    """What the chosen days bring about."""
    first: FirstSession | None = None
    """The first session as the client's phone will show it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FirstSession:
    """A session before it is assigned: its day, morning or evening, whole length with change-overs, and exercises."""

    day: date
    part: str
    seconds: float
    exercises: int


def _first(program: Program, settings: Settings, days: Sequence[PlannedDay]) -> FirstSession | None:
    if not days:
        return None
    at = days[0]
    when = When(at.part) if When(at.part) in program.parts else program.parts[0]
    items = items_of_day(program, settings, at.week, place=at.place, when=when, back=at.back)
    return FirstSession(day=at.day, part=at.part, seconds=at.session_s, exercises=len(items))


def _checked(wish: Wish, today: date, program: Program) -> None:
    """Raises Refused for what cannot be wished."""
    if not today - FURTHEST <= wish.start <= today + FURTHEST:
        raise Refused(Why.BOUNDS, "The first day lies more than a year away. Check its year.", "start")
    if wish.end is not None and wish.end < wish.start:
        raise Refused(Why.CLASH, "The last day lies before the first one.", "end")
    if any(d not in range(1, 8) for d in wish.weekdays):
        raise Refused(Why.UNREADABLE, "Weekdays are 1 for Monday to 7 for Sunday.", "weekdays")
    for part, at in wish.times:
        if part not in PARTS:
            raise Refused(Why.UNREADABLE, "Times are for the morning or the evening session.", "times")
        _clock(at)
    if wish.as_part is not None and (wish.as_part not in PARTS or len(program.parts) > 1):
        raise Refused(Why.CLASH, "Only a program with one session a day can be moved to the morning or the evening.", "as_part")


def _clock(text: str) -> time:
    try:
        return time.fromisoformat(text)
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"“{text}” is not a time of day; write it like 07:30.", "times") from error


def standing_against(
    conn: Conn, coach: Person, client: Client, program: Program, settings: Settings, now: datetime, own: UUID | None
) -> tuple[list[str], bool]:
    """Why a program may not be assigned to a client now, and whether something was not asked yet. ``own`` is the program
    itself, where it is the client's."""
    known = about(conn, coach, client.id, shelf(conn, coach.practice_id), now=now, program_id=own)
    if known.cautions.urgent:
        return [f"{care(h.rule for h in known.cautions.urgent)} {known.cautions.urgent[0].reason} {known.cautions.urgent[0].remedy}"], False
    sheet = compile_sheet(program, settings, known)
    out = [f"{n.text} {n.remedy}" for n in sheet.notes if n.weight is Weight.STOP]
    if not out and not sheet.assignable:
        out.append(f"Week {next(w.number for w in sheet.weeks if not w.items)} has nothing to practise. Fill it first.")
    out += [f"{n.text} {n.remedy}" for n in sheet.notes if n.rule == "ceiling-beside"]
    return out, any(n.rule == "unasked" for n in sheet.notes)


def _calendar(
    conn: Conn, client: Client, start: date, days: Sequence[PlannedDay], settings: Settings, beside: Sequence[Assignment]
) -> tuple[CalendarWeek, ...]:
    """The real calendar of planned sessions, with what other programs ask on the same days."""
    if not days:
        return ()
    other: dict[date, float] = {}
    for running in beside:
        for d in assignments.sessions(conn, running.id, start):
            other[d.day] = other.get(d.day, 0.0) + d.planned_s
    off = [p.pause for p in assignments.pauses(conn, client.id)]
    by_day: dict[date, list[tuple[str, float]]] = {}
    for d in days:
        by_day.setdefault(d.day, []).append((d.part, d.planned_s))
    out = []
    for number in range(1, week_of(start, day=days[-1].day) + 1):
        row = []
        for offset in range(DAYS):
            day = start + timedelta(days=DAYS * (number - 1) + offset)
            row.append(CalendarDay(day, tuple(by_day.get(day, ())), round(other.get(day, 0.0), 1), paused(off, day)))
        total = sum(s for d in row if not d.paused for _, s in d.parts) + sum(d.beside_s for d in row if not d.paused)
        out.append(CalendarWeek(number, tuple(row), round(total, 1)))
    return tuple(out)


def _too_few(program: Program, weekdays: Sequence[int]) -> tuple[str, ...]:
    """That a week asks for more sessions than there are days for them."""
    most, has = max(map(most_days, program.sessions)), len(weekdays) or DAYS
    if most <= has:
        return ()
    days = "one day is" if has == 1 else f"{has} days are"
    return (f"The program asks for {most} sessions a week, and {days} chosen: the others are not planned. Choose more days.",)


def _prepare(conn: Conn, coach: Person, stored: StoredProgram, client: Client, wish: Wish, now: datetime) -> Prepared:
    document = ProgramDocument.model_validate(stored.document)
    settings = clients.settings(conn, client.id)
    program = to_program(stored.title, document, shelf(conn, coach.practice_id).cards)
    _checked(wish, practice_day(now, zone(client.time_zone)), program)
    own = stored.id if client.id == stored.client_id else None
    refusals, unasked = standing_against(conn, coach, client, program, settings=settings, now=now, own=own)
    running = assignments.running_of(conn, client.id)
    if any(a.program_id == own for a in running):
        refusals.append("This program runs already. Use the new version from a day on instead.")
    elif len(running) >= MOST_AT_ONCE:
        titles = " and ".join(f"“{a.title}”" for a in running)
        refusals.append(f"{client.name} practises {titles} already; two programs at once are the most. End one first; what was done stays.")
    plan = NewPlan(
        from_day=wish.start,
        anchor=wish.start,
        steps=[(w, 0) for w in range(1, program.weeks + 1)],
        program_id=stored.id,
        program_version=stored.version,
        settings=asdict(settings),
        cards={},
        weekdays=list(wish.weekdays or client.days),
        times=dict(wish.times),
        remind_min=wish.remind_min,
        as_part=wish.as_part,
        end_date=wish.end,
        kind="assigned",
        reason="",
    )
    days = lay(program, settings, plan, 1)
    if not refusals and not days:
        refusals.append("No session lies between the first and the last day. Choose a later last day.")
    weeks = _calendar(conn, client, wish.start, days, settings=settings, beside=running)
    return Prepared(
        client=client,
        refusals=tuple(refusals),
        weeks=weeks,
        plan=plan,
        days=tuple(days),
        document=document,
        unasked=unasked,
        remarks=_too_few(program, plan.weekdays),
        first=_first(program, settings, days),
    )


def preview(db: Database, coach: Person, program_id: UUID, client_ids: Sequence[UUID], wish: Wish, now: datetime) -> list[Prepared]:
    """What assigning would mean for each client: every day with its minutes, and what stands against it. Nothing is kept."""
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
        return [_prepare(conn, coach, stored, clients.one(conn, i), wish=wish, now=now) for i in client_ids or [stored.client_id]]


def assign(db: Database, coach: Person, program_id: UUID, wish: Wish, now: datetime) -> UUID:
    """Assign the newest version to the client of the program; its days are kept with it.

    Raises Refused while an urgent sign or a lock stands, when consent to practise was refused, withdrawn or ran out, when
    two programs run already, or when a daily ceiling would be passed together with the other one.
    """
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
        ready = _prepare(conn, coach, stored, clients.one(conn, stored.client_id), wish=wish, now=now)
        if ready.refusals:
            raise Refused(Why.CARE, ready.refusals[0])
        return _store(conn, coach, ready, stored, group=None, now=now)


def _store(conn: Conn, coach: Person, ready: Prepared, stored: StoredProgram, group: UUID | None, now: datetime) -> UUID:
    client_id = ready.client.id
    assignment = assignments.begin(
        conn, coach.practice_id, client_id, program_id=stored.id, start=ready.plan.from_day, group_id=group, by=coach.id
    )
    cards = keep_for_assignment(conn, coach.practice_id, [n.exercise for n in ready.document.lines])
    program = to_program(stored.title, ready.document, shelf(conn, coach.practice_id).cards)
    sides = chosen_sides(conn, coach, ready.client, program, settings=Settings(**ready.plan.settings), now=now)
    plan = replace(ready.plan, program_id=stored.id, program_version=stored.version, cards=cards, sides=sides)
    assignments.add_plan(conn, coach.practice_id, client_id, assignment_id=assignment, plan=plan, by=coach.id, at=now)
    assignments.replan(conn, coach.practice_id, client_id, assignment_id=assignment, from_day=plan.from_day, days=list(ready.days))
    return assignment


@dataclass(frozen=True)
class GroupStart:
    """Who started, and who could not with the reason; those are told apart, nobody is half assigned."""

    group_id: UUID
    started: tuple[tuple[UUID, str], ...]
    refused: tuple[tuple[UUID, str, str], ...]


def assign_group(
    db: Database, coach: Person, program_id: UUID, client_ids: Sequence[UUID], name: str, wish: Wish, now: datetime
) -> GroupStart:
    """Start a program with several clients at once; each gets a copy of their own. Raises Refused when nobody can start."""
    name = name.strip()
    if not name:
        raise Refused(Why.NEEDED, "Give the group a name.", "group")
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
        group = assignments.make_group(conn, coach.practice_id, name[:80], coach.id)
        started, refused = [], []
        for client_id in dict.fromkeys(client_ids):
            client = clients.one(conn, client_id)
            ready = _prepare(conn, coach, stored, client, wish=wish, now=now)
            if ready.refusals:
                refused.append((client_id, client.name, ready.refusals[0]))
                continue
            own = stored
            if client_id != stored.client_id:
                copy = programs.create(conn, coach.practice_id, client_id, stored.title, document=stored.document, by=coach.id)
                own = programs.one(conn, copy)
            _store(conn, coach, ready, own, group=group, now=now)
            started.append((client_id, client.name))
        if not started:
            raise Refused(Why.CARE, " ".join(f"{who}: {why}" for _, who, why in refused) or "Choose somebody for the group.", "clients")
        return GroupStart(group, tuple(started), tuple(refused))


def join_group(db: Database, coach: Person, group_id: UUID, client_id: UUID, wish: Wish, now: datetime) -> UUID:
    """Somebody starts a group's program later, with a copy of their own; returns the assignment. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        if any(m.client_id == client_id and not m.ended for m in groups.members(conn, group_id)):
            raise Refused(Why.ALREADY, "This client is in the group already.", "client_id")
        stored, client = programs.one(conn, groups.program_of(conn, group_id)), clients.one(conn, client_id)
        ready = _prepare(conn, coach, stored, client, wish=wish, now=now)
        if ready.refusals:
            raise Refused(Why.CARE, ready.refusals[0])
        own = stored
        if client_id != stored.client_id:
            copy = programs.create(conn, coach.practice_id, client_id, stored.title, document=stored.document, by=coach.id)
            own = programs.one(conn, copy)
        return _store(conn, coach, ready, own, group=group_id, now=now)


def changed_plan(running: Assignment, weeks: int, from_day: date, wish: Wish, settings: Settings) -> NewPlan:
    """The plan that follows a running one from a day on: its week grid and its place in it stay.

    Raises Refused when the program is at its end by then.
    """
    passed = max((from_day - running.anchor).days // DAYS, 0)
    steps = [(s.week, s.back) for s in continued([Step(w, back=b) for w, b in running.steps], passed, weeks=weeks)]
    if not steps:
        raise Refused(Why.CLASH, "The program is at its end on that day. Assign the new version as a program of its own.", "start")
    anchor = running.anchor + timedelta(days=DAYS * passed)
    return replace(
        running.following(from_day, anchor=anchor, steps=steps, kind="changed"),
        settings=asdict(settings),
        cards={},
        weekdays=list(wish.weekdays or running.weekdays),
        times=dict(wish.times) or running.times,
        remind_min=wish.remind_min,
        as_part=wish.as_part,
        end_date=wish.end,
    )


def _prepare_change(conn: Conn, coach: Person, running: Assignment, wish: Wish, now: datetime) -> tuple[Prepared, StoredProgram]:
    client, stored = clients.one(conn, running.client_id), programs.one(conn, running.program_id)
    today = practice_day(now, zone(client.time_zone))
    if running.ended_at is not None:
        raise Refused(Why.ALREADY, "This assignment has ended. Assign the program anew.")
    if wish.start < today:
        raise Refused(Why.ALREADY, "What was practised is never rewritten; let the change hold from today or later.", "start")
    document = ProgramDocument.model_validate(stored.document)
    settings = clients.settings(conn, client.id)
    program = to_program(stored.title, document, shelf(conn, coach.practice_id).cards)
    _checked(wish, today, program)
    refusals, unasked = standing_against(conn, coach, client, program, settings=settings, now=now, own=stored.id)
    plan = replace(
        changed_plan(running, program.weeks, max(wish.start, running.start_date), wish, settings), program_version=stored.version
    )
    days = lay(program, settings, plan, running.plan + 1)
    beside = [a for a in assignments.running_of(conn, client.id) if a.id != running.id]
    weeks = _calendar(conn, client, plan.anchor, days, settings=settings, beside=beside)
    return Prepared(
        client=client,
        refusals=tuple(refusals),
        weeks=weeks,
        plan=plan,
        days=tuple(days),
        document=document,
        unasked=unasked,
        remarks=_too_few(program, plan.weekdays),
        first=_first(program, settings, days),
    ), stored


def preview_change(db: Database, coach: Person, assignment_id: UUID, wish: Wish, now: datetime) -> Prepared:
    """What a change of a running program would mean; nothing is kept. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        return _prepare_change(conn, coach, assignments.one(conn, assignment_id), wish, now)[0]


def change(db: Database, coach: Person, assignment_id: UUID, wish: Wish, reason: str, now: datetime) -> int:
    """Let the newest version, and new days and times, hold from a day on. What was done is never rewritten.

    Returns the number of the new plan. Raises NotThere, Refused.
    """
    with db.of(coach) as conn:
        running = assignments.one(conn, assignment_id)
        ready, stored = _prepare_change(conn, coach, running, wish, now)
        if ready.refusals:
            raise Refused(Why.CARE, ready.refusals[0])
        cards = keep_for_assignment(conn, coach.practice_id, [n.exercise for n in ready.document.lines])
        program = to_program(stored.title, ready.document, shelf(conn, coach.practice_id).cards)
        sides = chosen_sides(conn, coach, ready.client, program, settings=Settings(**ready.plan.settings), now=now)
        plan = replace(ready.plan, cards=cards, reason=reason.strip()[:400], sides=sides)
        return follow(conn, coach.practice_id, running, plan, days=list(ready.days), by=coach.id, now=now)


def follow(
    conn: Conn, practice_id: UUID, running: Assignment, plan: NewPlan, days: list[PlannedDay], by: UUID | None, now: datetime
) -> int:
    """Keep a further plan of a running assignment and its days."""
    number = assignments.add_plan(conn, practice_id, running.client_id, assignment_id=running.id, plan=plan, by=by, at=now)
    days = [replace(d, plan=number) for d in days]
    assignments.replan(conn, practice_id, running.client_id, assignment_id=running.id, from_day=plan.from_day, days=days)
    return number
