"""What the coach decides at a review, kept with what was suggested, and the doses that hold from then on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from uuid import UUID, uuid5

from dimbo.core.calendar.schedule import Step
from dimbo.core.design.checks import Note
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.programs.program import Program, Settings
from dimbo.core.review.apply_review import THE_WEEK, Standing, after_review, next_of, printed
from dimbo.core.review.continuation import Ahead
from dimbo.core.review.weekly import Verdict
from dimbo.store.database import Conn, Database
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.practice import hurts, practice_logs
from dimbo.store.programs import programs
from dimbo.store.review import reviews
from dimbo.store.review.reviews import Review
from dimbo.work.exercises.shelf import cards_of, shelf
from dimbo.work.messages.messaging import Said, say_as_coach
from dimbo.work.plans.assigning import follow
from dimbo.work.plans.plan_calendar import lay, program_of
from dimbo.work.programs.check_context import about
from dimbo.work.programs.documents import ProgramDocument, from_program, to_program
from dimbo.work.shared.errors import Refused, Why

from .reviewing import Decision, ReviewSheet, bias_notes, load
from .week_facts import numbers

CEILINGS = ("ceiling", "muscle-ceiling", "ceiling-beside")
"""The checks that a resulting program must not fail."""
SAID = (*CEILINGS, "steep-line", "steep-session", "one-axis", "strength-days", "budget")
"""The checks whose new notes are said before a decision is confirmed."""
HOLD_INSTEAD = "Hold or ease back one of the exercises."


def _verdicts(conn: Conn, sheet: ReviewSheet, decision: Decision) -> tuple[dict[str, Verdict], list[str]]:
    """The verdict of every line, and the lines in which the coach decides otherwise than suggested. Raises Refused."""
    suggested = {n.outlook.line_id: Verdict(n.judgement.verdict) for n in sheet.lines} | {THE_WEEK: Verdict(sheet.whole.verdict)}
    unknown = [k for k in decision.verdicts if k not in suggested]
    if unknown:
        raise Refused(Why.UNKNOWN, f"Row “{unknown[0]}” is not judged in this week. Open the review again.", "verdicts")
    if decision.verdicts.get(THE_WEEK) is Verdict.STOP:
        raise Refused(Why.CLASH, "A week is not stopped. Pause the client, or end the program.", "verdicts")
    waiting = {s.exercise_id for s in hurts.stopped(conn, sheet.client.id)}
    for n in sheet.lines:
        if n.facts.exercise_id in waiting and decision.verdicts.get(n.outlook.line_id) is Verdict.ADVANCE:
            raise Refused(Why.CARE, f"{n.facts.name} hurt and is stopped. Let it go on first, then raise it.", "verdicts")
    changed = [k for k, v in suggested.items() if decision.verdicts.get(k, v) is not v]
    if (changed or decision.bias) and not decision.reason.strip():
        what = "Say in a few words why you decide otherwise" if changed else "Say in a few words why the sides change"
        raise Refused(Why.NEEDED, f"{what}; it is kept with the review.", "reason")
    return {**suggested, **decision.verdicts}, changed


def confirm(db: Database, coach: Person, assignment_id: UUID, decision: Decision, now: datetime) -> Review:
    """Keep a review and let its doses hold. Deciding twice by one id changes nothing. Raises NotThere, Refused, Conflict."""
    with db.of(coach) as conn:
        running = assignments.one(conn, assignment_id)
        practice_logs.hold_client(conn, running.client_id)
        if reviews.has(conn, decision.id):
            return next(r for r in reviews.of_assignment(conn, assignment_id) if r.id == decision.id)
        sheet = load(conn, coach, assignment_id, decision.first_day, now)
        if sheet.refused:
            raise Refused(Why.CARE, sheet.refused, "first_day")
        verdicts, _ = _verdicts(conn, sheet, decision)
        found = _resulting(conn, coach, sheet, verdicts, bias=decision.bias, now=now)
        holds_from, version = _hold(conn, coach, sheet, found, now)
        review = Review(
            id=decision.id,
            client_id=sheet.client.id,
            assignment_id=assignment_id,
            first_day=sheet.week.first,
            last_day=sheet.week.last,
            week=sheet.week.week,
            evidence=numbers(sheet.facts, sheet.rules),
            suggested={
                "whole": sheet.whole.verdict,
                "rule": sheet.whole.rule,
                "because": sheet.whole.because,
                "lines": {
                    n.outlook.line_id: {"name": n.facts.name, "verdict": n.judgement.verdict, "because": n.judgement.because}
                    for n in sheet.lines
                }
                | {THE_WEEK: {"name": "The week", "verdict": sheet.whole.verdict, "because": sheet.whole.because}},
            },
            decided={
                "whole": _whole(verdicts, sheet),
                "lines": {k: v.value for k, v in verdicts.items()},
                "doses": {i: list(pair) for i, pair in _doses(sheet, verdicts, found).items() if pair[0] != pair[1]},
                "bias": list(decision.bias),
            },
            reason=decision.reason.strip()[:400],
            words=decision.words.strip()[:1000],
            holds_from=holds_from,
            program_version=version,
            made_by=coach.id,
            made_at=now,
        )
        reviews.add(conn, coach.practice_id, review)
        if review.words:
            say_as_coach(conn, coach, sheet.client.id, Said(id=uuid5(decision.id, "words"), text=review.words, written_at=now), now)
        return review


def _whole(verdicts: Mapping[str, Verdict], sheet: ReviewSheet) -> str:
    """The decision in one word: that of most lines; without lines the suggestion."""
    own = [v for k, v in verdicts.items() if k != THE_WEEK]
    return max(Verdict, key=own.count).value if own else verdicts[THE_WEEK].value


@dataclass(frozen=True)
class Resulting:
    """What a decision makes of the program: the verdicts as they hold, where it stands, and the program from then on."""

    doses: Mapping[str, Verdict]
    at: Standing
    after: Program
    ahead: Ahead


def _resulting(
    conn: Conn, coach: Person, sheet: ReviewSheet, verdicts: Mapping[str, Verdict], bias: Sequence[str], now: datetime
) -> Resulting | None:
    """None when nothing changes: nothing follows, or the week was laid out to come again and comes again as it is."""
    next_ = sheet.ahead
    if next_ is None:
        return None
    at = Standing.between(Step(sheet.week.week, back=sheet.week.back), then=next_.steps[0])
    waiting = {s.exercise_id for s in hurts.stopped(conn, sheet.client.id)}
    # What hurts is left out by its own stop; when it is let go on, it goes on where it was.
    doses = {
        n.outlook.line_id: Verdict.HOLD
        if n.facts.exercise_id in waiting and verdicts[n.outlook.line_id] is Verdict.STOP
        else verdicts[n.outlook.line_id]
        for n in sheet.lines
    } | {THE_WEEK: verdicts[THE_WEEK]}
    same = all(not n.outlook.changes(doses[n.outlook.line_id]) for n in sheet.lines)
    if next_.waiting and same and doses[THE_WEEK] is Verdict.HOLD and not bias:
        return None
    after = after_review(sheet.program, doses, at, sheet.settings)
    return Resulting(doses, at, _with_bias(conn, coach, sheet, after, taken=bias, at=at, now=now), next_)


def _doses(sheet: ReviewSheet, verdicts: Mapping[str, Verdict], found: Resulting | None) -> dict[str, tuple[str, str]]:
    """The dose of every judged line this week and as it is played next week, as dose lines; "" for one that is stopped."""
    out = {}
    for n in sheet.lines:
        line_id, after = n.outlook.line_id, n.outlook.now
        if verdicts[line_id] is Verdict.STOP:
            after = ""
        elif found is not None:
            line = next(x for x in found.after.lines if x.id == line_id)
            after = printed(line, next_of(found.after, line, found.at, sheet.settings))
        out[line_id] = (n.outlook.now, after)
    return out


def _against(conn: Conn, coach: Person, sheet: ReviewSheet, found: Resulting, now: datetime) -> list[Note]:
    """What the checks say of the resulting program from the next week on, and did not say before the decision."""
    known = about(conn, coach, sheet.client.id, shelf(conn, coach.practice_id), now=now, program_id=sheet.assignment.program_id)

    def passing(program: Program) -> list[Note]:
        return [n for n in compile_sheet(program, sheet.settings, known).notes if n.rule in SAID]

    before = {(n.rule, n.line, week) for n in passing(sheet.program) for week in n.weeks}
    first = found.at.next_week
    return [n for n in passing(found.after) if any(w >= first and (n.rule, n.line, w) not in before for w in n.weeks)]


@dataclass(frozen=True, kw_only=True)
class Checked:
    """A decision before it is confirmed: what the checks say of the program as it would be, and what the next week plays."""

    sheet: ReviewSheet
    refusals: tuple[Note, ...]
    remarks: tuple[Note, ...]
    doses: Mapping[str, str]
    """Next week's dose line of each judged line."""
    sessions: float | None
    """Days of the next week; None where nothing follows."""


