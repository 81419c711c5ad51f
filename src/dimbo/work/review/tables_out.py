"""Logs, adherence and reviews as open tables, with a dictionary that says what every column means."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.core.calendar.schedule import Pause, practice_day, zone
from dimbo.core.calendar.time_zones import Stay, off_days
from dimbo.core.review.adherence import days_of
from dimbo.core.review.weekly import overridden
from dimbo.store.database import Conn, Database
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.review import log_tables, reviews
from dimbo.work.intake.looking import noted
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tables import Cell, Dialect, Table, as_csv, as_workbook

from .grouping import by_client

LOGS: Mapping[str, str] = {
    "client_id": "id of the client, the same in every table",
    "client": "name of the client",
    "day": "practice day in the client's own time zone, which closes at 03:00, year-month-day",
    "part": "morning or evening session",
    "log": "id of the log; a session of two programs has one for each",
    "source": "player, or manual when it was told by hand",
    "stands": "true, or false when another log stands in its place",
    "replaces": "id of the log that this one corrects; empty",
    "started_at": "start, UTC",
    "ended_at": "end, UTC",
    "assignment": "id of the program as it was given to the client; the same in logs and reviews",
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
    "client_id": "id of the client, the same in every table",
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
    "client_id": "id of the client, the same in every table",
    "client": "name of the client",
    "assignment": "id of the program as it was given to the client; the same in logs and reviews",
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


def dictionary() -> Table:
    """Every column of every table, as a table itself."""
    rows = [(t, c, m) for t, columns in TABLES.items() for c, m in columns.items()]
    return Table(name="dictionary", columns=("table", "column", "meaning"), rows=rows)


@dataclass(frozen=True, kw_only=True)
class Span:
    """Which rows: of one client or of all, over a span of days."""

    client_id: UUID | None = None
    first: date = date.min
    last: date = date.max


def as_csv_file(db: Database, coach: Person, name: str, span: Span, now: datetime, dialect: Dialect) -> bytes:
    """A table; that it was taken out stands in each client's trail. Raises NotThere, Refused."""
    if name not in TABLES:
        raise Refused(Why.UNKNOWN, f"There is no table “{name}”. Choose from {', '.join(TABLES)}.", "table")
    with db.of(coach) as conn:
        _note(conn, coach, (name,), span=span, now=now)
        return as_csv(table_in(conn, name, span, now), dialect)


def workbook(db: Database, coach: Person, span: Span, now: datetime) -> bytes:
    """Every table as a sheet of one workbook, with the dictionary; noted as ``as_csv_file`` is. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        _note(conn, coach, tuple(TABLES), span=span, now=now)
        return as_workbook([*(table_in(conn, name, span, now) for name in TABLES), dictionary()])


def _note(conn: Conn, coach: Person, names: Sequence[str], *, span: Span, now: datetime) -> None:
    if span.last < span.first:
        raise Refused(Why.CLASH, "The last day lies before the first one.", "last")
    for client in _people(conn, span):
        for name in names:
            noted(conn, coach, client.id, what="took out", subject=f"{_SUBJECTS[name]}, as a table", now=now, about=name)


def _people(conn: Conn, span: Span) -> list[Client]:
    return [clients.one(conn, span.client_id)] if span.client_id else clients.every(conn)


def table_in(conn: Conn, name: str, span: Span, now: datetime) -> Table:
    """One of ``TABLES`` within a transaction, for whoever takes out what is their own; its rows are read while it is written."""
    return Table(name=name, columns=tuple(TABLES[name]), rows=_ROWS[name](conn, span, now))


def _logs(conn: Conn, span: Span, now: datetime) -> Iterable[Sequence[Cell]]:
    return log_tables.logs(conn, span.client_id, span.first, last=span.last)


def _adherence(conn: Conn, span: Span, now: datetime) -> Iterable[Sequence[Cell]]:
    found = log_tables.days(conn, span.client_id, first=span.first, last=span.last)
    sessions, pauses, stays = by_client(found.sessions), by_client(found.pauses), by_client(found.stays)
    for client in _people(conn, span):
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
            yield client.id, client.name, d.day, d.state.value, d.share, d.counts, d.load_s, round(d.over_s, 1), efforts.get(d.day)


def _reviews(conn: Conn, span: Span, now: datetime) -> Iterable[Sequence[Cell]]:
    people = {c.id: c.name for c in clients.every(conn)}
    coaches = accounts.coaches(conn)
    for r in reviews.every(conn, span.client_id, span.first, until=span.last):
        lines = r.suggested.get("lines", {})
        other = overridden({k: v["verdict"] for k, v in lines.items()}, decided=r.decided.get("lines", {}))
        told = "; ".join(f"{lines[k]['name']}: {lines[k]['verdict']} became {r.decided['lines'][k]}" for k in other)
        e = r.evidence
        yield (
            r.client_id,
            people[r.client_id],
            r.assignment_id,
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


_ROWS: Mapping[str, Callable[[Conn, Span, datetime], Iterable[Sequence[Cell]]]] = {
    "logs": _logs,
    "adherence": _adherence,
    "reviews": _reviews,
}
