"""Render the made-up portraits and their ground truth.

    python -m studies.portraits.render ASSETS OUT [IDENTITY:STATE ...]

IDENTITY is one of ``people.py``, or of the study's own (``studies/readings/people.py``).

ASSETS is the unpacked ``data`` folder (see README.md beside this file); OUT receives one JPEG and one
JSON per portrait. About half a minute and 4 GB each. The product ships the results and never runs this.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import cv2
import numpy as np

from studies.readings.people import TUNING, UNSEEN

from .head import BODY, CAMERA_SCALE, EYE_LEFT, EYE_RIGHT, IRIS_RADIUS, Camera, Head, draw_buffers
from .light import develop, shade
from .mesh import Array
from .paint import paint
from .people import IDENTITIES, LOWER_SIDE, SEEDS, STATES, STYLES, TURNS, state_weights, turn_of

SIZE = (900, 1200)
SCALE = 2
PROFILE_DROP = 0.35
"""Decimetres by which profiles look lower, so that the neck is in the picture."""
MIN_EYE_COLUMNS = 20
MOUTH_CORNERS = (7249, 500)
"""Vertices of the base mesh, left and right, where the skin bends in between the lips: the corner of the mouth, whatever the lips are
painted like and whatever they do."""
NAPE_MM = 128
"""How far below the eyes the neck meets the collar, where C7 is."""


def landmark_vertices(head: Head) -> dict[str, int]:
    """Vertices of the smooth body that are points of facial anthropometry."""
    rest, body = head.rest[BODY], head.parts[BODY]

    def nearest(x: float, y: float) -> int:
        far_behind = 1e3 * (rest[:, 2] < head.eye_z - 0.5)
        return int(np.argmin((rest[:, 0] - x) ** 2 + (rest[:, 1] - head.eye_y - y) ** 2 + far_behind))

    left, right = (int(np.searchsorted(body.used, vertex)) for vertex in MOUTH_CORNERS)
    return {"ch_left": left, "ch_right": right, "bp_left": nearest(0.36, 0.222), "bp_right": nearest(-0.36, 0.222)}


def truth(head: Head, camera: Camera, posed: list[Array], ids: Array, vertices: dict[str, int]) -> dict[str, object]:
    """True points in final pixels (x right, y down, pixel edges at whole numbers) and the scale at the eyes."""
    points: dict[str, list[float]] = {}
    on_screen = camera.project(posed[BODY])[0] / camera.scale
    for name, index in vertices.items():
        points[name] = on_screen[index].tolist()
    fronts = []
    for side, part in (("left", EYE_LEFT), ("right", EYE_RIGHT)):
        front = (posed[part].min(0) + posed[part].max(0)) / 2 + np.array([0, 0, 0.13])
        fronts.append(front)
        pupil = camera.project(front[None])[0][0] / camera.scale
        mask = ids == part
        columns = np.where(mask.any(0))[0]
        if len(columns) < MIN_EYE_COLUMNS * camera.scale or not mask[:, round(pupil[0] * camera.scale)].any():
            continue  # closed, or turned away: there is no lid margin to be true about
        middle = round(pupil[0] * camera.scale)
        rows = [np.where(mask[:, middle + k])[0] for k in range(-4, 5)]
        inner, outer = (columns[0], columns[-1]) if side == "left" else (columns[-1], columns[0])
        points[f"pu_{side}"] = pupil.tolist()
        points[f"ps_{side}"] = [pupil[0], float(np.mean([r[0] for r in rows])) / camera.scale]
        points[f"pi_{side}"] = [pupil[0], float(np.mean([r[-1] + 1 for r in rows])) / camera.scale]
        for name, column in (("en", inner), ("ex", outer)):
            points[f"{name}_{side}"] = [float(column) / camera.scale, float(np.where(mask[:, column])[0].mean()) / camera.scale]
    return {"points": points, "pixels_per_mm": camera.pixels_per_mm(np.array(fronts)), "iris_mm": IRIS_RADIUS * 200}


def profile_truth(head: Head, camera: Camera, posed: list[Array], ids: Array, side: str) -> dict[str, list[float]]:
    """Points that are set by hand on a profile, from the outline and from the ear, in final pixels."""
    mask = ids >= 0 if side == "left" else ids[:, ::-1] >= 0  # as if looking to the picture's left
    first, last = mask.argmax(1).astype(float), mask.shape[1] - 1 - mask[:, ::-1].argmax(1).astype(float)
    on_screen = camera.project(posed[BODY])[0]
    rest = head.rest[BODY] - np.array([0, head.eye_y, head.eye_z])
    mm = camera.scale * CAMERA_SCALE / 100
    eyes = float(camera.project(np.array([[0, head.eye_y, head.eye_z]]))[0][0, 1])

    def rows(start: float, end: float) -> Array:
        return np.arange(int(eyes + start * mm), int(eyes + end * mm))

    tip = rows(10, 60)[np.argmin(first[rows(10, 60)])]
    after = (tip - eyes) / mm
    base = rows(after + 2, after + 22)[np.argmax(first[rows(after + 2, after + 22)])]
    below = (base - eyes) / mm
    chin = rows(below + 34, below + 60)[np.argmin(first[rows(below + 34, below + 60)])]
    under = rows((chin - eyes) / mm, (chin - eyes) / mm + 35)
    menton = under[np.argmax((under - chin) - 0.9 * (first[under] - first[chin]))]
    throat = rows((menton - eyes) / mm + 2, (menton - eyes) / mm + 55)
    throat = throat[np.argmax(first[throat] - (throat - menton) * 0.7)]
    nape = int(eyes + NAPE_MM * mm)
    half = rest[:, 0] > 0 if side == "left" else rest[:, 0] < 0
    ear = np.where(half & (head.ear > 0.5))[0]
    level = ear[np.abs(rest[ear, 1] - rest[ear, 1].mean() + 0.05) < 0.06]
    out = {name: [first[row], float(row)] for name, row in (("sn", base), ("pog", chin), ("me", menton), ("cp", throat))}
    out["c7"] = [last[nape], float(nape)]
    if side == "right":
        out = {name: [mask.shape[1] - x, y] for name, (x, y) in out.items()}
    out["lobe"] = on_screen[int(ear[np.argmin(rest[ear, 1])])].tolist()
    out["tragus"] = on_screen[int(level[np.argmax(rest[level, 2])])].tolist()
    return {name: [x / camera.scale, y / camera.scale] for name, (x, y) in out.items()}


def person(identity: str) -> tuple[dict[str, float], dict[str, object], int, str]:
    """Shape, style, seed and lower side ("Left" or "Right") of an identity. Raises KeyError."""
    if identity in IDENTITIES:
        return IDENTITIES[identity], STYLES[identity], SEEDS[identity], LOWER_SIDE[identity]
    others = TUNING | UNSEEN
    place = list(others).index(identity) if identity in others else -1
    shape, style = others[identity]
    return shape, style, 101 + place, ("Right", "Left")[place % 2]


def main(assets: Path, out: Path, jobs: list[str]) -> None:
    out.mkdir(parents=True, exist_ok=True)
    heads: dict[str, Head] = {}
    for job in jobs or [f"{i}:{s}" for i in IDENTITIES for s in STATES]:
        identity, state = job.split(":")
        shape, style, seed, lower = person(identity)
        head = heads.get(identity) or heads.setdefault(identity, Head(assets, shape))
        weights = state_weights(lower, state)
        camera = Camera.for_head(head, turn_of(state), SIZE, SCALE, drop=PROFILE_DROP if "profile" in state else 0.0)
        posed = head.pose(weights, style)
        buffers = draw_buffers(head, camera, posed, style)
        image = develop(shade(head, buffers, paint(head, buffers, style, seed), style, seed), SIZE, seed)
        cv2.imwrite(str(out / f"{identity}-{state}.jpg"), image[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 80 if state in TURNS else 90])
        facts = truth(head, camera, posed, buffers.ids, landmark_vertices(head))
        if "profile" in state:
            facts["points"] = profile_truth(head, camera, posed, buffers.ids, state.split("_")[1])
        facts |= {"identity": identity, "state": state, "lower_side": lower.lower(), "face_units": weights}
        (out / f"{identity}-{state}.json").write_text(json.dumps(facts, indent=1) + "\n")
        print(f"{identity} {state}", flush=True)


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3:])
