"""Clients with a past, for tests: a program that began some days ago, and what was practised of it."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from uuid import UUID, uuid4

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.sessions.crediting import Stretch
from dimbo.core.sessions.session_report import ItemReport, PartReport, Report
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.work.plans.assigning import Wish, assign
from dimbo.work.practice import answering, checking_in
from dimbo.work.practice.client_sessions import compile_session, parts_on, standing
from dimbo.work.practice.days import begin_day
from dimbo.work.practice.handing_in import hand_in

from ..answered import answer_all
from ..midday import MIDDAY

RISING = ("1×5 h3", "1×6 h3", "1×7 h3", "1×8 h3", "1×10 h3", "1×12 h3")
LINES = (("settle-breath", "prepare", ("2 in 4 out 6",) * 6), ("oval-lift", "work", RISING))


class Past:
    """A client whose program of six weeks began ``days_ago`` days ago, practised every day of the week unless told."""

    def __init__(self, db, practice, coach, name="Edda Past", *, days_ago=9, lines=LINES, sessions=7, rows=None, **document):
        self.db, self.practice, self.coach_page = db, practice, coach
        self.coach = Person(
            id=practice.coach_id, practice_id=practice.id, role="coach", client_id=None, name="Coach of harbour", practice_name="harbour"
        )
        with db.practice(practice.id) as conn:
            self.id: UUID = clients.create(
                conn, practice.id, name, birth_year=1970, time_zone=MIDDAY, minutes=30, concerns=[], goals="", coach_id=practice.coach_id
            )
        answer_all(db, self.coach, self.id)
        self.person = Person(
            id=practice.coach_id, practice_id=practice.id, role="client", client_id=self.id, name=name, practice_name="harbour"
        )
        self.today = practice_day(datetime.now(UTC), zone(MIDDAY))
        made = coach.post(f"/api/clients/{self.id}/programs", json={"title": "Lift", "weeks": 6, "source": "empty"}).json()["id"]
        named = {n: f"r{n}" for n in range(len(lines))} | (rows or {})
        rows = [{"id": named[n], "exercise": e, "stage": stage, "cells": list(cells)} for n, (e, stage, cells) in enumerate(lines)]
        often = [sessions] * 6 if isinstance(sessions, int) else sessions
        body = coach.get(f"/api/programs/{made}").json()["document"] | {"lines": rows, "sessions": often, "minutes": None} | document
        saved = coach.put(f"/api/programs/{made}", json={"base_revision": 1, "title": "Lift", "document": body})
        assert saved.status_code == 200, saved.text
        self.program_id = UUID(made)
        self.start = self.today - timedelta(days=days_ago)
        self.assignment = assign(db, self.coach, self.program_id, Wish(start=self.start), datetime.now(UTC) - timedelta(days=days_ago))

    def day(self, days_ago: int) -> date:
        return self.today - timedelta(days=days_ago)

    def planned(self, days_ago: int):
        """The compiled session of a day; None on a rest day."""
        with self.db.practice(self.practice.id) as conn:
            at = standing(conn, self.practice.id, clients.one(conn, self.id), datetime.now(UTC))
            found = parts_on(conn, at, self.day(days_ago), self.day(days_ago))
            return compile_session(at, next(iter(found.values()))) if found else None

    def items_of(self, days_ago: int):
        """The exercises of a day's session as the phone plays them."""
        return [o.item for o in self.planned(days_ago).items]

    def open_days(self):
        """The days ahead as the client's phone gets them, by day: exercises with their doses."""
        answering.nothing_changed(self.db, self.person, uuid4(), datetime.now(UTC))
        view = begin_day(self.db, self.person, datetime.now(UTC))
        return {k: [(o.item.card.id, o.item.dose) for o in s.items] for k, s in view.sessions.items()}

    def practise(
        self, *days_ago: int, share=1.0, again=0.0, effort=5, hurt: str | None = None, level=4, replaces=None, hour=9
    ) -> list[UUID]:
        """Practise some days: a share of the session, ``again`` so much of it once more, and one exercise that hurt."""
        return [self._practise(n, share, again, effort, hurt, level, replaces, hour) for n in days_ago]

    def _practise(self, days_ago, share, again, effort, hurt, level, replaces, hour):
        session = self.planned(days_ago)
        begun = datetime.combine(self.day(days_ago), time(hour), zone(MIDDAY))
        spans = [(0.0, session.seconds * share)] + ([(0.0, session.seconds * again)] if again else [])
        stretches, now = [], begun
        for a, b in spans:
            stretches.append(Stretch(round(a, 1), round(b, 1), now))
            now += timedelta(seconds=b - a + 3)
        parts = [
            PartReport(assignment_id=p.assignment.id, plan=p.planned.plan, week=p.planned.week, place=p.planned.place, back=p.planned.back)
            for p in session.parts
        ]
        items = [
            ItemReport(
                assignment_id=o.owner,
                line_id=o.item.line.id,
                hurt=o.item.card.id == hurt,
                pain_side="left" if o.item.card.id == hurt else None,
                pain_level=level,
                pain_where="jaw joint",
            )
            if o.item.card.id == hurt
            else ItemReport(assignment_id=o.owner, line_id=o.item.line.id)
            for o in session.items
        ]
        report = Report(
            id=uuid4(),
            day=self.day(days_ago),
            part=session.part,
            source="player",
            parts=parts,
            items=items,
            stretches=stretches,
            started_at=begun,
            ended_at=now,
            sent_at=now,
            effort=effort,
            form="yes",
            note="",
            replaces=replaces,
        )
        assert hand_in(self.db, self.person, report, max(now + timedelta(seconds=20), begun)).new
        return report.id

    def sore(self, days_ago: int, level: int, *muscles: str) -> None:
        at = datetime.combine(self.day(days_ago), time(8), zone(MIDDAY))
        said = checking_in.CheckInSaid(
            id=uuid4(), soreness=level, places=[checking_in.Sore(m, "left") for m in muscles], said_at=at, sent_at=at
        )
        checking_in.check_in(self.db, self.person, said, at)

    def review(self, **query):
        return self.coach_page.get(f"/api/assignments/{self.assignment}/review", params=query).json()

    def decide(self, **decision):
        seen = self.review()
        body = {"id": str(uuid4()), "first_day": seen["first_day"]} | decision
        return self.coach_page.post(f"/api/assignments/{self.assignment}/review", json=body)

    def doses(self, exercise="oval-lift"):
        """The dose line of an exercise on each planned day, by day, as its plan has it."""
        from dimbo.core.exercises.dose_line import print_line
        from dimbo.store.plans import assignments
        from dimbo.work.exercises.shelf import cards_of
        from dimbo.work.plans.plan_calendar import items_of, program_of

        out = {}
        with self.db.practice(self.practice.id) as conn:
            plans = {p.plan: p for p in assignments.plans(conn, self.assignment)}
            for p in assignments.sessions(conn, self.assignment):
                plan = plans[p.plan]
                for item in items_of(plan, program_of(plan, cards_of(conn, self.practice.id, plan)), p):
                    if item.card.id == exercise:
                        out[p.day] = print_line(item.dose, item.card.style)
        return out

    def at_desk(self):
        return next(c for c in self.coach_page.get("/api/desk").json()["clients"] if c["id"] == str(self.id))

    def course(self):
        return self.coach_page.get(f"/api/clients/{self.id}").json()
