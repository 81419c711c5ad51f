"""The program sheet compiled: every cell read, every week timed and loaded, every check made."""

from __future__ import annotations

from dataclasses import dataclass

from . import checks
from .anatomy import Side
from .checks import Note, WeekFacts, Weight
from .load import SideSeconds, muscle_contraction, session_contraction
from .program import Cell, Program, Settings, read_sheet
from .rungs import load_s
from .session import Item, session_s


@dataclass(frozen=True, slots=True)
class Week:
    """One week of the sheet: a session's seconds, contraction by side, and load by muscle."""

    number: int
    sessions: int
    seconds: float
    contraction: SideSeconds
    muscles: dict[str, SideSeconds]
    items: tuple[Item, ...]


@dataclass(frozen=True, slots=True)
class Sheet:
    """A compiled program."""

    program: Program
    cells: dict[str, tuple[Cell, ...]]
    weeks: tuple[Week, ...]
    notes: tuple[Note, ...]

    @property
    def assignable(self) -> bool:
        """Whether nothing in the margin says stop, and there is something to practise in every week."""
        return all(n.weight is not Weight.STOP for n in self.notes) and all(w.items for w in self.weeks)


def items_of_week(program: Program, cells: dict[str, tuple[Cell, ...]], week: int) -> tuple[Item, ...]:
    """The exercises of a week (1-based) in order; empty and unreadable cells are left out."""
    doses = ((line, cells[line.id][week - 1].dose) for line in program.lines)
    return tuple(Item(line, dose) for line, dose in doses if dose is not None)


def compile_sheet(program: Program, settings: Settings) -> Sheet:
    """Read, time, load and check a whole program."""
    cells = dict(read_sheet(program))
    weeks = []
    for number in range(1, program.weeks + 1):
        items = items_of_week(program, cells, number)
        weeks.append(Week(number, program.sessions[number - 1], session_s(items, settings),
                          session_contraction(items, settings.pace_s), muscle_contraction(items, settings.pace_s), items))
    return Sheet(program, cells, tuple(weeks), tuple(_notes(program, cells, weeks, settings)))


def _notes(program: Program, cells: dict[str, tuple[Cell, ...]], weeks: list[Week], settings: Settings) -> list[Note]:
    facts = {w.number: WeekFacts(w.seconds, max(w.contraction.right, w.contraction.left)) for w in weeks}
    found: list[Note | None] = [checks.over_budget(program.minutes, facts), checks.steep_session(facts)]
    for line in program.lines:
        read = dict(enumerate(cells[line.id], start=1))
        errors = {week: cell.error for week, cell in read.items() if cell.error}
        if errors:
            found.append(checks.unreadable(line, errors))
        doses = {week: cell.dose for week, cell in read.items() if cell.dose}
        limit = line.card.ceiling
        used = {w: max(((s, limit.used_s(d, s, settings.pace_s)) for s in Side), key=lambda v: v[1]) for w, d in doses.items()}
        found.append(checks.ceiling(line, used))
        found.append(checks.steep_line(line, {w: load_s(d, settings.pace_s) for w, d in doses.items()}))
    found += checks.foundations(program.lines) + checks.stage_order(program.lines) + [checks.ends_calm(program.lines)]
    return [note for note in found if note is not None]
