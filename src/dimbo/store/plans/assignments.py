"""Assignments: the plans that they follow from a day on, their planned sessions, pauses, and clients who start together."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from datetime import date, datetime, time
from typing import Any
from uuid import UUID

from dimbo.core.calendar.schedule import Pause, zone
from dimbo.core.calendar.time_zones import Stay
from dimbo.core.programs.week_standing import PlannedWeek
from dimbo.store.database import Conn, NotThere, add, add_all, columns_of, many, new_id, one_or_none
from dimbo.store.practice.practice_logs import STANDS


@dataclass(frozen=True, kw_only=True)
class NewPlan:
    """What a plan follows from a day on."""

    from_day: date
    anchor: date
    """The day from which its weeks are counted."""
    steps: list[tuple[int, int]]
    """Week by week: the program week whose doses it has, and how many rungs back."""
    program_id: UUID
    program_version: int
    settings: dict[str, float]
    cards: dict[str, str]
    """Exercise to the hash of the card it was assigned with."""
    weekdays: list[int]
    """Days on which it is practised, Monday 1 to Sunday 7; empty for any."""
    times: dict[str, str]
    """Time of day of the morning and the evening session, as 07:30; absent when nobody said."""
    remind_min: int | None
    """Minutes before a session at which to remind; None for no reminder."""
    as_part: str | None
    """The part of the day into which a program with one session a day is put; None as the program has it."""
    end_date: date | None
    kind: str
    reason: str
    sides: list[dict[str, Any]] = field(default_factory=list)
    """Readings by which a side is given more, with the sittings that said so."""

    def following(self, from_day: date, anchor: date, steps: list[tuple[int, int]], kind: str, reason: str = "") -> NewPlan:
        """A plan that goes on like this one from a day on, by other weeks."""
        same = {f.name: getattr(self, f.name) for f in fields(NewPlan)}
        return NewPlan(**same | {"from_day": from_day, "anchor": anchor, "steps": steps, "kind": kind, "reason": reason})


@dataclass(frozen=True, kw_only=True)
class Assignment(NewPlan):
    """An assignment as one of its plans has it; ``plan`` says which."""

    id: UUID
    client_id: UUID
    group_id: UUID | None
    start_date: date
    ended_at: datetime | None
    ended_from: date | None
    """The first day that was no longer due."""
    follows: str
    """What the coach said comes after it."""
    plan: int
    title: str
    document: dict[str, Any]
    made_at: datetime

    def at(self, part: str) -> time | None:
        """Time of day of a session."""
        said = self.times.get(part)
        return time.fromisoformat(said) if said else None


@dataclass(frozen=True, kw_only=True)
class PlannedDay:
    """A planned session, or a whole day of them."""

    day: date
    week: int
    planned_s: float
    contraction_right_s: float
    contraction_left_s: float
    part: str = "morning"
    place: int = 0
    """Place of the day among its week's days, from 0."""
    plan: int = 1
    back: int = 0
    """Rungs lower than the program, after a break."""
    hands_on_s: float = 0.0
    """Hands-on time of both sides; 0 for sessions that were laid out before it was kept."""
    session_s: float = 0.0
    """The whole session with its change-overs; 0 for sessions that were laid out before it was kept."""


def begin(conn: Conn, practice_id: UUID, client_id: UUID, program_id: UUID, start: date, group_id: UUID | None, by: UUID) -> UUID:
    """A new running assignment, still without a plan."""
    values = {"practice_id": practice_id, "client_id": client_id, "program_id": program_id, "start_date": start, "group_id": group_id}
    return new_id(add(conn, "assignments", values | {"created_by": by}, "returning id"))


_DOCUMENTS = ("steps", "settings", "cards", "times", "sides")
"""What of a plan is kept as a document."""


def add_plan(conn: Conn, practice_id: UUID, client_id: UUID, assignment_id: UUID, plan: NewPlan, by: UUID | None, at: datetime) -> int:
    """Keep a further plan of an assignment; returns its number."""
    count = "select coalesce(max(number), 0) + 1 from plans where assignment_id = %s"
    number = int((conn.execute(count, (assignment_id,)).fetchone() or (1,))[0])
    owned = {"practice_id": practice_id, "client_id": client_id, "assignment_id": assignment_id, "number": number}
    add(conn, "plans", owned | columns_of(plan, json=_DOCUMENTS) | {"made_by": by, "made_at": at})
    return number


