"""Everybody of a practice by name: the last two weeks of each, and whether a sudden sign stands. Who needs the coach is the desk's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from dimbo.catalogue import shipped_intake
from dimbo.core.calendar.schedule import Pause, practice_day, zone
from dimbo.core.calendar.time_zones import Stay, off_days
from dimbo.core.review.adherence import Adherence, Day, days_of, session_adherence
from dimbo.core.safety.cautions import URGENT, CautionRule, stand
from dimbo.store.database import Database
from dimbo.store.intake.facts import Fact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.review import desk as store
from dimbo.work.intake.entering import caution_state

from .desk_rows import BARS_DAYS
from .grouping import by_client

READS = ("sessions", "pauses", "moved", "facts")
"""What it reads of the desk's window."""


@dataclass(frozen=True, kw_only=True)
class Listed:
    """A client in the list, on their own day."""

    client: Client
    today: date
    days: list[Day]
    week: Adherence
    urgent: bool


def everybody(db: Database, coach: Person, now: datetime) -> list[Listed]:
    """The clients of the coach's practice by name."""
    values = store.window_values(now, BARS_DAYS)
    with db.of(coach) as conn:
        people = clients.every(conn)
        sessions, pauses, moved, facts = store.read_some(conn, READS, values)
    rows, off, lived, told = by_client(sessions), by_client(pauses), by_client(moved), by_client(facts)
    rules = [r for r in shipped_intake().tables.cautions if r.group == URGENT]
    signs = {r.id for r in rules}

    def listed(client: Client) -> Listed:
        today = practice_day(now, zone(client.time_zone))
        paused = [Pause(p.first, last=p.last) for p in off[client.id]]
        stays = [Stay(m.since, zone(m.time_zone)) for m in lived[client.id]]
        days = [d for d in days_of(rows[client.id], today, off_days(paused, stays)) if d.day <= today]
        # A sign that somebody told stands until a clearance ends it; most clients never told one.
        own = [f for f in told[client.id] if f.key in signs]
        urgent = bool(own) and _stands(rules, own, today)
        recent = [d for d in days if d.day > today - timedelta(days=BARS_DAYS)]
        return Listed(client=client, today=today, days=recent, week=session_adherence(days, today, 7), urgent=urgent)

    return [listed(c) for c in sorted(people, key=lambda c: c.name.casefold())]


def _stands(rules: Sequence[CautionRule], told: Sequence[Fact], today: date) -> bool:
    """Whether a sudden sign that somebody told stands until a clearance ends it. What cannot be read stands: a list of everybody
    must not be taken down by one record, and a sign is never passed over."""
    try:
        return bool(stand(rules, *caution_state(told), today).urgent)
    except (KeyError, TypeError, ValueError):
        return True


def names(db: Database, coach: Person) -> list[Client]:
    """The clients of the coach's practice by name, and nothing of their practice; not those who are archived."""
    with db.of(coach) as conn:
        return sorted(clients.at_work_with(conn), key=lambda c: c.name.casefold())
