"""Random roads through a practice, for tests: one client, a clock that can be moved, and every page asked after every act."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from unittest.mock import patch
from uuid import uuid4
from zoneinfo import ZoneInfo

from fastapi.testclient import TestClient

from dimbo.store.people import sign_ins
from dimbo.web.context import SIGN_IN, Context
from dimbo.work.shared.tokens import token_hash

from .conftest import make_practice
from .practising import log

ZONES = ("Pacific/Niue", "Pacific/Kiritimati", "Asia/Kathmandu", "America/St_Johns", "Europe/Berlin", "Pacific/Apia", "UTC")
NOON = datetime(2026, 3, 11, 12, tzinfo=UTC)
"""The moment at which every road begins: a Wednesday, some weeks before most clocks are changed."""


@dataclass
class Clock:
    at: datetime = NOON


@contextmanager
def clock_of(start: datetime = NOON) -> Iterator[Clock]:
    """Every request within has the time of this clock."""
    clock = Clock(start)
    with patch.object(Context, "now", property(lambda _: clock.at)):
        yield clock


def signed_in(app, db, account) -> TestClient:
    """A browser whose sign-in does not end while the clock is moved."""
    token = uuid4().hex
    with db.anyone() as conn:
        sign_ins.start(conn, account, token_hash(token), datetime.now(UTC) + timedelta(days=4000), device="test")
    return TestClient(app, headers={"x-dimbo": "1"}, cookies={SIGN_IN: token})


@dataclass
class Road:
    """A client of a practice of their own. Acts answer whatever the server does; ``look`` asks everything and finds no fault."""

    app: object
    db: object
    owner: object
    clock: Clock
    zone: str
    groups: set[str] = field(default_factory=set)
    programs: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.practice = make_practice(self.db, self.owner, f"road {uuid4().hex[:12]}", self.zone)
        self.client_id = self.practice.client_id
        account = self.owner.execute("select id from accounts where client_id = %s", (self.client_id,)).fetchone()[0]
        self.coach = signed_in(self.app, self.db, self.practice.coach_id)
        self.client = signed_in(self.app, self.db, account)

    @property
    def today(self) -> date:
        return (self.clock.at.astimezone(ZoneInfo(self.zone)) - timedelta(hours=3)).date()

    def day(self, offset: int) -> str:
        return str(self.today + timedelta(days=offset))

    def program(self, weeks: int, sessions: float, mode: str, evening: bool) -> str:
        made = self.coach.post(f"/api/clients/{self.client_id}/programs", json={"title": "Road", "weeks": weeks, "source": "empty"})
        program = made.json()["id"]
        found = self.coach.get(f"/api/programs/{program}").json()
        rows = [
            {"id": "r0", "exercise": "settle-breath", "stage": "prepare", "cells": ["2 in 4 out 6"] * weeks},
            {"id": "r1", "exercise": "oval-lift", "stage": "work", "cells": ["1×6 h4"] * weeks} | ({"when": "evening"} if evening else {}),
        ]
        body = found["document"] | {"lines": rows, "sessions": [sessions] * weeks, "minutes": None, "mode": mode}
        saved = self.coach.put(f"/api/programs/{program}", json={"base_revision": 1, "title": "Road", "document": body})
        assert saved.status_code == 200, saved.text
        self.programs.append(program)
        return program

    def assignments(self, running: bool = True) -> list[str]:
        course = self.coach.get(f"/api/clients/{self.client_id}").json()
        return [a["id"] for a in course["assignments"] if a["running"] is running]

    def assign(self, program: str, start: int, end: int | None, weekdays: list[int], group: bool):
        wish = {"start": self.day(start), "end": None if end is None else self.day(start + end), "weekdays": weekdays}
        if not group:
            return self.coach.post(f"/api/programs/{program}/assignment", json=wish)
        body = {"wish": wish, "clients": [str(self.client_id)], "name": "Together"}
        answer = self.coach.post(f"/api/programs/{program}/group", json=body)
        if answer.status_code < 300:
            self.groups.add(answer.json()["group_id"])
        return answer

    def practise(self, share: float = 1.0, later: bool = False):
        """The client opens the day, and hands in what is due first, or a part of it."""
        days = self.client.post("/api/my-days")
        assert days.status_code == 200, days.text
        view = days.json()
        open_parts = [p for p in view["days"][0]["parts"] if p["session"] and p["done_at"] is None]
        if not open_parts:
            return days
        session = view["sessions"][open_parts[0]["session"]]
        began = self.clock.at - timedelta(seconds=session["seconds"] + 60)
        entry = log(
            {"session": session, "part": open_parts[0], "day": view["days"][0]["day"]},
            (0, session["seconds"] * share),
            started=began,
            effort=5,
        )
        if later:
            self.clock.at += timedelta(days=3)
        return self.client.post("/api/hand-in", json={"sent_at": self.clock.at.isoformat(), "entries": [entry]})

    def asked(self) -> Iterator[tuple[TestClient, str]]:
        """Everything that shows this client: pages of both, and every export."""
        course = self.coach.get(f"/api/clients/{self.client_id}").json()
        yield self.coach, "/api/desk"
        yield self.coach, "/api/clients"
        yield self.coach, f"/api/clients/{self.client_id}"
        for day in {d["day"] for d in course["days"][:: max(1, len(course["days"]) // 3)]} | {self.day(0)}:
            yield self.coach, f"/api/clients/{self.client_id}/weeks/{day}"
        for a in course["assignments"]:
            yield self.coach, f"/api/assignments/{a['id']}/review"
            yield self.coach, f"/api/assignments/{a['id']}/end"
        for group in self.groups:
            yield self.coach, f"/api/groups/{group}"
        yield self.coach, f"/api/clients/{self.client_id}/calendar.ics"
        for table in ("logs", "adherence", "reviews"):
            yield self.coach, f"/api/export/{table}.csv?client={self.client_id}"
        for program in self.programs[-1:]:
            yield self.coach, f"/api/programs/{program}"
            yield self.coach, f"/api/programs/{program}/program.csv"
            yield self.coach, f"/api/programs/{program}/program.json"
            yield self.coach, f"/api/programs/{program}/handout.pdf?week=1"
        yield self.client, "/api/my-days"
        yield self.client, "/api/my-course"
        yield self.client, "/api/my-calendar.ics"
        yield self.client, f"/api/my-logs/{self.day(0)}"

    def look(self) -> dict[str, object]:
        """What every page says now, by address. Fails when one of them cannot be had, or a line of the desk cannot be worked out."""
        found = {}
        for who, path in self.asked():
            answer = who.get(path)
            assert answer.status_code < 500, (path, answer.text[:300])
            found[path] = answer
        desk = found["/api/desk"].json()
        assert not [a for c in desk["clients"] for a in c["alarms"] if a["kind"] == "record"], "a line could not be worked out"
        return found
