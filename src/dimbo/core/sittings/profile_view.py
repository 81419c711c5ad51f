"""Angles and ratios of a profile, between points that are set by hand."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from .frame import Point, need


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
