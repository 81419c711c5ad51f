"""Checks of what the body gets over a week: rest days, opposing muscles, right and left."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import partial

from dimbo.core.anatomy import Family, Side
from dimbo.core.calendar.schedule import nested, week_days
from dimbo.core.design.weeks import Compiled
from dimbo.core.exercises.approach import BIASED, BOTH_SIDES, WEAK_ONLY, approach
from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose import DEFAULT_PACE_S, Apart, Dose
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.programs.program import Line, Program, When, read_cell
from dimbo.core.safety.cautions import Effect
from dimbo.core.text import clock, join_words, list_weeks

from .base import Fix, Note, Weight
from .session import with_card

SPEAKS_FOR: Mapping[str, tuple[str, ...]] = {
    "levator_palpebrae": ("fissure_height",),
    "frontalis": ("brow_height",),
    "zygomaticus_major": ("commissure_height",),
    "zygomaticus_minor": ("commissure_height",),
    "levator_anguli_oris": ("commissure_height",),
}
"""The readings that speak for a muscle when its exercise gives one side more. The ring of the eye closes it: how far an eye opens says
nothing for it."""
UP = ("zygomaticus_major", "zygomaticus_minor", "levator_labii", "levator_anguli_oris")
DOWN = ("depressor_anguli_oris", "platysma", "depressor_labii")
LEAST_S = 120.0
"""Below this much contraction a week a balance of muscles says nothing, in seconds."""


STRENGTH = (Family.CONTRACT, Family.RESIST)
"""Families that train strength; aligning works with as little as it can."""
SMALL_S = 90.0
"""A day's contraction of one exercise below this needs no rest day, in seconds."""


def rest_days(c: Compiled) -> Iterator[Note]:
    """Strength on two days in a row in the early weeks, by an exercise that starts with fewer days and whose load is not small."""
    early = int(c.settings.early_weeks)
    found: dict[str, list[int]] = {}
    for week in c.weeks[:early]:
        on = week_days(week.sessions)
        for line in c.program.lines:
            if week.number not in c.items[line.id] or line.card.family not in STRENGTH or line.stage.value != "work":
                continue
            load = c.items[line.id][week.number].contraction(c.settings.pace_s)
            if max(load.right, load.left) * c.program.times_a_day(line) < SMALL_S:
                continue
            days = [on[i] for i in nested(line.days_in(week.number, week.sessions), sessions=week.sessions)]
            if line.card.start_sessions < len(days) and any(b - a == 1 for a, b in itertools.pairwise(days)):
                found.setdefault(line.id, []).append(week.number)
    if not found:
        return
    first = next(n for n in c.program.lines if n.id in found)
    names = [n.card.name for n in c.program.lines if n.id in found]
    who = join_words(names) if len(names) <= 3 else f"{names[0]} and {len(names) - 1} more"
    weeks = tuple(sorted({w for ws in found.values() for w in ws}))
    yield Note(
        rule="rest-days",
        weight=Weight.WATCH,
        text=f"{who}: strained on days in a row in {list_weeks(weeks)}.",
        remedy="In the first weeks a worked muscle rests a day; two or three days a week are enough.",
        line=first.id if len(found) == 1 else None,
        weeks=weeks,
        fix=Fix("Three days a week at first", partial(_fewer_days, ids=tuple(found), early=early)),
    )


def _fewer_days(program: Program, ids: tuple[str, ...], early: int) -> Program:
    def days(line: Line) -> tuple[float, ...]:
        return tuple(
            min(line.days_in(w, s), 3, line.card.start_sessions + 1) if w <= early else line.days_in(w, s)
            for w, s in enumerate(program.sessions, start=1)
        )

    return replace(program, lines=tuple(replace(n, days=days(n)) if n.id in ids else n for n in program.lines))


def strength_days(c: Compiled) -> Iterator[Note]:
    """An exercise of strength on more days of a week than it may be done."""
    most = int(c.settings.strength_days)
    found: dict[str, list[int]] = {}
    for week in c.weeks:
        for line in c.program.lines:
            if line.card.strength and week.number in c.items[line.id] and line.days_in(week.number, week.sessions) > most:
                found.setdefault(line.id, []).append(week.number)
    if not found:
        return
    names = list(dict.fromkeys(n.card.name for n in c.program.lines if n.id in found))
    who = join_words(names) if len(names) <= 3 else f"{len(names)} exercises of strength"
    weeks = tuple(sorted({w for ws in found.values() for w in ws}))
    yield Note(
        rule="strength-days",
        weight=Weight.STOP,
        text=f"{who}: more than {most} days a week in {list_weeks(weeks)}. What works against something rests {7 - most} days of seven.",
        remedy="Take a day or two away.",
        line=next(iter(found)) if len(found) == 1 else None,
        weeks=weeks,
        fix=Fix(f"{most} days a week at most", partial(_at_most, ids=tuple(found), most=most)),
    )


