"""Figures on paper: an exercise at its start and at its end, of the same parts and data as on the screen
(``ui/src/lib/signature/Figure.svelte``). As in a mirror: the client's right is at the right of the picture."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any

from dimbo.core.anatomy import Side
from dimbo.core.exercises.figure import Figure, Hand

from .side_drawing import Point, curve, profile

_INK, _PAPER = "#251b2b", "#ffffff"
INKS = {Side.RIGHT: "#b0532a", Side.LEFT: "#1b6c74"}
"""Of the client's sides; in grey they are told apart by where they lie."""
_WAYS = {Side.RIGHT: 1, Side.LEFT: -1}
"""The half that is drawn lies on positive x; in a mirror the client's right is at the viewer's right."""
_HAND_DOWN, _HAND_OUT = 44, 52
_WIDE = ("shoulder", "collarbone-outer", "blade")


@lru_cache(maxsize=1)
def _art() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "figure.json").read_text())
    return found


def _places(view: str, path: Sequence[str]) -> list[Point]:
    known = _art()["places"][view]
    return [tuple(known[name]) for name in path]


def _frame(f: Figure) -> tuple[float, float, float, float]:
    """What is drawn of the whole: x, y, width, height; hands are whole."""
    if f.view == "side":
        return -16, -24, 300, 450
    hands, moves = [p for h in f.hands for p in h.path], [p for m in f.moves for p in m]
    if any(p.startswith(_WIDE) for p in hands + moves):
        return -205, -16, 410, 462
    touched, moved = _places(f.view, hands), _places(f.view, moves)
    bottom = max([0.0, *(y + _HAND_DOWN if y > 180 else y for _, y in touched), *(y + 10 for _, y in moved)])
    half = max([140.0, *(x + _HAND_OUT for x, _ in touched)])
    if f.view == "behind" or bottom > 372:
        half = max(half, 155.0)
        return -half, -14, 2 * half, 464
    return -half, -14, 2 * half, 388 if bottom > 318 else 332


def _within(value: float, limits: Sequence[float] | None) -> bool:
    return limits is None or limits[0] <= value < limits[1]


def _reach(at: Point, tool: str) -> float:
    """The direction from a touch back to its wrist, in radians: of the first entry that is met."""
    for entry in _art()["hands"]["reaches"]:
        box = entry.get("within", {})
        meant = tool in entry.get("tools", [tool]) and tool not in entry.get("not", [])
        if meant and _within(at[0], box.get("x")) and _within(at[1], box.get("y")):
            return float(entry["angle"])
    raise ValueError(f"no hand reaches {at} with {tool}")


def _finger(at: Point, *, length: float, width: float, angle: float) -> str:
    (x, y), r, c, s = at, width / 2, math.cos(angle), math.sin(angle)

    def p(u: float, v: float) -> str:
        return f"{x + u * c - v * s:.1f} {y + u * s + v * c:.1f}"

    wide = r * 1.12
    return f"M{p(0, -r)}A{r} {r} 0 0 0 {p(0, r)}L{p(length, wide)}A{wide} {wide} 0 0 0 {p(length, -wide)}Z"


def _hand(tool: str, at: Point, *, angle: float, ink: str) -> str:
    c, s = math.cos(angle), math.sin(angle)
    fingers = "".join(
        _finger((u * c - v * s, u * s + v * c), length=length, width=width, angle=angle + turn)
        for u, v, length, width, turn in _art()["hands"]["fingers"][tool]
    )
    return (
        f'<g transform="translate({at[0]:.1f} {at[1]:.1f})"><path d="{fingers}" fill="{_PAPER}" fill-opacity=".86" stroke="{ink}" '
        f'stroke-width="1.7"/><circle r="3.4" fill="{ink}"/></g>'
    )


