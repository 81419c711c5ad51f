"""What was practised: logs, their exercises and their sides.

A log is never altered. It no longer stands when another log replaces it, or when it names the one that stands for it.
"""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg.rows import dict_row

from dimbo.core.anatomy import Side
from dimbo.core.sessions.crediting import SideWork
from dimbo.store.database import Conn, Statement, columns_of, insert, many, selected


@dataclass(frozen=True, kw_only=True)
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


@dataclass(frozen=True, kw_only=True)
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


STANDS = "{0}.replaced_by is null and not exists (select from practice_logs r where r.replaces = {0}.id)"
"""That a log called {0} stands: it names none that stands for it, and none replaces it."""

_ADD_LOG = insert("practice_logs", [*(f.name for f in fields(Log)), "practice_id", "client_id"], "on conflict (id) do nothing")
_NOT_KEPT = ("sides", "known_pain", "credit_s")
"""What a line carries besides its own columns."""
_ADD_LINE = insert(
    "practice_log_lines",
    [*(f.name for f in fields(LogLine) if f.name not in _NOT_KEPT), "log_id", "practice_id", "client_id", "work_planned_s", "work_done_s"],
)
_ADD_SIDE = insert("practice_log_sides", [*(f.name for f in fields(SideWork)), "log_id", "place", "practice_id", "client_id"])
_STOP = insert("stopped_exercises", ["practice_id", "client_id", "exercise_id", "log_id", "stopped_at"], "on conflict do nothing")


def add(conn: Conn, practice_id: UUID, client_id: UUID, log: Log, lines: list[LogLine]) -> bool:
    """Keep a log with its lines; False when this log is here already (a second delivery changes nothing)."""
    whose = {"practice_id": practice_id, "client_id": client_id}
    added = conn.execute(_ADD_LOG, columns_of(log, json=("stretches",)) | _sums(lines) | whose)
    if added.rowcount == 0:
        return False
    whose["log_id"] = log.id
    with conn.cursor() as cur:
        cur.executemany(
            _ADD_LINE,
            [
                columns_of(n, json=("stays",), leave=_NOT_KEPT)
                | whose
                | {"work_planned_s": sum(w.planned_s for w in n.sides), "work_done_s": sum(w.done_s for w in n.sides)}
                for n in lines
            ],
        )
        cur.executemany(_ADD_SIDE, [columns_of(w) | whose | {"place": n.place} for n in lines for w in n.sides])
        # Pain that was told before in the same session has stopped its exercise already; the coach may have let it go on since.
        hurt = [n for n in lines if n.outcome == "hurt" and not n.known_pain]
        cur.executemany(_STOP, [whose | {"exercise_id": n.exercise_id, "stopped_at": log.ended_at} for n in hurt])
    return True


def _sums(lines: list[LogLine]) -> dict[str, float]:
    """Load planned and done, what was overdone, and what counts, of a log's exercises, in seconds."""
    loads = [w for n in lines if n.loads for w in n.sides]
    return {
        "load_planned_s": round(sum(w.planned_s for w in loads), 1),
        "load_done_s": round(sum(w.done_s for w in loads), 1),
        "over_s": round(sum(n.over_s for n in lines), 1),
        "credit_s": round(sum(n.credit_s for n in lines), 1),
    }


_READ = f"select {selected(Log, 'l')} from practice_logs l"


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


@dataclass(frozen=True, kw_only=True)
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


TENDER = Statement(
    Tender,
    f"""
    select distinct on (n.exercise_id) n.exercise_id, l.day, n.stays
    from practice_logs l join practice_log_lines n on n.log_id = l.id
    where l.client_id = %(client)s and n.stays <> '[]' and l.day >= %(since)s and {STANDS.format("l")}
    order by n.exercise_id, l.started_at desc""",
)
"""The last time that each exercise was held longer at a tender spot."""


def tender(conn: Conn, client_id: UUID, since: date) -> list[Tender]:
    """The tender spots of a client since a day, one for each exercise."""
    return TENDER.all(conn, {"client": client_id, "since": since})


LINES = Statement(
    Line,
    f"""
    select {selected(Line, "n")}
    from practice_log_lines n
    where n.log_id = any(%s)
    order by n.log_id, n.place""",
)


def lines_of(conn: Conn, log_ids: list[UUID]) -> list[Line]:
    """The exercises of some logs, in the order of practice."""
    return LINES.all(conn, (log_ids,))


SIDES = """
    select log_id, place, side, planned_sets, done_sets, planned_reps, done_reps,
        planned_hold_s::float8, done_hold_s::float8, planned_s::float8, done_s::float8
    from practice_log_sides
    where log_id = any(%s)
    order by log_id, place, side desc"""


def sides(conn: Conn, log_ids: list[UUID]) -> dict[tuple[UUID, int], tuple[SideWork, ...]]:
    """Planned and done on each side of the exercises of some logs, by log and place; right before left."""
    out: dict[tuple[UUID, int], tuple[SideWork, ...]] = {}
    with conn.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(SIDES.encode(), (log_ids,)):
            at = row.pop("log_id"), row.pop("place")
            out[at] = (*out.get(at, ()), SideWork(**row | {"side": Side(row["side"])}))
    return out
