"""What a client has to know of the plan today, in a sentence each."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import DAYS
from dimbo.core.programs.program import Settings
from dimbo.core.programs.progression import rung_back
from dimbo.core.review.review_remarks import to_client
from dimbo.store.database import Conn
from dimbo.store.plans.assignments import Assignment
from dimbo.store.review import reviews
from dimbo.work.plans.ending import last_ended
from dimbo.work.plans.plan_calendar import program_of

from .client_sessions import Standing

REVIEW_IS_NEWS = timedelta(days=7)
"""So long what a coach has decided is said on Today."""
DAYS_AHEAD = 7
"""Days that a phone keeps, today included, so that it plays them without a connection."""


def _reviewed(conn: Conn, at: Standing, now: datetime) -> dict[UUID, str]:
    """What the coach has decided lately, by assignment, as the client reads it, whatever became of the plan."""
    out = {}
    for running in at.running:
        newest = max(reviews.of_assignment(conn, running.id), key=lambda r: r.made_at, default=None)
        if newest is not None and now - newest.made_at < REVIEW_IS_NEWS:
            told = newest.suggested
            out[running.id] = to_client(newest.decided["whole"], suggested=told["whole"], rule=told["rule"], words=newest.words)
    return out


def notes_of(conn: Conn, at: Standing, today: date, now: datetime) -> tuple[str, ...]:
    """What to know of the plan today: what was decided, a pause, a break, a change. Each once, the newest matter first."""
    reviewed = _reviewed(conn, at, now)
    ended = last_ended(conn, at.client.id, now)
    out = [*([ended] if ended else []), *reviewed.values(), *_pauses(at, today)]
    for running in at.running:
        out += _of_plan(at, running, today, reviewed=running.id in reviewed)
    return tuple(dict.fromkeys(out))


def _pauses(at: Standing, today: date) -> Iterator[str]:
    for pause in at.pauses:
        if pause.holds(today):
            until = f"until {pause.last:%-d %B}" if pause.last else "until your coach ends it"
            yield f"You are on a pause {until}. Nothing is due, and nothing has to be made up."
        elif today < pause.first <= today + timedelta(days=DAYS_AHEAD):
            yield f"A pause begins on {pause.first:%A, %-d %B}."


def _of_plan(at: Standing, running: Assignment, today: date, reviewed: bool) -> Iterator[str]:
    """Why a plan is as it is, in its first week; a change that the coach made by hand is news for three days."""
    age = today - running.from_day
    if not timedelta(0) <= age < timedelta(days=DAYS):
        return
    if running.kind in ("break", "resumed"):
        if not running.steps[0][1]:
            yield "After the long break the exercises begin again from their first doses."
        elif _lighter(at, running):
            # A lighter week of the program may be as small as the step back; then there is nothing to tell.
            yield "After the days without practice this week is a little lighter. That is part of the plan."
    elif running.kind == "repeat" and not reviewed:
        yield "This week is the same as the last one; the next step comes when your coach has looked at it."
    elif running.kind == "changed" and age <= timedelta(days=2):
        yield "Your coach has changed the plan." + (f" {running.reason}" if running.reason else "")


def _lighter(at: Standing, running: Assignment) -> bool:
    """Whether the first week of a plan has a smaller dose than its program week as written."""
    week, back = running.steps[0]
    program = program_of(running, at.cards[running.id, running.plan])
    pace_s = Settings(**running.settings).pace_s
    return any(rung_back(n, week, back=back, pace_s=pace_s, lighter=program.lighter) != n.cells[week - 1] for n in program.lines)
