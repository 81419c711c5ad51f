"""The desk: who needs the coach and why, what lies ahead today, and who goes along quietly."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

import structlog

from dimbo.core.calendar.schedule import Pause, practice_day, zone
from dimbo.core.calendar.time_zones import Stay
from dimbo.core.review.adherence import SessionRow
from dimbo.core.review.alarms import KINDS, rank
from dimbo.core.review.weekly import ReviewRules
from dimbo.core.text import join_words
from dimbo.store.database import Database
from dimbo.store.intake.facts import Fact
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.review import desk as store
from dimbo.store.review.desk import Running, Window
from dimbo.work.exercises import shelf
from dimbo.work.shared.errors import Refused

from .desk_rows import ClientLine, Own, line_of, unread_line
from .week_facts import Told, practice_rules

log = structlog.get_logger()

WINDOW_DAYS = 16
"""How far back the desk looks: the week to review, and the one that has begun. The course looks at everything."""
SAME_HOUR = timedelta(hours=2)
"""Photographs are taken within two hours of the time of day of the first ones."""


@dataclass(frozen=True)
class Appointment:
    """Something of the coach's day: with whom, and the hours that suit it, where it has any."""

    client_id: UUID
    name: str
    what: str
    text: str
    from_at: datetime | None
    to_at: datetime | None
    done: bool


@dataclass(frozen=True)
class Desk:
    """Everybody, those who need the coach first; and the practice's groups, the newest first."""

    lines: list[ClientLine]
    day: list[Appointment]
    groups: list[tuple[UUID, str, datetime]]
    coaches: Mapping[UUID, str]


class _Rows:
    """The rows of the window by client."""

    def __init__(self, window: Window, since: date) -> None:
        self.window, self.since = window, since
        self.sessions: dict[UUID, list[SessionRow]] = defaultdict(list)
        for row in window.sessions:
            self.sessions[row.client_id].append(row)
        self.running: dict[UUID, list[Running]] = defaultdict(list)
        for a in window.running:
            self.running[a.client_id].append(a)
        self.anchors: dict[UUID, dict[int, date]] = defaultdict(dict)
        for owner, number, anchor in window.anchors:
            self.anchors[owner][number] = anchor
        self.told: dict[UUID, list[Told]] = defaultdict(list)
        for client, day, soreness, places in window.soreness:
            self.told[client].append(Told(day, soreness, places or []))
        self.facts: dict[UUID, list[Fact]] = defaultdict(list)
        for client, fact in window.facts:
            self.facts[client].append(fact)
        self.pauses: dict[UUID, list[Pause]] = defaultdict(list)
        for client, first, last in window.pauses:
            self.pauses[client].append(Pause(first, last))
        self.stays: dict[UUID, list[Stay]] = defaultdict(list)
        for client, since, name in window.moved:
            self.stays[client].append(Stay(since, zone(name)))
        self.taken: dict[UUID, list[date]] = defaultdict(list)
        for client, day in window.taken:
            self.taken[client].append(day)
        self.silent: dict[UUID, list[date]] = defaultdict(list)
        self.practised_before: dict[UUID, date | None] = {}
        for client, day, last in window.silent:
            self.silent[client].append(day)
            self.practised_before[client] = last
        self.settled: dict[UUID, list[tuple[str, str]]] = defaultdict(list)
        for client, kind, key in window.settled:
            self.settled[client].append((kind, key))
        self.hurts = defaultdict(list)
        for hurt in window.hurts:
            self.hurts[hurt[1]].append(hurt)
        self.stopped = defaultdict(list)
        for stop in window.stopped:
            self.stopped[stop[0]].append(stop)
        self.reviewed = {r[0]: r for r in window.reviewed}

    def own(self, client: Client, now: datetime) -> Own:
        """Everything of one client."""
        running = self.running.get(client.id, [])
        return Own(
            client,
            practice_day(now, zone(client.time_zone)),
            self.since,
            self.sessions.get(client.id, []),
            running,
            {a.id: self.anchors.get(a.id, {}) for a in running},
            self.told.get(client.id, []),
            self.facts.get(client.id, []),
            self.pauses.get(client.id, []),
            self.stays.get(client.id, []),
            self.taken.get(client.id, []),
            self.settled.get(client.id, []),
            {a.id: self.hurts[a.id] for a in running if a.id in self.hurts},
            self.stopped.get(client.id, []),
            {a.id: self.reviewed[a.id] for a in running if a.id in self.reviewed},
            self.window.unread.get(client.id, 0),
            client.id in self.window.own_intakes,
            self.window.last_planned.get(client.id),
            self.silent.get(client.id, []),
            self.practised_before.get(client.id),
        )


