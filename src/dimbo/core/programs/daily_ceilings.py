"""How much of a day an exercise, a muscle and a side have had, and what is left of it.

Everybody who gives or allows work asks here: the checks, the rungs, filling a row, the review, the day that is compiled,
and "once more" in the player. All rows, rounds, parts of the day and running programs of one day are added up; an exercise
is counted by the basis of its own ceiling (contraction, hands-on time by the clock, or times), a muscle by contraction with
the share that it has in each exercise, the jaw joint at the end of its range by the time it is there.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache

from dimbo.core.anatomy import Side, SideSeconds
from dimbo.core.exercises.card import Card, CeilingBasis
from dimbo.core.exercises.dose import Dose

from .muscle_ceilings import JAW_RANGE, JAW_RANGE_MARKS, JAW_RANGE_NAME, MUSCLES
from .program import Line, Program, Settings, read_cell

TOLERANCE_S = 0.5
"""What may lie above a ceiling without passing it: logs are kept in tenths of a second, and the rounding of a dozen rows
stays below this. A whole second passes."""

NONE = SideSeconds(0.0, left=0.0)


@dataclass(frozen=True, slots=True)
class Spent:
    """What a day has had, by side: of each exercise in the unit of its ceiling (seconds, habits: times), and of each muscle
    in seconds of contraction."""

    exercises: Mapping[str, SideSeconds] = field(default_factory=dict)
    muscles: Mapping[str, SideSeconds] = field(default_factory=dict)

    def plus(self, other: Spent, times: float = 1) -> Spent:
        """Both together, the other so many times."""
        return Spent(_added(self.exercises, b=other.exercises, times=times), muscles=_added(self.muscles, b=other.muscles, times=times))

    def most(self, other: Spent) -> Spent:
        """The larger of both for every exercise, muscle and side."""
        return Spent(_larger(self.exercises, b=other.exercises), muscles=_larger(self.muscles, b=other.muscles))


NOTHING = Spent()


def _added(a: Mapping[str, SideSeconds], b: Mapping[str, SideSeconds], times: float) -> dict[str, SideSeconds]:
    out = dict(a)
    for key, more in b.items():
        known = out.get(key, NONE)
        out[key] = SideSeconds(known.right + times * more.right, left=known.left + times * more.left)
    return out


def _larger(a: Mapping[str, SideSeconds], b: Mapping[str, SideSeconds]) -> dict[str, SideSeconds]:
    out = dict(a)
    for key, other in b.items():
        known = out.get(key, NONE)
        out[key] = SideSeconds(max(known.right, other.right), left=max(known.left, other.left))
    return out


def loads_of(card: Card) -> dict[str, float]:
    """What of the body a card loads, with the share of its working time: its muscles, where it contracts them, and the jaw
    joint at the end of its range."""
    weights = dict(card.shares) if card.family.contracts else {}
    return weights if JAW_RANGE_MARKS.isdisjoint(card.marks) else weights | {JAW_RANGE: 1.0}


def name_of(card: Card, load: str) -> str:
    """What a coach reads of something that a card loads."""
    return JAW_RANGE_NAME if load == JAW_RANGE else card.muscles[load].name


@lru_cache(maxsize=20_000)
def takes(card: Card, dose: Dose, pace_s: float) -> Spent:
    """What going once through a dose takes of the day."""
    used = SideSeconds.each(lambda side: card.ceiling.used_s(dose, side, pace_s))
    weights = loads_of(card)
    if not weights:
        return Spent({card.id: used})
    load = dose.loaded(pace_s) if card.family.contracts else SideSeconds.each(lambda side: dose.hands_on_s(side, pace_s))
    return Spent({card.id: used}, muscles={m: SideSeconds(share * load.right, left=share * load.left) for m, share in weights.items()})


def spent(rows: Iterable[tuple[Card, Dose, int]], settings: Settings) -> Spent:
    """What rows take of one day together, each gone through so many times."""
    exercises: dict[str, list[float]] = {}
    muscles: dict[str, list[float]] = {}
    for card, dose, times in rows:
        own = takes(card, dose, settings.pace_s)
        for totals, more in ((exercises, own.exercises), (muscles, own.muscles)):
            for key, side in more.items():
                sums = totals.setdefault(key, [0.0, 0.0])
                sums[0] += times * side.right
                sums[1] += times * side.left
    return Spent(
        {k: SideSeconds(right, left=left) for k, (right, left) in exercises.items()},
        muscles={k: SideSeconds(right, left=left) for k, (right, left) in muscles.items()},
    )


def planned(program: Program, week: int, settings: Settings, *, without: Line | None = None) -> Spent:
    """What a day of a week (1-based) takes at most: all rows that can be read (but one, if it is named), their rounds and parts of
    the day."""
    read = ((n, read_cell(n.cells[week - 1], n.card).dose) for n in program.lines if without is None or n.id != without.id)
    return spent(((n.card, dose, program.times_a_day(n)) for n, dose in read if dose is not None), settings)


def practised(card: Card, dose: Dose, share: Mapping[Side, float], pace_s: float) -> Spent:
    """What practice of a dose took of the day, of which ``share`` was done on each side."""
    own = takes(card, dose, pace_s)

    def of(seconds: SideSeconds) -> SideSeconds:
        return SideSeconds(share.get(Side.RIGHT, 0.0) * seconds.right, left=share.get(Side.LEFT, 0.0) * seconds.left)

    return Spent({k: of(v) for k, v in own.exercises.items()}, muscles={k: of(v) for k, v in own.muscles.items()})


def stayed(card: Card, stays: Iterable[tuple[Side | None, float]]) -> Spent:
    """What holding a release or press longer takes of its card's day: seconds by side, None for both."""
    told = list(stays)
    return Spent({card.id: SideSeconds.each(lambda on: sum(seconds for side, seconds in told if side in (on, None)))})


