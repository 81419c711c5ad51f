"""What the checks know about a client besides the program: cautions, days, readings, other running programs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from uuid import UUID

from dimbo.core.design.checks.body import SPEAKS_FOR
from dimbo.core.design.weeks import About, Beside, work_out
from dimbo.core.exercises.card import Card
from dimbo.core.programs.daily_ceilings import NOTHING, Spent
from dimbo.core.programs.program import Settings
from dimbo.core.sittings.bias import Bias
from dimbo.store.database import Conn
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.work.exercises.shelf import Shelf, cards_of
from dimbo.work.intake.consenting import consent_of
from dimbo.work.intake.entering import cautions_of, open_intake
from dimbo.work.intake.looking import PRACTISE, may_see
from dimbo.work.measured import bias_of

from .documents import ProgramDocument, to_program

_SPOKEN = sorted({k for names in SPEAKS_FOR.values() for k in names})
"""Readings that speak for a muscle."""


def sides_for(conn: Conn, coach: Person, client: Client, now: datetime) -> dict[str, Bias]:
    """What the newest sitting says of a side, by reading; empty for a coach who may not see the photographs."""
    return bias_of(conn, client, _SPOKEN) if may_see(conn, coach, client, now) else {}


def used_a_day(running: Assignment, cards: Mapping[str, Card]) -> Spent:
    """What a running assignment takes of the daily ceilings at most."""
    program = to_program(running.title, ProgramDocument.model_validate(running.document), cards)
    compiled = work_out(program, Settings(**running.settings))
    most = NOTHING
    for week in range(1, program.weeks + 1):
        most = most.most(compiled.day(week))
    return most


def about(conn: Conn, coach: Person, client_id: UUID | None, shelf: Shelf, now: datetime, program_id: UUID | None = None) -> About:
    """Everything that the checks of a client's program know; without a client only the exercises. Raises NotThere."""
    if client_id is None:
        return About(cards=shelf.offered)
    client = clients.one(conn, client_id)
    others = [a for a in assignments.running_of(conn, client_id) if a.program_id != program_id]
    beside = tuple(Beside(a.title, used_a_day(a, cards_of(conn, coach.practice_id, a))) for a in others)
    agreed = consent_of(conn, client, PRACTISE, now)
    return About(
        cautions=cautions_of(conn, client, now),
        weekdays=tuple(client.days),
        bias=sides_for(conn, coach, client, now),
        beside=beside,
        cards=shelf.offered,
        concerns=open_intake(conn, client_id, now).conclusions.concerns,
        not_agreed="" if agreed.in_force else agreed.sentence,
        no_age=client.birth_year is None,
    )
