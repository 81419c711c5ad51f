"""What was practised: logs, their exercises, and exercises that were stopped because they hurt."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from .database import Conn, many


@dataclass(frozen=True)
class LogLine:
    place: int
    exercise_id: str
    dose: str
    planned_s: float
    done_s: float
    outcome: str
    pain_side: str | None = None
    pain_level: int | None = None
    pain_where: str = ""


@dataclass(frozen=True)
class Log:
    id: UUID
    assignment_id: UUID
    day: date
    started_at: datetime
    ended_at: datetime
    planned_s: float
    done_s: float
    effort: int | None
    note: str
    part: str = "morning"


@dataclass(frozen=True)
class Stopped:
    """An exercise that waits for the coach, with where and how much it hurt."""

    id: UUID
    exercise_id: str
    stopped_at: datetime
    day: date
    pain_side: str | None
    pain_level: int | None
    pain_where: str


@dataclass(frozen=True)
class ClientDay:
    """A planned day of a running assignment with what was done of it, for the list of all clients."""

    client_id: UUID
    day: date
    planned_s: float
    done_s: float


def add(conn: Conn, practice_id: UUID, client_id: UUID, log: Log, lines: list[LogLine]) -> bool:
    """Keep a log with its lines; False when this log is here already (a second delivery changes nothing)."""
    added = conn.execute(
        "insert into practice_logs (id, practice_id, client_id, assignment_id, day, started_at, ended_at, planned_s, done_s, "
        "effort, note, part) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s) on conflict (id) do nothing",
        (
            log.id,
            practice_id,
            client_id,
            log.assignment_id,
            log.day,
            log.started_at,
            log.ended_at,
            log.planned_s,
            log.done_s,
            log.effort,
            log.note,
            log.part,
        ),
    )
    if added.rowcount == 0:
        return False
    with conn.cursor() as cur:
        cur.executemany(
            "insert into practice_log_lines (log_id, practice_id, client_id, place, exercise_id, dose, planned_s, done_s, outcome, "
            "pain_side, pain_level, pain_where) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [
                (
                    log.id,
                    practice_id,
                    client_id,
                    n.place,
                    n.exercise_id,
                    n.dose,
                    n.planned_s,
                    n.done_s,
                    n.outcome,
                    n.pain_side,
                    n.pain_level,
                    n.pain_where,
                )
                for n in lines
            ],
        )
        cur.executemany(
            "insert into stopped_exercises (practice_id, client_id, exercise_id, log_id, stopped_at) values (%s, %s, %s, %s, %s) "
            "on conflict do nothing",
            [(practice_id, client_id, n.exercise_id, log.id, log.ended_at) for n in lines if n.outcome == "hurt"],
        )
    return True


def logs(conn: Conn, assignment_id: UUID) -> list[Log]:
    return many(
        conn,
        Log,
        "select id, assignment_id, day, started_at, ended_at, planned_s::float8, done_s::float8, effort, note, part "
        "from practice_logs where assignment_id = %s order by started_at",
        (assignment_id,),
    )


def stopped(conn: Conn, client_id: UUID) -> list[Stopped]:
    """Exercises that wait for the coach's decision."""
    return many(
        conn,
        Stopped,
        "select s.id, s.exercise_id, s.stopped_at, l.day, n.pain_side, n.pain_level, n.pain_where "
        "from stopped_exercises s join practice_logs l on l.id = s.log_id "
        "left join lateral (select * from practice_log_lines n where n.log_id = s.log_id and n.exercise_id = s.exercise_id "
        "and n.outcome = 'hurt' limit 1) n on true "
        "where s.client_id = %s and s.cleared_at is null order by s.stopped_at desc",
        (client_id,),
    )


def clear(conn: Conn, client_id: UUID, exercise_id: str, by: UUID) -> int:
    """The coach lets an exercise go on; returns how many stops that ended."""
    return conn.execute(
        "update stopped_exercises set cleared_at = now(), cleared_by = %s where client_id = %s and exercise_id = %s and cleared_at is null",
        (by, client_id, exercise_id),
    ).rowcount


def recent_days(conn: Conn, since: date) -> list[ClientDay]:
    """Planned days of every running assignment from ``since`` on, each with the seconds done."""
    return many(
        conn,
        ClientDay,
        "select client_id, day, sum(planned_s)::float8 as planned_s, sum(done_s)::float8 as done_s from ("
        "select d.client_id, d.day, coalesce(max(l.planned_s), d.planned_s) as planned_s, coalesce(sum(l.done_s), 0) as done_s "
        "from planned_days d join assignments a on a.id = d.assignment_id and a.ended_at is null "
        "left join practice_logs l on l.assignment_id = d.assignment_id and l.day = d.day and l.part = d.part "
        "where d.day >= %s group by d.client_id, d.day, d.part, d.planned_s) sessions "
        "group by client_id, day order by client_id, day",
        (since,),
    )


def stopped_counts(conn: Conn) -> dict[UUID, int]:
    return dict(
        conn.execute(
            "select client_id, count(distinct exercise_id) from stopped_exercises where cleared_at is null group by client_id"
        ).fetchall()
    )
