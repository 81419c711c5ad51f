"""Careful starting values: they ship on the cautious side, and a licensed clinician of the practice should confirm them.

One that is a setting can be loosened only once somebody has confirmed it by name and day.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from dimbo.core.programs.program import Settings


@dataclass(frozen=True, slots=True, kw_only=True)
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
        StartingValue(
            id="strength-days",
            name="Days of strength",
            ships="at most 5 days a week",
            why="What works against something rests.",
            setting="strength_days",
        ),
        StartingValue(
            id="jaw-range",
            name="Jaw at its range",
            ships="pushed forward and opened wide together 240 s a day",
            why="The joint tires before the muscles do.",
            setting="most_jaw_range_s",
        ),
        StartingValue(
            id="swallow-lift", name="Swallow lift", ships="2 s a swallow, 60 s a day", why="Nobody can breathe through a held swallow."
        ),
        StartingValue(
            id="who-releases",
            name="Who releases a caution",
            ships="the roles in the list of cautions; “nurse” and “other” nothing",
            why="What a role may decide differs from place to place.",
        ),
        StartingValue(
            id="ask-days",
            name="Days after which to ask again",
            ships="14, 28, 56 and 14; energy devices 28, fat 56",
            why="Asking releases nothing; only a clearance does.",
        ),
        StartingValue(
            id="acne-tablets", name="After acne tablets", ships="6 months without firm hands or pinching", why="Skin stays thin for months."
        ),
        StartingValue(id="age", name="Age", ships="none under 16, a named guardian under 18", why="Local law comes first."),
    )
}
"""Every careful starting value by id."""
