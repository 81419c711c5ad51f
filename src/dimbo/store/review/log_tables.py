"""What is carried out as tables: logs by exercise and side."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import UUID

from dimbo.core.review.adherence import SessionRow
from dimbo.store.database import Conn, Statement
from dimbo.store.practice.log_sums import session_rows
from dimbo.store.practice.practice_logs import STANDS

from .desk import Lived, Paused

LOGS = f"""select c.id, c.name, l.day, l.part, l.id, l.source, {STANDS.format("l")} as stands, l.replaces, l.started_at, l.ended_at,
    a.id, v.title, l.plan, l.effort, l.form, n.place, n.exercise_id, n.dose, n.outcome, n.planned_s::float8, n.done_s::float8, s.side,
    s.planned_sets, s.done_sets, s.planned_reps, s.done_reps, s.planned_hold_s::float8, s.done_hold_s::float8, s.planned_s::float8,
    s.done_s::float8, n.eased, n.skip_reason, n.pain_side, n.pain_level, n.pain_where, n.pain_since, l.note
    from practice_logs l join clients c on c.id = l.client_id join assignments a on a.id = l.assignment_id
    join programs v on v.id = a.program_id join practice_log_lines n on n.log_id = l.id
    left join practice_log_sides s on s.log_id = n.log_id and s.place = n.place
    where l.practice_id = current_practice() and l.day between %(first)s and %(last)s
    and (%(client)s::uuid is null or l.client_id = %(client)s)
    order by c.name, l.day, l.started_at, l.id, n.place, s.side desc"""
"""Every log, exercise and side of a span of days, of one client or of all."""


SESSIONS = session_rows(
    "{0}.practice_id = current_practice() and {0}.day between %(first)s and %(last)s "
    "and (%(client)s::uuid is null or {0}.client_id = %(client)s)"
)
PAUSES = Statement(
    Paused,
    """
    select client_id, first_day as first, last_day as last
    from pauses
    where %(client)s::uuid is null or client_id = %(client)s
    order by first_day""",
)
STAYS = Statement(
    Lived,
    """
    select client_id, since, time_zone
    from stays
    where %(client)s::uuid is null or client_id = %(client)s
    order by client_id, since""",
)


@dataclass(frozen=True, kw_only=True)
class Days:
    """What the days of some clients are told from."""

    sessions: list[SessionRow]
    pauses: list[Paused]
    stays: list[Lived]


def days(conn: Conn, client_id: UUID | None, *, first: date, last: date) -> Days:
    """Sessions of a span of days with pauses and zones, of one client or of all, in three statements whoever asks."""
    values = {"client": client_id, "first": first, "last": last}
    with conn.pipeline():
        sessions, pauses, stays = SESSIONS.run(conn, values), PAUSES.run(conn, values), STAYS.run(conn, values)
        return Days(sessions=sessions.fetchall(), pauses=pauses.fetchall(), stays=stays.fetchall())


def logs(conn: Conn, client_id: UUID | None, first: date, last: date) -> Iterator[tuple[Any, ...]]:
    """Rows in the order of the columns of ``work.review.tables_out.LOGS``."""
    with conn.cursor() as cursor:
        yield from cursor.execute(LOGS.encode(), {"client": client_id, "first": first, "last": last})
