"""Most contraction that one muscle bears on one side in a day, by the region in which it lies: starting values with reasons."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class MuscleCeiling:
    """Most contraction of one muscle of a region on one side in a day: seconds as they ship, and why."""

    region: str
    seconds: float
    why: str

    @property
    def setting(self) -> str:
        """The name of its setting."""
        return f"most_{self.region.replace(' ', '_')}_s"


MUSCLES: Mapping[str, MuscleCeiling] = {
    m.region: m
    for m in (
        MuscleCeiling("forehead", 150, "The forehead works all day by itself; it is trained little and released much."),
        MuscleCeiling("brow", 120, "What draws the brows together is released rather than trained."),
        MuscleCeiling("eye", 240, "Lids tire and dry soon, and eyes need rest between."),
        MuscleCeiling("nose", 120, "Small muscles; more deepens the folds beside them."),
        MuscleCeiling("cheek", 300, "The large elevators bear most; a full program ends at three minutes."),
        MuscleCeiling("mouth", 240, "One minute a lip card, and the ring works in nearly all of them; overdone, it purses and lines."),
        MuscleCeiling("chin", 180, "A tense chin dimples and pulls the lip up."),
        MuscleCeiling("jaw", 180, "The jaw works at every meal; its joint bears little more."),
        MuscleCeiling("temple", 150, "It closes the jaw, and is tense more often than weak."),
        MuscleCeiling("under the chin", 300, "Jaw, tongue and swallowing work meet here; the neck is sore first."),
        MuscleCeiling("front of neck", 240, "Swallowing muscles are sore for days when overdone."),
        MuscleCeiling("mouth floor", 240, "The tongue cramps."),
        MuscleCeiling("neck", 300, "It carries the head all day."),
        MuscleCeiling("shoulder", 300, "Posture, not strength, is what it is trained for."),
        MuscleCeiling("ear", 180, "Small muscles that hardly ever work."),
        MuscleCeiling("scalp", 180, "It is moved rather than trained."),
    )
}
"""Ceilings by region, as they ship. They are starting values; a practice may set its own."""

JAW_RANGE = "jaw-range"
"""Stands among the muscles for the jaw joint at the end of its range: pushed forward, or opened wide."""
JAW_RANGE_NAME = "the jaw pushed forward or opened wide"
JAW_RANGE_MARKS = frozenset({"jaw-forward", "wide-open"})
JAW_RANGE_S = 240.0
JAW_RANGE_WHY = "All exercises with the jaw pushed forward or opened wide together; the joint tires before the muscles do."
