"""How fully further readings follow a true change, and how true the ways between two expressions are.

Called by ``studies.truth`` (parts ``moves``, ``ways`` and ``profile``), which says how it is run.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from dimbo.core.sittings.frame import Point, place_all
from dimbo.core.sittings.profile_view import measure_profile
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.shot import measured_on
from dimbo.vision.landmarks import locate
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import FaceError, Nudge, Scene, identities
from studies.readings.people import UNSEEN
from studies.trials import GROUPS, HEADS, posed, rms, shot_of, trials, within_head

AMOUNTS_MM = (-1.0, -0.6, -0.3, 0.3, 0.6, 1.0)
"""What a place is moved by on one side, or on the midline."""


SEEDS = (1, 3)
"""Every amount is photographed with the same two re-posings, turned to either side: a turn must not pass for a change."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """A place that is moved, (dx, dy) millimetres to the client's left and up for each millimetre, over a size; and the change of the
    reading for each, from the points of the picture and its pixels to a millimetre."""

    at: str
    by: tuple[float, float]
    size_mm: tuple[float, float]
    means: Callable[[Mapping[str, Point], float], float]


def _one(_points: Mapping[str, Point], _px: float) -> float:
    return 1.0


def _less(_points: Mapping[str, Point], _px: float) -> float:
    return -1.0


def _slope_over(inner: str, outer: str) -> Callable[[Mapping[str, Point], float], float]:
    return lambda points, px: math.degrees(px / math.dist(points[inner], points[outer]))


MOVES: dict[str, Move] = {
    "upper_lid_margin": Move(at="ps_left", by=(0, 1), size_mm=(8, 3), means=_one),
    "brow_height_inner": Move(at="bi_left", by=(0, 1), size_mm=(10, 10), means=_one),
    "brow_height_outer": Move(at="bo_left", by=(0, 1), size_mm=(10, 10), means=_one),
    "canthal_tilt": Move(at="ex_left", by=(0, 1), size_mm=(7, 5), means=_slope_over("en_left", outer="ex_left")),
    "alar_height": Move(at="al_left", by=(0, -1), size_mm=(9, 9), means=_one),
    "corner_angle": Move(at="ch_left", by=(0, 1), size_mm=(9, 9), means=_slope_over("sto_upper", outer="ch_left")),
    "jaw_width": Move(at="go_left", by=(1, 0), size_mm=(14, 25), means=_one),
    "philtrum_length": Move(at="ls", by=(0, 1), size_mm=(14, 4), means=_less),
    "upper_vermilion": Move(at="ls", by=(0, 1), size_mm=(14, 4), means=_one),
    "lower_vermilion": Move(at="li", by=(0, -1), size_mm=(14, 4), means=_one),
    "mouth_width": Move(at="ch_left", by=(1, 0), size_mm=(9, 9), means=_one),
    "midline_sn": Move(at="sn", by=(1, 0), size_mm=(12, 8), means=_one),
    "midline_ls": Move(at="ls", by=(1, 0), size_mm=(22, 7), means=_one),
    "midline_me": Move(at="me", by=(1, 0), size_mm=(25, 14), means=_one),
}
WAYS = {
    "smile_excursion": ("smile", "corner_mm", "ch"),
    "brow_excursion": ("raised", "brow_mm", "bp"),
    "eye_opening": ("wide", "lid_mm", "ps"),
}
"""Of each way: the state that shows it, what moves its point, and that point."""


@dataclass(frozen=True, slots=True)
class Told:
    """A change that was made to a head, in a reading's unit, and what was found; ``found`` is None where nothing was read."""

    who: str
    true: float
    found: float | None


def follow_row(name: str, told: Sequence[Told], band: float) -> str:
    """A row of the tables: slope within the heads, of all, of the dark ones, and of the least and the most; the SD of what is left; how
    much of that lies within a band; what was not read."""
    read = [t for t in told if t.found is not None]
    whose = [t.who for t in read]
    true, found = (within_head(whose, np.array(values, float)) for values in zip(*((t.true, t.found) for t in read), strict=True))

    def slope(of: Callable[[str], bool]) -> float:
        mine = [i for i, w in enumerate(whose) if of(w)]
        return float(np.polyfit(true[mine], found[mine], 1)[0])

    single = [slope(lambda w, who=who: w == who) for who in set(whose) if whose.count(who) > 3]
    error = found - true
    cells = (
        f"{slope(lambda _: True):.2f}",
        f"{slope(GROUPS['dark skin']):.2f}",
        f"{min(single):.2f} to {max(single):.2f}",
        f"{rms(error):.2f}",
    )
    return f"| `{name}` | " + " | ".join(cells) + f" | {np.mean(np.abs(error) <= band):.0%} | {1 - len(read) / len(told):.0%} |"


