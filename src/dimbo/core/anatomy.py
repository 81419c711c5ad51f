"""Sides, muscles and technique families.

Left and right are always the client's own, never the viewer's.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum


class Side(StrEnum):
    """A side of the client's own body."""

    RIGHT = "right"
    LEFT = "left"

    @property
    def other(self) -> Side:
        return Side.LEFT if self is Side.RIGHT else Side.RIGHT


@dataclass(frozen=True, slots=True)
class SideSeconds:
    """Seconds on each side of the client's own body."""

    right: float
    left: float

    @classmethod
    def each(cls, of: Callable[[Side], float]) -> SideSeconds:
        """What a function says of each side."""
        return cls(of(Side.RIGHT), left=of(Side.LEFT))

    def of(self, side: Side) -> float:
        return self.right if side is Side.RIGHT else self.left

    @property
    def busier(self) -> Side:
        return Side.RIGHT if self.right >= self.left else Side.LEFT


class Family(StrEnum):
    """What kind of technique an exercise is; it decides how its time is counted."""

    CONTRACT = "contract"
    RESIST = "resist"
    RELEASE = "release"
    DRAIN = "drain"
    PRESS = "press"
    TAP = "tap"
    STRETCH = "stretch"
    MOBILISE = "mobilise"
    BREATHE = "breathe"
    ALIGN = "align"
    HABIT = "habit"

    @property
    def contracts(self) -> bool:
        """Whether lead and hold count as contraction time; all other families are hands-on or rest time."""
        return self in (Family.CONTRACT, Family.RESIST, Family.ALIGN)


STAYS = (Family.RELEASE, Family.PRESS)
"""Families that linger at a tender spot: held longer, they let go."""


class Stage(StrEnum):
    """A stage of a session, in the order in which stages are practised."""

    PREPARE = "prepare"
    LOOSEN = "loosen"
    WAKE = "wake"
    WORK = "work"
    RELEASE = "release"
    DRAIN = "drain"
    CLOSE = "close"
    DAY = "through the day"
    """Habit tasks; they stand under the program and take no time of a session."""


STAGE_ORDER: dict[Stage, int] = {stage: place for place, stage in enumerate(Stage)}


@dataclass(frozen=True, slots=True, kw_only=True)
class Muscle:
    """A muscle, or a group that is trained as one.

    ``works_against`` holds the ids of its antagonists.
    """

    id: str
    name: str
    region: str
    action: str
    works_against: tuple[str, ...] = ()


PRIME_SHARE = 1.0
HELPER_SHARE = 0.5
"""Share of an exercise's contraction time that a helper muscle is credited with."""
