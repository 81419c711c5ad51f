"""Earned programs wait for the weekly review: their week comes again until it is there, and nobody is without a plan."""

from __future__ import annotations

from datetime import date, datetime
from uuid import UUID

from dimbo.core.calendar.schedule import Step
from dimbo.core.programs.program import Mode, Settings
from dimbo.core.review.continuation import Again, waits
from dimbo.store.database import Conn
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.practice import practice_logs
from dimbo.store.review import reviews
from dimbo.work.exercises.shelf import cards_of

from .assigning import follow
from .plan_calendar import lay, program_of

REASON = "The week before has not been reviewed, so it comes again."


def settle_waiting(conn: Conn, practice_id: UUID, client_id: UUID, today: date, now: datetime) -> None:
    """Lay out what an unreviewed week of an earned program means from today on. Does nothing when that was done already."""
    for first_look in assignments.running_of(conn, client_id):
        if first_look.document.get("mode") != Mode.EARNED or _again(conn, first_look, today) is None:
            continue
        practice_logs.hold_client(conn, client_id)  # two pages that open at once settle it once
        while (found := _again(conn, running := assignments.one(conn, first_look.id), today)) is not None:
            steps = [(s.week, s.back) for s in found.steps]
            plan = running.following(found.from_day, anchor=found.anchor, steps=steps, kind="repeat", reason=REASON)
            laid = lay(program_of(running, cards_of(conn, practice_id, running)), Settings(**plan.settings), plan, 0)
            follow(conn, practice_id, running, plan, days=laid, by=None, now=now)


def _again(conn: Conn, running: Assignment, today: date) -> Again | None:
    """What must be laid out anew, by the plan that holds today."""
    if running.anchor > today:  # the week to come is laid out already
        return None
    reviewed = [r.first_day for r in reviews.of_assignment(conn, running.id)]
    return waits(running.anchor, [Step(w, back=b) for w, b in running.steps], reviewed, today)
