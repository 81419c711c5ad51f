"""The head from the side, facing to the right of the picture: points that head and jaw move, and how each state moves them."""

from __future__ import annotations

Points = tuple[tuple[float, float], ...]

OUTLINE: Points = (
    (44, 446),
    (56, 400),
    (66, 350),
    (68, 300),
    (60, 250),
    (50, 222),
    (28, 190),
    (14, 140),
    (18, 86),
    (44, 36),
    (88, 4),
    (136, -8),
    (182, 4),
    (214, 42),
    (226, 88),
    (229, 122),
    (222, 142),
    (233, 166),
    (253, 196),
    (250, 204),
    (234, 211),
    (236, 224),
    (242, 233),
)
JAW: Points = ((239, 250), (229, 262), (233, 281), (222, 299), (192, 307), (164, 316))
THROAT: Points = ((152, 334), (150, 370), (160, 404), (168, 446))
EAR: Points = ((122, 196), (112, 178), (108, 156), (118, 144), (130, 150), (130, 168), (122, 180), (124, 194))
HAIR: tuple[Points, ...] = (
    ((212, 40), (184, 66), (166, 96), (152, 132), (138, 140)),
    ((186, 8), (150, 44), (122, 90), (104, 140)),
    ((150, -4), (108, 40), (82, 96), (78, 150)),
    ((104, 0), (66, 50), (48, 110), (56, 170)),
    ((60, 24), (32, 76), (28, 136), (44, 190)),
    ((106, 150), (92, 190), (72, 222), (58, 232)),
)
BROW: Points = ((184, 128), (200, 121), (222, 126))
EYE: Points = ((188, 152), (200, 145), (214, 148), (216, 153), (204, 158), (190, 154))
JAWLINE: Points = ((186, 296), (152, 284), (134, 258), (128, 214))
EYE_IRIS = (208, 152)

HEADS: dict[str, dict[str, object]] = {
    "level": {"turn": 0, "shift": (0, 0)},
    "back": {"turn": -20, "shift": (-2, 4)},
    "forward": {"turn": 3, "shift": (26, 8)},
    "in": {"turn": 4, "shift": (-12, -2)},
    "tilt": {"turn": 0, "shift": (0, 4)},
    "left": {"turn": 0, "shift": (0, 0)},
}
"""How a state of the head turns it round the neck (degrees) and shifts it; what lies lower moves less, down to the collarbones."""
PALATE: Points = ((232, 236), (222, 228), (204, 225), (186, 229), (176, 240))
"""The roof of the mouth, drawn where the tongue works inside."""
_TONGUE_LOW: Points = ((180, 264), (192, 254), (208, 252), (226, 249))
_TONGUE_HIGH: Points = ((182, 256), (190, 238), (206, 232), (226, 237))


def _mouth(
    turn: float = 0,
    gap: float = 0,
    *,
    slide: tuple[float, float] = (0, 0),
    tongue: Points = _TONGUE_LOW,
    out: bool = False,
    inside: bool = False,
) -> dict[str, object]:
    return {"open": turn, "slide": slide, "gap": gap, "tongue": tongue, "out": int(out), "inside": int(inside)}


MOUTHS: dict[str, dict[str, object]] = {
    "rest": _mouth(),
    "open": _mouth(7, 1),
    "ah": _mouth(14, 1),
    "oh": _mouth(10, 1),
    "oo": _mouth(4, 0.5),
    "oval": _mouth(13, 1),
    "oval-lift": _mouth(12, 1),
    "tongue-up": _mouth(8, 1, tongue=((206, 246), (220, 242), (232, 233), (246, 224)), out=True),
    "tongue-out": _mouth(8, 1, tongue=((206, 248), (222, 247), (242, 248), (262, 251)), out=True),
    "palate": _mouth(tongue=_TONGUE_HIGH, inside=True),
    "palate-open": _mouth(8, 1, tongue=_TONGUE_HIGH, inside=True),
    "lower-forward": _mouth(slide=(11, -3)),
}
"""How a state of the mouth opens the jaw (degrees round the ear) and slides it, how far the lips part, and where the tongue lies: it is
drawn where it comes ``out``, and with the palate where it works ``inside``."""


def drawing() -> dict[str, object]:
    """All of it by name."""
    shapes = {
        "outline": OUTLINE,
        "jaw": JAW,
        "throat": THROAT,
        "ear": EAR,
        "hair": HAIR,
        "brow": BROW,
        "eye": EYE,
        "jawline": JAWLINE,
        "palate": PALATE,
    }
    return {**shapes, "iris": EYE_IRIS, "heads": HEADS, "mouths": MOUTHS}
