"""Approach profiles: what a school of face training decides for a whole practice, or for one client.

A profile sets what comes first, how often, how a load is raised, what an asymmetry gets, and which checks speak.
Coaches disagree here for good reasons; the profiles keep what they agree on and let each say why it differs.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from dimbo.core.anatomy import Family

from .card import Axis

WEAK_ONLY, RELEASE_TIGHT, BOTH_SIDES, BIASED = "weak side only", "release the tight side", "both sides", "biased 3 to 2"


@dataclass(frozen=True, slots=True)
class Approach:
    """One school. ``first`` names the families that it reaches for first, most wanted first."""

    id: str
    name: str
    first: tuple[Family, ...]
    start_sessions: int
    target_sessions: int
    lip_stretch: bool
    """Whether hands may stretch the upper lip and the corners."""
    asymmetry: str
    axes: tuple[Axis, ...]
    """The order in which a load is raised; empty when it is not raised."""
    silent: frozenset[str]
    """Checks that do not speak under this profile."""
    why: str


APPROACHES: Mapping[str, Approach] = {
    a.id: a
    for a in (
        Approach(
            "balanced",
            "Balanced",
            (Family.RELEASE, Family.CONTRACT, Family.RESIST, Family.ALIGN),
            3,
            6,
            False,
            BIASED,
            (Axis.HOLD, Axis.REPS, Axis.SETS),
            frozenset(),
            "Loosening, then work; daily and short. Hands never stretch the upper lip: the lasting risk is on the side of stretching.",
        ),
        Approach(
            "strength-first",
            "Strength first",
            (Family.CONTRACT, Family.RESIST, Family.ALIGN),
            2,
            6,
            False,
            WEAK_ONLY,
            (Axis.HOLD, Axis.SETS, Axis.REPS),
            frozenset({"loosened"}),
            "Contraction comes first; two to three sessions a week, then daily. Longer holds in the same minutes.",
        ),
        Approach(
            "release-first",
            "Release first",
            (Family.RELEASE, Family.STRETCH, Family.PRESS, Family.MOBILISE),
            2,
            3,
            True,
            RELEASE_TIGHT,
            (Axis.HOLD, Axis.REPS),
            frozenset({"bias-missing", "balance"}),
            "Loosening comes first; two to three sessions a week. Longer on tender spots; the tight side is released.",
        ),
        Approach(
            "drain-and-calm",
            "Drain and calm",
            (Family.BREATHE, Family.DRAIN, Family.TAP, Family.PRESS),
            7,
            7,
            True,
            BOTH_SIDES,
            (),
            frozenset({"bias-missing", "balance"}),
            "Breath and lymph, daily, once or twice. The load is not raised; both sides alike, in the mirror.",
        ),
    )
}
DEFAULT_APPROACH = "balanced"


def approach(approach_id: str) -> Approach:
    """The profile of that id. Raises ValueError."""
    if approach_id not in APPROACHES:
        raise ValueError(f"there is no approach “{approach_id}”; choose from {', '.join(APPROACHES)}")
    return APPROACHES[approach_id]
