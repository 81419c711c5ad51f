"""The mouth: its corners and the upper vermilion border.

A map says of each pixel how much it is lip or the dark line between the lips, in colours learnt from this picture. A corner
is where the connected region ends, at several levels; how far those ends lie apart tells how far to trust it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .crop import Crop, SideMesh, peaks, sample, tukey

LEAST_MM2 = 3.1
"""With less of the lips or of the skin beside them in sight, their colours are those of a few pixels."""
BLACK = 2.0
"""Lightness (of 100) below which nothing is darker: noise would else have the largest tones."""
OUTER = (61, 185, 40, 39, 37, 0, 267, 269, 270, 409, 291, 375, 321, 405, 314, 17, 84, 181, 91, 146)
INNER = (78, 191, 80, 81, 82, 13, 312, 311, 310, 415, 308, 324, 318, 402, 317, 14, 87, 178, 88, 95)


@dataclass(frozen=True)
class MouthMap:
    """``lip`` 0..1 per pixel, the same without single hairs and gloss (``even``), the logarithm of lightness (``tone``: half the light
    takes the same away everywhere, however dark it was), how far apart the colours of lip and skin are (standard deviations), and
    pixels a millimetre (``mm``)."""

    lip: np.ndarray
    even: np.ndarray
    tone: np.ndarray
    contrast: float
    mm: float


def _filled(q: np.ndarray, outline: tuple[int, ...], shape: tuple[int, ...]) -> np.ndarray:
    out = np.zeros(shape, np.uint8)
    cv2.fillPoly(out, [np.rint(q[list(outline)]).astype(np.int32)], 1)
    return out


def _far(mask: np.ndarray) -> np.ndarray:
    """Distance of each pixel to the nearest zero of a mask, pixels."""
    return cv2.distanceTransform(mask, cv2.DIST_L2, 5)


def _spread(off: np.ndarray) -> np.ndarray:
    """Covariance (3, 3) of colours (n, 3) float32, of which there are tens of thousands."""
    mean = off.mean(0)
    return np.asarray((off.T @ off - len(off) * np.outer(mean, mean)) / (len(off) - 1), float)


def mouth_map(crop: Crop, mesh: np.ndarray) -> MouthMap | None:
    """None where too little lip or skin is in sight to learn their colours from."""
    q, lab, mm = crop.to(mesh), crop.lab, crop.mm
    outer, inner = _filled(q, OUTER, shape=lab.shape[:2]), _filled(q, INNER, shape=lab.shape[:2])
    away = _far(1 - outer)
    lips, skin = (_far(outer) > mm) & (_far(1 - inner) > mm), (away > 3.0 * mm) & (away < 7.0 * mm)
    if min(lips.sum(), skin.sum()) < LEAST_MM2 * mm**2:
        return None
    a, b = lab[lips], lab[skin]
    lip, bare = np.median(a, 0), np.median(b, 0)
    spread = _spread(a - lip) + _spread(b - bare) + np.diag([30.0, 3.0, 3.0])
    axis = np.linalg.solve(spread, lip - bare)
    contrast = float(axis @ (lip - bare))
    if contrast < 0.05:
        return None
    share = (lab @ axis.astype(np.float32) - np.float32(axis @ bare)) / np.float32(contrast)
    dark = np.clip((0.72 * min(np.percentile(a[:, 0], 20), bare[0]) - lab[..., 0]) / 10.0, 0, 1)
    light = cv2.GaussianBlur(lab[..., 0], (0, 0), 0.25 * mm)
    element = cv2.getStructuringElement(cv2.MORPH_RECT, (1, int(5 * mm) | 1))
    gap = np.clip((cv2.morphologyEx(light, cv2.MORPH_CLOSE, element) - light - 4.0) / 8.0, 0, 1)
    soft = np.clip(cv2.GaussianBlur(share, (0, 0), 0.2 * mm), 0, 1)
    best = np.maximum(np.maximum(soft, dark), gap).astype(np.float32)
    even = cv2.GaussianBlur(best, (0, 0), 0.3 * mm)
    tone = cv2.GaussianBlur(np.log(np.maximum(lab[..., 0], BLACK)), (0, 0), 0.2 * mm)
    return MouthMap(best, even=even, tone=tone, contrast=float(np.sqrt(max(contrast, 0))), mm=mm)


@dataclass(frozen=True, slots=True, kw_only=True)
class SeamTuning:
    """How the line between the lips is followed to its end. Tuned on the heads of the study's ``TUNING`` and on those that ship."""

    smooth_mm: tuple[float, float] = (1.6, 0.35)
    """Smoothing along and across the line. The more across, the more the shade of one side moves it; with less it jumps to another edge."""
    bend_mm: float = 0.5
    """Step over which the tone is seen to bend upwards: at the line the dark of the upper lip ends and the lower lip begins."""
    most_bend: float = 0.06
    """A bend counts at most so much, so that the dark of an open mouth does not outvote its corner."""
    steady: float = 0.002
    """What a row up or down from column to column costs, in units of the bend."""
    window_mm: tuple[float, float, float] = (12.0, 4.0, 9.0)
    """Where it is looked for, about the mesh's corner: toward the middle, away from it, and up and down."""
    bridge_mm: float = 1.2
    """Shorter gaps between lip and lip are gloss, and no end."""
    levels: tuple[float, ...] = (0.45, 0.50, 0.55, 0.60, 0.65)
    """Shares of lip at which it may be said to end."""
    fit_mm: float = 4.0
    """The last part of the line, from which its end is foretold."""
    loose_mm: float = 0.8
    """What lies further from the fitted end than this is let go."""
    level_pull: float = 2.0
    """Pull of the slope of that end towards level."""
    outward_mm: tuple[float, float] = (1.6, 2.4)
    """How far beyond the mesh's corner an end begins to be doubted, and is not believed: the fold beside pressed lips looks like a line."""


