"""What was practised: logs, their exercises and sides, and exercises that were stopped because they hurt.

A log is never altered. It no longer stands when another log replaces it, or when it names the one that stands for it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, NamedTuple
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.core.anatomy import Side
from dimbo.core.review.adherence import SessionRow
from dimbo.core.sessions.crediting import SideWork
from dimbo.store.database import Conn, many


@dataclass(frozen=True)
class LogLine:
    """One exercise of a session: its whole time, and its work in seconds of contraction or hands-on time, both sides."""

    place: int
    exercise_id: str
    dose: str
    planned_s: float
    done_s: float
    outcome: str
    pain_side: str | None = None
    pain_level: int | None = None
    pain_where: str = ""
    eased: bool = False
    skip_reason: str = ""
    pauses: int = 0
    paused_s: float = 0.0
    sides: tuple[SideWork, ...] = ()
    pain_since: str = ""
    stays: list[dict[str, Any]] = field(default_factory=list)
    """Where a release was held longer: side, seconds, at_s, where."""
    known_pain: bool = False
    """Whether the pain was told before, in the part of the session that this log goes on with; it stops nothing anew."""
    loads: bool = True
    """Whether it contracts, so that its work is load."""
    credit_s: float = 0.0
    """Seconds that count toward the session, each side at most whole."""
    over_s: float = 0.0
    """Load above plan, or hands-on time beyond the daily ceiling."""


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
    plan: int = 1
    source: str = "player"
    session_id: UUID | None = None
    """One for all logs of a session that two programs share."""
    form: str | None = None
    """Whether it was felt in the right place: yes, partly, no."""
    pauses: int = 0
    paused_s: float = 0.0
    clock_off_s: float = 0.0
    """How far the phone's clock was behind; the times are corrected by it."""
    named_day: date | None = None
    """The day that the phone named, where the server's rule decided on another."""
    stretches: list[dict[str, Any]] = field(default_factory=list)
    replaces: UUID | None = None
    replaced_by: UUID | None = None
    load_planned_s: float = 0.0
    """Contraction of its exercises on both sides, kept as their sum with the log."""
    load_done_s: float = 0.0
    over_s: float = 0.0
    """What was overdone, exercise by exercise."""
    credit_s: float = 0.0
    """Seconds that count, each exercise and side at most whole."""


@dataclass(frozen=True)
class Tender:
    """Where an exercise was last held longer."""

    exercise_id: str
    day: date
    stays: list[dict[str, Any]]


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
    pain_since: str
    """In the client's words."""


_LOG = """id, assignment_id, day, started_at, ended_at, planned_s, done_s, effort, note, part, plan, source, session_id, form, pauses,
    paused_s, clock_off_s, named_day, stretches, replaces, replaced_by, load_planned_s, load_done_s, over_s, credit_s"""
STANDS = "{0}.replaced_by is null and not exists (select from practice_logs r where r.replaces = {0}.id)"


def add(conn: Conn, practice_id: UUID, client_id: UUID, log: Log, lines: list[LogLine]) -> bool:
    """Keep a log with its lines; False when this log is here already (a second delivery changes nothing)."""
    added = conn.execute(
        f"insert into practice_logs ({_LOG}, practice_id, client_id) values "
        "(%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s) "
        "on conflict (id) do nothing",
        (
            log.id,
            log.assignment_id,
            log.day,
            log.started_at,
            log.ended_at,
            log.planned_s,
            log.done_s,
            log.effort,
            log.note,
            log.part,
            log.plan,
            log.source,
            log.session_id,
            log.form,
            log.pauses,
            log.paused_s,
            log.clock_off_s,
            log.named_day,
            Jsonb(log.stretches),
            log.replaces,
            log.replaced_by,
            *_sums(lines),
            practice_id,
            client_id,
        ),
    )
    if added.rowcount == 0:
        return False
    with conn.cursor() as cur:
        cur.executemany(
            "insert into practice_log_lines (log_id, practice_id, client_id, place, exercise_id, dose, planned_s, done_s, outcome, "
            "pain_side, pain_level, pain_where, eased, skip_reason, pauses, paused_s, work_planned_s, work_done_s, pain_since, stays, "
            "loads, over_s) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
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
                    n.eased,
                    n.skip_reason,
                    n.pauses,
                    n.paused_s,
                    sum(w.planned_s for w in n.sides),
                    sum(w.done_s for w in n.sides),
                    n.pain_since,
                    Jsonb(n.stays),
                    n.loads,
                    n.over_s,
                )
                for n in lines
            ],
        )
        cur.executemany(
            "insert into practice_log_sides (log_id, place, side, practice_id, client_id, planned_sets, done_sets, planned_reps, "
            "done_reps, planned_hold_s, done_hold_s, planned_s, done_s) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
            [
                (
                    log.id,
                    n.place,
                    w.side.value,
                    practice_id,
                    client_id,
                    w.planned_sets,
                    w.done_sets,
                    w.planned_reps,
                    w.done_reps,
                    w.planned_hold_s,
                    w.done_hold_s,
                    w.planned_s,
                    w.done_s,
                )
                for n in lines
                for w in n.sides
            ],
        )
        cur.executemany(
            "insert into stopped_exercises (practice_id, client_id, exercise_id, log_id, stopped_at) values (%s, %s, %s, %s, %s) "
            "on conflict do nothing",
            [(practice_id, client_id, n.exercise_id, log.id, log.ended_at) for n in lines if n.outcome == "hurt" and not n.known_pain],
        )
    return True


