"""The head from behind: nape, scalp and shoulders, for the muscles that the front cannot show.

Seen from behind nothing is swapped: x grows toward the client's right. Original art of this project.
"""

from __future__ import annotations

import math

import numpy as np

from . import points
from .curves import path, sheet, spline, stroke

SKULL = [(0, -7), (28, -4.5), (56, 6), (80, 27), (96, 57), (103, 91), (103.5, 120), (100, 142)]
NECK = [(87.5, 187), (83, 206), (76, 229), (67, 258), (60, 284), (56.5, 312), *points.BODY_OUTLINE[5:]]
"""From the ear down into the same shoulder as in front."""
EAR = [(90.5, 144), (97, 139), (103.5, 139.5), (106.5, 148), (104, 162), (101, 176), (96, 188), (89.5, 191), (87, 184)]
NAPE = [(86, 166), (82.5, 183), (70, 198.5), (52, 211.5), (28, 219.5), (0, 222.5)]
KNOT = [(0, 36), (15, 38.5), (26, 47), (30.5, 60), (28, 74), (18, 85), (0, 89.5)]

# id: (first edge, second edge, fibres, rounding of the ends), deepest first
SHEETS: dict[str, tuple[list[tuple[float, float]], list[tuple[float, float]], int, tuple[float, float]]] = {
    "sternocleidomastoid": ([(62, 206), (58, 250), (52, 300)], [(78, 204), (66, 254), (57, 300)], 6, (0.2, 0.05)),
    "scalenes": ([(50, 292), (54, 322), (62, 348)], [(57, 304), (58, 328), (70, 354)], 4, (0, 0)),
    "trapezius": ([(1.5, 223), (2, 270), (2.5, 340), (4, 444)], [(22, 222), (33, 270), (60, 345), (163, 391)], 15, (0.03, 0.05)),
    "suboccipitals": ([(29, 221), (26, 236), (20, 252)], [(54, 212), (49, 234), (40, 252)], 7, (0.1, 0.1)),
    "occipitalis": ([(9, 150), (10, 170), (13, 190)], [(58, 138), (60, 160), (50, 184)], 11, (0.12, 0.08)),
    "auriculares": ([(78, 164), (85, 166), (92, 166)], [(78, 176), (85, 176), (92, 174)], 4, (0.2, 0.1)),
}


def _hair() -> str:
    """Strands from nape, temples and brow gathered into a knot."""
    rng = np.random.default_rng(5)
    knot = spline(KNOT, 60)
    edge = spline(
        [
            (0, -6),
            (30, -1),
            (58, 11),
            (80, 32),
            (95, 60),
            (101, 92),
            (101.5, 120),
            (96, 146),
            (88, 164),
            (83, 182),
            (70, 198),
            (52, 211),
            (28, 219),
            (0, 222),
        ],
        160,
    )
    out = []
    for i in range(2, 158, 2):
        u = i / 159
        p, q = edge[i], knot[min(59, int(u * 59))]
        bow = (p + q) / 2 + np.array([9 * math.sin(u * math.pi), 2 + 4 * math.sin(u * math.pi)])
        strand, r = spline([tuple(p), tuple(bow), tuple(q)], 60), rng.random()
        for piece in (strand[: int(10 + 14 * r)], strand[int(40 + 10 * r) :] if i % 3 else strand[int(26 + 8 * r) :]):
            out.append(stroke([tuple(v) for v in piece[::6]] + [tuple(piece[-1])], (0.5, 0.5, 0.14), n=21, step=7))
    centre = np.array([(0, 62.7)])
    for i in range(7):
        coil = centre + (knot - centre) * (0.2 + 0.11 * i)
        out.append(stroke([tuple(v) for v in coil[int(6 * rng.random()) : 58 : 6]], (0.15, 0.5, 0.15), n=25, step=6))
    out.append(stroke([*(tuple(v) for v in knot[::5]), (0, 89.5)], (1.1, 1.3, 1.4, 1.2), n=45, step=5))
    return "".join(out)


def drawing() -> dict[str, object]:
    """Everything that the interface needs for the view from behind, as SVG path data of the client's right half."""
    muscles = {}
    for name, (first, second, fibres, caps) in SHEETS.items():
        region, lines = sheet(first, second, fibres, caps)
        muscles[name] = {"region": region, "fibres": lines, "deep": False}
    lines = [
        stroke(SKULL, (1.4, 1.3, 1.1, 1.4, 1.6, 1.4, 0.9)),
        stroke(EAR, (0.4, 1.2, 1.5, 1.3, 1, 1, 1, 0.5)),
        stroke([(92, 150), (97, 147), (100, 152), (98, 166), (93.5, 180)], (0.2, 0.7, 0.7, 0.6, 0.2)),
        stroke(NECK, (0.5, 1.3, 1.3, 1.2, 1.3, 1.4, 1.3, 1.4, 1.5, 1.2, 0.4)),
        stroke(NAPE, (0.3, 0.8, 0.5, 0.4, 0.5, 0.7)),
        stroke([(8, 352), (6, 380), (5, 410), (5, 444)], (0.1, 0.6, 0.6, 0.1)),
        stroke([(150, 404), (110, 414), (84, 432), (76, 446)], (0.1, 0.8, 0.9, 0.3)),
    ]
    body = path(spline([(0, 190), (60, 192), *NECK], 120), step=3) + "L0 446L0 190Z"
    head = [*SKULL, (106, 146), (104, 162), (100, 178), (92, 191), (84, 202), (74, 226), (60, 250), (0, 258)]
    return {
        "body": body,
        "head": path(spline(head, 90), step=3) + "Z",
        "muscles": muscles,
        "lines": "".join(lines),
        "hair": _hair(),
    }
