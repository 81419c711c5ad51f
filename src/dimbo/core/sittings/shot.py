"""One photograph: its points as they stand now, what is measured on it, and what keeps it from being evidence of a change."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

from .frame import MissingPoint, Point, mirrored, place_all, turned_back
from .quality import Check, Seen, Standing
from .reading_table import READINGS
from .readings import Measured, Reading, measure, needed

NEEDED_TRUST = {"pu": 0.85, "ps": 0.5, "pi": 0.5, "bp": 0.5, "bi": 0.5, "bo": 0.5, "ch": 0.5, "ls": 0.3}
"""Evidence from which a refined point may be measured: below it studies/truth.py found errors beyond half a millimetre."""
TOO_LITTLE = "cannot be measured here: the picture shows too little of it"
BY_HAND = "is read only between points set by hand"
NEARLY_CLOSED_MM = 5.0
"""Eyes less open than this are not read reliably."""

_LIDS, _BROWS = (
    ("fissure_height", "upper_lid_margin", "eye_opening"),
    ("brow_height", "brow_height_inner", "brow_height_outer", "brow_excursion"),
)
_MOUTH = ("commissure_height", "corner_angle", "philtrum_length", "upper_vermilion", "lower_vermilion", "mouth_width", "smile_excursion")
_WIDTHS = ("jaw_width", "mouth_width", "midline_sn", "midline_ls", "midline_me", "philtrum_length")
_HELD = ("canthal_tilt", "alar_height", "commissure_height", "corner_angle", "smile_excursion", "midline_sn", "midline_ls", "midline_me")
LEVELLED = frozenset(_BROWS + _HELD)
"""Readings that a head held half a degree otherwise would change: without both irises their error doubles, and no band knows it."""
IMITATES: dict[str, tuple[tuple[str, ...], str]] = {
    "clock": ((*_LIDS, "upper_vermilion", "lower_vermilion"), "taken at another time of day; lids and lips swell and settle over a day"),
    "untimed": ((*_LIDS, "upper_vermilion", "lower_vermilion"), "the time of day is not known; lids and lips swell and settle over a day"),
    "dark": ((*_MOUTH, *_LIDS), "the picture is darker than is good; shade hides the edges"),
    "distance": (_WIDTHS, "taken from another distance; a near lens changes widths"),
    "nod": ((*_BROWS, "alar_height"), "the head was nodded differently; that lifts or lowers brows"),
    "expression": (_MOUTH + _BROWS + _LIDS, "the face was not at rest"),
    "sharp": (_LIDS + _BROWS, "the picture is softer than the baseline"),
}
"""Remarks that keep readings from being compared, and why. Uneven light does not: outlines stand in it, folds do not."""


@dataclass(frozen=True, kw_only=True)
class Shot:
    """One analysed photograph, in pixels. ``hand`` points win over ``points``; times are on the client's clock."""

    id: str
    sitting: str
    view: str
    confirmed: bool
    points: Mapping[str, Point]
    depth: Mapping[str, float]
    trust: Mapping[str, float]
    hand: Mapping[str, Point]
    iris_px: float
    seen: Seen | None
    width: int
    taken_at: datetime | None
    flipped: bool = False
    settled_flip: bool = False
    same_person: bool | None = None
    method: str = ""
    current: bool = True
    """Whether that is the version of the analysis that reads today."""

    @cached_property
    def right_way(self) -> Shot:
        """The shot as an unmirrored photograph; a flipped one with its points and numbers turned round."""
        if not self.flipped or not self.seen:
            return self
        depth = {n: self.depth[n] for n in self.depth}
        swap = mirrored({n: (v, 0.0) for n, v in depth.items()}, 0.0)
        trust = mirrored({n: (v, 0.0) for n, v in self.trust.items()}, 0.0)
        eyes = self.seen.eye_trust
        seen = replace(
            self.seen,
            yaw_deg=-self.seen.yaw_deg,
            roll_deg=-self.seen.roll_deg,
            light=1 / (1 + self.seen.light) - 1 if self.seen.light > -1 else 0.0,
            eye_trust={"right": eyes.get("left", 1.0), "left": eyes.get("right", 1.0)},
        )
        return replace(
            self,
            points=mirrored(self.points, self.width),
            hand=mirrored(self.hand, self.width),
            depth={n: -v[0] for n, v in swap.items()},
            trust={n: -v[0] for n, v in trust.items()},
            seen=seen,
            flipped=False,
            settled_flip=True,
        )

    @property
    def here(self) -> dict[str, Point]:
        """Every point where it stands now."""
        return {**self.points, **self.hand}

    @cached_property
    def frontal(self) -> dict[str, Point]:
        """Points turned back to straight ahead, pixels; without iris centres that are not sure."""
        sure = {
            n: p for n, p in self.here.items() if not n.startswith("pu") or n in self.hand or self.trust.get(n, 1.0) >= NEEDED_TRUST["pu"]
        }
        return turned_back(sure, self.depth, self.seen.yaw_deg if self.seen else 0.0)

    @cached_property
    def levelled(self) -> bool:
        """Whether both irises are sure, along which the head is brought level."""
        return {"pu_right", "pu_left"} <= set(self.frontal)

    def unsure(self, reading: Reading) -> list[str]:
        """Points of a reading that the picture gives too little evidence for; of one that is read by hand, those that are not set."""
        missing = [n for n in needed(reading) if n not in self.hand]
        return [n for n in missing if reading.by_hand or self.trust.get(n, 1.0) < NEEDED_TRUST.get(n.split("_")[0], 0.0)]


