"""Everybody of a practice by name: the last two weeks of each, and whether a sudden sign stands. Who needs the coach is the desk's."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from dimbo.catalogue import shipped_intake
from dimbo.core.calendar.schedule import Pause, practice_day, zone
from dimbo.core.calendar.time_zones import Stay, off_days
from dimbo.core.review.adherence import Adherence, Day, days_of, session_adherence
from dimbo.core.review.whereabouts import Whereabouts, whereabouts
from dimbo.core.safety.cautions import URGENT, CautionRule, stand
from dimbo.store.database import Database
from dimbo.store.intake.facts import Fact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.review import desk as store
from dimbo.store.review.desk import Running
from dimbo.work.intake.entering import caution_state, consents

from .desk_rows import BARS_DAYS, ProgramAt, program_at, shots_due
from .grouping import by_client

READS = ("sessions", "pauses", "moved", "facts", "running", "taken")
"""What it reads of the desk's window."""


@dataclass(frozen=True, kw_only=True)
class Listed:
    """A client in the list, on their own day."""

    client: Client
    today: date
    days: list[Day]
    week: Adherence
    urgent: bool
    at: Whereabouts
    programs: list[ProgramAt]
    last_practised: date | None
    photographs: date | None
    """Since when photographs are due, or when they will be."""


def everybody(db: Database, coach: Person, now: datetime) -> list[Listed]:
    """The clients of the coach's practice by name."""
    values = store.window_values(now, BARS_DAYS)
    with db.of(coach) as conn:
        people = clients.every(conn)
        sessions, pauses, moved, facts, running, taken = store.read_some(conn, READS, values)
        ever = {r.client_id: r.last for r in store.EVER_PRACTISED.all(conn)}
    rows, off, lived, told = by_client(sessions), by_client(pauses), by_client(moved), by_client(facts)
    runs, shots = by_client(running), by_client(taken)
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
        own_programs = runs[client.id]
        return Listed(
            client=client,
            today=today,
            days=recent,
            week=session_adherence(days, today, 7),
            urgent=urgent,
            at=whereabouts(
                client.status,
                archived=client.archived_at is not None,
                running=bool(own_programs),
                paused=off_days(paused, stays)(today),
                practised=client.id in ever,
            ),
            programs=[program_at(a, today) for a in own_programs],
            last_practised=ever.get(client.id),
            photographs=_photographs(own_programs, [t.day for t in shots[client.id]], told[client.id], client, today),
        )

    return [listed(c) for c in sorted(people, key=lambda c: c.name.casefold())]


def _photographs(running: Sequence[Running], taken: Sequence[date], told: Sequence[Fact], client: Client, today: date) -> date | None:
    """The day of the next photographs; None for a record that cannot be read, which the desk says."""
    try:
        return shots_due(running, taken, consents(list(told), today, client.birth_year), today)
    except (KeyError, TypeError, ValueError):
        return None


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
