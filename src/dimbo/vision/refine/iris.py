"""The irises: edge points on both lateral arcs, and two circles of one radius fitted to them together.

A lid that covers an iris drags the detector's iris down with it, by millimetres when the eye is nearly shut. The edge of
the iris against the white of the eye does not lie, so the circles are fitted to it and the detector is only the prior.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .crop import PX_PER_MM, Crop, peaks, sample, tukey

PRIOR_MM = 0.40
"""How far the detector's iris may be from the truth, once the offset common to both eyes is known (SD)."""
RADIUS_SD = 0.04
"""Share of the radius by which the detector's iris may be wrong (SD)."""
_ROUNDS = 8


@dataclass(kw_only=True)
class Eye:
    """One eye in its window: the detector's iris centre and radius, and its lids as tables of y over x."""

    crop: Crop
    centre: np.ndarray
    radius: float
    upper: tuple[np.ndarray, np.ndarray]
    lower: tuple[np.ndarray, np.ndarray]


def _edges(eye: Eye, centre: np.ndarray, radius: float) -> np.ndarray:
    """(n, 3) x, y and strength: the strongest dark-to-light step along rays; more arc below than above, where lids cover."""
    angle = np.radians(np.r_[np.arange(-24, 50, 3.0), 180 - np.arange(-24, 50, 3.0)])
    r = np.arange(0.62 * radius, 1.42 * radius, 1.0)
    x, y = centre[0] + np.cos(angle)[:, None] * r, centre[1] + np.sin(angle)[:, None] * r
    light = cv2.GaussianBlur(sample(eye.crop.lab[..., 0], x=x, y=y), (0, 0), sigmaX=3.0, sigmaY=0.01)
    step = np.gradient(light, axis=1) * np.exp(-0.5 * ((r - radius) / (0.16 * radius)) ** 2)
    at, strength = peaks(step)
    found = r[0] + at
    points = np.stack([centre[0] + found * np.cos(angle), centre[1] + found * np.sin(angle), strength], 1)
    return points[strength > 0.25]


def _between_lids(points: np.ndarray, eye: Eye) -> np.ndarray:
    """The edge points, weighted by how surely they lie between the lids."""

    def inside(distance: np.ndarray) -> np.ndarray:
        return np.clip(distance / PX_PER_MM + 0.3, 0.02, 1)

    out = points.copy()
    out[:, 2] = np.minimum(out[:, 2] / np.percentile(out[:, 2], 70), 1)
    out[:, 2] *= inside(points[:, 1] - np.interp(points[:, 0], *eye.upper))
    out[:, 2] *= inside(np.interp(points[:, 0], *eye.lower) - points[:, 1])
    return out


def _fit(
    points: np.ndarray, centre: np.ndarray, radius: float, *, fixed: bool, prior: tuple[np.ndarray, float, float]
) -> tuple[np.ndarray, float, np.ndarray]:
    """Robust geometric circle (Gauss-Newton, Tukey weights): centre, radius, and the information matrix of the parameters.

    Neighbouring edge points count as a quarter of an independent one. ``prior`` is a centre and its SDs in x and y, pixels.
    """
    c, r, start = np.array(centre, float), radius, points[:, 2]
    information = np.zeros((2 if fixed else 3,) * 2)
    for k in range(_ROUNDS):
        d = points[:, :2] - c
        q = np.hypot(d[:, 0], d[:, 1])
        error = q - r
        spread = 1.48 * float(np.median(np.abs(error)))
        w = start * tukey(error, max(4.0 * (_ROUNDS - k) / 6, 2.5 * spread + 0.6))
        sd = max(float(np.sqrt((w * error**2).sum() / max(w.sum(), 1e-9))), 0.6)
        jacobian = np.stack([d[:, 0] / q, d[:, 1] / q] + ([] if fixed else [np.ones_like(q)]), 1)
        information = jacobian.T @ (w[:, None] * jacobian) / (4.0 * sd**2)
        pull = jacobian.T @ (w * error) / (4.0 * sd**2)
        hold, to = np.zeros_like(information), np.zeros(len(information))
        hold[0, 0], hold[1, 1] = prior[1] ** -2, prior[2] ** -2
        to[:2] = (np.asarray(prior[0]) - c) * [hold[0, 0], hold[1, 1]]
        if not fixed:
            hold[2, 2] = (RADIUS_SD * radius) ** -2
            to[2] = (radius - r) * hold[2, 2]
        step = np.linalg.solve(information + hold + np.eye(len(to)) * 1e-6, pull + to)
        c = c + np.clip(step[:2], -6, 6)
        if not fixed:
            r = r + float(np.clip(step[2], -4, 4))
    return c, r, information