@dataclass(frozen=True, slots=True)
class Unmeasured:
    """Why a reading cannot be had from a shot; ``by_hand`` says that setting its points by hand would give it."""

    why: str
    by_hand: bool = False


@dataclass(frozen=True, kw_only=True)
class JudgedShot:
    """A shot with its quality and what is measured on it; ``unmeasured`` names readings that cannot be, with the reason."""

    shot: Shot
    checks: tuple[Check, ...]
    standing: str
    placed: Mapping[str, Point]
    readings: Mapping[str, Measured]
    unmeasured: Mapping[str, Unmeasured]
    suggested: str
    asks_flip: bool = False
    asks_way: bool = False
    """Whether it is the client's first and nobody has said yet which way round it is."""
    asks_person: bool = False

    @property
    def counts(self) -> bool:
        return self.shot.confirmed and self.standing != Standing.RETAKE

    def imitating(self, reading: Reading) -> str:
        """Why this shot is no evidence of a change of a reading; empty when it is."""
        for check in self.checks:
            if check.weight == "watch" and check.id in IMITATES and reading.group in IMITATES[check.id][0]:
                return IMITATES[check.id][1]
        return ""


def ratio_to_iris(shot: Shot) -> float:
    """Inner canthal distance over the iris diameter, both in pixels, the head turned back to straight ahead."""
    p = shot.frontal
    return float(((p["en_left"][0] - p["en_right"][0]) ** 2 + (p["en_left"][1] - p["en_right"][1]) ** 2) ** 0.5) / shot.iris_px


def measured_on(
    shot: Shot, ruler: float | None, neutral: Mapping[str, Point] | None = None
) -> tuple[dict[str, Point], dict[str, Measured], dict[str, Unmeasured]]:
    """Points in the head frame (mm), the readings of the shot's view, and what cannot be measured with the reason."""
    placed = place_all(shot.frontal, shot.iris_px, ruler=ruler)
    found: dict[str, Measured] = {}
    not_here: dict[str, Unmeasured] = {}
    for key, reading in READINGS.items():
        if reading.view != shot.view:
            continue
        unsure = shot.unsure(reading)
        if unsure:
            not_here[key] = Unmeasured(BY_HAND if reading.by_hand else TOO_LITTLE, by_hand=not reading.by_hand)
            continue
        try:
            value = measure(reading, placed, neutral=neutral)
        except MissingPoint:
            not_here[key] = Unmeasured("needs a neutral view in the same sitting" if reading.against else "a point is missing")
            continue
        if reading.group in LEVELLED and not shot.levelled:
            not_here[key] = Unmeasured("cannot be measured here: without both irises it is not known how the head was held", by_hand=True)
            continue
        found_alone = not set(needed(reading)) <= set(shot.hand)
        if reading.group == "fissure_height" and found_alone and min(value.right or 0, value.left or 0) < NEARLY_CLOSED_MM:
            not_here[key] = Unmeasured("cannot be measured here: an eye is nearly closed", by_hand=True)
            continue
        found[key] = value
    return placed, found, not_here
