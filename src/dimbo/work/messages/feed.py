"""The calendar feed: a client's sessions as iCalendar, by a private address that can be closed."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID, uuid5

from icalendar import Alarm, Calendar, Event, vDuration

from dimbo.core.calendar import events
from dimbo.core.calendar.events import Key, Session
from dimbo.core.calendar.reminder_times import Quiet, due_at, moment
from dimbo.core.calendar.schedule import paused, zone
from dimbo.core.calendar.time_zones import day_at
from dimbo.core.text import join_words
from dimbo.store.database import READ_ONLY, Conn, Database
from dimbo.store.messages import feeds, messages
from dimbo.store.messages.feeds import Feed
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, PlannedDay
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

SPACE = UUID("0f2b4f0e-5b7e-4b0a-9f5c-6b6f4f2d9a11")
"""Namespace of the events' ids: the same session keeps its id whatever changes about it."""
ASKED_AGAIN = timedelta(hours=6)
"""How often a calendar program is asked to look."""


@dataclass(frozen=True, kw_only=True)
class Sheet:
    """A calendar as it is sent, and when something about it changed last."""

    content: bytes
    changed_at: datetime

    @property
    def tag(self) -> str:
        """Another one for every other content (an HTTP entity tag)."""
        return f'"{hashlib.sha256(self.content).hexdigest()[:32]}"'


def calendar_of(conn: Conn, practice_id: UUID, client: Client, now: datetime) -> Sheet:
    """The sessions of the last two weeks and the coming months, with the time zone they are in; what no longer stands, or is paused,
    is sent as cancelled, so that a calendar that had it takes it out. What is told is kept."""
    today = day_at(assignments.stays(conn, client.id), now)
    before = feeds.told(conn, client.id)
    practised = feeds.practised(conn, client.id, today - timedelta(days=events.BACK_DAYS))
    after = events.told(before, _wanted(conn, client, today), practised, today, now)
    with suppress(READ_ONLY), conn.transaction():  # it is told all the same, and noted by the next that asks
        feeds.keep_told(conn, practice_id, client.id, {k: e for k, e in after.items() if e != before.get(k)})
    shown = events.shown(after, today, now)
    return Sheet(content=_written(client, shown), changed_at=max((e.changed_at for e in shown.values()), default=now))


def _wanted(conn: Conn, client: Client, today: date) -> dict[Key, Session]:
    """The sessions that stand, without those of a pause."""
    off = [p.pause for p in assignments.pauses(conn, client.id)]
    own, ours = messages.wishes(conn, client.id), messages.reminding(conn)
    quiet = None if own.unsubscribed_at else ours.quiet(own)
    first, last = today - timedelta(days=events.BACK_DAYS), today + timedelta(days=events.AHEAD_DAYS)
    found: dict[Key, list[tuple[Assignment, PlannedDay]]] = {}
    for running in assignments.running_of(conn, client.id):
        plans = {p.plan: p for p in assignments.plans(conn, running.id)}
        for planned in assignments.sessions(conn, running.id, first, until=last):
            if not paused(off, planned.day):
                found.setdefault((planned.day, planned.part), []).append((plans[planned.plan], planned))
    return {key: _session(key, parts, client.time_zone, quiet) for key, parts in found.items()}


