"""How long a practice keeps things, whose time is near, and who was told."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from dimbo.store.database import Conn, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class Keeping:
    """What a practice decides: months after the last course, None for no end; and in its own words what law makes it keep."""

    keep_photographs_months: int | None
    keep_records_months: int | None
    kept_by_law: str


def of_practice(conn: Conn) -> Keeping:
    sql = "select keep_photographs_months, keep_records_months, kept_by_law from practices where id = current_practice()"
    found = one_or_none(conn, Keeping, sql, ())
    assert found
    return found


def decide(conn: Conn, keeping: Keeping) -> None:
    conn.execute(
        """
        update practices set keep_photographs_months = %s, keep_records_months = %s, kept_by_law = %s
        where id = current_practice()""",
        (keeping.keep_photographs_months, keeping.keep_records_months, keeping.kept_by_law),
    )


@dataclass(frozen=True, kw_only=True)
class Idle:
    """A client without a running program. ``last_on`` is the last day on which anything happened: the course, a session, a
    sitting, a message, an entry, or that the client was taken on. ``told`` maps photographs and record to the day on which the
    notice went out and the day it named."""

    client_id: UUID
    name: str
    last_on: date
    kept_until: date | None
    photographs: int
    photographs_told_on: date | None
    photographs_goes_on: date | None
    record_told_on: date | None
    record_goes_on: date | None


_IDLE = """
    select c.id as client_id, c.name, c.kept_until,
        greatest(c.created_at::date,
            (select max(ended_at)::date from assignments where client_id = c.id),
            (select max(day) from practice_logs where client_id = c.id),
            (select max(greatest(taken_on, created_at::date)) from sittings where client_id = c.id),
            (select max(received_at)::date from messages where client_id = c.id),
            (select max(at)::date from facts where client_id = c.id)) as last_on,
        (select count(*)::int from photographs where client_id = c.id) as photographs,
        p.told_on as photographs_told_on, p.goes_on as photographs_goes_on,
        r.told_on as record_told_on, r.goes_on as record_goes_on
    from clients c
    left join keeping_notices p on p.client_id = c.id and p.what = 'photographs'
    left join keeping_notices r on r.client_id = c.id and r.what = 'record'
    where not exists (select from assignments a where a.client_id = c.id and a.ended_at is null)"""


def idle(conn: Conn) -> list[Idle]:
    """Every client whose time could come; whoever has a program that has not ended is not among them."""
    return many(conn, Idle, f"{_IDLE} order by c.name, c.id")


def idle_one(conn: Conn, client_id: UUID) -> Idle | None:
    return one_or_none(conn, Idle, f"{_IDLE} and c.id = %s", (client_id,))


def running(conn: Conn) -> list[UUID]:
    """Clients with a notice whose time cannot come any more, because a program runs again."""
    rows = conn.execute(
        """
        select distinct n.client_id from keeping_notices n
        where exists (select from assignments a where a.client_id = n.client_id and a.ended_at is null)"""
    ).fetchall()
    return [UUID(str(r[0])) for r in rows]


def tell(conn: Conn, practice_id: UUID, client_id: UUID, what: str, told_on: date, goes_on: date) -> None:
    conn.execute(
        """
        insert into keeping_notices (practice_id, client_id, what, told_on, goes_on) values (%s, %s, %s, %s, %s)
        on conflict (client_id, what) do update set told_on = excluded.told_on, goes_on = excluded.goes_on""",
        (practice_id, client_id, what, told_on, goes_on),
    )


def take_back(conn: Conn, client_id: UUID, what: str | None = None) -> None:
    """The notice holds no more; without ``what`` none of a client's does."""
    conn.execute("delete from keeping_notices where client_id = %(c)s and what = coalesce(%(w)s, what)", {"c": client_id, "w": what})


def keep_until(conn: Conn, client_id: UUID, day: date | None) -> None:
    conn.execute("update clients set kept_until = %s where id = %s", (day, client_id))
