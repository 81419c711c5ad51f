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
LEAST_EDGES = 8
"""With fewer points on its edge an iris is not fitted."""
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


def _stacked(points: list[np.ndarray]) -> np.ndarray:
    """Edge points of k eyes as one array (k, n, 3), filled up with points of no weight."""
    out = np.zeros((len(points), max(map(len, points)), 3))
    for row, own in zip(out, points, strict=True):
        row[: len(own)] = own
    return out


def _median(values: np.ndarray, there: np.ndarray) -> np.ndarray:
    """Median of each row (k, n), of those that are there only."""
    rising, count = np.sort(np.where(there, values, np.inf), 1), there.sum(1)
    rows = np.arange(len(values))
    return (rising[rows, (count - 1) // 2] + rising[rows, count // 2]) / 2


def _fit(
    points: np.ndarray, centre: np.ndarray, radius: np.ndarray, *, fixed: bool, prior: tuple[np.ndarray, float, float]
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Robust geometric circles (Gauss-Newton, Tukey weights), one for each of k eyes: centres (k, 2), radii (k,), and the information
    matrices (k, m, m) of their parameters.

    ``points`` are (k, n, 3), those of no weight are none; neighbouring ones count as a quarter of an independent one. ``prior`` is a
    centre (k, 2) and its SDs in x and y, pixels.
    """
    c, r, start = np.array(centre, float), np.array(radius, float), points[..., 2]
    m = 2 if fixed else 3
    hold = np.zeros((m, m))
    hold[0, 0], hold[1, 1] = prior[1] ** -2, prior[2] ** -2
    held = np.repeat(hold[None] + np.eye(m) * 1e-6, len(c), 0)
    if not fixed:
        held[:, 2, 2] += (RADIUS_SD * radius) ** -2
    information, pull = np.zeros_like(held), np.zeros((len(c), m))
    jacobian = np.ones((*start.shape, m))
    for k in range(_ROUNDS):
        d = points[..., :2] - c[:, None]
        q = np.sqrt((d**2).sum(-1))
        error = q - r[:, None]
        spread = 1.48 * _median(np.abs(error), there=start > 0)
        w = start * tukey(error, np.maximum(4.0 * (_ROUNDS - k) / 6, 2.5 * spread + 0.6)[:, None])
        sd = np.maximum(np.sqrt((w * error**2).sum(1) / np.maximum(w.sum(1), 1e-9)), 0.6)
        jacobian[..., :2] = d / q[..., None]
        weighted = (jacobian * (w / (4.0 * sd**2)[:, None])[..., None]).transpose(0, 2, 1)
        information = weighted @ jacobian
        pull = (weighted @ error[..., None])[..., 0]
        pull[:, :2] += (prior[0] - c) * hold.diagonal()[:2]
        if not fixed:
            pull[:, 2] += (radius - r) * (RADIUS_SD * radius) ** -2
        step = np.linalg.solve(information + held, pull[..., None])[..., 0]
        c += np.clip(step[:, :2], -6, 6)
        if not fixed:
            r += np.clip(step[:, 2], -4, 4)
    return c, r, information


def iris_pair(eyes: dict[str, Eye]) -> tuple[dict[str, tuple[np.ndarray, float]], float]:
    """Centre (crop pixels) and trust 0..1 of both irises, and their common radius in crop pixels."""
    mm = PX_PER_MM
    seen, points = list(eyes), np.empty(0)
    own = {side: (eye.centre, eye.radius) for side, eye in eyes.items()}
    radii, information = np.empty(0), np.empty(0)
    for _ in range(2):
        found = {side: _edges(eyes[side], *own[side]) for side in seen}
        seen = [side for side in seen if len(found[side]) >= LEAST_EDGES]
        if not seen:
            return {side: (eye.centre, 0.0) for side, eye in eyes.items()}, float(np.mean([e.radius for e in eyes.values()]))
        points = _stacked([_between_lids(found[side], eyes[side]) for side in seen])
        start, size = np.array([eyes[side].centre for side in seen]), np.array([eyes[side].radius for side in seen])
        centres, radii, information = _fit(points, centre=start, radius=size, fixed=False, prior=(start, 1.0 * mm, 1.2 * mm))
        radii = np.clip(radii, 0.82 * size, 1.2 * size)
        own = {side: (centres[n], float(radii[n])) for n, side in enumerate(seen)}
    held = np.zeros_like(information)
    held[:, 0, 0] = held[:, 1, 1] = 1e-4
    held[:, 2, 2] = (RADIUS_SD * radii) ** -2
    weights = 1 / np.maximum(np.linalg.inv(information + held)[:, 2, 2], 1e-6)
    common = float(np.average(radii, weights=weights))

    size = np.full(len(seen), common)
    second, _, information = _fit(points, centre=centres, radius=size, fixed=True, prior=(start, 1.5 * mm, 1.5 * mm))
    trust = information.diagonal(axis1=1, axis2=2)
    offset = (trust * (second - start)).sum(0) / (trust.sum(0) + 1e-6)
    third, _, information = _fit(points, centre=second, radius=size, fixed=True, prior=(start + offset, PRIOR_MM * mm, PRIOR_MM * mm))
    out = {side: (eye.centre + offset, 0.0) for side, eye in eyes.items()}
    for n, side in enumerate(seen):
        along = float(information[n, 1, 1])
        out[side] = (third[n], along / (along + (PRIOR_MM * mm) ** -2))
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