def _sums(lines: list[LogLine]) -> tuple[float, float, float, float]:
    """Load planned and done, what was overdone, and what counts, of a log's exercises, in seconds."""
    loads = [w for n in lines if n.loads for w in n.sides]
    return (
        round(sum(w.planned_s for w in loads), 1),
        round(sum(w.done_s for w in loads), 1),
        round(sum(n.over_s for n in lines), 1),
        round(sum(n.credit_s for n in lines), 1),
    )


_READ = """select l.id, l.assignment_id, l.day, l.started_at, l.ended_at, l.planned_s::float8, l.done_s::float8, l.effort, l.note, l.part,
    l.plan, l.source, l.session_id, l.form, l.pauses, l.paused_s::float8, l.clock_off_s::float8, l.named_day, l.stretches, l.replaces,
    l.replaced_by, l.load_planned_s::float8, l.load_done_s::float8, l.over_s::float8, l.credit_s::float8 from practice_logs l"""


def sessions_sql(where: str) -> str:
    """Every session, planned or not, with what its logs that stand add up to, as ``SessionRow``; ``where`` is said of {0}.

    A session of one log is what is kept with it; of several, each exercise and side counts at most whole over all of them.
    """
    return f"""with logs as (
            select l.id, l.client_id, l.assignment_id, l.day, l.part, l.planned_s, l.effort, l.form, l.credit_s, l.load_planned_s,
                l.load_done_s, l.over_s, count(*) over (partition by l.assignment_id, l.day, l.part) as logs
            from practice_logs l where {where.format("l")} and {STANDS.format("l")}),
        lines as (
            select l.client_id, l.assignment_id, l.day, l.part, l.id, n.exercise_id, bool_and(n.loads) as loads,
                sum(n.planned_s) as planned_s, sum(n.done_s) as done_s, sum(n.work_planned_s) as work_planned_s,
                sum(n.work_done_s) as work_done_s, sum(n.over_s) as over_s,
                sum(n.right_planned_s) as right_planned_s, sum(n.right_s) as right_s,
                sum(n.left_planned_s) as left_planned_s, sum(n.left_s) as left_s
            from (select * from logs where logs > 1 offset 0) l
            cross join lateral (select n.*, r.planned_s as right_planned_s, r.done_s as right_s, s.planned_s as left_planned_s,
                    s.done_s as left_s
                from practice_log_lines n
                left join practice_log_sides r on r.log_id = n.log_id and r.place = n.place and r.side = 'right'
                left join practice_log_sides s on s.log_id = n.log_id and s.place = n.place and s.side = 'left'
                where n.log_id = l.id offset 0) n  -- log by log, by index: few sessions have several
            group by 1, 2, 3, 4, 5, 6),
        exercises as (
            select client_id, assignment_id, day, part, bool_and(loads) as loads, max(planned_s) as planned_s, sum(done_s) as done_s,
                max(work_planned_s) as work_planned_s, sum(work_done_s) as work_done_s, sum(over_s) as over_s,
                coalesce(max(right_planned_s), 0) as r, coalesce(max(left_planned_s), 0) as l,
                least(coalesce(sum(right_s), 0), coalesce(max(right_planned_s), 0)) as rd,
                least(coalesce(sum(left_s), 0), coalesce(max(left_planned_s), 0)) as ld
            from lines group by client_id, assignment_id, day, part, exercise_id),
        several as (
            select client_id, assignment_id, day, part,
                sum(case when r + l > 0 then planned_s * (rd + ld) / (r + l) else least(done_s, planned_s) end) as credit_s,
                sum(work_planned_s) filter (where loads) as load_planned_s, sum(work_done_s) filter (where loads) as load_done_s,
                sum(case when loads then greatest(work_done_s - work_planned_s, 0) else over_s end) as over_s
            from exercises group by 1, 2, 3, 4),
        logged as (
            select l.client_id, l.assignment_id, l.day, l.part, max(l.planned_s) as planned_s, max(l.effort) as effort,
                min(l.form) as form,  -- no, partly, yes: the least comes first
                max(coalesce(m.credit_s, l.credit_s)) as credit_s, max(coalesce(m.load_planned_s, l.load_planned_s)) as load_planned_s,
                max(coalesce(m.load_done_s, l.load_done_s)) as load_done_s, max(coalesce(m.over_s, l.over_s)) as over_s
            from logs l left join several m using (client_id, assignment_id, day, part) group by 1, 2, 3, 4)
        select coalesce(d.client_id, l.client_id), coalesce(d.assignment_id, l.assignment_id), coalesce(d.day, l.day),
            coalesce(d.part, l.part), d.week, d.back, d.plan, d.planned_s::float8, l.planned_s::float8, l.credit_s::float8,
            l.load_planned_s::float8, l.load_done_s::float8, l.over_s::float8, l.effort, l.form
        from (select * from planned_days p where {where.format("p")}) d
        full join logged l on l.assignment_id = d.assignment_id and l.day = d.day and l.part = d.part
        order by 1, 3, 4 desc"""


