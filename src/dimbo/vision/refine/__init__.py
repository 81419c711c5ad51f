"""Local refinement to fractions of a pixel, started from the dense mesh.

The mesh follows an average face: it shrinks left-right differences to two thirds of the truth. Here the pixels speak:
irises as circles, lids and brows as edges and bands, mouth corners as the ends of the lips. Each refined point carries a
trust of 0..1; where the picture gives no evidence the mesh's own point remains, with trust 0.
docs/measurement.md tells how true it is.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from dimbo.core.sittings.frame import Point

from .brow import brow_heights, brow_light
from .crop import BROW_PX_PER_MM, LIPS_PX_PER_MM, PX_PER_MM, SIDES, Crop, axis_and_scale, by_x
from .iris import Eye, iris_pair, level_covered
from .lids import eye_maps, lid_height
from .mouth import OUTER, corner, mouth_map, upper_border

BROW_MM = {"bi": -6.0, "bp": 9.3, "bo": 17.0}
"""Where the brow is read, in millimetres lateral of the iris centre: inner, peak and outer."""
Keep = Callable[[str, np.ndarray, float], None]
_EYE_WINDOW = (21.0, 20.0)
_LID_WINDOW = (16.0, 14.0)
_MOUTH_WINDOW = (42.0, 26.0)
_ROUND_THE_LIPS = (8.0, 9.0)
"""Skin beside and above the lips that their colour is told from, and into which their line is followed."""


@dataclass(frozen=True)
class Refined:
    """Refined points in picture pixels by anthropometric name, each one's trust 0..1, and the iris diameter in pixels."""

    points: dict[str, Point]
    trust: dict[str, float]
    iris_px: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Sided:
    """A point of both sides whose refined places are held against the mesh's own: ``mesh`` indices (right, left).

    The mesh shows a true difference of the sides as ``slope`` times itself. What the refined points show beyond that, beside what their
    noise explains, is shade, a lash or another edge on one side only: from ``doubt_mm`` on it takes trust, at ``lost_mm`` all of it.
    """

    mesh: tuple[int, int]
    slope: float
    doubt_mm: float
    lost_mm: float


SIDED = {
    "ps": Sided(mesh=(159, 386), slope=0.6, doubt_mm=0.7, lost_mm=1.4),
    "ch": Sided(mesh=(61, 291), slope=0.5, doubt_mm=0.35, lost_mm=0.9),
}
"""Tuned on the heads of the study's ``TUNING`` and on those that ship."""


def _agreement(name: str, points: dict[str, Point], mesh: np.ndarray, up: np.ndarray) -> float:
    """How far the refined points of both sides, 0..1, show a difference that the mesh could be a faint picture of."""
    of = SIDED[name]
    right, left = (np.array(points[f"{name}_{side}"]) for side in ("right", "left"))
    seen = float((left - right) @ up)
    faint = float((mesh[of.mesh[1], :2] - mesh[of.mesh[0], :2]) @ up)
    excess = abs(seen - faint) - abs(faint) * (1 / of.slope - 1)
    return 1 - _ramp(excess, low=of.doubt_mm, high=of.lost_mm)


def _ramp(value: float, low: float, high: float) -> float:
    return float(np.clip((value - low) / (high - low), 0, 1))


