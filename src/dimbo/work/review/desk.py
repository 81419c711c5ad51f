"""The desk: who needs the coach and why, what lies ahead today, and who goes along quietly."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from uuid import UUID

import structlog

from dimbo.core.calendar.schedule import Pause, practice_day, zone
from dimbo.core.calendar.time_zones import Stay
from dimbo.core.exercises.card import Card
from dimbo.core.review.alarm_kinds import KINDS
from dimbo.core.review.alarms import Aside, rank
from dimbo.core.review.thresholds import ReviewRules
from dimbo.core.text import join_words
from dimbo.store.database import Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.review import desk as store
from dimbo.store.review.desk import GroupHead, Window
from dimbo.work.exercises.shelf import shelf
from dimbo.work.shared.errors import Refused, Why

from .desk_rows import ClientLine, Own, line_of, unread_line
from .grouping import by, by_client
from .week_facts import Told, practice_rules

log = structlog.get_logger()

WINDOW_DAYS = 16
"""How far back the desk looks: the week to review, and the one that has begun. The course looks at everything."""
AHEAD_DAYS = 7
"""How many days to come the desk tells of."""
SAME_HOUR = timedelta(hours=2)
"""Photographs are taken within two hours of the time of day of the first ones."""


@dataclass(frozen=True, kw_only=True)
class Appointment:
    """Something of the coach's day: with whom, and the hours that suit it, where it has any."""

    client_id: UUID
    name: str
    what: str
    text: str
    from_at: datetime | None
    to_at: datetime | None
    done: bool


@dataclass(frozen=True, slots=True)
class Ahead:
    """Something of the days to come: with whom, and what."""

    day: date
    client_id: UUID
    name: str
    what: str


@dataclass(frozen=True, kw_only=True)
class Desk:
    """Everybody, those who need the coach first; what the days to come bring; and the practice's groups, the newest first.

    ``hurts`` are what hurt and waits for the coach, and ``first_shots`` the first photographs, both by client.
    """

    lines: list[ClientLine]
    day: list[Appointment]
    ahead: list[Ahead]
    hurts: Mapping[UUID, list[tuple[Card, str | None, int | None]]]
    first_shots: Mapping[UUID, UUID]
    groups: list[GroupHead]
    coaches: Mapping[UUID, str]


class _Rows:
    """The rows of the window by client; those of an assignment by assignment."""

    def __init__(self, window: Window, since: date) -> None:
        self.since = since
        self.sessions = by_client(window.sessions)
        self.running = by_client(window.running)
        self.anchors = by(window.anchors, lambda r: r.assignment_id)
        self.soreness = by_client(window.soreness)
        self.facts = by_client(window.facts)
        self.pauses = by_client(window.pauses)
        self.moved = by_client(window.moved)
        self.taken = by_client(window.taken)
        self.silent = by_client(window.silent)
        self.settled = by_client(window.settled)
        self.hurts = by(window.hurts, lambda r: r.assignment_id)
        self.stopped = by_client(window.stopped)
        self.reviewed = {r.assignment_id: r for r in window.reviewed}
        self.unread = {r.client_id: r for r in window.unread}
        self.own_intakes = {r.client_id for r in window.own_intakes}
        self.last_planned = {r.client_id: r.day for r in window.last_planned}

    def own(self, client: Client, now: datetime) -> Own:
        """Everything of one client."""
        unread = self.unread.get(client.id)
        running, silent = self.running.get(client.id, []), self.silent.get(client.id, [])
        return Own(
            client=client,
            today=practice_day(now, zone(client.time_zone)),
            since=self.since,
            sessions=self.sessions.get(client.id, []),
            running=running,
            anchors={a.id: {p.plan: p.anchor for p in self.anchors.get(a.id, ())} for a in running},
            told=[Told(t.day, t.soreness, t.places) for t in self.soreness.get(client.id, ())],
            facts=self.facts.get(client.id, []),
            pauses=[Pause(p.first, last=p.last) for p in self.pauses.get(client.id, ())],
            stays=[Stay(m.since, zone(m.time_zone)) for m in self.moved.get(client.id, ())],
            taken=[t.day for t in self.taken.get(client.id, ())],
            settled=[Aside(s.kind, key=s.key, until=s.until) for s in self.settled.get(client.id, ())],
            hurts={a.id: self.hurts[a.id] for a in running if a.id in self.hurts},
            stopped=self.stopped.get(client.id, []),
            reviewed={a.id: self.reviewed[a.id] for a in running if a.id in self.reviewed},
            unread=unread.messages if unread else 0,
            newest_unread=unread.newest if unread else None,
            own_intake=client.id in self.own_intakes,
            last_planned=self.last_planned.get(client.id),
            silent=[r.day for r in silent],
            practised_before=silent[0].practised if silent else None,
        )


