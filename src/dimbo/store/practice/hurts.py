"""Exercises that hurt: where, how much, since when; and those that wait for the coach because of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import NamedTuple
from uuid import UUID

from dimbo.store.database import Conn, Statement

from .practice_logs import STANDS


class Hurt(NamedTuple):
    """That an exercise hurt on a day: side, level of 10, the place in words, and since when in the client's words."""

    client_id: UUID
    assignment_id: UUID
    exercise_id: str
    day: date
    side: str | None
    level: int | None
    where: str
    since: str


HURT = """l.client_id, l.assignment_id, n.exercise_id, l.day, n.pain_side as side, n.pain_level as level,
        coalesce(n.pain_where, '') as "where", coalesce(n.pain_since, '') as since"""
"""The columns of ``Hurt``, from a log l and its line n."""


@dataclass(frozen=True, kw_only=True)
class Stopped:
    """An exercise that waits for the coach, with where and how much it hurt."""

    id: UUID
    exercise_id: str
    stopped_at: datetime
    day: date
    pain_side: str | None
    pain_level: int | None
    pain_where: str
    pain_since: str
    """In the client's words."""


BETWEEN = Statement(
    Hurt,
    f"""
    select {HURT}
    from practice_logs l join practice_log_lines n on n.log_id = l.id and n.outcome = 'hurt'
    where l.assignment_id = %(assignment)s and l.day between %(first)s and %(last)s and {STANDS.format("l")}
    order by l.day""",
)


def hurts_of(conn: Conn, assignment_id: UUID, *, first: date, last: date) -> list[Hurt]:
    """What hurt in a span of days of an assignment."""
    return BETWEEN.all(conn, {"assignment": assignment_id, "first": first, "last": last})


WAITING = Statement(
    Stopped,
    """
    select s.id, s.exercise_id, s.stopped_at, l.day, n.pain_side, n.pain_level, n.pain_where,
        coalesce(n.pain_since, '') as pain_since
    from stopped_exercises s
    join practice_logs l on l.id = s.log_id
    left join lateral (
        select * from practice_log_lines n
        where n.log_id = s.log_id and n.exercise_id = s.exercise_id and n.outcome = 'hurt' limit 1
    ) n on true
    where s.client_id = %s and s.cleared_at is null
    order by s.stopped_at desc""",
)


def stopped(conn: Conn, client_id: UUID) -> list[Stopped]:
    """Exercises that wait for the coach's decision."""
    return WAITING.all(conn, (client_id,))


def clear(conn: Conn, client_id: UUID, exercise_id: str, by: UUID, note: str) -> int:
    """The coach lets an exercise go on, with a note; returns how many stops that ended."""
    return conn.execute(
        """
        update stopped_exercises
        set cleared_at = now(), cleared_by = %s, note = %s
        where client_id = %s and exercise_id = %s and cleared_at is null""",
        (by, note, client_id, exercise_id),
    ).rowcount