def _at_most(program: Program, ids: tuple[str, ...], most: int) -> Program:
    def days(line: Line) -> tuple[float, ...]:
        return tuple(min(line.days_in(w, s), most) for w, s in enumerate(program.sessions, start=1))

    return replace(program, lines=tuple(replace(n, days=days(n)) if n.id in ids else n for n in program.lines))


def balance(c: Compiled) -> Iterator[Note]:
    """Elevators and depressors of the mouth far out of balance over a week."""
    limit = c.settings.balance
    over: dict[int, float] = {}
    for week in c.weeks:
        up, down = (max((max(s.right, s.left) for m, s in week.muscles.items() if m in names), default=0.0) for names in (UP, DOWN))
        if down > LEAST_S and down > up * limit:
            over[week.number] = down / up if up else math.inf
    if over:
        worst = max(over, key=lambda w: over[w])
        here = {n.card.id for n in c.program.lines}
        free = [k for k in c.about.cards.values() if set(UP) & set(k.prime_movers) and k.family.contracts and k.id not in here]
        fit = [k for k in free if not k.after and c.about.cautions.of(k).effect in (None, Effect.REMIND)]
        lifts = max(fit, key=lambda k: (k.foundation, len(set(UP) & set(k.prime_movers))), default=None)
        told = "and nothing lifts them" if over[worst] == math.inf else f"{over[worst]:.1f} times as much as what lifts them"
        yield Note(
            rule="balance",
            weight=Weight.WATCH,
            text=f"{list_weeks(tuple(over)).capitalize()}: what pulls the corners down works {told}.",
            remedy="Add cheek work, or lower the neck and chin work.",
            line=None,
            weeks=tuple(over),
            fix=Fix(f"Add {lifts.name}", partial(with_card, card=lifts, settings=c.settings)) if lifts else None,
        )


def _bias(dose: Dose) -> Side | None:
    """The side that a dose gives more to."""
    s = dose.sides
    if not isinstance(s, Apart):
        return None
    right, left = (dose.hands_on_s(x, DEFAULT_PACE_S) if dose.uneven else float(dose.runs_of(x)) for x in Side)
    return None if right == left else Side.RIGHT if right > left else Side.LEFT


def biased(line: Line, text: str, side: Side | None, asymmetry: str) -> str:
    """A cell with its sets laid out for a weaker side (3 to 2, or that side alone), or level when ``side`` is None.

    Level sets are those of the lesser side, at least one. What is not laid out by side stays as it is.
    """
    dose = read_cell(text, line.card).dose
    if dose is None or not isinstance(dose.sides, Apart):
        return text
    now = dose.sides
    if side is None:
        level = max(1, min(now.right_sets, now.left_sets))
        sides = Apart(level, left_sets=level, alternate=now.alternate)
        phases = min((dose.phases_of(s) for s in Side), key=lambda own: sum(p.seconds(DEFAULT_PACE_S) for p in own))
        dose = Dose(phases, dose.sides, dose.rest)
    elif asymmetry == WEAK_ONLY:
        sets = max(now.right_sets, now.left_sets)
        sides = Apart(sets, left_sets=0) if side is Side.RIGHT else Apart(0, left_sets=sets)
        dose = Dose(dose.phases_of(side), dose.sides, dose.rest)
    else:
        less = max(1, min(now.right_sets, now.left_sets)) if min(now.right_sets, now.left_sets) else 1
        more = less + (less + 1) // 2
        sides = Apart(more, left_sets=less) if side is Side.RIGHT else Apart(less, left_sets=more)
    return print_line(replace(dose, sides=sides), line.card.style)


def lay_sides(program: Program, line_id: str, side: Side | None) -> Program:
    """All weeks of a row laid out for a weaker side, as the program's approach does it; level when ``side`` is None."""
    line = next(n for n in program.lines if n.id == line_id)
    how = approach(program.approach).asymmetry
    return program.with_line(line_id, cells=tuple(biased(line, text, side, how) for text in line.cells))