def _arrow(path: Sequence[Point], ink: str, dashes: str = "") -> str:
    (x0, y0), (x1, y1) = path[-2], path[-1]
    turn = math.degrees(math.atan2(y1 - y0, x1 - x0))
    dashed = f' stroke-dasharray="{dashes}"' if dashes else ""
    return (
        f'<path d="{curve(path)}" fill="none" stroke="{ink}" stroke-width="2.8" stroke-linecap="round"{dashed}/>'
        f'<path d="M4 0L-7 -6L-4 0L-7 6Z" fill="{ink}" transform="translate({x1:.1f} {y1:.1f}) rotate({turn:.1f})"/>'
    )


def _state(states: Sequence[str], end: bool) -> str:
    return states[-1] if end else states[0]


def _eye(state: str, *, key: str) -> str:
    eye = _art()["eyes"][state]
    x, y = eye["iris"]
    iris = (
        f'<g clip-path="url(#{key})"><circle cx="{x}" cy="{y}" r="7.2" fill="none" stroke="{_INK}" stroke-width="1.4"/>'
        f'<circle cx="{x}" cy="{y}" r="3.2" fill="{_INK}"/></g>'
    )
    clip = f'<clipPath id="{key}"><path d="{eye["white"]}"/></clipPath>'
    return f'<path d="{eye["white"]}" fill="#fff"/>{"" if eye["shut"] else clip + iris}<path d="{eye["lines"]}" fill="{_INK}"/>'


def _mouth(state: str) -> str:
    m = _art()["mouths"][state]
    dark = "" if m["shut"] else f'<path d="{m["dark"]}" fill="{_INK}" fill-opacity=".75"/>'
    tongue = f'<path d="{m["tongue"]}" fill="{_PAPER}" stroke="{_INK}"/>' if m["tongue"] else ""
    crease = f'<path d="{m["crease"]}" fill="{_INK}"/>' if m["crease"] else ""
    return f'<path d="{m["lips"]}" fill="{_INK}" fill-opacity=".1"/>{dark}<path d="{m["lines"]}" fill="{_INK}"/>{tongue}{crease}'


def _breath() -> str:
    d = _art()["hands"]["breath"]
    return f'<path d="{d}" fill="none" stroke="{_INK}" stroke-width="1.8" stroke-dasharray="1 4.5" stroke-linecap="round"/>'


def _halves(of: dict[Side, str]) -> str:
    return "".join(f'<g transform="scale({_WAYS[side]} 1)">{drawn}</g>' for side, drawn in of.items())


def _path(d: str, opacity: float = 1.0, fill: str = _INK) -> str:
    return f'<path d="{d}" fill="{fill}" fill-opacity="{opacity}"/>'


def _face(f: Figure, end: bool, works: Side) -> str:
    """Body and head from the front."""
    art = _art()
    posed = _art()["hands"]["heads"][_state(f.head, end)]
    (fx, fy, sx, sy), (hx, hy, scale, turn) = posed["features"], posed["head"]
    toward = _WAYS[Side.LEFT] * (-1 if f.one_side and works is Side.LEFT else 1)

    def features(side: Side) -> str:
        moving = end and not (f.one_side and side is not works)
        eye = _eye(_state(f.eyes, moving), key=f"eye-{side.value}")
        breath = _breath() if f.breath else ""
        return eye + _path(art["brows"][_state(f.brows, moving)]) + _mouth(_state(f.mouth, moving)) + breath

    body = _halves(dict.fromkeys(Side, _path(art["body"], fill=_PAPER) + _path(art["neck"], 0.8)))
    head = _halves(dict.fromkeys(Side, _path(art["head"], fill=_PAPER) + _path(art["hair"], 0.55)))
    frame = _halves(dict.fromkeys(Side, _path(art["frame"], 0.85)))
    drawn = _halves({side: features(side) for side in Side})
    return (
        f'{body}<g transform="translate({hx * toward} {hy}) rotate({-turn * toward} 0 300) scale({scale})">{head}{frame}'
        f'<g transform="translate({fx * toward} {fy + 150 * (1 - sy)}) scale({sx} {sy})">{drawn}</g></g>'
    )


def _back() -> str:
    back = _art()["behind"]
    half = _path(back["body"], fill=_PAPER) + _path(back["head"], fill=_PAPER) + _path(back["hair"], 0.4) + _path(back["lines"])
    return _halves(dict.fromkeys(Side, half))


