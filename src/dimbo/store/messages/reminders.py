"""Sessions that a reminder may be near of: everything that says no without a look at the client is asked in one statement."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from typing import NamedTuple
from uuid import UUID

from dimbo.store.database import Conn, Statement


class SessionNear(NamedTuple):
    """A planned session of these days with the time at which it is practised, and what its client wants of reminders."""

    client_id: UUID
    day: date
    part: str
    at: str
    """Time of day in the client's zone, HH:MM."""
    remind_min: int
    time_zone: str
    quiet_first: time | None
    quiet_last: time | None


NEAR = Statement(
    SessionNear,
    """
    select distinct
        d.client_id, d.day, d.part, p.times->>d.part as at, p.remind_min::int as remind_min, c.time_zone, w.quiet_first, w.quiet_last
    from assignments a
    join lateral (select * from plans n where n.assignment_id = a.id order by n.number desc limit 1) p on true
    join planned_days d on d.assignment_id = a.id and d.day between %(first)s and %(last)s
    join clients c on c.id = a.client_id
    left join reminder_wishes w on w.client_id = a.client_id
    where a.ended_at is null
        and p.remind_min is not null
        and p.times->>d.part is not null
        and w.unsubscribed_at is null
        and not exists (
            select from outbox o
            where o.client_id = d.client_id and o.session_day = d.day and o.session_part = d.part
        )
        and not exists (
            select from pauses u
            where u.client_id = a.client_id and u.first_day <= d.day and (u.last_day is null or u.last_day >= d.day)
        )""",
)


def near(conn: Conn, now: datetime) -> list[SessionNear]:
    """Sessions of yesterday, today and tomorrow that nobody was reminded of yet, wherever their clients live."""
    day = timedelta(days=1)
    return NEAR.all(conn, {"first": now.date() - day, "last": now.date() + day})