def desk(db: Database, coach: Person, now: datetime) -> Desk:
    """Everybody of the practice as they stand now."""
    values = store.window_values(now, WINDOW_DAYS)
    with db.of(coach) as conn:
        people = clients.at_work_with(conn)
        window = store.read(conn, values)
        rules = practice_rules(conn)
        cards = shelf(conn, coach.practice_id).cards
        coaches = accounts.coaches(conn)
    rows, names = _Rows(window, values["since"]), {i: c.name for i, c in cards.items()}
    lines = sorted((_line(rows, client, rules, names, now) for client in people), key=lambda n: (rank(n.alarms), n.client.name))
    return Desk(
        lines=lines,
        day=_day(lines, window),
        ahead=_ahead(lines),
        hurts={c: [(cards[h.exercise_id], h.side, h.level) for h in told if h.exercise_id in cards] for c, told in rows.stopped.items()},
        first_shots={f.client_id: f.id for f in window.first_shots},
        groups=window.groups,
        coaches=coaches,
    )


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
    reviewed = {r.client_id: r.made_at for r in window.reviewed_today}
    taken = {(t.client_id, t.day) for t in window.taken}
    first = {f.client_id: f.taken_at for f in window.first_shots}
    out: list[Appointment] = []
    for n in lines:
        at = Appointment(client_id=n.client.id, name=n.client.name, what="sitting", text="", from_at=None, to_at=None, done=False)
        if (n.client.id, n.today) in taken:
            out.append(replace(at, text="photographs came today", done=True))
        elif n.shots_due is not None and n.shots_due <= n.today:
            out.append(_sitting(at, n, first.get(n.client.id)))
        review = replace(at, what="review")
        if n.client.id in reviewed:
            out.append(replace(review, text="done", from_at=reviewed[n.client.id], done=True))
        out += [replace(review, text=r.judgement.verdict) for r in n.reviews]
    return sorted(out, key=lambda a: (a.from_at is None, a.from_at or datetime.max, a.name))


def _ahead(lines: Iterable[ClientLine]) -> list[Ahead]:
    """What the next days bring, each on the client's own day: photographs, a program that begins, a last planned day."""
    out: list[Ahead] = []
    for n in lines:
        begins = {p.start_date for p in n.programs}
        told = [("photographs", n.shots_due), ("program ends", n.last_planned), *(("program begins", d) for d in begins)]
        soon = n.today + timedelta(days=AHEAD_DAYS)
        out += [Ahead(day, client_id=n.client.id, name=n.client.name, what=what) for what, day in told if day and n.today < day <= soon]
    return sorted(out, key=lambda a: (a.day, a.name, a.what))


def _sitting(at: Appointment, line: ClientLine, first: datetime | None) -> Appointment:
    """A sitting that is due: near the hour of the first one, because a face differs over the day."""
    if first is None:
        return replace(at, text="baseline, before practice")
    tz = zone(line.client.time_zone)
    hour = datetime.combine(line.today, first.astimezone(tz).time(), tz)
    return replace(at, text=f"the first ones were taken at {hour:%H:%M} there", from_at=hour - SAME_HOUR, to_at=hour + SAME_HOUR)


def settle(db: Database, coach: Person, client_id: UUID, kind: str, *, key: str, until_tomorrow: bool, now: datetime) -> None:
    """Put an alarm aside as seen, so that the next occurrence speaks again; or off until the client's tomorrow.

    Raises Refused for those that need a decision, and for putting off what comes before anything else.
    """
    known = KINDS.get(kind)
    if until_tomorrow and not (known and known.may_wait):
        raise Refused(Why.NOT_NOW, "This comes before anything else and cannot be put off. Decide it first.", "kind")
    if not until_tomorrow and not (known and known.may_settle):
        names = join_words([k.rule.name for k in KINDS.values() if k.may_settle], "or")
        raise Refused(Why.NOT_NOW, f"This alarm goes when its matter is decided. Only {names} can be marked as seen.", "kind")
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        until = practice_day(now, zone(client.time_zone)) + timedelta(days=1) if until_tomorrow else None
        store.settle(conn, coach.practice_id, client_id, kind=kind, key=key, until=until, by=coach.id)


def unsettle(db: Database, coach: Person, client_id: UUID, kind: str, key: str) -> None:
    """Let an alarm speak again that was put aside; one that was not stays as it is."""
    with db.of(coach) as conn:
        store.unsettle(conn, client_id, kind=kind, key=key)
