"""Programs that ship as templates: data files read into programs at a practice's own settings."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from dimbo.core.design.checks import gentle
from dimbo.core.design.checks.client import USUAL_EXPECTATIONS
from dimbo.core.exercises.approach import approach
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.programs.program import MAX_WEEKS, Circuit, Line, Mode, Program, Settings, When, days_within, read_cell
from dimbo.core.programs.progression import axes_for, card_ladder, lighten

from .load import SHIPPED, Catalogue, Source, shipped_catalogue, unique
from .schema import School, Slug, Strict, Text


class RowEntry(Strict):
    """One exercise: ``dose`` is climb (start to target by calendar), start, target, or a dose line for every week."""

    exercise: Slug
    dose: str = Field(default="climb", max_length=60)
    weeks: str | None = Field(default=None, pattern=r"^\d+(-\d+)?$")
    when: When = When.MORNING
    days: str | None = Field(default=None, max_length=60)
    note: str = Field(default="", max_length=400)
    flows: bool = False


class CircuitEntry(Strict):
    first: Slug
    last: Slug
    rounds: int = Field(ge=2, le=4)


class TemplateEntry(Strict):
    """For ``days`` a week see ``ramp``."""

    id: Slug
    title: Text
    about: Annotated[str, StringConstraints(strip_whitespace=True, min_length=20, max_length=1000)]
    concerns: tuple[Slug, ...] = Field(min_length=1)
    school: School = "balanced"
    weeks: int = Field(ge=1, le=MAX_WEEKS)
    days: str = Field(max_length=80)
    minutes: int | None = Field(default=None, ge=1, le=120)
    mode: Literal["calendar", "earned"] = "calendar"
    lighter: tuple[int, ...] = ()
    circuits: tuple[CircuitEntry, ...] = ()
    expectations: str = Field(default="", max_length=1000)
    rows: tuple[RowEntry, ...] = Field(min_length=1, max_length=60)


@dataclass(frozen=True)
class Template:
    """A template that ships; ``entry`` is built into a program at a practice's settings."""

    entry: TemplateEntry

    def program(self, settings: Settings, cards: Mapping[str, Card]) -> Program:
        """The program that it stands for."""
        return build(self.entry, settings, cards)


def ramp(text: str, weeks: int) -> tuple[float, ...]:
    """Days a week by week: parts by comma, each a number, a number so many times (``7 x 8``), or one more each week up to
    a most (``4 > 6``). The last part fills what is left. Raises ValueError when it gives more weeks than there are."""
    out: list[float] = []
    parts = text.split(",")
    for place, part in enumerate(parts):
        left = weeks - len(out)
        if ">" in part:
            start, end = (float(x) for x in part.split(">"))
            out += [min(start + w, end) for w in range(left)]
            continue
        value, _, times = part.partition("x")
        last = place == len(parts) - 1
        out += [float(value)] * (int(times) if times.strip() else left if last else 1)
    if len(out) != weeks:
        raise ValueError(f"“{text}” gives {len(out)} weeks, not {weeks}")
    return tuple(out)


def _cells(row: RowEntry, card: Card, weeks: int, school: str, settings: Settings) -> tuple[str, ...]:
    first, last = 1, weeks
    if row.weeks:
        bounds = [int(x) for x in re.split("-", row.weeks)]
        first, last = bounds[0], bounds[-1]
    if not 1 <= first <= last <= weeks:
        raise ValueError(f"weeks {row.weeks} are outside 1 to {weeks}")
    steps = card_ladder(card, settings, axes=axes_for(card, approach(school)))
    if row.dose == "climb":
        span = last - first + 1
        own = [print_line(steps.at_week(w, weeks=span).dose, card.style) for w in range(1, span + 1)]
    else:
        text = {"start": card.start_line, "target": card.target_line}.get(row.dose, row.dose)
        cell = read_cell(text, card)
        if cell.dose is None:
            raise ValueError(f"{card.name}: {cell.error.message if cell.error else 'the dose is empty'}")
        own = [print_line(cell.dose, card.style)] * (last - first + 1)
    return (*[""] * (first - 1), *own, *[""] * (weeks - last))


def build(entry: TemplateEntry, settings: Settings, cards: Mapping[str, Card]) -> Program:
    """A template as a program. Raises ValueError that says what does not fit."""
    lines: list[Line] = []
    for row in entry.rows:
        if row.exercise not in cards:
            raise ValueError(f"there is no exercise “{row.exercise}”")
        card = cards[row.exercise]
        cells = _cells(row, card, entry.weeks, entry.school, settings)
        given = ramp(row.days, entry.weeks) if row.days else None
        days = days_within(card, given or ramp(entry.days, entry.weeks), given=given, settings=settings)
        again = sum(n.card.id == card.id for n in lines)
        row_id = card.id if not again else f"{card.id}-{again + 1}"
        line = Line(id=row_id[:40], card=card, stage=card.stage, cells=cells, when=row.when, days=days, note=row.note)
        lines.append(replace(line, flows=row.flows))
    order = [n.card.id for n in lines]
    circuits = tuple(Circuit(tuple(n.id for n in lines[order.index(c.first) : order.index(c.last) + 1]), c.rounds) for c in entry.circuits)
    program = Program(
        title=entry.title,
        weeks=entry.weeks,
        sessions=ramp(entry.days, entry.weeks),
        minutes=entry.minutes,
        lines=tuple(lines),
        mode=Mode(entry.mode),
        circuits=circuits,
        expectations=entry.expectations or USUAL_EXPECTATIONS,
        approach=entry.school,
    )
    for week in entry.lighter:
        program = lighten(program, week, settings)
    return gentle(program, settings)


def load_templates(catalogue: Catalogue, folder: Path = SHIPPED / "templates") -> dict[str, Template]:
    """Read and build every template once. Raises CatalogueError with file and line."""
    out: dict[str, Template] = {}
    for file in sorted(folder.glob("*.yaml")):
        source = Source.read(file)
        for node in source:
            entry = source.entry(node, TemplateEntry)
            unique(source, node, out, entry.id)
            for i, name in enumerate(entry.concerns):
                if name not in catalogue.concerns:
                    raise source.error(node, f"concerns: there is no “{name}”", "concerns", i)
            try:
                build(entry, Settings(), catalogue.cards)
            except ValueError as error:
                raise source.error(node, str(error)) from error
            out[entry.id] = Template(entry)
    return out


@lru_cache(maxsize=1)
def shipped_templates() -> Mapping[str, Template]:
    """The templates that ship, read once."""
    return load_templates(shipped_catalogue())
