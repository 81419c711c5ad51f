"""Change: when two sittings differ by more than re-taking the photographs would explain, and what a row of them says."""

from __future__ import annotations

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

import numpy as np

from dimbo.core.anatomy import Side

from .noise import Z95, Noise, Spread
from .readings import Measured, Reading


class Verdict(StrEnum):
    BEYOND = "beyond noise"
    WITHIN = "within noise"
    NOT_COMPARABLE = "not comparable"


class Direction(StrEnum):
    TOWARD = "toward symmetry"
    AWAY = "away from symmetry"
    OPEN = "between the sides"
    """Beyond noise, but the method's own bias leaves open whether it is nearer to symmetry or further from it."""
    UP = "up"
    DOWN = "down"


MOST_PRIMARY = 3
ALPHA = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class SittingValue:
    """A sitting's value: medians over its accepted shots, with the 95 % band of one reading.

    ``value`` is the median of the shots' values (for a pair, of their differences), so it need not be exactly left - right. ``band`` holds
    what the method itself is off by, ``retaking`` only what another sitting of the same face may differ by.
    """

    value: float
    right: float | None
    left: float | None
    shots: tuple[float, ...]
    band: float
    provisional: bool
    retaking: float
    spread: Spread
    both: bool = False
    """Whether it is that of two sittings as one."""
    stands_in: date | None = None
    """The day of a baseline that took no part in choosing the side, where it stands in for the one compared."""

    @property
    def real(self) -> bool:
        """Whether a left-right difference exceeds its own band."""
        return self.right is not None and abs(self.value) > self.band

    @property
    def smaller_side(self) -> Side | None:
        """The side with the smaller value, when the difference is real."""
        if not self.real:
            return None
        return Side.RIGHT if self.value > 0 else Side.LEFT


def sitting_value(reading: Reading, shots: Sequence[Measured], noise: Noise | None = None) -> SittingValue:
    """The median of a sitting's shots. Raises ValueError without any."""
    if not shots:
        raise ValueError("a sitting's value needs at least one shot")
    noise = noise or reading.noise

    def median(values: Sequence[float | None]) -> float | None:
        there = [v for v in values if v is not None]
        return statistics.median(there) if there else None

    return SittingValue(
        value=statistics.median(s.value for s in shots),
        right=median([s.right for s in shots]),
        left=median([s.left for s in shots]),
        shots=tuple(s.value for s in shots),
        band=noise.band(Spread.of_one(len(shots)), method_sd=reading.method_sd),
        provisional=noise.provisional,
        retaking=noise.of_one(len(shots)),
        spread=Spread.of_one(len(shots)),
    )


def pooled(reading: Reading, one: SittingValue, two: SittingValue, noise: Noise) -> SittingValue:
    """Two sittings before practice as one start: the mean of both, with the band that this earns."""

    def mean(a: float | None, b: float | None) -> float | None:
        return None if a is None or b is None else (a + b) / 2

    spread = (one.spread + two.spread).times(0.25)
    return SittingValue(
        value=(one.value + two.value) / 2,
        right=mean(one.right, two.right),
        left=mean(one.left, two.left),
        shots=one.shots + two.shots,
        band=noise.band(spread, method_sd=reading.method_sd),
        provisional=noise.provisional,
        retaking=noise.band(spread),
        spread=spread,
        both=True,
    )


def sentence(reading: Reading, value: SittingValue) -> str:
    """What one sitting says of a reading; within the noise it says just that."""
    side = value.smaller_side
    if side is None:
        return f"{reading.name}: no difference beyond the noise."
    return f"The {side.value} {reading.less}, beyond the noise."


@dataclass(frozen=True, slots=True)
class SideChange:
    """The change of one side, with its own minimal detectable change."""

    side: Side
    amount: float
    mdc: float

    @property
    def beyond(self) -> bool:
        return abs(self.amount) > self.mdc


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """A reading then and now. ``reason`` says why two sittings cannot be compared, else it is empty."""

    reading: str
    before: float
    after: float
    mdc: float
    verdict: Verdict
    direction: Direction | None
    sides: tuple[SideChange, ...] = ()
    primary: bool = False
    reason: str = ""
    holm_mdc: float | None = None
    """The bar after Holm's correction, where it is higher than the MDC."""
    start: SittingValue | None = None
    """What the later value was held against: one sitting, or a double baseline as one."""
    doubt: float = 0.0
    """How far from zero the middle of before and after must lie before it can be said whether the sides came nearer."""

    @property
    def amount(self) -> float:
        return self.after - self.before

    @property
    def p(self) -> float:
        """Two-sided chance of a change at least this large when nothing changed, under normal noise."""
        return math.erfc(abs(self.amount) / (self.mdc / Z95) / math.sqrt(2))


def _direction(reading: Reading, before: float, after: float, doubt: float) -> Direction:
    """Which way a change goes.

    Before and after are both off by the method's own bias b: the true sides come nearer only if b lies on the far side of the middle
    between the two. ``doubt`` is how far from zero that middle must lie to leave none.
    """
    if not reading.paired:
        return Direction.UP if after > before else Direction.DOWN
    if abs(before + after) / 2 <= doubt:
        return Direction.OPEN
    return Direction.TOWARD if abs(after) < abs(before) else Direction.AWAY