def _session(key: Key, parts: list[tuple[Assignment, PlannedDay]], time_zone: str, quiet: Quiet | None) -> Session:
    day, part = key
    plan = next((p for p, _ in parts if p.at(part)), parts[0][0])
    at = plan.at(part)
    alarm_min = None
    if at is not None and plan.remind_min is not None and quiet is not None:
        tz = zone(time_zone)
        due = due_at(day, at, plan.remind_min, quiet, tz)
        alarm_min = round((moment(day, at, tz) - due).total_seconds() / 60) if due else None
    return Session(
        titles=tuple(p.title for p, _ in parts),
        minutes=max(1, -(-round(sum(p.planned_s for _, p in parts)) // 60)),
        at=at,
        time_zone=time_zone,
        alarm_min=alarm_min,
    )


def _written(client: Client, shown: Mapping[Key, events.Event]) -> bytes:
    calendar = Calendar()
    calendar.add("prodid", "-//Dimbo//Practice//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", "Face practice")
    calendar.add("x-wr-timezone", client.time_zone)
    calendar.add("refresh-interval", ASKED_AGAIN, parameters={"value": "DURATION"})
    calendar.add("x-published-ttl", vDuration(ASKED_AGAIN))
    for key, event in shown.items():
        calendar.add_component(_event(client.id, key, event))
    if shown:
        days = [day for day, _ in shown]
        # Only of these years: a program that goes by its own rules beyond what it is told would be an hour off.
        calendar.add_missing_timezones(first_date=date(min(days).year - 1, 12, 1), last_date=date(max(days).year + 1, 1, 2))
    return bytes(calendar.to_ical())


def _event(client_id: UUID, key: Key, told: events.Event) -> Event:
    (day, part), session = key, told.session
    event = Event()
    event.add("uid", f"{uuid5(SPACE, f'{client_id} {day} {part}')}@dimbo")
    event.add("sequence", told.revision)
    event.add("dtstamp", told.changed_at)
    event.add("last-modified", told.changed_at)
    event.add("summary", f"Face practice, {session.minutes} min")
    event.add("description", f"{join_words(list(session.titles))}. Pain means stop; more than planned is not better.")
    event.add("status", "CANCELLED" if told.cancelled else "CONFIRMED")
    if session.at is None:
        event.add("dtstart", day)
        event.add("dtend", day + timedelta(days=1))
    else:
        tz = zone(session.time_zone)
        start = moment(day, session.at, tz)
        event.add("dtstart", start.astimezone(tz))
        event.add("dtend", (start + timedelta(minutes=session.minutes)).astimezone(tz))
        if session.alarm_min is not None and not told.cancelled:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", "Face practice")
            alarm.add("trigger", timedelta(minutes=-session.alarm_min))
            event.add_component(alarm)
    event.add("transp", "TRANSPARENT" if session.at is None else "OPAQUE")
    return event


def current(db: Database, person: Person, client_id: UUID) -> Feed | None:
    """The open feed of a client, if there is one."""
    with db.of(person) as conn:
        return feeds.current(conn, client_id)


def open_feed(db: Database, person: Person, client_id: UUID, now: datetime) -> str:
    """A new private address; an older one is closed. Returns its token, which is kept nowhere. Raises NotThere."""
    token = secrets.token_urlsafe(24)
    with db.of(person) as conn:
        clients.one(conn, client_id)
        feeds.open_new(conn, person.practice_id, client_id, token_hash(token), now)
    return token


def close_feed(db: Database, person: Person, client_id: UUID, now: datetime) -> None:
    """Close the address of a client's feed. Raises Refused when none is open."""
    with db.of(person) as conn:
        if not feeds.revoke(conn, client_id, now):
            raise Refused(Why.NOT_NOW, "There is no calendar address to close.")


def read(db: Database, token: str, now: datetime) -> Sheet:
    """The feed behind an address. Raises Refused, with the code of a link when it was closed."""
    hashed = token_hash(token)
    with db.anyone() as conn:
        owner = feeds.by_token(conn, hashed)
    if owner is None:
        raise Refused(Why.UNKNOWN, "There is no calendar at this address.")
    if owner.revoked:
        raise Refused(Why.LINK, "This calendar address was closed. Make a new one under Settings.")
    with db.practice(owner.practice_id, owner.client_id) as conn:
        with suppress(READ_ONLY), conn.transaction():
            feeds.note_read(conn, hashed, now)
        return calendar_of(conn, owner.practice_id, clients.one(conn, owner.client_id), now)


def download(db: Database, person: Person, client_id: UUID, now: datetime) -> bytes:
    """The same calendar as a file. Raises NotThere."""
    with db.of(person) as conn:
        return calendar_of(conn, person.practice_id, clients.one(conn, client_id), now).content
