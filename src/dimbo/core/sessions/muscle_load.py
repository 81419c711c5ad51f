"""Contraction time of a session: of each side as a whole, and of each muscle with its share."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from dimbo.core.anatomy import SideSeconds

from .timeline import Item


def session_contraction(items: Sequence[Item], pace_s: float) -> SideSeconds:
    """Seconds of contraction on each side, every exercise once whatever the number of its muscles."""
    sides = [item.contraction(pace_s) for item in items]
    return SideSeconds(sum(s.right for s in sides), left=sum(s.left for s in sides))


def session_hands_on(items: Sequence[Item], pace_s: float) -> SideSeconds:
    """Seconds in which each side is worked on by exercises that do not contract."""
    sides = [item.hands_on(pace_s) for item in items if not item.card.family.contracts]
    return SideSeconds(sum(s.right for s in sides), left=sum(s.left for s in sides))


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
    return {muscle: SideSeconds(right, left=left) for muscle, (right, left) in totals.items()}


def muscle_hands_on(items: Sequence[Item], pace_s: float) -> dict[str, SideSeconds]:
    """Seconds that muscles are handled or moved by exercises that do not contract them, whole for each muscle named."""
    totals: dict[str, list[float]] = {}
    for item in items:
        if not item.card.family.contracts and item.card.shares:
            time = item.hands_on(pace_s)
            for muscle in item.card.shares:
                sums = totals.setdefault(muscle, [0.0, 0.0])
                sums[0] += time.right
                sums[1] += time.left
    return {muscle: SideSeconds(right, left=left) for muscle, (right, left) in totals.items()}


def added(parts: Sequence[tuple[float, Mapping[str, SideSeconds]]]) -> dict[str, SideSeconds]:
    """Loads of several sessions added up, each as often as it is practised."""
    totals: dict[str, list[float]] = {}
    for times, loads in parts:
        for muscle, load in loads.items():
            sums = totals.setdefault(muscle, [0.0, 0.0])
            sums[0] += times * load.right
            sums[1] += times * load.left
    return {muscle: SideSeconds(right, left=left) for muscle, (right, left) in totals.items()}
