"""An exercise of one's own while it is written: how it would look and be played."""

from __future__ import annotations

from .exercises import CardView, EntryFault, FigureView
from .practice import CueView, TaughtVersion
from .wire import Wire


class PlayedView(Wire):
    """An exercise as it would be practised, alone."""

    item: TaughtVersion
    cues: list[CueView]
    pace_s: float


class EntryLook(Wire):
    """An exercise as far as it is written: what can be shown of it, and all that still stands against keeping it."""

    figure: FigureView | None
    hands: str
    """Where its hands go, in words."""
    card: CardView | None
    played: PlayedView | None
    faults: list[EntryFault]
