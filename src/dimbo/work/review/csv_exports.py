"""Logs, adherence and reviews as open tables, with a dictionary that says what every column means."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date, datetime
from typing import Any
from uuid import UUID

from dimbo.core.calendar.schedule import Pause, practice_day, zone
from dimbo.core.calendar.time_zones import Stay, off_days
from dimbo.core.intake.import_table import formula_safe
from dimbo.core.review.adherence import days_of
from dimbo.core.review.weekly import overridden
from dimbo.store.database import Conn, Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.review import log_tables, reviews
from dimbo.work.intake.looking import noted
from dimbo.work.shared.errors import Refused, Why

from .grouping import by_client

LOGS: Mapping[str, str] = {
    "client": "name of the client",
    "day": "practice day in the client's own time zone, which closes at 03:00, year-month-day",
    "part": "morning or evening session",
    "log": "id of the log; a session of two programs has one for each",
    "source": "player, or manual when it was told by hand",
    "stands": "true, or false when another log stands in its place",
    "replaces": "id of the log that this one corrects; empty",
    "started_at": "start, UTC",
    "ended_at": "end, UTC",
    "program": "title of the program",
    "plan": "number of the plan of the assignment by which it was practised",
    "effort": "effort 0 to 10 as told; empty when it was not",
    "form": "felt in the right place: yes, partly, no; empty when it was not told",
    "place": "place of the exercise in the session, from 0",
    "exercise": "id of the exercise",
    "dose": "its dose line",
    "outcome": "done, partly, skipped, hurt",
    "planned_s": "whole time of the exercise as planned, s",
    "done_s": "whole time as practised, s",
    "side": "the client's own side, right or left; empty when no side is worked",
    "planned_sets": "sets planned on that side",
    "done_sets": "sets done on that side",
    "planned_reps": "repetitions planned on that side",
    "done_reps": "repetitions done on that side",
    "planned_hold_s": "seconds of holding planned on that side",
    "done_hold_s": "seconds of holding done on that side",
    "planned_work_s": "contraction or hands-on time planned on that side, s",
    "done_work_s": "contraction or hands-on time done on that side, s",
    "eased": "true when the easier version was done",
    "skip_reason": "why it was left out, as told",
    "pain_side": "where it hurt: right, left, both; empty",
    "pain_level": "pain 0 to 10; empty",
    "pain_where": "where it hurt, in words",
    "pain_since": "since when it hurts, in words",
    "note": "what the client wrote about the session",
}
ADHERENCE: Mapping[str, str] = {
    "client": "name of the client",
    "day": "practice day in the client's own time zone, year-month-day",
    "state": "done, partly, skipped, open (today, still due), paused, extra (practised without a plan)",
    "share": "share of the planned exercises that was done, each side of each at most whole, weighed by time, 0 to 1",
    "counts": "true when the day counts in adherence; paused and extra days and today before it is done do not",
    "planned_load_s": "contraction planned in the sessions that were practised, both sides, s",
    "over_s": "contraction above plan, exercise by exercise, and hands-on time beyond a daily ceiling, s",
    "effort": "highest effort of the day as told; empty",
}
REVIEWS: Mapping[str, str] = {
    "client": "name of the client",
    "first_day": "first day of the reviewed week",
    "last_day": "its last day",
    "program_week": "week of the program whose doses it had",
    "sessions_done": "planned days done, partly done ones by their share, as they stood at the review",
    "sessions_planned": "planned days that counted",
    "effort": "median effort 0 to 10; empty when none was told",
    "soreness": "highest next-day soreness 0 to 10; empty when none was told",
    "overdone_days": "days overdone by more than the threshold",
    "pain": "pain that was told, in words",
    "suggested": "what the rules said of the whole: advance, hold, ease back, stop",
    "rule": "id of the rule that decided",
    "decided": "what the coach decided for most exercises",
    "decided_otherwise": "exercises in which the coach decided otherwise, with suggestion and decision",
    "reason": "why, in the coach's words",
    "words": "what the coach wrote to the client",
    "holds_from": "first day of the new doses; empty when none changed",
    "by": "the coach",
    "at": "when it was decided, UTC",
}
TABLES: Mapping[str, Mapping[str, str]] = {"logs": LOGS, "adherence": ADHERENCE, "reviews": REVIEWS}
"""Every table that can be carried out: its columns with what they mean."""
_SUBJECTS: Mapping[str, str] = {"logs": "what was practised", "adherence": "how far it was kept to", "reviews": "what was reviewed"}


def _cell(value: object) -> object:
    """A value as it is written; text never begins like a formula of a spreadsheet."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, datetime | date):
        return value.isoformat()
    return formula_safe(value) if isinstance(value, str) else value