HEADER = (
    "\n| reading | slope | dark skin | single heads | SD of what is left | inside the band of one shot | not read |\n" + "| --- " * 7 + "|"
)


def moves_part() -> None:
    """Every other reading: one place of an even face moved by 0.3 to 1 mm, each picture re-posed."""
    print(HEADER)
    for key, move in MOVES.items():
        scenes, true = [], []
        for who in UNSEEN:
            plain = shoot(Scene(identity=who, seed=1, repose=0, grain=0), HEADS)
            points = locate(plain.rgb).points
            factor = move.means(points, plain.pixels_per_mm)
            for seed, amount in itertools.product(SEEDS, AMOUNTS_MM):
                nudge = Nudge(at=points[move.at], by_mm=(move.by[0] * amount, move.by[1] * amount), size_mm=move.size_mm)
                scenes.append(posed(who, "even", seed, nudges=(nudge,)))
                true.append(amount * factor)
        found = [(t.found | t.alone).get(key) for t in trials(scenes)]
        told = [Told(s.identity, t, f.value if f else None) for s, t, f in zip(scenes, true, found, strict=True)]
        print(follow_row(key, told, band=READINGS[key].noise.of_one(1)), flush=True)


def _middle(shots: Sequence[Mapping[str, Point]]) -> dict[str, Point]:
    return {
        n: (float(np.median([s[n][0] for s in shots])), float(np.median([s[n][1] for s in shots])))
        for n in set.intersection(*map(set, shots))
    }


def _placed(scene: Scene) -> dict[str, Point]:
    rgb = shoot(scene, HEADS).rgb
    marks = locate(rgb)
    return place_all(shot_of(marks, rgb).frontal, marks.iris_px)


def _way(scene: Scene, point: str, side: str) -> float:
    """The true way of a point from rest to the scene, in mm: of a mouth corner along its line, of others upward."""
    one, two = (
        shoot(Scene(identity=scene.identity, state=s, repose=0, grain=0, **w), HEADS) for s, w in (("even", {}), (scene.state, _how(scene)))
    )
    a, b = (np.array(s.points[f"{point}_{side}"]) for s in (one, two))
    return float(np.hypot(*(b - a)) if point == "ch" else a[1] - b[1]) / one.pixels_per_mm


def _how(scene: Scene) -> dict[str, tuple[float, float]]:
    return {"lid_mm": scene.lid_mm, "brow_mm": scene.brow_mm, "corner_mm": scene.corner_mm}


def ways_part() -> None:
    """Smile, brow raise and wide eyes against rest: one side goes by up to a millimetre less or more."""
    print(HEADER)
    for key, (state, field, point) in WAYS.items():
        reading, told = READINGS[key], []
        for who in UNSEEN:
            rest = _middle([_placed(posed(who, "even", 50 + k)) for k in range(3)])
            for seed, amount in itertools.product(SEEDS, AMOUNTS_MM):
                scene = posed(who, state, seed, **{field: (0.0, amount)})
                true = _way(scene, point=point, side="left") - _way(scene, point=point, side="right")
                try:
                    rgb = shoot(scene, HEADS).rgb
                    shot = shot_of(locate(rgb), rgb, view=reading.view)
                    value = measured_on(shot, None, rest)[1].get(key)
                except FaceError:
                    value = None
                told.append(Told(who, true, value.value if value else None))
        print(follow_row(key, told, band=reading.noise.of_one(1)), flush=True)


def profile_part(draws: int = 300) -> None:
    """What the angles of a profile move by when each point is set a millimetre otherwise (SD, along each direction)."""
    print("\n| reading | SD | least | most |\n| --- | --- | --- | --- |")
    rng, found = np.random.default_rng(1), {}
    for who, side in itertools.product(identities(), ("left", "right")):
        shot = shoot(Scene(identity=who, state=f"profile_{side}", repose=0))
        drawn = [
            measure_profile({n: (float(x), float(y)) for n, p in shot.points.items() for x, y in [rng.normal(p, shot.pixels_per_mm)]})
            for _ in range(draws)
        ]
        for key in drawn[0]:
            found.setdefault(key, []).append(float(np.std([d[key] for d in drawn])))
    for key, sds in found.items():
        print(f"| `{key}` | {rms(sds):.3f} | {min(sds):.3f} | {max(sds):.3f} |")