def desk(db: Database, coach: Person, now: datetime) -> Desk:
    """Everybody of the practice as they stand now."""
    values = store.window_values(now, WINDOW_DAYS)
    with db.practice(coach.practice_id) as conn:
        people = clients.every(conn)
        window = store.read(conn, values)
        rules = practice_rules(conn)
        names = {i: c.name for i, c in shelf(conn, coach.practice_id).cards.items()}
        coaches = accounts.coaches(conn)
    rows = _Rows(window, values["since"])
    lines = sorted((_line(rows, client, rules, names, now) for client in people), key=lambda n: (rank(n.alarms), n.client.name))
    return Desk(lines, _day(lines, window), window.groups, coaches)


def _line(rows: _Rows, client: Client, rules: ReviewRules, names: Mapping[str, str], now: datetime) -> ClientLine:
    """A client's line. One whose record cannot be worked out gets a line that says so: a page that shows everybody must
    not be taken down by anybody, whatever is wrong with their record."""
    try:
        return line_of(rows.own(client, now), rules, names)
    except Exception:
        log.exception("record cannot be worked out", client_id=str(client.id))
        return unread_line(client, now.date(), rows.facts.get(client.id, []))


def _day(lines: Iterable[ClientLine], window: Window) -> list[Appointment]:
    """The coach's own day: sittings that are due with the hours that suit them, reviews that wait, and what is done already."""
    out = []
    reviewed = dict(window.reviewed_today)
    taken = {(client, day) for client, day in window.taken}
    for n in lines:
        first = window.first_shots.get(n.client.id)
        if (n.client.id, n.today) in taken:
            out.append(Appointment(n.client.id, n.client.name, "sitting", "photographs came today", None, None, True))
        elif n.shots_due is not None and n.shots_due <= n.today:
            text, begins, ends = "baseline, before practice", None, None
            if first is not None:
                tz = zone(n.client.time_zone)
                at = datetime.combine(n.today, first.astimezone(tz).time(), tz)
                begins, ends = at - SAME_HOUR, at + SAME_HOUR
                text = f"the first ones were taken at {at:%H:%M} there"
            out.append(Appointment(n.client.id, n.client.name, "sitting", text, begins, ends, False))
        if n.client.id in reviewed:
            out.append(Appointment(n.client.id, n.client.name, "review", "done", reviewed[n.client.id], None, True))
        out += [Appointment(n.client.id, n.client.name, "review", r.judgement.verdict, None, None, False) for r in n.reviews]
    return sorted(out, key=lambda a: (a.from_at is None, a.from_at or datetime.max, a.name))


def settle(db: Database, coach: Person, client_id: UUID, kind: str, key: str) -> None:
    """Put an alarm aside as seen; the next occurrence speaks again. Raises Refused for those that need a decision."""
    if kind not in KINDS or not KINDS[kind].may_settle:
        names = join_words([k.rule.name for k in KINDS.values() if k.may_settle], "or")
        raise Refused(f"This alarm goes when its matter is decided. Only {names} can be put aside.", "kind")
    with db.practice(coach.practice_id) as conn:
        clients.one(conn, client_id)
        store.settle(conn, coach.practice_id, client_id, kind, key, coach.id)


def unsettle(db: Database, coach: Person, client_id: UUID, kind: str, key: str) -> None:
    """Let an alarm speak again that was put aside; one that was not stays as it is."""
    with db.practice(coach.practice_id) as conn:
        store.unsettle(conn, client_id, kind, key)
