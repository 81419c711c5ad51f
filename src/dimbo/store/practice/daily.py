"""What a client tells of a day besides practice: soreness, and ticks of habit tasks. Nothing told is ever altered."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from dimbo.store.database import Conn, add, columns_of, many


@dataclass(frozen=True, kw_only=True)
class CheckIn:
    """Soreness 0 to 10 on a day after practice, and where: muscle and side. The newest of a day holds."""

    id: UUID
    day: date
    soreness: int
    places: list[dict[str, Any]]
    said_at: datetime


def check_in(conn: Conn, practice_id: UUID, client_id: UUID, said: CheckIn) -> bool:
    """False when it is here already."""
    values = {"practice_id": practice_id, "client_id": client_id} | columns_of(said, json=("places",))
    return add(conn, "check_ins", values, "on conflict (id) do nothing").rowcount == 1


def check_ins(conn: Conn, client_id: UUID, since: date = date.min) -> list[CheckIn]:
    """The newest of each day, the earliest day first."""
    return many(
        conn,
        CheckIn,
        """
        select distinct on (day) id, day, soreness, places, said_at
        from check_ins
        where client_id = %s and day >= %s
        order by day, said_at desc, received_at desc""",
        (client_id, since),
    )


@dataclass(frozen=True, kw_only=True)
class Tick:
    """A habit task done once more, or one tick taken back."""

    id: UUID
    assignment_id: UUID
    exercise_id: str
    day: date
    amount: int
    said_at: datetime


def tick(conn: Conn, practice_id: UUID, client_id: UUID, said: Tick) -> bool:
    """False when it is here already."""
    values = {"practice_id": practice_id, "client_id": client_id} | columns_of(said)
    return add(conn, "habit_ticks", values, "on conflict (id) do nothing").rowcount == 1


def counts(conn: Conn, client_id: UUID, since: date) -> dict[tuple[date, str], int]:
    """How often each habit task was done, by day and exercise."""
    rows = conn.execute(
        """
        select day, exercise_id, greatest(sum(amount), 0)::int
        from habit_ticks
        where client_id = %s and day >= %s
        group by day, exercise_id""",
        (client_id, since),
    ).fetchall()
    return {(day, exercise): count for day, exercise, count in rows}
