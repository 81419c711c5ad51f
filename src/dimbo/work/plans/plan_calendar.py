"""Laying a plan out: which sessions it has on which days, and how long each takes."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from dimbo.core.calendar.schedule import Step, plan_days
from dimbo.core.design.weeks import SessionPlan, items_of_day, week_plans
from dimbo.core.exercises.card import Card
from dimbo.core.programs.program import Program, Settings, When
from dimbo.core.sessions.muscle_load import session_hands_on
from dimbo.core.sessions.timeline import Item
from dimbo.store.plans.assignments import Assignment, NewPlan, PlannedDay
from dimbo.work.programs.documents import ProgramDocument, to_program

LETS_GO_ON = "What hurt goes on one rung lower."
"""Why a plan changed that a coach did not write by hand."""


def program_of(plan: Assignment, cards: Mapping[str, Card]) -> Program:
    """The program that a plan follows, with the cards it was made with."""
    return to_program(plan.title, ProgramDocument.model_validate(plan.document), cards)


def program_part(program: Program, part: str, as_part: str | None) -> When:
    """The program's own part of the day that is practised in ``part``."""
    return program.parts[0] if as_part else When(part)


def lay(program: Program, settings: Settings, plan: NewPlan, number: int) -> list[PlannedDay]:
    """Every session of a plan from its first day on.

    A session's planned seconds are those of its exercises; change-overs are nobody's practice.
    """
    known: dict[tuple[int, int], tuple[SessionPlan, ...]] = {}
    out = []
    for planned in plan_days(plan.anchor, program.sessions, plan.weekdays, [Step(w, back=b) for w, b in plan.steps], plan.end_date):
        if planned.day < plan.from_day:
            continue
        key = planned.week, planned.back
        if key not in known:
            known[key] = week_plans(program, settings, *key)
        for session in known[key]:
            if planned.place in session.on:
                hands_on = session_hands_on(session.items, settings.pace_s)
                out.append(
                    PlannedDay(
                        day=planned.day,
                        week=planned.week,
                        planned_s=round(sum(i.seconds(settings) for i in session.items), 1),
                        contraction_right_s=round(session.contraction.right, 1),
                        contraction_left_s=round(session.contraction.left, 1),
                        part=plan.as_part or session.when.value,
                        place=planned.place,
                        plan=number,
                        back=planned.back,
                        hands_on_s=round(hands_on.right + hands_on.left, 1),
                        session_s=round(session.seconds, 1),
                    )
                )
    return out


def items_of(plan: Assignment, program: Program, planned: PlannedDay) -> tuple[Item, ...]:
    """The exercises of a planned session exactly as they were assigned."""
    part = program_part(program, planned.part, as_part=plan.as_part)
    return items_of_day(program, Settings(**plan.settings), planned.week, place=planned.place, when=part, back=planned.back)


def is_planned(plan: Assignment, program: Program, day: date, week: int, place: int, back: int) -> bool:
    """Whether a plan has, or had, a session of that week and place on a day."""
    days = plan_days(plan.anchor, program.sessions, plan.weekdays, [Step(w, back=b) for w, b in plan.steps], plan.end_date)
    return any(d.day == day and d.week == week and d.place == place and d.back == back and d.day >= plan.from_day for d in days)
