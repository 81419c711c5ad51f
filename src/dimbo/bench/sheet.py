"""A program of 12 weeks by 40 lines: compiled and checked in the core, and an edit of it over HTTP."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from uuid import uuid4

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import STAGE_ORDER, Family, Stage
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import About
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.program import Line, Program, Settings
from dimbo.core.programs.progression import first_cells
from dimbo.work.programs.documents import from_program

from .installation import Installation

WEEKS, LINES = 12, 40


def bench_program() -> Program:
    """Forty exercises climbing their rungs over twelve weeks."""
    settings = Settings()
    cards = sorted((c for c in shipped_catalogue().cards.values() if c.stage is not Stage.DAY), key=lambda c: STAGE_ORDER[c.stage])
    chosen = [cards[k * len(cards) // LINES] for k in range(LINES)]
    lines = [Line(id=f"row{i}", card=card, stage=card.stage, cells=first_cells(card, WEEKS, settings)) for i, card in enumerate(chosen)]
    return Program(title="Bench", weeks=WEEKS, sessions=(5,) * WEEKS, minutes=30, lines=tuple(lines))


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The compile, and a loop that only adds up the seconds of the same, already read cells."""
    settings, program = Settings(), bench_program()
    about = About(cards=shipped_catalogue().cards)
    flat = [
        [(len(p.directions), p.reps, p.lead.amount, p.hold.amount, p.release.amount) for p in parse(c, n.card.style).phases]
        for n in program.lines
        for c in n.cells
    ]

    def compile_and_check() -> object:
        parse.cache_clear()  # a first sight of every line
        return compile_sheet(program, settings, about)

    def sums() -> float:
        total = 0.0
        for phases in flat:
            for ways, reps, lead, hold, release in phases:
                total += ways * reps * (lead + hold + release)
        return total

    return compile_and_check, sums, lambda: None


def edit() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """One edit checked and kept by the server, as after every change on the sheet; compiling the same program is the baseline.

    Each round types another dose, so that no answer is remembered.
    """
    program, settings = bench_program(), Settings()
    document = from_program(program).model_dump(mode="json")
    about = About(cards=shipped_catalogue().cards)
    typed = next(n for n in program.lines if n.card.family is Family.CONTRACT and n.cells[0].startswith("1×"))
    row = next(n for n in document["lines"] if n["id"] == typed.id)
    site = Installation()
    _, client_id = site.client("Philippa Anjou-Reyes")
    made = site.send("POST", path=f"/api/clients/{client_id}/programs", body={"source": "empty", "weeks": program.weeks})["id"]
    holds, revisions, sheet = itertools.cycle(range(1, 40)), itertools.count(1), str(uuid4())

    def one_edit() -> object:
        row["cells"][5] = f"1×5 h{next(holds) / 2:g}"
        body = {"base_revision": next(revisions), "title": "Bench", "document": document, "sheet": sheet}
        return site.send("PUT", path=f"/api/programs/{made}", body=body)

    return one_edit, lambda: compile_sheet(program, settings, about), site.close
