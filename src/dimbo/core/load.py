"""Contraction time of a session: of each side as a whole, and of each muscle with its share."""

from __future__ import annotations

from collections.abc import Sequence

from .anatomy import SideSeconds
from .session import Item


def session_contraction(items: Sequence[Item], pace_s: float) -> SideSeconds:
    """Seconds of contraction on each side, every exercise once whatever the number of its muscles."""
    sides = [item.contraction(pace_s) for item in items]
    return SideSeconds(sum(s.right for s in sides), sum(s.left for s in sides))


def muscle_contraction(items: Sequence[Item], pace_s: float) -> dict[str, SideSeconds]:
    """Seconds of contraction by muscle id: a prime mover counts whole, a helper half."""
    totals: dict[str, list[float]] = {}
    for item in items:
        load = item.contraction(pace_s)
        if load.right or load.left:
            for muscle, share in item.card.shares.items():
                sums = totals.setdefault(muscle, [0.0, 0.0])
                sums[0] += share * load.right
                sums[1] += share * load.left
    return {muscle: SideSeconds(*sums) for muscle, sums in totals.items()}