def _touches(f: Figure, end: bool, works: Side, side: Side) -> Iterator[str]:
    """Arrows of what moves, and the hands of one side."""
    works_here = not f.one_side or side is works
    if works_here:
        for move in f.moves:
            path = _places(f.view, move)
            middle = all(x == 0 for x, _ in path)
            if not middle or side is Side.RIGHT:
                yield _arrow(path, _INK if middle else INKS[side], dashes="1 5")
    for hand in f.hands:
        if (hand.other and f.one_side and side is not works) if hand.other else works_here:
            yield _laid(hand, _beside(_places(f.view, hand.path), f, tool=hand.tool), end=end, ink=INKS[side])


def _beside(path: list[Point], f: Figure, tool: str) -> list[Point]:
    """Two hands that meet on the midline keep a finger's width apart."""
    apart = not f.one_side and tool in ("index", "thumb")
    return [(6.0, y) if x == 0 and apart else (x, y) for x, y in path]


def _laid(hand: Hand, path: list[Point], *, end: bool, ink: str) -> str:
    way = _arrow(path, ink) if len(path) > 1 else ""
    return way + _hand(hand.tool, path[-1 if end else 0], angle=_reach(path[0], hand.tool), ink=ink)


def _from_the_side(f: Figure, end: bool) -> str:
    art = _art()["side"]
    inside = any(art["mouths"].get(m, {}).get("inside") for m in f.mouth)
    now = profile(art, head=_state(f.head, end), mouth=_state(f.mouth, end), inside=inside)
    lines = "".join(f'<path d="{d}" fill="none" stroke="{_INK}" stroke-width="1.2" stroke-opacity=".7"/>' for d in now.lines)
    iris = "" if "closed" in f.eyes else f'<circle cx="{now.iris[0]:.1f}" cy="{now.iris[1]:.1f}" r="4" fill="{_INK}"/>'
    palate = f'<path d="{now.palate}" fill="none" stroke="{_INK}" stroke-width="1.2" stroke-dasharray="3 3"/>' if now.palate else ""
    tongue = "".join(
        f'<path d="{now.tongue}" fill="none" stroke="{ink}" stroke-width="{width}" stroke-linecap="round"/>'
        for width, ink in (((9, _INK), (6, _PAPER)) if now.tongue else ())
    )
    out = (
        f'<path d="{now.outline}" fill="{_PAPER}" stroke="{_INK}" stroke-width="1.8" stroke-linejoin="round"/>{lines}'
        f'<path d="{now.eye}" fill="#fff" stroke="{_INK}" stroke-width="1.3"/>{iris}{palate}{tongue}'
    )
    out += "".join(_arrow([now.at(p) for p in _places("side", m)], _INK, dashes="1 5") for m in f.moves)
    for hand in f.hands:
        x, y = now.at(_places("side", hand.path)[0])
        out += _hand(hand.tool, (x, y), angle=1.3 if y > 300 else 2.2 if x < 110 else 0.9, ink=_INK)
    return out


def moves(f: Figure) -> bool:
    """Whether start and end differ."""
    seen = {"front": (f.mouth, f.eyes, f.brows, f.head), "side": (f.mouth, f.head), "behind": ()}[f.view]
    return any(len(states) > 1 for states in seen) or (f.view != "side" and any(len(h.path) > 1 for h in f.hands))


def figure_svg(f: Figure, *, end: bool, works: Side = Side.RIGHT) -> str:
    """A figure at its start or its end as SVG; ``works`` is the side that works, for an exercise of one side."""
    x, y, width, height = _frame(f)
    if f.view == "side":
        drawn = _from_the_side(f, end)
    else:
        whole = _back() if f.view == "behind" else _face(f, end, works=works)
        drawn = whole + _halves({side: "".join(_touches(f, end, works=works, side=side)) for side in Side})
    box = f'viewBox="{x:g} {y:g} {width:g} {height:g}" width="{width:g}" height="{height:g}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {box}>{drawn}</svg>'