OF_CLIENT = sessions_sql("{0}.client_id = %(client)s")
"""Every session of a client, planned or not, with the sums of its logs that stand."""


def sessions_of(conn: Conn, client_id: UUID) -> list[SessionRow]:
    """Every session of a client in the order of days, morning before evening."""
    return [SessionRow(*r) for r in conn.execute(OF_CLIENT.encode(), {"client": client_id}).fetchall()]


@dataclass(frozen=True)
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


def heads_of(conn: Conn, client_id: UUID) -> list[LogHead]:
    """Every log of a client that stands, in the order of time."""
    return many(
        conn,
        LogHead,
        "select l.id, l.assignment_id, l.day, l.started_at, l.planned_s::float8, l.done_s::float8, l.effort, l.note, l.part, l.source, "
        f"l.form, l.clock_off_s::float8, l.named_day from practice_logs l where l.client_id = %s and {STANDS.format('l')} "
        "order by l.started_at",
        (client_id,),
    )


class DayDose(NamedTuple):
    """What is planned on a day, over all sessions and programs, in seconds: exercise time, and contraction by side."""

    day: date
    planned_s: float
    right_s: float
    left_s: float


def doses_of(conn: Conn, client_id: UUID) -> list[DayDose]:
    """What is planned for a client, day by day."""
    rows = conn.execute(
        "select day, sum(planned_s)::float8, sum(contraction_right_s)::float8, sum(contraction_left_s)::float8 "
        "from planned_days where client_id = %s group by day order by day",
        (client_id,),
    ).fetchall()
    return [DayDose(*r) for r in rows]


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


def works_of(conn: Conn, client_id: UUID, contracting: list[str]) -> list[PartWork]:
    """Contraction and hands-on time of every planned session; ``contracting`` are the exercises that contract."""
    rows = conn.execute(
        "with logs as (select l.id, l.assignment_id, l.day, l.part, case when l.source = 'player' then "
        f"extract(epoch from l.ended_at - l.started_at) - l.paused_s end as took from practice_logs l where l.client_id = %(client)s "
        f"and {STANDS.format('l')}), "
        "own as (select l.assignment_id, l.day, l.part, l.id, n.exercise_id, sum(n.work_planned_s) as p, sum(n.work_done_s) as d "
        "from logs l join practice_log_lines n on n.log_id = l.id group by 1, 2, 3, 4, 5), "
        "exercises as (select assignment_id, day, part, exercise_id = any(%(c)s) as contracts, max(p) as p, least(sum(d), max(p)) as d "
        "from own group by assignment_id, day, part, exercise_id), "
        "works as (select assignment_id, day, part, sum(p) filter (where contracts) as c, sum(p) filter (where not contracts) as h, "
        "sum(d) filter (where contracts) as cd, sum(d) filter (where not contracts) as hd from exercises group by 1, 2, 3), "
        "logged as (select w.*, t.took from works w join (select assignment_id, day, part, sum(took) as took from logs group by 1, 2, 3) t "
        "using (assignment_id, day, part)) "
        "select d.assignment_id, d.day, d.part, (d.contraction_right_s + d.contraction_left_s)::float8, d.hands_on_s::float8, "
        "d.session_s::float8, l.c::float8, l.h::float8, l.cd::float8, l.hd::float8, l.took::float8 "
        "from planned_days d left join logged l on l.assignment_id = d.assignment_id and l.day = d.day and l.part = d.part "
        "where d.client_id = %(client)s order by d.day, d.part desc",
        {"client": client_id, "c": contracting},
    ).fetchall()
    return [PartWork(*r) for r in rows]


