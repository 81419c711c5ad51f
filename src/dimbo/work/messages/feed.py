"""The calendar feed: a client's sessions as iCalendar, by a private address that can be closed."""

from __future__ import annotations

import secrets
from datetime import date, datetime, timedelta
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from icalendar import Alarm, Calendar, Event

from dimbo.core.calendar.reminder_times import moment
from dimbo.core.calendar.schedule import paused, zone
from dimbo.core.calendar.time_zones import day_at
from dimbo.core.text import join_words
from dimbo.store.database import Conn, Database
from dimbo.store.messages import feeds
from dimbo.store.messages.feeds import Feed
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, PlannedDay
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tokens import token_hash

BACK_DAYS, AHEAD_DAYS = 14, 200
SPACE = UUID("0f2b4f0e-5b7e-4b0a-9f5c-6b6f4f2d9a11")
"""Namespace of the events' ids: the same session keeps its id whatever changes about it."""


def calendar_of(conn: Conn, client: Client, now: datetime) -> bytes:
    """The sessions of the last two weeks and the coming months, with the time zone they are in.

    Paused sessions are sent as cancelled, so that a calendar that had them takes them out.
    """
    tz = zone(client.time_zone)
    today = day_at(assignments.stays(conn, client.id), now)
    pauses = assignments.pauses(conn, client.id)
    off = [p.pause for p in pauses]
    calendar = Calendar()
    calendar.add("prodid", "-//Dimbo//Practice//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", "Face practice")
    calendar.add("x-wr-timezone", client.time_zone)
    calendar.add("refresh-interval", timedelta(hours=6), parameters={"value": "DURATION"})
    found: dict[tuple[date, str], list[tuple[Assignment, PlannedDay]]] = {}
    for running in assignments.running_of(conn, client.id):
        plans = {p.plan: p for p in assignments.plans(conn, running.id)}
        for planned in assignments.sessions(conn, running.id, today - timedelta(days=BACK_DAYS), until=today + timedelta(days=AHEAD_DAYS)):
            found.setdefault((planned.day, planned.part), []).append((plans[planned.plan], planned))
    for (_, part), parts in sorted(found.items(), key=lambda n: (n[0][0], n[0][1] == "evening")):
        changed = max([p.made_at for p, _ in parts] + [p.changed_at for p in pauses])
        revision = sum(p.plan - 1 for p, _ in parts) + sum(1 + p.changes for p in pauses)
        calendar.add_component(_event(client, part, parts, changed, revision=revision, off=paused(off, parts[0][1].day), tz=tz))
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def _event(
    client: Client, part: str, parts: list[tuple[Assignment, PlannedDay]], changed: datetime, revision: int, off: bool, tz: ZoneInfo
) -> Event:
    plan, planned = parts[0]
    seconds = sum(p.planned_s for _, p in parts)
    minutes = max(1, -(-round(seconds) // 60))
    event = Event()
    event.add("uid", f"{uuid5(SPACE, f'{client.id} {planned.day} {part}')}@dimbo")
    event.add("sequence", revision)
    event.add("dtstamp", changed)
    event.add("last-modified", changed)
    event.add("summary", f"Face practice, {minutes} min")
    event.add("description", f"{join_words([a.title for a, _ in parts])}. Pain means stop; more than planned is not better.")
    event.add("status", "CANCELLED" if off else "CONFIRMED")
    at = plan.at(part)
    if at is None:
        event.add("dtstart", planned.day)
        event.add("dtend", planned.day + timedelta(days=1))
    else:
        start = moment(planned.day, at, tz)
        event.add("dtstart", start.astimezone(tz))
        event.add("dtend", (start + timedelta(minutes=minutes)).astimezone(tz))
        if plan.remind_min is not None and not off:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", "Face practice")
            alarm.add("trigger", timedelta(minutes=-plan.remind_min))
            event.add_component(alarm)
    event.add("transp", "TRANSPARENT" if at is None else "OPAQUE")
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


def read(db: Database, token: str, now: datetime) -> bytes:
    """The feed behind an address. Raises Refused, with the code of a link when it was closed."""
    hashed = token_hash(token)
    with db.anyone() as conn:
        owner = feeds.by_token(conn, hashed)
    if owner is None:
        raise Refused(Why.UNKNOWN, "There is no calendar at this address.")
    if owner.revoked:
        raise Refused(Why.LINK, "This calendar address was closed. Make a new one under Settings.")
    with db.practice(owner.practice_id, owner.client_id) as conn:
        feeds.note_read(conn, hashed, now)
        return calendar_of(conn, clients.one(conn, owner.client_id), now)


def download(db: Database, person: Person, client_id: UUID, now: datetime) -> bytes:
    """The same calendar as a file. Raises NotThere."""
    with db.of(person) as conn:
        return calendar_of(conn, clients.one(conn, client_id), now)
