"""The two networks that find faces and their landmarks, behind a few functions so that they can be replaced.

Their weights lie in ``models``: converted, operator by operator, from those that the mediapipe package publishes (Apache 2.0;
``studies/landmark_models.py`` made them). What that package does around them is done here: anchors and boxes, the square
that a face is read in, and the way back to the picture. The runtime is loaded with the first use; only the worker does.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np

if TYPE_CHECKING:
    from onnxruntime import InferenceSession

Mesh = np.ndarray
"""(478, 3) pixels of the given image, counted from its outer edge: x right, y down, z in the same unit, nearer is smaller."""

_HERE = Path(__file__).parent
MIRROR: np.ndarray = np.load(_HERE / "mirror.npy")
"""For each point, the index of its partner on the other side; midline points are their own."""

FACE_SIDE, MESH_SIDE = 128, 192
"""Pixels of the squares that the networks read."""
LEAST_SCORE, OVERLAP = 0.3, 0.3
"""What counts as a face, and from which overlap (intersection over union) on two boxes are one face."""
ENLARGED = 1.5
"""The square is so much larger than the face's box, as when the network was trained."""
_GRIDS = ((8, 2), (16, 6))
"""Anchors: one grid for each stride in pixels, with so many anchors a place."""


@dataclass(frozen=True, kw_only=True, eq=False)
class Square:
    """Where a face is read: a square of a picture, its centre (2,) and side in pixels, turned by ``turn`` radians (clockwise on screen)."""

    centre: np.ndarray
    side: float
    turn: float

    def to(self, edge: int) -> np.ndarray:
        """The map (2, 3) from the picture's pixels to those of a square of ``edge``, both counted from their outer edges."""
        scale = edge / self.side
        c, s = scale * np.cos(self.turn), scale * np.sin(self.turn)
        linear = np.array([[c, s], [-s, c]])
        return np.hstack([linear, (edge / 2 - linear @ self.centre)[:, None]])


@lru_cache(maxsize=2)
def _network(name: str) -> InferenceSession:
    import onnxruntime  # some 50 MB, and wanted in the worker only

    options = onnxruntime.SessionOptions()
    options.log_severity_level = 3
    options.intra_op_num_threads = 1  # a second core makes these small networks no faster: it reads another photograph meanwhile
    return onnxruntime.InferenceSession(str(_HERE / "models" / f"{name}.onnx"), options, providers=["CPUExecutionProvider"])


def _run(name: str, pictures: np.ndarray) -> list[Any]:
    return list(_network(name).run(None, {"picture": np.ascontiguousarray(pictures, np.float32)}))


