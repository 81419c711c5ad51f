"""Shape of a whole face: landmark asymmetry, and whether two photographs show the same face, the right way round."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from .frame import Point, need
from .points import MIDDLE, PAIRS

_REGIONS = {
    "brows": ("bi", "bp", "bo"),
    "eyes": ("en", "ex", "ps", "pi"),
    "nose": ("n", "prn", "sn", "al"),
    "mouth": ("ls", "sto_upper", "sto_lower", "li", "ch"),
    "jaw and chin": ("go", "me"),
}
_LEFT_OUT = ("pu",)
"""Gaze moves the irises; they are no part of the face's shape."""

PRINT_EDGE = 40
"""Edge of the small aligned picture of a face; ``vision/quality.py`` makes it."""


@dataclass(frozen=True, slots=True)
class Asymmetry:
    """``percent`` of centroid size; ``shares`` of the squared distance per region, summing to one."""

    percent: float
    shares: dict[str, float]


def landmark_asymmetry(points: Mapping[str, Point]) -> Asymmetry:
    """Object symmetry of a frontal configuration: reflect, relabel, superimpose, compare.

    Root mean square distance between the configuration and its superimposed mirror image over the centroid size, in
    percent (Klingenberg, Barluenga and Meyer 2002). Works in any unit. Raises MissingPoint.
    """
    pairs = [p for p in PAIRS if p[0].split("_")[0] not in _LEFT_OUT]
    names = [n for pair in pairs for n in pair] + list(MIDDLE)
    partner = {a: b for x, y in pairs for a, b in ((x, y), (y, x))}
    x = np.array(need(points, *names), float)
    index = {n: i for i, n in enumerate(names)}
    other = np.array([index[partner.get(n, n)] for n in names])
    x = x - x.mean(0)
    size = math.sqrt(float((x**2).sum()))
    y = x[other] * [-1, 1]
    u, _, vt = np.linalg.svd(y.T @ x)
    turn = u @ np.diag([1, np.sign(np.linalg.det(u @ vt))]) @ vt
    squared = ((x - y @ turn) ** 2).sum(1)
    total = float(squared.sum())

    def region(name: str) -> str:
        stem = name if name in MIDDLE else name.split("_")[0]
        return next(r for r, members in _REGIONS.items() if stem in members)

    shares = {r: float(sum(squared[index[n]] for n in names if region(n) == r)) / total if total else 0.0 for r in _REGIONS}
    return Asymmetry(100 * math.sqrt(total / len(names)) / size, shares)


SAME_FACE_SD = 0.035
"""SD of a face-shape ratio (natural logarithm) between accepted photographs of one person."""
OTHER_FACE = 3.0
"""Root mean square of the ratios' deviations, in such SDs, from which the page asks whether this is the same person."""
FLIP_EVIDENCE = 6.0
"""How much better (half squared SDs) the flipped picture must fit before the page asks."""
FLIP_PIXELS = 0.02
"""By how much the flipped pixels must correlate better, so that the differences alone do not decide."""


def face_ratios(points: Mapping[str, Point]) -> dict[str, float]:
    """Lengths of a front neutral view over the inner canthal distance; without unit. Raises MissingPoint."""
    lengths = {
        "outer eye corners": ("ex_right", "ex_left"),
        "nose width": ("al_right", "al_left"),
        "nose length": ("n", "sn"),
        "lower face": ("sn", "me"),
        "mouth width": ("ch_right", "ch_left"),
        "jaw width": ("go_right", "go_left"),
    }
    unit = math.dist(*need(points, "en_right", "en_left"))
    return {name: math.dist(*need(points, *ends)) / unit for name, ends in lengths.items()}


def unlike(ratios: Mapping[str, float], own: Mapping[str, float]) -> float:
    """How far a face's ratios are from the client's own, as a root mean square in SDs."""
    shared = [math.log(ratios[k] / own[k]) / SAME_FACE_SD for k in ratios if k in own and ratios[k] > 0 and own[k] > 0]
    return math.sqrt(sum(v * v for v in shared) / len(shared)) if shared else 0.0


def fits_flipped(differences: Mapping[str, float], own: Mapping[str, float], noise: Mapping[str, float]) -> float:
    """By how much (half squared SDs) signed left-right differences fit the client's own better when flipped; negative when they do not.

    ``noise`` is the SD of a change of each difference. Flipping only changes signs, so a symmetric face says nothing.
    """
    total = 0.0
    for key, value in differences.items():
        if key in own and noise.get(key, 0) > 0:
            as_is, flipped = (value - own[key]) / noise[key], (-value - own[key]) / noise[key]
            total += (min(as_is**2, 25) - min(flipped**2, 25)) / 2
    return total


def alike(a: bytes, b: bytes) -> tuple[float, float]:
    """Correlation of two prints as they are, and with the first one flipped."""
    x, y = (np.frombuffer(v, np.uint8).reshape(PRINT_EDGE, PRINT_EDGE).astype(float) - 128 for v in (a, b))

    def correlation(u: np.ndarray, v: np.ndarray) -> float:
        size = math.sqrt(float((u * u).sum() * (v * v).sum()))
        return float((u * v).sum()) / size if size else 0.0

    return correlation(x, y), correlation(x[:, ::-1], y)
