"""Readings: what is measured between points, on which views, and how it is said.

Every reading works on points in millimetres of the head frame (``frame.place_all``): x to the client's left, y up. Terms
are those of facial anthropometry (Farkas 1994). The table of all readings is in ``reading_table.py``, the landmark asymmetry
in ``shape.py``.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from dimbo.core.anatomy import Side

from .frame import MissingPoint, Point, need
from .noise import Noise

Points = Mapping[str, Point]
FOLLOWS_WELL = (0.85, 1.15)
"""Between these a change is shown as large as it is, or nearly."""


@dataclass(frozen=True, slots=True)
class Measured:
    """One reading on one shot, in its unit. A paired reading has both sides, and ``value`` is left minus right."""

    value: float
    right: float | None = None
    left: float | None = None

    @classmethod
    def pair(cls, right: float, left: float) -> Measured:
        return cls(left - right, right, left)

    @property
    def index(self) -> float | None:
        """100 (left - right) / mean of both, percent; None where there are no two sides or the mean is not a size."""
        if self.right is None or self.left is None:
            return None
        mean = (self.left + self.right) / 2
        return 100 * self.value / mean if mean > 0 else None

    @property
    def ratio(self) -> float | None:
        """Smaller over larger side, for ways and openings; None where the larger is not a size."""
        if self.right is None or self.left is None or max(self.right, self.left) <= 0:
            return None
        return min(self.right, self.left) / max(self.right, self.left)


_REGIONS = {
    **dict.fromkeys(("bp", "bi", "bo"), "brows"),
    **dict.fromkeys(("ps", "pi", "pu", "en", "ex"), "eyes"),
    **dict.fromkeys(("al", "sn"), "nose"),
    **dict.fromkeys(("ch", "sto", "ls", "li"), "mouth"),
    **dict.fromkeys(("go", "me"), "jaw and chin"),
}
"""The part of the face by landmark."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """What is measured. ``view`` is where; ``against`` the neutral view for ways between two expressions.

    ``noise`` is that of ``value`` (for a pair, of the difference), ``side_noise`` that of one side. ``less`` is said of the
    side with the smaller value, ``more`` of a side that grew. ``needs`` lists the points (a pair's without their side).
    """

    id: str
    name: str
    definition: str
    unit: str
    view: str
    needs: tuple[str, ...]
    of: Callable[[Points, Side | None], float]
    noise: Noise
    side_noise: Noise | None = None
    less: str = ""
    more: str = ""
    against: bool = False
    method_sd: float = 0.0
    """How far the method itself is off, from face to face and light to light (``studies.truth``); it cancels between two sittings of one
    face, and belongs to everything that is said of one sitting alone."""
    follows: float = 1.0
    """How much of a true change the method shows (``studies.truth``)."""
    by_hand: bool = False
    """Whether it is read only between points that were set by hand: on its own the method puts them where an average face has them."""
    off_midline: bool = False
    """Whether its sign says to which side something lies."""
    base: str = ""
    """The reading of the neutral view that this one takes in another expression."""

    @property
    def region(self) -> str:
        """The part of the face that it is read in; what is read from the nose's base down to another point belongs to that one."""
        own = next((n for n in self.needs if n != "sn"), "sn")
        return _REGIONS[own.partition("_")[0]]

    @property
    def has_sides(self) -> bool:
        """Whether a mirrored picture would say the opposite."""
        return self.paired or self.off_midline

    @property
    def paired(self) -> bool:
        return self.side_noise is not None

    @property
    def care(self) -> str:
        """What whoever reads it must know of the method; empty where it follows a change well."""
        if self.by_hand:
            return "Read between points set by hand only; the noise is that of setting them."
        if self.follows > FOLLOWS_WELL[1]:
            return f"The method shows a true change about {self.follows - 1:.0%} larger than it is.".replace("%", " %")
        if self.follows < FOLLOWS_WELL[0]:
            share = f"{self.follows * 10:.0f} tenths"
            return f"The method shows about {share} of a true change here: what it shows is real, and smaller than it was."
        return ""

    @property
    def group(self) -> str:
        """The kind of reading without the expression in which it is taken."""
        return self.base or self.id


def needed(reading: Reading) -> list[str]:
    """Names of all points that a reading is measured between."""
    sided = ("ps", "pi", "pu", "bi", "bp", "bo", "en", "ex", "al", "ch", "go")
    return [f"{n}_{s}" for n in reading.needs if n in sided for s in Side] + [n for n in reading.needs if n not in sided]


def measure(reading: Reading, points: Points, neutral: Points | None = None) -> Measured:
    """A reading on one shot, from points in the head frame in millimetres.

    ``neutral`` are the same client's neutral points of the sitting, for readings that are a way between two expressions:
    straight-line distance for the mouth corner, difference of heights otherwise. Raises MissingPoint.
    """
    if not reading.paired:
        return Measured(reading.of(points, None))
    if not reading.against:
        return Measured.pair(reading.of(points, Side.RIGHT), left=reading.of(points, Side.LEFT))
    if neutral is None:
        raise MissingPoint(f"{reading.name} needs a neutral view in the same sitting")
    if reading.id == "smile_excursion":
        return Measured.pair(*(math.dist(*need(points, f"ch_{s}"), *need(neutral, f"ch_{s}")) for s in (Side.RIGHT, Side.LEFT)))
    return Measured.pair(*(reading.of(points, s) - reading.of(neutral, s) for s in (Side.RIGHT, Side.LEFT)))
