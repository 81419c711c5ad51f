"""What was really done: stretches of a played timeline, or counts told afterwards, as work per exercise and side.

The timeline that was played is the one that ``timeline.timeline`` compiled, so a log can be compared with it cue by cue.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import CeilingBasis
from dimbo.core.programs.program import Settings

from .timeline import Beat, Cue, Item

WORKING = frozenset({Beat.LEAD, Beat.HOLD, Beat.RELEASE, Beat.MOVE})
LOADING = frozenset({Beat.LEAD, Beat.HOLD, Beat.MOVE})
PLAYED = 0.95
"""Share of a repetition that must have been played to count as done."""
MOST_COUNTED = 500
"""Most repetitions of one exercise, sets multiplied out, that can be told without the player."""


@dataclass(frozen=True, slots=True)
class Stretch:
    """A stretch of the timeline that was played without a stop, in its seconds, and the moment at which it began."""

    from_s: float
    to_s: float
    at: datetime

    @property
    def length_s(self) -> float:
        return self.to_s - self.from_s

    @property
    def ended(self) -> datetime:
        return self.at + timedelta(seconds=self.length_s)


@dataclass(frozen=True, slots=True, kw_only=True)
class SideWork:
    """Planned and done on one side: sets, repetitions, seconds of holding, and seconds of work.

    Work is lead and hold for families that contract, and hands-on time for all others.
    """

    side: Side
    planned_sets: int
    done_sets: int
    planned_reps: int
    done_reps: int
    planned_hold_s: float
    done_hold_s: float
    planned_s: float
    done_s: float

    @property
    def over_s(self) -> float:
        return max(self.done_s - self.planned_s, 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class ItemWork:
    """What became of one item of the session: its whole time planned and done in seconds, and its sides."""

    planned_s: float
    done_s: float
    sides: tuple[SideWork, ...]
    pauses: int = 0
    paused_s: float = 0.0


def loaded_sides(item: Item, cue: Cue) -> frozenset[Side]:
    """The sides that a cue works: the side whose turn it is, and of a direction the side that it loads."""
    sides = frozenset(Side) if cue.side is None else frozenset({cue.side})
    if cue.phase == 0:
        return sides
    ways = item.dose.phases[cue.phase - 1].directions
    way = next((w for w in ways if w.name == cue.direction), ways[0])
    return sides & way.loads


def counts_toward_ceiling(item: Item, cue: Cue) -> bool:
    """Whether the time of a cue is time that the exercise's daily ceiling counts."""
    if item.card.ceiling.basis is CeilingBasis.CONTRACTION:
        return cue.beat in LOADING
    return cue.beat in WORKING


def played_s(cues: Sequence[Cue], stretches: Sequence[Stretch]) -> list[float]:
    """Seconds that each cue was played, repeats added up."""
    out = [0.0] * len(cues)
    for stretch in stretches:
        for n, cue in enumerate(cues):
            overlap = min(stretch.to_s, cue.start_s + cue.length_s) - max(stretch.from_s, cue.start_s)
            if overlap > 0:
                out[n] += overlap
    return out


STOOD_STILL_S = 0.5
"""A shorter gap between two stretches is a jump, not a pause."""


@dataclass(frozen=True, slots=True)
class Stay:
    """A release or press that was held longer on purpose, at a tender spot: the session stands still at ``at_s`` of its
    timeline for so many seconds. ``where`` is the place of the face in words; ``side`` None for both."""

    at_s: float
    seconds: float
    side: Side | None
    where: str = ""


def _gaps(stretches: Sequence[Stretch], stays: Sequence[Stay] = ()) -> list[tuple[float, float]]:
    """Every pause: the place of the timeline at which the session stood still, and for how many seconds; what was stayed
    there on purpose is no pause."""
    out = []
    for a, b in itertools.pairwise(stretches):
        stayed = sum(s.seconds for s in stays if abs(s.at_s - a.to_s) <= STOOD_STILL_S)
        gap = (b.at - a.ended).total_seconds() - stayed
        if gap > STOOD_STILL_S:
            out.append((a.to_s, gap))
    return out


def pauses(stretches: Sequence[Stretch], stays: Sequence[Stay] = ()) -> tuple[int, float]:
    """How often a session stood still between its stretches, and for how many seconds in all."""
    gaps = _gaps(stretches, stays)
    return len(gaps), sum(s for _, s in gaps)


def pauses_by_item(cues: Sequence[Cue], stretches: Sequence[Stretch], stays: Sequence[Stay] = ()) -> dict[int, tuple[int, float]]:
    """The same by the item of the session in which it stood still; items without a pause are left out."""
    out: dict[int, tuple[int, float]] = {}
    for at, seconds in _gaps(stretches, stays):
        cue = next((c for c in cues if c.start_s <= at < c.start_s + c.length_s), cues[-1])
        count, total = out.get(cue.item, (0, 0.0))
        out[cue.item] = (count + 1, total + seconds)
    return out


def _works(item: Item, beat: Beat) -> bool:
    return beat in (LOADING if item.card.family.contracts else WORKING)


def _sum(cues: Sequence[tuple[Cue, float]], wanted: Callable[[Cue], bool]) -> tuple[float, float]:
    """Planned and played seconds of the cues that are wanted."""
    mine = [(c.length_s, p) for c, p in cues if wanted(c)]
    return sum(a for a, _ in mine), sum(b for _, b in mine)


