"""A drawn face whose every point is known, for tests of readings and sittings; 10 px are a millimetre."""

from dataclasses import replace
from datetime import datetime

from dimbo.core.sittings.frame import IRIS_MM
from dimbo.core.sittings.quality import Seen
from dimbo.core.sittings.shot import Shot

WIDTH = 1000
IRIS_PX = IRIS_MM * 10
FACE = {  # the client's right is at the viewer's left
    "ex_right": (350.0, 400.0),
    "en_right": (440.0, 400.0),
    "en_left": (560.0, 400.0),
    "ex_left": (650.0, 400.0),
    "ps_right": (395.0, 365.0),
    "pi_right": (395.0, 445.0),
    "ps_left": (605.0, 350.0),
    "pi_left": (605.0, 450.0),
    "pu_right": (395.0, 400.0),
    "pu_left": (605.0, 400.0),
    "bi_right": (430.0, 250.0),
    "bi_left": (570.0, 240.0),
    "bp_right": (370.0, 225.0),
    "bp_left": (630.0, 205.0),
    "bo_right": (320.0, 260.0),
    "bo_left": (680.0, 250.0),
    "al_right": (455.0, 540.0),
    "al_left": (545.0, 545.0),
    "go_right": (320.0, 760.0),
    "go_left": (690.0, 760.0),
    "ch_right": (420.0, 680.0),
    "ch_left": (580.0, 660.0),
    "n": (500.0, 390.0),
    "prn": (500.0, 520.0),
    "sn": (500.0, 560.0),
    "ls": (502.0, 630.0),
    "sto_upper": (500.0, 662.0),
    "sto_lower": (500.0, 664.0),
    "li": (500.0, 720.0),
    "me": (505.0, 860.0),
}
SEEN = Seen(
    yaw_deg=0.5, pitch_deg=4.0, roll_deg=0.4, iris_px=45.0, sharp=0.9, highlights=0.0, shadows=0.0, light=0.02, lip_gap=0.01,
    mouth=1.33, brow=1.5, eye_open=0.77, lips=0.75, temples=1.43, eye_trust={"right": 1.0, "left": 1.0},
)  # fmt: skip
MORNING = datetime(2026, 3, 2, 8, 40)


def moved(**by: tuple[float, float]) -> dict[str, tuple[float, float]]:
    """The face with points moved by so many pixels."""
    return {**FACE, **{n: (FACE[n][0] + dx, FACE[n][1] + dy) for n, (dx, dy) in by.items()}}


def shot(key: str, sitting: str = "a", points=None, seen: Seen = SEEN, **what) -> Shot:
    base = Shot(
        id=key,
        sitting=sitting,
        view="front-neutral",
        confirmed=True,
        points=points or FACE,
        depth={},
        trust={},
        hand={},
        iris_px=IRIS_PX,
        seen=seen,
        width=WIDTH,
        taken_at=MORNING,
        method="m",
        settled_flip=sitting == "a",
    )
    return replace(base, **what)
