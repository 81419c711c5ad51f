"""The points of the method beside the true ones, enlarged, on three heads that nothing is tuned on.

    .venv/bin/python -m studies.points_picture

Writes docs/points.png: a row for each head, a column for each point. The ring is where the method puts it, the cross where it is.
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from dimbo.core.sittings.frame import Point
from dimbo.vision.landmarks import locate
from dimbo.vision.refine.crop import Crop
from dimbo.vision.stand_in_camera import Shot, shoot
from dimbo.vision.terms import Scene
from studies.trials import HEADS

PEOPLE = ("egret", "dunlin", "avocet")
"""Fair skin and few lashes; brown skin, narrow eyes and the marks of glasses; dark skin, long lashes and full lips."""
POINTS = ("ps_right", "pi_right", "bp_right", "ch_right", "ch_left", "ls")
HALF_MM, PX_PER_MM, GAP = 7.0, 14.0, 6
"""Half width of a window, its resolution, and the pixels between two windows."""
FOUND, TRUE = (255, 214, 64), (255, 255, 255)
OUT = Path(__file__).parents[1] / "docs" / "points.png"


def tile(picture: Shot, found: Point, true: Point | None) -> np.ndarray:
    """One window (h, w, 3) about a found point, upright along the head."""
    crop = Crop(picture.rgb, np.array(found), np.array(picture.level), 1 / picture.pixels_per_mm, (HALF_MM, HALF_MM), PX_PER_MM)
    out = np.ascontiguousarray((np.clip(cv2.cvtColor(crop.lab, cv2.COLOR_LAB2RGB), 0, 1) * 255).astype(np.uint8))
    for at, colour, is_ring in ((found, FOUND, True), (true, TRUE, False)):
        if at is None:
            continue
        x, y = (round(16 * float(v)) for v in crop.to(np.array(at)))
        for thick, shade in ((4, (24, 28, 26)), (2, colour)):  # dark beneath, so that it shows on any skin
            if is_ring:
                cv2.circle(out, (x, y), 16 * 9, shade, thick, cv2.LINE_AA, 4)
            else:
                for dx, dy in ((10, 0), (0, 10)):
                    cv2.line(out, (x - 16 * dx, y - 16 * dy), (x + 16 * dx, y + 16 * dy), shade, thick, cv2.LINE_AA, 4)
    return cv2.copyMakeBorder(out, 0, GAP, 0, GAP, cv2.BORDER_CONSTANT, value=(255, 255, 255))


def main() -> None:
    rows = []
    for who in PEOPLE:
        picture = shoot(Scene(identity=who, state="uneven", seed=1), HEADS)
        marks = locate(picture.rgb)
        rows.append(np.hstack([tile(picture, marks.points[name], picture.points.get(name)) for name in POINTS]))
    Image.fromarray(np.vstack(rows)[:-GAP, :-GAP]).quantize(256).save(OUT, optimize=True)


if __name__ == "__main__":
    main()
