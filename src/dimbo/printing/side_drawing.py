"""The head from the side on paper, as ``ui/src/lib/signature/side.ts`` draws it on the screen, from the same points."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

Point = tuple[float, float]

_NECK, _COLLAR, _HINGE = (100.0, 300.0), 404.0, (128.0, 206.0)
"""Where the head turns, where nothing moves any more, and where the jaw hangs."""
_JAW_PARTS = (1.0, 1.0, 1.0, 1.0, 0.7, 0.3)
_JAWLINE_PARTS = (0.8, 0.8, 0.8, 0.2)


def curve(points: Iterable[Point]) -> str:
    """A smooth line through points, as SVG path data."""
    p = list(points)
    out = f"M{p[0][0]:.1f} {p[0][1]:.1f}"
    for i in range(len(p) - 1):
        before, here, there, after = p[max(0, i - 1)], p[i], p[i + 1], p[min(len(p) - 1, i + 2)]
        a = (here[0] + (there[0] - before[0]) / 6, here[1] + (there[1] - before[1]) / 6)
        b = (there[0] - (after[0] - here[0]) / 6, there[1] - (after[1] - here[1]) / 6)
        out += f"C{a[0]:.1f} {a[1]:.1f} {b[0]:.1f} {b[1]:.1f} {there[0]:.1f} {there[1]:.1f}"
    return out


def _turned(p: Point, *, at: Point, degrees: float) -> Point:
    a = math.radians(degrees)
    dx, dy = p[0] - at[0], p[1] - at[1]
    return at[0] + dx * math.cos(a) - dy * math.sin(a), at[1] + dx * math.sin(a) + dy * math.cos(a)


@dataclass(frozen=True)
class Profile:
    """SVG paths of the head in one state, where its iris lies, and where a place has moved to."""

    outline: str
    lines: tuple[str, ...]
    eye: str
    iris: Point
    tongue: str
    palate: str
    at: Callable[[Point], Point]


def profile(art: Mapping[str, Any], *, head: str, mouth: str, inside: bool = False) -> Profile:
    """The head in a state of head and mouth, the ``inside`` of the mouth seen; ``art`` are the points of ``figure.json``."""
    h, m = art["heads"].get(head, art["heads"]["level"]), art["mouths"].get(mouth, art["mouths"]["rest"])

    def nod(p: Point) -> Point:
        part = 1.0 if p[1] <= _NECK[1] else max(0.0, (_COLLAR - p[1]) / (_COLLAR - _NECK[1]))
        x, y = _turned(p, at=_NECK, degrees=h["turn"] * part)
        return x + h["shift"][0] * part, y + h["shift"][1] * part

    def bite(p: Point, part: float = 1.0) -> Point:
        x, y = _turned(p, at=_HINGE, degrees=m["open"] * part)
        return x + m["slide"][0] * part, y + m["slide"][1] * part

    def moved(name: str) -> list[Point]:
        return [nod(tuple(p)) for p in art[name]]

    corner, lip, lower = nod(bite((218, 242), 0.4)), nod((240, 241)), nod(bite((238, 243)))
    jaw = [nod(bite(tuple(p), w)) for p, w in zip(art["jaw"], _JAW_PARTS, strict=True)]
    jawline = [nod(bite(tuple(p), w)) for p, w in zip(art["jawline"], _JAWLINE_PARTS, strict=True)]
    opening = [corner] if m["gap"] > 0.05 else []
    tongue = curve([nod(tuple(p)) for p in m["tongue"]]) if m["out"] or inside else ""

    def at(p: Point) -> Point:
        return nod(bite(p) if p[1] > 244 and p[0] > 150 and p[1] < 315 else p)

    hair = tuple(curve(nod(tuple(p)) for p in line) for line in art["hair"])
    return Profile(
        outline=curve([*moved("outline"), lip, *opening, lower, *jaw, *moved("throat")]),
        lines=(*hair, curve(moved("ear")), curve(moved("brow")), curve([lip, corner]), curve(jawline)),
        eye=curve(moved("eye")),
        iris=nod(tuple(art["iris"])),
        tongue=tongue,
        palate=curve(moved("palate")) if inside else "",
        at=at,
    )
