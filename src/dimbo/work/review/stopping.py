"""Exercises that hurt: they wait until the coach, with a note, lets them go on, one rung lower."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS, Step
from dimbo.core.calendar.time_zones import day_at
from dimbo.core.programs.program import Settings
from dimbo.core.review.apply_review import Standing, after_review
from dimbo.core.review.breaks import continued
from dimbo.core.review.weekly import Verdict
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.practice import hurts, practice_logs
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.plans.assigning import follow
from dimbo.work.plans.plan_calendar import LETS_GO_ON, lay, program_of
from dimbo.work.shared.errors import Refused, Why

from .deciding import keep_version


def clear_stop(db: Database, coach: Person, client_id: UUID, exercise_id: str, note: str, now: datetime) -> None:
    """The coach lets an exercise that hurt go on. Raises NotThere, and Refused without a note."""
    said = note.strip()
    if not said:
        raise Refused(Why.NEEDED, "Write down what you found, or what was agreed; it is kept with the pain.", "note")
    with db.of(coach) as conn:
        practice_logs.hold_client(conn, client_id)
        hurt_on = min((s.day for s in hurts.stopped(conn, client_id) if s.exercise_id == exercise_id), default=None)
        if hurt_on is None or hurts.clear(conn, client_id, exercise_id, coach.id, said[:400]) == 0:
            raise NotThere("This exercise is not stopped.")
        for running in assignments.running_of(conn, client_id):
            _lower(conn, coach, running, exercise_id, hurt_on=hurt_on, now=now)


def _lower(conn: Conn, coach: Person, running: Assignment, exercise_id: str, hurt_on: date, now: datetime) -> None:
    """One rung lower than when it hurt, from today on, whatever the calendar has raised since; later doses follow from there."""
    today = day_at(assignments.stays(conn, running.client_id), now)
    settings = Settings(**running.settings)
    program = program_of(running, cards_of(conn, coach.practice_id, running))
    place = max((today - running.anchor).days // DAYS, 0)
    steps = [Step(w, back=b) for w, b in running.steps]
    if place >= len(steps):
        return
    then = steps[min(max((hurt_on - running.anchor).days // DAYS, 0), place)]
    at = Standing(week=min(then.week, steps[place].week), back=then.back, next_week=steps[place].week, next_back=then.back)
    doses = {n.id: Verdict.EASE for n in program.lines if n.card.id == exercise_id and n.cells[at.next_week - 1].strip()}
    after = after_review(program, doses, at, settings)
    if all(a.cells == b.cells for a, b in zip(after.lines, program.lines, strict=True)):
        return
    version = keep_version(conn, coach, running, after, doses=doses, at=at, settings=settings)
    rest = [(s.week, s.back) for s in continued(steps, place, weeks=program.weeks)]
    anchor = running.anchor + timedelta(days=DAYS * place)
    plan = replace(
        running.following(max(today, running.from_day), anchor=anchor, steps=rest, kind="changed", reason=LETS_GO_ON),
        program_version=version,
    )
    after = replace(after, title=running.title)
    follow(conn, coach.practice_id, running, plan, days=lay(after, settings, plan, 0), by=coach.id, now=now)
