"""The client page: what was planned and done on one axis of weeks, and what to decide."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.calendar.photo_due import next_sitting
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.calendar.time_zones import off_days
from dimbo.core.exercises.card import Card
from dimbo.core.intake.conclusions import Rating, severity_by_muscle
from dimbo.core.review.adherence import (
    WINDOWS,
    Adherence,
    Day,
    DayState,
    Dose,
    ExerciseTally,
    SessionRow,
    SessionWork,
    Took,
    by_part,
    by_weekday,
    day_of,
    days_of,
    dose_adherence,
    left_out_first,
    missed_days,
    missed_in_a_row,
    session_adherence,
    took,
)
from dimbo.core.review.breaks import returns
from dimbo.core.review.course_weeks import course_length
from dimbo.core.review.soreness import Soreness
from dimbo.core.review.thresholds import ReviewRules, checked_rules
from dimbo.core.review.weekly import Pain
from dimbo.core.safety.cautions import Cautions, stand
from dimbo.core.safety.consent import Consent
from dimbo.core.sittings.sitting import Measurement
from dimbo.store.database import Conn, Database
from dimbo.store.intake import facts, self_intakes
from dimbo.store.messages import messages
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, StoredPause
from dimbo.store.practice import daily, hurts, log_sums
from dimbo.store.practice.daily import CheckIn
from dimbo.store.practice.hurts import Stopped
from dimbo.store.practice.log_sums import DayDose, ExerciseDay, LogHead, PartWork
from dimbo.store.programs import programs
from dimbo.store.programs.programs import ProgramSummary
from dimbo.store.review import reviews
from dimbo.store.review.reviews import Review
from dimbo.store.sittings import photographs, sittings
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.sittings import Sitting
from dimbo.work.exercises.shelf import shelf
from dimbo.work.intake.consenting import NOT_TAKEN
from dimbo.work.intake.entering import caution_state, consents, ratings_of
from dimbo.work.intake.looking import PHOTOGRAPHS, sees
from dimbo.work.measured import measurement, measurement_of
from dimbo.work.practice.client_sessions import soreness_of

from . import course_ends
from .course_ends import End
from .week_facts import Told, by_assignment, differs, numbers, pain_of, practice_rules, week_facts, weeks_of


@dataclass(frozen=True)
class InWindow:
    """Adherence in one window: sessions, and work by contraction and hands-on time."""

    sessions: Adherence
    dose: Mapping[str, Dose]


@dataclass(frozen=True, kw_only=True)
class Patterns:
    """What shows over the whole course: by weekday and part of the day, what is left out first, and how long it really takes."""

    windows: Mapping[str, InWindow]
    weekdays: Mapping[int, Adherence]
    parts: Mapping[str, Adherence]
    left_out: Sequence[ExerciseTally]
    took: Took | None


@dataclass(frozen=True, kw_only=True)
class Course:
    """Everything the client page shows. ``today`` is the client's own day."""

    client: Client
    today: date
    assignments: list[Assignment]
    """Every block of the course, the earliest first, those that ended too."""
    days: list[Day]
    """Every planned day, added up over all programs, and days without a plan on which something was done."""
    doses: Mapping[date, DayDose]
    logs: Mapping[date, list[LogHead]]
    pauses: list[StoredPause]
    plans: list[Assignment]
    plan_makers: Mapping[tuple[UUID, int], str]
    """Who made each plan, by assignment and number."""
    """Every plan of the assignments, with the day from which it holds and why."""
    check_ins: Mapping[date, CheckIn]
    reviews: list[tuple[Review, str]]
    """Each with how the numbers of its week have changed since; empty when they have not."""
    pains: list[Pain]
    patterns: Patterns
    unread: int
    """Messages of the client that no coach has read."""
    groups: Mapping[UUID | None, str]
    """Names of the groups that they started with."""
    rules: ReviewRules
    """The practice's thresholds."""
    missed: int
    returns: str
    """How practice would go on today after the missed days; empty when none were."""
    stopped: list[Stopped]
    programs: list[ProgramSummary]
    sittings: list[Sitting]
    photographs: list[Photograph]
    sitting_due: date | None
    measurement: Measurement
    cautions: Cautions
    severity: dict[str, Rating]
    """Severity of the rated concerns by muscle."""
    own_intake: bool
    """Whether an intake that the client filled in waits for review."""
    cards: Mapping[str, Card]
    """Every exercise of the practice by id."""
    asked: datetime | None
    """When health was asked last."""
    ends: Mapping[UUID, End]
    """How each assignment stands to its end."""
    sore: Soreness | None
    """What soreness leaves out now."""


