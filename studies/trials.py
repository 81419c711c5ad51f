"""Shots of made-up heads: what was true on each, and what was measured."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

import numpy as np

from dimbo.core.sittings.frame import Point
from dimbo.core.sittings.protocol import NEUTRAL as FRONT
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.readings import Measured, measure
from dimbo.core.sittings.shot import Shot, measured_on
from dimbo.vision.landmarks import Landmarks, locate
from dimbo.vision.quality import look_at
from dimbo.vision.stand_in_camera import Shot as Picture
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import FaceError, Scene
from studies.readings.people import DARK

HEADS = Path(__file__).parent / "readings" / "heads"
TRUE = ("fissure_height", "brow_height", "commissure_height")
"""Readings whose truth is known on every head."""


@dataclass(frozen=True)
class Trial:
    """One shot: what was true (left minus right, mm) and what was measured; a reading that cannot be measured is absent. ``alone`` holds
    what the method alone would say where the product reads only points set by hand."""

    scene: Scene
    true: dict[str, float]
    found: dict[str, Measured]
    alone: dict[str, Measured] = field(default_factory=dict)


def truth(picture: Picture) -> dict[str, float]:
    """Left minus right of each reading in millimetres, from the truth of the picture."""
    h = picture.height_mm
    return {
        "fissure_height": h("ps_left", "pi_left") - h("ps_right", "pi_right"),
        "brow_height": h("bp_left", "bp_right"),
        "commissure_height": h("ch_left", "ch_right"),
    }


def shot_of(marks: Landmarks, rgb: np.ndarray, *, turn_back: bool = True, view: str = FRONT) -> Shot:
    """A photograph as the product keeps it."""
    seen = look_at(rgb, marks)
    depth = marks.depth if turn_back else {}
    return Shot(
        id="",
        sitting="",
        view=view,
        confirmed=True,
        points=marks.points,
        depth=depth,
        trust=marks.trust,
        hand={},
        iris_px=marks.iris_px,
        seen=seen,
        width=rgb.shape[1],
        taken_at=None,
    )


def alone(placed: Mapping[str, Point]) -> dict[str, Measured]:
    """What the method alone says where the product reads only points set by hand."""
    return {k: measure(r, placed) for k, r in READINGS.items() if r.by_hand and r.view == FRONT}


def read_marks(marks: Landmarks, rgb: np.ndarray, *, turn_back: bool = True) -> dict[str, Measured]:
    """Every reading of a neutral view, at the scale of the iris; those too that the product reads only by hand."""
    placed, found, _ = measured_on(shot_of(marks, rgb, turn_back=turn_back), None)
    return found | alone(placed)


def trial(scene: Scene, folder: Path) -> Trial:
    """One picture measured; a face that cannot be followed is read nowhere."""
    picture = shoot(scene, folder)
    try:
        placed, found, _ = measured_on(shot_of(locate(picture.rgb), picture.rgb), None)
    except FaceError:
        return Trial(scene, truth(picture), {})
    return Trial(scene, truth(picture), found, alone(placed))


def trials(scenes: Iterable[Scene], folder: Path = HEADS, workers: int = 2) -> list[Trial]:
    """Every scene photographed and measured."""
    listed = list(scenes)
    if workers < 2:
        return [trial(s, folder) for s in listed]
    with ProcessPoolExecutor(workers) as pool:
        return list(pool.map(partial(trial, folder=folder), listed, chunksize=4))


def posed(identity: str, state: str, seed: int, **what: object) -> Scene:
    """A scene with the turn and the light of everyday re-posing: SD 1 degree and 4 %."""
    rng = np.random.default_rng([seed, 7])
    scene = {"yaw_deg": float(rng.normal(0, 1.0)), "light": float(rng.normal(0, 0.04))} | what
    return Scene(identity=identity, state=state, seed=seed, **scene)  # type: ignore[arg-type]


def uneven_scenes(names: Sequence[str], seeds: Sequence[int]) -> list[Scene]:
    """All states of each head, each seed with lids, brows and corners moved by up to a millimetre on either side."""
    out = []
    for identity in names:
        for state in ("even", "uneven"):
            for seed in seeds:
                rng = np.random.default_rng([seed, 11])
                lid, brow, corner = ((float(a), float(b)) for a, b in rng.uniform(-1, 1, (3, 2)))
                lid = (lid[0] * 0.7, lid[1] * 0.7)
                out.append(posed(identity, state, seed, lid_mm=lid, brow_mm=brow, corner_mm=corner))
    return out


def sitting_scenes(identity: str, seed: int, shots: int = 3, **what: object) -> list[Scene]:
    """The shots of one sitting: re-posed as a whole, and a little between shots."""
    base = posed(identity, "uneven", 1000 * seed)
    rng = np.random.default_rng([seed, 13])
    return [
        posed(
            identity,
            "uneven",
            1000 * seed + k,
            yaw_deg=base.yaw_deg + float(rng.normal(0, 0.4)),
            light=base.light + float(rng.normal(0, 0.01)),
            **what,
        )
        for k in range(shots)
    ]


GROUPS: dict[str, Callable[[str], bool]] = {
    "light skin": lambda who: who not in DARK,
    "dark skin": lambda who: who in DARK,
    "all": lambda who: True,
}


def within_head(heads: Sequence[str], values: np.ndarray) -> np.ndarray:
    """Values less each head's own mean."""
    who = np.array(heads)
    return np.array([v - values[who == h].mean() for v, h in zip(values, who, strict=True)])


def rms(values: Sequence[float]) -> float:
    return float(np.sqrt(np.mean(np.square(values)))) if len(values) else float("nan")