SEAM = SeamTuning()


@dataclass(frozen=True, slots=True)
class Seam:
    """The line between the lips from near the middle outwards: places ``xs`` and heights ``ys`` in crop pixels, how sharply it bends
    there, and how much of each place is lip, all (n,); and pixels a millimetre (``mm``)."""

    xs: np.ndarray
    ys: np.ndarray
    bend: np.ndarray
    lip: np.ndarray
    mm: float


def _seam(found: MouthMap, start: np.ndarray, lateral: int, of: SeamTuning = SEAM) -> Seam:
    """The line along which the tone bends most, by dynamic programming over the columns."""
    mm, (height, width) = found.mm, found.lip.shape
    inward, outward, tall = of.window_mm
    x_in, x_out = (int(np.clip(start[0] + lateral * far * mm, 1, width - 2)) for far in (-inward, outward))
    y0, y1 = max(int(start[1] - tall * mm), 0), min(int(start[1] + tall * mm), height)
    xs = np.arange(x_in, x_out + lateral, lateral)
    part = np.s_[y0:y1, min(x_in, x_out) : max(x_in, x_out) + 1]
    lip = found.even[part][:, ::lateral]
    tone = cv2.GaussianBlur(found.tone[part], (0, 0), sigmaX=of.smooth_mm[0] * mm, sigmaY=of.smooth_mm[1] * mm)[:, ::lateral]
    k = round(of.bend_mm * mm)
    bend = np.zeros_like(tone)
    bend[k:-k] = tone[: -2 * k] - 2 * tone[k:-k] + tone[2 * k :]
    bend = np.clip(bend, 0, of.most_bend) * np.clip(lip, 0, 1)
    rows = _steepest(bend, of.steady)
    at = np.clip(rows, 1, len(bend) - 2)
    columns = np.arange(len(xs))
    above, here, below = (bend[at + d, columns] for d in (-1, 0, 1))
    curve = above - 2 * here + below
    shift = np.where(curve < -1e-8, np.clip(0.5 * (above - below) / np.minimum(curve, -1e-8), -0.5, 0.5), 0.0)
    return Seam(xs=xs, ys=y0 + at + shift, bend=here, lip=lip[at, columns], mm=mm)


def _steepest(gain: np.ndarray, steady: float) -> np.ndarray:
    """The row (n,) of each column of ``gain`` (m, n) on the path of the largest sum, a row up or down from column to column at most,
    which costs ``steady`` each (Bellman's recursion, from the first column to the last)."""
    columns = np.ascontiguousarray(gain.T)
    padded, sums = np.full(len(gain) + 2, -np.inf, gain.dtype), np.empty_like(columns)
    sums[0] = columns[0]
    for n in range(1, len(columns)):
        padded[1:-1] = sums[n - 1]
        np.maximum(padded[:-2], padded[2:], out=sums[n])
        sums[n] -= steady
        np.maximum(sums[n], sums[n - 1], out=sums[n])
        sums[n] += columns[n]
    rows = np.empty(len(columns), np.intp)
    rows[-1] = sums[-1].argmax()
    for n in range(len(columns) - 1, 0, -1):
        row = rows[n]
        near = range(max(row - 1, 0), min(row + 2, len(gain)))
        rows[n - 1] = max(near, key=lambda r, n=n, row=row: sums[n - 1, r] - steady * (r != row))  # type: ignore[misc]
    return rows


