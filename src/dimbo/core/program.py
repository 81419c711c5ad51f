"""A program as a coach writes it: exercises as lines, weeks as columns, dose lines in the cells."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .anatomy import Stage
from .card import Card
from .dose import DEFAULT_PACE_S, Dose
from .dose_line import DoseLineError, parse

MAX_WEEKS, MAX_LINES = 26, 60


@dataclass(frozen=True, slots=True)
class Settings:
    """What a practice decides once: count pace and the time between exercises, in seconds."""

    pace_s: float = DEFAULT_PACE_S
    change_over_s: float = 8.0
    oil_change_over_s: float = 20.0
    """When oil comes in, or hands must be washed."""


@dataclass(frozen=True, slots=True)
class Line:
    """One exercise through all weeks. An empty cell means that the exercise rests that week."""

    id: str
    card: Card
    stage: Stage
    cells: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Program:
    """Lines in the order of practice; ``sessions`` and every line's cells have one entry per week."""

    title: str
    weeks: int
    sessions: tuple[int, ...]
    minutes: int | None
    """Minutes a session that the client really has; None if nobody asked."""
    lines: tuple[Line, ...]

    def __post_init__(self) -> None:
        if not 1 <= self.weeks <= MAX_WEEKS:
            raise ValueError(f"a program has 1 to {MAX_WEEKS} weeks, not {self.weeks}")
        if len(self.lines) > MAX_LINES:
            raise ValueError(f"a program has at most {MAX_LINES} lines, not {len(self.lines)}")
        if len(self.sessions) != self.weeks or any(len(line.cells) != self.weeks for line in self.lines):
            raise ValueError("every row needs one entry per week")


@dataclass(frozen=True, slots=True)
class Cell:
    """A read cell: its dose, or why it could not be read; both None when it is empty."""

    dose: Dose | None
    error: DoseLineError | None = None


def read_cell(text: str, card: Card) -> Cell:
    """Read one cell; an error is a value here, because what was typed must be kept."""
    if not text.strip():
        return Cell(None)
    try:
        return Cell(parse(text, card.style))
    except DoseLineError as error:
        return Cell(None, error)


def read_sheet(program: Program) -> Mapping[str, tuple[Cell, ...]]:
    """Every cell by line id, one per week."""
    return {line.id: tuple(read_cell(text, line.card) for text in line.cells) for line in program.lines}
