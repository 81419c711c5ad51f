"""A client as the desk sees them: worked out of their own rows alone, so the same rows are never worked out twice."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.catalogue import shipped_intake
from dimbo.core.calendar.photo_due import next_sitting
from dimbo.core.calendar.schedule import Pause, week_of
from dimbo.core.calendar.time_zones import Stay, off_days
from dimbo.core.review.adherence import Adherence, Day, DayState, SessionRow, days_of, missed_in_a_row, session_adherence
from dimbo.core.review.alarms import Alarm, Aside, Corrected, DueReview, Known, Locked, ReviewWeek, alarms
from dimbo.core.review.course_weeks import course_length, review_due
from dimbo.core.review.thresholds import ReviewRules, checked_rules
from dimbo.core.review.weekly import judge
from dimbo.core.safety.cautions import Cautions, stand
from dimbo.core.safety.consent import Consent, ConsentState
from dimbo.store.intake.facts import Fact
from dimbo.store.people.clients import Client
from dimbo.store.practice.hurts import Hurt
from dimbo.store.review.desk import Reviewed, Running
from dimbo.work.intake.consenting import NOT_TAKEN
from dimbo.work.intake.entering import caution_state, consents
from dimbo.work.intake.looking import PHOTOGRAPHS
from dimbo.work.shared.remembered import Remembered

from .week_facts import Told, by_assignment, differs, in_places, numbers, pain_of, week_facts, weeks_of

BARS_DAYS = 14


@dataclass(frozen=True, kw_only=True)
class ProgramAt:
    """A running program and the week of its course in which the client is."""

    assignment_id: UUID
    program_id: UUID
    title: str
    week: int
    weeks: int
    start_date: date
    group_id: UUID | None


@dataclass(frozen=True, kw_only=True)
class ClientLine:
    """A client as the desk sees them on their own day: the last two weeks, and what needs the coach."""

    client: Client
    today: date
    days: list[Day]
    week: Adherence
    programs: list[ProgramAt]
    alarms: list[Alarm]
    reviews: list[DueReview]
    cautions: Cautions
    efforts: list[tuple[date, int]]
    soreness: list[tuple[date, int]]
    next_day: date | None
    """The next planned day, today among them."""
    shots_due: date | None
    own_intake: bool
    unread: int
    stopped: int
    missed: int
    last_planned: date | None
    """The last planned day of the programs that run, or ended lately."""


@dataclass(frozen=True, kw_only=True)
class Own:
    """Everything that is read of one client, on their own day ``today``. ``since`` is the first day of the window.

    ``hurts`` and ``reviewed`` are by assignment.
    """

    client: Client
    today: date
    since: date
    sessions: list[SessionRow]
    running: list[Running]
    anchors: dict[UUID, dict[int, date]]
    told: list[Told]
    facts: list[Fact]
    pauses: list[Pause]
    stays: list[Stay]
    taken: list[date]
    settled: list[Aside]
    hurts: dict[UUID, list[Hurt]]
    stopped: list[Hurt]
    reviewed: dict[UUID, Reviewed]
    unread: int
    newest_unread: datetime | None
    own_intake: bool
    last_planned: date | None
    silent: list[date]
    """Planned days before the window since the last that was practised, of whoever practised in none of the window."""
    practised_before: date | None
    """The last day that they practised before it."""


@dataclass(frozen=True)
class _Worked:
    """What a line was worked out of; equal to what is there now, it need not be worked out again."""

    own: Own
    base: ReviewRules
    names: Mapping[str, str]
    line: ClientLine


_worked: Remembered[_Worked] = Remembered(5000)


def line_of(own: Own, base: ReviewRules, names: Mapping[str, str]) -> ClientLine:
    """The line of a client; ``base`` are the practice's thresholds, ``names`` those of its exercises."""
    known = _worked.get(own.client.id)
    if known and known.own == own and known.base == base and known.names == names:
        return known.line
    line = _line(own, base, names)
    _worked.keep(own.client.id, _Worked(own, base, names, line))
    return line