def replan(conn: Conn, practice_id: UUID, client_id: UUID, assignment_id: UUID, from_day: date, days: list[PlannedDay]) -> None:
    """Plan anew from a day on. Sessions that were practised, and all before the day, stay as they are."""
    _unplan(conn, assignment_id, from_day)
    owned = {"assignment_id": assignment_id, "practice_id": practice_id, "client_id": client_id}
    add_all(conn, "planned_days", [owned | columns_of(d) for d in days], "on conflict do nothing")


def _unplan(conn: Conn, assignment_id: UUID, from_day: date) -> None:
    conn.execute(
        """
        delete from planned_days d
        where assignment_id = %s and day >= %s
            and not exists (select from practice_logs l where l.assignment_id = d.assignment_id and l.day = d.day
                and l.part = d.part)""",
        (assignment_id, from_day),
    )


def end(conn: Conn, assignment_id: UUID, on: date, follows: str, at: datetime) -> None:
    """End an assignment: days from ``on`` that were not practised are no longer planned. Raises NotThere."""
    _unplan(conn, assignment_id, on)
    done = conn.execute(
        "update assignments set ended_at = %s, ended_from = %s, follows = %s where id = %s and ended_at is null",
        (at, on, follows, assignment_id),
    )
    if done.rowcount == 0:
        raise NotThere("This assignment has ended already.")


def take_ending_back(conn: Conn, assignment_id: UUID) -> None:
    """Let an assignment run again. Raises NotThere."""
    done = conn.execute(
        "update assignments set ended_at = null, ended_from = null, follows = '' where id = %s and ended_at is not null", (assignment_id,)
    )
    if done.rowcount == 0:
        raise NotThere("This assignment is running.")


def has_been_assigned(conn: Conn, program_id: UUID) -> bool:
    """Whether any client ever had this program, running or ended."""
    row = conn.execute("select exists (select from plans where program_id = %s)", (program_id,)).fetchone()
    return bool(row and row[0])


_COLUMNS = """select a.id, a.client_id, a.group_id, a.program_id, a.start_date, a.ended_at, a.ended_from, a.follows,
    p.number as plan, p.from_day, p.anchor, p.steps,
    p.program_version, v.title, v.document, p.settings, p.cards, p.weekdays, p.times, p.remind_min, p.as_part, p.end_date, p.kind,
    p.reason, p.made_at, p.sides
    from assignments a join plans p on p.assignment_id = a.id
    join program_versions v on v.program_id = p.program_id and v.version = p.program_version"""
_NEWEST = f"{_COLUMNS} where p.number = (select max(n.number) from plans n where n.assignment_id = a.id)"


def running_of(conn: Conn, client_id: UUID) -> list[Assignment]:
    """The running assignments of a client by their newest plan, the oldest first."""
    return many(conn, Assignment, f"{_NEWEST} and a.client_id = %s and a.ended_at is null order by a.created_at", (client_id,))


def of_client(conn: Conn, client_id: UUID) -> list[Assignment]:
    """Every assignment of a client by its newest plan: running ones first, then the last ended."""
    sql = f"{_NEWEST} and a.client_id = %s order by a.ended_at desc nulls first, a.created_at"
    return many(conn, Assignment, sql, (client_id,))


def running(conn: Conn) -> list[Assignment]:
    """Every running assignment of the practice."""
    return many(conn, Assignment, f"{_NEWEST} and a.ended_at is null")


def one(conn: Conn, assignment_id: UUID) -> Assignment:
    """By its newest plan. Raises NotThere."""
    return _there(one_or_none(conn, Assignment, f"{_NEWEST} and a.id = %s", (assignment_id,)))


def by_plan(conn: Conn, assignment_id: UUID, number: int) -> Assignment:
    """As one of its plans has it. Raises NotThere."""
    return _there(one_or_none(conn, Assignment, f"{_COLUMNS} where a.id = %s and p.number = %s", (assignment_id, number)))


def plans(conn: Conn, assignment_id: UUID) -> list[Assignment]:
    """All plans of an assignment in their order."""
    return many(conn, Assignment, f"{_COLUMNS} where a.id = %s order by p.number", (assignment_id,))


_WEEKS_OF_PROGRAM = f"""
    select
        d.week, min(d.day) as first, max(d.day) as last, max(d.back)::int as back, max(p.program_version) as version,
        bool_or(exists (
            select from practice_logs l
            where l.assignment_id = d.assignment_id and l.day = d.day and l.part = d.part and {STANDS.format("l")}
        )) as practised
    from planned_days d
    join assignments a on a.id = d.assignment_id and a.ended_at is null
    join plans p on p.assignment_id = d.assignment_id and p.number = d.plan
    where a.program_id = %s
    group by d.week
    order by d.week"""


