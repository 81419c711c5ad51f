"""Which sittings chose the side that a plan gives more, kept with the plan so that a change is held against another start."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from dimbo.core.design.checks.body import favoured, leaning
from dimbo.core.design.weeks import work_out
from dimbo.core.programs.program import Program, Settings
from dimbo.core.sittings.bias import sides_of
from dimbo.store.database import Conn
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.sittings import sittings
from dimbo.work.exercises.shelf import shelf
from dimbo.work.intake.looking import may_see
from dimbo.work.measured import measurement, told_sides
from dimbo.work.programs.check_context import about


def chosen_sides(conn: Conn, coach: Person, client: Client, program: Program, settings: Settings, now: datetime) -> list[dict[str, Any]]:
    """Each reading by which a program gives a side more, with the value that it had, the sittings that said so, and whether a baseline
    was there that took no part.

    Of somebody who may not see the photographs nobody can say by which of them they were led, in words of the client or of a colleague:
    every sitting until now counts as having taken part, and none is a clean start.
    """
    known = about(conn, coach, client.id, shelf(conn, coach.practice_id), now=now)
    worked_out = work_out(program, settings, known)
    if not may_see(conn, coach, client, now):
        until_now = [str(s.id) for s in sittings.of_client(conn, client.id)]
        unseen = {"sittings": until_now, "clean_start": False, "value": None, "band": None}
        return [{"reading": key, "side": side.value} | unseen for key, side in leaning(worked_out).items() if until_now]
    given = favoured(worked_out)
    if not given:
        return []
    m = measurement(conn, client)
    said = sides_of(m, given, told=told_sides(conn, client))
    out = []
    for key, side in given.items():
        took = [s.id for s in said.by.get(key, ())]
        value = m.sitting(took[-1]).values[key] if took else None
        if value is None:
            continue
        clean = any(s.kind == "baseline" and s.id not in took and key in s.values for s in m.sittings)
        entry = {"reading": key, "side": side.value, "sittings": took, "clean_start": clean}
        out.append(entry | {"value": round(value.value, 3), "band": round(value.band, 3)})
    return out
