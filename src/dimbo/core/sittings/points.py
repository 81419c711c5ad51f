"""The points of facial anthropometry that Dimbo measures between, and what they are called."""

from __future__ import annotations

from dataclasses import dataclass

from dimbo.core.anatomy import Side

_PAIRED = {
    "en": "inner corner of the eye",
    "ex": "outer corner of the eye",
    "ps": "upper lid margin",
    "pi": "lower lid margin",
    "pu": "iris centre",
    "bi": "inner brow",
    "bp": "brow peak",
    "bo": "outer brow",
    "al": "nose wing",
    "ch": "mouth corner",
    "go": "jaw angle",
}
_MIDDLE = {
    "n": "root of the nose",
    "prn": "tip of the nose",
    "sn": "base of the nose",
    "ls": "upper edge of the upper lip",
    "sto_upper": "lower edge of the upper lip",
    "sto_lower": "upper edge of the lower lip",
    "li": "lower edge of the lower lip",
    "me": "lowest point of the chin",
}
PROFILE_POINTS = {
    "sn": "base of the nose",
    "pog": "foremost point of the chin",
    "me": "lowest point of the chin",
    "cp": "deepest point between chin and neck",
    "lobe": "base of the ear lobe",
    "tragus": "notch before the ear canal",
    "c7": "most prominent bone at the base of the neck",
}
"""Set by hand on a profile, in the order they are asked for."""


@dataclass(frozen=True, slots=True)
class PointName:
    """``words`` names the point with its side, as in: right mouth corner."""

    id: str
    words: str
    side: Side | None


FRONT_POINTS: dict[str, PointName] = {
    **{f"{k}_{side}": PointName(f"{k}_{side}", words=f"{side.value} {words}", side=side) for k, words in _PAIRED.items() for side in Side},
    **{k: PointName(k, words=words, side=None) for k, words in _MIDDLE.items()},
}
PAIRS = tuple((f"{k}_right", f"{k}_left") for k in _PAIRED)
MIDDLE = tuple(_MIDDLE)
