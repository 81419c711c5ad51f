"""What a practice's outcomes are worked out from, over all clients at once."""

from __future__ import annotations

from datetime import date, datetime
from typing import NamedTuple
from uuid import UUID

from dimbo.store.database import Conn, Statement, add
from dimbo.store.practice.practice_logs import STANDS


class Practising(NamedTuple):
    """A client's days with any practice in order, and of the first 14 days how many sessions were planned and practised."""

    client_id: UUID
    days: list[date]
    planned: int
    done: int


PRACTISED = Statement(
    Practising,
    f"""
    with days as (
        select l.client_id, array_agg(distinct l.day order by l.day) as days
        from practice_logs l
        where l.done_s > 0 and {STANDS.format("l")}
        group by l.client_id
    )
    select
        d.client_id, d.days,
        (select count(*)::int from planned_days p
            where p.client_id = d.client_id and p.day between d.days[1] and d.days[1] + 13) as planned,
        (select count(*)::int from planned_days p
            where p.client_id = d.client_id and p.day between d.days[1] and d.days[1] + 13 and exists (
                select from practice_logs l where l.assignment_id = p.assignment_id and l.day = p.day and l.part = p.part
                    and l.done_s > 0 and {STANDS.format("l")})) as done
    from days d
    order by d.client_id""",
)


def practised(conn: Conn) -> list[Practising]:
    """Everybody who ever practised."""
    return PRACTISED.all(conn, ())


class ChosenSide(NamedTuple):
    """That a plan gave a side more by a reading, and which sittings said so."""

    client_id: UUID
    made_at: datetime
    reading: str
    side: str
    sittings: list[str]


SIDES = Statement(
    ChosenSide,
    """
    select
        p.client_id, p.made_at, s ->> 'reading' as reading, s ->> 'side' as side,
        array(select jsonb_array_elements_text(s -> 'sittings')) as sittings
    from plans p, jsonb_array_elements(p.sides) s
    order by p.made_at""",
)


def chosen_sides(conn: Conn) -> list[ChosenSide]:
    """Every side that any plan gave more, in the order of the plans."""
    return SIDES.all(conn, ())


class Course(NamedTuple):
    """A program as it was given: how long it ran, when it was first laid out, and by which approach."""

    client_id: UUID
    first_day: date
    ended_from: date | None
    made_at: datetime
    approach: str


COURSES = Statement(
    Course,
    """
    select
        a.client_id, a.start_date as first_day,
        coalesce(a.ended_from, (a.ended_at at time zone 'UTC')::date) as ended_from,
        p.made_at, coalesce(v.document ->> 'approach', '') as approach
    from assignments a
    join plans p on p.assignment_id = a.id and p.number = 1
    join program_versions v on v.program_id = p.program_id and v.version = p.program_version
    order by a.start_date, a.id""",
)


def courses(conn: Conn) -> list[Course]:
    """Every program that was ever given, in the order of their first days."""
    return COURSES.all(conn, ())


class Coin(NamedTuple):
    client_id: UUID
    between: list[str]
    fell: str
    thrown_at: datetime


COINS = Statement(Coin, "select client_id, between, fell, thrown_at from coins order by thrown_at")


def coins(conn: Conn) -> list[Coin]:
    """Every coin that was thrown, in order."""
    return COINS.all(conn, ())


def note_coin(conn: Conn, practice_id: UUID, coin: Coin, by: UUID) -> None:
    """Keep which approach a coin chose."""
    add(conn, "coins", {"practice_id": practice_id, "by_id": by} | coin._asdict())
