"""Approach profiles: what a school of face training decides for a whole practice, or for one client.

A profile sets what comes first, how often, how a load is raised, what an asymmetry gets, and which checks speak.
Coaches disagree here for good reasons; the profiles keep what they agree on and let each say why it differs.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from dimbo.core.anatomy import Family
from dimbo.core.text import join_words

from .card import LIP_PARTS, Axis, Card

WEAK_ONLY, RELEASE_TIGHT, BOTH_SIDES, BIASED = "weak side only", "release the tight side", "both sides", "biased 3 to 2"


@dataclass(frozen=True, slots=True, kw_only=True)
class Approach:
    """One school. ``first`` names the families that it reaches for first, most wanted first."""

    id: str
    name: str
    first: tuple[Family, ...]
    adds: tuple[Family, ...]
    """Families that it brings to every concern besides those that its cause asks for."""
    without: frozenset[Family]
    """Families that it does not reach for; what a cause asks of them is answered by those in ``instead``."""
    instead: tuple[Family, ...]
    opens: Mapping[str, tuple[str, ...]]
    """Exercises (ids) that a session of the morning or evening begins and ends with."""
    start_sessions: int
    target_sessions: int
    lip_stretch: bool
    """Whether hands may stretch the upper lip and the corners; the lower lip is free in every school."""
    asymmetry: str
    axes: tuple[Axis, ...]
    """The order in which a load is raised; empty when it is not raised."""
    silent: frozenset[str]
    """Checks that do not speak under this profile."""
    why: str

    def forbids(self, card: Card) -> str:
        """What the school forbids of an exercise, as the end of a sentence about it; empty when it forbids nothing."""
        parts = [LIP_PARTS[p] for p in LIP_PARTS if p in card.stretches_lip and p != "lower"]
        return f"stretches {join_words(parts)} by hand" if parts and not self.lip_stretch else ""


APPROACHES: Mapping[str, Approach] = {
    a.id: a
    for a in (
        Approach(
            id="balanced",
            name="Balanced",
            first=(Family.RELEASE, Family.CONTRACT, Family.RESIST, Family.ALIGN),
            adds=(Family.RELEASE,),
            without=frozenset(),
            instead=(),
            opens={"morning": ("settle-breath", "warm-palms"), "evening": ("evening-breath",)},
            start_sessions=3,
            target_sessions=6,
            lip_stretch=False,
            asymmetry=BIASED,
            axes=(Axis.HOLD, Axis.REPS, Axis.SETS),
            silent=frozenset(),
            why="Loosening, then work; daily and short. Hands never stretch the upper lip: the lasting risk is on the side of stretching.",
        ),
        Approach(
            id="strength-first",
            name="Strength first",
            first=(Family.CONTRACT, Family.RESIST, Family.ALIGN),
            adds=(Family.RESIST, Family.CONTRACT),
            without=frozenset({Family.STRETCH, Family.PRESS}),
            instead=(),
            opens={"morning": ("tall-seat", "settle-breath"), "evening": ("evening-breath",)},
            start_sessions=2,
            target_sessions=6,
            lip_stretch=False,
            asymmetry=WEAK_ONLY,
            axes=(Axis.HOLD, Axis.SETS, Axis.REPS),
            silent=frozenset({"loosened"}),
            why="Contraction comes first; two to three sessions a week, then daily. Longer holds in the same minutes.",
        ),
        Approach(
            id="release-first",
            name="Release first",
            first=(Family.RELEASE, Family.STRETCH, Family.PRESS, Family.MOBILISE),
            adds=(Family.RELEASE, Family.PRESS, Family.STRETCH),
            without=frozenset({Family.CONTRACT, Family.RESIST}),
            instead=(Family.MOBILISE, Family.ALIGN),
            opens={"morning": ("elbow-wheels", "nape-knead", "warm-palms"), "evening": ("elbow-wheels", "evening-breath")},
            start_sessions=2,
            target_sessions=3,
            lip_stretch=True,
            asymmetry=RELEASE_TIGHT,
            axes=(Axis.HOLD, Axis.REPS),
            silent=frozenset({"bias-missing", "balance"}),
            why="Loosening comes first; two to three sessions a week. Longer on tender spots; the tight side is released.",
        ),
        Approach(
            id="drain-and-calm",
            name="Drain and calm",
            first=(Family.BREATHE, Family.DRAIN, Family.TAP, Family.PRESS),
            adds=(Family.DRAIN, Family.TAP, Family.PRESS),
            without=frozenset({Family.CONTRACT, Family.RESIST, Family.STRETCH}),
            instead=(Family.ALIGN, Family.MOBILISE),
            opens={
                "morning": ("settle-breath", "collarbone-pumps", "whole-face-way", "warm-palms"),
                "evening": ("evening-breath", "quiet-face"),
            },
            start_sessions=7,
            target_sessions=7,
            lip_stretch=True,
            asymmetry=BOTH_SIDES,
            axes=(),
            silent=frozenset({"bias-missing", "balance"}),
            why="Breath and lymph, daily, once or twice. The load is not raised; both sides alike, in the mirror.",
        ),
    )
}
DEFAULT_APPROACH = "balanced"


def approach(approach_id: str) -> Approach:
    """The profile of that id. Raises ValueError."""
    if approach_id not in APPROACHES:
        raise ValueError(f"there is no approach “{approach_id}”; choose from {', '.join(APPROACHES)}")
    return APPROACHES[approach_id]
