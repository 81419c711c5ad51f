"""Two programs at once: their sessions of a day as one, in sequence order, under the daily ceilings that they share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from .anatomy import STAGE_ORDER, Side, SideSeconds
from .card import CeilingBasis
from .program import Settings
from .session import Item

MOST_AT_ONCE = 2
"""Programs that may run at the same time."""

Owner = TypeVar("Owner")


@dataclass(frozen=True, slots=True)
class Owned(Generic[Owner]):
    """An item of a session, and the program that it belongs to."""

    owner: Owner
    item: Item


def merged(first: Sequence[Owned[Owner]], second: Sequence[Owned[Owner]]) -> tuple[Owned[Owner], ...]:
    """Both sessions as one: stage by stage, each in its coach's own order; of equal stages the first program leads.

    An item never goes before one that stands ahead of it in its own program, so that circuits stay together.
    """

    def ranks(items: Sequence[Owned[Owner]]) -> list[int]:
        out, most = [], 0
        for entry in items:
            most = max(most, STAGE_ORDER[entry.item.line.stage])
            out.append(most)
        return out

    a, b = ranks(first), ranks(second)
    out: list[Owned[Owner]] = []
    i = j = 0
    while i < len(first) or j < len(second):
        if j == len(second) or (i < len(first) and a[i] <= b[j]):
            out.append(first[i])
            i += 1
        else:
            out.append(second[j])
            j += 1
    return tuple(out)


def use_of(items: Sequence[Item], settings: Settings) -> dict[str, SideSeconds]:
    """Seconds of each exercise's daily ceiling that a session takes, by card id and side."""
    out: dict[str, SideSeconds] = {}
    for item in items:
        used, known = item.of_ceiling(settings.pace_s), out.get(item.card.id, SideSeconds(0.0, 0.0))
        out[item.card.id] = SideSeconds(known.right + used.right, known.left + used.left)
    return out


def within_ceilings(
    items: Sequence[Owned[Owner]], settings: Settings, used: dict[str, SideSeconds]
) -> tuple[tuple[Owned[Owner], ...], tuple[Owned[Owner], ...]]:
    """What may be practised and what would pass a daily ceiling, given what the day has ``used`` already by card id."""
    spent = dict(used)
    kept, beyond = [], []
    for entry in items:
        card = entry.item.card
        own, known = entry.item.of_ceiling(settings.pace_s), spent.get(card.id, SideSeconds(0.0, 0.0))
        total = SideSeconds(known.right + own.right, known.left + own.left)
        passes = any(total.of(s) > card.ceiling.seconds + 0.5 for s in Side) and (known.right > 0 or known.left > 0)
        if passes and card.ceiling.basis is not CeilingBasis.TIMES:
            beyond.append(entry)
        else:
            kept.append(entry)
            spent[card.id] = total
    return tuple(kept), tuple(beyond)


def spare(items: Sequence[Item], settings: Settings, used: dict[str, SideSeconds]) -> dict[str, SideSeconds]:
    """What may still be repeated of each exercise today, beyond the session itself, in seconds of its ceiling by side."""
    out = {}
    planned = use_of(items, settings)
    for item in items:
        own, before = planned[item.card.id], used.get(item.card.id, SideSeconds(0.0, 0.0))
        limit = item.card.ceiling.seconds
        out[item.card.id] = SideSeconds(max(limit - own.right - before.right, 0.0), max(limit - own.left - before.left, 0.0))
    return out
