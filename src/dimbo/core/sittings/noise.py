"""Noise of a reading: how far two photographs of an unchanged face may differ.

    noise of one reading       1.96 x sqrt(s_b^2 + s_w^2 / n)
    noise of a change (MDC95)  the root of the sum of both sittings' squared bands, sqrt(2) times one where n is alike

s_w is the shot noise (repeated shots within a sitting), s_b the sitting noise (re-posing between sittings), n the accepted
shots. The two bands are never mixed up.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

Z95 = 1.96
ENOUGH_DF = 10
"""Degrees of freedom from which a client's own shot noise stands alone."""
BASELINE_PRIOR_DF = 5
"""One double baseline has a single degree of freedom and would swing wildly alone; the shipped sitting noise counts as five."""


@dataclass(frozen=True, slots=True)
class Noise:
    """Standard deviations in the reading's unit. ``provisional`` until the client has enough of their own."""

    shot_sd: float
    sitting_sd: float
    provisional: bool = True

    def of_one(self, shots: int) -> float:
        """Half width of the 95 % band of one sitting's value."""
        if shots < 1:
            raise ValueError("a sitting's value needs at least one shot")
        return Z95 * math.sqrt(self.sitting_sd**2 + self.shot_sd**2 / shots)

    def of_change(self, shots_before: int, shots_after: int) -> float:
        """Minimal detectable change at 95 % between two sittings."""
        return math.hypot(self.of_one(shots_before), self.of_one(shots_after))


def pooled_sd(groups: Iterable[Sequence[float]]) -> tuple[float, int]:
    """Pooled SD of repeated shots within sittings, and its degrees of freedom (0 where nothing was repeated)."""
    squares, df = 0.0, 0
    for values in groups:
        if len(values) > 1:
            mean = statistics.fmean(values)
            squares += sum((v - mean) ** 2 for v in values)
            df += len(values) - 1
    return (math.sqrt(squares / df) if df else 0.0), df


def _blended(own: float, own_df: int, shipped: float, shipped_df: int) -> float:
    total = own_df + shipped_df
    return math.sqrt((own_df * own**2 + shipped_df * shipped**2) / total) if total else shipped


def own_noise(
    shipped: Noise, sittings: Iterable[Sequence[float]], double_baseline: tuple[Sequence[float], Sequence[float]] | None
) -> Noise:
    """A client's noise of one reading, blended with the shipped one by degrees of freedom.

    ``sittings`` are the shots' values of each sitting; ``double_baseline`` those of the two sittings before practice. The
    sitting variance is half the squared difference of the two medians, less what the shots alone explain.
    """
    own, df = pooled_sd(sittings)
    shot = own if df >= ENOUGH_DF else _blended(own, df, shipped.shot_sd, ENOUGH_DF - df)
    sitting = shipped.sitting_sd
    if double_baseline:
        a, b = double_baseline
        squared = (statistics.median(a) - statistics.median(b)) ** 2 / 2 - shot**2 * (1 / len(a) + 1 / len(b)) / 2
        sitting = _blended(math.sqrt(max(squared, 0.0)), 1, sitting, BASELINE_PRIOR_DF)
    return Noise(shot, sitting_sd=sitting, provisional=df < ENOUGH_DF or double_baseline is None)
