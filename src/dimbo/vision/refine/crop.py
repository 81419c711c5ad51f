"""Upright, upsampled windows of a photograph, and the small numerical tools that the refinement shares."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from dimbo.core.sittings.frame import IRIS_MM

PX_PER_MM, LIPS_PX_PER_MM, BROW_PX_PER_MM = 6.0, 4.0, 3.0
"""Resolution of the windows of an eye, of the mouth and of a brow, so that filters and bounds can be given in millimetres. With less the
lids are read less truly; lips and brows, whose edges are softer, are not."""


@dataclass(frozen=True, kw_only=True)
class SideMesh:
    """Indices of the dense mesh on one side; ``lateral`` is the direction away from the midline in the picture."""

    iris: int
    ring: tuple[int, int]
    upper_lid: tuple[int, ...]
    lower_lid: tuple[int, ...]
    brow_top: tuple[int, ...]
    brow_bottom: tuple[int, ...]
    corner: int
    lateral: int


SIDES = {
    "right": SideMesh(
        iris=468,
        ring=(469, 471),
        upper_lid=(33, 246, 161, 160, 159, 158, 157, 173, 133),
        lower_lid=(33, 7, 163, 144, 145, 153, 154, 155, 133),
        brow_top=(70, 63, 105, 66, 107),
        brow_bottom=(46, 53, 52, 65, 55),
        corner=61,
        lateral=-1,
    ),
    "left": SideMesh(
        iris=473,
        ring=(474, 476),
        upper_lid=(263, 466, 388, 387, 386, 385, 384, 398, 362),
        lower_lid=(263, 249, 390, 373, 374, 380, 381, 382, 362),
        brow_top=(300, 293, 334, 296, 336),
        brow_bottom=(276, 283, 282, 295, 285),
        corner=291,
        lateral=+1,
    ),
}


def axis_and_scale(mesh: np.ndarray) -> tuple[np.ndarray, float]:
    """Unit vector along the canthal line toward the client's left, and millimetres per pixel, from the mesh alone."""
    p = mesh[:, :2]
    along = (p[263] + p[362] - p[33] - p[133]) / 2
    iris = np.mean([np.linalg.norm(p[a] - p[b]) for a, b in (s.ring for s in SIDES.values())])
    return along / np.linalg.norm(along), float(IRIS_MM / iris)


class Crop:
    """A window centred on a point, ``half`` (x, y) millimetres to each side, upright along ``axis``, with ``mm`` pixels a millimetre.

    ``lab`` is (h, w, 3) float32 with L from 0 to 100. Mesh points count from the picture's outer edge, so that a
    pixel's centre is at one half; crop coordinates count from pixel centres.
    """

    def __init__(
        self, rgb: np.ndarray, centre: np.ndarray, axis: np.ndarray, mm_per_px: float, half: tuple[float, float], mm: float = PX_PER_MM
    ) -> None:
        self.mm, scale = mm, mm * mm_per_px
        turn = scale * np.array([[axis[0], axis[1]], [-axis[1], axis[0]]])
        self.width, self.height = int(2 * half[0] * mm) + 1, int(2 * half[1] * mm) + 1
        middle = np.array([half[0] * mm, half[1] * mm])
        self._to = np.hstack([turn, (middle - turn @ (np.asarray(centre, float)[:2] - 0.5))[:, None]])
        self._back = cv2.invertAffineTransform(self._to)
        cut = cv2.warpAffine(
            _smaller(rgb, scale), self._to, (self.width, self.height), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
        )
        smooth = cv2.GaussianBlur(cut.astype(np.float32) / 255, (0, 0), 0.18 * mm)
        self.lab = cv2.cvtColor(np.clip(smooth, 0, 1), cv2.COLOR_RGB2LAB)

    def to(self, points: np.ndarray) -> np.ndarray:
        """Picture points (..., 2 or more) in crop pixels."""
        return (np.asarray(points, float)[..., :2] - 0.5) @ self._to[:, :2].T + self._to[:, 2]

    def back(self, points: np.ndarray) -> np.ndarray:
        """Crop pixels in the picture."""
        return np.asarray(points, float) @ self._back[:, :2].T + self._back[:, 2] + 0.5


def _smaller(rgb: np.ndarray, scale: float) -> np.ndarray:
    """Against aliasing where the window is smaller than the picture."""
    return cv2.GaussianBlur(rgb, (0, 0), 0.4 / scale) if scale < 0.6 else rgb


def sample(image: np.ndarray, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Bilinear values at crop coordinates."""
    return cv2.remap(image, np.asarray(x, np.float32), np.asarray(y, np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)


def peaks(rows: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Of each row its largest value's index, to a fraction by a parabola through the neighbours, and that value."""
    at = rows.argmax(-1)
    inner = np.clip(at, 1, rows.shape[-1] - 2)
    before, top, after = (np.take_along_axis(rows, inner[..., None] + k, -1)[..., 0] for k in (-1, 0, 1))
    bend = before - 2 * top + after
    shift = np.where(np.abs(bend) < 1e-9, 0, np.clip(0.5 * (before - after) / np.where(bend == 0, 1, bend), -0.5, 0.5))
    return at + np.where(at == inner, shift, 0), rows.max(-1)


def tukey(error: np.ndarray, cut: float | np.ndarray) -> np.ndarray:
    """Tukey's biweight: one at no error, nothing beyond ``cut``."""
    return np.where(np.abs(error) < cut, (1 - (error / cut) ** 2) ** 2, 0.0)


def by_x(points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points (n, 2) as a table of y over rising x."""
    order = points[np.argsort(points[:, 0])]
    return order[:, 0], order[:, 1]