def refine(rgb: np.ndarray, mesh: np.ndarray) -> Refined:
    """Refine a mesh (478, 3) on its picture (h, w, 3) uint8."""
    axis, mm_per_px = axis_and_scale(mesh)
    points: dict[str, Point] = {}
    trust: dict[str, float] = {}

    def keep(name: str, at: np.ndarray, surety: float) -> None:
        points[name], trust[name] = (float(at[0]), float(at[1])), surety

    eyes = {}
    for name, side in SIDES.items():
        crop = Crop(rgb, mesh[side.iris, :2], axis, mm_per_px, _LID_WINDOW)
        q = crop.to(mesh)
        radius = float(np.linalg.norm(q[side.ring[0]] - q[side.ring[1]])) / 2
        eyes[name] = Eye(
            crop=crop, centre=q[side.iris], radius=radius, upper=by_x(q[list(side.upper_lid)]), lower=by_x(q[list(side.lower_lid)])
        )
    found, radius = iris_pair(eyes)
    found = level_covered(mesh, eyes, found)
    up = np.array([axis[1], -axis[0]])
    for name, side in SIDES.items():
        eye, (centre, surety) = eyes[name], found[name]
        keep(f"pu_{name}", eye.crop.back(centre), surety)
        _lids(eye, name, centre, radius, keep)
        _brow(Crop(rgb, mesh[side.iris, :2] + up * 11 / mm_per_px, axis, mm_per_px, _EYE_WINDOW, BROW_PX_PER_MM), name, mesh, points, keep)
    _mouth(rgb, mesh=mesh, axis=axis, mm_per_px=mm_per_px, keep=keep)
    for point in SIDED:
        share = _agreement(point, points=points, mesh=mesh, up=up * mm_per_px)
        for which in SIDES:
            trust[f"{point}_{which}"] *= share
    return Refined(points, trust, 2 * radius / (PX_PER_MM * mm_per_px))


def _lids(eye: Eye, name: str, centre: np.ndarray, radius: float, keep: Keep) -> None:
    top, bottom = float(np.interp(centre[0], *eye.upper)), float(np.interp(centre[0], *eye.lower))
    maps = eye_maps(eye.crop, centre, radius, eye.upper, lower=eye.lower)
    above = below = 0.0
    if maps is not None:
        a, sure_a = lid_height(maps[0], centre=centre, radius=radius, base=eye.upper, upper=True)
        c, sure_c = lid_height(maps[1], centre=centre, radius=radius, base=eye.lower, upper=False)
        above, below = _ramp(sure_a, low=0.012, high=0.032), _ramp(sure_c, low=0.012, high=0.032)
        # No mean of the two: the mesh's own upper lid lies in the lashes, and what little evidence there is lies under them.
        top, bottom = a if above > 0 else top, c if below > 0 else bottom
    keep(f"ps_{name}", eye.crop.back(np.array([centre[0], top])), above)
    keep(f"pi_{name}", eye.crop.back(np.array([centre[0], bottom])), below)


def _brow(crop: Crop, name: str, mesh: np.ndarray, points: Mapping[str, Point], keep: Keep) -> None:
    side, middle = SIDES[name], crop.to(np.array(points[f"pu_{name}"]))
    heights, dark = brow_heights(crop, brow_light(crop), side, mesh, centre=middle, lateral_mm=list(BROW_MM.values()))
    for point, lateral_mm, height, evidence in zip(BROW_MM, BROW_MM.values(), heights, dark, strict=True):
        at = np.array([middle[0] + side.lateral * lateral_mm * crop.mm, height])
        keep(f"{point}_{name}", crop.back(at), _ramp(float(evidence), low=4, high=10))


def _mouth(rgb: np.ndarray, mesh: np.ndarray, axis: np.ndarray, mm_per_px: float, keep: Keep) -> None:
    lips_mm = (mesh[list(OUTER), :2] - (mesh[61, :2] + mesh[291, :2]) / 2) @ np.array([axis, (-axis[1], axis[0])]).T * mm_per_px
    across, down = np.minimum(np.abs(lips_mm).max(0) + _ROUND_THE_LIPS, _MOUTH_WINDOW)
    crop = Crop(rgb, (mesh[61, :2] + mesh[291, :2]) / 2, axis, mm_per_px, (float(across), float(down)), LIPS_PX_PER_MM)
    lips = mouth_map(crop, mesh)
    for name, side in SIDES.items():
        own, tip = mesh[side.corner, :2], corner(crop, lips, mesh, side) if lips else None
        if tip is None:
            keep(f"ch_{name}", own, 0.0)
        else:
            keep(f"ch_{name}", tip[1] * crop.back(tip[0]) + (1 - tip[1]) * own, tip[1])
    height, surety = upper_border(crop, lips, mesh) if lips else (0.0, 0.0)
    at = crop.to(mesh[0])
    keep("ls", crop.back(np.array([at[0], surety * height + (1 - surety) * at[1]])), surety)