def compare(
    reading: Reading, before: SittingValue, after: SittingValue, noise: Noise | None = None, side_noise: Noise | None = None
) -> Change:
    """The change of a reading between two sittings against its minimal detectable change at 95 %."""
    noise, side_noise = noise or reading.noise, side_noise or reading.side_noise
    both = before.spread + after.spread
    mdc = noise.band(both)
    doubt = noise.band(both.times(0.25), method_sd=reading.method_sd)
    sides: tuple[SideChange, ...] = ()
    if side_noise and None not in (before.right, before.left, after.right, after.left):
        bar = side_noise.band(both)
        sides = (
            SideChange(Side.RIGHT, after.right - before.right, mdc=bar),  # type: ignore[operator]
            SideChange(Side.LEFT, after.left - before.left, mdc=bar),  # type: ignore[operator]
        )
    beyond = abs(after.value - before.value) > mdc
    return Change(
        reading=reading.id,
        before=before.value,
        after=after.value,
        mdc=mdc,
        verdict=Verdict.BEYOND if beyond else Verdict.WITHIN,
        direction=_direction(reading, before.value, after=after.value, doubt=doubt) if beyond else None,
        sides=sides,
        start=before,
        doubt=doubt,
    )


def not_comparable(reading: Reading, before: float, after: float, mdc: float, reason: str) -> Change:
    return Change(
        reading=reading.id,
        before=before,
        after=after,
        mdc=mdc,
        verdict=Verdict.NOT_COMPARABLE,
        direction=None,
        sides=(),
        primary=False,
        reason=reason,
    )


def judge_all(readings: Mapping[str, Reading], changes: Sequence[Change], primary: Sequence[str]) -> list[Change]:
    """Final verdicts: primary readings at their own MDC, the others after Holm's correction over all of them.

    Holm (1979): the k-th smallest of m chances is held against 0.05 / (m - k + 1), and the first that fails stops the rest.
    """
    out = [_with(c, primary=True) for c in changes if c.reading in primary]
    others = [c for c in changes if c.reading not in primary]
    tested = sorted((c for c in others if c.verdict is not Verdict.NOT_COMPARABLE), key=lambda c: c.p)
    failed = False
    for rank, change in enumerate(tested):
        level = ALPHA / (len(tested) - rank)
        failed = failed or change.p > level
        bar = change.mdc / Z95 * statistics.NormalDist().inv_cdf(1 - level / 2)
        verdict = Verdict.WITHIN if failed else Verdict.BEYOND
        direction = None if failed else _direction(readings[change.reading], change.before, after=change.after, doubt=change.doubt)
        out.append(_with(change, verdict=verdict, direction=direction, holm_mdc=bar))
    out += [c for c in others if c.verdict is Verdict.NOT_COMPARABLE]
    order = {key: i for i, key in enumerate(readings)}
    return sorted(out, key=lambda c: (not c.primary, order[c.reading]))


def _with(change: Change, **what: object) -> Change:
    values = {f: getattr(change, f) for f in Change.__dataclass_fields__} | what
    return Change(**values)


UNDECIDED = "whether they are more alike cannot be told"


def change_sentence(reading: Reading, change: Change, since: str) -> str:
    """The headline of a comparison; ``since`` is said of the earlier sitting, as in: at the baseline.

    "Within the noise" is a real answer and is written as such.
    """
    if change.verdict is Verdict.NOT_COMPARABLE:
        return f"{reading.name}: not comparable. {change.reason}"
    if change.verdict is Verdict.WITHIN:
        return f"{reading.name}: no change beyond the noise."
    if not reading.paired:
        size = "larger" if change.direction is Direction.UP else "smaller"
        return f"{reading.name}: {size} than {since}, beyond the noise."
    alike = "more alike" if change.direction is Direction.TOWARD else "less alike"
    moved = [s for s in change.sides if s.beyond]
    if change.direction is Direction.OPEN:
        if len(moved) == 1:
            words = reading.more if moved[0].amount > 0 else reading.less
            return f"The {moved[0].side.value} {words} than {since}; {UNDECIDED}."
        return f"{reading.name}: the sides stand otherwise to each other than {since}, beyond the noise; {UNDECIDED}."
    if len(moved) == 1:
        words = reading.more if moved[0].amount > 0 else reading.less
        return f"The {moved[0].side.value} {words} than {since}; left and right are {alike}."
    return f"{reading.name}: left and right are {alike} than {since}, beyond the noise."


@dataclass(frozen=True, slots=True)
class Trend:
    """Slope per four weeks with its 95 % interval. No verdict when the interval covers zero."""

    per_four_weeks: float
    low: float
    high: float

    @property
    def verdict(self) -> Verdict:
        return Verdict.WITHIN if self.low <= 0 <= self.high else Verdict.BEYOND


TREND_FROM = 4
_DRAWS = 2000


def trend(days: Sequence[date], values: Sequence[float], bands: Sequence[float]) -> Trend | None:
    """Theil-Sen slope over four or more sittings; None with fewer, or when all are of one day.

    The interval is a parametric bootstrap: each value is drawn again with its own noise (``retaking`` / 1.96) and the slope taken
    anew; fixed seed, so that the same sittings always say the same. With four points no distribution-free interval reaches
    95 %, and the noise of each point is known from repeated shots.
    """
    if len(days) < TREND_FROM or len(set(days)) < 2:
        return None
    t = np.array([d.toordinal() for d in days], float) / 28
    y = np.array(values, float)
    i, j = np.triu_indices(len(t), 1)
    apart = t[j] - t[i]
    keep = apart != 0
    i, j, apart = i[keep], j[keep], apart[keep]
    slope = float(np.median((y[j] - y[i]) / apart))
    drawn = y + np.random.default_rng(1).normal(0, 1, (_DRAWS, len(y))) * np.array(bands, float) / Z95
    slopes = np.median((drawn[:, j] - drawn[:, i]) / apart, axis=1)
    low, high = np.quantile(slopes, [0.025, 0.975])
    return Trend(slope, low=float(low), high=float(high))
