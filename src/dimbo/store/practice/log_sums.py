"""What logs add up to: by session, by day, by exercise. Only logs that stand count."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import NamedTuple
from uuid import UUID

from dimbo.core.review.adherence import ExerciseTally, SessionRow
from dimbo.store.database import Conn, Statement, selected

from .practice_logs import STANDS

_SIDES_OF_LINE = """
    select
        n.*,
        r.planned_s as right_planned_s, r.done_s as right_s,
        s.planned_s as left_planned_s, s.done_s as left_s
    from practice_log_lines n
    left join practice_log_sides r on r.log_id = n.log_id and r.place = n.place and r.side = 'right'
    left join practice_log_sides s on s.log_id = n.log_id and s.place = n.place and s.side = 'left'
    where n.log_id = l.id offset 0"""
"""The lines of a log l with what their sides planned and did. ``offset 0`` has it read log by log, by index: few sessions have
several logs, and a year of lines must not be read for them."""


def session_rows(where: str) -> Statement[SessionRow]:
    """Every session, planned or not, with what its logs that stand add up to; ``where`` is said of {0}.

    A session of one log is what is kept with it; of several, each exercise and side counts at most whole over all of them.
    """
    return Statement(
        SessionRow,
        f"""
        with logs as (
            select
                l.id, l.client_id, l.assignment_id, l.day, l.part, l.planned_s, l.effort, l.form, l.credit_s,
                l.load_planned_s, l.load_done_s, l.over_s,
                count(*) over (partition by l.assignment_id, l.day, l.part) as logs
            from practice_logs l
            where {where.format("l")} and {STANDS.format("l")}
        ),
        lines as (
            select
                l.client_id, l.assignment_id, l.day, l.part, l.id, n.exercise_id,
                bool_and(n.loads) as loads,
                sum(n.planned_s) as planned_s, sum(n.done_s) as done_s,
                sum(n.work_planned_s) as work_planned_s, sum(n.work_done_s) as work_done_s,
                sum(n.over_s) as over_s,
                sum(n.right_planned_s) as right_planned_s, sum(n.right_s) as right_s,
                sum(n.left_planned_s) as left_planned_s, sum(n.left_s) as left_s
            from (select * from logs where logs > 1 offset 0) l
            cross join lateral ({_SIDES_OF_LINE}) n
            group by 1, 2, 3, 4, 5, 6
        ),
        exercises as (
            select
                client_id, assignment_id, day, part,
                bool_and(loads) as loads,
                max(planned_s) as planned_s, sum(done_s) as done_s,
                max(work_planned_s) as work_planned_s, sum(work_done_s) as work_done_s,
                sum(over_s) as over_s,
                coalesce(max(right_planned_s), 0) as r,
                coalesce(max(left_planned_s), 0) as l,
                least(coalesce(sum(right_s), 0), coalesce(max(right_planned_s), 0)) as rd,
                least(coalesce(sum(left_s), 0), coalesce(max(left_planned_s), 0)) as ld
            from lines
            group by client_id, assignment_id, day, part, exercise_id
        ),
        several as (
            select
                client_id, assignment_id, day, part,
                sum(case when r + l > 0 then planned_s * (rd + ld) / (r + l) else least(done_s, planned_s) end) as credit_s,
                sum(work_planned_s) filter (where loads) as load_planned_s,
                sum(work_done_s) filter (where loads) as load_done_s,
                sum(case when loads then greatest(work_done_s - work_planned_s, 0) else over_s end) as over_s
            from exercises
            group by 1, 2, 3, 4
        ),
        logged as (
            select
                l.client_id, l.assignment_id, l.day, l.part,
                max(l.planned_s) as planned_s,
                max(l.effort) as effort,
                min(l.form) as form,  -- no, partly, yes: the least comes first
                max(coalesce(m.credit_s, l.credit_s)) as credit_s,
                max(coalesce(m.load_planned_s, l.load_planned_s)) as load_planned_s,
                max(coalesce(m.load_done_s, l.load_done_s)) as load_done_s,
                max(coalesce(m.over_s, l.over_s)) as over_s
            from logs l
            left join several m using (client_id, assignment_id, day, part)
            group by 1, 2, 3, 4
        )
        select
            coalesce(d.client_id, l.client_id) as client_id,
            coalesce(d.assignment_id, l.assignment_id) as assignment_id,
            coalesce(d.day, l.day) as day,
            coalesce(d.part, l.part) as part,
            d.week, d.back, d.plan,
            d.planned_s::float8 as planned_s,
            l.planned_s::float8 as log_planned_s,
            l.credit_s::float8 as done_s,
            l.load_planned_s::float8 as load_planned_s,
            l.load_done_s::float8 as load_done_s,
            l.over_s::float8 as over_s,
            l.effort, l.form
        from (select * from planned_days p where {where.format("p")}) d
        full join logged l on l.assignment_id = d.assignment_id and l.day = d.day and l.part = d.part
        order by 1, 3, 4 desc""",
    )


OF_CLIENT = session_rows("{0}.client_id = %(client)s")
"""Every session of a client, planned or not, with the sums of its logs that stand."""


def sessions_of(conn: Conn, client_id: UUID) -> list[SessionRow]:
    """Every session of a client in the order of days, morning before evening."""
    return OF_CLIENT.all(conn, {"client": client_id})


@dataclass(frozen=True, kw_only=True)
class LogHead:
    """A log as the course shows it."""

    id: UUID
    assignment_id: UUID
    day: date
    started_at: datetime
    planned_s: float
    done_s: float
    effort: int | None
    note: str
    part: str
    source: str
    form: str | None
    clock_off_s: float
    named_day: date | None


HEADS = Statement(
    LogHead,
    f"""
    select {selected(LogHead, "l")}
    from practice_logs l
    where l.client_id = %s and {STANDS.format("l")}
    order by l.started_at""",
)


def heads_of(conn: Conn, client_id: UUID) -> list[LogHead]:
    """Every log of a client that stands, in the order of time."""
    return HEADS.all(conn, (client_id,))


class DayDose(NamedTuple):
    """What is planned on a day, over all sessions and programs, in seconds: exercise time, contraction by side, hands-on time."""

    day: date
    planned_s: float
    right_s: float
    left_s: float
    hands_on_s: float


DOSES = Statement(
    DayDose,
    """
    select
        day,
        sum(planned_s)::float8 as planned_s,
        sum(contraction_right_s)::float8 as right_s,
        sum(contraction_left_s)::float8 as left_s,
        sum(hands_on_s)::float8 as hands_on_s
    from planned_days
    where client_id = %s
    group by day
    order by day""",
)


def doses_of(conn: Conn, client_id: UUID) -> list[DayDose]:
    """What is planned for a client, day by day."""
    return DOSES.all(conn, (client_id,))


class PartWork(NamedTuple):
    """The work of a session by contraction and hands-on time, in seconds: planned by the plan and by its log, and done up to
    the plan; the planned length with change-overs, and from start to end without pauses where it was played."""

    assignment_id: UUID
    day: date
    part: str
    contraction_s: float
    hands_on_s: float
    length_s: float
    log_contraction_s: float | None
    log_hands_on_s: float | None
    contraction_done_s: float | None
    hands_on_done_s: float | None
    took_s: float | None


WORKS = Statement(
    PartWork,
    f"""
    with logs as (
        select
            l.id, l.assignment_id, l.day, l.part,
            case when l.source = 'player' then extract(epoch from l.ended_at - l.started_at) - l.paused_s end as took
        from practice_logs l
        where l.client_id = %(client)s and {STANDS.format("l")}
    ),
    own as (
        select
            l.assignment_id, l.day, l.part, l.id, n.exercise_id,
            sum(n.work_planned_s) as planned,
            sum(n.work_done_s) as done
        from logs l
        join practice_log_lines n on n.log_id = l.id
        group by 1, 2, 3, 4, 5
    ),
    exercises as (
        select
            assignment_id, day, part,
            exercise_id = any(%(contracting)s) as contracts,
            max(planned) as planned,
            least(sum(done), max(planned)) as done
        from own
        group by assignment_id, day, part, exercise_id
    ),
    works as (
        select
            assignment_id, day, part,
            sum(planned) filter (where contracts) as contraction,
            sum(planned) filter (where not contracts) as hands_on,
            sum(done) filter (where contracts) as contraction_done,
            sum(done) filter (where not contracts) as hands_on_done
        from exercises
        group by 1, 2, 3
    ),
    times as (select assignment_id, day, part, sum(took) as took from logs group by 1, 2, 3)
    select
        d.assignment_id, d.day, d.part,
        (d.contraction_right_s + d.contraction_left_s)::float8 as contraction_s,
        d.hands_on_s::float8 as hands_on_s,
        d.session_s::float8 as length_s,
        w.contraction::float8 as log_contraction_s,
        w.hands_on::float8 as log_hands_on_s,
        w.contraction_done::float8 as contraction_done_s,
        w.hands_on_done::float8 as hands_on_done_s,
        t.took::float8 as took_s
    from planned_days d
    left join (works w join times t using (assignment_id, day, part))
        on w.assignment_id = d.assignment_id and w.day = d.day and w.part = d.part
    where d.client_id = %(client)s
    order by d.day, d.part desc""",
)


def works_of(conn: Conn, client_id: UUID, contracting: list[str]) -> list[PartWork]:
    """Contraction and hands-on time of every planned session; ``contracting`` are the exercises that contract."""
    return WORKS.all(conn, {"client": client_id, "contracting": contracting})


TALLIES = Statement(
    ExerciseTally,
    f"""
    select
        n.exercise_id,
        count(*)::int as sessions,
        coalesce(sum(least(n.done_s / nullif(n.planned_s, 0), 1)), 0)::float8 as done,
        count(*) filter (where n.outcome = 'skipped')::int as left_out,
        count(*) filter (where n.outcome = 'hurt')::int as hurt
    from practice_log_lines n
    join practice_logs l on l.id = n.log_id
    where n.client_id = %s and {STANDS.format("l")}
    group by n.exercise_id""",
)


def tallies_of(conn: Conn, client_id: UUID) -> list[ExerciseTally]:
    """Each exercise over all sessions that a client practised."""
    return TALLIES.all(conn, (client_id,))


def last_practised(conn: Conn, client_id: UUID) -> date | None:
    """The last day on which anything was practised."""
    row = conn.execute("select max(day) from practice_logs where client_id = %s and done_s > 0", (client_id,)).fetchone()
    return row[0] if row else None


def known_exercises(conn: Conn, client_id: UUID) -> frozenset[str]:
    """Exercises that a client has done before."""
    rows = conn.execute("select distinct exercise_id from practice_log_lines where client_id = %s and done_s > 0", (client_id,))
    return frozenset(r[0] for r in rows)


class ExerciseDay(NamedTuple):
    """An exercise on a day, over all logs that stand: how often it was there, seconds of its time done up to the plan and
    planned, seconds of its work done and planned, and how often it was left out or hurt."""

    exercise_id: str
    day: date
    sessions: int
    done_s: float
    planned_s: float
    work_done_s: float
    work_planned_s: float
    left_out: int
    hurt: int


EXERCISE_DAYS = Statement(
    ExerciseDay,
    f"""
    select
        n.exercise_id, l.day,
        count(*)::int as sessions,
        sum(least(n.done_s, n.planned_s))::float8 as done_s,
        sum(n.planned_s)::float8 as planned_s,
        coalesce(sum(n.work_done_s), 0)::float8 as work_done_s,
        coalesce(max(n.work_planned_s), 0)::float8 as work_planned_s,
        count(*) filter (where n.outcome = 'skipped')::int as left_out,
        count(*) filter (where n.outcome = 'hurt')::int as hurt
    from practice_logs l
    join practice_log_lines n on n.log_id = l.id
    where l.assignment_id = %(assignment)s and l.day between %(first)s and %(last)s and {STANDS.format("l")}
    group by n.exercise_id, l.day
    order by l.day, n.exercise_id""",
)


def exercise_days(conn: Conn, assignment_id: UUID, *, first: date, last: date) -> list[ExerciseDay]:
    """What became of each exercise of an assignment on each day of a span."""
    return EXERCISE_DAYS.all(conn, {"assignment": assignment_id, "first": first, "last": last})
