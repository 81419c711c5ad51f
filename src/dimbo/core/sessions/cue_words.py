"""What a moment of practice is called, which side it works, and the beat to which it goes: one word for each movement."""

from __future__ import annotations

from typing import Literal

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import Rhythm
from dimbo.core.exercises.dose import PhaseKind
from dimbo.core.exercises.figure import places_of_hands

from .crediting import loaded_sides
from .timeline import Beat, Cue, Item

_BETWEEN = {
    Beat.SETUP: "Get ready",
    Beat.REST: "Rest",
    Beat.PAUSE: "Pause",
    Beat.SETTLE: "Settle",
    Beat.CHANGE: "Next",
}
_KINDS: dict[PhaseKind, Rhythm] = {
    PhaseKind.HOLD: Rhythm("Hold", 0.0),
    PhaseKind.REPS: Rhythm("Move", 1.0),
    PhaseKind.STROKES: Rhythm("Stroke", 2.0),
    PhaseKind.CIRCLES: Rhythm("Circle", 2.0),
    PhaseKind.PRESS: Rhythm("Press", 0.0),
    PhaseKind.TAP: Rhythm("Tap", 0.5),
    PhaseKind.SPOTS: Rhythm("Stay", 0.0),
}
"""The word and the beat of each kind of phase; a card may have its own."""


def rhythm(item: Item) -> Rhythm:
    """The word and the beat of an exercise's movement."""
    return item.card.rhythm or _KINDS.get(item.dose.phases[0].kind, Rhythm("Move", 0.0))


def breath(item: Item, cue: Cue) -> Literal["in", "out"] | None:
    """The way the breath goes in a cue that is paced by breathing, or that goes with the breath; None while it is held, and for
    all other work."""
    phase = item.dose.phases[cue.phase - 1] if cue.phase else None
    if phase is not None and phase.on_breath:
        return "out" if cue.beat is Beat.HOLD else "in" if cue.beat is Beat.RELEASE else None
    if phase is None or phase.kind is not PhaseKind.BREATHS:
        return None
    return "in" if cue.beat is Beat.LEAD else "out" if cue.beat is Beat.RELEASE else None


def word(item: Item, cue: Cue) -> str:
    """What a cue is called on the screen and by the voice. Only what is held still is called a hold."""
    if cue.beat in _BETWEEN:
        return _BETWEEN[cue.beat]
    phase = item.dose.phases[cue.phase - 1]
    kind = phase.kind
    if kind is PhaseKind.SPOTS:
        return "Stay" if cue.beat is Beat.HOLD else "Next spot"
    if phase.on_breath:
        return "Breathe in, let go" if cue.beat is Beat.RELEASE else "Breathe out, hold"
    if kind is PhaseKind.BREATHS:
        way = breath(item, cue)
        return f"Breathe {way}" if way else "Wait"
    if kind is PhaseKind.HOLD:
        own = item.card.rhythm.word if item.card.rhythm else "Hold"
        return {Beat.LEAD: "Move in", Beat.HOLD: own, Beat.RELEASE: "Let go"}.get(cue.beat, own)
    own = (item.card.rhythm or _KINDS.get(kind, Rhythm("Move", 0.0))).word
    return "Back" if cue.beat is Beat.RELEASE else own


def with_breath(item: Item, cue: Cue) -> bool:
    """Whether a cue is of work that goes with the breath."""
    return bool(cue.phase) and item.dose.phases[cue.phase - 1].on_breath


def spot(item: Item, cue: Cue) -> str:
    """Where a walk from spot to spot has come, in words: its spots lie evenly along the way of the first hand; empty for all else."""
    if not cue.phase or not cue.rep or item.dose.phases[cue.phase - 1].kind is not PhaseKind.SPOTS:
        return ""
    places = places_of_hands(item.card.figure)
    return places[(cue.rep - 1) * len(places) // cue.reps] if places else ""


def works(item: Item, cue: Cue) -> Side | None:
    """The one side that a cue works: the side whose turn it is, or that a direction loads; None for both."""
    sides = loaded_sides(item, cue)
    return next(iter(sides)) if len(sides) == 1 else None
