"""Open formats out: readings as CSV with a data dictionary, points as JSON, a comparison as a picture."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from datetime import datetime
from uuid import UUID

from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.text import long_date
from dimbo.store.database import Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.sittings import photographs
from dimbo.vision.apart import compare_pictures
from dimbo.vision.terms import Half
from dimbo.work.intake.consenting import require
from dimbo.work.intake.looking import COMPARISON, noted
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tables import Cell, Dialect, Table, as_csv, as_workbook

from .measuring import Bench, load

COLUMNS = {
    "client_id": "id of the client, the same in every table",
    "sitting_id": "id of the sitting, the same as in points.json",
    "sitting": "day of the sitting, year-month-day",
    "kind": "baseline or follow-up",
    "reading": "id of the reading",
    "unit": "mm, ° or empty for a ratio",
    "right": "the client's own right side, median of the shots; empty for a single reading",
    "left": "the client's own left side, median of the shots; empty for a single reading",
    "value": "left minus right for a pair (median over the shots of their differences), else the reading",
    "band": "half width of the 95 % band of this one reading",
    "shots": "accepted shots behind it",
    "provisional": "true while shipped noise is blended in, else false",
    "comparable": "why it is not compared with other sittings; empty when it is",
}
POINTS_SCHEMA = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "$id": "urn:dimbo:points:1",
    "title": "Points of a client's photographs",
    "type": "object",
    "required": ["client", "photographs"],
    "properties": {
        "client": {"type": "string", "format": "uuid", "description": "id of the client, the same in every table"},
        "photographs": {
            "type": "array",
            "items": {
                "type": "object",
                "required": ["id", "sitting_id", "sitting", "view", "width", "height", "points"],
                "properties": {
                    "id": {"type": "string", "format": "uuid"},
                    "sitting_id": {"type": "string", "format": "uuid", "description": "the same as in readings.csv"},
                    "sitting": {"type": "string", "format": "date"},
                    "view": {"type": "string"},
                    "taken_at": {"type": ["string", "null"], "format": "date-time"},
                    "width": {"type": "integer"},
                    "height": {"type": "integer"},
                    "mirrored": {"type": "boolean", "description": "the stored picture shows the client's left at the left"},
                    "method": {"type": ["string", "null"], "description": "version of the analysis"},
                    "iris_px": {"type": ["number", "null"], "description": "iris diameter in pixels"},
                    "points": {
                        "type": "object",
                        "description": "pixels, x right and y down; sides are the client's own",
                        "additionalProperties": {
                            "type": "object",
                            "required": ["x", "y", "by_hand"],
                            "properties": {"x": {"type": "number"}, "y": {"type": "number"}, "by_hand": {"type": "boolean"}},
                        },
                    },
                },
            },
        },
    },
}


def readings_csv(db: Database, coach: Person, client_id: UUID, now: datetime, dialect: Dialect) -> bytes:
    """Every sitting's values, one row each. Raises NotThere."""
    return as_csv(readings_table(_taken_out(db, coach, client_id, now)), dialect)


def readings_workbook(db: Database, coach: Person, client_id: UUID, now: datetime) -> bytes:
    """``readings_csv`` as a sheet, with its dictionary as another. Raises NotThere."""
    return as_workbook([readings_table(_taken_out(db, coach, client_id, now)), dictionary()])


def _taken_out(db: Database, coach: Person, client_id: UUID, now: datetime) -> Bench:
    with db.of(coach) as conn:
        found = load(conn, coach, client_id, now)
        noted(conn, coach, client_id, what="took out", subject="what was measured, as a table", now=now)
    return found


def readings_table(found: Bench) -> Table:
    """Every sitting's values of what is loaded already."""
    return Table(name="readings", columns=tuple(COLUMNS), rows=_readings(found))


