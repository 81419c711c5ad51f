"""The client's days: what is due, compiled to the second, for today and the days that a phone may have to do without us."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from uuid import UUID

from dimbo.core.calendar.photo_due import next_sitting
from dimbo.core.calendar.schedule import DAYS, closes_at, paused, week_of, zone
from dimbo.core.calendar.time_zones import day_at, off_days
from dimbo.core.review.adherence import days_of, missed_in_a_row, sessions_between
from dimbo.core.review.course_weeks import course_length
from dimbo.core.review.thresholds import checked_rules
from dimbo.core.safety.cautions import CautionRule
from dimbo.core.safety.consent import ConsentText
from dimbo.core.safety.health_questions import Asking
from dimbo.core.sessions.log_identity import DONE_FOR_TODAY, WHOLE
from dimbo.core.sessions.session_changes import news
from dimbo.core.sessions.timeline import Item
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.messages import messages
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import PlannedDay
from dimbo.store.practice import daily, log_sums, practice_logs
from dimbo.store.practice.practice_logs import Log
from dimbo.store.review import reviews
from dimbo.store.sittings import sittings
from dimbo.work.intake.consenting import NOT_TAKEN, consent_of
from dimbo.work.intake.looking import PHOTOGRAPHS
from dimbo.work.plans.pausing import settle_breaks
from dimbo.work.plans.repeat_weeks import settle_waiting

from .client_sessions import HabitTask, Part, Session, Standing, compile_session, habits_of, merged_items, parts_on, standing
from .day_logs import TENDER_DAYS, Begun, begun_part, share_of, tender_words, used_on
from .day_notes import DAYS_AHEAD, notes_of

PARTS = ("morning", "evening")
LENSES = "contact-lenses"
"""The caution of those who wear contact lenses."""


@dataclass(frozen=True, kw_only=True)
class DuePart:
    """A session of a day: when, which one (None while nothing may be practised), and when it was done."""

    part: str
    at: time | None
    session: str | None
    parts: tuple[Part, ...]
    planned_s: float
    done_at: datetime | None
    """When it was done; None while it is due, also when it was mostly left out."""
    done_share: float
    begun: Begun | None


@dataclass(frozen=True, kw_only=True)
class ClientDay:
    """A day of the client's: when it opens and closes (UTC), its sessions and habit tasks."""

    day: date
    opens_at: datetime
    closes_at: datetime
    parts: tuple[DuePart, ...]
    habits: tuple[HabitTask, ...]
    paused: bool


@dataclass(frozen=True, kw_only=True)
class ThisWeek:
    """Sessions done and planned in the running week of the course, and planned days missed in a row."""

    done: float = 0
    planned: int = 0
    missed: int = 0


@dataclass(frozen=True, kw_only=True)
class Days:
    """All that a client's phone needs: this day and the next ones, with their sessions by key."""

    client: Client
    practice_name: str
    coach_name: str
    today: date
    days: tuple[ClientDay, ...]
    sessions: Mapping[str, Session]
    changed: Mapping[str, tuple[str, ...]]
    """What is new in a session against the last one of the same part of the day, by key."""
    first_time: frozenset[str]
    """Exercises that were never done yet."""
    titles: tuple[str, ...]
    halt: str
    questions: tuple[CautionRule, ...]
    """Health questions that must be answered before practice starts."""
    ask: Asking | None
    """That health is to be asked again."""
    no_age: bool
    """The year of birth must be told before practice starts."""
    to_agree: ConsentText | None
    """The consent to practise, where it must be given first."""
    sore_above: float
    """Soreness above it leaves strength out on the day on which it is told."""
    emergency_number: str
    lenses: bool
    """Whether contact lenses are worn."""
    next_day: date | None
    week: ThisWeek
    check_in_about: date | None
    """The day of practice to ask about, if one of the last two days was practised."""
    checked_in: daily.CheckIn | None
    photo_due: date | None
    messages: tuple[messages.Message, ...]
    notes: tuple[str, ...]
    """What to know of the plan: a pause, a break, a change."""


def own_client(person: Person) -> UUID:
    """Raises NotThere for somebody who is not a client."""
    if person.client_id is None:
        raise NotThere("This page is for clients.")
    return person.client_id


