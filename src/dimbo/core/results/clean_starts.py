"""One client's start and end for a reading, from which it can be told fairly what the side trained more has gained."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import Card
from dimbo.core.sittings.comparison import SittingValue
from dimbo.core.sittings.noise import Noise
from dimbo.core.sittings.sitting import Measurement, SittingRead

from .practised import SideDay

RAISERS: Mapping[str, frozenset[str]] = {
    "fissure_height": frozenset({"levator_palpebrae"}),
    "brow_height": frozenset({"frontalis"}),
    "commissure_height": frozenset({"zygomaticus_major", "zygomaticus_minor", "levator_anguli_oris"}),
}
"""Readings of which a side can be trained more, each with the muscles that raise it."""
ANTAGONISTS: Mapping[str, frozenset[str]] = {
    "fissure_height": frozenset({"orbicularis_oculi"}),
    "brow_height": frozenset({"orbicularis_oculi"}),
    "commissure_height": frozenset({"depressor_anguli_oris"}),
}
MOST_AGAINST = 0.25
"""With more extra work of an antagonist than this share of the extra dose, the dose says little."""
MINUTES = 100
"""Extra doses are counted in so many minutes."""
LEAST_EXTRA = 0.10
"""At least ten extra minutes, else a side was not trained more."""
END_WEEKS = (10, 16)


class Kind(StrEnum):
    UNEVEN = "one side more"
    ALIKE = "both sides alike"


@dataclass(frozen=True)
class Choice:
    """That a plan gave a side more by a reading: the sittings that said so."""

    side: Side
    sittings: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Case:
    """What is known of a client for one reading. ``choice`` is the first plan's that favours a side by it; None when none does."""

    measurement: Measurement
    began: date
    """The first day of practice."""
    chose_on: date
    """The day on which the first plan was made."""
    choice: Choice | None
    took_part: frozenset[str]
    """All sittings that took part in choosing a side, of any plan."""
    work: Sequence[SideDay]
    cards: Mapping[str, Card]


@dataclass(frozen=True, kw_only=True)
class Gain:
    """What the side that was smaller gained from a clean start to the end, mm; its extra dose in 100 minutes; the variance of such a change
    of an unchanged face; both sittings with the difference, positive where the side that was smaller then still is."""

    kind: Kind
    gain: float
    dose: float
    variance: float
    start: date
    end: date
    at_start: float
    at_end: float


class Left(StrEnum):
    """Why a client does not count for a reading."""

    EVEN = "the sides did not differ beyond the noise"
    NO_CLEAN_START = "there is no second start that took no part in the choice"
    NO_END = "there is no comparable sitting 10 to 16 weeks after practice began"
    LITTLE = "the side chosen got less than ten extra minutes"
    AGAINST = "an opposing muscle was trained unevenly too"
    NOT_ALIKE = "one side was trained more, and which sitting chose it is not on record"


def extra_s(work: Sequence[SideDay], cards: Mapping[str, Card], muscles: frozenset[str], *, side: Side, until: date) -> float:
    """Seconds of contraction that a side did beyond the other before a day, over exercises whose prime movers are among the muscles, each
    exercise once, not capped at the plan."""
    own = [w for w in work if w.day < until and w.exercise_id in cards and muscles & set(cards[w.exercise_id].prime_movers)]
    return sum(w.of(side) - w.of(side.other) for w in own)


def _variance(noise: Noise, two: Sequence[SittingValue]) -> float:
    """Of a change between two values of an unchanged face."""
    both = two[0].spread + two[1].spread
    return both.sittings * noise.sitting_sd**2 + both.shots * noise.shot_sd**2


def _starts(case: Case, key: str) -> list[SittingRead]:
    """Sittings up to the first day of practice that have a value, in order."""
    return [s for s in case.measurement.sittings if s.taken_on <= case.began and key in s.values]


def selection(case: Case, key: str) -> SittingRead | None:
    """The sitting from which the side was chosen: the newest with a value when the plan was made."""
    if case.choice:
        named = [s for s in case.measurement.sittings if s.id in case.choice.sittings and key in s.values]
        return named[-1] if named else None
    before = [s for s in _starts(case, key) if s.taken_on <= case.chose_on]
    return before[-1] if before else None


def gain_of(case: Case, key: str) -> Gain | Left:
    """A client's gain by a reading, or why there is none."""
    m = case.measurement
    chosen = selection(case, key)
    if chosen is None or not chosen.values[key].real:
        return Left.EVEN
    smaller = chosen.values[key].smaller_side or Side.RIGHT
    took = case.took_part | {chosen.id}
    clean = [s for s in _starts(case, key) if s.id not in took and key not in s.excluded]
    if not clean:
        return Left.NO_CLEAN_START
    start = clean[-1]
    first, last = (case.began + timedelta(weeks=w) for w in END_WEEKS)
    usable = [s for s in m.sittings if s.id not in took and key in s.values and key not in s.excluded and s.methods == start.methods]
    ends = [s for s in usable if first <= s.taken_on <= last and s.taken_on > chosen.taken_on]
    if not ends:
        return Left.NO_END
    end = ends[0]
    dose = extra_s(case.work, case.cards, RAISERS[key], side=smaller, until=end.taken_on) / 60 / MINUTES
    against = extra_s(case.work, case.cards, ANTAGONISTS[key], side=smaller, until=end.taken_on) / 60 / MINUTES
    if abs(against) > MOST_AGAINST * max(abs(dose), LEAST_EXTRA):
        return Left.AGAINST
    if case.choice and dose < LEAST_EXTRA:
        return Left.LITTLE
    if not case.choice and abs(dose) >= LEAST_EXTRA:
        return Left.NOT_ALIKE
    sign = 1 if smaller is Side.RIGHT else -1
    a, b = start.values[key], end.values[key]
    return Gain(
        kind=Kind.UNEVEN if case.choice else Kind.ALIKE,
        gain=sign * (a.value - b.value),
        dose=dose if case.choice else 0.0,
        variance=_variance(m.noise[key], [a, b]),
        start=start.taken_on,
        end=end.taken_on,
        at_start=sign * a.value,
        at_end=sign * b.value,
    )


def noise_sd(gains: Sequence[Gain]) -> float:
    """Known SD of one gain of an unchanged face: the root of the mean variance."""
    return math.sqrt(sum(g.variance for g in gains) / len(gains)) if gains else 0.0
