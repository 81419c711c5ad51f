"""Noise of a reading: how far two photographs of an unchanged face may differ.

    noise of one reading       t x sqrt(p s_b^2 + q s_w^2), for one sitting p = 1 and q = the variance of a median of n shots
    noise of a change (MDC95)  the same over both: p and q of the two sittings added up

s_w is the shot noise (repeated shots within a sitting), s_b the sitting noise (re-posing between sittings), n the accepted
shots, t Student's quantile at the degrees of freedom of the sum. The two bands are never mixed up.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

Z95 = 1.96
ENOUGH_DF = 10
"""The shipped shot noise counts as so many degrees of freedom beside the client's own; with as many of their own it is not provisional."""
BASELINE_PRIOR_DF = 5
"""One double baseline has a single degree of freedom and would swing wildly alone; the shipped sitting noise counts as five."""
LEAST_DF = 3.0
"""Student's quantile is not taken at fewer: one lucky double baseline would make it meaningless."""
_OF_MEDIAN = (1.0, 0.5, 0.4487, 0.2982, 0.2868, 0.2147, 0.2104, 0.1682, 0.1661)


def median_variance(shots: int) -> float:
    """Variance of the median of n normal values, in shares of one value's variance (order statistics; David and Nagaraja 2003).

    With an even number the median is the mean of the middle two. Raises ValueError below one.
    """
    if shots < 1:
        raise ValueError("a sitting's value needs at least one shot")
    odd = shots | 1  # the mean of the middle two varies as the median of one value more
    return _OF_MEDIAN[shots - 1] if shots <= len(_OF_MEDIAN) else math.pi / 2 / (odd + math.pi / 2 - 1)


def t95(df: float) -> float:
    """Student's two-sided 95 % quantile, by the expansion of Fisher and Cornish (Abramowitz and Stegun 26.7.5)."""
    if math.isinf(df):
        return Z95
    z, v = Z95, max(df, LEAST_DF)
    return (
        z + (z**3 + z) / (4 * v) + (5 * z**5 + 16 * z**3 + 3 * z) / (96 * v**2) + (3 * z**7 + 19 * z**5 + 17 * z**3 - 15 * z) / (384 * v**3)
    )


@dataclass(frozen=True, slots=True)
class Spread:
    """How many times the sitting variance, and the shot variance, a value varies by."""

    sittings: float
    shots: float

    @classmethod
    def of_one(cls, shots: int) -> Spread:
        """That of the median of one sitting's shots."""
        return cls(sittings=1.0, shots=median_variance(shots))

    def __add__(self, other: Spread) -> Spread:
        return Spread(sittings=self.sittings + other.sittings, shots=self.shots + other.shots)

    def times(self, factor: float) -> Spread:
        return Spread(sittings=self.sittings * factor, shots=self.shots * factor)


@dataclass(frozen=True, slots=True)
class Noise:
    """Standard deviations in the reading's unit, with their degrees of freedom: shipped ones count as known.

    ``provisional`` until the client has enough of their own.
    """

    shot_sd: float
    sitting_sd: float
    provisional: bool = True
    shot_df: float = math.inf
    sitting_df: float = math.inf

    def band(self, spread: Spread, method_sd: float = 0.0) -> float:
        """Half width of the 95 % band of a value with this spread, in the reading's unit.

        ``method_sd`` is what the method itself is off by, from face to face; it belongs to what is said of a face, not to what is said of a
        change within one. Degrees of freedom are added up after Satterthwaite (1946).
        """
        parts = (
            (spread.sittings * self.sitting_sd**2, self.sitting_df),
            (spread.shots * self.shot_sd**2, self.shot_df),
            (method_sd**2, math.inf),
        )
        total = sum(v for v, _ in parts)
        loose = sum(v**2 / df for v, df in parts if math.isfinite(df))
        return t95(total**2 / loose if loose > 0 else math.inf) * math.sqrt(total)

    def of_one(self, shots: int) -> float:
        """Half width of the 95 % band of one sitting's value against another of the same face. Raises ValueError without a shot."""
        return self.band(Spread.of_one(shots))

    def of_change(self, shots_before: int, shots_after: int) -> float:
        """Minimal detectable change at 95 % between two sittings."""
        return self.band(Spread.of_one(shots_before) + Spread.of_one(shots_after))


def pooled_sd(groups: Iterable[Sequence[float]]) -> tuple[float, int]:
    """Pooled SD of repeated shots within sittings, and its degrees of freedom (0 where nothing was repeated)."""
    squares, df = 0.0, 0
    for values in groups:
        if len(values) > 1:
            mean = statistics.fmean(values)
            squares += sum((v - mean) ** 2 for v in values)
            df += len(values) - 1
    return (math.sqrt(squares / df) if df else 0.0), df


def _blended(own: float, own_df: int, shipped: float, shipped_df: int) -> tuple[float, float]:
    """SD of own and shipped together by degrees of freedom, and the degrees of freedom of that: the shipped one counts as known."""
    share = own_df / (own_df + shipped_df)
    total = share * own**2 + (1 - share) * shipped**2
    loose = (share * own**2) ** 2 / own_df if own_df else 0.0
    return math.sqrt(total), total**2 / loose if loose > 0 else math.inf


def own_noise(
    shipped: Noise, sittings: Iterable[Sequence[float]], double_baseline: tuple[Sequence[float], Sequence[float]] | None
) -> Noise:
    """A client's noise of one reading, blended with the shipped one by degrees of freedom.

    ``sittings`` are the shots' values of each sitting; ``double_baseline`` those of the two sittings before practice. The
    sitting variance is half the squared difference of the two medians, less what the shots alone explain.
    """
    own, df = pooled_sd(sittings)
    shot, shot_df = _blended(own, own_df=df, shipped=shipped.shot_sd, shipped_df=ENOUGH_DF)
    sitting, sitting_df = shipped.sitting_sd, math.inf
    if double_baseline:
        a, b = double_baseline
        explained = shot**2 * (median_variance(len(a)) + median_variance(len(b))) / 2
        squared = (statistics.median(a) - statistics.median(b)) ** 2 / 2 - explained
        sitting, sitting_df = _blended(math.sqrt(max(squared, 0.0)), own_df=1, shipped=sitting, shipped_df=BASELINE_PRIOR_DF)
    provisional = df < ENOUGH_DF or double_baseline is None
    return Noise(shot, sitting_sd=sitting, provisional=provisional, shot_df=shot_df, sitting_df=sitting_df)
