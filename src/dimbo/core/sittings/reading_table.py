"""The table of readings: definition, points, view, shipped noise and words of each."""

from __future__ import annotations

import math
from collections.abc import Callable

from dimbo.core.anatomy import Side

from .frame import need
from .noise import Noise
from .protocol import NEUTRAL
from .readings import Points, Reading

METHOD_SD = {
    "fissure_height": 0.17,
    "upper_lid_margin": 0.13,
    "brow_height": 0.14,
    "brow_height_inner": 0.32,
    "commissure_height": 0.15,
    "corner_angle": 0.36,
    "smile_excursion": 0.15,
    "brow_excursion": 0.14,
    "eye_opening": 0.17,
}
"""How far a difference of the sides is off on even faces: root mean square over the heads of ``studies.truth``, lit from the front and
from one side (0.45). One sitting alone cannot know it. A reading in another expression, and a way, takes that of its point at rest."""

FOLLOWS = {
    "fissure_height": 0.97,
    "upper_lid_margin": 0.79,
    "brow_height": 0.86,
    "brow_height_inner": 0.88,
    "brow_height_outer": 0.89,
    "canthal_tilt": 0.25,
    "alar_height": 0.0,
    "commissure_height": 0.98,
    "corner_angle": 0.96,
    "jaw_width": 0.28,
    "philtrum_length": 0.81,
    "upper_vermilion": 0.72,
    "lower_vermilion": 0.46,
    "mouth_width": 0.95,
    "midline_sn": 0.0,
    "midline_ls": 0.53,
    "midline_me": 0.10,
    "fissure_height@eyes-wide": 0.6,
    "smile_excursion": 0.96,
    "brow_excursion": 0.91,
    "eye_opening": 0.59,
}
"""How much of a true change the method shows, from ``studies.truth``: one place of a face moved by up to a millimetre. Where it is
little the points stand where an average face has them, and the reading is taken only between points set by hand."""
LEAST_FOLLOWED = 0.55
TURNS_WITH_THE_HEAD = frozenset({"brow_height_outer"})
"""What follows a change, but moves by half a millimetre and more with a turn of the head of which nobody would take note."""
GAP = "fissure_height@eyes-closed"
"""Of eyes that are nearly closed neither iris nor white shows enough to find a lid by."""
SETTING_MM = 0.7
"""SD of one point set by hand under the magnifier, along each direction: what is taken for granted until a coach has set some again."""


def _by_hand(key: str) -> bool:
    return key == GAP or key in TURNS_WITH_THE_HEAD or FOLLOWS.get(key, 1.0) < LEAST_FOLLOWED


def _set(points: int) -> float:
    """SD of a difference between so many points set by hand, in mm."""
    return SETTING_MM * math.sqrt(points)


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
    base: str = "",
) -> Reading:
    shot, sitting, side = sds
    return Reading(
        id=key,
        name=name,
        definition=definition,
        unit=unit,
        view=view,
        needs=needs,
        of=of,
        noise=Noise(shot, sitting_sd=sitting),
        method_sd=METHOD_SD.get(base or key, 0.0),
        follows=FOLLOWS.get(key, FOLLOWS.get(base, 1.0)),
        by_hand=_by_hand(key),
        side_noise=Noise(side, sitting_sd=side * sitting / shot),
        less=less,
        more=more,
        against=against,
        base=base,
    )


def _single(
    key: str,
    name: str,
    definition: str,
    needs: tuple[str, ...],
    of: Callable[[Points, Side | None], float],
    sds: tuple[float, float],
    unit: str = "mm",
    *,
    off_midline: bool = False,
) -> Reading:
    noise = Noise(sds[0], sitting_sd=sds[1])
    return Reading(
        id=key,
        name=name,
        definition=definition,
        unit=unit,
        view=NEUTRAL,
        needs=needs,
        of=of,
        noise=noise,
        method_sd=METHOD_SD.get(key, 0.0),
        follows=FOLLOWS[key],
        by_hand=_by_hand(key),
        off_midline=off_midline,
    )


