"""The brow: the middle of its dark band at given distances from the iris centre."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from .crop import Crop, SideMesh, by_x, sample, tukey

HALF_MM = 4.0
"""Half width of the columns that are read at each place."""
_COLUMNS = 41
_ALONG = np.linspace(-1, 1, _COLUMNS)
_POWERS = np.stack([np.ones(_COLUMNS), _ALONG, _ALONG**2], 1)
_LEAST_SQUARES = np.linalg.pinv(_POWERS)
"""A parabola over the columns of a place, and what gives the one of least squares through heights (n,)."""


def brow_light(crop: Crop) -> np.ndarray:
    """Lightness with single hairs smoothed away along the brow."""
    return cv2.GaussianBlur(crop.lab[..., 0], (0, 0), sigmaX=0.8 * crop.mm, sigmaY=0.25 * crop.mm)


def brow_heights(
    crop: Crop, light: np.ndarray, side: SideMesh, mesh: np.ndarray, centre: np.ndarray, lateral_mm: Sequence[float]
) -> tuple[np.ndarray, np.ndarray]:
    """Height (crop pixels) of the brow's middle at each of n distances lateral of the iris centre, and how dark it is there (L units);
    both (n,)."""
    mm = crop.mm
    q = crop.to(mesh)
    places = centre[0] + side.lateral * np.asarray(lateral_mm) * mm
    xs = (places[:, None] + side.lateral * HALF_MM * _ALONG * mm).ravel()
    middle = (np.interp(xs, *by_x(q[list(side.brow_top)])) + np.interp(xs, *by_x(q[list(side.brow_bottom)]))) / 2
    lid = np.interp(xs, *by_x(q[list(side.upper_lid)]))
    reach = np.arange(-9 * mm, 9 * mm + 0.1, 1.0)
    rows = middle[:, None] + reach[None]
    column = sample(light, x=np.repeat(xs[:, None], len(reach), 1), y=rows)
    allowed = (rows < (lid - 4.0 * mm)[:, None]) & (rows > 0) & (rows < crop.height - 1)
    y, dark = middle.copy(), np.zeros(len(xs))
    for turn in range(4):
        window = (np.abs(rows - y[:, None]) < (5.0 if turn < 2 else 4.0) * mm) & allowed
        below = np.clip(_skin_line(column, window=window, mm=mm) - column, 0, None) * window
        below = np.clip(below - 0.25 * below.max(1, keepdims=True), 0, None)
        enough = window.sum(1) >= 3 * mm
        dark = np.where(enough, below.max(1), dark)
        total = below.sum(1)
        centroid = (below * rows).sum(1) / np.maximum(total, 1e-9)
        y = np.where(enough & (total > 1), 0.3 * y + 0.7 * centroid, y)
        heights = y.reshape(-1, _COLUMNS)
        curves = heights @ _LEAST_SQUARES.T
        for _ in range(3):
            w = tukey(heights - curves @ _POWERS.T, 1.2 * mm) * np.minimum(dark, 20).reshape(heights.shape) + 1e-3
            weighted = _POWERS.T * w[:, None, :]
            curves = np.linalg.solve(weighted @ _POWERS, weighted @ heights[..., None])[..., 0]
        y = (curves @ _POWERS.T).ravel()
    evidence = np.median(dark.reshape(-1, _COLUMNS), 1)
    weight = np.clip((evidence - 4) / 6, 0, 1)
    return weight * curves[:, 0] + (1 - weight) * middle.reshape(-1, _COLUMNS)[:, _COLUMNS // 2], evidence


def _skin_line(column: np.ndarray, window: np.ndarray, mm: float) -> np.ndarray:
    """Lightness of bare skin along each column, on a straight line from above the brow to below it.

    The level at each end is the third quartile of the nearest 1.6 mm, so that single hairs do not count.
    """
    end = max(round(0.8 * mm), 2)
    count = window.sum(1)
    first = window.argmax(1)
    index = np.arange(2 * end)
    last = column.shape[1] - 1

    ends = np.stack([first, first + count - 2 * end])[..., None]
    rows = np.clip(ends + index, 0, last)
    quartile = (6 * end) // 4
    top, bottom = np.partition(column[np.arange(len(column))[:, None], rows], quartile, axis=-1)[..., quartile]
    run = np.maximum(count - end, 1)[:, None]
    share = np.clip((np.arange(column.shape[1]) - first[:, None] - end / 2) / run, 0, 1)
    return top[:, None] + share * (bottom - top)[:, None]
