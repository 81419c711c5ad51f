"""The frame of a face in a photograph: level, origin, midline and scale.

The horizontal runs along the two iris centres where both are sure, else along the least-squares line through the
four canthi: the detector's canthi follow a hanging brow or mouth corner and would hide a third of every left-right
difference (docs/measurement.md has the table). The origin is the midpoint of the two endocanthia; x runs to the
client's left, y up. The scale is the horizontal visible iris diameter, which
is 11.7 mm in adults (SD about 0.5), so absolute lengths carry about 4 %; differences between the sides
and changes within one client do not.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

IRIS_MM = 11.7

Point = tuple[float, float]
"""Pixels, x to the right and y down, of an unmirrored photograph: the client's left is at the right."""

CANTHI = ("ex_right", "en_right", "en_left", "ex_left")


class MissingPoint(ValueError):
    """A reading needs a point that the photograph does not have."""


@dataclass(frozen=True, slots=True)
class Frame:
    """Axes of the face in image pixels (unit vectors), its origin, and millimetres per pixel."""

    origin: Point
    to_left: Point
    up: Point
    mm_per_px: float

    def place(self, point: Point) -> Point:
        """(x, y) of an image point in millimetres: x to the client's left, y up."""
        dx, dy = point[0] - self.origin[0], point[1] - self.origin[1]
        return (
            (dx * self.to_left[0] + dy * self.to_left[1]) * self.mm_per_px,
            (dx * self.up[0] + dy * self.up[1]) * self.mm_per_px,
        )

    @property
    def roll_deg(self) -> float:
        """Tilt of the eye line in the picture, degrees; positive when the client's left is higher."""
        return float(np.degrees(np.arctan2(-self.to_left[1], self.to_left[0])))


def need(points: Mapping[str, Point], *names: str) -> list[Point]:
    """The named points. Raises MissingPoint naming the first that is absent."""
    for name in names:
        if name not in points:
            raise MissingPoint(f"the point {name} is missing")
    return [points[name] for name in names]


def head_frame(points: Mapping[str, Point], iris_px: float) -> Frame:
    """Frame from the four canthi and the iris diameter in pixels.

    Level along the iris centres when ``points`` has both; else by total least squares (the first principal axis of the
    four canthi), so that a turned photograph is treated alike. Raises MissingPoint, or ValueError when the iris has no size.
    """
    if not iris_px > 0:
        raise ValueError("the iris diameter must be larger than zero")
    canthi = np.array(need(points, *CANTHI))
    centred = canthi - canthi.mean(0)
    if "pu_right" in points and "pu_left" in points:
        run = np.subtract(points["pu_left"], points["pu_right"])
        axis = run / np.linalg.norm(run)
    else:
        axis = np.linalg.svd(centred, full_matrices=False)[2][0]
    if axis @ (canthi[3] - canthi[0]) < 0:
        axis = -axis
    right, left = need(points, "en_right", "en_left")
    origin = ((right[0] + left[0]) / 2, (right[1] + left[1]) / 2)
    return Frame(origin, to_left=(float(axis[0]), float(axis[1])), up=(float(axis[1]), float(-axis[0])), mm_per_px=IRIS_MM / iris_px)


def turned_back(points: Mapping[str, Point], depth: Mapping[str, float], yaw_deg: float) -> dict[str, Point]:
    """Points as they would stand if the head looked straight ahead.

    Each point is turned about the vertical through the eyes' middle by the yaw, with the detector's depth (same unit,
    nearer is smaller). Only x changes: studies/truth.py shows that this mends distances across the face and that
    heights neither need nor gain from it. Points without a depth stay.
    """
    if not yaw_deg or not depth:
        return dict(points)
    cos, sin = math.cos(math.radians(yaw_deg)), math.sin(math.radians(yaw_deg))
    middle = sum(points[name][0] for name in CANTHI) / 4
    level = sum(depth[name] for name in CANTHI) / 4
    return {
        name: (middle + (x - middle) * cos + (depth[name] - level) * sin, y) if name in depth else (x, y) for name, (x, y) in points.items()
    }


def ruler_mm(en_en_over_iris: Sequence[float]) -> float:
    """A client's inner canthal distance in millimetres: the median over all accepted front shots, in irises of 11.7 mm."""
    if not en_en_over_iris:
        raise ValueError("a ruler needs at least one accepted front shot")
    return statistics.median(en_en_over_iris) * IRIS_MM


def place_all(points: Mapping[str, Point], iris_px: float, ruler: float | None = None) -> dict[str, Point]:
    """Every point in millimetres of the head frame. With a ruler, the client's en-en distance gives the scale."""
    frame = head_frame(points, iris_px)
    if ruler:
        frame = replace(frame, mm_per_px=ruler / math.dist(*need(points, "en_right", "en_left")))
    return {name: frame.place(p) for name, p in points.items()}


def mirrored(points: Mapping[str, Point], width_px: float) -> dict[str, Point]:
    """Points as they are in the mirrored photograph: flipped, and every side name exchanged."""
    swap = {"left": "right", "right": "left"}

    def other(name: str) -> str:
        head, _, tail = name.rpartition("_")
        return f"{head}_{swap[tail]}" if tail in swap else name

    return {other(name): (width_px - x, y) for name, (x, y) in points.items()}
