"""Careful starting values: they ship on the cautious side, and a licensed clinician of the practice should confirm them.

One that is a setting can be loosened only once somebody has confirmed it by name and day.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from dimbo.core.programs.program import Settings


@dataclass(frozen=True, slots=True)
class StartingValue:
    """A value as it ships, and why it is careful. ``setting`` is the practice's setting that it bounds from above."""

    id: str
    name: str
    ships: str
    why: str
    setting: str = ""

    def loosened(self, settings: Settings) -> bool:
        """Whether a practice's settings allow more than what ships."""
        return bool(self.setting) and getattr(settings, self.setting) > getattr(Settings(), self.setting)


STARTING_VALUES: Mapping[str, StartingValue] = {
    v.id: v
    for v in (
        StartingValue("strength-days", "Days of strength", "at most 5 days a week", "What works against something rests.", "strength_days"),
        StartingValue("jaw-range", "Jaw at its range", "pushed forward and opened wide together 240 s a day",
                      "The joint tires before the muscles do.", "most_jaw_range_s"),
        StartingValue("swallow-lift", "Swallow lift", "2 s a swallow, 60 s a day", "Nobody can breathe through a held swallow."),
        StartingValue("who-releases", "Who releases a caution", "the roles in the list of cautions; “nurse” and “other” nothing",
                      "What a role may decide differs from place to place."),
        StartingValue("ask-days", "Days after which to ask again", "14, 28, 56 and 14; energy devices 28, fat 56",
                      "Asking releases nothing; only a clearance does."),
        StartingValue("acne-tablets", "After acne tablets", "6 months without firm hands or pinching", "Skin stays thin for months."),
        StartingValue("age", "Age", "none under 16, a named guardian under 18", "Local law comes first."),
    )
}  # fmt: skip
"""Every careful starting value by id."""
