"""Surface of the head: colour and fine relief, painted in rest coordinates so that it moves with the mesh."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.interpolate import PchipInterpolator

from .head import BODY, BUN, EYE_LEFT, EYE_RIGHT, IRIS_RADIUS, Buffers, Head
from .mesh import Array
from .raster import F32, blur, linear, noise_texture, sample, smoothstep

BROW_PIXELS = 1800


@dataclass
class Surface:
    """Linear colour (h, w, 3), relief normals, and the masks that lighting needs (each h, w in 0..1)."""

    colour: Array
    normal: Array
    hair: Array
    cloth: Array
    lips: Array
    brow_shadow: Array
    strands: Array
    mottle: Array
    fine: Array


def brow_texture(seed: int, density: float) -> Array:
    """Both brows as strokes on a flat sheet, 0..1."""
    sheet = np.zeros((int(0.7 * BROW_PIXELS), int(1.6 * BROW_PIXELS)), np.uint8)
    rng = np.random.default_rng(seed + 5)
    ridge = PchipInterpolator([0.10, 0.20, 0.31, 0.41, 0.50, 0.55], [0.150, 0.182, 0.215, 0.226, 0.195, 0.160])
    half = PchipInterpolator([0.10, 0.14, 0.24, 0.37, 0.48, 0.55], [0.014, 0.024, 0.025, 0.021, 0.012, 0.005])
    for side in (1, -1):
        for _ in range(int(620 * density)):
            at, off = rng.uniform(0.105, 0.545), rng.uniform(-1, 1)
            y = ridge(at) + off * half(at)
            angle = np.interp(at, [0.1, 0.17, 0.28, 0.42, 0.55], [78, 48, 24, 0, -32])
            angle += -off * 18 * (at > 0.16) + rng.normal(0, 6)
            length = rng.uniform(0.040, 0.072) * np.interp(at, [0.1, 0.2, 0.46, 0.55], [0.7, 1, 0.85, 0.5])
            t = np.linspace(0, 1, 6)
            bend = np.radians(angle - 18 * t)
            px = at + np.cumsum(np.r_[0, np.cos(bend[:-1])]) * length / 5
            py = y + np.cumsum(np.r_[0, np.sin(bend[:-1])]) * length / 5
            points = np.stack([(side * px + 0.8) * BROW_PIXELS, (0.6 - py) * BROW_PIXELS], 1)
            ink = int(rng.uniform(80, 180) * np.interp(at, [0.1, 0.16, 0.5, 0.55], [0.55, 1, 1, 0.7]))
            cv2.polylines(sheet, [np.round(points * 16).astype(np.int32)], False, ink, int(rng.integers(2, 5)), cv2.LINE_AA, 4)
    return blur(sheet, 1.3).astype(F32) / 255


def paint(head: Head, b: Buffers, style: Mapping[str, object], seed: int) -> Surface:
    """Colour and relief for every pixel of the buffers."""
    body = b.ids == BODY
    x, y, z = b.rest[..., 0], b.rest[..., 1] - head.eye_y, b.rest[..., 2] - head.eye_z
    textures = [noise_texture(seed + i, 1024, cells) for i, cells in enumerate((8, 24, 90, 400))]

    def noise(k: int, u: Array, v: Array) -> Array:
        return sample(textures[k], u, v)

    def spot(cx: float, cy: float, sx: float, sy: float) -> Array:
        """A soft pair of spots, one on each side (a single one at cx = 0)."""
        one = np.exp(-(((x - cx) / sx) ** 2) - ((y - cy) / sy) ** 2)
        return one if cx == 0 else one + np.exp(-(((x + cx) / sx) ** 2) - ((y - cy) / sy) ** 2)

    lips = smoothstep(0.25, 0.75, sample(head.lip_mask, b.u, b.v) * body * (np.abs(x) < 0.4))
    around = np.arctan2(x, y)
    strands = noise(2, around * 1.1 + 0.02 * noise(0, z * 0.3, around * 0.3), z * 0.06 + 0.5)
    strands = strands + 0.7 * noise(3, around * 1.3 + 0.015 * noise(1, z * 0.5, around), z * 0.02 + 0.3)
    depth = head.hair_depth(b.rest, style)
    hair = smoothstep(-0.015, 0.06, depth + 0.022 * strands - 0.01) * body
    hair = hair * (1 - smoothstep(0.12, 0.3, b.ear)) * (y > -0.75)
    bun = b.ids == BUN
    hair = np.where(bun, 1, hair).astype(F32)
    knot = noise(2, around * 0.25 + z * 0.9, z * 0.1) + 0.7 * noise(3, around * 0.15 + z * 1.2, around * 0.05)
    strands = np.where(bun, knot, strands).astype(F32)
    cloth = smoothstep(-1.30, -1.315, y - 0.10 * np.abs(x) - 0.02 * np.cos(x * 3)) * body

    # Relief: pores on skin, strands on hair.
    pores = sample(noise_texture(seed + 9, 2048, 900), x * 0.55 + 0.5, y * 0.55 + 0.5)
    strength = 0.010 * body * (1 - hair) * (1 - 0.6 * lips)
    slope = lambda a, dx, dy: cv2.Sobel(a, cv2.CV_32F, dx, dy, ksize=3)
    relief = np.stack([-slope(pores, 1, 0) * strength, slope(pores, 0, 1) * strength, 0 * x], 2)
    relief += np.stack([-slope(strands, 1, 0), slope(strands, 0, 1), 0 * x], 2) * (0.05 * hair)[..., None]
    normal = b.normal + relief

    # Skin: mottling, blush, thin skin under the eyes and on the lids, freckles.
    tx, ty = x * 0.5 + 0.5, y * 0.5 + 0.5
    low, mottle, fine = noise(0, tx * 0.6, ty * 0.6), noise(1, tx * 2, ty * 2), noise(3, tx * 1.5, ty * 1.5)
    colour = np.ones((*x.shape, 3), F32) * linear(style["skin"])
    colour *= (1 + 0.025 * low + 0.025 * mottle + 0.02 * fine)[..., None]
    red = 0.55 * spot(0.43, -0.30, 0.20, 0.17) + 0.45 * spot(0, -0.36, 0.13, 0.10) + 0.25 * spot(0, -0.93, 0.16, 0.1)
    red = red + 0.5 * b.ear * (z < -0.3) + 0.12 * mottle
    colour *= 1 + red[..., None] * np.array([0.03, -0.15, -0.13], F32) * style.get("blush", 1.0)
    under = spot(0.30, -0.155, 0.16, 0.055)[..., None]
    colour *= 1 - under * np.array([0.10, 0.15, 0.10], F32) * style.get("undereye", 1.0)
    colour *= 1 - spot(0.29, 0.085, 0.19, 0.05)[..., None] * np.array([0.10, 0.20, 0.20], F32)
    freckles = style.get("freckles", 0.0)
    if freckles:
        speckle = np.clip(noise(3, tx * 0.9 + 0.3, ty * 0.9) - 1.1, 0, 1) * spot(0, -0.2, 0.7, 0.28)
        colour *= (1 - freckles * speckle)[..., None]
    lip_colour = linear(style.get("lips", (190, 104, 100))) * (1 + 0.06 * noise(3, x * 3, y * 0.15) + 0.05 * mottle)[..., None]
    colour = colour * (1 - lips[..., None] * 0.85) + lip_colour * lips[..., None] * 0.85

    marks = float(style.get("marks", 0.0))  # where glasses have rested
    if marks:
        colour *= 1 - marks * spot(0.105, -0.10, 0.035, 0.06)[..., None] * np.array([0.10, 0.30, 0.28], F32)
    beard = float(style.get("beard", 0.0))
    if beard:
        where = smoothstep(-0.30, -0.48, y - 0.25 * np.abs(x)) * smoothstep(-1.15, -1.0, y) * (1 - lips) * (z > -0.9)
        where = where * np.clip(0.55 + 0.5 * noise(3, tx * 6, ty * 6) + 0.3 * mottle, 0, 1)
        colour = colour * (1 - beard * where[..., None]) + linear(style.get("brow", (62, 42, 30))) * (beard * where)[..., None]

    for side, key in ((1, "fold_l"), (-1, "fold_r")):  # nasolabial folds
        deep = float(style.get(key, 0.12))
        t = np.clip((-0.40 - y) / 0.32, 0, 1)
        from_line = x - side * (0.19 + 0.19 * t**1.1)
        fold = np.exp(-((from_line / (0.022 + 0.016 * t)) ** 2)) * smoothstep(-0.38, -0.46, y) * smoothstep(-0.80, -0.66, y)
        colour *= 1 - 0.45 * deep * fold[..., None] * np.array([0.75, 1.0, 1.0], F32)
        normal[..., 0] += 0.35 * deep * fold * np.sign(from_line)
    normal = normal / np.maximum(np.linalg.norm(normal, axis=2, keepdims=True), 1e-6)

    sheet = brow_texture(seed, float(style.get("brow_density", 1.0)))
    brow = (
        cv2.remap(
            sheet,
            ((x + 0.8) * BROW_PIXELS).astype(F32),
            ((0.6 - y) * BROW_PIXELS).astype(F32),
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT,
        )
        * body
        * (z > -0.5)
    )
    brow_shadow = blur(brow, 3.5 * b.scale)
    colour *= 1 - 0.45 * brow_shadow[..., None]
    cover = np.clip(brow * 1.5, 0, 0.95)[..., None]
    colour = colour * (1 - cover) + linear(style.get("brow", (62, 42, 30))) * cover
    hair_colour = linear(style["hair"]) * np.clip(1 + 0.24 * strands + 0.15 * low, 0.4, 2)[..., None]
    colour = colour * (1 - hair[..., None]) + hair_colour * hair[..., None]
    weave = linear(style["cloth"]) * (1 + 0.03 * fine + 0.03 * noise(2, tx * 3, ty * 3))[..., None]
    colour = colour * (1 - cloth[..., None]) + weave * cloth[..., None]

    for part, (cx, cy, cz) in zip((EYE_LEFT, EYE_RIGHT), head.eye_centres, strict=True):
        where = b.ids == part
        dx, dy = b.rest[..., 0] - cx, b.rest[..., 1] - cy
        r, angle = np.hypot(dx, dy), np.arctan2(dy, dx)
        white = linear((216, 208, 202)) * (1 - 0.35 * smoothstep(0.08, 0.15, r)[..., None] * np.array([0.25, 0.6, 0.6], F32))
        disc = smoothstep(IRIS_RADIUS + 0.004, IRIS_RADIUS - 0.004, r) * (b.rest[..., 2] > cz)
        streak = noise(2, angle / 6.283 + 0.5, r * 1.2) + 0.6 * noise(3, angle / 6.283 * 0.6, r * 0.4)
        ring = 1.0 + 0.7 * smoothstep(0.045, 0.022, r) - 0.75 * smoothstep(0.045, 0.06, r)
        iris = linear(style.get("iris", (104, 78, 48))) * (1 + 0.35 * streak)[..., None] * ring[..., None]
        iris = iris * (1 - smoothstep(0.0235, 0.0195, r)[..., None] * 0.985)
        colour[where] = (white * (1 - disc[..., None]) + iris * disc[..., None])[where]
    return Surface(np.clip(colour, 0.002, 1), normal, hair, cloth, lips, brow_shadow, strands, mottle, fine)
