"""The stand-in camera: photographs of made-up people, each with the truth about itself.

Eight invented heads were rendered once, in three neutral states and in every view of the photo protocol
(studies/portraits). The camera takes any number of shots of them: smooth local warps of known size move a lid, brow or
mouth corner; the head is re-posed a little; light, sharpness and grain vary. Everything follows from the seed.
"""

from __future__ import annotations

import io
import json
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from dimbo.core.anatomy import Side
from dimbo.core.sittings.frame import Point, mirrored

from .terms import PORTRAITS, Nudge, Scene, identities

_TAKEN, _OFFSET = 0x9003, 0x9011
_CHEEK_MM = 35.0
"""How far from the midline side light has its full effect."""
_HEAD_MM = (75.0, 110.0, 90.0)
"""Half axes of the ellipsoid that stands for a head when it turns: to the side, up, and deep."""
_EYE_MM = (6.5, 13.0)
"""Within the first distance of an iris's middle all moves as one when the head turns, for the eyes look into the lens all the same; from
the second on it moves with the head."""


@dataclass(frozen=True)
class Shot:
    """A photograph (h, w, 3) uint8 with its true points in pixels, true scale, and the unit vector of the head's horizontal."""

    rgb: np.ndarray
    points: dict[str, Point]
    pixels_per_mm: float
    level: Point

    def height_mm(self, upper: str, lower: str) -> float:
        """True distance between two points along the head's own vertical, in millimetres."""
        across = np.subtract(self.points[upper], self.points[lower])
        return float(across @ np.array([self.level[1], -self.level[0]])) / self.pixels_per_mm

    def jpeg(self, taken_at: datetime | None = None) -> bytes:
        """The file a camera would hand over, with its capture time."""
        image, out = Image.fromarray(self.rgb), io.BytesIO()
        exif = Image.Exif()
        if taken_at:
            details = exif.get_ifd(0x8769)
            details[_TAKEN] = taken_at.strftime("%Y:%m:%d %H:%M:%S")
            details[_OFFSET] = f"{taken_at:%z}"[:3] + ":" + f"{taken_at:%z}"[3:] if taken_at.tzinfo else "+00:00"
        image.save(out, "JPEG", quality=92, exif=exif)
        return out.getvalue()


@lru_cache(maxsize=6)
def _portrait(identity: str, state: str, folder: Path) -> tuple[np.ndarray, dict[str, Point], float]:
    stem = folder / f"{identity}-{state}"
    if identity not in identities(folder) or not stem.with_suffix(".json").is_file():
        raise ValueError(f"there is no portrait of “{identity}” in the state “{state}”")
    facts = json.loads(stem.with_suffix(".json").read_text())
    points = {name: (float(x), float(y)) for name, (x, y) in facts["points"].items()}
    rgb = np.asarray(Image.open(stem.with_suffix(".jpg")).convert("RGB"))
    return rgb, points, float(facts["pixels_per_mm"])


def true_points(identity: str, state: str) -> dict[str, Point]:
    """The true points of a portrait as it was rendered, in pixels; those of a profile are the ones set by hand there."""
    return dict(_portrait(identity, state=state, folder=PORTRAITS)[1])


def lower_side(identity: str) -> Side:
    """The side that hangs lower in this person's uneven state."""
    return Side(json.loads((PORTRAITS / f"{identity}-even.json").read_text())["lower_side"])


