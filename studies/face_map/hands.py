"""Hands and the poses of the head from the front: what the screen and the paper both draw from."""

from __future__ import annotations

FINGERS: dict[str, tuple[tuple[float, float, float, float, float], ...]] = {
    "index": ((26, 10, 16, 12, 0.5), (0, 0, 40, 11, 0)),
    "thumb": ((0, 0, 34, 15, 0),),
    "fingers": tuple((abs(v) * 0.25, v, 38, 10.5, 0) for v in (-11, 0, 11)),
    "fingertips": tuple((round(abs(v) * 0.3, 2), v, 26, 9.5, round(-v * 0.008, 3)) for v in (-21, -7, 7, 21)),
    "pinch": ((2, 7, 34, 10.5, 0.3), (2, -7, 28, 13, -0.5)),
    "palm": ((14, -24, 22, 11, -0.5), *((-34 + abs(v) * 0.5, v, 32, 10.5, 0) for v in (-16.5, -5.5, 5.5, 16.5)), (2, 0, 30, 44, 0)),
    "knuckles": ((10, 0, 26, 40, 0), *((3, v, 10, 10.5, 0) for v in (-15, -5, 5, 15))),
    "back": tuple((-6, v, 30, 10, 0) for v in (-15, -5, 5, 15)),
    "fist": ((16, 0, 18, 40, 0), *((4, v, 14, 10, 0) for v in (-14, -4.5, 5, 14.5))),
}
"""Fingers of a hand by tool: where each begins along and across the hand from its touch, its length, width, and turn in radians."""

REACHES: tuple[dict[str, object], ...] = (
    # On the brow a hand comes from above and outside, so that no finger lies across the eye.
    {"within": {"x": (-1, 30), "y": (108, 148)}, "not": ("palm",), "angle": -0.75},
    {"within": {"x": (30, 76), "y": (108, 148)}, "not": ("palm",), "angle": -0.4},
    # Across the lip above the mouth a finger comes from the side, and not over the mouth.
    {"within": {"x": (-1, 25), "y": (205, 236)}, "tools": ("index",), "angle": 0.12},
    {"within": {"y": (181, 999)}, "tools": ("thumb",), "angle": 1.15},
    {"tools": ("thumb",), "angle": 0.9},
    {"within": {"y": (331, 999)}, "tools": ("palm", "fingers"), "angle": 0.25},
    {"within": {"y": (331, 999)}, "angle": 0.6},
    {"within": {"y": (241, 999)}, "angle": 1.05},
    {"within": {"x": (71, 999)}, "angle": 0.95},
    {"angle": 0.8},
)
"""The direction from a touch back to its wrist, in radians: the first entry holds whose places and tools are met (from its first
number up to, but not with, its second)."""

HEADS: dict[str, dict[str, tuple[float, float, float, float]]] = {
    "level": {"features": (0, 0, 1, 1), "head": (0, 0, 1, 0)},
    "back": {"features": (0, -15, 1, 0.93), "head": (0, -4, 1, 0)},
    "left": {"features": (15, 0, 0.93, 1), "head": (3, 0, 1, 0)},
    "tilt": {"features": (0, 0, 1, 1), "head": (0, 0, 1, 15)},
    "forward": {"features": (0, 3, 1.02, 1.02), "head": (0, 6, 1.05, 0)},
    "in": {"features": (0, 1, 1, 1), "head": (0, -2, 0.98, 0)},
}
"""How a state of the head moves its features and itself: dx, dy, scale x, scale y; and dx, dy, scale, turn in degrees."""

BREATH = "M48.9 234.4A50 50 0 0 1 30.8 263.4M60.6 236.9A62 62 0 0 1 38.2 272.9M72.4 239.4A74 74 0 0 1 45.6 282.3"
"""The breath on one side: waves that go out from the nose."""


def drawing() -> dict[str, object]:
    """All of it by name."""
    return {"fingers": FINGERS, "reaches": REACHES, "heads": HEADS, "breath": BREATH}
