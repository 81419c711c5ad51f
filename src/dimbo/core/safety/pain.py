"""What pain stops, at once: the exercise, what shares its joint, mark or muscle, and, where it is grave, the session.

The places are those that a client names at "It hurts". Nothing here says what the pain is.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from dimbo.core.exercises.card import Card
from dimbo.core.programs.muscle_ceilings import JAW_RANGE_MARKS
from dimbo.core.rules import Rule

GRAVE_LEVEL = 7
"""Pain from this level of 10 on ends the session."""
GRAVE_PLACES = frozenset({"eye", "ear", "jaw joint", "neck", "front of neck"})
"""Pain at one of these places ends the session, however little it is; the jaw joint lies in front of the ear."""

RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule(
            "pain-shared",
            name="Pain stops its kind",
            says="With an exercise that hurts stops, at once, all that shares its joint, one of its "
            "marks, or a muscle that it works first.",
        ),
        Rule(
            "pain-ends",
            name="Pain ends a session",
            says=f"Pain from {GRAVE_LEVEL} of 10, or at the eye, the ear, the jaw joint, the neck or its "
            "front, ends the session, and the sudden signs are asked.",
        ),
        Rule("pain-lower", name="On after pain", says="An exercise that hurt goes on after the coach’s note, one rung lower."),
    )
}

_JOINTS: Mapping[str, tuple[frozenset[str], frozenset[str]]] = {
    "jaw joint": (JAW_RANGE_MARKS, frozenset({"jaw"})),
    "neck": (frozenset({"head-back", "head-tilt", "neck-turn", "strain"}), frozenset({"neck", "front of neck"})),
}
"""Each joint with the marks of the exercises that move it, and the regions of the muscles that do."""
_AT_JOINT: Mapping[str, str] = {"jaw joint": "jaw joint", "jaw": "jaw joint", "ear": "jaw joint", "neck": "neck", "front of neck": "neck"}
"""The joint that is meant by a place that somebody names."""
PLACES_OF_JOINTS = tuple(_AT_JOINT)


def joints(card: Card) -> frozenset[str]:
    """The joints that an exercise moves or strains."""
    return frozenset(j for j, (marks, regions) in _JOINTS.items() if marks & card.marks or regions & card.home)


def shares(hurt: Card, other: Card) -> bool:
    """Whether an exercise stops together with one that hurt: the same joint, mark, or muscle."""
    if other.id == hurt.id:
        return True
    return bool(joints(hurt) & joints(other) or hurt.marks & other.marks or set(hurt.prime_movers) & set(other.shares))


def at_place(where: str, card: Card) -> bool:
    """Whether an exercise moves the joint at which pain was told."""
    joint = _AT_JOINT.get(where)
    return joint is not None and joint in joints(card)


def stopped_with(hurt: Card, where: str, cards: Iterable[Card]) -> frozenset[str]:
    """Ids of the exercises that wait together with one that hurt, itself included."""
    return frozenset(c.id for c in cards if shares(hurt, other=c) or at_place(where, c)) | {hurt.id}


@dataclass(frozen=True, slots=True)
class Tender:
    """How much it hurt on each side, 0 to 10."""

    right: int
    left: int


def tender_muscles(hurts: Iterable[tuple[Card, str | None, int | None]]) -> dict[str, Tender]:
    """Where exercises hurt: the most told on the muscles that each works first, by side.

    ``hurts`` are exercises with the side (left, right, or both where it was not told) and the level of 10, 1 where it was not told.
    """
    out: dict[str, Tender] = {}
    for card, side, level in hurts:
        told = level or 1
        for muscle in card.prime_movers:
            known = out.get(muscle, Tender(0, left=0))
            right, left = (told if side != "left" else 0), (told if side != "right" else 0)
            out[muscle] = Tender(max(known.right, right), left=max(known.left, left))
    return out
