"""The course as its client sees it: what was done, how it felt, what the coach wrote."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from dimbo.core.calendar.schedule import DAYS, week_of
from dimbo.core.calendar.time_zones import day_at, off_days
from dimbo.core.review.adherence import Adherence, Day, SessionRow, days_of, overdone, session_adherence
from dimbo.core.review.thresholds import checked_rules
from dimbo.store.database import Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.plans import assignments
from dimbo.store.practice import daily, log_sums
from dimbo.store.review import reviews

from .days import own_client


@dataclass(frozen=True, kw_only=True)
class OwnWeek:
    """A week of the course that has begun: sessions, the middle of the effort and the highest soreness, and words about it."""

    number: int
    first: date
    last: date
    days: list[Day]
    sessions: Adherence
    overdone: int
    """Days on which more was done than the plan and the practice's threshold above it."""
    effort: float | None
    soreness: int | None
    words: list[str]
    """What the coach wrote at the reviews of the week."""


@dataclass(frozen=True, kw_only=True)
class OwnCourse:
    name: str
    today: date
    titles: list[str]
    weeks: list[OwnWeek]
    """The newest first."""
    whole: Adherence


def own_course(db: Database, person: Person, now: datetime) -> OwnCourse:
    """The course of the client who asks. Raises NotThere."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        client = clients.one(conn, client_id)
        stays = assignments.stays(conn, client_id)
        today = day_at(stays, now)
        known = assignments.of_client(conn, client_id)
        rows = [r for r in log_sums.sessions_of(conn, client_id) if r.day <= today]
        pauses = [p.pause for p in assignments.pauses(conn, client_id)]
        told = daily.check_ins(conn, client_id)
        kept = reviews.of_client(conn, client_id)
        over_share = checked_rules(reviews.own_rules(conn)).over_share
    days = days_of(rows, today, off_days(pauses, stays))
    start = min((a.start_date for a in known), default=today)
    soreness = {c.day: c.soreness for c in told}
    weeks = [
        _week(
            n,
            start,
            days,
            rows,
            soreness=soreness,
            over_share=over_share,
            words=[r.words for r in kept if week_of(start, day=r.first_day) == n and r.words],
        )
        for n in sorted({week_of(start, day=d.day) for d in days}, reverse=True)
    ]
    titles = [a.title for a in known if a.ended_at is None]
    return OwnCourse(name=client.name, today=today, titles=titles, weeks=weeks, whole=session_adherence(days, today))


def _week(
    number: int,
    start: date,
    days: Sequence[Day],
    rows: Sequence[SessionRow],
    *,
    soreness: dict[date, int],
    words: list[str],
    over_share: float,
) -> OwnWeek:
    first = start + timedelta(days=DAYS * (number - 1))
    last = first + timedelta(days=DAYS - 1)
    own = [d for d in days if first <= d.day <= last]
    efforts = [r.effort for r in rows if first <= r.day <= last and r.effort is not None]
    sore = [s for day, s in soreness.items() if first < day <= last + timedelta(days=1)]
    effort = statistics.median(efforts) if efforts else None
    return OwnWeek(
        number=number,
        first=first,
        last=last,
        days=own,
        sessions=session_adherence(own, last),
        overdone=len(overdone(own, over_share)),
        effort=effort,
        soreness=max(sore, default=None),
        words=words,
    )