def _csv(columns: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(columns)
    writer.writerows([_cell(v) for v in row] for row in rows)
    return out.getvalue()


def dictionary() -> str:
    """Every column of every table, as a table itself."""
    return _csv(("table", "column", "meaning"), ((t, c, m) for t, columns in TABLES.items() for c, m in columns.items()))


def table(db: Database, coach: Person, name: str, client_id: UUID | None, first: date, last: date, now: datetime) -> str:
    """A table of one client or of all, over a span of days; that it was taken out stands in each client's trail. Raises NotThere,
    Refused."""
    if name not in TABLES:
        raise Refused(Why.UNKNOWN, f"There is no table “{name}”. Choose from {', '.join(TABLES)}.", "table")
    if last < first:
        raise Refused(Why.CLASH, "The last day lies before the first one.", "last")
    with db.of(coach) as conn:
        for client in [clients.one(conn, client_id)] if client_id else clients.every(conn):
            noted(conn, coach, client.id, what="took out", subject=f"{_SUBJECTS[name]}, as a table", now=now, about=name)
        return table_in(conn, name, client_id, first, last=last, now=now)


def table_in(conn: Conn, name: str, client_id: UUID | None, first: date, *, last: date, now: datetime) -> str:
    """``table`` within a transaction, for whoever takes out what is their own."""
    return _csv(tuple(TABLES[name]), _ROWS[name](conn, client_id, first, last, now))


def _logs(conn: Conn, client_id: UUID | None, first: date, last: date, now: datetime) -> Iterable[Sequence[Any]]:
    return log_tables.logs(conn, client_id, first, last=last)


def _adherence(conn: Conn, client_id: UUID | None, first: date, last: date, now: datetime) -> Iterable[Sequence[Any]]:
    found = log_tables.days(conn, client_id, first=first, last=last)
    sessions, pauses, stays = by_client(found.sessions), by_client(found.pauses), by_client(found.stays)
    for client in [clients.one(conn, client_id)] if client_id else clients.every(conn):
        today = practice_day(now, zone(client.time_zone))
        rows = [r for r in sessions[client.id] if r.day <= today]
        off = off_days(
            [Pause(p.first, last=p.last) for p in pauses[client.id]], [Stay(x.since, zone(x.time_zone)) for x in stays[client.id]]
        )
        efforts: dict[date, int] = {}
        for r in rows:
            if r.effort is not None:
                efforts[r.day] = max(r.effort, efforts.get(r.day, 0))
        for d in days_of(rows, today, off):
            yield client.name, d.day, d.state.value, round(d.share, 3), d.counts, d.load_s, round(d.over_s, 1), efforts.get(d.day)


def _reviews(conn: Conn, client_id: UUID | None, first: date, last: date, now: datetime) -> Iterable[Sequence[Any]]:
    people = {c.id: c.name for c in clients.every(conn)}
    coaches = accounts.coaches(conn)
    for r in reviews.every(conn, client_id, first, until=last):
        lines = r.suggested.get("lines", {})
        other = overridden({k: v["verdict"] for k, v in lines.items()}, decided=r.decided.get("lines", {}))
        told = "; ".join(f"{lines[k]['name']}: {lines[k]['verdict']} became {r.decided['lines'][k]}" for k in other)
        e = r.evidence
        yield (
            people[r.client_id],
            r.first_day,
            r.last_day,
            r.week,
            e.get("done"),
            e.get("planned"),
            e.get("effort"),
            e.get("soreness"),
            e.get("overdone"),
            "; ".join(e.get("pain", [])),
            r.suggested.get("whole"),
            r.suggested.get("rule"),
            r.decided.get("whole"),
            told,
            r.reason,
            r.words,
            r.holds_from,
            coaches.get(r.made_by, ""),
            r.made_at,
        )


_ROWS: Mapping[str, Callable[[Conn, UUID | None, date, date, datetime], Iterable[Sequence[Any]]]] = {
    "logs": _logs,
    "adherence": _adherence,
    "reviews": _reviews,
}