def muscle_ceiling_s(card: Card, muscle: str, settings: Settings) -> float | None:
    """Most contraction of a muscle of a card in a day, in seconds; None where its region has no ceiling."""
    if muscle == JAW_RANGE:
        return settings.most_jaw_range_s
    lies = card.muscles.get(muscle)
    known = MUSCLES.get(lies.region) if lies else None
    return None if known is None else float(getattr(settings, known.setting))


@dataclass(frozen=True, slots=True)
class Passed:
    """A ceiling that a day passes: of an exercise, or of one of its muscles (its id); on the side that has had more."""

    muscle: str | None
    side: Side
    used: float
    most: float


def passed(card: Card, day: Spent, settings: Settings) -> tuple[Passed, ...]:
    """The ceilings that concern a card and that the day passes; its own first."""
    limits: list[tuple[str | None, SideSeconds, float]] = [(None, day.exercises.get(card.id, NONE), card.ceiling.seconds)]
    for muscle in loads_of(card):
        most = muscle_ceiling_s(card, muscle, settings)
        if most is not None:
            limits.append((muscle, day.muscles.get(muscle, NONE), most))
    return tuple(
        Passed(muscle, used.busier, max(used.right, used.left), most=most)
        for muscle, used, most in limits
        if max(used.right, used.left) > most + TOLERANCE_S
    )


@dataclass(frozen=True, slots=True)
class TooLong:
    """A hold, or a fixed window, that lasts longer by the clock than its card allows."""

    what: str
    seconds: float
    most: float


def too_long(card: Card, dose: Dose, pace_s: float) -> TooLong | None:
    """The longest hold or window beyond what a card allows, counts told by the clock; None when all are short enough."""
    found: list[TooLong] = []
    for p in dose.all_phases:
        for what, span, most in (("hold", p.hold, card.longest_hold_s), ("window", p.window, card.longest_window_s)):
            if most is not None and span is not None and (s := span.seconds(pace_s)) > most + 1e-9:
                found.append(TooLong(what, s, most=most))
    return max(found, key=lambda t: t.seconds / t.most, default=None)


def fits(card: Card, dose: Dose, settings: Settings, *, times: int = 1, before: Spent = NOTHING) -> bool:
    """Whether a dose, gone through so many times, passes no ceiling of the day that has had ``before`` already, and none of
    its holds is too long."""
    return too_long(card, dose, settings.pace_s) is None and not passed(
        card, before.plus(takes(card, dose, settings.pace_s), times), settings
    )


@dataclass(frozen=True, slots=True)
class Left:
    """What is left of a day for an exercise, by side: in the unit of its own ceiling, and of each of its muscles in seconds
    of contraction. Never below zero."""

    exercise: SideSeconds
    muscles: Mapping[str, SideSeconds]


def left(card: Card, day: Spent, settings: Settings) -> Left:
    """What a day that has had so much leaves of a card's ceilings."""

    def rest(used: SideSeconds, most: float) -> SideSeconds:
        return SideSeconds(max(most - used.right, 0.0), left=max(most - used.left, 0.0))

    muscles = {m: rest(day.muscles.get(m, NONE), most) for m in loads_of(card) if (most := muscle_ceiling_s(card, m, settings)) is not None}
    return Left(rest(day.exercises.get(card.id, NONE), card.ceiling.seconds), muscles)


def counted_in_times(card: Card) -> bool:
    """Whether a card's ceiling counts times a day and not seconds."""
    return card.ceiling.basis is CeilingBasis.TIMES
