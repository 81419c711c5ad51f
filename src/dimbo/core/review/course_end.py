"""Where a course will end at this pace, and what was planned: exercise by exercise, by its last dose."""

from __future__ import annotations

import contextlib
from collections.abc import Sequence
from dataclasses import dataclass, replace

from dimbo.core.calendar.schedule import Step
from dimbo.core.exercises.dose_tokens import DoseLineError
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Line, Program, Settings, read_cell
from dimbo.core.programs.progression import fill_right
from dimbo.core.text import join_words

from .apply_review import printed

NEAR = 1e-9


@dataclass(frozen=True, slots=True)
class LineEnd:
    """An exercise at the end of its course: its last dose as it was planned and as it will be, as dose lines; "" when it
    never begins."""

    name: str
    planned: str
    reached: str
    short: bool
    """Whether it ends below what was planned."""


def _last(program: Program, line: Line, steps: Sequence[Step]) -> str:
    """The last dose of a line in the weeks to come, lighter weeks left out."""
    for step in reversed(steps):
        if step.week not in program.lighter and line.cells[step.week - 1].strip():
            return printed(line, line.cells[step.week - 1])
    return ""


def _load(line: Line, text: str, settings: Settings) -> float:
    dose = read_cell(text, line.card).dose
    return load_s(dose, settings.pace_s) if dose is not None else 0.0


def course_end(planned: Program, now: Program, steps: Sequence[Step], settings: Settings) -> tuple[LineEnd, ...]:
    """The exercises that contract, as they were planned to end and as they end in the weeks ``steps`` of the program as it is.

    An exercise that ends before the course, because another takes its place, is told by its own last dose.
    """
    found = []
    known = {n.id: n for n in now.lines}
    for line in planned.lines:
        own = known.get(line.id)
        last = _last(planned, line, [Step(w) for w in range(1, planned.weeks + 1)])
        if own is None or not line.card.family.contracts or not last:
            continue
        reached = _last(now, own, steps) or _last(now, own, [Step(w) for w in range(1, (steps[0].week if steps else now.weeks + 1))])
        short = _load(own, reached, settings) < _load(line, last, settings) - NEAR
        found.append(LineEnd(line.card.name, planned=last, reached=reached, short=short))
    return tuple(found)


def end_words(found: Sequence[LineEnd]) -> str:
    """Where the course ends at this pace, in one sentence; empty when it ends as planned or there is nothing to tell."""
    short = [e for e in found if e.short]
    if not short:
        return ""
    told = [f"{e.name} at {e.reached} instead of {e.planned}" if e.reached else f"{e.name} does not begin" for e in short]
    more = f", and {len(told) - 3} more" if len(told) > 3 else ""
    return f"At this pace the course ends below its plan: {join_words(told[:3]) if not more else ', '.join(told[:3])}{more}."


LAST_BLOCK_WEEKS = 4
"""Weeks of the last block that is repeated."""


def carried_on(now: Program, settings: Settings, weeks: int) -> Program:
    """A program that goes on from the last rungs: every row from its last dose toward its exercise's target, a rung a week as
    far as the day has room with the rows before it, on the last days a week; rows that had ended stay out, and rows that never
    began are left to the coach."""
    last = max((w for w in range(1, now.weeks + 1) if w not in now.lighter), default=now.weeks)
    lines = []
    for line in now.lines:
        if line.cells[last - 1].strip():
            days = (line.days[last - 1],) * weeks if line.days is not None else None
            lines.append(replace(line, cells=(line.cells[last - 1],) * weeks, days=days))
    kept = {n.id for n in lines}
    after = replace(
        now,
        weeks=weeks,
        sessions=(now.sessions[last - 1],) * weeks,
        lines=tuple(lines),
        lighter=frozenset(),
        circuits=tuple(c for c in now.circuits if set(c.lines) <= kept),
    )
    for line in lines:
        with contextlib.suppress(DoseLineError):
            after = after.with_line(line.id, cells=tuple(fill_right(after, line, 1, settings).cells))
    return after


def last_block(now: Program) -> Program:
    """The last weeks of a program as a program of their own."""
    first = max(now.weeks - LAST_BLOCK_WEEKS, 0)
    lines = tuple(
        replace(n, cells=n.cells[first:], days=n.days[first:] if n.days is not None else None)
        for n in now.lines
        if any(text.strip() for text in n.cells[first:])
    )
    kept = {n.id for n in lines}
    return replace(
        now,
        weeks=now.weeks - first,
        sessions=now.sessions[first:],
        lines=lines,
        lighter=frozenset(w - first for w in now.lighter if w - first >= 2),
        circuits=tuple(c for c in now.circuits if set(c.lines) <= kept),
    )
