"""Moving doses along their rungs: filling a row to the right, making a dose smaller, making a week lighter."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass, replace

from dimbo.core.anatomy import Family
from dimbo.core.exercises.approach import Approach, approach
from dimbo.core.exercises.card import Axis, Card
from dimbo.core.exercises.dose import Apart, Dose, Phase, Span, Together
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.exercises.ladder import Ladder, Rung, ladder, load_s

from .daily_ceilings import fits, planned
from .program import Line, Program, Settings, read_cell


def axes_for(card: Card, school: Approach) -> tuple[Axis, ...]:
    """The axes of a card in the order in which an approach raises a load; none when it does not raise loads."""
    if not school.axes and card.family.contracts:
        return ()
    return tuple(sorted(card.axes, key=lambda a: school.axes.index(a) if a in school.axes else len(Axis)))


def card_ladder(
    card: Card,
    settings: Settings,
    start: str | None = None,
    target: str | None = None,
    *,
    axes: Sequence[Axis] | None = None,
    times_a_day: int = 1,
) -> Ladder:
    """Rungs of an exercise between two lines (its own start and target where none is given).

    ``axes``: which are raised, in order; the card's own when not given. ``times_a_day``: how often it is gone through on
    one day, which shares its ceiling. Raises ValueError when the lines cannot be read or there are no rungs between them.
    """
    first, last = parse(start or card.start_line, card.style), parse(target or card.target_line, card.style)
    return ladder(
        first,
        target=last,
        axes=card.axes if axes is None else axes,
        pace_s=settings.pace_s,
        fits=lambda dose: fits(card, dose, settings, times=times_a_day),
        sessions=(card.start_sessions, card.target_sessions),
        growth=settings.line_growth,
    )


def first_cells(card: Card, weeks: int, settings: Settings, *, axes: Sequence[Axis] | None = None) -> tuple[str, ...]:
    """A row for an exercise, climbing its rungs by calendar from its start dose; breath and rest stay as they begin."""
    if card.family is Family.BREATHE:
        return (card.start_line,) * weeks
    steps = card_ladder(card, settings, axes=axes)
    return tuple(print_line(steps.at_week(w, weeks=weeks).dose, card.style) for w in range(1, weeks + 1))


@dataclass(frozen=True)
class Filled:
    """Cells from a week on, and why they stop rising if they do."""

    cells: list[str]
    remark: str


def fill_right(program: Program, line: Line, week: int, settings: Settings) -> Filled:
    """Fill the weeks after ``week`` (1-based) of a row with the next rungs from that week's dose toward the card's target.

    Never past a daily ceiling: of the exercise, nor of a muscle with what the other rows take of that week's day; where the
    rest of the day leaves less, the row stays on the highest rung that fits. A lighter week is a share of the week before it
    and is no rung. Raises DoseLineError when the week cannot be read.
    """
    card, cells, text = line.card, line.cells, line.cells[week - 1]
    rest = len(cells) - week
    if not text.strip():
        return Filled([*cells[:week], *([""] * rest)], "An empty cell fills as rest.")
    here = parse(text, card.style)
    kept = [*cells[: week - 1], print_line(here, card.style)]
    times = program.times_a_day(line)
    if not fits(card, here, settings, times=times):
        return Filled([*kept, *cells[week:]], "This dose passes the daily ceiling, so nothing was filled.")
    try:
        steps = card_ladder(card, settings, kept[-1], axes=axes_for(card, approach(program.approach)), times_a_day=times)
        rungs, ended = steps.rungs, "The daily ceiling ends the rise." if steps.capped else "The target is reached."
    except ValueError:
        rungs, ended = (Rung(here, 0),), f"This dose is laid out unlike {card.name}’s target, so it stays."
    wanted, held = 0, 0
    for later in range(week + 1, len(cells) + 1):
        if later in program.lighter:
            kept.append(lighter_cell(card, kept[-1], settings))
            continue
        wanted += 1
        beside = planned(program, later, settings, without=line)
        top = min(wanted, len(rungs) - 1)
        at = next((k for k in range(top, 0, -1) if fits(card, rungs[k].dose, settings, times=times, before=beside)), 0)
        held = held or (later if at < top else 0)
        kept.append(print_line(rungs[at].dose, card.style))
    if held:
        return Filled(kept, f"From week {held} the other rows leave its muscles too little of the day to rise further.")
    return Filled(kept, ended if wanted >= len(rungs) else "")


def smaller(dose: Dose) -> Iterator[Dose]:
    """Ever smaller doses: fewer repetitions, then shorter holds, then fewer sets, then all of them together; sides that do not the
    same keep their share of each other."""
    if dose.uneven:
        yield from _shares(dose)
        return
    big = max(range(len(dose.phases)), key=lambda i: dose.phases[i].reps * (dose.phases[i].hold.amount + dose.phases[i].lead.amount))

    def with_phase(base: Dose, phase: Phase) -> Dose:
        return replace(base, phases=(*base.phases[:big], phase, *base.phases[big + 1 :]))

    shapes = [dose]
    sides = dose.sides
    if isinstance(sides, Together):
        shapes += [replace(dose, sides=Together(n)) for n in range(sides.sets - 1, 0, -1)]
    else:
        right, left = sides.right_sets, sides.left_sets
        while right > 1 or left > 1:
            right, left = (right - 1 if right >= left and right > 1 else right), (left - 1 if left >= right and left > 1 else left)
            shapes.append(replace(dose, sides=Apart(right, left_sets=left, alternate=sides.alternate)))
    for shape in shapes:
        phase = shape.phases[big]
        floor = min(phase.reps, 3)
        for reps in range(phase.reps - (shape is dose and phase.window is None), floor - 1, -1):
            yield with_phase(shape, replace(phase, reps=reps))
        timed = phase.window is None and phase.reps == 1 and not phase.lead.amount
        step = 5 if timed and phase.hold.amount > 20 else 1
        hold = phase.hold.amount - step
        while hold >= 1:
            yield with_phase(shape, replace(phase, reps=floor if phase.window is None else 1, hold=Span(hold, phase.hold.unit)))
            hold -= step
    last = with_phase(shapes[-1], replace(shapes[-1].phases[big], reps=1))
    yield last


def _shares(dose: Dose) -> Iterator[Dose]:
    """All phases at ever smaller shares, down to a twentieth."""

    def at(phase: Phase, share: float) -> Phase:
        if phase.reps > 1:
            return replace(phase, reps=max(1, round(phase.reps * share)))
        amount = phase.hold.amount
        return replace(phase, hold=Span(float(max(1, int(amount * share))), phase.hold.unit)) if amount > 1 else phase

    for twentieths in range(19, 0, -1):
        yield dose.with_phases(tuple(at(p, twentieths / 20) for p in dose.all_phases))


def within(dose: Dose, fits: Callable[[Dose], bool]) -> Dose | None:
    """The first of the ever smaller doses that fits; None when none does."""
    return next((d for d in smaller(dose) if fits(d)), None)


def lighter_cell(card: Card, text: str, settings: Settings) -> str:
    """A dose at about the practice's share of its load; what does not contract, or cannot be read, stays as it is."""
    cell = read_cell(text, card)
    if cell.dose is None or not card.family.contracts:
        return text
    most = load_s(cell.dose, settings.pace_s) * settings.lighter
    dose = within(cell.dose, lambda d: load_s(d, settings.pace_s) <= most + 1e-9)
    return print_line(dose, card.style) if dose else text