def days(db: Database, person: Person, now: datetime) -> Days:
    """The client's day in their own time zone, and the next ones, as they are laid out."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        return _days(conn, person, clients.one(conn, client_id), day_at(assignments.stays(conn, client_id), now), now)


def begin_day(db: Database, person: Person, now: datetime) -> Days:
    """The client is here again: what a break, or a week without its review, means is laid out from today; then the days."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        client = clients.one(conn, client_id)
        today = day_at(assignments.stays(conn, client_id), now)
        settle_breaks(conn, person.practice_id, client_id, today, now)
        settle_waiting(conn, person.practice_id, client_id, today, now)
        return _days(conn, person, client, today, now)


def _days(conn: Conn, person: Person, client: Client, today: date, now: datetime) -> Days:
    at = standing(conn, person.practice_id, client, now)
    logs = [x for a in at.running for x in practice_logs.logs(conn, a.id)]
    coming, sessions = _laid_out(conn, at, today, logs)
    before = {part: _practised_last(conn, at, [x for x in logs if x.part == part], today) for part in PARTS}
    told = daily.check_ins(conn, client.id, today)
    gates = _gates(at)
    return Days(
        client=client,
        practice_name=person.practice_name,
        coach_name=messages.addresses_of(conn, client.id).coach_name,
        today=today,
        days=coming,
        sessions=sessions,
        changed={
            k: news(before[s.part], after=s.plain, explained={name for name, _ in s.left_out}) if before[s.part] else ()
            for k, s in sessions.items()
        },
        first_time=frozenset(o.item.card.id for s in sessions.values() for o in s.items) - log_sums.known_exercises(conn, client.id),
        titles=tuple(a.title for a in at.running),
        halt=gates.halt,
        questions=gates.questions,
        ask=gates.ask,
        no_age=gates.no_age,
        to_agree=gates.to_agree,
        sore_above=checked_rules(reviews.own_rules(conn)).soreness_ease,
        emergency_number=clients.emergency_number(conn),
        lenses=any(h.rule.id == LENSES for h in at.cautions.held),
        next_day=_next_day(conn, at, today),
        week=_this_week(conn, at, today),
        check_in_about=_asked_about(logs, today),
        checked_in=told[-1] if told and told[-1].day == today else None,
        photo_due=photo_due(conn, at, today, now),
        messages=tuple(messages.of_client(conn, client.id, 30)),
        notes=notes_of(conn, at, today, now),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Gates:
    """What stands before practice, as ``Days`` has it."""

    halt: str
    questions: tuple[CautionRule, ...]
    ask: Asking | None
    no_age: bool
    to_agree: ConsentText | None


def _gates(at: Standing) -> _Gates:
    """A sudden sign comes first and alone: who needs help is asked nothing else. Unanswered questions come before asking
    again, which would ask the same. Without a program nobody is asked for what only practice needs."""
    running = bool(at.running)
    return _Gates(
        halt=at.halt,
        questions=() if at.halt else at.questions,
        ask=None if at.halt or at.questions else at.ask,
        no_age=at.no_age and running,
        to_agree=None if at.halt or at.agreed.in_force or not running else at.agreed.text,
    )


def _laid_out(conn: Conn, at: Standing, today: date, logs: Sequence[Log]) -> tuple[tuple[ClientDay, ...], dict[str, Session]]:
    """The days that a phone keeps, from today on, and their sessions by key; a session that comes again is sent once."""
    tz = zone(at.client.time_zone)
    planned = parts_on(conn, at, today, last=today + timedelta(days=DAYS_AHEAD - 1))
    # Yesterday's ticks too: until three in the morning it is still open.
    ticks = daily.counts(conn, at.client.id, today - timedelta(days=1))
    tender = {t.exercise_id: tender_words(t) for t in practice_logs.tender(conn, at.client.id, today - timedelta(days=TENDER_DAYS))}
    sessions: dict[str, Session] = {}
    out = []
    for day in (today + timedelta(days=n) for n in range(DAYS_AHEAD)):
        off = paused(at.pauses, day)
        of_day = [x for x in logs if x.day == day]
        due = []
        for parts in (planned.get((day, part), []) for part in PARTS):
            if not parts:
                continue
            found, entry = _due(conn, at, parts, of_day, tender=tender, off=off)
            due.append(entry)
            if found is not None:
                sessions.setdefault(found.key, found)
        out.append(
            ClientDay(
                day=day,
                opens_at=closes_at(day - timedelta(days=1), tz),
                closes_at=closes_at(day, tz),
                parts=tuple(due),
                habits=_habits(conn, at, day, ticks, off),
                paused=off,
            )
        )
    return tuple(out), sessions


def photo_due(conn: Conn, at: Standing, today: date, now: datetime) -> date | None:
    """The day since which photographs are due, or will be; None where they are refused."""
    taken = sittings.taken_days(conn, at.client.id)
    courses = [(a.start_date, course_length(a.start_date, anchor=a.anchor, steps=len(a.steps))) for a in at.running]
    return next_sitting(courses, taken, today, refused=consent_of(conn, at.client, PHOTOGRAPHS, now).state in NOT_TAKEN)


def _due(
    conn: Conn, at: Standing, parts: Sequence[Part], logs: Sequence[Log], tender: Mapping[str, str], off: bool
) -> tuple[Session | None, DuePart]:
    """A session of a day as it is due, compiled unless nothing may be practised; ``logs`` are those of the day."""
    first = parts[0].planned
    own = [x for x in logs if x.part == first.part]
    share = share_of(conn, own)
    done_at = max((x.ended_at for x in own), default=None) if share >= DONE_FOR_TODAY else None
    found, begun = None, None
    if at.may_practise and not off:
        # What was done of this very session already takes nothing away from it: it goes on where it stopped.
        others = [x for x in logs if x.part != first.part]
        found = compile_session(at, parts, used_on(conn, at, others, first.day), tender)
        begun = begun_part(conn, found, own) if share < WHOLE else None
        if own and begun is None and done_at is None:  # it is another session now, so all that was done counts
            found = compile_session(at, parts, used_on(conn, at, logs, first.day), tender)
    seconds = sum(p.planned.planned_s for p in parts)
    entry = DuePart(
        part=first.part,
        at=parts[0].assignment.at(first.part),
        session=found.key if found else None,
        parts=tuple(parts),
        planned_s=seconds,
        done_at=done_at,
        done_share=share,
        begun=begun,
    )
    return found, entry


def _habits(conn: Conn, at: Standing, day: date, ticks: Mapping[tuple[date, str], int], off: bool) -> tuple[HabitTask, ...]:
    """The habit tasks of a day; its program week is that of the last session up to it."""
    if at.halt or off:
        return ()
    done = {exercise: n for (on, exercise), n in ticks.items() if on == day}
    found: list[HabitTask] = []
    for running in at.running:
        if day < running.start_date:
            continue
        step = min(max((day - running.anchor).days // 7, 0), len(running.steps) - 1)
        found += habits_of(running, at.cards[running.id, running.plan], running.steps[step][0], at.cautions, done)
    return tuple(found)


def _practised_last(conn: Conn, at: Standing, logs: Sequence[Log], today: date) -> tuple[Item, ...]:
    """The items of the last session that was practised before today, of those that are logged."""
    earlier = [x for x in logs if x.day < today and x.done_s > 0]
    if not earlier:
        return ()
    newest = max(earlier, key=lambda x: x.started_at)
    same = [(p, x) for x in earlier if (x.day, x.part) == (newest.day, newest.part) for p in _planned(conn, x)]
    parts = [Part(at.plans[x.assignment_id, p.plan], p) for p, x in same]
    return tuple(o.item for o in merged_items(parts, at.cards)[0]) if parts else ()


def _planned(conn: Conn, log: Log) -> list[PlannedDay]:
    return [p for p in assignments.sessions(conn, log.assignment_id, log.day, until=log.day) if p.part == log.part]


def _this_week(conn: Conn, at: Standing, today: date) -> ThisWeek:
    if not at.running:
        return ThisWeek()
    rows = log_sums.sessions_of(conn, at.client.id)
    off = off_days(at.pauses, assignments.stays(conn, at.client.id))
    start = at.running[0].start_date
    begin = start + timedelta(days=DAYS * (week_of(start, day=today) - 1))
    week = sessions_between(rows, begin, last=begin + timedelta(days=DAYS - 1), today=today, off=off)
    return ThisWeek(done=week.done, planned=week.planned, missed=missed_in_a_row(days_of(rows, today, off)))


def _next_day(conn: Conn, at: Standing, today: date) -> date | None:
    coming = (
        s.day for a in at.running for s in assignments.sessions(conn, a.id, today + timedelta(days=1)) if not paused(at.pauses, s.day)
    )
    return min(coming, default=None)


def _asked_about(logs: Sequence[Log], today: date) -> date | None:
    """Soreness is asked on the day after practice; after a rest day nobody is asked."""
    yesterday = today - timedelta(days=1)
    return yesterday if any(x.day == yesterday and x.done_s > 0 for x in logs) else None
