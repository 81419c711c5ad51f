"""Two programs at once: their sessions of a day as one, in sequence order, under the daily ceilings that they share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from dimbo.core.anatomy import STAGE_ORDER, Stage
from dimbo.core.programs.daily_ceilings import NOTHING, Left, Passed, Spent, counted_in_times, left, passed, spent, takes
from dimbo.core.programs.program import Settings

from .timeline import Item

MOST_AT_ONCE = 2
"""Programs that may run at the same time."""

Owner = TypeVar("Owner")


@dataclass(frozen=True, slots=True)
class Owned(Generic[Owner]):
    """An item of a session, and the program that it belongs to."""

    owner: Owner
    item: Item


ONCE = (Stage.PREPARE, Stage.LOOSEN, Stage.CLOSE)
"""Stages whose rows are done once when both programs ask for the same: they warm and they close the session, not the program."""


def _once(first: Sequence[Owned[Owner]], second: Sequence[Owned[Owner]]) -> Sequence[Owned[Owner]]:
    """The second session without the warming and closing rows that the first has; as it is when nothing else is in it."""
    here = {x.item.card.id for x in first}
    rest = [x for x in second if x.item.line.stage not in ONCE or x.item.card.id not in here or x.item.card.family.contracts]
    return rest or second


def merged(first: Sequence[Owned[Owner]], second: Sequence[Owned[Owner]]) -> tuple[Owned[Owner], ...]:
    """Both sessions as one: stage by stage, each in its coach's own order; of equal stages the first program leads. What warms
    or closes is done once.

    An item never goes before one that stands ahead of it in its own program, so that circuits stay together.
    """

    def ranks(items: Sequence[Owned[Owner]]) -> list[int]:
        out, most = [], 0
        for entry in items:
            most = max(most, STAGE_ORDER[entry.item.line.stage])
            out.append(most)
        return out

    second = _once(first, second=second)
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


def day_of(items: Sequence[Item], settings: Settings) -> Spent:
    """What the items of a session take of a day."""
    return spent(((i.card, i.dose, 1) for i in items), settings)


@dataclass(frozen=True, slots=True)
class Beyond(Generic[Owner]):
    """An item that would pass a ceiling of the day, and which."""

    owned: Owned[Owner]
    passed: Passed


def within_ceilings(
    items: Sequence[Owned[Owner]], settings: Settings, used: Spent = NOTHING
) -> tuple[tuple[Owned[Owner], ...], tuple[Beyond[Owner], ...]]:
    """What may be practised of a session, in its order, and what would pass a ceiling of the day that has had ``used``."""
    day = used
    kept: list[Owned[Owner]] = []
    beyond: list[Beyond[Owner]] = []
    for entry in items:
        card = entry.item.card
        total = day.plus(takes(card, entry.item.dose, settings.pace_s))
        over = () if counted_in_times(card) else passed(card, total, settings)
        if over:
            beyond.append(Beyond(entry, over[0]))
        else:
            kept.append(entry)
            day = total
    return tuple(kept), tuple(beyond)


def spare(items: Sequence[Item], settings: Settings, used: Spent = NOTHING) -> dict[str, Left]:
    """What may still be repeated of each exercise today, beyond the session itself, by card id."""
    day = used.plus(day_of(items, settings))
    return {i.card.id: left(i.card, day, settings) for i in items}
