"""The client's days: what is due, compiled to the second, for today and the days that a phone may have to do without us."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from uuid import UUID

from dimbo.core.calendar.photo_due import next_sitting
from dimbo.core.calendar.schedule import DAYS, closes_at, paused, week_of, zone
from dimbo.core.calendar.time_zones import day_at, off_days
from dimbo.core.programs.program import Settings
from dimbo.core.programs.progression import rung_back
from dimbo.core.review.adherence import days_of, missed_in_a_row, sessions_between
from dimbo.core.review.course_weeks import course_length
from dimbo.core.review.review_remarks import to_client
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
from dimbo.store.plans.assignments import Assignment, PlannedDay
from dimbo.store.practice import daily, log_sums, practice_logs
from dimbo.store.practice.practice_logs import Log
from dimbo.store.review import reviews
from dimbo.store.sittings import sittings
from dimbo.work.intake.consenting import NOT_TAKEN, PHOTOGRAPHS, consent_of
from dimbo.work.plans.ending import last_ended
from dimbo.work.plans.pausing import settle_breaks
from dimbo.work.plans.plan_calendar import program_of
from dimbo.work.plans.repeat_weeks import settle_waiting

from .client_sessions import HabitTask, Part, Session, Standing, compile_session, habits_of, merged_items, parts_on, standing
from .day_logs import TENDER_DAYS, Begun, begun_part, share_of, tender_words, used_on

LENSES = "contact-lenses"
"""The caution of those who wear contact lenses."""
REVIEW_IS_NEWS = timedelta(days=7)
"""So long what a coach has decided is said on Today."""
DAYS_AHEAD = 7
"""Days that a phone keeps, today included, so that it plays them without a connection."""


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
    with db.practice(person.practice_id, client_id) as conn:
        return _days(conn, person, clients.one(conn, client_id), day_at(assignments.stays(conn, client_id), now), now)


def begin_day(db: Database, person: Person, now: datetime) -> Days:
    """The client is here again: what a break, or a week without its review, means is laid out from today; then the days."""
    client_id = own_client(person)
    with db.practice(person.practice_id, client_id) as conn:
        client = clients.one(conn, client_id)
        today = day_at(assignments.stays(conn, client_id), now)
        settle_breaks(conn, person.practice_id, client_id, today, now)
        settle_waiting(conn, person.practice_id, client_id, today, now)
        return _days(conn, person, client, today, now)


def _days(conn: Conn, person: Person, client: Client, today: date, now: datetime) -> Days:
    tz = zone(client.time_zone)
    at = standing(conn, person.practice_id, client, now)
    last = today + timedelta(days=DAYS_AHEAD - 1)
    planned = parts_on(conn, at, today, last=last)
    logs = [x for a in at.running for x in practice_logs.logs(conn, a.id)]
    ticks = daily.counts(conn, client.id, today - timedelta(days=1))
    tender = {t.exercise_id: tender_words(t) for t in practice_logs.tender(conn, client.id, today - timedelta(days=TENDER_DAYS))}
    sessions: dict[str, Session] = {}
    out = []
    for offset in range(DAYS_AHEAD):
        day = today + timedelta(days=offset)
        off = paused(at.pauses, day)
        due = []
        for part in ("morning", "evening"):
            if parts := planned.get((day, part), []):
                of_day = [x for x in logs if x.day == day]
                found, entry = _due(conn, at, parts, of_day, tender=tender, off=off)
                due.append(entry)
                if found is not None:
                    sessions.setdefault(found.key, found)
        opens = closes_at(day - timedelta(days=1), tz)
        out.append(
            ClientDay(
                day=day,
                opens_at=opens,
                closes_at=closes_at(day, tz),
                parts=tuple(due),
                habits=_habits(conn, at, day, ticks, off),
                paused=off,
            )
        )
    before = {part: _practised_last(conn, at, [x for x in logs if x.part == part], today) for part in ("morning", "evening")}
    taken = [s.taken_on for s in sittings.of_client(conn, client.id)]
    courses = [(a.start_date, course_length(a.start_date, anchor=a.anchor, steps=len(a.steps))) for a in at.running]
    refused = consent_of(conn, client, PHOTOGRAPHS, now).state in NOT_TAKEN
    told = daily.check_ins(conn, client.id, today)
    return Days(
        client=client,
        practice_name=person.practice_name,
        coach_name=messages.addresses_of(conn, client.id).coach_name,
        today=today,
        days=tuple(out),
        sessions=sessions,
        changed={
            k: news(before[s.part], after=s.plain, explained={name for name, _ in s.left_out}) if before[s.part] else ()
            for k, s in sessions.items()
        },
        first_time=frozenset(o.item.card.id for s in sessions.values() for o in s.items) - log_sums.known_exercises(conn, client.id),
        titles=tuple(a.title for a in at.running),
        halt=at.halt,
        questions=() if at.halt else at.questions,
        ask=None if at.halt or at.questions else at.ask,
        no_age=at.no_age and bool(at.running),
        to_agree=None if at.halt or at.agreed.in_force or not at.running else at.agreed.text,
        sore_above=checked_rules(reviews.own_rules(conn)).soreness_ease,
        emergency_number=clients.emergency_number(conn),
        lenses=any(h.rule.id == LENSES for h in at.cautions.held),
        next_day=_next_day(conn, at, today),
        week=_this_week(conn, at, today),
        check_in_about=_asked_about(logs, today),
        checked_in=told[-1] if told and told[-1].day == today else None,
        photo_due=next_sitting(courses, taken, today, refused=refused),
        messages=tuple(messages.of_client(conn, client.id, 30)),
        notes=tuple(x for x in (last_ended(conn, client.id, now), *_notes(at, today, _reviewed(conn, at, now))) if x),
    )


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


def _reviewed(conn: Conn, at: Standing, now: datetime) -> dict[UUID, str]:
    """What the coach has decided lately, by assignment, as the client reads it, whatever became of the plan."""
    out = {}
    for running in at.running:
        newest = max(reviews.of_assignment(conn, running.id), key=lambda r: r.made_at, default=None)
        if newest is not None and now - newest.made_at < REVIEW_IS_NEWS:
            told = newest.suggested
            out[running.id] = to_client(newest.decided["whole"], suggested=told["whole"], rule=told["rule"], words=newest.words)
    return out


def _notes(at: Standing, today: date, reviewed: Mapping[UUID, str]) -> tuple[str, ...]:
    out = list(reviewed.values())
    for pause in at.pauses:
        if pause.holds(today):
            until = f"until {pause.last:%-d %B}" if pause.last else "until your coach ends it"
            out.append(f"You are on a pause {until}. Nothing is due, and nothing has to be made up.")
        elif today < pause.first <= today + timedelta(days=DAYS_AHEAD):
            out.append(f"A pause begins on {pause.first:%A, %-d %B}.")
    for running in at.running:
        recent = timedelta(0) <= today - running.from_day < timedelta(days=7)
        if running.kind in ("break", "resumed") and recent and running.steps[0][1]:
            if _lighter(at, running):
                out.append("After the days without practice this week is a little lighter. That is part of the plan.")
        elif running.kind in ("break", "resumed") and recent:
            out.append("After the long break the exercises begin again from their first doses.")
        elif running.kind == "repeat" and recent and running.id not in reviewed:
            out.append("This week is the same as the last one; the next step comes when your coach has looked at it.")
        elif running.kind == "changed" and timedelta(0) <= today - running.from_day <= timedelta(days=2):
            out.append("Your coach has changed the plan." + (f" {running.reason}" if running.reason else ""))
    return tuple(dict.fromkeys(out))


def _lighter(at: Standing, running: Assignment) -> bool:
    """Whether the first week of a plan has a smaller dose than its program week as written."""
    week, back = running.steps[0]
    program = program_of(running, at.cards[running.id, running.plan])
    pace_s = Settings(**running.settings).pace_s
    return any(rung_back(n, week, back=back, pace_s=pace_s, lighter=program.lighter) != n.cells[week - 1] for n in program.lines)
