"""A group that started together: its middle, and who is behind."""

from __future__ import annotations

import statistics
from collections.abc import Sequence

from dimbo.core.rules import Rule
from dimbo.core.text import percent

from .alarms import MISSED_IN_A_ROW

BEHIND = 0.25
"""Share of sessions below the middle of the group from which somebody is behind."""

RULE = Rule(
    "group-behind",
    name="Behind the group",
    says=f"Somebody is behind when they did {percent(BEHIND)} of the sessions less than the middle of the group, or missed "
    f"{MISSED_IN_A_ROW} planned days in a row.",
)


def middle(shares: Sequence[float | None]) -> float | None:
    """The median adherence of those who have begun, 0 to 1; None while nobody has."""
    begun = [s for s in shares if s is not None]
    return statistics.median(begun) if begun else None


def behind(share: float | None, median: float | None, missed: int) -> str:
    """Why somebody is behind, in words; empty when they are not."""
    if missed >= MISSED_IN_A_ROW:
        return f"missed {missed} planned days in a row"
    if share is not None and median is not None and median - share >= BEHIND - 1e-9:
        return f"{percent(share)} done, the middle of the group is {percent(median)}"
    return ""
