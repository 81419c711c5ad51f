"""The frame of a face in a photograph: level, origin, midline and scale.

The horizontal is the least-squares line through the four canthi; the origin is the midpoint of the two
endocanthia; x runs to the client's left, y up. The scale is the horizontal visible iris diameter, which
is 11.7 mm in adults (SD about 0.5), so absolute lengths carry about 4 %; differences between the sides
and changes within one client do not.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

IRIS_MM = 11.7
IRIS_SD_MM = 0.5

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

    Total least squares (the first principal axis of the four canthi), so that a turned photograph is
    treated alike. Raises MissingPoint, or ValueError when the iris has no size.
    """
    if not iris_px > 0:
        raise ValueError("the iris diameter must be larger than zero")
    canthi = np.array(need(points, *CANTHI))
    centred = canthi - canthi.mean(0)
    axis = np.linalg.svd(centred, full_matrices=False)[2][0]
    if axis @ (canthi[3] - canthi[0]) < 0:
        axis = -axis
    right, left = need(points, "en_right", "en_left")
    origin = ((right[0] + left[0]) / 2, (right[1] + left[1]) / 2)
    return Frame(origin, (float(axis[0]), float(axis[1])), (float(axis[1]), float(-axis[0])), IRIS_MM / iris_px)


def mirrored(points: Mapping[str, Point], width_px: float) -> dict[str, Point]:
    """Points as they are in the mirrored photograph: flipped, and every side name exchanged."""
    swap = {"left": "right", "right": "left"}

    def other(name: str) -> str:
        head, _, tail = name.rpartition("_")
        return f"{head}_{swap[tail]}" if tail in swap else name

    return {other(name): (width_px - x, y) for name, (x, y) in points.items()}
