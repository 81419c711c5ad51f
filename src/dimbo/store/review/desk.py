"""What the desk reads: the last weeks of every client of a practice, in one round trip.

Every statement looks at a bounded window of days, and finds its logs by index.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any
from uuid import UUID

from dimbo.core.review.adherence import SessionRow
from dimbo.store.database import Conn
from dimbo.store.intake.facts import Fact
from dimbo.store.practice.practice_logs import STANDS, sessions_sql


@dataclass(frozen=True)
class Running:
    """A running assignment, without its document."""

    id: UUID
    client_id: UUID
    group_id: UUID | None
    program_id: UUID
    title: str
    start_date: date
    weeks: int
    earned: bool
    review: dict[str, float]
    """The program's own thresholds of the weekly review."""
    plan: int
    steps: int
    anchor: date
    times: dict[str, str]


RUNNING = """select a.id, a.client_id, a.group_id, a.program_id, v.title, a.start_date, (v.document->>'weeks')::int as weeks,
    v.document->>'mode' = 'earned' as earned, coalesce(v.document->'review', '{}') as review, p.number as plan,
    jsonb_array_length(p.steps) as steps, p.anchor, p.times
    from assignments a join lateral (select * from plans n where n.assignment_id = a.id order by n.number desc limit 1) p on true
    join program_versions v on v.program_id = p.program_id and v.version = p.program_version
    where a.ended_at is null order by a.created_at"""
"""Every running assignment by its newest plan."""

ANCHORS = """select p.assignment_id, p.number, p.anchor from plans p join assignments a on a.id = p.assignment_id
    where a.ended_at is null"""
"""From which day each plan of a running assignment counts its weeks."""

SESSIONS = sessions_sql("{0}.practice_id = current_practice() and {0}.day between %(since)s and %(until)s")
"""Every session of a window of days, planned or not."""

SORENESS = """select distinct on (client_id, day) client_id, day, soreness, nullif(places, '[]') from check_ins
    where practice_id = current_practice() and day >= %(lately)s order by client_id, day, said_at desc, received_at desc"""
"""The newest check-in of each day."""

HURTS = f"""select l.client_id, l.assignment_id, l.day, n.exercise_id, n.pain_side, n.pain_level, n.pain_where, n.pain_since
    from practice_logs l join practice_log_lines n on n.log_id = l.id and n.outcome = 'hurt'
    where l.practice_id = current_practice() and l.day >= %(since)s and {STANDS.format("l")} order by l.day"""
"""Exercises that hurt in the window, whatever the coach has decided since."""

STOPPED = """select s.client_id, s.exercise_id, l.day, n.pain_side, n.pain_level, coalesce(n.pain_where, ''), coalesce(n.pain_since, '')
    from stopped_exercises s join practice_logs l on l.id = s.log_id
    left join lateral (select * from practice_log_lines n where n.log_id = s.log_id and n.exercise_id = s.exercise_id
        and n.outcome = 'hurt' limit 1) n on true
    where s.cleared_at is null order by s.stopped_at desc"""
"""Exercises that wait for the coach."""

FACTS = """select client_id, id, seq, kind, key, value, at, author, source from facts f
    where practice_id = current_practice() and kind in ('caution', 'clearance', 'consent') order by seq"""
"""Every answer to a caution, clearance and consent."""

TAKEN = "select client_id, taken_on from sittings order by taken_on"
"""The days of all sittings."""

PAUSES = "select client_id, first_day, last_day from pauses order by first_day"
"""All pauses."""

UNREAD = "select client_id, count(*)::int from messages where not by_coach and read_at is null group by client_id"
"""Messages of clients that no coach has read."""

OWN_INTAKES = "select client_id from self_intakes where submitted_at is not null and reviewed_at is null"
"""Clients whose own intake waits for review."""

REVIEWED = """select distinct on (r.assignment_id) r.assignment_id, r.first_day, r.last_day, r.evidence, r.made_at
    from reviews r order by r.assignment_id, r.first_day desc, r.made_at desc"""
"""The newest review of each assignment."""

SETTLED = "select client_id, kind, key from settled_alarms"
"""Alarms that were put aside."""

ENDED = """select a.client_id, max(d.day) from assignments a
    cross join lateral (select day from planned_days p where p.assignment_id = a.id order by p.day desc, p.part desc limit 1) d
    where a.ended_at is null or a.ended_at > %(ended_since)s group by a.client_id"""
"""The last planned day of every client whose programs run, or ended lately."""

SILENT = f"""with silent as materialized (
        select c.id from clients c where c.practice_id = current_practice() and not exists (select from practice_logs l
            where l.client_id = c.id and l.day >= %(since)s and l.done_s > 0 and {STANDS.format("l")})),
    last as materialized (
        select s.id, (select l.day from practice_logs l where l.client_id = s.id and l.done_s > 0 and {STANDS.format("l")}
            order by l.day desc limit 1) as day from silent s)
    select distinct p.client_id, p.day, last.day from last
    cross join lateral (select d.client_id, d.day from planned_days d
        where d.client_id = last.id and d.day < %(since)s and d.day > coalesce(last.day, '-infinity') offset 0) p
    order by p.client_id, p.day"""
