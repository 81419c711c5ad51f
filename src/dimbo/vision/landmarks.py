"""From an image to landmarks that can be measured.

A single run of the network prefers one side and trembles. So the face is found once, brought level and to
one size, and read again in several slightly moved squares, each also in the mirror; the mean of all readings has no
side preference by construction. Lids, irises, brows and mouth corners are then refined on the pixels (``refine``).
docs/measurement.md tells how good it is.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from dimbo.core.sittings.frame import Point

from .detector import Look, Mesh, Square, around, looking_at, shrunk, squares
from .refine import refine
from .terms import FaceError

NEARLY_BLACK = 12.0
"""Mean grey level under which nothing is looked for."""
JITTERS = (
    (0.0, 1.0, 0.0, 0.0),
    (2.0, 1.03, 0.007, -0.005),
    (-2.0, 1.03, -0.007, -0.005),
    (1.0, 0.96, -0.008, 0.006),
    (-1.0, 0.96, 0.008, 0.006),
)
"""How each reading's square differs from the face's own: rotation in degrees, scale, and shift in shares of its side. The set is its own
mirror image."""
PASSES = 2 + 2 * len(JITTERS)
"""How often the landmark network looks at one photograph: both ways round where the face was found, to bring it level, and in each square.
The face is looked for once."""

POINTS = {
    "en_right": 133,
    "en_left": 362,
    "ex_right": 33,
    "ex_left": 263,
    "ps_right": 159,
    "ps_left": 386,
    "pi_right": 145,
    "pi_left": 374,
    "pu_right": 468,
    "pu_left": 473,
    "bi_right": 107,
    "bi_left": 336,
    "bp_right": 105,
    "bp_left": 334,
    "bo_right": 70,
    "bo_left": 300,
    "al_right": 129,
    "al_left": 358,
    "ch_right": 61,
    "ch_left": 291,
    "go_right": 172,
    "go_left": 397,
    "n": 168,
    "prn": 1,
    "sn": 2,
    "ls": 0,
    "sto_upper": 13,
    "sto_lower": 14,
    "li": 17,
    "me": 152,
}
"""Points of facial anthropometry and where the mesh has them. Sides are the client's own."""

_DEPTH_PAIRS = ((33, 263), (133, 362), (127, 356), (234, 454), (93, 323))
_DEPTH_FACTOR = 0.84
"""The detector's depth is too steep by this factor, fitted on renderings of known turn."""


@dataclass(frozen=True, kw_only=True)
class Landmarks:
    """What was found of a face.

    ``points`` are named points in image pixels; ``depth`` their depth in the same unit, nearer is smaller; ``trust`` is
    0..1 for each refined point. ``yaw_deg`` is positive when the face turns to the client's left, ``pitch_deg`` when the
    chin comes down. Pitch has no true zero: it is compared between photographs of one person only. ``temples`` is the width of the face at
    the temples over the distance of the outer corners of the eyes.
    """

    points: dict[str, Point]
    iris_px: float
    yaw_deg: float
    pitch_deg: float = 0.0
    temples: float = 0.0
    depth: dict[str, float] = field(default_factory=dict)
    trust: dict[str, float] = field(default_factory=dict)


def _moved(square: Square, degrees: float, scale: float, dx: float, dy: float) -> Square:
    c, s = np.cos(square.turn), np.sin(square.turn)
    shift = square.side * np.array([c * dx - s * dy, s * dx + c * dy])
    return Square(centre=square.centre + shift, side=square.side * scale, turn=square.turn + float(np.radians(degrees)))


