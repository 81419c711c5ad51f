"""The states of mouth, eyes and brows that figures of exercises are drawn with, and where each place of the face is.

Same units as points.py: one half, midline x = 0.
"""

from __future__ import annotations

from . import points as p
from .curves import path, spline, stroke

Curve = list[tuple[float, float]]

# A mouth: outer upper and lower edge of the red, then the inner edges of the opening (empty for closed lips).
OPENINGS: dict[str, tuple[Curve, Curve, Curve, Curve]] = {
    "oval": (
        [(0, 224), (7, 226), (13, 233), (16.5, 246)],
        [(0, 280), (8, 278), (14, 268), (16.5, 246)],
        [(0, 231), (5.5, 233), (9.5, 239), (11.5, 249)],
        [(0, 273), (5.5, 271.5), (9.5, 263), (11.5, 249)],
    ),
    "oval-lift": (
        [(0, 223), (7, 224), (14, 228), (20, 237)],
        [(0, 280), (9, 278), (16, 265), (20, 237)],
        [(0, 230), (6, 231), (10.5, 235), (14, 243)],
        [(0, 273), (6, 271), (11, 261), (14, 243)],
    ),
    "open": (
        [(0, 233), (6, 232), (15, 236), (27, 246)],
        [(0, 270), (9, 269), (20, 260), (27, 246)],
        [(0, 240), (7, 240.4), (15, 243), (22, 248)],
        [(0, 262), (8, 261), (16, 255), (22, 248)],
    ),
    "ah": (
        [(0, 229), (6, 228), (17, 233), (28, 247)],
        [(0, 285), (10, 283), (22, 270), (28, 247)],
        [(0, 236), (7, 236.5), (16, 241), (23, 250)],
        [(0, 277), (9, 275), (18, 265), (23, 250)],
    ),
    "oh": (
        [(0, 230), (7, 230), (14, 236), (19, 249)],
        [(0, 278), (8, 276), (15, 266), (19, 249)],
        [(0, 237), (5, 238), (9.5, 243), (12, 252)],
        [(0, 270), (5, 268.5), (9.5, 262), (12, 252)],
    ),
    "ee": (
        [(0, 236), (8, 235), (24, 238), (39, 241)],
        [(0, 257), (10, 256.5), (27, 252), (39, 241)],
        [(0, 242), (10, 241.6), (24, 242.2), (34, 242.6)],
        [(0, 250), (10, 249.6), (24, 247.4), (34, 242.6)],
    ),
    "oo": (
        [(0, 232), (5, 231), (11, 236), (16, 245)],
        [(0, 261), (6, 260), (13, 254), (16, 245)],
        [(0, 241), (3, 241), (6, 243), (7.5, 246)],
        [(0, 251), (3, 250.6), (6, 248.8), (7.5, 246)],
    ),
    "tongue-up": (
        [(0, 230), (6, 229), (17, 234), (27, 246)],
        [(0, 272), (9, 271), (20, 261), (27, 246)],
        [(0, 237), (7, 237.4), (16, 241), (22, 248)],
        [(0, 264), (8, 263), (16, 256), (22, 248)],
    ),
}
# Closed lips: outer upper edge, outer lower edge, and the line between.
CLOSED: dict[str, tuple[Curve, Curve, Curve]] = {
    "rest": (p.LIP_UPPER, p.LIP_LOWER, [(0, 244.6), (9, 244.3), (16, 244.8), (23, 244), (31.8, 242.3)]),
    "smile": (
        [(0, 236), (6, 234.6), (18, 236.6), (29, 238.4), (37, 238)],
        [(0, 256), (9, 255.4), (20, 251), (30, 244.4), (37, 238)],
        [(0, 245.6), (10, 245.6), (22, 243.8), (32, 240.4), (38.4, 236.8)],
    ),
    "rolled": (
        [(0, 243), (9, 242.4), (20, 243), (29.5, 244.4)],
        [(0, 249), (9, 248.6), (20, 247.2), (29.5, 244.4)],
        [(0, 246), (10, 245.8), (20, 245.6), (32, 244.2)],
    ),
    "rolled-smile": (
        [(0, 243.6), (10, 243), (24, 241), (36, 236.6)],
        [(0, 249), (10, 248.6), (24, 245.4), (36, 236.6)],
        [(0, 246.4), (10, 246), (24, 243.4), (39, 235)],
    ),
    "pressed": (
        [(0, 238.6), (6, 237.4), (18, 239.4), (31, 243.4)],
        [(0, 252), (9, 251.8), (20, 249), (31, 243.4)],
        [(0, 245), (10, 245), (20, 244.8), (33.6, 243.4)],
    ),
    "lower-forward": (
        [(0, 237), (6, 235.6), (17, 238), (29, 243.6)],
        [(0, 260), (10, 259.4), (22, 253.6), (29, 243.6)],
        [(0, 242.4), (10, 241.8), (20, 242), (31, 244)],
    ),
}
OPENINGS |= {"tongue-out": OPENINGS["open"], "palate-open": OPENINGS["open"]}
CLOSED["palate"] = CLOSED["rest"]
TONGUES: dict[str, Curve] = {
    "tongue-up": [(0, 226), (5, 228), (8.5, 236), (9, 252), (6, 259), (0, 260)],
    "tongue-out": [(0, 244), (7, 245), (10.5, 253), (10, 268), (5.5, 275), (0, 276)],
}