def bias(c: Compiled) -> Iterator[Note]:
    """More for one side without a reading beyond noise, for the wrong side, or none although there is one."""
    how = approach(c.program.approach).asymmetry
    level: dict[tuple[Side, str], list[Line]] = {}
    for line in c.program.lines:
        if line.card.style.side_rule is not SideRule.WEAK:
            continue
        sides = {w: _bias(item.dose) for w, item in c.items[line.id].items()}
        given = {s for s in sides.values() if s}
        keys = [k for m in line.card.prime_movers for k in SPEAKS_FOR.get(m, ()) if k in c.about.bias]
        if not keys:
            if given:
                more = next(iter(given))
                weeks = tuple(w for w, s in sides.items() if s)
                yield Note(
                    rule="bias-unmeasured",
                    weight=Weight.WATCH,
                    text=f"{line.card.name} gives the {more.value} side more, and no reading shows a side yet.",
                    remedy="Take a sitting, or keep both sides alike.",
                    line=line.id,
                    weeks=weeks,
                    fix=Fix("Both sides alike", partial(lay_sides, line_id=line.id, side=None)),
                )
            continue
        told = next((c.about.bias[k] for k in keys if c.about.bias[k].take != "off"), c.about.bias[keys[0]])
        weak = told.side if told.take != "off" else None
        wrong = tuple(w for w, s in sides.items() if s and s is not weak)
        if wrong:
            side = sides[wrong[0]]
            assert side
            yield Note(
                rule="bias-unfounded",
                weight=Weight.WATCH,
                text=f"{line.card.name} gives the {side.value} side more. {told.because}",
                remedy="Bias only while the reading is beyond noise, and for the side that it names.",
                line=line.id,
                weeks=wrong,
                fix=Fix(f"Give the {weak.value} side more" if weak else "Both sides alike", partial(lay_sides, line_id=line.id, side=weak)),
            )
        elif weak and not given and how in (BIASED, WEAK_ONLY):
            level.setdefault((weak, told.because), []).append(line)
        elif weak and given and how == BOTH_SIDES:
            yield Note(
                rule="bias-school",
                weight=Weight.REMARK,
                text=f"{line.card.name} gives the {weak.value} side more; this approach works both sides alike, in the mirror.",
                remedy="",
                line=line.id,
                weeks=tuple(sides),
                fix=Fix("Both sides alike", partial(lay_sides, line_id=line.id, side=None)),
            )
    for (weak, because), lines in level.items():
        names = join_words([n.card.name for n in lines])
        yield Note(
            rule="bias-missing",
            weight=Weight.REMARK,
            text=f"{because} {names}: both sides get the same.",
            remedy="",
            line=lines[0].id,
            weeks=(),
            fix=Fix(f"Give the {weak.value} side more, {how}", partial(_lay_all, ids=tuple(n.id for n in lines), side=weak)),
        )


def _leaning(c: Compiled, line: Line) -> dict[str, Side]:
    """The readings that speak for what a row works, where it gives one side more in every week, and that side."""
    given = {s for i in c.items[line.id].values() if (s := _bias(i.dose))}
    if len(given) != 1:
        return {}
    (side,) = given
    return {k: side for m in line.card.prime_movers for k in SPEAKS_FOR.get(m, ())}


def _kept(c: Compiled, line: Line) -> dict[str, Side]:
    """The readings that say that a row is right to give a side more in every week, and that side."""
    said = {k: bias.side for k, bias in c.about.bias.items() if bias.take != "off"}
    return {k: side for k, side in _leaning(c, line).items() if said.get(k) is side}


def kept_bias(c: Compiled) -> Iterator[tuple[Side, str, list[Line]]]:
    """Rows that give the weaker side more while its reading says so: the side, what the reading says, and the rows."""
    found: dict[tuple[Side, str], list[Line]] = {}
    for line in c.program.lines:
        for key, side in list(_kept(c, line).items())[:1]:
            found.setdefault((side, c.about.bias[key].because), []).append(line)
    for (side, because), lines in found.items():
        yield side, because, lines


def favoured(c: Compiled) -> dict[str, Side]:
    """The side that a program gives more, by each reading that says so."""
    return {key: side for line in c.program.lines for key, side in _kept(c, line).items()}


def leaning(c: Compiled) -> dict[str, Side]:
    """The side that a program gives more, by each reading that could say so, whatever it says or whether anybody saw it."""
    return {key: side for line in c.program.lines for key, side in _leaning(c, line).items()}


def _lay_all(program: Program, ids: tuple[str, ...], side: Side) -> Program:
    for line_id in ids:
        program = lay_sides(program, line_id, side)
    return program


def both_parts(c: Compiled) -> Iterator[Note]:
    """Hard work on the same exercise morning and evening."""
    twice = [n for n in c.program.lines if n.when is When.BOTH and n.stage.value == "work" and n.card.family.contracts]
    for line in twice:
        worst = max((max(s.right, s.left) for i in c.items[line.id].values() if (s := i.contraction(c.settings.pace_s))), default=0.0)
        if worst:
            yield Note(
                rule="twice-a-day",
                weight=Weight.REMARK,
                text=f"{line.card.name} is worked morning and evening, {clock(2 * worst)} a day at most.",
                remedy="Once a day is enough for strength.",
                line=line.id,
                weeks=(),
                fix=Fix("Morning only", lambda program, i=line.id: program.with_line(i, when=When.MORNING)),  # type: ignore[misc]
            )
