"""The practice's thresholds of the weekly review, and what a change of them would say before it is kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.review.adherence import DayState
from dimbo.core.review.course_weeks import is_over
from dimbo.core.review.soreness import LOOK_BACK_DAYS
from dimbo.core.review.thresholds import OutOfBounds, ReviewRules, checked_rules, own_rules
from dimbo.core.review.weekly import judge
from dimbo.core.rules import Judgement
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.practice import daily, hurts
from dimbo.store.review import reviews
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.shared.errors import Refused, Why

from .reviewing import weeks_so_far
from .week_facts import Told, pain_of, practice_rules, week_facts


def of_practice(db: Database, coach: Person) -> ReviewRules:
    with db.of(coach) as conn:
        return practice_rules(conn)


@dataclass(frozen=True, kw_only=True)
class Effect:
    """The last whole week of a running program, judged by the thresholds that hold and by others."""

    client_id: UUID
    client: str
    title: str
    before: Judgement
    after: Judgement


def _wanted(values: Mapping[str, float]) -> ReviewRules:
    try:
        return checked_rules(values)
    except OutOfBounds as error:
        raise Refused(Why.UNREADABLE, f"{error}.", error.field) from error


def _last_week(conn: Conn, coach: Person, running: Assignment, ways: tuple[ReviewRules, ...], now: datetime) -> list[Judgement]:
    """What each of the thresholds says of a program's last whole week, its own thresholds laid over; empty before there is one.

    A week whose days were all paused has nothing to judge, as at its review.
    """
    client = clients.one(conn, running.client_id)
    of, plans = weeks_so_far(conn, client, running, practice_day(now, zone(client.time_zone)))
    over = [w for w in of.weeks if is_over(w, of.states) and any(of.states[d].state is not DayState.PAUSED for d in w.days)]
    week = over[-1] if over else None
    if week is None:
        return []
    told = [Told(c.day, c.soreness, c.places) for c in daily.check_ins(conn, client.id, week.first - timedelta(days=LOOK_BACK_DAYS))]
    names = {i: card.name for i, card in cards_of(conn, coach.practice_id, plans[week.plan]).items()}
    pains = [pain_of(names, h) for h in hurts.hurts_of(conn, running.id, first=week.first, last=week.last)]
    own = dict(running.document.get("review", {}))
    laid = [checked_rules(own, rules) for rules in ways]
    return [judge(week_facts(of, week, told, pains, rules), rules) for rules in laid]


def preview(db: Database, coach: Person, values: Mapping[str, float], now: datetime) -> tuple[list[Effect], int]:
    """Which programs' last whole week would be judged otherwise, and how many were looked at. Raises Refused as ``keep`` does."""
    new = _wanted(values)
    out, looked_at = [], 0
    with db.of(coach) as conn:
        names = {c.id: c.name for c in clients.every(conn)}
        ways = (practice_rules(conn), new)
        for running in assignments.running(conn):
            said = _last_week(conn, coach, running, ways, now) if running.client_id in names else []
            looked_at += bool(said)
            if said and said[0].verdict != said[1].verdict:
                who = names[running.client_id]
                out.append(Effect(client_id=running.client_id, client=who, title=running.title, before=said[0], after=said[1]))
    return sorted(out, key=lambda e: (e.client, e.title)), looked_at


def keep(db: Database, coach: Person, values: Mapping[str, float]) -> None:
    """Keep thresholds; those that are not named go back to what ships. Raises Refused that names one and its bounds."""
    rules = _wanted(values)
    with db.of(coach) as conn:
        reviews.set_own_rules(conn, own_rules(rules))
