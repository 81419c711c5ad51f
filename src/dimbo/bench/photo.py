"""A photograph from file to readings, against decoding and the detector alone."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from dimbo.vision.detector import MESH_SIDE, looking_at, squares
from dimbo.vision.landmarks import PASSES
from dimbo.vision.photograph import decode, read_photograph
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.sittings.analysing import analyse_pixels


def passes(rgb: np.ndarray) -> None:
    """As many looks of the landmark network as one photograph takes, and the one search for its face; nothing else."""
    square = squares(rgb)[0]
    looking_at(rgb, square.side)([(square, False)] * PASSES)


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The worker's whole analysis; baseline: the same decode and as many passes of the networks on the picture at the size they read."""
    kept = read_photograph(shoot(Scene(identity="aster", state="uneven", seed=1)).jpeg(), "bench.jpg").jpeg
    small = near_size(np.asarray(decode(kept, "bench.jpg")))

    def decode_and_detect() -> None:
        decode(kept, "bench.jpg")
        passes(small)

    return lambda: analyse_pixels(kept), decode_and_detect, lambda: None


def near_size(rgb: np.ndarray) -> np.ndarray:
    """A picture at which the face fills the network's square, so that the passes alone are timed."""
    scale = MESH_SIDE / squares(rgb)[0].side
    size = (round(rgb.shape[1] * scale), round(rgb.shape[0] * scale))
    return np.asarray(cv2.resize(rgb, size, interpolation=cv2.INTER_AREA))
