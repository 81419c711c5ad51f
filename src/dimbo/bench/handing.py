"""A session compiled, against its bare sums; and the hand-in of 500 queued logs by 100 phones at once, against bare inserts."""

from __future__ import annotations

import http.client
import json
import secrets
import statistics
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

import psycopg

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.design.weeks import items_of_day
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.program import Settings
from dimbo.core.sessions.timeline import timeline
from dimbo.store.database import Database
from dimbo.store.people import accounts, clients, sign_ins
from dimbo.store.people.accounts import Person
from dimbo.store.practice import practice_logs
from dimbo.store.practice.practice_logs import Log, LogLine
from dimbo.work.plans import assigning
from dimbo.work.plans.assigning import Wish
from dimbo.work.practice.client_sessions import compile_session, parts_on, standing
from dimbo.work.programs import drafting
from dimbo.work.shared.tokens import token_hash

from .installation import Installation
from .sheet import bench_program

EXERCISES = 20
PHONES, LOGS = 100, 5
AT_ONCE = 10
"""Connections of the server's pool; the bare inserts use as many."""
_each_ms: list[float] = []
_bare_ms: list[float] = []


def session() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """A session of twenty exercises: its items and every cue; adding up the seconds of the same cells is the baseline."""
    settings, whole = Settings(), bench_program()
    program = replace(whole, lines=whole.lines[:: len(whole.lines) // EXERCISES])
    week = 6
    flat = [(p.reps, p.lead.amount, p.hold.amount, p.release.amount) for n in program.lines for p in parse(n.cells[5], n.card.style).phases]

    def sums() -> float:
        return sum(reps * (lead + hold + release) for reps, lead, hold, release in flat)

    return lambda: timeline(items_of_day(program, settings, week, place=0), settings), sums, lambda: None


class _Phones:
    """A hundred clients with a program, each with five sessions that were practised without a connection."""

    def __init__(self, site: Installation) -> None:
        self.site = site
        self.owner = psycopg.connect(site.owner_url, autocommit=True)
        row = self.owner.execute("select id, practice_id, name from accounts where role = 'coach' limit 1").fetchone()
        assert row
        self.coach = Person(id=row[0], practice_id=row[1], role="coach", client_id=None, name=row[2], practice_name="bench")
        self.db = Database(site.url, most=AT_ONCE)
        self.db.open()
        now = datetime.now(UTC)
        self.phones = [self._phone(n, now) for n in range(PHONES)]

    def _phone(self, number: int, now: datetime) -> tuple[str, UUID, list[dict[str, Any]]]:
        """A signed-in client: cookie, id, and the queue of their phone."""
        practice_id = self.coach.practice_id
        with self.db.practice(practice_id) as conn:
            name = f"Phone {number}"
            client_id = clients.create(conn, practice_id, name, birth_year=1980, time_zone="UTC", minutes=20, concerns=[], goals="")
            account = accounts.create(
                conn, practice_id, "client", client_id, name, email=f"phone{number}@bench.example", password_hash="none"
            )
        program = drafting.create(self.db, self.coach, client_id, now, drafting.Wish(template="lift-and-level"))
        today = practice_day(now, zone("UTC"))
        assigning.assign(self.db, self.coach, program, Wish(start=today - timedelta(days=30)), now)
        token = secrets.token_urlsafe(16)
        with self.db.anyone() as conn:
            sign_ins.start(conn, account, token_hash(token), now + timedelta(days=1), device="bench")
        with self.db.practice(practice_id, client_id) as conn:
            at = standing(conn, practice_id, clients.one(conn, client_id), now)
            planned = list(parts_on(conn, at, today - timedelta(days=29), last=today - timedelta(days=1)).items())[-LOGS:]
        queue = []
        for (day, part), parts in planned:
            found = compile_session(at, parts)
            begun = datetime.combine(day, datetime.min.time(), UTC) + timedelta(hours=8)
            ended = begun + timedelta(seconds=found.seconds)
            queue.append(
                {
                    "kind": "log",
                    "id": str(uuid4()),
                    "day": str(day),
                    "part": part,
                    "source": "player",
                    "parts": [
                        {"assignment_id": str(p.assignment.id), "plan": 1, "week": p.planned.week, "place": p.planned.place} for p in parts
                    ],
                    "items": [{"assignment_id": str(o.owner), "line_id": o.item.line.id} for o in found.items],
                    "stretches": [{"from_s": 0, "to_s": found.seconds, "at": begun.isoformat()}],
                    "started_at": begun.isoformat(),
                    "ended_at": ended.isoformat(),
                    "effort": 5,
                }
            )
        return f"dimbo_sign_in={token}", client_id, queue

    def forget(self) -> None:
        self.owner.execute("truncate practice_logs cascade")

    def kept(self) -> int:
        row = self.owner.execute("select count(*) from practice_logs").fetchone()
        return int(row[0]) if row else 0

    def deliver(self, phone: tuple[str, UUID, list[dict[str, Any]]]) -> None:
        """One phone comes back: a connection, and its queue at once."""
        cookie, _, queue = phone
        connection = http.client.HTTPConnection("127.0.0.1", self.site.port, timeout=120)
        body = json.dumps({"sent_at": datetime.now(UTC).isoformat(), "entries": queue})
        began = time.perf_counter()
        connection.request("POST", "/api/hand-in", body, {"x-dimbo": "1", "content-type": "application/json", "cookie": cookie})
        answer = connection.getresponse()
        told = answer.read()
        assert answer.status == 200, told
        results = json.loads(told)["results"]
        _each_ms.append(1000 * (time.perf_counter() - began) / len(queue))
        assert [r["state"] for r in results] == ["kept"] * len(queue), results
        connection.close()

    def all_at_once(self) -> None:
        self.forget()
        with ThreadPoolExecutor(PHONES) as pool:
            list(pool.map(self.deliver, self.phones))
        assert self.kept() == PHONES * LOGS, "a log was lost or came twice"

    def read_back(self) -> list[tuple[UUID, Log, list[LogLine]]]:
        """The same logs as rows, to insert without anything else."""
        out = []
        with self.db.of(self.coach) as conn:
            for _, client_id, queue in self.phones:
                for entry in queue:
                    found = practice_logs.of_report(conn, client_id, session_id=UUID(entry["id"]))[0]
                    rows = practice_logs.lines_of(conn, [found.id])
                    sides = practice_logs.sides(conn, [found.id])
                    lines = [
                        LogLine(
                            place=n.place,
                            exercise_id=n.exercise_id,
                            dose=n.dose,
                            planned_s=n.planned_s,
                            done_s=n.done_s,
                            outcome=n.outcome,
                            sides=sides.get((found.id, n.place), ()),
                        )
                        for n in rows
                    ]
                    out.append((client_id, found, lines))
        return out

    def insert(self, rows: Sequence[tuple[UUID, Log, list[LogLine]]]) -> None:
        def one(row: tuple[UUID, Log, list[LogLine]]) -> None:
            began = time.perf_counter()
            with self.db.practice(self.coach.practice_id, row[0]) as conn:
                practice_logs.add(conn, self.coach.practice_id, *row)
            _bare_ms.append(1000 * (time.perf_counter() - began))

        self.forget()
        with ThreadPoolExecutor(AT_ONCE) as pool:
            list(pool.map(one, rows))

    def close(self) -> None:
        self.db.close()
        self.owner.close()
        self.site.close()


def hand_in() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """Every phone comes back at the same moment; each round asserts that all 500 logs are there, once."""
    phones = _Phones(Installation())
    try:
        phones.all_at_once()
        rows = phones.read_back()
    except BaseException:
        phones.close()
        raise
    _each_ms.clear()
    _bare_ms.clear()
    return phones.all_at_once, lambda: phones.insert(rows), phones.close


def told() -> str:
    """What the last rounds of ``hand_in`` say besides their time: a log of a phone's delivery against a bare insert."""
    p95 = [statistics.quantiles(times, n=20)[-1] for times in (_each_ms, _bare_ms)]
    return (
        f"{PHONES * LOGS} of {PHONES * LOGS} logs kept in every round, none twice; a log, p95: {p95[0]:.1f} ms of a phone's wait, "
        f"{p95[0] / p95[1]:.1f} times a bare insert ({p95[1]:.1f} ms)"
    )