_TILT = math.degrees(_set(2) / 27)
"""SD of the slope of one eye's line between its two corners, 27 mm apart, in degrees."""
_OPENING = _height("ps", lower="pi")
_BROW = "Height of the {} brow over the line through the eye corners."
_OFFSET = "Distance of the {} from the midline; toward the client's left is positive."
ALL = (
    _paired(
        "fissure_height",
        name="Eye opening",
        definition="Between the lid margins above and below the iris centre.",
        needs=("ps", "pi"),
        of=_OPENING,
        sds=(0.12, 0.20, 0.12),
        less="eye opens less",
        more="eye opens more",
    ),
    _paired(
        "upper_lid_margin",
        name="Upper lid",
        definition="Iris centre to the upper lid margin.",
        needs=("pu", "ps"),
        of=_height("ps", lower="pu"),
        sds=(0.12, 0.20, 0.12),
        less="upper lid stands lower",
        more="upper lid stands higher",
    ),
    _paired(
        "brow_height",
        name="Brow peak",
        definition=_BROW.format("peak of the"),
        needs=("bp",),
        of=_height("bp", lower=""),
        sds=(0.12, 0.30, 0.15),
        less="brow stands lower",
        more="brow stands higher",
    ),
    _paired(
        "brow_height_inner",
        name="Inner brow",
        definition=_BROW.format("inner"),
        needs=("bi",),
        of=_height("bi", lower=""),
        sds=(0.15, 0.30, 0.18),
        less="inner brow stands lower",
        more="inner brow stands higher",
    ),
    _paired(
        "brow_height_outer",
        name="Outer brow",
        definition=_BROW.format("outer"),
        needs=("bo",),
        of=_height("bo", lower=""),
        sds=(_set(2), 0.65, _set(1)),
        less="outer brow stands lower",
        more="outer brow stands higher",
    ),
    _paired(
        "canthal_tilt",
        name="Eye line",
        definition="Slope from the inner to the outer corner of the eye; outer corner up is positive.",
        needs=("en", "ex"),
        of=_canthal_tilt,
        sds=(_TILT * math.sqrt(2), 0.50, _TILT),
        less="outer eye corner sits lower",
        more="outer eye corner sits higher",
        unit="°",
    ),
    _paired(
        "alar_height",
        name="Nose wing",
        definition="The nose wing below the line through the eye corners.",
        needs=("al",),
        of=_alar,
        sds=(_set(2), 0.30, _set(1)),
        less="nose wing sits higher",
        more="nose wing sits lower",
    ),
    _paired(
        "commissure_height",
        name="Mouth corner",
        definition="The mouth corner against the level of the base of the nose.",
        needs=("ch", "sn"),
        of=_height("ch", lower="sn"),
        sds=(0.12, 0.25, 0.20),
        less="mouth corner stands lower",
        more="mouth corner stands higher",
    ),
    _paired(
        "corner_angle",
        name="Mouth line",
        definition="Slope from the middle of the mouth to its corner; up is positive.",
        needs=("ch", "sto_upper", "sto_lower"),
        of=_corner_angle,
        sds=(0.40, 0.70, 0.45),
        less="mouth corner slopes lower",
        more="mouth corner slopes higher",
        unit="°",
    ),
    _paired(
        "jaw_width",
        name="Jaw outline",
        definition="The jaw angle from the midline; the outline, not the bone.",
        needs=("go",),
        of=_jaw,
        sds=(_set(2), 0.90, _set(1)),
        less="jaw is narrower",
        more="jaw is wider",
    ),
    _single(
        "philtrum_length",
        name="Philtrum",
        definition="Base of the nose to the edge of the upper lip.",
        needs=("sn", "ls"),
        of=_between("sn", b="ls"),
        sds=(0.18, 0.30),
    ),
    _single(
        "upper_vermilion",
        name="Upper lip",
        definition="Edge of the upper lip to the line between the lips.",
        needs=("ls", "sto_upper"),
        of=_between("ls", b="sto_upper"),
        sds=(0.15, 0.25),
    ),
    _single(
        "lower_vermilion",
        name="Lower lip",
        definition="Line between the lips to the edge of the lower lip.",
        needs=("sto_lower", "li"),
        of=_between("sto_lower", b="li"),
        sds=(_set(2), 0.30),
    ),
    _single(
        "mouth_width",
        name="Mouth width",
        definition="From mouth corner to mouth corner.",
        needs=("ch_right", "ch_left"),
        of=_between("ch_right", b="ch_left"),
        sds=(0.25, 0.60),
    ),
    _single(
        "midline_sn",
        name="Nose base off the midline",
        definition=_OFFSET.format("base of the nose"),
        needs=("sn",),
        of=_offset("sn"),
        sds=(_set(1), 0.45),
        off_midline=True,
    ),
    _single(
        "midline_ls",
        name="Upper lip off the midline",
        definition=_OFFSET.format("upper lip"),
        needs=("ls",),
        of=_offset("ls"),
        sds=(_set(1), 0.50),
        off_midline=True,
    ),
    _single(
        "midline_me",
        name="Chin off the midline",
        definition=_OFFSET.format("chin"),
        needs=("me",),
        of=_offset("me"),
        sds=(_set(1), 0.80),
        off_midline=True,
    ),
    _paired(
        "fissure_height@eyes-wide",
        base="fissure_height",
        name="Wide eye opening",
        definition="Between the lid margins with the eyes wide open.",
        needs=("ps", "pi"),
        of=_OPENING,
        sds=(0.15, 0.35, 0.15),
        less="eye opens less when wide",
        more="eye opens more when wide",
        view="eyes-wide",
    ),
    _paired(
        GAP,
        base="fissure_height",
        name="Gap of the closed eyes",
        definition="Between the lid margins with the eyes gently closed; 0 where they meet.",
        needs=("ps", "pi"),
        of=_OPENING,
        sds=(_set(4), 0.35, _set(2)),
        less="eye closes further",
        more="eye stays further open when closed",
        view="eyes-closed",
    ),
    _paired(
        "brow_height@brows-raised",
        base="brow_height",
        name="Raised brow",
        definition=_BROW.format("peak of the raised"),
        needs=("bp",),
        of=_height("bp", lower=""),
        sds=(0.20, 0.50, 0.20),
        less="raised brow stands lower",
        more="raised brow stands higher",
        view="brows-raised",
    ),
    _paired(
        "commissure_height@gentle-smile",
        base="commissure_height",
        name="Smiling mouth corner",
        definition="The mouth corner against the base of the nose in a gentle smile.",
        needs=("ch", "sn"),
        of=_height("ch", lower="sn"),
        sds=(0.20, 0.45, 0.25),
        less="mouth corner rises less",
        more="mouth corner rises more",
        view="gentle-smile",
    ),
    _paired(
        "smile_excursion",
        name="Way of the smile",
        definition="How far the mouth corner travels from neutral to a gentle smile.",
        needs=("ch",),
        of=_height("ch", lower=""),
        sds=(0.25, 0.60, 0.30),
        less="mouth corner travels less",
        more="mouth corner travels further",
        view="gentle-smile",
        against=True,
    ),
    _paired(
        "brow_excursion",
        name="Way of the brow",
        definition="How far the brow peak rises from neutral to raised.",
        needs=("bp",),
        of=_height("bp", lower=""),
        sds=(0.20, 0.55, 0.25),
        less="brow rises less",
        more="brow rises more",
        view="brows-raised",
        against=True,
    ),
    _paired(
        "eye_opening",
        name="Way of the lids",
        definition="How much the eye opens from neutral to wide.",
        needs=("ps", "pi"),
        of=_OPENING,
        sds=(0.20, 0.45, 0.20),
        less="eye widens less",
        more="eye widens more",
        view="eyes-wide",
        against=True,
    ),
)
READINGS: dict[str, Reading] = {r.id: r for r in ALL}
"""Shipped noise (shot SD, sitting SD of the difference; shot SD of one side): docs/measurement.md has the study behind it."""

PICKED = tuple(r.id for r in ALL if r.view == NEUTRAL and not r.off_midline and not r.by_hand)
"""Readings that can be named as primary: only what every sitting has without a hand."""
HEADLINES = ("fissure_height", "brow_height", "commissure_height")
"""Shown first while none are named."""