def iris_pair(eyes: dict[str, Eye]) -> tuple[dict[str, tuple[np.ndarray, float]], float]:
    """Centre (crop pixels) and trust 0..1 of both irises, and their common radius in crop pixels."""
    mm = PX_PER_MM
    seen: dict[str, tuple[np.ndarray, np.ndarray, float, np.ndarray]] = {}
    for side, eye in eyes.items():
        centre, radius = eye.centre, eye.radius
        for _ in range(2):
            points = _edges(eye, centre, radius)
            if len(points) < 8:
                seen.pop(side, None)
                break
            points = _between_lids(points, eye)
            centre, radius, information = _fit(
                points, centre=eye.centre, radius=eye.radius, fixed=False, prior=(eye.centre, 1.0 * mm, 1.2 * mm)
            )
            radius = float(np.clip(radius, 0.82 * eye.radius, 1.2 * eye.radius))
            seen[side] = (points, centre, radius, information)
    if not seen:
        return {side: (eye.centre, 0.0) for side, eye in eyes.items()}, float(np.mean([e.radius for e in eyes.values()]))

    def surety(radius: float, information: np.ndarray) -> float:
        return 1 / max(float(np.linalg.inv(information + np.diag([1e-4, 1e-4, (RADIUS_SD * radius) ** -2]))[2, 2]), 1e-6)

    weights = {side: surety(v[2], v[3]) for side, v in seen.items()}
    common = sum(weights[side] * v[2] for side, v in seen.items()) / sum(weights.values())
    second = {
        side: _fit(v[0], centre=v[1], radius=common, fixed=True, prior=(eyes[side].centre, 1.5 * mm, 1.5 * mm)) for side, v in seen.items()
    }
    trust = {side: np.diag(v[2]) for side, v in second.items()}
    offset = sum(trust[side] * (second[side][0] - eyes[side].centre) for side in second) / (sum(trust.values()) + 1e-6)
    out: dict[str, tuple[np.ndarray, float]] = {}
    for side, eye in eyes.items():
        start = eye.centre + offset
        if side in seen:
            centre, _, information = _fit(
                seen[side][0], centre=second[side][0], radius=common, fixed=True, prior=(start, PRIOR_MM * mm, PRIOR_MM * mm)
            )
            along = float(information[1, 1])
            out[side] = (centre, along / (along + (PRIOR_MM * PX_PER_MM) ** -2))
        else:
            out[side] = (start, 0.0)
    return out, common


def _tilt(mesh: np.ndarray) -> float:
    """In-plane tilt of the head in radians from its outline only, which closing lids cannot move."""
    across = [mesh[b, :2] - mesh[a, :2] for a, b in ((127, 356), (234, 454), (93, 323))]
    down = mesh[152, :2] - mesh[10, :2]
    return float(np.mean([np.arctan2(v[1], v[0]) for v in across]) + np.arctan2(-down[0], down[1])) / 2


def level_covered(
    mesh: np.ndarray, eyes: dict[str, Eye], found: dict[str, tuple[np.ndarray, float]]
) -> dict[str, tuple[np.ndarray, float]]:
    """Where one iris is mostly covered, put it level with the other along the head's tilt."""
    low, high = sorted(found, key=lambda side: found[side][1])
    weight = float(np.clip((found[low][1] - 0.5) / 0.4, 0, 1))
    if weight >= 1 or found[high][1] < 0.6:
        return found
    tilt = _tilt(mesh)
    normal = np.array([-np.sin(tilt), np.cos(tilt)])
    a, b = eyes[high].crop.back(found[high][0]), eyes[low].crop.back(found[low][0])
    moved = b - (1 - weight) * float((b - a) @ normal) * normal
    return found | {low: (eyes[low].crop.to(moved), found[low][1])}
