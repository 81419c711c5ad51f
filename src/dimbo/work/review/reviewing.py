"""The weekly review: what the rules say of a week, what each verdict would make of the doses, and what the coach decides."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS, Step, practice_day, week_of, zone
from dimbo.core.calendar.time_zones import off_days
from dimbo.core.design.checks import Note
from dimbo.core.design.checks.body import kept_bias
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import work_out
from dimbo.core.programs.program import Program, Settings
from dimbo.core.review.adherence import DayState, SessionRow
from dimbo.core.review.apply_review import LineOutlook, Standing, WeekOutlook, entering, is_judged, outlook, week_outlook
from dimbo.core.review.continuation import Ahead, ahead
from dimbo.core.review.course_weeks import CourseWeek, is_over, review_due
from dimbo.core.review.review_remarks import Remark, remarks
from dimbo.core.review.soreness import LOOK_BACK_DAYS
from dimbo.core.review.thresholds import ReviewRules, checked_rules
from dimbo.core.review.weekly import LineFacts, Verdict, WeekFacts, gravest, judge, judge_line
from dimbo.core.rules import Judgement
from dimbo.core.text import join_words
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.practice import daily, hurts, log_sums
from dimbo.store.practice.log_sums import ExerciseDay
from dimbo.store.review import reviews
from dimbo.store.review.reviews import Review
from dimbo.work.exercises.shelf import cards_of, shelf
from dimbo.work.plans.plan_calendar import program_of
from dimbo.work.programs.check_context import about
from dimbo.work.shared.errors import Refused, Why

from .course_ends import End
from .course_ends import look as look_ahead
from .week_facts import Told, Weeks, pain_of, practice_rules, week_facts, weeks_of

BIAS_RULES = ("bias-unfounded", "bias-missing", "bias-unmeasured")


@dataclass(frozen=True)
class ReviewedLine:
    """An exercise at a review: what happened to it, the verdict, and its dose now and next week for each verdict."""

    facts: LineFacts
    judgement: Judgement
    outlook: LineOutlook


@dataclass(frozen=True)
class BiasOffer:
    """What the readings say of practising the weaker side more; ``label`` is the remedy that can be taken, if any."""

    key: str
    text: str
    label: str
    lines: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ReviewSheet:
    """A week ready to be decided on. ``refused`` says why it cannot be yet, else it is empty."""

    client: Client
    assignment: Assignment
    week: CourseWeek
    number: int
    """The week of the course, counted from its first day."""
    facts: WeekFacts
    rules: ReviewRules
    own_rules: Mapping[str, float]
    whole: Judgement
    lines: tuple[ReviewedLine, ...]
    of_week: WeekOutlook | None
    """Days a week now and next for each verdict on the week; None where nothing follows."""
    entering: tuple[str, ...]
    """Exercises that begin next week when the program advances."""
    ahead: Ahead | None
    bias: tuple[BiasOffer, ...]
    remarks: tuple[Remark, ...]
    end: End
    """How the course stands to its end."""
    earned: bool
    reviewed: tuple[Review, ...]
    refused: str
    program: Program
    settings: Settings


@dataclass(frozen=True, kw_only=True)
class Decision:
    """What the coach decides; ``id`` is made by their device. Lines that are not named follow the suggestion."""

    id: UUID
    first_day: date
    verdicts: Mapping[str, Verdict]
    bias: Sequence[str] = ()
    reason: str = ""
    words: str = ""


def weeks_so_far(conn: Conn, client: Client, running: Assignment, today: date) -> tuple[Weeks, Mapping[int, Assignment]]:
    """The weeks of a running program with their days, and its plans by number."""
    plans = {p.plan: p for p in assignments.plans(conn, running.id)}
    pauses = [p.pause for p in assignments.pauses(conn, client.id)]
    stays = assignments.stays(conn, client.id)
    rows: list[SessionRow] = [r for r in log_sums.sessions_of(conn, client.id) if r.assignment_id == running.id]
    anchors = {n: p.anchor for n, p in plans.items()}
    return weeks_of(rows, anchors, today, off_days(pauses, stays)), plans


def _line_facts(program: Program, days: Sequence[ExerciseDay], rules: ReviewRules) -> dict[str, LineFacts]:
    out = {}
    for line in program.lines:
        own = [d for d in days if d.exercise_id == line.card.id]
        planned = sum(d.planned_s for d in own)
        over = sum(d.work_planned_s > 0 and d.work_done_s > d.work_planned_s * (1 + rules.over_share) for d in own)
        share = sum(d.done_s for d in own) / planned if planned else 1.0
        muscles = frozenset(line.card.shares)
        out[line.id] = LineFacts(
            exercise_id=line.card.id,
            name=line.card.name,
            muscles=muscles,
            sessions=sum(d.sessions for d in own),
            share=share,
            over_days=over,
        )
    return out


def _as_practised(program: Program, then: Program, week: int) -> Program:
    """The program that runs now, with the doses of a week as they were practised then."""
    before = {n.id: n for n in then.lines}
    lines = []
    for n in program.lines:
        known = before.get(n.id)
        cell = known.cells[week - 1] if known and week <= then.weeks else ""
        lines.append(replace(n, cells=(*n.cells[: week - 1], cell, *n.cells[week:])))
    return replace(program, lines=tuple(lines))


def _undecided(running: Assignment, plans: Mapping[int, Assignment], again: Sequence[Review]) -> Assignment:
    """The plan from which a week is decided: at a second look the one before its first review, so that a decision replaces
    the earlier one and does not come on top of it; unless the coach has changed the program since."""
    if not again or any(p.kind == "changed" and p.made_at > again[0].made_at for p in plans.values()):
        return running
    return next((p for p in reversed(list(plans.values())) if p.made_at < again[0].made_at), running)


def _chosen(of: Weeks, first_day: date | None, reviewed: Sequence[Review]) -> CourseWeek:
    if first_day is not None:
        week = next((w for w in of.weeks if w.first == first_day), None)
        if week is None:
            raise Refused(Why.UNKNOWN, f"No week of this program begins on {first_day:%d %B %Y}.", "first_day")
        return week
    due = review_due(of.weeks, of.states, [r.first_day for r in reviewed])
    if due is not None:
        return due
    begun = [w for w in of.weeks if any(d.state is not DayState.FUTURE for d in (of.states[x] for x in w.days))]
    if not of.weeks:
        raise Refused(Why.NOT_NOW, "This program has no planned days yet, so there is no week to review.")
    return begun[-1] if begun else of.weeks[0]


def _why_not(of: Weeks, week: CourseWeek) -> str:
    """Why a week cannot be decided on yet; empty when it can."""
    if is_over(week, of.states):
        if all(of.states[d].state is DayState.PAUSED for d in week.days):
            return "All days of this week were paused. There is nothing to decide; the rule for breaks says how it goes on."
        return ""
    last = max(week.days)
    return f"This week is not over: its last session is on {last:%A}, {last.day} {last:%B}, until 03:00. What is said here is so far."


@dataclass(frozen=True, kw_only=True)
class _Beside:
    """The same days of another program of the client: how they are judged, and what happened to each of its exercises."""

    title: str
    whole: Judgement
    facts: WeekFacts
    lines: Mapping[str, LineFacts]
    """By exercise."""
    rules: ReviewRules

    def of(self, exercise_id: str) -> Judgement | None:
        """What is said of an exercise there; None where it is not part of it."""
        line = self.lines.get(exercise_id)
        if line is None:
            return None
        said = judge_line(line, self.whole, self.facts, self.rules)
        return replace(said, because=f"In {self.title}: {said.because}")


def _beside(conn: Conn, coach: Person, client: Client, own: UUID, week: CourseWeek, told: Sequence[Told], today: date) -> list[_Beside]:
    """The other running programs in the week that ends when the reviewed one does, where they have such a week."""
    out = []
    for other in assignments.running_of(conn, client.id):
        if other.id == own:
            continue
        of, plans = weeks_so_far(conn, client, other, today)
        near = [w for w in of.weeks if abs((w.last - week.last).days) < DAYS and is_over(w, of.states)]
        if not near:
            continue
        found, then = near[-1], plans[near[-1].plan]
        cards = cards_of(conn, coach.practice_id, then)
        rules = checked_rules(dict(other.document.get("review", {})), practice_rules(conn))
        pains = [
            pain_of({i: c.name for i, c in cards.items()}, h) for h in hurts.hurts_of(conn, other.id, first=found.first, last=found.last)
        ]
        facts = week_facts(of, found, told, pains, rules)
        exercised = log_sums.exercise_days(conn, other.id, first=found.first, last=found.last)
        lines = {n.exercise_id: n for n in _line_facts(program_of(then, cards), exercised, rules).values()}
        out.append(_Beside(title=other.title, whole=judge(facts, rules), facts=facts, lines=lines, rules=rules))
    return out


def load(conn: Conn, coach: Person, assignment_id: UUID, first_day: date | None, now: datetime) -> ReviewSheet:
    """The same as ``look`` within a transaction that does more."""
    running = assignments.one(conn, assignment_id)
    client = clients.one(conn, running.client_id)
    today = practice_day(now, zone(client.time_zone))
    of, plans = weeks_so_far(conn, client, running, today)
    known = reviews.of_assignment(conn, assignment_id)
    week = _chosen(of, first_day, known)
    then = plans[week.plan]
    cards = dict(cards_of(conn, coach.practice_id, running)) | dict(cards_of(conn, coach.practice_id, then))
    settings = Settings(**running.settings)
    own = dict(running.document.get("review", {}))
    rules = checked_rules(own, practice_rules(conn))
    told = [Told(c.day, c.soreness, c.places) for c in daily.check_ins(conn, client.id, week.first - timedelta(days=LOOK_BACK_DAYS))]
    names = {i: c.name for i, c in cards.items()}
    pains = [pain_of(names, h) for h in hurts.hurts_of(conn, assignment_id, first=week.first, last=week.last)]
    facts = week_facts(of, week, told, pains, rules)
    whole = judge(facts, rules)
    practised = any(r.day == today and r.done_s for r in of.rows)
    steps = [Step(w, back=b) for w, b in running.steps]
    next_ = ahead(week, running.anchor, steps, waiting=running.kind == "repeat", today=today, practised_today=practised)
    if running.ended_at is not None:
        next_ = None
    again = [r for r in known if r.first_day == week.first]
    program = program_of(_undecided(running, plans, again), cards)
    waiting = {s.exercise_id: s.day for s in hurts.stopped(conn, client.id)}
    exercised = log_sums.exercise_days(conn, assignment_id, first=week.first, last=week.last)
    before = [r.suggested["rule"] for r in reversed(known) if r.first_day < week.first]
    was = program_of(then, cards)
    said_too = remarks(facts, list(_line_facts(was, exercised, rules).values()), cards, whole, before=before, rules=rules)
    lines: list[ReviewedLine] = []
    bias: tuple[BiasOffer, ...] = ()
    of_week: WeekOutlook | None = None
    new: tuple[str, ...] = ()
    if next_ is not None and week.week <= program.weeks:
        program = _as_practised(program, then=was, week=week.week)
        at = Standing.between(Step(week.week, back=week.back), then=next_.steps[0])
        of_week, new = week_outlook(program, at, settings), entering(program, at, settings)
        line_facts = _line_facts(program, exercised, rules)
        others = _beside(conn, coach, client, assignment_id, week=week, told=told, today=today)
        for line in program.lines:
            if is_judged(program, line, at, settings):
                mine = judge_line(line_facts[line.id], whole, facts, rules)
                said = gravest([mine, *(j for o in others if (j := o.of(line.card.id)) is not None)])
                if line.card.id in waiting and said.verdict != Verdict.STOP:
                    since = f"It hurt on {waiting[line.card.id]:%A, %-d %B} and is left out until you let it go on."
                    said = Judgement(Verdict.STOP, rule="review-pain", because=since)
                lines.append(ReviewedLine(line_facts[line.id], said, outlook(program, line, at, settings)))
        bias = _bias(conn, coach, client, running, program=program, settings=settings, now=now)
    return ReviewSheet(
        client=client,
        assignment=running,
        week=week,
        number=week_of(running.start_date, day=week.first),
        facts=facts,
        rules=rules,
        own_rules=own,
        whole=whole,
        lines=tuple(lines),
        of_week=of_week,
        entering=new,
        ahead=next_,
        bias=bias,
        remarks=said_too,
        end=look_ahead(conn, coach.practice_id, running, today),
        earned=running.document.get("mode") == "earned",
        reviewed=tuple(again),
        refused=_why_not(of, week),
        program=program,
        settings=settings,
    )


def bias_notes(
    conn: Conn, coach: Person, client: Client, running: Assignment, program: Program, settings: Settings, now: datetime
) -> list[Note]:
    """What the margin says of practising the weaker side more."""
    known = about(conn, coach, client.id, shelf(conn, coach.practice_id), now=now, program_id=running.program_id)
    return [n for n in compile_sheet(program, settings, known).notes if n.rule in BIAS_RULES]


def _bias(
    conn: Conn, coach: Person, client: Client, running: Assignment, program: Program, settings: Settings, now: datetime
) -> tuple[BiasOffer, ...]:
    """What the newest sitting says of the weaker side: on, off, or kept."""
    known = about(conn, coach, client.id, shelf(conn, coach.practice_id), now=now, program_id=running.program_id)
    kept = tuple(
        BiasOffer("", text=f"{join_words([n.card.name for n in own])}: the {side.value} side keeps more. {because}", label="", lines=())
        for side, because, own in kept_bias(work_out(program, settings, known))
    )
    return kept + tuple(
        BiasOffer(f"{n.rule}:{n.line}", text=n.text, label=n.fix.label if n.fix else "", lines=(n.line,) if n.line else ())
        for n in bias_notes(conn, coach, client, running, program=program, settings=settings, now=now)
    )


def look(db: Database, coach: Person, assignment_id: UUID, first_day: date | None, now: datetime) -> ReviewSheet:
    """A week of an assignment, the one that is due when no first day is given. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        return load(conn, coach, assignment_id, first_day, now)
