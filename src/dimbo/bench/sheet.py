"""Compile and check a program of 12 weeks by 40 lines."""

from __future__ import annotations

from collections.abc import Callable

from dimbo.catalogue import shipped_catalogue
from dimbo.core.dose_line import parse
from dimbo.core.program import Line, Program, Settings
from dimbo.core.sheet import compile_sheet
from dimbo.work.programs import new_line

WEEKS, LINES = 12, 40


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The compile, and a loop that only adds up the seconds of the same, already read cells."""
    settings, cards = Settings(), list(shipped_catalogue().cards.values())
    lines = []
    for i in range(LINES):
        card = cards[i % len(cards)]
        lines.append(Line(f"row{i}", card, card.stage, tuple(new_line(card, WEEKS, settings).cells)))
    program = Program("Bench", WEEKS, (5,) * WEEKS, 30, tuple(lines))
    flat = [
        [(len(p.directions), p.reps, p.lead.amount, p.hold.amount, p.release.amount) for p in parse(c, n.card.style).phases]
        for n in lines
        for c in n.cells
    ]

    def compile_and_check() -> object:
        parse.cache_clear()  # a first sight of every line
        return compile_sheet(program, settings)

    def sums() -> float:
        total = 0.0
        for phases in flat:
            for ways, reps, lead, hold, release in phases:
                total += ways * reps * (lead + hold + release)
        return total

    return compile_and_check, sums, lambda: None
