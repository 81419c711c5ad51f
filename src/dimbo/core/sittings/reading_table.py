"""The table of readings: definition, points, view, shipped noise and words of each."""

from __future__ import annotations

import math
from collections.abc import Callable

from dimbo.core.anatomy import Side

from .frame import need
from .noise import Noise
from .protocol import NEUTRAL
from .readings import Points, Reading


def _height(upper: str, lower: str) -> Callable[[Points, Side | None], float]:
    """Vertical distance of a side's upper point over its lower one; a lower point of 0 is the canthal horizontal."""

    def of(points: Points, side: Side | None) -> float:
        top = need(points, f"{upper}_{side}")[0][1]
        if not lower:
            return top
        name = lower if lower == "sn" else f"{lower}_{side}"
        return top - need(points, name)[0][1]

    return of


def _canthal_tilt(points: Points, side: Side | None) -> float:
    inner, outer = need(points, f"en_{side}", f"ex_{side}")
    return math.degrees(math.atan2(outer[1] - inner[1], abs(outer[0] - inner[0])))


def _corner_angle(points: Points, side: Side | None) -> float:
    upper, lower, corner = need(points, "sto_upper", "sto_lower", f"ch_{side}")
    middle = ((upper[0] + lower[0]) / 2, (upper[1] + lower[1]) / 2)
    return math.degrees(math.atan2(corner[1] - middle[1], abs(corner[0] - middle[0])))


def _alar(points: Points, side: Side | None) -> float:
    return -need(points, f"al_{side}")[0][1]


def _jaw(points: Points, side: Side | None) -> float:
    return abs(need(points, f"go_{side}")[0][0])


def _between(a: str, b: str) -> Callable[[Points, Side | None], float]:
    return lambda points, _side: math.dist(*need(points, a, b))


def _offset(name: str) -> Callable[[Points, Side | None], float]:
    return lambda points, _side: need(points, name)[0][0]


def _paired(
    key: str,
    name: str,
    definition: str,
    needs: tuple[str, ...],
    of: Callable[[Points, Side | None], float],
    sds: tuple[float, float, float],
    less: str,
    more: str,
    *,
    view: str = NEUTRAL,
    unit: str = "mm",
    against: bool = False,
) -> Reading:
    shot, sitting, side = sds
    return Reading(
        key, name, definition, unit, view, needs, of, Noise(shot, sitting), Noise(side, side * sitting / shot), less, more, against
    )


def _single(
    key: str,
    name: str,
    definition: str,
    needs: tuple[str, ...],
    of: Callable[[Points, Side | None], float],
    sds: tuple[float, float],
    unit: str = "mm",
) -> Reading:
    return Reading(key, name, definition, unit, NEUTRAL, needs, of, Noise(*sds))


