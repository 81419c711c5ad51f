"""Reminders: one a session at most, never in quiet hours, never of what is done, paused, locked or unsubscribed."""

from __future__ import annotations

import secrets
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from dimbo.core.calendar.reminder_times import DEFAULT_TEXT, Quiet, checked_text, due_at, filled
from dimbo.core.calendar.schedule import paused, practice_day, zone
from dimbo.core.calendar.time_zones import day_at
from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.messages import messages, reminders
from dimbo.store.messages.messages import Letter, Posted, Reminding, Wishes
from dimbo.store.messages.reminders import SessionNear
from dimbo.store.people import clients, practices
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.practice import practice_logs
from dimbo.store.results import letters
from dimbo.work.messages.messenger import Delivery, Messenger
from dimbo.work.messages.pushing import ENOUGH, NoPush, Pusher, reach
from dimbo.work.shared.errors import Refused, Why

from .client_sessions import Standing, parts_on, standing

LATE = timedelta(hours=2)
"""How long after its time a reminder may still go out, when the worker was away."""
LEASE = timedelta(minutes=5)
"""After so long letters that a worker took and said nothing of are anybody's again."""


def new_token() -> str:
    return secrets.token_urlsafe(18)


def remind(db: Database, practice_id: UUID, now: datetime) -> int:
    """Put every reminder whose time has come into the outbox; returns how many. Running it twice reminds once.

    One statement a practice finds what might be due; only a client whose time has come is looked at closely.
    """
    with db.practice(practice_id) as conn:
        ours = messages.reminding(conn)
        near = reminders.near(conn, now)
        due = {s.client_id for s in near if _is_due(s, ours, now)}
        return sum(_remind(conn, practice_id, standing(conn, practice_id, clients.one(conn, i), now), ours, now) for i in sorted(due))


def _is_due(session: SessionNear, ours: Reminding, now: datetime) -> bool:
    quiet = Quiet(session.quiet_first or ours.quiet_first, last=session.quiet_last or ours.quiet_last)
    due = due_at(session.day, time.fromisoformat(session.at), session.remind_min, quiet, zone(session.time_zone))
    return due is not None and due <= now < due + LATE


