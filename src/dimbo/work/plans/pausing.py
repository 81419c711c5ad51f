"""Pauses, holidays and breaks: what is not due meanwhile, and where a program goes on."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS, Step, paused, practice_day, zone
from dimbo.core.programs.program import Settings
from dimbo.core.review.breaks import AfterBreak, after_break, days_without, going_on
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, NewPlan
from dimbo.store.practice import practice_logs
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.shared.errors import Refused, Why

from .assigning import follow
from .plan_calendar import lay, program_of

LONGEST = timedelta(days=366)


def _stopped_at(running: Assignment, last: date) -> int:
    """The place in the plan's steps of the week in which practice stopped."""
    return min(max((last - running.anchor).days // DAYS, 0), len(running.steps) - 1)


def plan_after(running: Assignment, last: date, again: date, days: int, weeks: int) -> NewPlan | None:
    """The plan by which a program goes on after ``days`` without practice since ``last``; None when it just goes on."""
    steps = going_on([Step(w, back=b) for w, b in running.steps], _stopped_at(running, last), weeks=weeks, days=days)
    what = f"{days} days without practice: {after_break(days)}."
    return running.following(again, anchor=again, steps=[(s.week, s.back) for s in steps], kind="break", reason=what) if steps else None


def _go_on(conn: Conn, practice_id: UUID, running: Assignment, plan: NewPlan, by: UUID | None, now: datetime) -> None:
    program = program_of(running, cards_of(conn, practice_id, running))
    follow(conn, practice_id, running, plan, days=lay(program, Settings(**plan.settings), plan, 0), by=by, now=now)


def pause(db: Database, coach: Person, client_id: UUID, first: date, last: date | None, reason: str, now: datetime) -> None:
    """Nothing is due from ``first`` to ``last``; without a last day until the pause is ended. Raises NotThere, Refused.

    With a last day the days after it are laid out at once, by the rule for breaks.
    """
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        today = practice_day(now, zone(client.time_zone))
        if last is not None and last < first:
            raise Refused(Why.CLASH, "The last day of the pause lies before its first.", "last")
        if not today - timedelta(days=60) <= first <= today + LONGEST or (last and last - first > LONGEST):
            raise Refused(Why.BOUNDS, "A pause begins at most 60 days ago and lasts at most a year. Check its days.", "first")
        for known in assignments.pauses(conn, client_id):
            if (last is None or known.first_day <= last) and (known.last_day is None or known.last_day >= first):
                raise Refused(
                    Why.ALREADY, f"A pause from {known.first_day:%d %B %Y} covers some of these days already. End it first.", "first"
                )
        assignments.add_pause(conn, coach.practice_id, client_id, first, last=last, reason=reason.strip()[:400], by=coach.id)
        if last is not None:
            _lay_after(conn, coach, client_id, first, last=last, now=now)


def resume(db: Database, coach: Person, client_id: UUID, on: date, now: datetime) -> str:
    """End the pause that holds now or comes next: practice goes on ``on``. Returns what that means. Raises Refused."""
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        today = practice_day(now, zone(client.time_zone))
        known = next((p for p in assignments.pauses(conn, client_id) if p.last_day is None or p.last_day >= today), None)
        if known is None:
            raise Refused(Why.NOT_NOW, f"{client.name} has no pause to end.")
        if on < today:
            raise Refused(Why.NOT_NOW, "Practice can go on today at the earliest.", "on")
        last = max(on - timedelta(days=1), known.first_day - timedelta(days=1))
        assignments.end_pause(conn, known.id, last)
        _lay_after(conn, coach, client_id, known.first_day, last=last, now=now)
        return after_break((last - known.first_day).days + 1)


def _lay_after(conn: Conn, coach: Person, client_id: UUID, first: date, last: date, now: datetime) -> None:
    """Lay out what follows a pause, for every running program."""
    again = last + timedelta(days=1)
    today = practice_day(now, zone(clients.one(conn, client_id).time_zone))
    for running in assignments.running_of(conn, client_id):
        before = _plan_before(conn, running, first)
        # Of a pause that lies ahead, practice up to its first day is taken for granted.
        stop = first - timedelta(days=1) if first > today else _last_practised(conn, running, again - timedelta(days=1))
        if again <= running.start_date:
            continue
        weeks = int(before.document["weeks"])
        plan = plan_after(before, stop, again=again, days=days_without(stop, again=again), weeks=weeks)
        if plan is not None:
            _go_on(conn, coach.practice_id, before, replace(plan, kind="resumed"), by=coach.id, now=now)
        elif before.plan != running.plan:  # a longer pause was planned before: back to the calendar as it was
            passed = max((again - before.anchor).days // DAYS, 0)
            if steps := list(before.steps[passed:]):
                anchor = before.anchor + timedelta(days=DAYS * passed)
                same = before.following(again, anchor=anchor, steps=steps, kind="resumed", reason="The pause ended sooner.")
                _go_on(conn, coach.practice_id, before, same, by=coach.id, now=now)


def _plan_before(conn: Conn, running: Assignment, day: date) -> Assignment:
    """The plan that held before a day: plans made for the time after a pause do not count for it."""
    held = [p for p in assignments.plans(conn, running.id) if p.from_day <= day or p.kind in ("assigned", "changed")]
    return held[-1]


def _last_practised(conn: Conn, running: Assignment, until: date) -> date:
    """The last day of an assignment on which anything was done; the day before its first when nothing was."""
    days = [x.day for x in practice_logs.logs(conn, running.id) if x.done_s > 0 and x.day <= until]
    return max(days, default=running.start_date - timedelta(days=1))


def settle_breaks(conn: Conn, practice_id: UUID, client_id: UUID, today: date, now: datetime) -> None:
    """When practice is taken up again after a week or more without it, go on by the rule for breaks from today.

    Does nothing in a pause, or when that was laid out today already.
    """
    if paused([p.pause for p in assignments.pauses(conn, client_id)], today):
        return
    if not any(_needs_settling(conn, a, today) for a in assignments.running_of(conn, client_id)):
        return
    practice_logs.hold_client(conn, client_id)  # two pages that open at once settle it once
    for running in assignments.running_of(conn, client_id):
        if not _needs_settling(conn, running, today):
            continue
        last = _last_practised(conn, running, today)
        known = [p for p in assignments.plans(conn, running.id) if p.from_day <= last or p.kind in ("assigned", "changed")]
        before = known[-1]
        plan = plan_after(
            before, max(last, before.start_date), again=today, days=days_without(last, again=today), weeks=int(before.document["weeks"])
        )
        if plan is not None:
            _go_on(conn, practice_id, before, plan, by=None, now=now)


def _needs_settling(conn: Conn, running: Assignment, today: date) -> bool:
    """Whether a running program must go on by the rule for breaks today, and does not yet."""
    if running.start_date > today or (running.end_date is not None and today > running.end_date):
        return False
    if running.kind in ("break", "resumed") and running.from_day == today:
        return False
    last, planned = _last_practised(conn, running, today), assignments.last_planned(conn, running.id)
    if planned is not None and planned < today and after_break(days_without(last, again=planned)) is AfterBreak.GO_ON:
        return False  # it was practised to its end, and the coach plans what comes next
    return after_break(days_without(last, again=today)) is not AfterBreak.GO_ON
