"""What the desk reads: the last weeks of every client of a practice, in one round trip.

Every statement looks at a bounded window of days, and finds its logs by index.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, fields
from datetime import date, datetime, timedelta
from typing import Any, NamedTuple
from uuid import UUID

from dimbo.core.review.adherence import SessionRow
from dimbo.store.database import Conn, Statement
from dimbo.store.intake.facts import Fact
from dimbo.store.practice.hurts import HURT, Hurt
from dimbo.store.practice.log_sums import session_rows
from dimbo.store.practice.practice_logs import STANDS
from dimbo.store.sittings.sittings import TAKEN


@dataclass(frozen=True, kw_only=True)
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


class Anchor(NamedTuple):
    """From which day a plan of a running assignment counts its weeks."""

    assignment_id: UUID
    plan: int
    anchor: date


class Soreness(NamedTuple):
    """The newest check-in of a day: soreness of 10, and the muscles and sides that were named."""

    client_id: UUID
    day: date
    soreness: int
    places: list[dict[str, Any]]


class Taken(NamedTuple):
    """A day on which photographs were taken."""

    client_id: UUID
    day: date


class Paused(NamedTuple):
    """A pause, both ends included; without an end it lasts."""

    client_id: UUID
    first: date
    last: date | None


class Unread(NamedTuple):
    """How many messages of a client no coach has read, and when the newest was written."""

    client_id: UUID
    messages: int
    newest: datetime


class OwnIntake(NamedTuple):
    """A client whose own intake waits for review."""

    client_id: UUID


class Reviewed(NamedTuple):
    """The newest review of an assignment: its week, the numbers that it stood on, and when it was decided."""

    assignment_id: UUID
    client_id: UUID
    first_day: date
    last_day: date
    evidence: dict[str, Any]
    made_at: datetime


class Settled(NamedTuple):
    """An alarm that was put aside: its kind, the key of the occurrence, and the day on which it speaks again, if it was put off."""

    client_id: UUID
    kind: str
    key: str
    until: date | None


class LastPlanned(NamedTuple):
    """The last planned day of a client."""

    client_id: UUID
    day: date


class Silent(NamedTuple):
    """A planned day that was missed before the window, by a client who did nothing since the day they practised last."""

    client_id: UUID
    day: date
    practised: date | None


class Lived(NamedTuple):
    """From when a client lived in a time zone."""

    client_id: UUID
    since: datetime
    time_zone: str


class FirstShot(NamedTuple):
    """The first photograph of a client, and when it was taken."""

    client_id: UUID
    id: UUID
    taken_at: datetime


class ReviewDone(NamedTuple):
    """A review of the last day."""

    client_id: UUID
    made_at: datetime


class EverPractised(NamedTuple):
    """A client to whom a program was ever given, and the last day that they practised, if they did."""

    client_id: UUID
    last: date | None


class GroupHead(NamedTuple):
    """A group that started together."""

    id: UUID
    name: str
    made_at: datetime


@dataclass(frozen=True, kw_only=True)
class Window:
    """Everything that the desk reads besides the clients themselves, by the names of ``STATEMENTS``."""

    running: list[Running]
    sessions: list[SessionRow]
    anchors: list[Anchor]
    soreness: list[Soreness]
    hurts: list[Hurt]
    stopped: list[Hurt]
    facts: list[Fact]
    taken: list[Taken]
    pauses: list[Paused]
    unread: list[Unread]
    own_intakes: list[OwnIntake]
    reviewed: list[Reviewed]
    settled: list[Settled]
    last_planned: list[LastPlanned]
    moved: list[Lived]
    first_shots: list[FirstShot]
    reviewed_today: list[ReviewDone]
    groups: list[GroupHead]
    silent: list[Silent]


STATEMENTS: dict[str, Statement[Any]] = {
    # Every running assignment by its newest plan.
    "running": Statement(
        Running,
        """
        select
            a.id, a.client_id, a.group_id, a.program_id, v.title, a.start_date,
            (v.document->>'weeks')::int as weeks,
            v.document->>'mode' = 'earned' as earned,
            coalesce(v.document->'review', '{}') as review,
            p.number as plan, jsonb_array_length(p.steps) as steps, p.anchor, p.times
        from assignments a
        join lateral (select * from plans n where n.assignment_id = a.id order by n.number desc limit 1) p on true
        join program_versions v on v.program_id = p.program_id and v.version = p.program_version
        where a.ended_at is null
        order by a.created_at""",
    ),
    # Every session of the window, planned or not.
    "sessions": session_rows("{0}.practice_id = current_practice() and {0}.day between %(since)s and %(until)s"),
    "anchors": Statement(
        Anchor,
        """
        select p.assignment_id, p.number as plan, p.anchor
        from plans p
        join assignments a on a.id = p.assignment_id
        where a.ended_at is null""",
    ),
    "soreness": Statement(
        Soreness,
        """
        select distinct on (client_id, day) client_id, day, soreness, places
        from check_ins
        where practice_id = current_practice() and day >= %(lately)s
        order by client_id, day, said_at desc, received_at desc""",
    ),
    # What hurt in the window, whatever the coach has decided since.
    "hurts": Statement(
        Hurt,
        f"""
        select {HURT}
        from practice_logs l
        join practice_log_lines n on n.log_id = l.id and n.outcome = 'hurt'
        where l.practice_id = current_practice() and l.day >= %(since)s and {STANDS.format("l")}
        order by l.day""",
    ),
    # What waits for the coach, however long ago it hurt.
    "stopped": Statement(
        Hurt,
        f"""
        select {HURT.replace("n.exercise_id", "s.exercise_id")}
        from stopped_exercises s
        join practice_logs l on l.id = s.log_id
        left join lateral (
            select * from practice_log_lines n
            where n.log_id = s.log_id and n.exercise_id = s.exercise_id and n.outcome = 'hurt' limit 1
        ) n on true
        where s.cleared_at is null
        order by s.stopped_at desc""",
    ),
    # Every answer to a caution, clearance and consent.
    "facts": Statement(
        Fact,
        """
        select client_id, id, seq, kind, key, value, at, author, source
        from facts f
        where practice_id = current_practice() and kind in ('caution', 'clearance', 'consent')
        order by seq""",
    ),
    "taken": Statement(Taken, f"select s.client_id, s.taken_on as day from sittings s where {TAKEN} order by s.taken_on"),
    "pauses": Statement(Paused, "select client_id, first_day as first, last_day as last from pauses order by first_day"),
    "unread": Statement(
        Unread,
        """
        select client_id, count(*)::int as messages, max(received_at) as newest
        from messages
        where not by_coach and read_at is null
        group by client_id""",
    ),
    "own_intakes": Statement(OwnIntake, "select client_id from self_intakes where submitted_at is not null and reviewed_at is null"),
    "reviewed": Statement(
        Reviewed,
        """
        select distinct on (r.assignment_id) r.assignment_id, r.client_id, r.first_day, r.last_day, r.evidence, r.made_at
        from reviews r
        order by r.assignment_id, r.first_day desc, r.made_at desc""",
    ),
    "settled": Statement(Settled, "select client_id, kind, key, until from settled_alarms"),
    # Of every client whose programs run, or ended lately.
    "last_planned": Statement(
        LastPlanned,
        """
        select a.client_id, max(d.day) as day
        from assignments a
        cross join lateral (
            select day from planned_days p
            where p.assignment_id = a.id
            order by p.day desc, p.part desc limit 1
        ) d
        where a.ended_at is null or a.ended_at > %(ended_since)s
        group by a.client_id""",
    ),
    # Of clients who moved to another zone lately.
    "moved": Statement(
        Lived,
        """
        select client_id, since, time_zone
        from stays s
        where s.client_id in (
            select n.client_id from stays n group by n.client_id having count(*) > 1 and max(n.since) > %(moved)s
        )
        order by client_id, since""",
    ),
    "first_shots": Statement(
        FirstShot,
        """
        select distinct on (client_id) client_id, id, taken_at
        from photographs
        where taken_at is not null
        order by client_id, taken_at""",
    ),
    "reviewed_today": Statement(
        ReviewDone,
        """
        select client_id, made_at
        from reviews
        where practice_id = current_practice() and made_at >= %(day)s
        order by made_at""",
    ),
    "groups": Statement(GroupHead, "select id, name, made_at from groups order by made_at desc"),
    # Materialized, so that whoever is silent is found once and not anew for every planned day: it took a minute for 300 clients.
    "silent": Statement(
        Silent,
        f"""
        with silent as materialized (
            select c.id
            from clients c
            where c.practice_id = current_practice() and not exists (
                select from practice_logs l
                where l.client_id = c.id and l.day >= %(since)s and l.done_s > 0 and {STANDS.format("l")}
            )
        ),
        last as materialized (
            select s.id, (
                select l.day from practice_logs l
                where l.client_id = s.id and l.done_s > 0 and {STANDS.format("l")}
                order by l.day desc limit 1
            ) as day
            from silent s
        )
        select distinct p.client_id, p.day, last.day as practised
        from last
        cross join lateral (
            select d.client_id, d.day from planned_days d
            where d.client_id = last.id and d.day < %(since)s and d.day > coalesce(last.day, '-infinity') offset 0
        ) p
        order by p.client_id, p.day""",
    ),
}
assert list(STATEMENTS) == [f.name for f in fields(Window)]

LATELY_DAYS = 16
"""How far back check-ins are read: the week that is reviewed, and the one that has begun."""


def window_values(now: datetime, days: int) -> dict[str, Any]:
    """The values of ``STATEMENTS`` for the last ``days`` days and the week to come."""
    past = now - timedelta(days=days)
    return {
        "since": now.date() - timedelta(days=days + 1),
        "until": now.date() + timedelta(days=7),
        "moved": past,
        "ended_since": past,
        "lately": now.date() - timedelta(days=LATELY_DAYS),
        "day": now - timedelta(hours=14),
    }


def read(conn: Conn, values: dict[str, Any]) -> Window:
    """Read the window of days that ``window_values`` names."""
    with conn.pipeline():  # all of them under way before the first is fetched: one round trip
        cursors = {name: statement.run(conn, values) for name, statement in STATEMENTS.items()}
        return Window(**{name: cursor.fetchall() for name, cursor in cursors.items()})


def read_some(conn: Conn, names: Iterable[str], values: dict[str, Any]) -> list[list[Any]]:
    """The rows of some statements of the window, in their order, in one round trip."""
    with conn.pipeline():
        cursors = [STATEMENTS[name].run(conn, values) for name in names]
        return [cursor.fetchall() for cursor in cursors]


EVER_PRACTISED = Statement(
    EverPractised,
    f"""
    select a.client_id, max(l.day) as last
    from assignments a
    left join practice_logs l on l.assignment_id = a.id and {STANDS.format("l")}
    group by a.client_id""",
)


def settle(conn: Conn, practice_id: UUID, client_id: UUID, *, kind: str, key: str, until: date | None, by: UUID) -> None:
    """Put an alarm aside as seen, or off to a day. What was put aside as seen stays so."""
    conn.execute(
        """
        insert into settled_alarms (practice_id, client_id, kind, key, until, settled_by)
        values (%(practice)s, %(client)s, %(kind)s, %(key)s, %(until)s, %(by)s)
        on conflict (client_id, kind, key) do update
            set until = excluded.until, settled_by = excluded.settled_by, settled_at = now()
            where settled_alarms.until is not null""",
        {"practice": practice_id, "client": client_id, "kind": kind, "key": key, "until": until, "by": by},
    )


def unsettle(conn: Conn, client_id: UUID, *, kind: str, key: str) -> None:
    """Let an alarm speak again."""
    conn.execute("delete from settled_alarms where client_id = %s and kind = %s and key = %s", (client_id, kind, key))