def _line(own: Own, base: ReviewRules, names: Mapping[str, str]) -> ClientLine:
    client, today, off = own.client, own.today, off_days(own.pauses, own.stays)
    days = days_of(own.sessions, today, off)
    past = [d for d in days if d.day <= today]
    # Days missed before the window, of somebody who practised in none of it.
    silent = [Day(day=d, state=DayState.SKIPPED) for d in own.silent if not off(d)]
    cautions = stand(shipped_intake().tables.cautions, *caution_state(own.facts), today)
    agreed = consents(own.facts, today, own.client.birth_year)
    reviews, corrected = _reviews(own, days, base, names, off)
    shots = shots_due(own.running, own.taken, agreed, today)
    known = Known(
        today=today,
        urgent=[h.reason for h in cautions.urgent],
        locks=_locked(cautions),
        hurts=[pain_of(names, stop) for stop in own.stopped],
        days=[*silent, *past],
        soreness=[(t.day, t.soreness, in_places(t.places)) for t in own.told if t.day <= today],
        unread=own.unread,
        newest_unread=own.newest_unread,
        own_intake=own.own_intake,
        reviews=reviews,
        corrected=corrected,
        sitting_due=shots,
        consents=[(c.text.name.lower(), c.until) for c in agreed if c.until and (c.in_force or c.state is ConsentState.EXPIRED)],
        ended=own.last_planned if client.status == "active" else None,
        rules=base,
        practised_before=own.practised_before,
    )
    fortnight = [d for d in past if d.day > today - timedelta(days=BARS_DAYS)]
    ahead = (d.day for d in days if d.day >= today and d.state in (DayState.OPEN, DayState.FUTURE))
    found = alarms(known, own.settled)
    return ClientLine(
        client=client,
        today=today,
        days=fortnight,
        week=session_adherence(past, today, 7),
        programs=[program_at(a, today) for a in own.running],
        alarms=found,
        reviews=reviews,
        cautions=cautions,
        efforts=[(r.day, r.effort) for r in own.sessions if r.effort is not None and r.day > today - timedelta(days=BARS_DAYS)],
        soreness=[(t.day, t.soreness) for t in own.told if t.day > today - timedelta(days=BARS_DAYS)],
        next_day=next(ahead, None),
        shots_due=shots,
        own_intake=known.own_intake,
        unread=known.unread,
        stopped=len({s.exercise_id for s in own.stopped}),
        missed=missed_in_a_row([*silent, *past]),
        last_planned=own.last_planned,
    )


def _locked(cautions: Cautions) -> list[Locked]:
    return [Locked(h.short, reason=h.reason) for h in cautions.locks]


def unread_line(client: Client, today: date, facts: Iterable[Fact]) -> ClientLine:
    """The line of a client whose record could not be worked out: that, and what stands over them if that much can be read."""
    try:
        cautions = stand(shipped_intake().tables.cautions, *caution_state(list(facts)), today)
    except (KeyError, TypeError, ValueError):
        cautions = Cautions((), ())
    known = Known(today=today, urgent=[h.reason for h in cautions.urgent], locks=_locked(cautions), unread_record=True)
    return ClientLine(
        client=client,
        today=today,
        days=[],
        week=Adherence(0, 0),
        programs=[],
        alarms=alarms(known),
        reviews=[],
        cautions=cautions,
        efforts=[],
        soreness=[],
        next_day=None,
        shots_due=None,
        own_intake=False,
        unread=0,
        stopped=0,
        missed=0,
        last_planned=None,
    )


def program_at(a: Running, today: date) -> ProgramAt:
    """Where a client is in a running program."""
    return ProgramAt(
        assignment_id=a.id,
        program_id=a.program_id,
        title=a.title,
        week=week_of(a.start_date, day=today),
        weeks=_weeks(a),
        start_date=a.start_date,
        group_id=a.group_id,
    )


def _weeks(a: Running) -> int:
    return course_length(a.start_date, anchor=a.anchor, steps=a.steps)


def shots_due(running: Iterable[Running], taken: Sequence[date], agreed: Iterable[Consent], today: date) -> date | None:
    """The day since which photographs are due; never while they are refused."""
    state = next(c for c in agreed if c.text.id == PHOTOGRAPHS).state
    return next_sitting([(a.start_date, _weeks(a)) for a in running], taken, today, refused=state in NOT_TAKEN)


def _reviews(
    own: Own, days: list[Day], base: ReviewRules, names: Mapping[str, str], off: Callable[[date], bool]
) -> tuple[list[DueReview], list[Corrected]]:
    """Weeks that wait for a review, and reviewed ones whose numbers have changed since."""
    due, corrected = [], []
    sessions = by_assignment(own.sessions)
    for a in own.running:
        rules = checked_rules(a.review, base) if a.review else base
        of = weeks_of(sessions.get(a.id, ()), own.anchors[a.id], own.today, off, days if len(sessions) == 1 and a.id in sessions else None)
        pains = [pain_of(names, h) for h in own.hurts.get(a.id, ())]
        last = own.reviewed.get(a.id)
        if last is not None:
            week = next((w for w in of.weeks if w.first == last.first_day), None)
            if week is not None and week.first >= own.since:
                how = differs(last.evidence, now=numbers(week_facts(of, week, own.told, pains, rules), rules))
                if how:
                    corrected.append(Corrected(ReviewWeek(a.id, week.first), how))
        found = review_due(of.weeks, of.states, [last.first_day] if last is not None else [])
        if found is not None and (last is None or found.first > last.first_day):
            facts = week_facts(of, found, own.told, pains, rules)
            due.append(DueReview(assignment=a.id, title=a.title, week=found, facts=facts, judgement=judge(facts, rules)))
    return due, corrected