def _side(item: Item, side: Side, cues: Sequence[tuple[Cue, float]]) -> SideWork | None:
    mine = [(c, p) for c, p in cues if c.beat in WORKING and side in loaded_sides(item, c)]
    if not mine:
        return None
    reps: dict[tuple[int, int, int, str, int], list[float]] = {}
    for cue, done in mine:
        reps.setdefault((cue.set_number, cue.side is None, cue.phase, cue.direction, cue.rep), []).append(done / cue.length_s)
    times = {key: int(min(shares) + 1 - PLAYED) for key, shares in reps.items()}
    sets: dict[int, list[int]] = {}
    for key, count in times.items():
        sets.setdefault(key[0], []).append(count)
    hold, held = _sum(mine, lambda c: c.beat is Beat.HOLD)
    work, worked = _sum(mine, lambda c: _works(item, c.beat))
    return SideWork(
        side=side,
        planned_sets=len(sets),
        done_sets=sum(min(counts) for counts in sets.values()),
        planned_reps=len(reps),
        done_reps=sum(times.values()),
        planned_hold_s=round(hold, 1),
        done_hold_s=round(held, 1),
        planned_s=round(work, 1),
        done_s=round(worked, 1),
    )


def credit(
    items: Sequence[Item], cues: Sequence[Cue], stretches: Sequence[Stretch], settings: Settings, stays: Sequence[Stay] = ()
) -> tuple[ItemWork, ...]:
    """What a played session amounts to, item by item.

    A repetition counts when 95 % of each of its beats was played, once for every time; a set when all its repetitions
    count. Changes from one exercise to the next are nobody's practice.
    """
    own: list[list[tuple[Cue, float]]] = [[] for _ in items]
    for cue, done in zip(cues, played_s(cues, stretches), strict=True):
        if cue.beat is not Beat.CHANGE:
            own[cue.item].append((cue, done))
    stood = pauses_by_item(cues, stretches, stays)
    out = []
    for n, (item, mine) in enumerate(zip(items, own, strict=True)):
        sides = tuple(w for s in Side if (w := _side(item, s, mine)) is not None)
        count, paused_s = stood.get(n, (0, 0.0))
        out.append(
            ItemWork(
                planned_s=round(item.seconds(settings), 1),
                done_s=round(sum(p for _, p in mine), 1),
                sides=sides,
                pauses=count,
                paused_s=round(paused_s, 1),
            )
        )
    return tuple(out)


DONE = 0.98
"""Share of an exercise's time from which it counts as done; the rest is rounding and the last beat of a settle."""


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a session has come: where it goes on in its timeline, and which of its items are done."""

    at_s: float
    done: tuple[int, ...]


def progress(items: Sequence[Item], cues: Sequence[Cue], stretches: Sequence[Stretch], settings: Settings) -> Progress:
    """Where a session that was begun goes on: at the first item that is not done, from its beginning, or, in the item in
    which it stopped, from the very place."""
    own = [0.0] * len(items)
    for cue, played in zip(cues, played_s(cues, stretches), strict=True):
        if cue.beat is not Beat.CHANGE:
            own[cue.item] += min(played, cue.length_s)
    done = tuple(n for n, item in enumerate(items) if own[n] >= DONE * item.seconds(settings))
    end = cues[-1].start_s + cues[-1].length_s if cues else 0.0
    first = next((n for n in range(len(items)) if n not in done), None)
    if first is None:
        return Progress(end, done)
    mine = [c for c in cues if c.item == first]
    stopped = stretches[-1].to_s if stretches else 0.0
    inside = mine[0].start_s <= stopped < mine[-1].start_s + mine[-1].length_s
    return Progress(stopped if inside else mine[0].start_s, done)


def planned_counts(item: Item, cues: Sequence[Cue]) -> dict[Side, tuple[int, int]]:
    """Sets, and repetitions a set, that the dose of an item plans on each side that it works; ``cues`` are those of the item."""
    works = [w for s in Side if (w := _side(item, s, [(c, 0.0) for c in cues])) is not None]
    return {w.side: (w.planned_sets, w.planned_reps // w.planned_sets) for w in works}


def counted(item: Item, cues: Sequence[Cue], told: Mapping[Side, tuple[int, int]], settings: Settings) -> ItemWork:
    """What sets and repetitions a set, told afterwards by side, amount to; seconds follow from the planned repetition.

    ``cues`` are those of the item. Raises ValueError for counts below zero or beyond what a day can hold.
    """
    sides = []
    for plan in (w for s in Side if (w := _side(item, s, [(c, 0.0) for c in cues])) is not None):
        sets, reps = told.get(plan.side, (0, 0))
        if sets < 0 or reps < 0 or sets * reps > MOST_COUNTED:
            raise ValueError(f"{item.card.name}, {plan.side}: {sets} × {reps} repetitions cannot be; tell 0 to {MOST_COUNTED} in all")
        share = sets * reps / plan.planned_reps
        done_s, held = round(plan.planned_s * share, 1), round(plan.planned_hold_s * share, 1)
        sides.append(
            SideWork(
                side=plan.side,
                planned_sets=plan.planned_sets,
                done_sets=sets if reps else 0,
                planned_reps=plan.planned_reps,
                done_reps=sets * reps,
                planned_hold_s=plan.planned_hold_s,
                done_hold_s=held,
                planned_s=plan.planned_s,
                done_s=done_s,
            )
        )
    planned, done = sum(w.planned_reps for w in sides), sum(w.done_reps for w in sides)
    whole = item.seconds(settings)
    return ItemWork(planned_s=round(whole, 1), done_s=round(whole * done / planned, 1) if planned else 0.0, sides=tuple(sides))
