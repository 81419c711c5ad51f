"""Contraction time of a session: of each side as a whole, and of each muscle with its share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .anatomy import Side
from .session import Item


@dataclass(frozen=True, slots=True)
class SideSeconds:
    right: float
    left: float

    def of(self, side: Side) -> float:
        return self.right if side is Side.RIGHT else self.left


def session_contraction(items: Sequence[Item], pace_s: float) -> SideSeconds:
    """Seconds of contraction on each side, every exercise once whatever the number of its muscles."""
    right, left = (sum(i.card.contraction_s(i.dose, side, pace_s) for i in items) for side in (Side.RIGHT, Side.LEFT))
    return SideSeconds(right, left)


def muscle_contraction(items: Sequence[Item], pace_s: float) -> dict[str, SideSeconds]:
    """Seconds of contraction by muscle id: a prime mover counts whole, a helper half."""
    totals: dict[str, list[float]] = {}
    for item in items:
        right, left = (item.card.contraction_s(item.dose, side, pace_s) for side in (Side.RIGHT, Side.LEFT))
        if right or left:
            for muscle, share in item.card.shares.items():
                sums = totals.setdefault(muscle, [0.0, 0.0])
                sums[0] += share * right
                sums[1] += share * left
    return {muscle: SideSeconds(*sums) for muscle, sums in totals.items()}