class _Field:
    """A smooth displacement in pixels: bells (centre, offset, widths), plus a turn of the head."""

    def __init__(self, scene: Scene, points: dict[str, Point], px: float) -> None:
        self.bells: list[tuple[np.ndarray, np.ndarray, np.ndarray]] = []
        for index, side in enumerate((Side.RIGHT, Side.LEFT)):
            for amounts, name, wide, tall in (
                (scene.lid_mm, f"ps_{side}", 8.0, 3.0),
                (scene.brow_mm, f"bp_{side}", 18.0, 13.0),  # a brow moves as a whole
                (scene.corner_mm, f"ch_{side}", 9.0, 9.0),
            ):
                if amounts[index] and name in points:
                    self._bell(Nudge(at=points[name], by_mm=(0.0, amounts[index]), size_mm=(wide, tall)), px=px)
        for nudge in scene.nudges:
            self._bell(nudge, px=px)
        self.yaw = np.radians(scene.yaw_deg)
        eyes = [np.array(points[n]) for n in ("en_right", "en_left") if n in points]
        self.centre = np.mean(eyes, axis=0) + np.array([0, 25 * px]) if eyes else np.zeros(2)
        self.px = px
        irises = [np.array(points[n]) for n in ("pu_right", "pu_left") if n in points] if self.yaw else []
        moved = [float(self._turned(at[:1], y=at[1:])[0]) for at in irises]
        self.irises = [(at + np.array([by, 0.0]), by) for at, by in zip(irises, moved, strict=True)]

    def _bell(self, nudge: Nudge, px: float) -> None:
        """The bell stands where the point lands, so that it moves by just that."""
        offset = np.array([nudge.by_mm[0], -nudge.by_mm[1]]) * px
        self.bells.append((np.array(nudge.at) + offset, offset, np.array(nudge.size_mm) * px))

    def at(self, x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = np.zeros_like(x), np.zeros_like(y)
        for centre, offset, size in self.bells:
            share = np.exp(-(((x - centre[0]) / size[0]) ** 2) - ((y - centre[1]) / size[1]) ** 2)
            dx, dy = dx + offset[0] * share, dy + offset[1] * share
        if self.yaw:
            moved = self._turned(x, y=y)
            for centre, as_one in self.irises:
                near, far = (mm * self.px for mm in _EYE_MM)
                share = np.clip((far - np.hypot(x - centre[0], y - centre[1])) / (far - near), 0, 1)
                moved = moved + share**2 * (3 - 2 * share) * (as_one - moved)
            dx = dx + moved
        return dx, dy

    def _turned(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """How far the turn moves what lies at a place of the head to the side."""
        a, b, c = (axis * self.px for axis in _HEAD_MM)
        u, v = (x - self.centre[0]) / a, (y - self.centre[1]) / b
        return np.asarray(np.sin(self.yaw) * c * np.sqrt(np.clip(1 - u**2 - v**2, 0, None)))

    def forward(self, point: Point) -> Point:
        """Where a point of the portrait lands: q with q - d(q) = p, by fixed-point iteration."""
        q = np.array(point, float)
        for _ in range(30):
            dx, dy = self.at(q[:1], q[1:])
            q = np.array(point) + np.array([dx[0], dy[0]])
        return float(q[0]), float(q[1])


def shoot(scene: Scene, folder: Path = PORTRAITS) -> Shot:
    """Take one photograph, of the people who ship or of those of another folder. Raises ValueError for an unknown identity or state."""
    rgb, points, px = _portrait(scene.identity, state=scene.state, folder=folder)
    height, width = rgb.shape[:2]
    rng = np.random.default_rng([scene.seed, sum(map(ord, scene.identity))])
    roll, size, shift = rng.normal(0, 1.0), 1 + rng.normal(0, 0.015), rng.normal(0, 9, 2)
    exposure, tint = 1 + rng.normal(0, 0.03), 1 + rng.normal(0, 0.008, 3)
    angle = np.radians(roll * scene.repose)
    size, shift = 1 + (size - 1) * scene.repose, shift * scene.repose
    rotate = size * np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    middle = np.array([width / 2, height / 2])
    offset = middle + shift - rotate @ middle

    field = _Field(scene, points, px)
    yy, xx = np.mgrid[0:height, 0:width].astype(np.float32) + 0.5
    back = np.linalg.inv(rotate)
    bx = back[0, 0] * (xx - offset[0]) + back[0, 1] * (yy - offset[1])
    by = back[1, 0] * (xx - offset[0]) + back[1, 1] * (yy - offset[1])
    dx, dy = field.at(bx, by)
    image = cv2.remap(
        rgb, (bx - dx - 0.5).astype(np.float32), (by - dy - 0.5).astype(np.float32), cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    ).astype(np.float32)
    image *= scene.exposure * exposure * tint.astype(np.float32)
    if scene.blur_px:
        image = cv2.GaussianBlur(image, (0, 0), scene.blur_px)
    if scene.light:
        across = np.clip((bx - middle[0]) / (_CHEEK_MM * px), -1, 1)[..., None]
        image *= 1 + scene.light / 2 * across
    image += rng.normal(0, 1.6 * scene.grain, (height, width, 1)).astype(np.float32)
    moved = {}
    for name, point in points.items():
        p = rotate @ np.array(field.forward(point)) + offset
        moved[name] = (float(p[0]), float(p[1]))
    rgb = np.clip(image, 0, 255).astype(np.uint8)
    if scene.flipped:
        rgb, moved = np.ascontiguousarray(rgb[:, ::-1]), mirrored(moved, width)
    sign = -1 if scene.flipped else 1
    return Shot(rgb, moved, px * size, (float(np.cos(angle)), sign * float(np.sin(angle))))


def jpeg_of(scene: Scene, taken_at: datetime | None = None) -> bytes:
    """The file of one shot. Raises ValueError for an unknown identity or state."""
    return shoot(scene).jpeg(taken_at)