def lighten(program: Program, week: int, settings: Settings) -> Program:
    """Put a lighter week in: the doses of the week before it, made smaller; all later weeks move on by one.

    A week that is lighter already is taken out again, and the later weeks move back. Raises ValueError for the first week.
    """
    if not 2 <= week <= program.weeks:
        raise ValueError("the first week is light already; choose a later one")
    if week in program.lighter:
        lines = tuple(replace(n, cells=(*n.cells[: week - 1], *n.cells[week:], n.cells[-1])) for n in program.lines)
        return replace(program, lines=lines, lighter=frozenset(w - (w > week) for w in program.lighter - {week}))

    def cells(line: Line) -> tuple[str, ...]:
        return (*line.cells[: week - 1], lighter_cell(line.card, line.cells[week - 2], settings), *line.cells[week - 1 : -1])

    later = frozenset(w + (w >= week) for w in program.lighter if w + (w >= week) <= program.weeks)
    return replace(program, lines=tuple(replace(n, cells=cells(n)) for n in program.lines), lighter=later | {week})


def rung_back(line: Line, week: int, back: int, pace_s: float, lighter: Collection[int] = ()) -> str:
    """The cell of a week, ``back`` rungs lower: the rungs of a line are its own smaller doses in the weeks before, without
    those that were made ``lighter``, which are no rungs.

    On its first rung a line stays where it is; a cell that cannot be read stays as it is.
    """
    if not back:
        return line.cells[week - 1]
    here = max((w for w in range(1, week + 1) if w not in lighter), default=week)
    text = line.cells[here - 1]
    dose = read_cell(text, line.card).dose
    for _ in range(back):
        if dose is None:
            return text
        load = load_s(dose, pace_s)
        for before in (w for w in range(here - 1, 0, -1) if w not in lighter):
            lower = read_cell(line.cells[before - 1], line.card).dose
            if lower is not None and load_s(lower, pace_s) < load - 1e-9:
                here, text, dose = before, line.cells[before - 1], lower
                break
    return text


def eased_line(line: Line, week: int, back: int, pace_s: float, lighter: Collection[int] = ()) -> Line:
    """The line with the cell of one week put ``back`` rungs lower."""
    if not back:
        return line
    cells: Sequence[str] = line.cells
    return replace(line, cells=(*cells[: week - 1], rung_back(line, week, back=back, pace_s=pace_s, lighter=lighter), *cells[week:]))
