"""Render the made-up portraits and their ground truth.

    python -m studies.portraits.render ASSETS OUT [IDENTITY:STATE ...]

ASSETS is the unpacked ``data`` folder (see README.md beside this file); OUT receives one JPEG and one
JSON per portrait. About half a minute and 4 GB each. The product ships the results and never runs this.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import cv2
import numpy as np

from .head import BODY, EYE_LEFT, EYE_RIGHT, IRIS_RADIUS, Camera, Head, draw_buffers
from .light import develop, shade
from .mesh import Array
from .paint import paint
from .people import IDENTITIES, LOWER_SIDE, SEEDS, STATES, STYLES, state_weights
from .raster import sample

SIZE = (900, 1200)
SCALE = 2


def landmark_vertices(head: Head) -> dict[str, int]:
    """Vertices of the smooth body that are points of facial anthropometry."""
    rest, body = head.rest[BODY], head.parts[BODY]
    lip = sample(head.lip_mask, body.uv[..., 0].reshape(-1, 1), 1 - body.uv[..., 1].reshape(-1, 1)).ravel()
    lip_share = np.zeros(len(rest))
    np.maximum.at(lip_share, body.faces.reshape(-1), lip)
    lips = np.where((lip_share > 0.5) & (np.abs(rest[:, 0]) < 0.4))[0]

    def nearest(x: float, y: float) -> int:
        far_behind = 1e3 * (rest[:, 2] < head.eye_z - 0.5)
        return int(np.argmin((rest[:, 0] - x) ** 2 + (rest[:, 1] - head.eye_y - y) ** 2 + far_behind))

    corner = int(lips[np.argmax(rest[lips, 0])])
    x, y = rest[corner, 0], rest[corner, 1] - head.eye_y
    return {
        "ch_left": corner,
        "ch_right": nearest(-x, y),
        "bp_left": nearest(0.36, 0.222),
        "bp_right": nearest(-0.36, 0.222),
    }


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
        middle = round(pupil[0] * camera.scale)
        rows = [np.where(mask[:, middle + k])[0] for k in range(-4, 5)]
        inner, outer = (columns[0], columns[-1]) if side == "left" else (columns[-1], columns[0])
        points[f"pu_{side}"] = pupil.tolist()
        points[f"ps_{side}"] = [pupil[0], float(np.mean([r[0] for r in rows])) / camera.scale]
        points[f"pi_{side}"] = [pupil[0], float(np.mean([r[-1] + 1 for r in rows])) / camera.scale]
        for name, column in (("en", inner), ("ex", outer)):
            points[f"{name}_{side}"] = [float(column) / camera.scale, float(np.where(mask[:, column])[0].mean()) / camera.scale]
    return {"points": points, "pixels_per_mm": camera.pixels_per_mm(np.array(fronts)), "iris_mm": IRIS_RADIUS * 200}


def main(assets: Path, out: Path, jobs: list[str]) -> None:
    out.mkdir(parents=True, exist_ok=True)
    heads: dict[str, Head] = {}
    for job in jobs or [f"{i}:{s}" for i in IDENTITIES for s in STATES]:
        identity, state = job.split(":")
        head = heads.setdefault(identity, Head(assets, IDENTITIES[identity]))
        style, seed = STYLES[identity], SEEDS[identity]
        weights = state_weights(identity, state)
        camera = Camera.for_head(head, (0, 0, 0), SIZE, SCALE)
        posed = head.pose(weights, style)
        buffers = draw_buffers(head, camera, posed, style)
        image = develop(shade(head, buffers, paint(head, buffers, style, seed), style, seed), SIZE, seed)
        cv2.imwrite(str(out / f"{identity}-{state}.jpg"), image[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 90])
        facts = truth(head, camera, posed, buffers.ids, landmark_vertices(head))
        facts |= {"identity": identity, "state": state, "lower_side": LOWER_SIDE[identity].lower(), "face_units": weights}
        (out / f"{identity}-{state}.json").write_text(json.dumps(facts, indent=1) + "\n")
        print(f"{identity} {state}", flush=True)


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]), sys.argv[3:])
