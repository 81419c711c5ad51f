"""The order within a session: constraints as data, an order that follows them, and what a coach's own order breaks.

Every constraint gives the lines it speaks of a rank; the order is kept when no line stands behind one of a higher rank.
A proposal sorts by all ranks in turn, foundations before what builds on them, and keeps the coach's order otherwise.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from dimbo.core.anatomy import STAGE_ORDER, Family, Stage

from .program import Line

FINE = frozenset({"eye", "nose", "mouth", "brow"})
"""Regions whose muscles are small."""
FLOW = ("eye", "nose", "cheek", "mouth", "chin", "jaw", "under the chin", "ear", "neck")
"""The way that drainage leads: from the middle outward, in front of the ear, down the side of the neck."""


def _main_regions(line: Line) -> frozenset[str]:
    return line.card.home or line.card.regions


def _up(line: Line) -> int:
    """How far up the body a line works: 0 shoulder, 1 neck, 2 scalp, ear, temple and jaw, 3 face."""
    regions = _main_regions(line)
    for rank, names in enumerate((("shoulder",), ("neck", "front of neck"), ("scalp", "ear", "temple", "jaw", "forehead"))):
        if any(n in regions for n in names):
            return rank
    return 3


def _size(line: Line) -> int:
    """0 for large muscles, 1 where all its prime movers are small ones."""
    regions = _main_regions(line)
    return int(bool(regions) and regions <= FINE)


def _outward(line: Line) -> int:
    """The place at which a drain ends on its way to the collarbone."""
    return max((FLOW.index(r) for r in line.card.regions if r in FLOW), default=0)


@dataclass(frozen=True)
class Constraint:
    """One rule of order. ``rank`` is None for lines that it does not speak of."""

    id: str
    says: str
    reason: Callable[[Line], str]
    rank: Callable[[Line], int | None]


def _in(stage: Stage, rank: Callable[[Line], int]) -> Callable[[Line], int | None]:
    return lambda line: rank(line) if line.stage is stage else None


def _clean(line: Line) -> int | None:
    return 0 if line.card.inside_mouth else 1 if line.card.oily else None


_POSTURE = {Family.ALIGN: 0, Family.BREATHE: 1}
_UP_WORDS = (
    "Shoulders come first.",
    "Neck after the shoulders.",
    "Scalp, temple and jaw before the face.",
    "Face last, when all above is loose.",
)

CONSTRAINTS: tuple[Constraint, ...] = (
    Constraint(
        "stage-order",
        says="Prepare, loosen, wake, work, release, drain, close: in this order.",
        reason=lambda n: f"{n.stage.value.capitalize()} stage.",
        rank=lambda n: STAGE_ORDER[n.stage],
    ),
    Constraint(
        "posture-first",
        says="Posture before breath.",
        reason=lambda n: "Posture before breath." if n.card.family is Family.ALIGN else "Breath, once the seat is tall.",
        rank=lambda n: _POSTURE.get(n.card.family) if n.stage is Stage.PREPARE else None,
    ),
    Constraint(
        "upward",
        says="Loosen the shoulders before the neck, and the neck before the face.",
        reason=lambda n: _UP_WORDS[_up(n)],
        rank=_in(Stage.LOOSEN, _up),
    ),
    Constraint(
        "foundation-first",
        says="Foundations come first in the work.",
        reason=lambda n: "Foundation, so it comes first." if n.card.foundation else "",
        rank=_in(Stage.WORK, lambda n: int(not n.card.foundation)),
    ),
    Constraint(
        "large-first",
        says="Large muscles before small ones.",
        reason=lambda n: "Small muscles after large ones." if _size(n) else "Large muscles first.",
        rank=lambda n: _size(n) if n.stage is Stage.WORK and not n.card.foundation else None,
    ),
    Constraint(
        "mouth-before-oil",
        says="Inside the mouth before the oil, or the hands are washed again.",
        reason=lambda n: "Inside the mouth, so before any oil." if n.card.inside_mouth else "Oil from here on.",
        rank=_clean,
    ),
    Constraint(
        "outward",
        says="Drain from the middle outward, and end toward the collarbone.",
        reason=lambda n: (
            "Drains from the middle outward." if _outward(n) < FLOW.index("ear") else "Ends at the side of the neck, toward the collarbone."
        ),
        rank=_in(Stage.DRAIN, _outward),
    ),
)
"""All rules of order, the gravest first."""


@dataclass(frozen=True, slots=True)
class Broken:
    """A place that breaks a rule of order: ``line`` stands behind ``behind``, which belongs after it."""

    constraint: Constraint
    line: Line
    behind: Line


def broken(lines: Sequence[Line]) -> list[Broken]:
    """Every line that stands behind one which belongs after it; each rule speaks of a line once."""
    out = []
    for constraint in CONSTRAINTS:
        worst: tuple[int, Line] | None = None
        for line in lines:
            rank = constraint.rank(line)
            if rank is None:
                continue
            if worst is not None and rank < worst[0]:
                out.append(Broken(constraint, line, behind=worst[1]))
            else:
                worst = (rank, line)
    return out


@dataclass(frozen=True, slots=True)
class Placed:
    """A line in its proposed place, with the reason for it."""

    line: Line
    reason: str


def _key(line: Line) -> tuple[int, ...]:
    clean = _clean(line)
    return (
        STAGE_ORDER[line.stage],
        *((r if r is not None else 0) for c in CONSTRAINTS[1:4] for r in [c.rank(line)]),
        # Oil comes last in its stage; a drain is led by its way and not by its oil.
        int(clean == 1 and line.stage is not Stage.DRAIN),
        _size(line) if line.stage is Stage.WORK and not line.card.foundation else 0,
        _outward(line) if line.stage is Stage.DRAIN else 0,
    )


def _foundations_first(lines: list[Line]) -> list[Line]:
    """Move lines behind the foundations that they build on, keeping all else in order."""
    out: list[Line] = []
    waiting = list(lines)
    here = {n.card.id for n in lines}
    done: set[str] = set()
    while waiting:
        ready = next((n for n in waiting if all(i in done or i not in here or i == n.card.id for i, _ in n.card.after)), waiting[0])
        waiting.remove(ready)
        out.append(ready)
        if not any(n.card.id == ready.card.id for n in waiting):
            done.add(ready.card.id)
    return out


def propose(lines: Sequence[Line]) -> tuple[Placed, ...]:
    """The order that follows every rule, each line with its reason. The coach's order stays where no rule speaks."""
    sorted_lines = sorted(lines, key=_key)
    out: list[Line] = []
    for stage in Stage:
        out += _foundations_first([n for n in sorted_lines if n.stage is stage])
    names = {n.card.id for n in out}
    builders = {i: n.card.name for n in out for i, _ in n.card.after}
    placed = []
    for line in out:
        reasons = [c.reason(line) for c in CONSTRAINTS[1:] if c.rank(line) is not None]
        if line.card.id in builders:
            reasons.insert(0, f"{builders[line.card.id]} builds on it.")
        after = [name for i, name in line.card.after if i in names]
        if after:
            reasons.insert(0, f"After {after[0]}, which it builds on.")
        first = next((r for r in reasons if r), "")
        placed.append(Placed(line, f"{CONSTRAINTS[0].reason(line)} {first}".strip()))
    return tuple(placed)
