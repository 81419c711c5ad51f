"""A photograph from file to readings, against decoding and the detector alone."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from dimbo.vision import landmarks
from dimbo.vision.detector import detect
from dimbo.vision.photograph import decode, read_photograph
from dimbo.vision.stand_in_camera import Scene, shoot
from dimbo.work.sittings.analysing import analyse_pixels

PASSES = 2 + 2 * len(landmarks.JITTERS)


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The worker's whole analysis; baseline: the same decode and as many detector passes on like images."""
    kept = read_photograph(shoot(Scene(identity="aster", state="uneven", seed=1)).jpeg(), "bench.jpg").jpeg
    rgb = np.asarray(decode(kept, "bench.jpg"))
    crop = cv2.resize(rgb[300:1000, 100:800], landmarks.CROP, interpolation=cv2.INTER_AREA)

    def decode_and_detect() -> None:
        whole = np.asarray(decode(kept, "bench.jpg"))
        for i in range(PASSES):
            detect(whole if i < 2 else crop)

    return lambda: analyse_pixels(kept), decode_and_detect, lambda: None
