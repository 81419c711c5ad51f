"""Checks of the day: no exercise and no muscle gets more than it bears, whatever rows, rounds and programs it comes from."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import partial

from dimbo.core.design.weeks import Compiled
from dimbo.core.exercises.card import Card, CeilingBasis
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.programs.daily_ceilings import NOTHING, Passed, Spent, counted_in_times, fits, name_of, passed, planned, takes, too_long
from dimbo.core.programs.program import Line, Settings
from dimbo.core.programs.progression import within
from dimbo.core.text import clock, join_words, list_weeks

from .base import Fix, Note, Weight
from .dose import rests, with_cells


def _amount(card: Card, value: float) -> str:
    return f"{value:.0f} times" if counted_in_times(card) else clock(value)


def _days(c: Compiled) -> dict[int, Spent]:
    """What one day of each week takes of the ceilings, all rows of this program together."""
    return {w.number: c.day(w.number) for w in c.weeks}


def _own(card: Card, day: Spent, settings: Settings) -> Passed | None:
    return next((p for p in passed(card, day, settings) if p.muscle is None), None)


def ceiling(c: Compiled) -> Iterator[Note]:
    """An exercise that passes its daily ceiling, all its rows and rounds of the day together."""
    days = _days(c)
    for line in {n.card.id: n for n in reversed(c.program.lines)}.values():
        card = line.card
        over = {w: p for w, day in days.items() if (p := _own(card, day, c.settings))}
        if not over:
            continue
        worst = max(over.values(), key=lambda p: p.used)
        who = "each side" if card.style.side_rule.value == "together" else f"the {worst.side.value} side"
        what = {CeilingBasis.CONTRACTION: "works", CeilingBasis.HANDS_ON: "is handled", CeilingBasis.TIMES: "is asked"}[card.ceiling.basis]
        rows = sum(n.card.id == card.id for n in c.program.lines)
        lowered = _lowered(c, line, tuple(over)) if rows == 1 else None
        yield Note(
            rule="ceiling",
            weight=Weight.STOP,
            text=f"{card.name}, {list_weeks(tuple(over))}: {who} {what} {_amount(card, worst.used)} a day; "
            f"the ceiling is {_amount(card, worst.most)}.",
            remedy="Shorten the hold, or take a set or repetitions away.",
            line=line.id,
            weeks=tuple(over),
            fix=Fix(f"Keep {next(iter(lowered.values()))}", partial(with_cells, line_id=line.id, cells=lowered)) if lowered else None,
        )


def longest_hold(c: Compiled) -> Iterator[Note]:
    """A hold or a fixed window that is longer by the clock than its exercise allows, whatever the ceiling leaves."""
    for line in c.program.lines:
        over = {w: found for w, item in c.items[line.id].items() if (found := too_long(line.card, item.dose, c.settings.pace_s))}
        if over:
            worst = max(over.values(), key=lambda t: t.seconds)
            held = worst.what == "hold"
            yield Note(
                rule="longest-hold",
                weight=Weight.STOP,
                text=f"{line.card.name}, {list_weeks(tuple(over))}: {'held' if held else 'a window of'} {worst.seconds:g} s; "
                f"{worst.most:g} s is the most.",
                remedy=f"Write h{worst.most:g}." if held else f"Write {worst.most:g} s as the window; seconds keep it at any count pace.",
                line=line.id,
                weeks=tuple(over),
            )


def _lowered(c: Compiled, line: Line, weeks: tuple[int, ...], beside: Mapping[int, Spent] | None = None) -> dict[int, str] | None:
    """The cells of weeks that pass a ceiling, each lowered until it fits with what is ``beside`` it; None when one cannot be."""
    out = {}
    for week in weeks:
        before = beside[week] if beside else NOTHING
        dose = within(
            c.items[line.id][week].dose,
            lambda d, before=before: fits(line.card, d, c.settings, times=c.program.times_a_day(line), before=before),  # type: ignore[misc]
        )
        if dose is None:
            return None
        out[week] = print_line(dose, line.card.style)
    return out


def muscle_ceiling(c: Compiled) -> Iterator[Note]:
    """A muscle that works more in a day than it bears on a side, all its exercises together."""
    days = _days(c)
    over: dict[str, dict[int, Passed]] = {}
    for card in {n.card.id: n.card for n in c.program.lines}.values():
        for week, day in days.items():
            for p in passed(card, day, c.settings):
                if p.muscle is not None:
                    over.setdefault(p.muscle, {})[week] = p
    for muscle, weeks in over.items():
        worst = max(weeks, key=lambda w: weeks[w].used)
        loads = {n.id: _of_muscle(c, n, muscle, worst) for n in c.program.lines}
        busy = [n for n in c.program.lines if loads[n.id] > 0]
        most = max(busy, key=lambda n: loads[n.id])
        names = join_words(list(dict.fromkeys(n.card.name for n in sorted(busy, key=lambda n: -loads[n.id])))[:3])
        also = f" and {len(busy) - 3} more" if len(busy) > 3 else ""
        used = days[worst].muscles[muscle]
        side = "each side" if used.right == used.left else f"the {used.busier.value} side"
        yield Note(
            rule="muscle-ceiling",
            weight=Weight.STOP,
            text=f"{_name(most.card, muscle)}, {list_weeks(tuple(weeks))}: {side} works {clock(weeks[worst].used)} a day "
            f"with {names}{also}; {clock(weeks[worst].most)} is the most.",
            remedy="Leave one of them out, or shorten them.",
            line=most.id if len(busy) == 1 else None,
            weeks=tuple(weeks),
            fix=_eased_off(c, most, muscle, tuple(weeks)),
        )


def _name(card: Card, muscle: str) -> str:
    """A muscle of a card as a sentence begins with it."""
    name = name_of(card, muscle)
    return f"{name[0].upper()}{name[1:]}"


def _of_muscle(c: Compiled, line: Line, muscle: str, week: int) -> float:
    item = c.items[line.id].get(week)
    if item is None:
        return 0.0
    own = takes(line.card, item.dose, c.settings.pace_s).muscles.get(muscle)
    return c.program.times_a_day(line) * max(own.right, own.left) if own else 0.0


def _eased_off(c: Compiled, line: Line, muscle: str, weeks: tuple[int, ...]) -> Fix:
    """The row that loads a muscle most is shortened until the day fits, or rests in those weeks."""
    mine = tuple(w for w in weeks if w in c.items[line.id])
    others = {w: planned(c.program, w, c.settings, without=line) for w in mine}
    lowered = _lowered(c, line, mine, others)
    if lowered:
        return Fix(f"Shorten {line.card.name}", partial(with_cells, line_id=line.id, cells=lowered))
    return Fix(f"Rest {line.card.name} in {list_weeks(mine)}", partial(rests, line_id=line.id, weeks=mine))


def ceiling_beside(c: Compiled) -> Iterator[Note]:
    """An exercise or a muscle that passes its daily ceiling together with another program of the client."""
    days = _days(c) if c.about.beside else {}
    said: set[tuple[str, str]] = set()
    for line in {n.card.id: n for n in c.program.lines}.values():
        for other in c.about.beside:
            over: dict[str | None, dict[int, Passed]] = {}
            for week, day in days.items():
                alone = {p.muscle for p in passed(line.card, day, c.settings)}
                for p in passed(line.card, day.plus(other.used), c.settings):
                    shared = line.card.id in other.used.exercises if p.muscle is None else p.muscle in other.used.muscles
                    if p.muscle not in alone and shared:
                        over.setdefault(p.muscle, {})[week] = p
            for muscle, weeks in over.items():
                name = line.card.name if muscle is None else _name(line.card, muscle)
                if (name, other.title) in said:
                    continue
                said.add((name, other.title))
                worst = max(weeks.values(), key=lambda p: p.used)
                amounts = [_amount(line.card, x) if muscle is None else clock(x) for x in (worst.used, worst.most)]
                yield Note(
                    rule="ceiling-beside",
                    weight=Weight.WATCH,
                    text=f"{name}, {list_weeks(tuple(weeks))}: with “{other.title}”, which runs now, a day takes {amounts[0]}; "
                    f"the ceiling is {amounts[1]}.",
                    remedy="Start after it has ended, or leave the exercise out of one of them.",
                    line=line.id,
                    weeks=tuple(weeks),
                )
