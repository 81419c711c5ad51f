"""The program sheet compiled: worked out week by week, and checked in one pass."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from dimbo.core.programs.program import Cell, Program, Settings

from .checks import Note, Weight, check
from .weeks import NOBODY, About, Week, work_out


@dataclass(frozen=True, slots=True)
class Sheet:
    """A compiled program with what the margin says of it."""

    program: Program
    cells: Mapping[str, tuple[Cell, ...]]
    weeks: tuple[Week, ...]
    notes: tuple[Note, ...]

    @property
    def assignable(self) -> bool:
        """Whether nothing in the margin says stop, and there is something to practise in every week."""
        return all(n.weight is not Weight.STOP for n in self.notes) and all(w.plans for w in self.weeks)


def compile_sheet(program: Program, settings: Settings, about: About = NOBODY) -> Sheet:
    """Read, time, load and check a whole program, with what is known about the client."""
    compiled = work_out(program, settings, about)
    return Sheet(program, compiled.cells, compiled.weeks, tuple(check(compiled)))
