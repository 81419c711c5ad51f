"""The lid margins: where the open eye ends above and below the iris centre.

A map says of each pixel how much it belongs to the open eye. Inside the iris the question is "iris or skin", outside it
"white of the eye or skin", so that the edge of the iris itself leaves no edge in the map. A parabola is laid where the map
steps most, coarsely over a grid and then column by column.
"""

from __future__ import annotations

import cv2
import numpy as np

from .crop import PX_PER_MM, Crop, peaks, sample, tukey

Table = tuple[np.ndarray, np.ndarray]
_SEARCH_MM = 3.4
_SPAN = 1.25
"""Radii to each side of the iris over which a lid is followed."""


def eye_maps(crop: Crop, centre: np.ndarray, radius: float, upper: Table, lower: Table) -> tuple[np.ndarray, np.ndarray] | None:
    """Maps 0..1 against the skin above and against the skin below. Lashes count as skin: their length is not the lid's.

    None where there is too little white of the eye, or too little skin, to learn its colour from.
    """
    lab, mm = crop.lab, PX_PER_MM
    yy, xx = np.mgrid[0 : crop.height, 0 : crop.width].astype(np.float32)
    rho = np.hypot(xx - centre[0], yy - centre[1])
    top, bottom = np.interp(xx[0], *upper), np.interp(xx[0], *lower)
    near = np.abs(xx - centre[0]) < 1.5 * radius
    core = (yy > top + 0.8 * mm) & (yy < bottom - 0.8 * mm) & near
    white = core & (rho > 1.12 * radius)
    if white.sum() < 34:
        return None
    whiteness = lab[white][:, 0] - 0.8 * np.hypot(lab[white][:, 1], lab[white][:, 2])
    sclera = np.median(lab[white][whiteness >= np.median(whiteness)], 0)
    inner = (rho < 0.85 * radius) & (np.abs(yy - centre[1]) < 0.5 * radius) & core
    if inner.sum() < 23:
        inner = rho < 0.6 * radius
    iris = float(np.median(lab[inner][:, 0]))
    inside = np.clip((radius - rho) / (0.12 * radius) + 0.5, 0, 1)

    def against(skin_area: np.ndarray) -> np.ndarray | None:
        around = lab[skin_area & near]
        if len(around) < 34:
            return None
        skin = np.median(around, 0)
        spread = np.cov((around - skin).T) + np.diag([16.0, 4.0, 4.0])
        axis = np.linalg.solve(spread, sclera - skin)
        apart = float(axis @ (sclera - skin))
        if apart < 0.25:
            return None  # the white of the eye and the skin cannot be told apart
        white_share = np.clip(((lab - skin) @ axis) / apart, 0, 1)
        lash = np.clip((sclera[0] - lab[..., 0]) / max(0.55 * sclera[0], 1), 0, 1)
        darker = np.clip((skin[0] - lab[..., 0]) / max(skin[0] - iris, 6.0), 0, 1)
        in_iris = np.maximum(darker, lab[..., 0] > max(skin[0], sclera[0]) + 4)  # the corneal highlight belongs to the eye
        outside = white_share * np.clip(1.6 - 1.6 * lash, 0, 1)
        return (inside * in_iris + (1 - inside) * outside).astype(np.float32)

    above = against((yy < top - 2.2 * mm) & (yy > top - 4.5 * mm))
    below = against((yy > bottom + 3 * mm) & (yy < bottom + 7 * mm))
    if above is None or below is None:
        return None
    return above, below


def lid_height(eye_map: np.ndarray, centre: np.ndarray, radius: float, base: Table, *, upper: bool) -> tuple[float, float]:
    """Height of a lid margin at the iris centre, crop pixels, and the mean step across it (its evidence)."""
    mm, height = PX_PER_MM, eye_map.shape[0]
    smooth = cv2.GaussianBlur(eye_map, (0, 0), sigmaX=0.5 * mm, sigmaY=0.30 * mm)
    step = np.clip((1 if upper else -1) * cv2.Sobel(smooth, cv2.CV_32F, 0, 1, ksize=3) / 8.0, 0, None)
    t = np.linspace(-_SPAN, _SPAN, 61)
    xs = centre[0] + t * radius
    start = np.interp(xs, *base)
    shift = np.arange(-_SEARCH_MM * mm, _SEARCH_MM * mm + 0.1, 1.0)
    slopes, bends = np.arange(-1.2, 1.21, 0.3) * mm, np.arange(-1.4, 1.41, 0.35) * mm
    coarse = slice(0, 61, 2)
    columns = np.arange(31)
    strips = np.minimum(sample(step, x=np.repeat(xs[coarse][:, None], height, 1), y=np.repeat(np.arange(height)[None], 31, 0)), 0.12)
    shape = (slopes[:, None, None] * t[coarse] + bends[None, :, None] * t[coarse] ** 2).reshape(-1, 31)
    rows = np.rint(start[coarse] + shift[:, None, None] + shape[None]).astype(np.intp).clip(0, height - 1)
    score = strips[columns, rows].mean(2)
    score = score * np.exp(-0.5 * (shift / (2.6 * mm)) ** 2)[:, None]
    score = score * np.exp(-0.5 * (slopes[:, None] ** 2 + bends[None] ** 2) / (1.2 * mm) ** 2).reshape(1, -1)
    i, m = np.unravel_index(int(score.argmax()), score.shape)
    best = start + shift[i] + slopes[m // len(bends)] * t + bends[m % len(bends)] * t**2

    reach = np.arange(-0.9 * mm, 0.9 * mm + 0.1, 1.0)
    across = sample(step, x=np.repeat(xs[:, None], len(reach), 1), y=best[:, None] + reach) * np.exp(-0.5 * (reach / (0.6 * mm)) ** 2)
    at, strength = peaks(across)
    offset, weight = reach[0] + at, np.minimum(strength, 0.12)
    powers = np.stack([np.ones_like(t), t, t**2], 1)
    bend = np.zeros(3)
    for k in range(8):
        w = weight * tukey(offset - powers @ bend, max(0.9 * mm * (8 - k) / 8, 0.35 * mm))
        bend = np.linalg.solve((powers * w[:, None]).T @ powers + np.diag([1e-4, 0.02, 0.05]), (powers * w[:, None]).T @ offset)
    evidence = float((weight * tukey(offset - powers @ bend, 0.5 * mm)).mean())
    return float(best[30] + bend[0]), evidence
