"""Checks of a session: its order, what prepares and what releases, how an evening ends."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import partial

from dimbo.core.anatomy import STAGE_ORDER, Family, Stage
from dimbo.core.design.weeks import Compiled
from dimbo.core.exercises.approach import approach
from dimbo.core.exercises.card import Card
from dimbo.core.programs.ordering import Broken, broken, propose
from dimbo.core.programs.program import Line, Program, Settings, When, days_within
from dimbo.core.programs.progression import axes_for, first_cells
from dimbo.core.safety.cautions import Effect
from dimbo.core.text import join_words

from .base import Fix, Note, Weight

HARD_S = 20.0
"""Contraction of one exercise in one session from which it counts as hard work, in seconds."""


def in_order(program: Program) -> Program:
    """The program in the proposed order; circuits that would be torn apart are given up."""
    lines = tuple(p.line for p in propose(program.lines))
    order = [n.id for n in lines]
    kept = tuple(c for c in program.circuits if tuple(order[order.index(c.lines[0]) : order.index(c.lines[0]) + len(c.lines)]) == c.lines)
    return replace(program, lines=lines, circuits=kept)


def line_id(program: Program, card: Card) -> str:
    """A free id for a new row of an exercise."""
    taken, number = {n.id for n in program.lines}, 1
    while (name := f"{card.id}-{number}"[:40]) in taken:
        number += 1
    return name


def with_card(program: Program, card: Card, settings: Settings, when: When = When.MORNING, why: str = "") -> Program:
    """The program with one exercise more, where its stage and the rules of order put it.

    One that is there in the other session of the day only is done in both.
    """
    there = next((n for n in program.lines if n.card.id == card.id and when not in n.when.parts), None)
    if there is not None:
        line = replace(there, when=When.BOTH)
    else:
        axes = axes_for(card, approach(program.approach))
        cells = first_cells(card, program.weeks, settings, axes=axes)
        days = days_within(card, program.sessions, given=None, settings=settings)
        line = Line(id=line_id(program, card), card=card, stage=card.stage, cells=cells, when=when, days=days, why=why)
    others = tuple(n for n in program.lines if n is not there)
    places = [p.line.id for p in propose((*others, line))]
    mine = places.index(line.id)
    # Where the coach's own order differs: what prepares goes before the first row that it prepares, what releases goes
    # behind the last row that it releases.
    if STAGE_ORDER[card.stage] > STAGE_ORDER[Stage.WORK]:
        at = max((i + 1 for i, n in enumerate(others) if n.id in places[:mine]), default=0)
    else:
        at = min((i for i, n in enumerate(others) if n.id in places[mine:]), default=len(others))
    lines = (*others[:at], line, *others[at:])
    circuits = tuple(c for c in program.circuits if not _splits(c.lines, lines))
    return replace(program, lines=lines, circuits=circuits)


def _splits(circuit: tuple[str, ...], lines: tuple[Line, ...]) -> bool:
    order = [n.id for n in lines]
    first = order.index(circuit[0])
    return tuple(order[first : first + len(circuit)]) != circuit


def _add(c: Compiled, card: Card | None, when: When = When.MORNING) -> Fix | None:
    return Fix(f"Add {card.name}", lambda program: with_card(program, card, c.settings, when)) if card else None


def _pick(
    c: Compiled,
    part: When,
    families: tuple[Family, ...],
    muscles: frozenset[str] = frozenset(),
    stages: tuple[Stage, ...] = (),
    first: frozenset[str] = frozenset(),
) -> Card | None:
    """A card to add: of these families and stages, for one of the muscles that come ``first`` and for most of the others, not
    in that session already, never a locked one, and one that is eased only when there is no other."""
    here = {n.card.id for n in c.program.lines if part in n.when.parts}
    fit = [
        card
        for card in c.about.cards.values()
        if card.family in families
        and (not stages or card.stage in stages)
        and card.id not in here
        and not card.marks & {"lip-stretch", "head-back", "head-tilt"}
        and (not muscles or muscles & set(card.shares))
        and (not first or first & set(card.shares))
        and c.about.cautions.of(card).effect is not Effect.LOCK
    ]

    def wanted(card: Card) -> tuple[bool, int, int, bool]:
        eased = c.about.cautions.of(card).effect is Effect.EASE
        return (not eased, len(muscles & set(card.prime_movers)), -len(card.needs), card.pressure != "firm")

    return max(fit, key=wanted, default=None)


def _out_of_order(lines: Sequence[Line]) -> list[Broken]:
    return broken([n for n in lines if n.stage is not Stage.DAY])


def order(c: Compiled) -> Iterator[Note]:
    """Rows that stand where the rules of order do not want them; one note for each rule that is broken.

    Where the rules speak against each other, as with oil that loosens before work inside the mouth, putting all in order
    does not help, and is not offered.
    """
    by_rule: dict[str, list[tuple[Line, Line]]] = {}
    found = _out_of_order(c.program.lines)
    if not found:
        return
    left = Counter(b.constraint.id for b in _out_of_order(in_order(c.program).lines))
    for b in found:
        by_rule.setdefault(b.constraint.id, []).append((b.line, b.behind))
    rules = {b.constraint.id: b.constraint for b in found}
    for rule, pairs in by_rule.items():
        line, behind = pairs[0]
        more = f", and {len(pairs) - 1} more" if len(pairs) > 1 else ""
        if rule == "stage-order":
            text = f"{line.card.name} belongs to {line.stage.value}, which comes before {behind.stage.value}{more}."
        else:
            text = f"{line.card.name} stands behind {behind.card.name}{more}. {rules[rule].says}"
        if rule == "mouth-before-oil":
            text += f" Washing takes {c.settings.oil_change_over_s:.0f} s and is counted."
        soft = rule in ("large-first", "mouth-before-oil", "outward")
        helps = left[rule] < len(pairs)
        step = "Move it up among its own." if helps else "Graver rules of order keep it there; move it against them only on purpose."
        fix = Fix("Put all in order", in_order) if helps else None
        yield Note(rule=rule, weight=Weight.REMARK if soft else Weight.WATCH, text=text, remedy=step, line=line.id, weeks=(), fix=fix)


def foundations(c: Compiled) -> Iterator[Note]:
    """An exercise whose foundation is missing or comes after it."""
    place = {n.card.id: i for i, n in reversed(list(enumerate(c.program.lines)))}
    for i, line in enumerate(c.program.lines):
        for needed, name in line.card.after:
            if needed not in place:
                yield Note(
                    rule="foundation",
                    weight=Weight.WATCH,
                    text=f"{line.card.name} builds on {name}, which this program leaves out.",
                    remedy=f"Add {name} above it.",
                    line=line.id,
                    weeks=(),
                    fix=_add(c, c.about.cards.get(needed), line.when.parts[0]),
                )
            elif place[needed] > i:
                yield Note(
                    rule="foundation",
                    weight=Weight.WATCH,
                    text=f"{line.card.name} stands before its foundation, {name}.",
                    remedy="Move it below.",
                    line=line.id,
                    weeks=(),
                    fix=Fix(f"Move it below {name}", partial(_below, line_id=line.id, card_id=needed)),
                )


def _below(program: Program, line_id: str, card_id: str) -> Program:
    line = next(n for n in program.lines if n.id == line_id)
    others = [n for n in program.lines if n.id != line_id]
    at = next(i for i, n in enumerate(others) if n.card.id == card_id) + 1
    lines = (*others[:at], line, *others[at:])
    return replace(program, lines=lines, circuits=tuple(k for k in program.circuits if not _splits(k.lines, lines)))


def _hard(c: Compiled, line: Line, part: When) -> bool:
    if part not in line.when.parts or line.stage is not Stage.WORK or not line.card.family.contracts:
        return False
    loads = [item.contraction(c.settings.pace_s) for item in c.items[line.id].values()]
    return max((max(s.right, s.left) for s in loads), default=0.0) >= HARD_S


def prepared(c: Compiled) -> Iterator[Note]:
    """A session with work and nothing that prepares or wakes."""
    for part in c.program.parts:
        work = [n for n in c.program.lines if _hard(c, n, part)]
        ready = any(n.stage in (Stage.PREPARE, Stage.LOOSEN, Stage.WAKE) and part in n.when.parts for n in c.program.lines)
        if work and not ready:
            card = _pick(c, part, (Family.BREATHE, Family.TAP), stages=(Stage.PREPARE, Stage.WAKE))
            yield Note(
                rule="prepared",
                weight=Weight.WATCH,
                text=_in(c, part, "starts with work"),
                remedy="Begin with breath, posture or taps.",
                line=None,
                weeks=(),
                fix=_add(c, card, part),
            )


def _in(c: Compiled, part: When, what: str) -> str:
    return f"The {part.value} session {what}." if len(c.program.parts) > 1 else f"The session {what}."


def _at(c: Compiled, part: When) -> str:
    """Names the session where a day has two."""
    return f" in the {part.value}" if len(c.program.parts) > 1 else ""


_LOOSENS = (Family.RELEASE, Family.STRETCH, Family.MOBILISE, Family.TAP, Family.PRESS)
_LETS_GO = (Family.RELEASE, Family.STRETCH, Family.PRESS, Family.BREATHE)


def loosened(c: Compiled) -> Iterator[Note]:
    """Hard work on a region that nothing loosens or wakes before."""
    for part in c.program.parts:
        touched: set[str] = set()
        bare = []
        for line in c.program.lines:
            if _hard(c, line, part) and not touched & {*line.card.prime_movers, *line.card.home}:
                bare.append(line)
            soft = line.card.family in _LOOSENS and line.stage in (Stage.PREPARE, Stage.LOOSEN, Stage.WAKE)
            if soft and part in line.when.parts:
                touched |= {*line.card.shares, *line.card.regions}
        if bare:
            wanted = frozenset(m for n in bare for m in n.card.prime_movers)
            card = _pick(c, part, _LOOSENS, wanted, stages=(Stage.LOOSEN, Stage.WAKE), first=frozenset(bare[0].card.prime_movers))
            names = join_words(list(dict.fromkeys(n.card.name for n in bare))[:3])
            yield Note(
                rule="loosened",
                weight=Weight.REMARK,
                text=f"{names}{_at(c, part)}: nothing loosens or wakes the place before.",
                remedy="",
                line=bare[0].id,
                weeks=(),
                fix=_add(c, card, part),
            )


def released(c: Compiled) -> Iterator[Note]:
    """Hard work of which no prime mover is let go of afterwards in the same session."""
    for part in c.program.parts:
        open_lines: dict[str, Line] = {}
        for line in c.program.lines:
            if part not in line.when.parts or line.stage is Stage.DAY:
                continue
            if _hard(c, line, part):
                open_lines[line.id] = line
            elif line.card.family in _LETS_GO:
                soft = set(line.card.shares)
                for hard in list(open_lines.values()):
                    if soft & set(hard.card.prime_movers):
                        del open_lines[hard.id]
        if open_lines:
            first = next(iter(open_lines.values()))
            names = join_words(list(dict.fromkeys(n.card.name for n in open_lines.values()))[:3])
            wanted = frozenset(m for n in open_lines.values() for m in n.card.prime_movers)
            card = _pick(c, part, _LETS_GO, wanted, stages=(Stage.RELEASE, Stage.CLOSE), first=frozenset(first.card.prime_movers))
            yield Note(
                rule="released",
                weight=Weight.WATCH,
                text=f"{names}{_at(c, part)}: a hard contraction is the last thing done to the muscle.",
                remedy="Release it afterwards.",
                line=first.id,
                weeks=(),
                fix=_add(c, card, part),
            )


def _to_morning(program: Program, line_id: str) -> Program:
    return program.with_line(line_id, when=When.MORNING)


def ends_calm(c: Compiled) -> Iterator[Note]:
    """A session that ends on hard work; an evening session also when its second half is mostly hard work."""
    for part in c.program.parts:
        own = [n for n in c.program.lines if part in n.when.parts and n.stage is not Stage.DAY]
        if own and own[-1].card.family.contracts and own[-1].stage is Stage.WORK:
            card = _pick(c, part, (Family.BREATHE,), stages=(Stage.CLOSE,))
            yield Note(
                rule="ends-calm",
                weight=Weight.WATCH,
                text=_in(c, part, "ends on hard work"),
                remedy="Add a release, a drain or a close after it.",
                line=own[-1].id,
                weeks=(),
                fix=_add(c, card, part),
            )
        elif part is When.EVENING:
            tail = own[len(own) // 2 :]
            hard = [n for n in tail if _hard(c, n, part)]
            if len(hard) * 2 > len(tail):
                yield Note(
                    rule="ends-calm",
                    weight=Weight.WATCH,
                    text=f"The second half of the evening is hard work: {join_words([n.card.name for n in hard][:3])}.",
                    remedy="Move hard work to the morning; an evening ends calm.",
                    line=hard[0].id,
                    weeks=(),
                    fix=Fix("Move it to the morning", partial(_to_morning, line_id=hard[0].id)),
                )


def drained(c: Compiled) -> Iterator[Note]:
    """Strokes in the face without a way to the collarbone after them."""
    for part in c.program.parts:
        own = [n for n in c.program.lines if part in n.when.parts]
        moved = [n for n in own if n.card.family is Family.DRAIN and "neck" not in n.card.regions]
        led = any(n.card.family is Family.DRAIN and "neck" in n.card.regions for n in own)
        if moved and not led:
            card = _pick(c, part, (Family.DRAIN,), stages=(Stage.DRAIN,))
            neck = c.about.cards.get("neck-side-drain")
            if neck and c.about.cautions.of(neck).effect is not Effect.LOCK:
                card = neck
            yield Note(
                rule="drained",
                weight=Weight.WATCH,
                text=f"{moved[-1].card.name}{_at(c, part)} moves fluid, and nothing leads it down the neck.",
                remedy="",
                line=moved[-1].id,
                weeks=(),
                fix=_add(c, card, part),
            )
