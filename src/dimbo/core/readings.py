"""Readings: what is measured between points, and when a difference or a change counts.

    noise of one reading       1.96 x sqrt(s_b^2 + s_w^2 / n)
    noise of a change (MDC95)  sqrt(2) times as wide

s_w is the shot noise (repeated shots within a sitting), s_b the sitting noise (re-posing between
sittings), n the accepted shots. The two bands are never mixed up.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from .anatomy import Side
from .frame import Frame, Point, need

Z95 = 1.96


class Judgement(StrEnum):
    """What a comparison with the noise says."""

    BEYOND = "beyond noise"
    WITHIN = "within noise"


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


@dataclass(frozen=True, slots=True)
class PairedReading:
    """A reading that exists on both sides. Heights are in millimetres."""

    id: str
    name: str
    definition: str
    unit: str
    difference_noise: Noise
    smaller: str
    """What is said of the side with the smaller value, such as: eye opens less."""


@dataclass(frozen=True, slots=True)
class Pair:
    """Values of both sides, in the reading's unit."""

    right: float
    left: float

    @property
    def difference(self) -> float:
        """Left minus right, signed."""
        return self.left - self.right

    @property
    def index(self) -> float | None:
        """100 (left - right) / mean of both, percent; None where the mean is not a size."""
        mean = (self.left + self.right) / 2
        return 100 * self.difference / mean if mean > 0 else None


FISSURE_HEIGHT = PairedReading(
    id="fissure_height",
    name="Eye opening",
    definition="Between the highest and the lowest mid-point of the lid margins, in millimetres.",
    unit="mm",
    difference_noise=Noise(shot_sd=0.20, sitting_sd=0.25),
    smaller="eye opens less",
)
COMMISSURE_HEIGHT = PairedReading(
    id="commissure_height",
    name="Mouth corner",
    definition="Height of the mouth corner over the horizontal through the base of the nose, in millimetres.",
    unit="mm",
    difference_noise=Noise(shot_sd=0.15, sitting_sd=0.25),
    smaller="mouth corner stands lower",
)
READINGS: dict[str, PairedReading] = {r.id: r for r in (FISSURE_HEIGHT, COMMISSURE_HEIGHT)}
"""Shipped noise: shot SDs from repeated renderings of one good shot; 0.25 mm for re-posing on top. Both
are provisional until a client's own repeated shots and double baseline replace them."""


def fissure_height(points: Mapping[str, Point], frame: Frame, side: Side) -> float:
    """Palpebral fissure height of a side, ps to pi, in millimetres."""
    top, bottom = need(points, f"ps_{side}", f"pi_{side}")
    return frame.place(top)[1] - frame.place(bottom)[1]


def commissure_height(points: Mapping[str, Point], frame: Frame, side: Side) -> float:
    """Height of cheilion over the horizontal through subnasale, in millimetres; below it is negative."""
    nose, corner = need(points, "sn", f"ch_{side}")
    return frame.place(corner)[1] - frame.place(nose)[1]


_MEASURES = {FISSURE_HEIGHT.id: fissure_height, COMMISSURE_HEIGHT.id: commissure_height}


def measure(reading: PairedReading, points: Mapping[str, Point], frame: Frame) -> Pair:
    """Both sides of a reading on one shot. Raises MissingPoint."""
    of = _MEASURES[reading.id]
    return Pair(of(points, frame, Side.RIGHT), of(points, frame, Side.LEFT))


@dataclass(frozen=True, slots=True)
class SittingValue:
    """A sitting's value: the median over its shots, with the band of one reading."""

    pair: Pair
    difference: float
    shots: int
    band: float
    provisional: bool
    judgement: Judgement

    @property
    def lower_side(self) -> Side | None:
        """The side with the smaller value, when the difference is real."""
        if self.judgement is Judgement.WITHIN:
            return None
        return Side.RIGHT if self.difference > 0 else Side.LEFT


def sitting_value(reading: PairedReading, shots: Sequence[Pair]) -> SittingValue:
    """Median of the shots; the difference is the median of the shots' differences."""
    if not shots:
        raise ValueError("a sitting's value needs at least one shot")
    difference = statistics.median(s.difference for s in shots)
    pair = Pair(statistics.median(s.right for s in shots), statistics.median(s.left for s in shots))
    band = reading.difference_noise.of_one(len(shots))
    judgement = Judgement.BEYOND if abs(difference) > band else Judgement.WITHIN
    return SittingValue(pair, difference, len(shots), band, reading.difference_noise.provisional, judgement)


@dataclass(frozen=True, slots=True)
class Change:
    """A left-right difference then and now, with the minimal detectable change."""

    before: float
    after: float
    mdc: float
    judgement: Judgement

    @property
    def amount(self) -> float:
        return self.after - self.before

    @property
    def toward_symmetry(self) -> bool | None:
        """Whether the sides came closer; None within noise."""
        if self.judgement is Judgement.WITHIN:
            return None
        return abs(self.after) < abs(self.before)


def sentence(reading: PairedReading, value: SittingValue) -> str:
    """The headline of a sitting's value; within the noise it says just that."""
    side = value.lower_side
    if side is None:
        return f"{reading.name}: no difference beyond the noise."
    return f"The {side.value} {reading.smaller}, beyond the noise."


def compare(reading: PairedReading, before: SittingValue, after: SittingValue) -> Change:
    """The change of a left-right difference between two sittings."""
    mdc = reading.difference_noise.of_change(before.shots, after.shots)
    amount = after.difference - before.difference
    judgement = Judgement.BEYOND if abs(amount) > mdc else Judgement.WITHIN
    return Change(before.difference, after.difference, mdc, judgement)
