"""Blind rating: photographs without dates in random order, with repeats, and what such a round can say.

Lines, folds and fullness cannot be measured well on shading. They are rated, 0 to 4 each, or as the better of two.
"""

from __future__ import annotations

import math
import random
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from .noise import Z95

REPEAT_SHARE = 5
"""One in five is shown again, to tell how far the rater agrees with themself."""
SCALE = (0, 1, 2, 3, 4)
SECONDS_A_LOOK, SECONDS_A_PAIR = 6, 9
"""How long a look takes, of one photograph and of two; what a round is said to take, never a limit."""
REST_EVERY = 15
"""After so many looks a rest is offered: eyes get used to what they see."""


@dataclass(frozen=True, slots=True)
class Item:
    """One look: a photograph (or two, the first shown left), and whether it is a repeat of an earlier look."""

    photographs: tuple[str, ...]
    repeat_of: int | None = None


def single_round(photographs: Sequence[str], seed: int) -> list[Item]:
    """Every photograph once in random order, and one in five (at least one) again, never right after itself."""
    rng = random.Random(seed)
    order = list(dict.fromkeys(photographs))
    rng.shuffle(order)
    return _with_repeats([Item((p,)) for p in order], rng)


def pair_round(before: Sequence[str], after: Sequence[str], seed: int) -> list[Item]:
    """Every earlier photograph beside a later one, sides and order random, and one in five again with sides exchanged."""
    rng = random.Random(seed)
    pairs = [(a, b) for a in before for b in after]
    rng.shuffle(pairs)
    return _with_repeats([Item(p if rng.random() < 0.5 else p[::-1]) for p in pairs], rng)


def _with_repeats(items: list[Item], rng: random.Random) -> list[Item]:
    count = max(1, math.ceil(len(items) / REPEAT_SHARE)) if items else 0
    again = rng.sample(range(max(len(items) - 1, 1)), min(count, len(items))) if items else []
    return items + [Item(items[k].photographs[::-1], k) for k in again]


def wilson(successes: int, of: int) -> tuple[float, float]:
    """Wilson's 95 % interval of a share (Wilson 1927). Raises ValueError for no trials."""
    if of < 1:
        raise ValueError("a share needs at least one trial")
    p, z2 = successes / of, Z95**2
    middle = (p + z2 / (2 * of)) / (1 + z2 / of)
    half = Z95 / (1 + z2 / of) * math.sqrt(p * (1 - p) / of + z2 / (4 * of**2))
    return max(0.0, middle - half), min(1.0, middle + half)


def weighted_kappa(pairs: Sequence[tuple[int, int]], levels: int = len(SCALE)) -> float | None:
    """Agreement of two scores beyond chance with quadratic weights (Cohen 1968): 1 is full, 0 is chance.

    None without pairs. Where neither score ever varies, agreement is full or nothing.
    """
    if not pairs:
        return None
    n = len(pairs)
    seen = sum(((a - b) / (levels - 1)) ** 2 for a, b in pairs) / n
    first = [sum(a == k for a, _ in pairs) / n for k in range(levels)]
    second = [sum(b == k for _, b in pairs) / n for k in range(levels)]
    chance = sum(first[i] * second[j] * ((i - j) / (levels - 1)) ** 2 for i in range(levels) for j in range(levels))
    if chance == 0:
        return 1.0 if seen == 0 else 0.0
    return 1 - seen / chance


AGREEMENT = ((0.8, "very good"), (0.6, "good"), (0.4, "fair"))
"""Words for a weighted kappa above each bound (Altman 1991, with his two lowest steps as one); below the last it is poor."""


def agreement_words(kappa: float | None) -> str:
    """How well a rater agrees with themself, in words."""
    if kappa is None:
        return "not known"
    return next((words for above, words in AGREEMENT if kappa > above), "poor")


@dataclass(frozen=True, slots=True)
class RatedChange:
    """Mean rating then and now, their difference and its 95 % interval; more is a deeper concern."""

    before: float
    after: float
    low: float
    high: float

    @property
    def amount(self) -> float:
        return self.after - self.before

    @property
    def beyond(self) -> bool:
        return not self.low <= 0 <= self.high


_T95 = {1: 12.706, 2: 4.303, 3: 3.182, 4: 2.776, 5: 2.571, 6: 2.447, 7: 2.365, 8: 2.306, 9: 2.262, 10: 2.228}
_STEP_SD = 0.5
"""A rater's score moves by about half a step; used where scores of a sitting do not vary, so that no interval is empty."""


def rated_change(before: Sequence[int], after: Sequence[int]) -> RatedChange | None:
    """Difference of two means with Student's interval on the pooled SD; None when a side has no rating."""
    if not before or not after:
        return None
    a, b = statistics.fmean(before), statistics.fmean(after)
    df = len(before) + len(after) - 2
    squares = sum((v - a) ** 2 for v in before) + sum((v - b) ** 2 for v in after)
    sd = max(math.sqrt(squares / df) if df else 0.0, _STEP_SD)
    half = _T95.get(max(df, 1), Z95) * sd * math.sqrt(1 / len(before) + 1 / len(after))
    return RatedChange(a, after=b, low=b - a - half, high=b - a + half)


@dataclass(frozen=True, slots=True)
class Preference:
    """How often the later photograph was picked, of how many looks, with Wilson's interval."""

    later: int
    of: int
    low: float
    high: float

    @property
    def beyond(self) -> bool:
        """Whether picking at random would hardly do it: half lies outside the interval."""
        return not self.low <= 0.5 <= self.high


def preference(picks: Sequence[bool]) -> Preference | None:
    """``picks`` tell of each first look whether the later photograph was picked; None without any."""
    if not picks:
        return None
    low, high = wilson(sum(picks), of=len(picks))
    return Preference(sum(picks), of=len(picks), low=low, high=high)


def agreement(items: Sequence[Item], answers: Mapping[int, int]) -> list[tuple[int, int]]:
    """First and second answer of every repeated look that has both; of two photographs, as which photograph was picked."""
    out = []
    for k, item in enumerate(items):
        if item.repeat_of is not None and item.repeat_of in answers and k in answers:
            second = answers[k] if len(item.photographs) == 1 else 1 - answers[k]  # a repeated pair stands the other way round
            out.append((answers[item.repeat_of], second))
    return out