def tallies_of(conn: Conn, client_id: UUID) -> list[tuple[str, int, float, int, int]]:
    """Each exercise over all sessions that a client practised: how often it was there, done by its share, left out, hurt."""
    return conn.execute(
        "select n.exercise_id, count(*)::int, coalesce(sum(least(n.done_s / nullif(n.planned_s, 0), 1)), 0)::float8, "
        "count(*) filter (where n.outcome = 'skipped')::int, count(*) filter (where n.outcome = 'hurt')::int "
        "from practice_log_lines n join practice_logs l on l.id = n.log_id "
        f"where n.client_id = %s and {STANDS.format('l')} group by n.exercise_id",
        (client_id,),
    ).fetchall()


def logs(conn: Conn, assignment_id: UUID) -> list[Log]:
    """The logs of an assignment that stand, in the order of time."""
    return many(conn, Log, f"{_READ} where l.assignment_id = %s and {STANDS.format('l')} order by l.started_at", (assignment_id,))


def all_logs(conn: Conn, assignment_id: UUID) -> list[Log]:
    """Every log of an assignment, those that no longer stand too."""
    return many(conn, Log, f"{_READ} where l.assignment_id = %s order by l.received_at", (assignment_id,))


def of_session(conn: Conn, assignment_id: UUID, day: date, part: str) -> list[Log]:
    """The logs of one session that stand."""
    sql = f"{_READ} where l.assignment_id = %s and l.day = %s and l.part = %s and {STANDS.format('l')} order by l.started_at"
    return many(conn, Log, sql, (assignment_id, day, part))


def of_report(conn: Conn, client_id: UUID, session_id: UUID) -> list[Log]:
    """The logs that one report made."""
    return many(conn, Log, f"{_READ} where l.client_id = %s and (l.session_id = %s or l.id = %s)", (client_id, session_id, session_id))


def hold_client(conn: Conn, client_id: UUID) -> None:
    """Wait until no other transaction hands in for this client, so that the same session told twice at once is seen."""
    conn.execute("select pg_advisory_xact_lock(hashtextextended(%s, 6))", (str(client_id),))


def has(conn: Conn, log_id: UUID) -> bool:
    return conn.execute("select 1 from practice_logs where id = %s", (log_id,)).fetchone() is not None


def last_practised(conn: Conn, client_id: UUID) -> date | None:
    """The last day on which anything was practised."""
    row = conn.execute("select max(day) from practice_logs where client_id = %s and done_s > 0", (client_id,)).fetchone()
    return row[0] if row else None


def known_exercises(conn: Conn, client_id: UUID) -> frozenset[str]:
    """Exercises that a client has done before."""
    rows = conn.execute("select distinct exercise_id from practice_log_lines where client_id = %s and done_s > 0", (client_id,)).fetchall()
    return frozenset(r[0] for r in rows)


@dataclass(frozen=True)
class Line:
    """A logged exercise, with the day and log it belongs to."""

    log_id: UUID
    place: int
    exercise_id: str
    dose: str
    planned_s: float
    done_s: float
    outcome: str
    pain_side: str | None
    pain_level: int | None
    pain_where: str
    eased: bool
    skip_reason: str
    pauses: int
    paused_s: float
    pain_since: str
    stays: list[dict[str, Any]]


TENDER = f"""select distinct on (n.exercise_id) n.exercise_id, l.day, n.stays
    from practice_logs l join practice_log_lines n on n.log_id = l.id
    where l.client_id = %(client)s and n.stays <> '[]' and l.day >= %(since)s and {STANDS.format("l")}
    order by n.exercise_id, l.started_at desc"""