def check(db: Database, coach: Person, assignment_id: UUID, decision: Decision, now: datetime) -> Checked:
    """What would become of a decision, before it is confirmed. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        sheet = load(conn, coach, assignment_id, decision.first_day, now)
        verdicts, _ = _verdicts(conn, sheet, replace(decision, reason=decision.reason or "not confirmed yet"))
        found = _resulting(conn, coach, sheet, verdicts, bias=decision.bias, now=now)
        notes = _against(conn, coach, sheet, found, now) if found else []
        return Checked(
            sheet=sheet,
            refusals=tuple(n for n in notes if n.rule in CEILINGS),
            remarks=tuple(n for n in notes if n.rule not in CEILINGS),
            doses={k: after for k, (_, after) in _doses(sheet, verdicts, found).items()},
            sessions=found.after.sessions[found.at.next_week - 1] if found else None,
        )


def _rows(program: Program, first: int) -> list[tuple[object, ...]]:
    """All that a review may change of a program from a week on."""
    return [program.sessions[first - 1 :], *((n.id, n.cells[first - 1 :], n.days and n.days[first - 1 :]) for n in program.lines)]


def _hold(conn: Conn, coach: Person, sheet: ReviewSheet, found: Resulting | None, now: datetime) -> tuple[date | None, int | None]:
    """Let what a decision makes of the program hold: the day from which, and the version of the program; None when nothing
    changes. Raises Refused when a daily ceiling would be passed."""
    if found is None:
        return None, None
    for note in _against(conn, coach, sheet, found, now):
        if note.rule in CEILINGS:
            raise Refused(Why.CARE, f"{note.text} {HOLD_INSTEAD}", "verdicts")
    next_, at, after, doses = found.ahead, found.at, found.after, found.doses
    running = sheet.assignment
    cards = cards_of(conn, coach.practice_id, running)
    changed = _rows(after, at.next_week) != _rows(program_of(running, cards), at.next_week)
    if not changed and not next_.waiting:
        return None, None
    version = running.program_version
    if changed:
        version = keep_version(conn, coach, running, after, doses=doses, at=at, settings=sheet.settings)
    steps = [(s.week, s.back) for s in next_.steps]
    what = f"Review of week {sheet.number}."
    # Easing back that is decided within a week lasts seven days all the same.
    anchor = next_.from_day if doses[THE_WEEK] is Verdict.EASE else next_.anchor
    plan = running.following(next_.from_day, anchor=anchor, steps=steps, kind="review", reason=what)
    plan = replace(plan, program_version=version)
    laid = lay(replace(after, title=running.title) if changed else program_of(running, cards), sheet.settings, plan, 0)
    follow(conn, coach.practice_id, running, plan, days=laid, by=coach.id, now=now)
    return next_.from_day, version


def _with_bias(
    conn: Conn, coach: Person, sheet: ReviewSheet, program: Program, taken: Sequence[str], at: Standing, now: datetime
) -> Program:
    """The program with the remedies of the weaker side that were taken, from the next week on."""
    known = {
        f"{n.rule}:{n.line}": n
        for n in bias_notes(conn, coach, sheet.client, sheet.assignment, program=program, settings=sheet.settings, now=now)
    }
    for key in taken:
        note = known.get(key)
        if note is None or note.fix is None:
            raise Refused(Why.CHANGED, "What the reading says of the sides has changed meanwhile. Open the review again.", "bias")
        before = {n.id: n.cells for n in program.lines}
        laid = note.fix.apply(program)
        first = at.next_week - 1
        program = replace(laid, lines=tuple(replace(n, cells=(*before[n.id][:first], *n.cells[first:])) for n in laid.lines))
    return program


def keep_version(
    conn: Conn, coach: Person, running: Assignment, after: Program, doses: Mapping[str, Verdict], at: Standing, settings: Settings
) -> int:
    """Keep the program as a decision leaves it. A newer draft of it stays the newest, with the review's changes in it."""
    stored = programs.one(conn, running.program_id)
    concern = running.document.get("concern")
    document = from_program(after, concern).model_dump(mode="json")
    practised = programs.save(conn, running.program_id, stored.revision, running.title, document=document, by=coach.id)
    if stored.version != running.program_version:
        draft = ProgramDocument.model_validate(stored.document)
        program = to_program(stored.title, draft, shelf(conn, coach.practice_id).cards)
        if at.next_week <= program.weeks:
            program = after_review(program, doses, at, settings)
        programs.save(
            conn,
            running.program_id,
            practised.revision,
            stored.title,
            document=from_program(program, draft.concern).model_dump(mode="json"),
            by=coach.id,
        )
    return practised.version