_OPENING = _height("ps", "pi")
_BROW = "Height of the {} brow over the line through the eye corners."
_OFFSET = "Distance of the {} from the midline; toward the client's left is positive."
ALL = (
    _paired(
        "fissure_height",
        "Eye opening",
        "Between the lid margins above and below the iris centre.",
        ("ps", "pi"),
        _OPENING,
        (0.12, 0.20, 0.12),
        "eye opens less",
        "eye opens more",
    ),
    _paired(
        "upper_lid_margin",
        "Upper lid",
        "Iris centre to the upper lid margin.",
        ("pu", "ps"),
        _height("ps", "pu"),
        (0.12, 0.20, 0.12),
        "upper lid stands lower",
        "upper lid stands higher",
    ),
    _paired(
        "brow_height",
        "Brow peak",
        _BROW.format("peak of the"),
        ("bp",),
        _height("bp", ""),
        (0.12, 0.30, 0.15),
        "brow stands lower",
        "brow stands higher",
    ),
    _paired(
        "brow_height_inner",
        "Inner brow",
        _BROW.format("inner"),
        ("bi",),
        _height("bi", ""),
        (0.15, 0.30, 0.18),
        "inner brow stands lower",
        "inner brow stands higher",
    ),
    _paired(
        "brow_height_outer",
        "Outer brow",
        _BROW.format("outer"),
        ("bo",),
        _height("bo", ""),
        (0.18, 0.50, 0.20),
        "outer brow stands lower",
        "outer brow stands higher",
    ),
    _paired(
        "canthal_tilt",
        "Eye line",
        "Slope from the inner to the outer corner of the eye; outer corner up is positive.",
        ("en", "ex"),
        _canthal_tilt,
        (0.30, 0.50, 0.25),
        "outer eye corner sits lower",
        "outer eye corner sits higher",
        unit="°",
    ),
    _paired(
        "alar_height",
        "Nose wing",
        "The nose wing below the line through the eye corners.",
        ("al",),
        _alar,
        (0.15, 0.30, 0.20),
        "nose wing sits higher",
        "nose wing sits lower",
    ),
    _paired(
        "commissure_height",
        "Mouth corner",
        "The mouth corner against the level of the base of the nose.",
        ("ch", "sn"),
        _height("ch", "sn"),
        (0.12, 0.25, 0.20),
        "mouth corner stands lower",
        "mouth corner stands higher",
    ),
    _paired(
        "corner_angle",
        "Mouth line",
        "Slope from the middle of the mouth to its corner; up is positive.",
        ("ch", "sto_upper", "sto_lower"),
        _corner_angle,
        (0.40, 0.70, 0.45),
        "mouth corner slopes lower",
        "mouth corner slopes higher",
        unit="°",
    ),
    _paired(
        "jaw_width",
        "Jaw outline",
        "The jaw angle from the midline; the outline, not the bone.",
        ("go",),
        _jaw,
        (0.50, 0.90, 0.40),
        "jaw is narrower",
        "jaw is wider",
    ),
    _single(
        "philtrum_length", "Philtrum", "Base of the nose to the edge of the upper lip.", ("sn", "ls"), _between("sn", "ls"), (0.18, 0.30)
    ),
    _single(
        "upper_vermilion",
        "Upper lip",
        "Edge of the upper lip to the line between the lips.",
        ("ls", "sto_upper"),
        _between("ls", "sto_upper"),
        (0.15, 0.25),
    ),
    _single(
        "lower_vermilion",
        "Lower lip",
        "Line between the lips to the edge of the lower lip.",
        ("sto_lower", "li"),
        _between("sto_lower", "li"),
        (0.18, 0.30),
    ),
    _single(
        "mouth_width",
        "Mouth width",
        "From mouth corner to mouth corner.",
        ("ch_right", "ch_left"),
        _between("ch_right", "ch_left"),
        (0.25, 0.60),
    ),
    _single("midline_sn", "Nose base off the midline", _OFFSET.format("base of the nose"), ("sn",), _offset("sn"), (0.20, 0.45)),
    _single("midline_ls", "Upper lip off the midline", _OFFSET.format("upper lip"), ("ls",), _offset("ls"), (0.25, 0.50)),
    _single("midline_me", "Chin off the midline", _OFFSET.format("chin"), ("me",), _offset("me"), (0.40, 0.80)),
    _paired(
        "fissure_height@eyes-wide",
        "Wide eye opening",
        "Between the lid margins with the eyes wide open.",
        ("ps", "pi"),
        _OPENING,
        (0.15, 0.35, 0.15),
        "eye opens less when wide",
        "eye opens more when wide",
        view="eyes-wide",
    ),
    _paired(
        "brow_height@brows-raised",
        "Raised brow",
        _BROW.format("peak of the raised"),
        ("bp",),
        _height("bp", ""),
        (0.20, 0.50, 0.20),
        "raised brow stands lower",
        "raised brow stands higher",
        view="brows-raised",
    ),
    _paired(
        "commissure_height@gentle-smile",
        "Smiling mouth corner",
        "The mouth corner against the base of the nose in a gentle smile.",
        ("ch", "sn"),
        _height("ch", "sn"),
        (0.20, 0.45, 0.25),
        "mouth corner rises less",
        "mouth corner rises more",
        view="gentle-smile",
    ),
    _paired(
        "smile_excursion",
        "Way of the smile",
        "How far the mouth corner travels from neutral to a gentle smile.",
        ("ch",),
        _height("ch", ""),
        (0.25, 0.60, 0.30),
        "mouth corner travels less",
        "mouth corner travels further",
        view="gentle-smile",
        against=True,
    ),
    _paired(
        "brow_excursion",
        "Way of the brow",
        "How far the brow peak rises from neutral to raised.",
        ("bp",),
        _height("bp", ""),
        (0.20, 0.55, 0.25),
        "brow rises less",
        "brow rises more",
        view="brows-raised",
        against=True,
    ),
    _paired(
        "eye_opening",
        "Way of the lids",
        "How much the eye opens from neutral to wide.",
        ("ps", "pi"),
        _OPENING,
        (0.20, 0.45, 0.20),
        "eye widens less",
        "eye widens more",
        view="eyes-wide",
        against=True,
    ),
)
READINGS: dict[str, Reading] = {r.id: r for r in ALL}
"""Shipped noise (shot SD, sitting SD of the difference; shot SD of one side): docs/measurement.md has the study behind it."""

PICKED = tuple(r.id for r in ALL if not r.against and "@" not in r.id and not r.id.startswith("midline"))
"""Readings that can be named as primary."""
HEADLINES = ("fissure_height", "brow_height", "commissure_height")
"""Shown first while none are named."""
