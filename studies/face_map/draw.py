"""Draw the face map and the parts that figures of exercises are made of: python -m studies.face_map.draw

Writes face-map.json and face-figure.json into ui/src/lib/signature, and figure.json for paper into src/dimbo/printing.

One half is drawn and the interface mirrors it, so the map is symmetrical by construction.
"""

from __future__ import annotations

import json
import math
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from . import aside, back, hands, states
from . import points as p
from .curves import path, ring, sheet, spline, stroke


def muscles() -> dict[str, dict[str, object]]:
    """Region, fibres and depth of every muscle by id, deepest first."""
    out: dict[str, dict[str, object]] = {}
    for name, (first, second, fibres, caps) in p.SHEETS.items():
        region, lines = sheet(first, second, fibres, caps)
        out[name] = {"region": region, "fibres": lines, "deep": name in p.DEEP}
    lips = [*p.LIP_UPPER, *p.LIP_LOWER[::-1][1:]]
    for name, inner, outer, fibres in (("orbicularis_oris", lips, p.OO_OUT, 6), ("orbicularis_oculi", p.OC_IN, p.OC_OUT, 7)):
        region, lines = ring(inner, outer, fibres)
        out[name] = {"region": region, "fibres": lines, "deep": False}
    return out


def hair() -> str:
    """Strands swept back from the hairline, fewer than there are."""
    rng = np.random.default_rng(11)
    line = spline(p.HAIRLINE, 120)
    crown = spline([(0, -7), (28, -4.5), (56, 6), (80, 27), (96, 57), (103, 91), (104.5, 118), (101.5, 142)], 120)
    out = []
    for i in range(26):
        u = ((i + 0.5) / 26) ** 0.92
        strand = line * (1 - u) + crown * u
        t = np.linspace(0, 1, 120)
        strand = strand + np.c_[np.sin(t * math.pi) * 2.2 * math.sin(u * math.pi), -np.sin(t * math.pi) * 1.2 * math.sin(u * math.pi)]
        for start, end in ((0.0, 0.2 + 0.1 * rng.random()), (0.42 + 0.16 * rng.random(), 0.97)):
            piece = strand[int(start * 119) : int(end * 119) + 1]
            out.append(stroke(piece[::8], (0.5, 0.6, 0.12), n=21, step=7))
    return "".join([*out, stroke(p.HAIRLINE, (0.9, 0.55, 0.35, 0.3, 0.5, 0.7, 0.9, 0.6), n=61, step=6)])


def brow(shift: Sequence[tuple[float, float]] = ((0, 0),) * 6) -> str:
    """The brow as hair strokes along its two edges, each of its six points shifted."""
    rng = np.random.default_rng(5)
    lower, upper = (spline(np.array(edge) + np.array(shift), 80) for edge in (p.BROW_LOWER, p.BROW_UPPER))
    out = []
    for i in range(0, 76, 2):
        u, to = i / 78, min(79, i + 8)
        if u < 0.6:
            root = lower[i] - np.array([0, 0.2 + rng.random()])
            tip = upper[to] * min(1, 0.55 + 3 * u) + root * max(0, 0.45 - 3 * u)
        else:
            root, tip = upper[i] * 0.78 + lower[i] * 0.22, (lower[to] + upper[to]) / 2
        out.append(stroke([root, (root + tip) / 2 - np.array([0.2, 0.5]), tip], (0.6, 0.8, 0.1), n=13, step=6))
    return "".join(out)


def drawing() -> dict[str, object]:
    """Everything that the interface needs, as SVG path data of one half."""
    lips = path(spline(p.LIP_UPPER, 31)) + path(spline(p.LIP_LOWER[::-1], 31), move=False) + "Z"
    return {
        "viewBox": [-215, -16, 430, 462],
        "headBox": [-118, -14, 236, 322],
        "body": path(spline(p.BODY_OUTLINE, 90), step=3) + "L0 446Z",
        "head": path(spline(p.HEAD_OUTLINE, 90), step=3) + "Z",
        "muscles": muscles(),
        "lines": "".join(stroke(points, widths) for points, widths in p.HEAD),
        "neck": "".join(stroke(points, widths) for points, widths in p.NECK),
        "hair": hair(),
        "brow": brow(),
        "lips": lips,
        "eye": path(spline(p.EYE_UPPER, 41)) + path(spline(p.EYE_LOWER, 41)[::-1], move=False) + "Z",
        "iris": p.IRIS,
        "back": back.drawing(),
    }


def figure() -> dict[str, object]:
    """The parts of a figure: the frame of the head, each state of mouth, eyes and brows, and the places by name."""
    return {
        "frame": "".join(stroke(points, widths) for points, widths in p.FRAME),
        "mouths": states.mouths(),
        "eyes": states.eyes(),
        "brows": {name: brow(shift) for name, shift in states.BROWS.items()},
        "places": {"front": states.PLACES, "behind": states.BEHIND, "side": states.SIDE},
        "side": aside.drawing(),
        "hands": hands.drawing(),
    }


def for_paper(drawn: Mapping[str, Any], parts: Mapping[str, Any]) -> dict[str, Any]:
    """What figures on paper are made of: those parts of both that they need."""
    behind = {key: drawn["back"][key] for key in ("body", "head", "hair", "lines")}
    return {**{key: drawn[key] for key in ("body", "head", "neck", "hair")}, "behind": behind, **parts}


ROOT = Path(__file__).parents[2]
OUT = ROOT / "ui/src/lib/signature"
PAPER = ROOT / "src/dimbo/printing/figure.json"


def text(drawn: Mapping[str, Any]) -> str:
    """A drawing as it is kept."""
    return json.dumps(drawn, separators=(",", ":")) + "\n"


if __name__ == "__main__":
    (OUT / "face-map.json").write_text(text(drawing()))
    (OUT / "face-figure.json").write_text(text(figure()))
    PAPER.write_text(text(for_paper(drawing(), figure())))
