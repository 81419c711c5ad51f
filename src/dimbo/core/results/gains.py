"""What the trained side gained, and whether those with more extra dose gained more, each with its interval and its gate.

A side is chosen because it looks weak, so it looks less weak the next time, practised or not: a gain counts only from a start that took
no part in the choice (``clean_starts``). What moves by itself is shown by clients who trained both sides alike.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .student import student_p, student_quantile

DRAWN, SURE = 0.975, 0.995
"""Intervals are drawn at 95 %; a verdict needs 99 %, because a practice looks again and again."""
POWER = statistics.NormalDist().inv_cdf(0.8)
"""Standard normal quantile of four times in five."""
LEAST_UNEVEN = LEAST_ALIKE = 8
LEAST_SHOWN_ALIKE = 5
WIDEST_GAIN_MM = 0.25
WIDEST_DOSE_MM = 0.6
"""Per 100 minutes of extra contraction."""
ALPHA = 0.01


@dataclass(frozen=True, kw_only=True)
class MeanGain:
    """Mean gain of some clients with its 95 % interval; ``least`` is the smallest that would be told four times in five."""

    clients: int
    mean: float
    low: float
    high: float
    se: float
    least: float

    @property
    def gate(self) -> bool:
        """Whether there are enough to say something."""
        return self.clients >= LEAST_UNEVEN and self.least <= WIDEST_GAIN_MM

    @property
    def p(self) -> float:
        return student_p(self.mean / self.se, self.clients - 1)


def mean_gain(gains: Sequence[float], noise_sd: float) -> MeanGain:
    """``noise_sd`` is the known SD of one gain of an unchanged face, mm; the standard error never falls below it, so a lucky few do not
    look sure (as q >= 1 in Röver, Knapp and Friede 2015). Raises ValueError for fewer than two."""
    k = len(gains)
    if k < 2:
        raise ValueError("an interval needs two clients")
    mean = statistics.fmean(gains)
    se = max(statistics.stdev(gains), noise_sd) / math.sqrt(k)
    half = student_quantile(DRAWN, k - 1) * se
    return MeanGain(clients=k, mean=mean, low=mean - half, high=mean + half, se=se, least=least_gain(k, noise_sd))


def least_gain(clients: int, noise_sd: float) -> float:
    """The smallest mean gain that a 99 % interval would show four times in five, mm."""
    return (student_quantile(SURE, clients - 1) + POWER) * noise_sd / math.sqrt(clients)


def clients_needed(noise_sd: float) -> int:
    """How many clients until a gain of ``WIDEST_GAIN_MM`` would show."""
    return next((k for k in range(LEAST_UNEVEN, 2000) if least_gain(k, noise_sd) <= WIDEST_GAIN_MM), 2000)


@dataclass(frozen=True, kw_only=True)
class DoseLine:
    """Gain against extra dose: mm per 100 minutes with its 95 % interval, the gain at no extra dose, and the largest dose there was."""

    uneven: int
    alike: int
    slope: float
    low: float
    high: float
    se: float
    at_zero: float
    least: float
    most: float

    @property
    def gate(self) -> bool:
        return self.uneven >= LEAST_UNEVEN and self.alike >= LEAST_ALIKE and self.least <= WIDEST_DOSE_MM

    @property
    def p(self) -> float:
        return student_p(self.slope / self.se, self.uneven + self.alike - 2)


def least_squares(y: np.ndarray, x: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Coefficients and their standard errors by HC3 (MacKinnon and White 1985); ``x`` (n, m) has its own column of ones."""
    inverse = np.linalg.pinv(x.T @ x)
    found = inverse @ x.T @ y
    hat = np.minimum(np.einsum("ij,jk,ik->i", x, inverse, x), 0.99)
    spread = inverse @ (x.T * ((y - x @ found) / (1 - hat)) ** 2) @ x @ inverse
    return found, np.sqrt(np.diag(spread))


def gain_by_dose(gains: Sequence[float], doses: Sequence[float], alike: Sequence[float], noise_sd: float) -> DoseLine:
    """Uneven clients with their extra dose in 100 minutes, and gains of ``alike`` clients at no extra dose. Raises ValueError with too few,
    or when every dose is the same."""
    g = np.array([*gains, *alike], float)
    x = np.array([*doses, *[0.0] * len(alike)], float)
    across = float(((x - x.mean()) ** 2).sum()) if len(x) else 0.0
    if len(g) < 3 or across <= 0:
        raise ValueError("a line needs three clients with different doses")
    found, se = least_squares(g, x=np.column_stack([np.ones(len(g)), x]))
    own = max(float(se[1]), noise_sd / math.sqrt(across))
    half = student_quantile(DRAWN, len(g) - 2) * own
    least = (student_quantile(SURE, len(g) - 2) + POWER) * noise_sd / math.sqrt(across)
    return DoseLine(
        uneven=len(gains),
        alike=len(alike),
        slope=float(found[1]),
        low=float(found[1]) - half,
        high=float(found[1]) + half,
        se=own,
        at_zero=float(found[0]),
        least=least,
        most=float(x.max()),
    )


def told(chances: Sequence[float]) -> list[bool]:
    """Which of several findings may be told at 99 %, after Holm (1979) over all of them."""
    order = sorted(range(len(chances)), key=lambda i: chances[i])
    out, failed = [False] * len(chances), False
    for rank, i in enumerate(order):
        failed = failed or chances[i] > ALPHA / (len(chances) - rank)
        out[i] = not failed
    return out


def returns_by_itself(difference: float, spread_sd: float, noise_sd: float) -> float:
    """How much a difference of the sides that was looked at once will look smaller the next time though nothing changed, mm: (1 - r)|Y|
    (Davis 1976; Barnett, van der Pols and Dobson 2005). ``spread_sd`` is how far people differ, ``noise_sd`` how far two looks do."""
    reliability = spread_sd**2 / (spread_sd**2 + noise_sd**2)
    return (1 - reliability) * abs(difference)


@dataclass(frozen=True, kw_only=True)
class Adjusted:
    """How much larger a difference of the sides is at the end with one approach than with another, of equal starts."""

    difference: float
    se: float
    low: float
    high: float
    p: float
    """Two-sided chance of at least such a difference where there is none."""


LEAST_BY_APPROACH = 20


def by_approach(starts: Sequence[float], ends: Sequence[float], first: Sequence[bool]) -> Adjusted:
    """Difference of the sides at the end, of clients of like starts: those with the first approach less the others. Raises ValueError
    with fewer than four clients or only one approach."""
    if len(starts) < 4 or len(set(first)) < 2:
        raise ValueError("two approaches need two clients each")
    found, se = least_squares(np.array(ends, float), x=np.column_stack([np.ones(len(starts)), starts, np.array(first, float)]))
    difference, own = float(found[2]), float(se[2])
    half = student_quantile(DRAWN, len(starts) - 3) * own
    chance = student_p(difference / own, len(starts) - 3)
    return Adjusted(difference=difference, se=own, low=difference - half, high=difference + half, p=chance)


def overlapping(one: Sequence[float], other: Sequence[float]) -> bool:
    """Whether the middle halves of two groups of starts share a part; else the line between them is only guessed."""
    a, b = (np.quantile(np.array(x, float), [0.25, 0.75]) for x in (one, other))
    return bool(max(a[0], b[0]) <= min(a[1], b[1]))
