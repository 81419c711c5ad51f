"""Checks of doses: what can be read, how long it takes, how fast it rises."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial

from dimbo.core.design.weeks import Compiled, passes_minutes
from dimbo.core.exercises.dose import Dose
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Line, Program
from dimbo.core.text import clock, list_weeks, percent

from .base import Fix, Note, Weight

GROWTH_FLOOR_S = 90.0
"""A session of less contraction counts as this much: so short, its growth in percent says nothing. It may always have this
much times the rise of a session."""
LEAST_STEP = 1.5
"""A smallest possible step (a second more of a short hold) may pass the limit up to this factor without a note."""


def unreadable(c: Compiled) -> Iterator[Note]:
    """A cell that is no dose line; what was typed is kept."""
    for line in c.program.lines:
        errors = {week: cell.error for week, cell in enumerate(c.cells[line.id], start=1) if cell.error}
        if errors:
            week, error = next(iter(errors.items()))
            meant = {w: e.instead for w, e in errors.items() if e.instead}
            first = next(iter(meant.values()), "")
            yield Note(
                rule="unreadable",
                weight=Weight.STOP,
                text=f"{line.card.name}, week {week}: {error.message}.",
                remedy="What you typed is kept; correct it before assigning.",
                line=line.id,
                weeks=tuple(errors),
                fix=Fix(f"Write {first}", partial(with_cells, line_id=line.id, cells=meant)) if first else None,
            )


def with_cells(program: Program, line_id: str, cells: dict[int, str]) -> Program:
    """The program with some cells of a row changed, by week."""
    line = next(n for n in program.lines if n.id == line_id)
    return program.with_line(line_id, cells=tuple(cells.get(w, text) for w, text in enumerate(line.cells, start=1)))


def _before(c: Compiled, week: int, weeks: Iterable[int]) -> int | None:
    """The week that a week's rise is measured from: the last one before it that was not made lighter."""
    earlier = [w for w in weeks if w < week and w not in c.program.lighter]
    if week in c.program.lighter:
        return None
    return max(earlier) if earlier and max(earlier) >= week - 2 else None


def steep_line(c: Compiled) -> Iterator[Note]:
    """A line whose load rises by more than the limit from one week to the next, and by more than its smallest step."""
    limit = c.settings.line_growth
    for line in c.program.lines:
        if not line.card.family.contracts:
            continue
        loads = {w: item.load(c.settings.pace_s) for w, item in c.items[line.id].items()}
        ratio = {
            w: loads[w] / loads[b]
            for w in loads
            if (b := _before(c, w, loads)) is not None and loads[b] > 0 and loads[w] > loads[b] * limit + 1e-9
        }
        weeks = [w for w in ratio if ratio[w] > LEAST_STEP or not _smallest_step(c, line, w)]
        if not weeks:
            continue
        worst = max(weeks, key=lambda w: ratio[w])
        yield Note(
            rule="steep-line",
            weight=Weight.WATCH,
            text=f"{line.card.name} rises {percent(ratio[worst] - 1)} into week {worst}; about {percent(limit - 1)} is the most.",
            remedy="Put a rung in between.",
            line=line.id,
            weeks=tuple(weeks),
            fix=Fix(f"Week {worst} waits a week", partial(_waits, line_id=line.id, week=worst)),
        )


def _smallest_step(c: Compiled, line: Line, week: int) -> bool:
    """Whether the rise into a week is the smallest that there is: one more second of hold, or one repetition."""
    since = _before(c, week, c.items[line.id])
    if since is None:
        return False
    a, b = c.items[line.id][since].dose, c.items[line.id][week].dose
    if a.sides != b.sides or len(a.all_phases) != len(b.all_phases):
        return False
    steps = sum(abs(p.hold.amount - q.hold.amount) + abs(p.reps - q.reps) for p, q in zip(a.all_phases, b.all_phases, strict=True))
    return steps <= 1 + 1e-9


def _waits(program: Program, line_id: str, week: int) -> Program:
    """The line repeats the dose before, and what follows moves on by one; lighter weeks stay where they are."""
    line = next(n for n in program.lines if n.id == line_id)
    moving = [w for w in range(1, program.weeks + 1) if w not in program.lighter]
    at = moving.index(week)
    old = [line.cells[w - 1] for w in moving]
    new = [*old[:at], old[at - 1], *old[at:-1]]
    cells = list(line.cells)
    for w, text in zip(moving, new, strict=True):
        cells[w - 1] = text
    return program.with_line(line_id, cells=tuple(cells))


def session_rises(c: Compiled) -> dict[int, float]:
    """How many times as much contraction a session of a week has as one of the week before, by week; a session of less than
    ``GROWTH_FLOOR_S`` counts as that much. Lighter weeks are passed over."""
    load = {w.number: max(w.contraction.right, w.contraction.left) for w in c.weeks if w.plans}
    return {w: load[w] / max(load[b], GROWTH_FLOOR_S) for w in load if (b := _before(c, w, load)) is not None}