"""The last time that each exercise was held longer at a tender spot."""


def tender(conn: Conn, client_id: UUID, since: date) -> list[Tender]:
    """The tender spots of a client since a day, one for each exercise."""
    return [Tender(*r) for r in conn.execute(TENDER.encode(), {"client": client_id, "since": since}).fetchall()]


def lines_of(conn: Conn, log_ids: list[UUID]) -> list[Line]:
    """The exercises of some logs, in the order of practice."""
    return many(
        conn,
        Line,
        "select log_id, place, exercise_id, dose, planned_s::float8, done_s::float8, outcome, pain_side, pain_level, pain_where, eased, "
        "skip_reason, pauses, paused_s::float8, pain_since, stays from practice_log_lines where log_id = any(%s) order by log_id, place",
        (log_ids,),
    )


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


def exercise_days(conn: Conn, assignment_id: UUID, first: date, last: date) -> list[ExerciseDay]:
    """What became of each exercise of an assignment on each day of a span."""
    rows = conn.execute(
        "select n.exercise_id, l.day, count(*)::int, sum(least(n.done_s, n.planned_s))::float8, sum(n.planned_s)::float8, "
        "coalesce(sum(n.work_done_s), 0)::float8, coalesce(max(n.work_planned_s), 0)::float8, "
        "count(*) filter (where n.outcome = 'skipped')::int, count(*) filter (where n.outcome = 'hurt')::int "
        "from practice_logs l join practice_log_lines n on n.log_id = l.id "
        f"where l.assignment_id = %s and l.day between %s and %s and {STANDS.format('l')} "
        "group by n.exercise_id, l.day order by l.day, n.exercise_id",
        (assignment_id, first, last),
    ).fetchall()
    return [ExerciseDay(*r) for r in rows]


def pains_of(conn: Conn, assignment_id: UUID, first: date, last: date) -> list[tuple[str, date, str | None, int | None, str, str]]:
    """Exercises that hurt in a span of days: which, day, side, level of 10, where, and since when."""
    return conn.execute(
        "select n.exercise_id, l.day, n.pain_side, n.pain_level, n.pain_where, n.pain_since from practice_logs l "
        "join practice_log_lines n on n.log_id = l.id and n.outcome = 'hurt' "
        f"where l.assignment_id = %s and l.day between %s and %s and {STANDS.format('l')} order by l.day",
        (assignment_id, first, last),
    ).fetchall()


def sides(conn: Conn, log_ids: list[UUID]) -> dict[tuple[UUID, int], tuple[SideWork, ...]]:
    """Planned and done on each side of the exercises of some logs, by log and place; right before left."""
    rows = conn.execute(
        "select log_id, place, side, planned_sets, done_sets, planned_reps, done_reps, planned_hold_s::float8, done_hold_s::float8, "
        "planned_s::float8, done_s::float8 from practice_log_sides where log_id = any(%s) order by log_id, place, side desc",
        (log_ids,),
    ).fetchall()
    out: dict[tuple[UUID, int], tuple[SideWork, ...]] = {}
    for log_id, place, side, *work in rows:
        out[log_id, place] = (*out.get((log_id, place), ()), SideWork(Side(side), *work))
    return out


def stopped(conn: Conn, client_id: UUID) -> list[Stopped]:
    """Exercises that wait for the coach's decision."""
    return many(
        conn,
        Stopped,
        "select s.id, s.exercise_id, s.stopped_at, l.day, n.pain_side, n.pain_level, n.pain_where, "
        "coalesce(n.pain_since, '') as pain_since from stopped_exercises s join practice_logs l on l.id = s.log_id "
        "left join lateral (select * from practice_log_lines n where n.log_id = s.log_id and n.exercise_id = s.exercise_id "
        "and n.outcome = 'hurt' limit 1) n on true "
        "where s.client_id = %s and s.cleared_at is null order by s.stopped_at desc",
        (client_id,),
    )


def clear(conn: Conn, client_id: UUID, exercise_id: str, by: UUID, note: str) -> int:
    """The coach lets an exercise go on, with a note; returns how many stops that ended."""
    return conn.execute(
        "update stopped_exercises set cleared_at = now(), cleared_by = %s, note = %s "
        "where client_id = %s and exercise_id = %s and cleared_at is null",
        (by, note, client_id, exercise_id),
    ).rowcount