"""Planned days before the window since the last that was practised, of clients who did nothing in it; and that last day."""

MOVED = """select client_id, since, time_zone from stays s
    where s.client_id in (select n.client_id from stays n group by n.client_id having count(*) > 1 and max(n.since) > %(moved)s)
    order by client_id, since"""
"""Where clients lived who moved to another zone lately."""

FIRST_SHOTS = """select distinct on (client_id) client_id, taken_at from photographs where taken_at is not null
    order by client_id, taken_at"""
"""When the first photograph of each client was taken."""

REVIEWED_TODAY = "select client_id, made_at from reviews where practice_id = current_practice() and made_at >= %(day)s order by made_at"
"""Reviews of the last day."""

GROUPS = "select id, name, made_at from groups order by made_at desc"
"""Groups that started together, the newest first."""

LATELY_DAYS = 16
"""How far back check-ins are read: the week that is reviewed, and the one that has begun."""

WINDOW: tuple[str, ...] = (
    RUNNING,
    SESSIONS,
    ANCHORS,
    SORENESS,
    HURTS,
    STOPPED,
    FACTS,
    TAKEN,
    PAUSES,
    UNREAD,
    OWN_INTAKES,
    REVIEWED,
    SETTLED,
    ENDED,
    MOVED,
    FIRST_SHOTS,
    REVIEWED_TODAY,
    GROUPS,
    SILENT,
)
"""All that the desk reads besides the clients themselves, in the order of ``Window``."""


@dataclass(frozen=True)
class Window:
    """The rows of ``WINDOW``, each as its statement says."""

    running: list[Running]
    sessions: list[SessionRow]
    anchors: list[tuple[UUID, int, date]]
    soreness: list[tuple[UUID, date, int, list[dict[str, Any]]]]
    hurts: list[tuple[UUID, UUID, date, str, str | None, int | None, str, str]]
    stopped: list[tuple[UUID, str, date, str | None, int | None, str, str]]
    facts: list[tuple[UUID, Fact]]
    taken: list[tuple[UUID, date]]
    pauses: list[tuple[UUID, date, date | None]]
    unread: dict[UUID, int]
    own_intakes: set[UUID]
    reviewed: list[tuple[UUID, date, date, dict[str, Any], datetime]]
    settled: list[tuple[UUID, str, str]]
    last_planned: dict[UUID, date]
    moved: list[tuple[UUID, datetime, str]]
    first_shots: dict[UUID, datetime]
    reviewed_today: list[tuple[UUID, datetime]]
    groups: list[tuple[UUID, str, datetime]]
    silent: list[tuple[UUID, date, date | None]]


def window_values(now: datetime, days: int) -> dict[str, Any]:
    """The values of ``WINDOW`` for the last ``days`` days and the week to come."""
    past = now - timedelta(days=days)
    since, until = now.date() - timedelta(days=days + 1), now.date() + timedelta(days=7)
    return {
        "since": since,
        "until": until,
        "moved": past,
        "ended_since": past,
        "lately": now.date() - timedelta(days=LATELY_DAYS),
        "day": now - timedelta(hours=14),
    }


def read(conn: Conn, values: dict[str, Any]) -> Window:
    """Read the window of days that ``window_values`` names."""
    with conn.pipeline():
        cursors = [conn.execute(sql.encode(), values) for sql in WINDOW]
        rows: list[list[Any]] = [c.fetchall() for c in cursors]
    got = iter(rows)
    return Window(
        [Running(*r) for r in next(got)],
        list(map(SessionRow._make, next(got))),
        next(got),
        next(got),
        next(got),
        next(got),
        [(r[0], Fact(*r[1:])) for r in next(got)],
        next(got),
        next(got),
        dict(next(got)),
        {r[0] for r in next(got)},
        next(got),
        next(got),
        dict(next(got)),
        next(got),
        dict(next(got)),
        next(got),
        next(got),
        next(got),
    )


def settle(conn: Conn, practice_id: UUID, client_id: UUID, kind: str, key: str, by: UUID) -> bool:
    """Put an alarm aside as seen; False when it was already."""
    done = conn.execute(
        "insert into settled_alarms (practice_id, client_id, kind, key, settled_by) values (%s, %s, %s, %s, %s) on conflict do nothing",
        (practice_id, client_id, kind, key, by),
    )
    return done.rowcount == 1


def unsettle(conn: Conn, client_id: UUID, kind: str, key: str) -> None:
    """Let an alarm speak again."""
    conn.execute("delete from settled_alarms where client_id = %s and kind = %s and key = %s", (client_id, kind, key))
