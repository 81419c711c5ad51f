"""The program sheet compiled: every cell read, every week timed and loaded, every check made."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from . import checks
from .anatomy import SideSeconds
from .cautions import Cautions
from .checks import Note, WeekFacts, Weight
from .load import muscle_contraction, session_contraction
from .program import Cell, Program, Settings, read_sheet
from .session import Item, session_s

NOTHING_HELD = Cautions((), ())


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
    cells: Mapping[str, tuple[Cell, ...]]
    weeks: tuple[Week, ...]
    notes: tuple[Note, ...]

    @property
    def assignable(self) -> bool:
        """Whether nothing in the margin says stop, and there is something to practise in every week."""
        return all(n.weight is not Weight.STOP for n in self.notes) and all(w.items for w in self.weeks)


def items_of_week(program: Program, cells: Mapping[str, tuple[Cell, ...]], week: int) -> tuple[Item, ...]:
    """The exercises of a week (1-based) in order; empty and unreadable cells are left out."""
    doses = ((line, cells[line.id][week - 1].dose) for line in program.lines)
    return tuple(Item(line, dose) for line, dose in doses if dose is not None)


def _items(program: Program, cells: Mapping[str, tuple[Cell, ...]]) -> dict[str, dict[int, Item]]:
    """Items by line and week; weeks with the same dose share one, so that it is worked out once."""
    out: dict[str, dict[int, Item]] = {}
    for line in program.lines:
        known: dict[str, Item] = {}
        weeks = out.setdefault(line.id, {})
        for week, (text, cell) in enumerate(zip(line.cells, cells[line.id], strict=True), start=1):
            if cell.dose is not None:
                if text not in known:
                    known[text] = Item(line, cell.dose)
                weeks[week] = known[text]
    return out


def compile_sheet(program: Program, settings: Settings, cautions: Cautions = NOTHING_HELD) -> Sheet:
    """Read, time, load and check a whole program, under what stands over the client."""
    cells = read_sheet(program)
    items = _items(program, cells)
    weeks = []
    for number in range(1, program.weeks + 1):
        own = tuple(items[line.id][number] for line in program.lines if number in items[line.id])
        weeks.append(
            Week(
                number,
                program.sessions[number - 1],
                session_s(own, settings),
                session_contraction(own, settings.pace_s),
                muscle_contraction(own, settings.pace_s),
                own,
            )
        )
    return Sheet(program, cells, tuple(weeks), tuple(_notes(program, cells, items, weeks, settings, cautions)))


def _notes(
    program: Program,
    cells: Mapping[str, tuple[Cell, ...]],
    items: Mapping[str, Mapping[int, Item]],
    weeks: list[Week],
    settings: Settings,
    cautions: Cautions,
) -> list[Note]:
    facts = {w.number: WeekFacts(w.seconds, max(w.contraction.right, w.contraction.left)) for w in weeks}
    found: list[Note | None] = [*checks.cautions(program.lines, cautions)]
    found += [checks.over_budget(program.minutes, facts), checks.steep_session(facts)]
    for line in program.lines:
        errors = {week: cell.error for week, cell in enumerate(cells[line.id], start=1) if cell.error}
        if errors:
            found.append(checks.unreadable(line, errors))
        own = items[line.id]
        found.append(checks.ceiling(line, {week: item.of_ceiling(settings.pace_s) for week, item in own.items()}))
        found.append(checks.steep_line(line, {week: item.load(settings.pace_s) for week, item in own.items()}))
    found += [*checks.foundations(program.lines), *checks.stage_order(program.lines), checks.ends_calm(program.lines)]
    return [note for note in found if note is not None]