def steep_session(c: Compiled) -> Iterator[Note]:
    """A session whose contraction rises by more than the limit in a week."""
    ratio = session_rises(c)
    weeks = [w for w in ratio if ratio[w] > c.settings.session_growth + 1e-9]
    if not weeks:
        return
    worst = max(weeks, key=lambda w: ratio[w])
    rises = [(n, _rise(c, n, worst)) for n in c.program.lines]
    steepest, most = max(rises, key=lambda pair: pair[1], default=(None, 0.0))
    yield Note(
        rule="steep-session",
        weight=Weight.WATCH,
        text=f"The session's contraction rises {percent(ratio[worst] - 1)} into week {worst}; "
        f"{percent(c.settings.session_growth - 1)} is the most.",
        remedy="Let some lines wait a week.",
        line=None,
        weeks=tuple(weeks),
        fix=Fix(f"{steepest.card.name} waits a week", partial(_waits, line_id=steepest.id, week=worst)) if steepest and most > 0 else None,
    )


def _rise(c: Compiled, line: Line, week: int) -> float:
    since = _before(c, week, c.items[line.id])
    now, before = c.items[line.id].get(week), c.items[line.id].get(since or 0)
    if now is None or before is None or not line.card.family.contracts:
        return 0.0
    return now.load(c.settings.pace_s) - before.load(c.settings.pace_s)


def one_axis(c: Compiled) -> Iterator[Note]:
    """A line that rises along more than one axis at once."""
    for line in c.program.lines:
        if not line.card.family.contracts:
            continue
        own = c.items[line.id]
        weeks = tuple(w for w, item in own.items() if (b := _before(c, w, own)) is not None and _axes(own[b].dose, b=item.dose) > 1)
        if weeks:
            yield Note(
                rule="one-axis",
                weight=Weight.WATCH,
                text=f"{line.card.name}, {list_weeks(weeks)}: more than one of hold, repetitions and sets rises at once.",
                remedy="Raise one of them; the other next week.",
                line=line.id,
                weeks=weeks,
                fix=Fix(f"Week {weeks[0]} waits a week", partial(_waits, line_id=line.id, week=weeks[0])),
            )


def _axes(a: Dose, b: Dose) -> int:
    """How many of hold, repetitions and sets rise from one dose to the next, when none of them drops."""
    if len(a.all_phases) != len(b.all_phases) or load_s(b, 1.0) <= load_s(a, 1.0):
        return 0
    pairs = list(zip(a.all_phases, b.all_phases, strict=True))
    reps = any(q.reps > p.reps for p, q in pairs)
    hold = any(q.hold.amount > p.hold.amount for p, q in pairs)
    return int(reps) + int(hold) + int(b.runs > a.runs)


def over_budget(c: Compiled) -> Iterator[Note]:
    """A session longer than the minutes that the client really has."""
    minutes = c.program.minutes
    if minutes is None:
        return
    over = {w.number: w.seconds - minutes * 60 for w in c.weeks if passes_minutes(w.seconds, minutes, c.settings)}
    if not over:
        return
    weeks = tuple(over)
    say = (
        f"{list_weeks(weeks).capitalize()} pass the {minutes} minutes that the client has, by up to"
        if len(weeks) > 1
        else (f"Week {weeks[0]} passes the {minutes} minutes that the client has by")
    )
    longest = c.weeks[max(over, key=lambda w: over[w]) - 1]
    least = least_missed(c, longest.number)
    yield Note(
        rule="budget",
        weight=Weight.WATCH,
        text=f"{say} {clock(max(over.values()))}.",
        remedy=f"What could go: {least.card.name}, {clock(_takes(c, least, longest.number))}."
        if least
        else "Leave an exercise out, or take a set away.",
        line=None,
        weeks=weeks,
        fix=Fix(f"Rest {least.card.name} in {list_weeks(weeks)}", partial(rests, line_id=least.id, weeks=weeks)) if least else None,
    )


def _takes(c: Compiled, line: Line, week: int) -> float:
    item = c.items[line.id].get(week)
    return item.seconds(c.settings) + (0.0 if line.flows else c.settings.change_over_s) if item else 0.0


def least_missed(c: Compiled, week: int) -> Line | None:
    """The line that a week can do without best: not a foundation in use, not the only release or drain, the longest."""
    needed = {i for n in c.program.lines for i, _ in n.card.after}
    stages = [n.stage for n in c.program.lines if week in c.items[n.id]]
    spare = [
        n
        for n in c.program.lines
        if week in c.items[n.id] and n.card.id not in needed and (n.stage.value == "work" or stages.count(n.stage) > 1)
    ]
    soft = [n for n in spare if not n.card.family.contracts]
    return max(soft or spare, key=lambda n: _takes(c, n, week), default=None)


def rests(program: Program, line_id: str, weeks: tuple[int, ...]) -> Program:
    """The program with a row that rests in some weeks."""
    return with_cells(program, line_id, dict.fromkeys(weeks, ""))
