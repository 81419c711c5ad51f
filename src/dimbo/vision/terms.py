"""What is said to image work and by it, without any image library, so that every process may know it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from dimbo.core.sittings.frame import Point

METHOD = "mesh-5"
"""Name and version of the way from pixels to points (``vision/landmarks.py``); stored with each analysis."""

MAX_BYTES = 25 * 1024 * 1024
"""A file may have so many bytes; what it may hold is bounded in ``vision/photograph.py``."""


class PhotographError(ValueError):
    """A file that cannot be used; the message says what happened and what to do."""


class ClipError(ValueError):
    """A clip that cannot be used; the message says what happened and what to do."""


class FaceError(ValueError):
    """A photograph that cannot be measured; the message says what to do. ``nobody`` when there is no face at all."""

    def __init__(self, message: str, *, nobody: bool = False) -> None:
        super().__init__(message)
        self.nobody = nobody


@dataclass(frozen=True, kw_only=True)
class Photograph:
    """A normalised photograph. ``jpeg`` and ``thumbnail`` are JPEG files without metadata, ``size`` its width and height in pixels;
    ``taken_at`` is None when the file does not tell; ``source_hash`` is SHA-256 of the file."""

    jpeg: bytes
    thumbnail: bytes
    size: tuple[int, int]
    taken_at: datetime | None
    source_hash: bytes


MOST_CLIP_BYTES = 100 * 1024 * 1024
"""A clip may have so many bytes as it comes; what is kept of it is far smaller."""


@dataclass(frozen=True, kw_only=True)
class Cut:
    """The part of a clip that is kept: seconds from its start, and how many."""

    from_s: float
    seconds: float


@dataclass(frozen=True, kw_only=True)
class Clip:
    """A clip as it is kept: MP4 with its SHA-256, a JPEG still, its length, and whether it has sound."""

    mp4: bytes
    hash: str
    still: bytes
    seconds: float
    sound: bool


@dataclass(frozen=True, kw_only=True)
class Half:
    """One side of a comparison: the stored JPEG, its points the right way round, whether the file is mirrored, and its captions."""

    jpeg: bytes
    points: Mapping[str, Point]
    flipped: bool
    when: str
    light: str


# ---------------------------------------------------------------- the stand-in camera (``vision/stand_in_camera.py``)
PORTRAITS = Path(__file__).parent / "portraits"
NEUTRAL = ("even", "eased", "uneven")
VIEW_STATES = {
    "gentle-smile": "smile",
    "full-smile": "full",
    "brows-raised": "raised",
    "eyes-wide": "wide",
    "eyes-closed": "closed",
    "lips-pressed": "pressed",
    "three-quarter-left": "quarter_left",
    "three-quarter-right": "quarter_right",
    "profile-left": "profile_left",
    "profile-right": "profile_right",
    "chin-up": "chin_up",
}
"""Which state shows a view of the protocol; the front neutral view has three."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Nudge:
    """A place of the portrait, in its pixels, moved by millimetres (to the client's left, up); the face around it goes along, over
    ``size_mm`` to the sides and up."""

    at: Point
    by_mm: tuple[float, float]
    size_mm: tuple[float, float]


@dataclass(frozen=True, kw_only=True)
class Scene:
    """What one shot of the stand-in camera shows, and how it is taken.

    ``lid_mm``, ``brow_mm`` and ``corner_mm`` raise (positive) that point on (right, left) beyond the rendered state, ``nudges`` move any
    other place. ``yaw_deg`` turns the face to the client's left when positive. ``light`` brightens the client's left side by that share
    and darkens the right. ``flipped`` stores the picture as a mirror shows it. ``seed`` decides re-posing and grain.
    """

    identity: str
    state: str = "even"
    seed: int = 0
    lid_mm: tuple[float, float] = (0.0, 0.0)
    brow_mm: tuple[float, float] = (0.0, 0.0)
    corner_mm: tuple[float, float] = (0.0, 0.0)
    nudges: tuple[Nudge, ...] = ()
    yaw_deg: float = 0.0
    light: float = 0.0
    repose: float = 1.0
    grain: float = 1.0
    blur_px: float = 0.0
    exposure: float = 1.0
    flipped: bool = False


def identities(folder: Path = PORTRAITS) -> tuple[str, ...]:
    """Names of the made-up people who can be photographed: those that ship, or those of another folder."""
    return tuple(sorted({f.stem.split("-", 1)[0] for f in folder.glob("*-even.json")}))