def _patterns(
    rows: Sequence[SessionRow], days: Sequence[Day], works: Sequence[SessionWork], tallies: list[ExerciseTally], today: date
) -> Patterns:
    windows = {k: InWindow(session_adherence(days, today, n), dose_adherence(works, today, n)) for k, n in WINDOWS.items()}
    return Patterns(windows=windows, weekdays=by_weekday(days), parts=by_part(works), left_out=left_out_first(tallies), took=took(works))


def session_works(rows: Sequence[SessionRow], works: Sequence[PartWork], today: date, off: Callable[[date], bool]) -> list[SessionWork]:
    """The sessions of a client by contraction and hands-on time; those without a plan lie above it."""
    known = {(w.assignment_id, w.day, w.part): w for w in works}
    out = []
    for r in rows:
        day, w = day_of(r.day, today=today, rows=[r], off=off(r.day)), known.get((r.assignment_id, r.day, r.part))
        if w is None or day.state is DayState.EXTRA:
            out.append(SessionWork(day=r.day, part=r.part, state=day.state, contraction_s=0.0, hands_on_s=0.0, over_s=day.over_s))
            continue
        told = w.log_contraction_s is not None or w.log_hands_on_s is not None
        out.append(
            SessionWork(
                day=r.day,
                part=r.part,
                state=day.state,
                contraction_s=w.log_contraction_s or 0.0 if told else w.contraction_s,
                hands_on_s=w.log_hands_on_s or 0.0 if told else w.hands_on_s,
                contraction_done_s=w.contraction_done_s or 0.0,
                hands_on_done_s=w.hands_on_done_s or 0.0,
                over_s=day.over_s,
                share=day.share,
                length_s=w.length_s,
                took_s=w.took_s,
            )
        )
    return out


def _off(conn: Conn, client_id: UUID) -> Callable[[date], bool]:
    pauses = [p.pause for p in assignments.pauses(conn, client_id)]
    stays = assignments.stays(conn, client_id)
    return off_days(pauses, stays)


