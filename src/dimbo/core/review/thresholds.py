"""The thresholds of the weekly review, their bounds, and a practice's own over the shipped ones."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields

from dimbo.core.programs.program import Limit
from dimbo.core.rules import tenths
from dimbo.core.text import percent


class OutOfBounds(ValueError):
    """A threshold that cannot be; ``field`` is its key."""

    def __init__(self, message: str, field: str) -> None:
        super().__init__(message)
        self.field = field


@dataclass(frozen=True, slots=True, kw_only=True)
class ReviewRules:
    """The thresholds of the weekly review; effort and soreness are of 10, shares 0 to 1."""

    advance_share: float = 0.8
    hold_share: float = 0.5
    effort_low: float = 3
    effort_high: float = 7
    soreness_advance: float = 3
    soreness_ease: float = 5
    over_share: float = 0.25
    over_days: float = 2


SHIPPED = ReviewRules()


REVIEW_LIMITS: Mapping[str, Limit] = {
    "advance_share": Limit(
        name="Advance from", unit="of the sessions", least=0.5, most=1, about="Share of the planned sessions from which a program advances."
    ),
    "hold_share": Limit(
        name="Hold from",
        unit="of the sessions",
        least=0.2,
        most=0.8,
        about="Below this share a week says too little, and the dose stays as well.",
    ),
    "effort_low": Limit(
        name="Effort at least",
        unit="of 10",
        least=0,
        most=5,
        about="Median effort below which the form is looked at before the dose is raised.",
    ),
    "effort_high": Limit(name="Effort at most", unit="of 10", least=5, most=10, about="Median effort above which a program holds."),
    "soreness_advance": Limit(
        name="Soreness to advance", unit="of 10", least=0, most=5, about="Next-day soreness up to which a program advances."
    ),
    "soreness_ease": Limit(
        name="Soreness to ease back", unit="of 10", least=3, most=9, about="Next-day soreness above which a program eases back one rung."
    ),
    "over_share": Limit(
        name="Overdone from",
        unit="above plan",
        least=0.1,
        most=1,
        about="A day counts as overdone when more than this share lies above its plan.",
    ),
    "over_days": Limit(
        name="Overdone days", unit="days", least=1, most=7, about="So many overdone days in a week, and a program eases back one rung."
    ),
}
"""Every threshold of ``ReviewRules`` with its bounds."""


def checked_rules(values: Mapping[str, float], base: ReviewRules | None = None) -> ReviewRules:
    """Thresholds from plain numbers over ``base``. Raises OutOfBounds that names the threshold and its bounds."""
    for key, value in values.items():
        limit = REVIEW_LIMITS.get(key)
        if limit is None:
            raise OutOfBounds(f"there is no review threshold “{key}”; choose from {', '.join(REVIEW_LIMITS)}", key)
        if not limit.least <= value <= limit.most:
            raise OutOfBounds(f"{limit.name} must be {limit.least:g} to {limit.most:g} {limit.unit}, not {value:g}", key)
    rules = ReviewRules(**asdict(base or ReviewRules()) | dict(values))
    for low, high in (("hold_share", "advance_share"), ("effort_low", "effort_high"), ("soreness_advance", "soreness_ease")):
        if getattr(rules, low) > getattr(rules, high):
            raise OutOfBounds(f"{REVIEW_LIMITS[low].name} must not lie above {REVIEW_LIMITS[high].name.lower()}", low)
    return rules


def own_rules(rules: ReviewRules) -> dict[str, float]:
    """Only what differs from the shipped thresholds."""
    shipped = ReviewRules()
    return {f.name: getattr(rules, f.name) for f in fields(ReviewRules) if getattr(rules, f.name) != getattr(shipped, f.name)}


def in_words(rules: ReviewRules) -> dict[str, str]:
    """The thresholds as they stand in a sentence."""
    return {
        f.name: percent(getattr(rules, f.name)) if f.name.endswith("_share") else tenths(getattr(rules, f.name))
        for f in fields(ReviewRules)
    }