def _remind(conn: Conn, practice_id: UUID, at: Standing, ours: Reminding, now: datetime) -> int:
    own = messages.kept_wishes(conn, practice_id, at.client.id, new_token())
    today = day_at(assignments.stays(conn, at.client.id), now)
    if at.halt or own.unsubscribed_at is not None or paused(at.pauses, today):
        return 0
    count = 0
    tz = zone(at.client.time_zone)
    for (day, part), parts in parts_on(conn, at, today, last=today).items():
        said = next((p.assignment for p in parts if p.assignment.at(part) and p.assignment.remind_min is not None), None)
        if said is None or any(practice_logs.of_session(conn, p.assignment.id, day, part) for p in parts):
            continue
        session_at = said.at(part)
        assert session_at is not None and said.remind_min is not None
        due = due_at(day, session_at, said.remind_min, ours.quiet(own), tz)
        if due is None or not due <= now < due + LATE:
            continue
        minutes = -(-round(sum(p.planned.planned_s for p in parts)) // 60)
        text = filled(
            ours.reminder_text or DEFAULT_TEXT, name=at.client.name.split()[0], minutes=minutes, at=session_at, practice=ours.name
        )
        body = f"{text}\n\n{STANDING_LINE}\n\nNo more reminders: /unsubscribe/{own.token}"
        address = messages.addresses_of(conn, at.client.id).client_email
        key = f"reminder:{at.client.id}:{day}:{part}"
        letter = Letter(
            client_id=at.client.id,
            to_coach=False,
            address=address,
            kind="reminder",
            subject=f"Practice at {session_at:%H:%M}",
            body=body,
            key=key,
            due_at=due,
            session_day=day,
            session_part=part,
        )
        count += messages.post(conn, practice_id, letter)
    return count


@dataclass(frozen=True, kw_only=True)
class Carriers:
    """Who carries letters: by mail, and as notices to devices whose sign-in was used within ``idle``."""

    messenger: Messenger
    pusher: Pusher = field(default_factory=NoPush)
    idle: timedelta = timedelta(days=14)


def carry(db: Database, practice_id: UUID, carriers: Carriers, now: datetime) -> int:
    """Give the letters whose time has come to devices and to the messenger; returns how many were tried.

    A reminder whose session was practised meanwhile is withheld. No transaction is open while the messenger works: it may
    take its time, and each letter's fate is kept as soon as it is known.
    """
    with db.practice(practice_id) as conn:
        due = messages.claim_due(conn, now, back_at=now + LEASE)
        needless = {p.id for p in due if _needless(conn, p)}
    for letter in due:
        if letter.id in needless:
            outcome = Delivery("withheld", problem="The session was done already.")
        elif letter.kind == "reminder" and now > letter.due_at + LATE:
            outcome = Delivery("withheld", problem="It could not be sent in time.")
        else:
            outcome = _deliver(db, practice_id, carriers, letter, now)
        delivered = now if outcome.state == "delivered" else None
        with db.practice(practice_id) as conn:
            again = outcome.again_at or now
            messages.tried(
                conn, letter.id, state=outcome.state, way=outcome.way, problem=outcome.problem, next_try_at=again, delivered_at=delivered
            )
    return len(due)


def _deliver(db: Database, practice_id: UUID, carriers: Carriers, letter: Posted, now: datetime) -> Delivery:
    """To devices the first time it is tried, and by mail unless a device is enough."""
    if letter.tries == 0 and reach(db, practice_id, carriers.pusher, letter, idle=carriers.idle, now=now) and letter.kind in ENOUGH:
        return Delivery("delivered", way="device")
    if letter.letter_id is None:
        return carriers.messenger.deliver(letter, now)
    try:
        with db.practice(practice_id) as conn:
            paper = letters.pdf(conn, letter.letter_id)
    except NotThere:  # its photographs were deleted meanwhile
        return Delivery("withheld", problem="The photographs that the letter shows are no longer kept.")
    return carriers.messenger.deliver(letter, now, paper)


def _needless(conn: Conn, letter: Posted) -> bool:
    """Whether a reminder's session was practised meanwhile."""
    day, part = letter.session_day, letter.session_part
    if day is None or part is None or letter.client_id is None:
        return False
    return any(practice_logs.of_session(conn, a.id, day, part) for a in assignments.running_of(conn, letter.client_id))


def work_off(db: Database, carriers: Carriers, now: datetime) -> int:
    """One round over all practices: remind, then carry."""
    with db.anyone() as conn:
        ids = practices.ids(conn)
    tried = 0
    for practice_id in ids:
        remind(db, practice_id, now)
        tried += carry(db, practice_id, carriers, now)
    return tried


@dataclass(frozen=True)
class Choice:
    """What a client wants of reminders; None follows the practice."""

    on: bool
    quiet_first: time | None
    quiet_last: time | None


def choices(db: Database, person: Person, client_id: UUID) -> tuple[Wishes, Reminding]:
    """A client's wishes and what the practice decides."""
    with db.of(person) as conn:
        return messages.wishes(conn, client_id), messages.reminding(conn)


def of_practice(db: Database, coach: Person) -> Reminding:
    """What the practice decides."""
    with db.of(coach) as conn:
        return messages.reminding(conn)


@dataclass(frozen=True, kw_only=True)
class Moved:
    """A reminder that goes at another time of day by other quiet hours; ``after`` None: not at all. By the client's clock."""

    client_id: UUID
    client: str
    title: str
    part: str
    before: time | None
    after: time | None


def _reminded(running: Assignment, part: str, quiet: Quiet, at: tuple[date, ZoneInfo]) -> time | None:
    """The time of day at which a program's session is reminded of; None where it is not."""
    session_at, (day, tz) = running.at(part), at
    if session_at is None or running.remind_min is None:
        return None
    due = due_at(day, session_at, running.remind_min, quiet, tz)
    return due.astimezone(tz).time() if due else None


def preview(db: Database, coach: Person, quiet: Quiet, now: datetime) -> list[Moved]:
    """The reminders that other quiet hours of the practice would move. Those of clients with hours of their own stay."""
    out = []
    with db.of(coach) as conn:
        ours = messages.reminding(conn)
        known = {c.id: c for c in clients.every(conn)}
        for running in assignments.running(conn):
            client = known.get(running.client_id)
            own = messages.wishes(conn, running.client_id) if client else None
            if client is None or own is None or own.quiet_first is not None or own.unsubscribed_at is not None:
                continue
            tz = zone(client.time_zone)
            at = (practice_day(now, tz), tz)
            for part in running.times:
                before, after = (_reminded(running, part, q, at) for q in (ours.quiet(own), quiet))
                if before != after:
                    out.append(Moved(client_id=client.id, client=client.name, title=running.title, part=part, before=before, after=after))
    return sorted(out, key=lambda m: (m.client, m.part))


def choose(db: Database, person: Person, client_id: UUID, choice: Choice, now: datetime) -> None:
    """Keep what a client wants. Raises Refused when only one end of the quiet hours is told."""
    if (choice.quiet_first is None) != (choice.quiet_last is None):
        raise Refused(Why.NEEDED, "Tell both ends of the quiet hours, or neither.", "quiet_last")
    with db.of(person) as conn:
        own = messages.kept_wishes(conn, person.practice_id, client_id, new_token())
        off = None if choice.on else own.unsubscribed_at or now
        messages.wish(conn, client_id, off, choice.quiet_first, quiet_last=choice.quiet_last)


def unsubscribe(db: Database, token: str, now: datetime) -> str:
    """End the reminders by the link in one; returns the practice's name. Doing it twice is harmless. Raises Refused."""
    with db.anyone() as conn:
        owner = messages.wishes_by_token(conn, token)
    if owner is None:
        raise Refused(Why.LINK, "This link is not known. Sign in and end the reminders under Settings.")
    with db.practice(owner.practice_id, owner.client_id) as conn:
        own = messages.wishes(conn, owner.client_id)
        messages.wish(conn, owner.client_id, own.unsubscribed_at or now, own.quiet_first, quiet_last=own.quiet_last)
    return owner.practice_name


def set_practice(db: Database, coach: Person, quiet_first: time, quiet_last: time, text: str) -> None:
    """What the practice decides: quiet hours, and its own text; an empty one is the shipped one. Raises Refused."""
    try:
        own = checked_text(text) if text.strip() else ""
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"{str(error)[0].upper()}{str(error)[1:]}.", "text") from error
    with db.of(coach) as conn:
        messages.set_reminding(conn, quiet_first, quiet_last=quiet_last, text=own)
