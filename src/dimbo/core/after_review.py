"""What a review makes of the doses: each exercise goes along the program, keeps its dose, or goes a rung back.

Going back, or keeping a dose, moves the later doses of the row on by as many weeks, so the program keeps its length and its
lighter weeks and ends lower. A missed rise is never made up.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from .breaks import rung_back
from .climb import lighter_cell
from .dose_line import print_line
from .program import Line, Program, Settings, read_cell
from .review import Verdict


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a program stands: the program week (1-based) of the week that was reviewed, how many rungs back it was, and the
    program week that comes next."""

    week: int
    back: int
    next_week: int


@dataclass(frozen=True, slots=True)
class LineOutlook:
    """An exercise at a review: this week's dose, and next week's for each verdict, as dose lines ("" rests)."""

    line_id: str
    now: str
    next: Mapping[Verdict, str]

    def changes(self, verdict: Verdict) -> bool:
        """Whether the dose becomes another one next week."""
        return self.next[verdict] != self.now


def _now(line: Line, at: Standing, settings: Settings) -> str:
    return rung_back(line, at.week, at.back, settings.pace_s)


def _printed(line: Line, text: str) -> str:
    cell = read_cell(text, line.card)
    return print_line(cell.dose, line.card.style) if cell.dose is not None else text.strip()


def is_judged(line: Line, at: Standing, settings: Settings) -> bool:
    """Whether a review judges a line: it works a muscle, was practised this week, and is practised next week."""
    return bool(line.card.family.contracts and _now(line, at, settings).strip() and line.cells[at.next_week - 1].strip())


def _places(program: Program, at: Standing) -> list[int]:
    """The program weeks, from the next on, whose doses are moved; lighter weeks keep their place."""
    return [w for w in range(at.next_week, program.weeks + 1) if w not in program.lighter]


def cells_after(program: Program, line: Line, verdict: Verdict, at: Standing, settings: Settings) -> tuple[str, ...]:
    """The row as a verdict leaves it. Stopping empties the weeks to come."""
    cells = list(line.cells)
    if verdict is Verdict.ADVANCE:
        return line.cells
    if verdict is Verdict.STOP:
        return (*cells[: at.next_week - 1], *([""] * (program.weeks - at.next_week + 1)))
    now = _now(line, at, settings)
    first = [now]
    if verdict is Verdict.EASE:
        lower = rung_back(line, at.week, at.back + 1, settings.pace_s)
        first = [lower, now] if lower != now else [now]
    places = _places(program, at)
    for place, text in zip(places, [*first, *(line.cells[w - 1] for w in places)], strict=False):
        cells[place - 1] = text
    for week in range(at.next_week, program.weeks + 1):
        if week in program.lighter and week >= 2 and week - 1 >= at.next_week:
            cells[week - 1] = lighter_cell(line.card, cells[week - 2], settings)
    return tuple(cells)


def outlook(program: Program, line: Line, at: Standing, settings: Settings) -> LineOutlook:
    """What each verdict would make of a line next week."""
    after = {v: cells_after(program, line, v, at, settings)[at.next_week - 1] for v in Verdict}
    return LineOutlook(line.id, _printed(line, _now(line, at, settings)), {v: _printed(line, t) for v, t in after.items()})


def after_review(program: Program, verdicts: Mapping[str, Verdict], at: Standing, settings: Settings) -> Program:
    """The program with every line's weeks as the review leaves them; lines without a verdict go along the program."""
    lines: Sequence[Line] = program.lines
    return replace(
        program,
        lines=tuple(replace(n, cells=cells_after(program, n, verdicts.get(n.id, Verdict.ADVANCE), at, settings)) for n in lines),
    )