def _end(seam: Seam, level: float, of: SeamTuning = SEAM) -> int | None:
    """The last place of the lips' own stretch of the line; None where there are no lips."""
    bridge = np.ones((1, round(of.bridge_mm * seam.mm) | 1), np.uint8)
    lip = cv2.morphologyEx(seam.lip[None].astype(np.float32), cv2.MORPH_CLOSE, bridge)[0]
    inside = lip > level
    if not inside[: int(4 * seam.mm)].any():
        return None
    first = int(inside.argmax())
    return first + int((~inside[first:]).argmax() or len(inside) - first) - 1


def _course(seam: Seam, end: int, of: SeamTuning = SEAM) -> tuple[float, float]:
    """Height of the line at a place, and how far it falls from there for each pixel further out: a robust fit to the last millimetres,
    of which those near the end and those that bend sharply tell most."""
    last = np.arange(max(end - int(of.fit_mm * seam.mm), 0), end + 1)
    heights, back = seam.ys[last], (end - last).astype(float)
    powers, share = np.stack([np.ones(len(last)), back], 1), (seam.bend[last] + 2e-5) * np.linspace(0.3, 1, len(last))
    line = np.array([np.median(heights[-5:]), 0.0])
    for _ in range(6):
        w = share * tukey(heights - powers @ line, of.loose_mm * seam.mm)
        line = np.linalg.solve((powers * w[:, None]).T @ powers + np.diag([1e-6, of.level_pull]), (powers * w[:, None]).T @ heights)
    return float(line[0]), -float(line[1])


def corner(crop: Crop, found: MouthMap, mesh: np.ndarray, side: SideMesh, of: SeamTuning = SEAM) -> tuple[np.ndarray, float] | None:
    """A mouth corner in crop pixels and its trust 0..1: where the line between the lips leaves them, the median over several levels;
    None where it cannot be followed."""
    mm, start = crop.mm, crop.to(mesh)[side.corner]
    seam = _seam(found, start, side.lateral, of)
    end = _end(seam, of.levels[len(of.levels) // 2], of)
    if end is None:
        return None
    height, fall = _course(seam, end, of)
    out = np.arange(-2.0 * mm, 2.0 * mm, 0.5)
    xs, ys = seam.xs[end] + side.lateral * out, height + fall * out
    lip = sample(found.even, x=xs[None], y=ys[None])[0]
    tips = []
    for level in of.levels:
        below = np.flatnonzero((lip[:-1] > level) & (lip[1:] <= level))
        if not len(below):
            return None
        k = int(below[np.abs(out[below]).argmin()])
        share = (lip[k] - level) / (lip[k] - lip[k + 1])
        tips.append(out[k] + 0.5 * float(share))
    far_out, spread = float(np.median(tips)), float(np.std(tips)) / mm
    at = np.array([seam.xs[end] + side.lateral * far_out, height + fall * far_out])
    far, (doubted, lost) = float(np.hypot(*(at - start))) / mm, of.outward_mm
    outward = side.lateral * float(at[0] - start[0]) / mm
    near = np.clip((7 - far) / 2, 0, 1) * np.clip((lost - outward) / (lost - doubted), 0, 1)
    trust = np.clip(found.contrast - 1.0, 0, 0.8) / 0.8 / (1 + max(spread - 0.25, 0) ** 2 / 0.6**2) * near
    return at, float(trust)


def upper_border(crop: Crop, found: MouthMap, mesh: np.ndarray) -> tuple[float, float]:
    """Height of the upper vermilion border on the midline, crop pixels, and its trust 0..1."""
    mm = crop.mm
    at = crop.to(mesh[0])
    xs, reach = at[0] + np.linspace(-1.2, 1.2, 13) * mm, np.arange(-3 * mm, 3 * mm + 0.1, 1.0)
    smooth = cv2.GaussianBlur(found.lip, (0, 0), 0.25 * mm)
    rows = sample(smooth, x=np.repeat(xs[:, None], len(reach), 1), y=at[1] + np.repeat(reach[None], len(xs), 0))
    step = np.gradient(np.median(rows, 0)) * np.exp(-0.5 * (reach / (1.6 * mm)) ** 2)
    index, strength = peaks(step[None])
    return float(at[1] + reach[0] + index[0]), float(np.clip((strength[0] * mm - 0.2) / 0.5, 0, 1))