def _one_face(small: np.ndarray) -> list[Mesh]:
    """The landmarks of the one face in an image, as it is and from the mirror, or from the one in which it was seen. Raises FaceError
    when there is none, or more than one."""
    looks = [(looking_at(small, square.side), square) for square in squares(small)[:2]]
    seen = [[mesh for mesh in look([(square, False), (square, True)]) if mesh is not None] for look, square in looks]
    sizes = sorted((float(np.ptp(meshes[0][:, 1])), n) for n, meshes in enumerate(seen) if meshes)
    if not sizes:
        raise FaceError("No face was found. Use a front view with the whole face in the picture and light from the front.", nobody=True)
    if len(sizes) > 1 and sizes[0][0] > 0.35 * sizes[1][0]:
        raise FaceError("There are two faces in this picture. Take it again with only the client in view.")
    return seen[sizes[-1][1]]


def follow(rgb: np.ndarray, progress: Callable[[str], None] = lambda _: None) -> Mesh:
    """The averaged mesh of the one face in an image. Raises FaceError when there is no face, or more than one."""
    progress("looking for the face")
    small, scale = _bounded(rgb)
    if small[::4, ::4].mean() < NEARLY_BLACK:
        raise FaceError("The picture is nearly black. Bring light to the face from the front and take it again.")
    level = around(np.asarray(np.mean(_one_face(small), axis=0)) / scale)
    progress(f"reading the face in {len(JITTERS)} squares, both ways round")
    readings = _both_ways(looking_at(rgb, level.side), [_moved(level, *jitter) for jitter in JITTERS])
    if len(readings) < len(JITTERS):
        raise FaceError("The face could not be followed well enough. Take the picture again in even light.", nobody=True)
    return np.asarray(np.mean(readings, axis=0))


def _both_ways(look: Look, squares: Sequence[Square]) -> list[Mesh]:
    """The landmarks as they are and from the mirror; neither where one of the two saw no face, or the mean would prefer a side."""
    seen = look([(square, mirrored) for square in squares for mirrored in (False, True)])
    pairs = zip(seen[::2], seen[1::2], strict=True)
    return [mesh for here, mirror in pairs if here is not None and mirror is not None for mesh in (here, mirror)]


def locate(rgb: np.ndarray, progress: Callable[[str], None] = lambda _: None) -> Landmarks:
    """Landmarks of the one face in an image (h, w, 3) uint8, refined where the pixels allow.

    Raises FaceError when there is no face, or more than one. ``progress`` is told each step in words.
    """
    mesh = follow(rgb, progress)
    progress("refining lids, brows and mouth")
    points = {name: (float(mesh[i, 0]), float(mesh[i, 1])) for name, i in POINTS.items()}
    refined = refine(rgb, mesh=mesh)
    return Landmarks(
        points=points | refined.points,
        iris_px=refined.iris_px,
        yaw_deg=_yaw(mesh),
        pitch_deg=_pitch(mesh),
        temples=_temples(mesh),
        depth={name: float(mesh[i, 2]) for name, i in POINTS.items()},
        trust=refined.trust,
    )


def _yaw(mesh: Mesh) -> float:
    run = sum(mesh[b] - mesh[a] for a, b in _DEPTH_PAIRS)
    return float(np.degrees(np.arctan2(run[2], np.hypot(run[0], run[1])))) * _DEPTH_FACTOR


def _temples(mesh: Mesh) -> float:
    across = [float(np.linalg.norm(mesh[b, :2] - mesh[a, :2])) for a, b in ((127, 356), (33, 263))]
    return across[0] / across[1]


def _pitch(mesh: Mesh) -> float:
    """Slope in depth from the forehead to the chin, degrees; the chin coming down and back is positive."""
    run = mesh[152] - mesh[10]
    return float(np.degrees(np.arctan2(run[2], np.hypot(run[0], run[1])))) * _DEPTH_FACTOR


def _bounded(rgb: np.ndarray, edge: int = 1280) -> tuple[np.ndarray, float]:
    """The image no larger than ``edge`` for the first look, and its scale."""
    scale = min(1.0, edge / max(rgb.shape[:2]))
    if scale == 1.0:
        return rgb, 1.0
    size = (round(rgb.shape[1] * scale), round(rgb.shape[0] * scale))
    return shrunk(rgb, size), scale