def mouths() -> dict[str, dict[str, object]]:
    """Red of the lips, the dark of the opening, pen lines, tongue and chin crease, by state.

    Every state has the same parts with the same number of points, so that one can be drawn between two of them: closed lips have an
    opening of no height. ``shut`` is 1 for closed lips, whose opening is not filled; what a state does not have is empty.
    """
    out: dict[str, dict[str, object]] = {}
    shapes = {name: (*edges, 0) for name, edges in OPENINGS.items()}
    shapes |= {name: (upper, lower, between, between, 1) for name, (upper, lower, between) in CLOSED.items()}
    for name, (upper, lower, inner_upper, inner_lower, shut) in shapes.items():
        pens = ((0.75, 0.8, 0.2), (1.2, 0.9, 0.2), (1.1, 1.1, 0.3)) if shut else ((1, 1, 0.6), (1.2, 1, 0.5), (1, 1, 0.8))
        out[name] = {
            "lips": path(spline(upper, 25)) + path(spline(lower, 25)[::-1], move=False) + "Z",
            "dark": path(spline(inner_upper, 25)) + path(spline(inner_lower, 25)[::-1], move=False) + "Z",
            "lines": "".join(stroke(c, w) for c, w in zip((upper, lower, inner_upper), pens, strict=True)),
            "shut": shut,
            "tongue": path(spline(TONGUES[name], 21)) + "Z" if name in TONGUES else "",
            "crease": stroke([(4, 270), (12, 268.4), (19, 264)], (0.2, 0.8, 0.2)) if name == "lower-forward" else "",
        }
    return out


# An eye: upper and lower edge, and where the iris looks (None when closed).
EYES: dict[str, tuple[Curve, Curve, tuple[float, float] | None]] = {
    "rest": (p.EYE_UPPER, p.EYE_LOWER, (37.8, 153.3)),
    "wide": (
        [(18.5, 156.6), (22, 151.4), (28, 146), (37, 143.2), (46, 144.4), (53, 148.6), (57.5, 154.2)],
        [(18.5, 156.6), (24, 159.6), (31, 162), (39, 162.8), (47, 161.2), (53, 158), (57.5, 154)],
        (37.8, 153),
    ),
    "closed": (
        [(18.5, 156.6), (24, 159.2), (31, 161.2), (39, 161.8), (47, 160.4), (53, 157.6), (57.5, 154.2)],
        [(18.5, 156.6), (24, 159.6), (31, 161.7), (39, 162.3), (47, 160.9), (53, 157.9), (57.5, 154)],
        None,
    ),
    "squint": (
        [(18.5, 156), (22, 153.8), (28, 150.6), (36, 148.8), (45, 149.4), (52, 151.8), (57.5, 154.2)],
        [(18.5, 156), (24, 156.4), (31, 156.8), (39, 156.8), (47, 156.2), (53, 155.2), (57.5, 154)],
        (37.8, 152),
    ),
    "up": (p.EYE_UPPER, p.EYE_LOWER, (37.8, 149.6)),
    "down": (
        [(18.5, 156.4), (22, 155), (28, 153.2), (36, 152.4), (45, 152.8), (52, 153.6), (57.5, 154.2)],
        [(18.5, 156.2), (24, 159), (31, 161.4), (39, 162), (47, 160.6), (53, 157.6), (57.5, 154)],
        (37.8, 158.4),
    ),
    "near": (p.EYE_UPPER, p.EYE_LOWER, (32.4, 154.2)),
    "round": (p.EYE_UPPER, p.EYE_LOWER, (42.6, 151.6)),
}