def _readings(found: Bench) -> Iterator[Sequence[Cell]]:
    for sitting in found.measurement.sittings:
        for key, v in sitting.values.items():
            yield (
                found.client.id,
                sitting.id,
                sitting.taken_on,
                sitting.kind,
                key,
                READINGS[key].unit,
                v.right,
                v.left,
                v.value,
                v.band,
                len(v.shots),
                v.provisional,
                sitting.excluded.get(key, ""),
            )


def dictionary() -> Table:
    """What every column and every reading of the table means."""
    rows = [("column", k, meaning, "") for k, meaning in COLUMNS.items()]
    rows += [("reading", k, f"{r.name}. {r.definition}", r.unit) for k, r in READINGS.items()]
    return Table(name="readings dictionary", columns=("kind", "name", "meaning", "unit"), rows=rows)


def points_json(db: Database, coach: Person, client_id: UUID, now: datetime) -> str:
    """All points of all photographs, valid under POINTS_SCHEMA. Raises NotThere."""
    with db.of(coach) as conn:
        found = load(conn, coach, client_id, now)
        noted(conn, coach, client_id, what="took out", subject="the points of the photographs", now=now)
    days = {s.id: s.taken_on.isoformat() for s in found.sittings}
    shots = [
        {
            "id": str(p.id),
            "sitting_id": str(p.sitting_id),
            "sitting": days[p.sitting_id],
            "view": p.view,
            "taken_at": p.taken_at.isoformat() if p.taken_at else None,
            "width": p.width,
            "height": p.height,
            "mirrored": bool(p.flipped),
            "method": p.method,
            "iris_px": p.iris_px,
            "points": {
                n: {"x": round(xy[0], 2), "y": round(xy[1], 2), "by_hand": n in p.hand} for n, xy in {**(p.points or {}), **p.hand}.items()
            },
        }
        for p in found.photographs
    ]
    return json.dumps({"client": str(client_id), "photographs": shots}, indent=1)


def half_of(found: Bench, photograph_id: UUID, data: bytes) -> Half:
    """One half of a comparison picture. Raises NotThere; Refused for a photograph without points."""
    p = next((x for x in found.photographs if x.id == photograph_id), None)
    if p is None:
        raise NotThere("There is no such photograph.")
    if not p.points:
        raise Refused(Why.NOT_NOW, "This photograph has no points to align by. Choose a front view that was measured.", "photograph")
    judged = next(j for s in found.measurement.sittings for j in s.shots if j.shot.id == str(p.id))
    day = next(s.taken_on for s in found.sittings if s.id == p.sitting_id)
    clock = f", {judged.shot.taken_at:%H:%M}" if judged.shot.taken_at else ""
    light = next((c.found for c in judged.checks if c.id == "light"), "light not measured")
    return Half(jpeg=data, points={**judged.shot.right_way.here}, flipped=bool(p.flipped), when=f"{long_date(day)}{clock}", light=light)


def comparison_picture(db: Database, coach: Person, before: UUID, after: UUID, now: datetime, *, match_light: bool = False) -> bytes:
    """Two photographs side by side, aligned and never retouched, as a PNG with dates, view, light and "not retouched".

    Raises Refused without the client's consent for comparisons, NotThere.
    """
    with db.of(coach) as conn:
        first = photographs.one(conn, before)
        found = load(conn, coach, first.client_id, now)
        require(conn, found.client, COMPARISON, now)
        second = photographs.one(conn, after)
        if first.client_id != second.client_id:
            raise NotThere("There is no such photograph.")
        if first.view != second.view:
            raise Refused(Why.CLASH, "Compare photographs of the same view.", "after")
        days = {s.id: s.taken_on for s in found.sittings}
        subject = f"{VIEWS[first.view].name}, {long_date(days[first.sitting_id])} and {long_date(days[second.sitting_id])}"
        noted(conn, coach, found.client.id, what="compared", subject=subject, now=now, about=(before, after))
        halves = [half_of(found, p.id, photographs.picture(conn, p.id, small=False)[1]) for p in (first, second)]
    return compare_pictures(halves[0], after=halves[1], view=VIEWS[first.view].name, match_light=match_light)
