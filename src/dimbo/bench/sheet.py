"""Compile and check a program of 12 weeks by 40 lines."""

from __future__ import annotations

from collections.abc import Callable

from dimbo.catalogue import shipped_catalogue
from dimbo.core.climb import first_cells
from dimbo.core.dose_line import parse
from dimbo.core.program import Line, Program, Settings
from dimbo.core.sheet import compile_sheet
from dimbo.core.week import About

WEEKS, LINES = 12, 40


def bench_program() -> Program:
    """Forty exercises climbing their rungs over twelve weeks."""
    settings, cards = Settings(), list(shipped_catalogue().cards.values())
    lines = [
        Line(f"row{i}", card, card.stage, first_cells(card, WEEKS, settings))
        for i, card in enumerate(cards[:: len(cards) // LINES][:LINES])
    ]
    return Program("Bench", WEEKS, (5,) * WEEKS, 30, tuple(lines))


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