@lru_cache(maxsize=1)
def _anchors() -> np.ndarray:
    """Centres (896, 2) of the anchors, in shares of the square."""
    rows = []
    for stride, each in _GRIDS:
        places = (np.arange(FACE_SIDE // stride) + 0.5) * stride / FACE_SIDE
        y, x = np.meshgrid(places, places, indexing="ij")
        rows.append(np.repeat(np.stack([x.ravel(), y.ravel()], 1), each, 0))
    return np.concatenate(rows)


def squares(rgb: np.ndarray) -> list[Square]:
    """The square around every face of an image (h, w, 3) uint8, the surest first."""
    height, width = rgb.shape[:2]
    edge = max(height, width)
    scale = FACE_SIDE / edge
    size = (max(1, round(width * scale)), max(1, round(height * scale)))
    small = shrunk(rgb, size)
    left, top = (FACE_SIDE - size[0]) // 2, (FACE_SIDE - size[1]) // 2
    paper = np.zeros((FACE_SIDE, FACE_SIDE, 3), np.uint8)
    paper[top : top + size[1], left : left + size[0]] = small
    raw, scores = _run("face", paper[None] / 127.5 - 1.0)
    sure = 1 / (1 + np.exp(-np.clip(scores[0, :, 0], -50, 50)))
    kept = sure >= LEAST_SCORE
    found = raw[0, kept].reshape(-1, 8, 2) / FACE_SIDE
    found[:, 0] += _anchors()[kept]  # the box's centre; its size stands second, six points of the face follow
    found[:, 2:] += _anchors()[kept][:, None]
    out = []
    for face in _apart(found, sure=sure[kept]):
        points = (face * FACE_SIDE - np.array([left, top])) / np.array(size) * np.array([width, height])
        extent = face[1] * FACE_SIDE / np.array(size) * np.array([width, height])
        eyes = points[3] - points[2]
        out.append(Square(centre=points[0], side=float(extent.max()) * ENLARGED, turn=float(np.arctan2(eyes[1], eyes[0]))))
    return out


def _apart(found: np.ndarray, sure: np.ndarray) -> list[np.ndarray]:
    """Boxes (n, 8, 2) that overlap, made one by the mean weighted with their scores; the surest first."""
    low, high = found[:, 0] - found[:, 1] / 2, found[:, 0] + found[:, 1] / 2
    left, out = list(np.argsort(-sure)), []
    while left:
        best = left[0]
        both = np.clip(np.minimum(high[left], high[best]) - np.maximum(low[left], low[best]), 0, None).prod(1)
        share = both / np.maximum((high[left] - low[left]).prod(1) + (high[best] - low[best]).prod() - both, 1e-12)
        same = [i for i, s in zip(left, share, strict=True) if s > OVERLAP or i == best]
        out.append(np.average(found[same], axis=0, weights=sure[same]))
        left = [i for i in left if i not in same]
    return out


def around(mesh: Mesh) -> Square:
    """The square in which a face that is known already is read again."""
    run = mesh[263, :2] - mesh[33, :2]
    turn = float(np.arctan2(run[1], run[0]))
    c, s = np.cos(turn), np.sin(turn)
    level = np.array([[c, s], [-s, c]])
    seen = mesh[:, :2] @ level.T
    low, high = seen.min(0), seen.max(0)
    return Square(centre=level.T @ ((low + high) / 2), side=float((high - low).max()) * ENLARGED, turn=turn)


Pass = tuple[Square, bool]
"""A square of a picture, read as it is or (True) in the mirror."""
Look = Callable[[Sequence[Pass]], list[Mesh | None]]
"""The landmarks of a picture's face, pass by pass; None where the network sees no face."""


def looking_at(rgb: np.ndarray, side: float) -> Look:
    """Looks at one picture (h, w, 3) uint8 in squares of about ``side``; it is brought near the network's size once for all of them."""
    smaller, scale = _near(rgb, side)

    def cut(square: Square) -> np.ndarray:
        pixels = square.to(MESH_SIDE)  # counted from pixel centres, of the smaller picture
        shift = pixels[:, 2] - 0.5
        pixels[:, :2] /= scale  # column by column: what a pixel of the smaller picture is wide and high
        pixels[:, 2] = shift + pixels[:, :2].sum(1) / 2
        return cv2.warpAffine(smaller, pixels, (MESH_SIDE, MESH_SIDE), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)

    def look(passes: Sequence[Pass]) -> list[Mesh | None]:
        cuts = {square: cut(square) for square, _ in passes}
        pictures = np.stack([cuts[square][:, ::-1] if mirrored else cuts[square] for square, mirrored in passes])
        # All at once: the network takes a seventh less time for ten squares than for one ten times.
        landmarks, presence = _run("mesh", pictures / np.float32(255))
        return [
            _back(square, mesh=landmarks[n], mirrored=mirrored) if presence[n] > 0 else None for n, (square, mirrored) in enumerate(passes)
        ]

    return look


def _back(square: Square, *, mesh: np.ndarray, mirrored: bool) -> Mesh:
    """Landmarks (478, 3) of the network's square in the picture that it was cut from."""
    mesh = mesh.astype(float)
    if mirrored:
        mesh = mesh[MIRROR]
        mesh[:, 0] = MESH_SIDE - mesh[:, 0]
    back = cv2.invertAffineTransform(square.to(MESH_SIDE))
    depth = float(np.sqrt(abs(np.linalg.det(back[:, :2]))))
    return np.column_stack([mesh[:, :2] @ back[:, :2].T + back[:, 2], mesh[:, 2] * depth])


def _near(rgb: np.ndarray, side: float) -> tuple[np.ndarray, np.ndarray]:
    """The picture brought near the size at which the network reads it, against aliasing, and its scale across and down."""
    scale = min(1.0, 1.5 * MESH_SIDE / side)
    if scale == 1.0:
        return rgb, np.ones(2)
    height, width = rgb.shape[:2]
    size = (max(1, round(width * scale)), max(1, round(height * scale)))
    return shrunk(rgb, size), np.array(size) / np.array([width, height])


def shrunk(picture: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """The picture made smaller, to (width, height), without aliasing: halved for as long as it can be, which takes a tenth of the time of a
    mean over areas, and the rest of the way between its pixels."""
    while 2 * size[0] <= picture.shape[1] and 2 * size[1] <= picture.shape[0] and not (picture.shape[0] % 2 or picture.shape[1] % 2):
        picture = cv2.resize(picture, (picture.shape[1] // 2, picture.shape[0] // 2), interpolation=cv2.INTER_AREA)
    near = 2 * size[0] > picture.shape[1] and 2 * size[1] > picture.shape[0]
    return cv2.resize(picture, size, interpolation=cv2.INTER_LINEAR if near else cv2.INTER_AREA)
