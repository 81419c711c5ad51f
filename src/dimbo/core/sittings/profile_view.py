"""Angles and ratios of a profile, between points that are set by hand: their values, how far two settings differ, and what changed.

No network finds points on a profile. Where an earlier picture of the same side has them, its points, laid on those that are set here
already, suggest where the rest may be.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from .frame import Point, need
from .noise import pooled_sd, t95


@dataclass(frozen=True, slots=True, kw_only=True)
class ProfileReading:
    """``lines`` are the points that the construction joins, as they are drawn."""

    id: str
    name: str
    definition: str
    unit: str
    needs: tuple[str, ...]
    lines: tuple[tuple[str, str], ...]


CERVICOMENTAL = ProfileReading(
    id="cervicomental_angle",
    name="Chin-neck angle",
    definition="Between the line from the base of the nose to the chin and the line under the chin to its deepest point at the neck.",
    unit="°",
    needs=("sn", "pog", "me", "cp"),
    lines=(("sn", "pog"), ("me", "cp")),
)
CRANIOVERTEBRAL = ProfileReading(
    id="craniovertebral_angle",
    name="Head-neck angle",
    definition="Between the horizontal through C7 and the line from C7 to the notch of the ear; smaller is further forward. Camera level.",
    unit="°",
    needs=("c7", "tragus"),
    lines=(("c7", "tragus"),),
)
CHIN_NECK = ProfileReading(
    id="chin_neck_ratio",
    name="Chin to neck",
    definition="Length under the chin (lowest chin point to the neck) over the lower face (base of the nose to the lowest chin point).",
    unit="",
    needs=("sn", "me", "cp"),
    lines=(("sn", "me"), ("me", "cp")),
)
PROFILE_READINGS = {r.id: r for r in (CERVICOMENTAL, CRANIOVERTEBRAL, CHIN_NECK)}


def _between(u: tuple[float, float], v: tuple[float, float]) -> float:
    dot = u[0] * v[0] + u[1] * v[1]
    return math.degrees(math.acos(max(-1.0, min(1.0, dot / (math.hypot(*u) * math.hypot(*v))))))


def measure_profile(points: Mapping[str, Point]) -> dict[str, float]:
    """Every reading whose points are there; pixels, y down. Works for both profiles alike.

    The angle at the chin follows Legan and Burstone (1980, lower face-throat angle); the angle at C7 is the craniovertebral
    angle of posture studies, true only with a level camera.
    """
    out: dict[str, float] = {}
    for reading in PROFILE_READINGS.values():
        if any(n not in points for n in reading.needs):
            continue
        a = need(points, *reading.needs)
        if reading is CERVICOMENTAL:
            sn, pog, me, cp = a
            out[reading.id] = _between((sn[0] - pog[0], sn[1] - pog[1]), v=(cp[0] - me[0], cp[1] - me[1]))
        elif reading is CRANIOVERTEBRAL:
            c7, tragus = a
            out[reading.id] = math.degrees(math.atan2(c7[1] - tragus[1], abs(tragus[0] - c7[0])))
        else:
            sn, me, cp = a
            out[reading.id] = math.dist(me, cp) / math.dist(sn, me)
    return out


SETTING_SD = {CERVICOMENTAL.id: 2.7, CRANIOVERTEBRAL.id: 0.63, CHIN_NECK.id: 0.041}
"""SD of one setting, in the reading's unit, when each point is set within 1 mm (SD, along each direction): ``studies.truth profile``
moves the points of the sixteen profiles that ship. It stands until a practice has set pictures twice itself."""
SETTING_DF = 5
"""The shipped SD counts as so many degrees of freedom beside the practice's own."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingNoise:
    """How far two settings of one picture's points let a reading differ; ``pictures`` were set twice in this practice."""

    sd: float
    df: float
    pictures: int

    @property
    def band(self) -> float:
        """Half width of the 95 % band of one value."""
        return t95(self.df) * self.sd

    @property
    def of_change(self) -> float:
        """What two pictures of an unchanged profile differ by, in 95 of 100 cases, for the setting alone."""
        return self.band * math.sqrt(2)


def setting_noise(twice: Iterable[tuple[Mapping[str, Point], Mapping[str, Point]]]) -> dict[str, SettingNoise]:
    """The noise of setting, by reading, from pictures whose points were set twice, blended with the shipped one by degrees of freedom."""
    pairs = [(measure_profile(a), measure_profile(b)) for a, b in twice]
    out = {}
    for key, shipped in SETTING_SD.items():
        own, df = pooled_sd([(a[key], b[key]) for a, b in pairs if key in a and key in b])
        variance = (df * own**2 + SETTING_DF * shipped**2) / (df + SETTING_DF)
        out[key] = SettingNoise(sd=math.sqrt(variance), df=df + SETTING_DF, pictures=df)
    return out


@dataclass(frozen=True, slots=True, kw_only=True)
class ProfileChange:
    """A profile's reading then and now."""

    reading: ProfileReading
    before: float
    after: float
    mdc: float

    @property
    def beyond(self) -> bool:
        return abs(self.after - self.before) > self.mdc

    @property
    def sentence(self) -> str:
        if not self.beyond:
            return f"{self.reading.name}: no change beyond the noise of setting the points."
        size = "larger" if self.after > self.before else "smaller"
        return f"{self.reading.name}: {size}, beyond the noise of setting the points. How the head was held is not in that noise."


def profile_changes(before: Mapping[str, Point], after: Mapping[str, Point], noise: Mapping[str, SettingNoise]) -> list[ProfileChange]:
    """Every reading that both pictures of one side have."""
    was, now = measure_profile(before), measure_profile(after)
    return [
        ProfileChange(reading=PROFILE_READINGS[k], before=was[k], after=now[k], mdc=noise[k].of_change)
        for k in PROFILE_READINGS
        if k in was and k in now
    ]


def suggested(points: Mapping[str, Point], earlier: Mapping[str, Point]) -> dict[str, Point]:
    """Where the missing points of a profile may be: an earlier picture's, turned, sized and moved so that those which both have fit best.

    Least squares in the plane (Procrustes without reflection). Needs two points of both; empty with fewer.
    """
    both = [n for n in points if n in earlier]
    if len(both) < 2:
        return {}
    there, here = ([complex(*p[n]) for n in both] for p in (earlier, points))
    mid_there, mid_here = sum(there) / len(both), sum(here) / len(both)
    size = sum(abs(z - mid_there) ** 2 for z in there)
    if size == 0:
        return {}
    turn = sum((h - mid_here) * (t - mid_there).conjugate() for h, t in zip(here, there, strict=True)) / size
    placed = {n: mid_here + turn * (complex(*p) - mid_there) for n, p in earlier.items() if n not in points}
    return {n: (z.real, z.imag) for n, z in placed.items()}