def eyes() -> dict[str, dict[str, object]]:
    """The white, pen lines and the iris, by state."""
    out: dict[str, dict[str, object]] = {}
    for name, (upper, lower, iris) in EYES.items():
        crease = [(x + (1 if x > 36 else 0), y - (5.6 if name != "closed" else 12)) for x, y in upper[1:-1]]
        out[name] = {
            "white": path(spline(upper, 41)) + path(spline(lower, 41)[::-1], move=False) + "Z",
            "lines": stroke([*upper, (60.2, 154.4)], (0.5, 1.2, 2.0, 2.3, 2.3, 2.0, 0.3))
            + stroke(lower[1:], (0.15, 0.45, 0.6, 0.7, 0.9, 0.6))
            + stroke(crease, (0.15, 0.6, 0.8, 0.7, 0.1)),
            # A closed eye looks down behind its lid, and shows nothing of it.
            "iris": list(iris or (37.8, 159)),
            "shut": 0 if iris else 1,
        }
    return out


BROWS: dict[str, list[tuple[float, float]]] = {
    "rest": [(0, 0)] * 6,
    "raised": [(0, -6), (0, -7.5), (0, -8.5), (0, -8.5), (0, -7), (0, -4)],
    "drawn": [(-4.5, 3.5), (-3.4, 2.4), (-2, 1), (-1, 0), (0, 0), (0, 0)],
}
"""How far each of the six points along the brow moves."""

PLACES: dict[str, tuple[float, float]] = {
    "crown": (0, -2),
    "hairline-middle": (0, 48),
    "forehead-middle": (0, 88),
    "between-brows": (0, 131),
    "nose-bridge": (0, 164),
    "nose-base": (0, 219),
    "upper-lip-middle": (0, 227),
    "mouth-middle": (0, 245),
    "lower-lip-middle": (0, 262),
    "chin": (0, 282),
    "chin-tip": (0, 299),
    "under-chin": (0, 309),
    "throat": (0, 345),
    "notch": (0, 404),
    "scalp": (46, 20),
    "scalp-side": (92, 66),
    "hairline": (46, 57),
    "forehead": (42, 92),
    "temple-high": (82, 98),
    "temple": (81, 132),
    "above-brow": (40, 112),
    "brow-inner": (14, 133),
    "brow-middle": (38, 126),
    "brow-outer": (64, 131),
    "eye-inner": (13, 156),
    "eye-outer": (64, 154),
    "lid-upper": (40, 150),
    "lid-lower": (38, 163),
    "under-eye-inner": (19, 168),
    "under-eye": (38, 174),
    "under-eye-outer": (58, 168),
    "cheekbone": (64, 184),
    "under-cheekbone": (52, 200),
    "cheek": (54, 212),
    "beside-nose": (20, 192),
    "nostril": (23, 207),
    "fold": (30, 222),
    "corner": (31, 243),
    "outside-corner": (43, 244),
    "lip-upper": (15, 232),
    "lip-lower": (14, 257),
    "below-corner": (33, 262),
    "chin-side": (22, 284),
    "jaw": (52, 270),
    "under-jaw": (44, 290),
    "jaw-angle": (76, 238),
    "chewing-muscle": (72, 220),
    "ear-front": (89, 172),
    "ear-behind": (108, 172),
    "ear-lobe": (92, 196),
    "ear-top": (104, 139),
    "ear-side": (98, 122),
    "neck-high": (68, 258),
    "neck-side": (60, 300),
    "neck-low": (56, 350),
    "collarbone": (42, 396),
    "collarbone-outer": (104, 392),
    "shoulder": (150, 388),
    "shoulder-top": (100, 372),
}
BEHIND: dict[str, tuple[float, float]] = {
    "skull-edge": (34, 212),
    "nape": (20, 250),
    "nape-low": (22, 306),
    "shoulder": (140, 388),
    "blade": (46, 420),
}
SIDE: dict[str, tuple[float, float]] = {
    "crown": (135, -6),
    "forehead-middle": (225, 88),
    "lower-lip-middle": (232, 258),
    "chin": (234, 281),
    "chin-tip": (222, 299),
    "under-chin": (190, 308),
    "throat": (150, 345),
    "notch": (160, 404),
    "temple": (160, 128),
    "cheek": (180, 212),
    "jaw-angle": (138, 262),
    "ear-lobe": (118, 194),
    "neck-side": (112, 310),
    "collarbone": (132, 398),
    "skull-edge": (58, 226),
    "nape": (66, 290),
    "nape-low": (58, 350),
}
"""Seen from the side, facing to the right of the picture."""