def course(db: Database, coach: Person, client_id: UUID, now: datetime) -> Course:
    """Load and judge one client's course. Raises NotThere."""
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        today = practice_day(now, zone(client.time_zone))
        cards = shelf(conn, coach.practice_id).cards
        known = sorted(assignments.of_client(conn, client_id), key=lambda a: (a.start_date, a.ended_at is None))
        rows = log_sums.sessions_of(conn, client_id)
        off = _off(conn, client_id)
        works = log_sums.works_of(conn, client_id, [i for i, c in cards.items() if c.family.contracts])
        tallies = log_sums.tallies_of(conn, client_id)
        plans = [p for a in known for p in ([a] if a.plan == 1 else assignments.plans(conn, a.id))]
        makers = assignments.plan_makers(conn, client_id)
        heads: dict[date, list[LogHead]] = {}
        for head in log_sums.heads_of(conn, client_id):
            heads.setdefault(head.day, []).append(head)
        doses = {d.day: d for d in log_sums.doses_of(conn, client_id)}
        pauses = assignments.pauses(conn, client_id)
        told = {c.day: c for c in daily.check_ins(conn, client_id)}
        groups: dict[UUID | None, str] = {g.id: g.name for a in known if a.group_id and (g := assignments.group(conn, a.group_id))}
        kept = reviews.of_client(conn, client_id)
        names = {i: c.name for i, c in cards.items()}
        pains = {a.id: [pain_of(names, h) for h in hurts.hurts_of(conn, a.id, first=date.min, last=date.max)] for a in known}
        base = practice_rules(conn)
        unread = messages.unread_counts(conn).get(client_id, 0)
        stopped = hurts.stopped(conn, client_id)
        written = programs.of_client(conn, client_id)
        seen, shots = sittings.of_client(conn, client_id), photographs.of_client(conn, client_id)
        taken = sittings.taken_days(conn, client_id)
        standing = facts.standing(conn, client_id)
        sent = self_intakes.newest(conn, client_id)
        asked = facts.last_asked(conn, client_id)
        ends = {a.id: course_ends.look(conn, coach.practice_id, a, today) for a in known}
        sore = soreness_of(conn, client_id, [a for a in known if a.ended_at is None], now)
        agreed = consents(standing, today, client.birth_year)
        if shots and not sees(agreed, coach, client):
            shots = []
        measured = measurement(conn, client) if shots else measurement_of(client, seen, shots)
    days = days_of(rows, today, off)
    return Course(
        client=client,
        today=today,
        assignments=known,
        days=days,
        doses=doses,
        logs=heads,
        pauses=pauses,
        plans=plans,
        plan_makers=makers,
        check_ins=told,
        reviews=_since(kept, known, plans=plans, rows=rows, told=told, pains=pains, base=base, today=today, off=off),
        pains=[p for own in pains.values() for p in own],
        patterns=_patterns(rows, days, session_works(rows, works, today, off), tallies, today),
        unread=unread,
        groups=groups,
        rules=base,
        missed=missed_in_a_row(days),
        returns=returns(max((d.day for d in days if d.practised), default=None), missed_days(days), today),
        stopped=stopped,
        programs=written,
        sittings=seen,
        photographs=shots,
        sitting_due=_due(known, taken, agreed, today),
        measurement=measured,
        cautions=stand(shipped_intake().tables.cautions, *caution_state(standing), today),
        severity=severity_by_muscle(shipped_catalogue().concerns, ratings_of(standing)),
        own_intake=sent is not None and sent.submitted_at is not None and sent.reviewed_at is None,
        cards=cards,
        asked=asked,
        ends=ends,
        sore=sore,
    )


def _since(
    kept: Sequence[Review],
    known: Sequence[Assignment],
    plans: Sequence[Assignment],
    rows: Sequence[SessionRow],
    told: Mapping[date, CheckIn],
    pains: Mapping[UUID, Sequence[Pain]],
    base: ReviewRules,
    today: date,
    off: Callable[[date], bool],
) -> list[tuple[Review, str]]:
    """Reviews with how their numbers have changed since."""
    if not kept:
        return []
    checks = [Told(c.day, c.soreness, c.places) for c in told.values()]
    sessions, rules, weeks = by_assignment(rows), {}, {}
    for a in known:
        anchors = {p.plan: p.anchor for p in plans if p.id == a.id}
        weeks[a.id] = weeks_of(sessions.get(a.id, ()), anchors, today, off)
        rules[a.id] = checked_rules(dict(a.document.get("review", {})), base)
    out = []
    for r in kept:
        of = weeks[r.assignment_id]
        week = next((w for w in of.weeks if w.first == r.first_day), None)
        facts = week_facts(of, week, checks, pains[r.assignment_id], rules[r.assignment_id]) if week else None
        out.append((r, differs(r.evidence, now=numbers(facts, rules[r.assignment_id])) if facts else ""))
    return out


def exercise_history(db: Database, coach: Person, client_id: UUID, exercise_id: str) -> list[ExerciseDay]:
    """Every day on which an exercise was in a practised session, behind the numbers that are told of it. Raises NotThere."""
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        rows = [
            d
            for a in assignments.of_client(conn, client_id)
            for d in log_sums.exercise_days(conn, a.id, first=date.min, last=date.max)
            if d.exercise_id == exercise_id
        ]
        return sorted(rows, key=lambda d: d.day)


def _due(known: Sequence[Assignment], taken: Sequence[date], agreed: Sequence[Consent], today: date) -> date | None:
    """The day of the next sitting of the running programs."""
    running = [(a.start_date, course_length(a.start_date, anchor=a.anchor, steps=len(a.steps))) for a in known if a.ended_at is None]
    state = next(c for c in agreed if c.text.id == PHOTOGRAPHS).state
    return next_sitting(running, taken, today, refused=state in NOT_TAKEN)
