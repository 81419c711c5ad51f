"""Making a draft fit the client's minutes: shorter before fewer, the longest riser stops first, and what is left is said."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from dimbo.core.anatomy import Stage
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Line, Program, Settings, read_cell
from dimbo.core.programs.progression import within
from dimbo.core.text import clock

from .checks.dose import least_missed
from .weeks import work_out

SHORTER = 2 / 3
"""Share of its dose that something soft keeps when it is shortened to make room."""
LEAST_S = 10.0
"""Nothing is shortened below this, in seconds of one side."""
GIVEN_UP = (Stage.CLOSE, Stage.PREPARE, Stage.WAKE, Stage.LOOSEN, Stage.DRAIN, Stage.WORK, Stage.RELEASE)
"""What goes first where hardly any minutes are there; what is released after work stays with it."""
IDLE = 0.5
"""A draft that takes less than this share of the client's minutes says why."""


def day_s(program: Program, week: int, settings: Settings) -> float:
    """Seconds of the longest session of a week."""
    return max((p.seconds for p in work_out(program, settings).weeks[week - 1].plans), default=0.0)


def cap(program: Program, minutes: int | None, settings: Settings) -> Program:
    """Lines stop rising where a session would pass the minutes, the longest riser first."""
    if minutes is None:
        return program
    for week in range(2, program.weeks + 1):
        for _ in range(len(program.lines) * 2):
            if day_s(program, week, settings) <= minutes * 60:
                break
            risers = [(n, _grows(program, n, week, settings)) for n in program.lines]
            line, most = max(risers, key=lambda pair: pair[1])
            if most <= 0:
                break
            stays = line.cells[week - 2]
            cells = (*line.cells[: week - 1], *(stays for _ in line.cells[week - 1 :]))
            said = f" Stays from week {week}: the minutes are full."
            why = line.why if "the minutes are full" in line.why else line.why + said
            program = program.with_line(line.id, cells=cells, why=why)
    return program


def _grows(program: Program, line: Line, week: int, settings: Settings) -> float:
    items = work_out(replace(program, lines=(line,), circuits=()), settings).items[line.id]
    if week not in items or week - 1 not in items:
        return 0.0
    return items[week].seconds(settings) - items[week - 1].seconds(settings)


def _shorter(line: Line, text: str, settings: Settings) -> str:
    dose = read_cell(text, line.card).dose
    if dose is None or dose.practice_s(settings.pace_s) <= 2 * LEAST_S:
        return text
    most = load_s(dose, settings.pace_s) * SHORTER
    less = within(dose, lambda d: load_s(d, settings.pace_s) <= most)
    return print_line(less, line.card.style) if less is not None and less.practice_s(settings.pace_s) >= LEAST_S else text


def shortened(program: Program, settings: Settings, keep: frozenset[str] = frozenset()) -> Program:
    """Everything soft at two thirds of its dose, without the exercises to ``keep``; work stays as it is."""
    for line in program.lines:
        if line.card.family.contracts or line.card.id in keep or line.stage is Stage.DAY:
            continue
        cells = tuple(_shorter(line, text, settings) for text in line.cells)
        if cells != line.cells:
            program = program.with_line(line.id, cells=cells, why=f"{line.why} Shorter, so that the rest fits.")
    return program


def without_least(program: Program, settings: Settings, keep: frozenset[str]) -> tuple[Program, Line] | None:
    """The program without the row that its first week can do without best, and that row; None when nothing can go."""
    spare = replace(program, lines=tuple(n for n in program.lines if n.card.id not in keep), circuits=())
    line = least_missed(work_out(spare, settings), 1) or min(
        (n for n in spare.lines if n.stage in GIVEN_UP), key=lambda n: GIVEN_UP.index(n.stage), default=None
    )
    if line is None or len(program.lines) <= 1:
        return None
    kept = tuple(n for n in program.lines if n.id != line.id)
    circuits = tuple(replace(c, lines=left) for c in program.circuits if (left := tuple(i for i in c.lines if i != line.id)))
    return replace(program, lines=kept, circuits=circuits), line


def idle(program: Program, minutes: int | None, settings: Settings, locked: int, structure: Sequence[str]) -> str:
    """Why a draft leaves most of the client's minutes free, and what could be offered; empty when it does not."""
    longest = max((day_s(program, w, settings) for w in range(1, program.weeks + 1)), default=0.0)
    if minutes is None or longest >= IDLE * minutes * 60:
        return ""
    if locked:
        why = f"{locked} exercises that would help are locked by cautions or left out"
    elif structure:
        why = f"training reaches little of {structure[0].lower()}"
    else:
        why = "what the concerns come from asks for no more"
    return (
        f"The longest session takes {clock(longest)} of the {minutes} minutes: {why}. "
        "Leave the rest free, rate a further concern, or go through the middle twice."
    )