def weeks_of_program(conn: Conn, program_id: UUID) -> list[PlannedWeek]:
    """The weeks of a program as they are laid out for whoever practises it now; of a week that comes again all its days."""
    return many(conn, PlannedWeek, _WEEKS_OF_PROGRAM, (program_id,))


def plan_makers(conn: Conn, client_id: UUID) -> dict[tuple[UUID, int], str]:
    """Who made the plans of a client, by assignment and number; nobody where a break or the calendar did."""
    rows = conn.execute(
        "select p.assignment_id, p.number, a.name from plans p join accounts a on a.id = p.made_by where p.client_id = %s", (client_id,)
    )
    return {(assignment, number): name for assignment, number, name in rows}


def chosen_by(conn: Conn, client_id: UUID) -> dict[str, frozenset[str]]:
    """By reading, the sittings that chose a side of any plan of a client."""
    rows = conn.execute(
        """
        select s ->> 'reading', array_agg(distinct k)
        from plans p, jsonb_array_elements(p.sides) s, jsonb_array_elements_text(s -> 'sittings') k
        where p.client_id = %s
        group by 1""",
        (client_id,),
    ).fetchall()
    return {str(reading): frozenset(sittings) for reading, sittings in rows}


def _there(row: Assignment | None) -> Assignment:
    if row is None:
        raise NotThere("There is no such assignment.")
    return row


def sessions(conn: Conn, assignment_id: UUID, since: date = date.min, until: date = date.max) -> list[PlannedDay]:
    """Every planned session of some days, both ends included, morning before evening."""
    return many(
        conn,
        PlannedDay,
        """
        select day, week, planned_s::float8, contraction_right_s::float8, contraction_left_s::float8, part, place,
            plan, back, hands_on_s::float8, session_s::float8
        from planned_days
        where assignment_id = %s and day between %s and %s
        order by day, part desc""",
        (assignment_id, since, until),
    )


def last_planned(conn: Conn, assignment_id: UUID) -> date | None:
    """The last day for which an assignment has a session."""
    row = conn.execute("select max(day) from planned_days where assignment_id = %s", (assignment_id,)).fetchone()
    return row[0] if row else None


@dataclass(frozen=True, kw_only=True)
class StoredPause:
    id: UUID
    first_day: date
    last_day: date | None
    reason: str
    changes: int
    """How often its end was changed."""
    changed_at: datetime

    @property
    def pause(self) -> Pause:
        return Pause(self.first_day, last=self.last_day)


def pauses(conn: Conn, client_id: UUID) -> list[StoredPause]:
    """A client's pauses, the earliest first."""
    sql = "select id, first_day, last_day, reason, changes, changed_at from pauses where client_id = %s order by first_day"
    return many(conn, StoredPause, sql, (client_id,))


def add_pause(conn: Conn, practice_id: UUID, client_id: UUID, first: date, last: date | None, reason: str, by: UUID) -> None:
    conn.execute(
        "insert into pauses (practice_id, client_id, first_day, last_day, reason, made_by) values (%s, %s, %s, %s, %s, %s)",
        (practice_id, client_id, first, last, reason, by),
    )


def end_pause(conn: Conn, pause_id: UUID, last: date) -> None:
    """A pause that ends on ``last``; the day before its first takes it back."""
    conn.execute("update pauses set last_day = %s, changes = changes + 1, changed_at = clock_timestamp() where id = %s", (last, pause_id))


def stays(conn: Conn, client_id: UUID) -> list[Stay]:
    """Where a client lived from when on; at least one. Raises NotThere."""
    rows = conn.execute("select since, time_zone from stays where client_id = %s order by since", (client_id,)).fetchall()
    if not rows:
        raise NotThere("There is no such client.")
    return [Stay(since, zone(name)) for since, name in rows]


@dataclass(frozen=True)
class Group:
    """Clients who started together."""

    id: UUID
    name: str
    made_at: datetime


def make_group(conn: Conn, practice_id: UUID, name: str, by: UUID) -> UUID:
    row = conn.execute(
        "insert into groups (practice_id, name, made_by) values (%s, %s, %s) returning id", (practice_id, name, by)
    ).fetchone()
    assert row
    return UUID(str(row[0]))


def group(conn: Conn, group_id: UUID) -> Group | None:
    return one_or_none(conn, Group, "select id, name, made_at from groups where id = %s", (group_id,))
