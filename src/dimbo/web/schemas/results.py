"""What came of it: a client's own results."""

from __future__ import annotations

from datetime import date, datetime
from uuid import UUID

from pydantic import Field

from .wire import Wire


class ShownPhotograph(Wire):
    """A photograph with its points on the picture as it is shown, in pixels."""

    id: UUID
    width: int
    height: int
    flipped: bool
    taken_at: datetime | None
    points: dict[str, list[float]]


class SaidView(Wire):
    reading: str
    view: str
    verdict: str
    sentence: str


class PractisedView(Wire):
    """From the first day on and before the last; contraction by the client's own sides, as done."""

    first: date
    last: date
    sessions: int
    days: int
    done_s: float
    right_s: float
    left_s: float


class OwnSittingView(Wire):
    id: UUID
    day: date
    first: bool
    photographs: dict[str, ShownPhotograph]
    said: list[SaidView]
    practised: PractisedView | None
    alike: dict[str, str]
    note: str


class ResultPoint(Wire):
    sitting: UUID
    day: date
    value: float
    band: float
    real: bool
    excluded: bool


class ResultRow(Wire):
    """A measurement over time. For a pair the value is left minus right, and ``more`` is said of the side that has more."""

    id: str
    name: str
    unit: str
    view: str
    paired: bool
    more: str
    points: list[ResultPoint]


class ResultView(Wire):
    id: str
    name: str


class OwnResultsView(Wire):
    name: str
    views: list[ResultView]
    sittings: list[OwnSittingView]
    rows: list[ResultRow]


class NoteIn(Wire):
    words: str = Field(max_length=4000)
