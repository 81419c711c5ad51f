"""The face-landmark detector, behind one small interface so that it can be replaced.

478 points with irises from the face mesh that ships inside the mediapipe wheel. Import and first use take
a second or two and some 150 MB, so only the worker loads it, once.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

import numpy as np

Mesh = np.ndarray
"""(478, 3) pixels of the given image: x right, y down, z in the same unit, nearer is smaller."""

MIRROR: np.ndarray = np.load(Path(__file__).parent / "mirror.npy")
"""For each point, the index of its partner on the other side; midline points are their own."""


@lru_cache(maxsize=1)
def _solution() -> Callable[[np.ndarray], list[Mesh]]:
    os.environ.setdefault("GLOG_minloglevel", "2")
    os.environ.setdefault("TF_CPP_MIN_LOG_LEVEL", "3")
    import mediapipe  # heavy, and wanted in the worker only

    mesh = mediapipe.solutions.face_mesh.FaceMesh(
        static_image_mode=True, max_num_faces=2, refine_landmarks=True, min_detection_confidence=0.3
    )

    def detect(rgb: np.ndarray) -> list[Mesh]:
        height, width = rgb.shape[:2]
        found = mesh.process(np.ascontiguousarray(rgb)).multi_face_landmarks or []
        scale = np.array([width, height, width])
        return [np.array([(p.x, p.y, p.z) for p in face.landmark]) * scale for face in found]

    return detect


def detect(rgb: np.ndarray) -> list[Mesh]:
    """Every face of an image (h, w, 3) uint8, at most two."""
    return _solution()(rgb)
