"""What the checks know about a client besides the program: cautions, days, readings, other running programs."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import zone
from dimbo.core.design.checks.body import SPEAKS_FOR
from dimbo.core.design.weeks import About, Beside, work_out
from dimbo.core.exercises.card import Card
from dimbo.core.programs.daily_ceilings import NOTHING, Spent
from dimbo.core.programs.program import Settings
from dimbo.core.sittings.comparison import Bias, bias_advice, newly_sided, until_asked
from dimbo.core.sittings.reading_table import READINGS
from dimbo.store.database import Conn
from dimbo.store.intake import facts
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment
from dimbo.store.sittings import photographs, sittings
from dimbo.work.exercises import Shelf, cards_of
from dimbo.work.intake.consenting import PRACTISE, consent_of, may_see
from dimbo.work.intake.entering import cautions_of
from dimbo.work.sittings.measuring import measurement_of

from .documents import ProgramDocument, to_program

_STAMP = """select coalesce(sum(x), 0)::text || '/' || count(*) from (
    select xmin::text::bigint as x from photographs where client_id = %(c)s
    union all select xmin::text::bigint from analyses where client_id = %(c)s
    union all select xmin::text::bigint from point_moves where client_id = %(c)s
    union all select xmin::text::bigint from sittings where client_id = %(c)s) rows"""
"""Changes with every change to what a client's photographs say: each row carries the transaction that wrote it last."""


@dataclass(frozen=True)
class _Told:
    """What the newest sitting says, by reading; and which sides are new since the one before, with the day of the sitting."""

    bias: Mapping[str, Bias]
    new: Mapping[str, Side]
    taken_on: date | None


_told: OrderedDict[UUID, tuple[str, _Told]] = OrderedDict()
_MOST_TOLD = 512


def bias_of(conn: Conn, coach: Person, client: Client, now: datetime) -> Mapping[str, Bias]:
    """What the newest sitting says of a side, by reading; empty without one, or for a coach who may not see it.

    Measuring takes longer than a keystroke may, so the answer is kept until a photograph, point or sitting changes.
    """
    row = conn.execute(_STAMP, {"c": client.id}).fetchone()
    stamp = str(row[0]) if row else ""
    if stamp.endswith("/0") or not may_see(conn, coach, client, now):
        return {}
    known = _told.get(client.id)
    if known and known[0] == stamp:
        _told.move_to_end(client.id)
        return _held_back(conn, client, known[1])
    measured = measurement_of(client, sittings.of_client(conn, client.id), photographs.of_client(conn, client.id))
    read = [s for s in measured.sittings if s.values]
    newest, before = (read[-1] if read else None), (read[-2].values if len(read) > 1 else {})
    now_values = {k: newest.values[k] for k in sorted({k for names in SPEAKS_FOR.values() for k in names}) if newest and k in newest.values}
    told = _Told(
        {k: bias_advice(READINGS[k], v, None) for k, v in now_values.items()},
        {k: side for k, v in now_values.items() if (side := newly_sided(before.get(k), value=v)) is not None},
        newest.taken_on if newest else None,
    )
    _told[client.id] = (stamp, told)
    while len(_told) > _MOST_TOLD:
        _told.popitem(last=False)
    return _held_back(conn, client, told)


def _held_back(conn: Conn, client: Client, told: _Told) -> Mapping[str, Bias]:
    """The advice, without a side that is newly beyond its noise while nobody has asked about health since that sitting."""
    if not told.new or told.taken_on is None:
        return told.bias
    asked = facts.last_asked(conn, client.id)
    if asked is not None and asked.astimezone(zone(client.time_zone)).date() >= told.taken_on:
        return told.bias
    return {**told.bias, **{k: until_asked(READINGS[k], side) for k, side in told.new.items()}}


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
        bias=bias_of(conn, coach, client, now),
        beside=beside,
        cards=shelf.offered,
        not_agreed="" if agreed.in_force else agreed.sentence,
        no_age=client.birth_year is None,
    )
