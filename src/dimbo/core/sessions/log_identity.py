"""What a log says: whether an exercise was done, whether two logs tell of the same practice, and which of them stands."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Protocol

from dimbo.core.exercises.card import Card, CeilingBasis

from .crediting import DONE, ItemWork, SideWork

WHOLE, NOTHING = DONE, 0.02
"""Shares of an exercise's time from which it counts as done, and below which as skipped."""
DONE_FOR_TODAY = 0.5
"""Share of a session, without what hurt, from which it is done for today; one that was mostly skipped stays due."""
OVER_S = 20.0
"""Seconds above plan from which a client is cautioned."""
PLAYER = "player"
"""Where a log comes from that was played; all others were told by hand."""


class Told(Protocol):
    """A log of a session, as far as it is compared with another of the same session."""

    @property
    def source(self) -> str: ...
    @property
    def started_at(self) -> datetime: ...
    @property
    def ended_at(self) -> datetime: ...
    @property
    def done_s(self) -> float: ...


def same_practice(a: Told, b: Told) -> bool:
    """Whether two logs of one session tell of the same practice: their times overlap, or one was told by hand."""
    return a.source != b.source or min(a.ended_at, b.ended_at) > max(a.started_at, b.started_at)


def stands_before(a: Told, b: Told) -> bool:
    """Whether ``a`` stands when both tell of the same practice: what was played before what was told, then what says more."""
    return (a.source == PLAYER, a.done_s) > (b.source == PLAYER, b.done_s)


def outcome(work: ItemWork, *, hurt: bool, told_by_hand: bool) -> str:
    """What became of an exercise: done, partly, skipped or hurt; by its time, or told by hand by its repetitions."""
    if hurt:
        return "hurt"
    share = work.done_s / work.planned_s if work.planned_s else 0.0
    if told_by_hand and (planned := sum(s.planned_reps for s in work.sides)):
        share = sum(s.done_reps for s in work.sides) / planned
    return "done" if share >= WHOLE else "skipped" if share < NOTHING else "partly"


def share_done(lines: Iterable[tuple[float, float, str]]) -> float:
    """Share of a session that was done, 0 to 1, of lines (planned and done seconds, outcome). What hurt was rightly
    stopped and is left out; extra time in one exercise never pays for another."""
    mine = [(planned, min(done, planned)) for planned, done, what in lines if what != "hurt"]
    planned = sum(p for p, _ in mine)
    return sum(d for _, d in mine) / planned if planned else 1.0


def credit_s(planned_s: float, done_s: float, sides: Iterable[SideWork]) -> float:
    """Seconds of an exercise that count toward its session: each side at most whole, so that more of one never pays for the
    other; by its whole time where no side works."""
    mine = [(w.planned_s, min(w.done_s, w.planned_s)) for w in sides if w.planned_s > 0]
    if not mine:
        return min(done_s, planned_s)
    return planned_s * sum(done for _, done in mine) / sum(planned for planned, _ in mine)


def over_s(card: Card, sides: Iterable[SideWork]) -> float:
    """Seconds above plan that are overdoing: load above plan, side by side, and hands-on time beyond the daily ceiling. To
    breathe or to tap once more is no overdoing."""
    if card.family.contracts:
        return sum(w.over_s for w in sides)
    if card.ceiling.basis is not CeilingBasis.HANDS_ON:
        return 0.0
    return sum(max(w.done_s - max(card.ceiling.seconds, w.planned_s), 0.0) for w in sides)
