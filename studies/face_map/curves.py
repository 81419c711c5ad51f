"""Pen work: smooth curves through points, tapered strokes, and muscles as sheets of fibres between two edges."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

Points = Sequence[tuple[float, float]] | np.ndarray


def spline(points: Points, n: int = 40) -> np.ndarray:
    """A Catmull-Rom curve through the points, resampled to n points evenly along its length."""
    p = [np.array(q, float) for q in points]
    p = [2 * p[0] - p[1], *p, 2 * p[-1] - p[-2]]
    out = []
    for i in range(1, len(p) - 2):
        a, b, c, d = p[i - 1 : i + 3]
        for t in np.linspace(0, 1, 24, endpoint=False):
            out.append(0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3))
    curve = np.array([*out, p[-2]])
    along = np.r_[0, np.cumsum(np.linalg.norm(np.diff(curve, axis=0), axis=1))]
    at = np.linspace(0, along[-1], n)
    return np.c_[np.interp(at, along, curve[:, 0]), np.interp(at, along, curve[:, 1])]


def number(value: float) -> str:
    return f"{value:.1f}".rstrip("0").rstrip(".")


def path(curve: np.ndarray, move: bool = True, step: int = 4) -> str:
    """A smooth cubic Bezier path through every step-th point of a sampled curve."""
    keep = list(range(0, len(curve), step))
    if keep[-1] != len(curve) - 1:
        keep.append(len(curve) - 1)
    q = curve[keep]
    out = ("M" if move else "L") + " ".join(map(number, q[0]))
    for i in range(len(q) - 1):
        before, here, there, after = q[max(i - 1, 0)], q[i], q[i + 1], q[min(i + 2, len(q) - 1)]
        c1, c2 = here + (there - before) / 6, there - (after - here) / 6
        out += "C" + " ".join(number(v) for v in (*c1, *c2, *there))
    return out


def stroke(points: Points, widths: Sequence[float] = (0.2, 1.2, 0.2), n: int = 33, step: int = 4) -> str:
    """A pen stroke: a filled outline whose width follows ``widths`` along the line."""
    c = spline(points, n)
    tangent = np.gradient(c, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1)[:, None] + 1e-9
    across = np.c_[-tangent[:, 1], tangent[:, 0]]
    w = np.interp(np.linspace(0, 1, n), np.linspace(0, 1, len(widths)), widths)
    w = np.convolve(np.pad(w, 4, "edge"), np.ones(9) / 9, "valid")[:, None] / 2
    return path(c + across * w, step=step) + path((c - across * w)[::-1], move=False, step=step) + "Z"


def _cap(start: np.ndarray, end: np.ndarray, inward: np.ndarray, size: float) -> np.ndarray:
    """A rounded end of a muscle, bulging away from its body."""
    d = end - start
    normal = np.array([-d[1], d[0]])
    away = 1 if normal @ inward > 0 else -1
    return spline([start, (start + end) / 2 + normal * abs(size) * away, end], 9)


def sheet(first: Points, second: Points, fibres: int, caps: tuple[float, float] = (0, 0)) -> tuple[str, str]:
    """A muscle between two edge curves: its region, and its fibres as the lines in between."""
    n = 41
    a, b = spline(first, n), spline(second, n)
    end = _cap(a[-1], b[-1], a[-1] - a[-4], caps[1])
    start = _cap(b[0], a[0], a[0] - a[3], caps[0])
    region = path(a) + path(end, move=False) + path(b[::-1], move=False) + path(start, move=False) + "Z"
    lines = []
    for i in range(fibres):
        u = (i + 0.5) / fibres
        c = a * (1 - u) + b * u
        trim = ((i * 7) % 5) / 5 * 0.06
        lines.append(path(c[int(trim * n) : n - int((0.06 - trim) * n)], step=8))
    return region, "".join(lines)


def ring(inner: Points, outer: Points, fibres: int) -> tuple[str, str]:
    """A ring muscle between an inner and an outer curve."""
    n = 61
    a, b = spline(inner, n), spline(outer, n)
    lines = [
        path((a * (1 - u) + b * u)[1 + (i * 3) % 4 : n - 1 - (i * 5) % 4], step=4) for i in range(fibres) for u in [(i + 0.5) / fibres]
    ]
    return path(a, step=3) + path(b[::-1], move=False, step=3) + "Z", "".join(lines)
