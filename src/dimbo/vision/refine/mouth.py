"""The mouth: its corners and the upper vermilion border.

A map says of each pixel how much it is lip or the dark line between the lips, in colours learnt from this picture. A corner
is where the connected region ends, at several levels; how far those ends lie apart tells how far to trust it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .crop import PX_PER_MM, Crop, SideMesh, peaks, sample, tukey

OUTER = (61, 185, 40, 39, 37, 0, 267, 269, 270, 409, 291, 375, 321, 405, 314, 17, 84, 181, 91, 146)
INNER = (78, 191, 80, 81, 82, 13, 312, 311, 310, 415, 308, 324, 318, 402, 317, 14, 87, 178, 88, 95)
LEVELS = (0.66, 0.69, 0.72, 0.75, 0.78)


@dataclass(frozen=True)
class MouthMap:
    """``lip`` 0..1 per pixel, lightness, and how far apart the colours of lip and skin are (standard deviations)."""

    lip: np.ndarray
    light: np.ndarray
    contrast: float


def _filled(q: np.ndarray, outline: tuple[int, ...], shape: tuple[int, ...]) -> np.ndarray:
    out = np.zeros(shape, np.uint8)
    cv2.fillPoly(out, [np.rint(q[list(outline)]).astype(np.int32)], 1)
    return out


def _far(mask: np.ndarray) -> np.ndarray:
    """Distance of each pixel to the nearest zero of a mask, millimetres."""
    return cv2.distanceTransform(mask, cv2.DIST_L2, 5) / PX_PER_MM


def mouth_map(crop: Crop, mesh: np.ndarray) -> MouthMap | None:
    """None where too little lip or skin is in sight to learn their colours from."""
    q, lab, mm = crop.to(mesh), crop.lab, PX_PER_MM
    outer, inner = _filled(q, OUTER, shape=lab.shape[:2]), _filled(q, INNER, shape=lab.shape[:2])
    away = _far(1 - outer)
    lips, skin = (_far(outer) > 1.0) & (_far(1 - inner) > 1.0), (away > 3.0) & (away < 7.0)
    if lips.sum() < 112 or skin.sum() < 112:
        return None
    a, b = lab[lips], lab[skin]
    lip, bare = np.median(a, 0), np.median(b, 0)
    spread = np.cov((a - lip).T) + np.cov((b - bare).T) + np.diag([30.0, 3.0, 3.0])
    axis = np.linalg.solve(spread, lip - bare)
    contrast = float(axis @ (lip - bare))
    if contrast < 0.05:
        return None
    share = (((lab - bare) @ axis) / contrast).astype(np.float32)
    dark = np.clip((0.72 * min(np.percentile(a[:, 0], 20), bare[0]) - lab[..., 0]) / 10.0, 0, 1)
    light = cv2.GaussianBlur(lab[..., 0], (0, 0), 0.25 * mm)
    element = cv2.getStructuringElement(cv2.MORPH_RECT, (1, int(5 * mm) | 1))
    gap = np.clip((cv2.morphologyEx(light, cv2.MORPH_CLOSE, element) - light - 4.0) / 8.0, 0, 1)
    soft = np.clip(cv2.GaussianBlur(share, (0, 0), 0.2 * mm), 0, 1)
    best = np.maximum(np.maximum(soft, dark), gap).astype(np.float32)
    return MouthMap(best, light=cv2.GaussianBlur(lab[..., 0], (0, 0), 0.2 * mm), contrast=float(np.sqrt(max(contrast, 0))))


def _tip(lip: np.ndarray, light: np.ndarray, level: float, start: np.ndarray, lateral: int, middle: float) -> np.ndarray | None:
    """Outermost point of the region above a level; its height is the darkness-weighted middle of the last millimetres."""
    mm = PX_PER_MM
    x0, x1 = (int(max(v, 0)) for v in sorted((start[0] + lateral * 6 * mm, middle)))
    y0, y1 = max(int(start[1] - 9 * mm), 0), int(start[1] + 9 * mm)
    part, shade = lip[y0:y1, x0:x1], light[y0:y1, x0:x1]
    count, labels, stats, _ = cv2.connectedComponentsWithStats((part > level).astype(np.uint8), connectivity=4)
    if count < 2:
        return None
    region = labels == 1 + int(np.argmax(stats[1:, 4]))
    columns = np.where(region.any(0))[0]
    end = int(columns.max() if lateral > 0 else columns.min())
    xs = end - lateral * np.arange(int(2.4 * mm))
    xs = xs[(xs >= 0) & (xs < part.shape[1])]
    inside = region[:, xs]
    lowest = np.where(inside.any(0), np.where(inside, shade[:, xs], np.inf).min(0), 0)
    weight = part[:, xs] * inside * np.exp(np.clip(-(shade[:, xs] - lowest) / 2.5, -60, 0))  # the lip line is darker than the lips
    heights = (weight * np.arange(len(part))[:, None]).sum(0) / np.maximum(weight.sum(0), 1e-9)
    k = len(heights)
    powers, start_weight = np.stack([np.ones(k), np.arange(k)], 1), np.linspace(1, 0.3, k)
    line = np.array([np.median(heights[:5]), 0.0])
    for _ in range(6):
        w = start_weight * tukey(heights - powers @ line, 0.8 * mm)
        line = np.linalg.solve((powers * w[:, None]).T @ powers + np.diag([1e-6, 8.0]), (powers * w[:, None]).T @ heights)
    row = float(line[0])
    profile = sample(part, x=(end + lateral * np.arange(-1, 4))[None], y=np.full((1, 5), row))[0]
    beyond = 0.0
    for a in range(4):
        if profile[a] >= level > profile[a + 1]:
            beyond = a - 1 + float((profile[a] - level) / (profile[a] - profile[a + 1]))
            break
    return np.array([x0 + end + lateral * float(np.clip(beyond, 0, 2)), y0 + row])


def corner(crop: Crop, found: MouthMap, mesh: np.ndarray, side: SideMesh) -> tuple[np.ndarray, float] | None:
    """A mouth corner in crop pixels and its trust 0..1: the median over several levels; None where it cannot be followed."""
    q = crop.to(mesh)
    start, middle = q[side.corner], float(q[61, 0] + q[291, 0]) / 2
    smooth = cv2.GaussianBlur(found.lip, (0, 0), 0.3 * PX_PER_MM)
    tips = [
        t
        for t in (_tip(smooth, light=found.light, level=level, start=start, lateral=side.lateral, middle=middle) for level in LEVELS)
        if t is not None
    ]
    if len(tips) < len(LEVELS):
        return None
    all_tips = np.array(tips)
    at = np.median(all_tips, 0)
    spread, far = float(np.hypot(*all_tips.std(0))) / PX_PER_MM, float(np.hypot(*(at - start))) / PX_PER_MM
    trust = np.clip(found.contrast - 1.0, 0, 0.8) / 0.8 / (1 + max(spread - 0.25, 0) ** 2 / 0.6**2) * np.clip((7 - far) / 2, 0, 1)
    return at, float(trust)


def upper_border(crop: Crop, found: MouthMap, mesh: np.ndarray) -> tuple[float, float]:
    """Height of the upper vermilion border on the midline, crop pixels, and its trust 0..1."""
    mm = PX_PER_MM
    at = crop.to(mesh[0])
    xs, reach = at[0] + np.linspace(-1.2, 1.2, 13) * mm, np.arange(-3 * mm, 3 * mm + 0.1, 1.0)
    smooth = cv2.GaussianBlur(found.lip, (0, 0), 0.25 * mm)
    rows = sample(smooth, x=np.repeat(xs[:, None], len(reach), 1), y=at[1] + np.repeat(reach[None], len(xs), 0))
    step = np.gradient(np.median(rows, 0)) * np.exp(-0.5 * (reach / (1.6 * mm)) ** 2)
    index, strength = peaks(step[None])
    return float(at[1] + reach[0] + index[0]), float(np.clip((strength[0] * mm - 0.2) / 0.5, 0, 1))
