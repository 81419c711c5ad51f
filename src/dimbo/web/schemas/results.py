"""What came of it: a client's own results, and what a practice can learn."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import Field

from .exercises import Named
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


class OwnResultsView(Wire):
    name: str
    views: list[Named]
    sittings: list[OwnSittingView]
    rows: list[ResultRow]


class NoteIn(Wire):
    words: str = Field(max_length=4000)


class FindingView(Wire):
    sentence: str
    open: bool
    told: bool


class CaseDot(Wire):
    """One client without a name: the gain in mm, extra dose in minutes, and half the width of its 95 % band."""

    kind: Literal["one side more", "both sides alike"]
    gain: float
    minutes: float
    band: float


class MeanView(Wire):
    clients: int
    mean: float
    low: float
    high: float
    least: float


class LineView(Wire):
    """Gain at no extra dose, and mm a further 100 minutes; only there when its gate is open."""

    at_zero: float
    slope: float
    low: float
    high: float
    most: float


class LeftOut(Wire):
    why: str
    clients: int


class OutcomeReading(Wire):
    id: str
    name: str
    needed: int
    """How many unevenly trained clients until a gain would show."""
    cases: list[CaseDot]
    gain: MeanView | None
    alike: MeanView | None
    line: LineView | None
    left: list[LeftOut]
    says: list[FindingView]


class ApproachPair(Wire):
    reading: str
    first: str
    second: str
    counts: list[int]
    starts: list[float]
    coin: bool
    finding: FindingView


class RatingsOfConcern(Wire):
    concern: str
    fell: int
    same: int
    rose: int
    finding: FindingView


class StillShare(Wire):
    day: int
    share: float
    low: float
    high: float
    at_risk: int


class PractisingView(Wire):
    people: int
    course: list[StillShare]
    many: list[StillShare]
    few: list[StillShare]
    finding: FindingView
    first_weeks: FindingView


class MarkView(Wire):
    week: int
    day: date
    value: float
    """Right minus left, mm."""
    band: float
    chose: bool
    excluded: bool


class ExtraWeek(Wire):
    week: int
    minutes: float
    """Right minus left."""


class ClientDrawing(Wire):
    client_id: UUID
    name: str
    reading: str
    reading_name: str
    side: Literal["right", "left"] | None
    marks: list[MarkView]
    extra: list[ExtraWeek]
    counts: str
    would_show: float


class HelpedView(Wire):
    readings: list[OutcomeReading]
    approaches: list[ApproachPair]
    ratings: list[RatingsOfConcern]
    practising: PractisingView
    pictures: list[ClientDrawing]
    agreed: int
    second_start: str


class HelpedAnswer(Wire):
    """``found`` once everybody is measured; until then how far it got, to be asked again."""

    done: int
    of: int
    found: HelpedView | None


class CoinRequest(Wire):
    between: list[str] = Field(min_length=2, max_length=2)


class CoinView(Wire):
    fell: str
    name: str


class LetterWords(Wire):
    """What the coach writes; the rest is said by the records."""

    opening: str = Field(default="", max_length=8000)
    adds: str = Field(default="", max_length=8000)
    next_steps: str = Field(default="", max_length=8000)
    addressee: str = Field(default="", max_length=400)


class LetterPairChoice(Wire):
    view: str
    before: UUID
    after: UUID


class LetterDraft(Wire):
    first: date
    last: date
    pairs: list[LetterPairChoice] = Field(default=[], max_length=8)
    words: LetterWords = LetterWords()


class LetterPhotograph(Wire):
    id: UUID
    width: int
    height: int
    flipped: bool
    points: dict[str, list[float]]


class LetterPair(Wire):
    """Two photographs, with what they say."""

    view: str
    before: LetterPhotograph
    after: LetterPhotograph
    days: list[date]
    sentences: list[str]
    alike: str


class LetterPassage(Wire):
    heading: str
    told: Literal["records", "coach", "always"]
    paragraphs: list[str]
    pairs: list[LetterPair]


class LetterView(Wire):
    title: str
    greeting: str
    passages: list[LetterPassage]
    signed: str
    practice: str
    written: date


class OfferedPair(Wire):
    choice: LetterPairChoice
    view_name: str
    days: list[date]
    sentences: list[str]


class LetterRow(Wire):
    id: UUID
    kind: Literal["report", "clinician"]
    title: str
    by_name: str
    changed_at: datetime
    sent_at: datetime | None
    by_mail: bool
    opened_at: datetime | None
    has_pdf: bool


class LettersView(Wire):
    client_id: UUID
    client_name: str
    letters: list[LetterRow]


class OpenLetter(Wire):
    row: LetterRow
    client_id: UUID
    draft: LetterDraft
    letter: LetterView
    offered: list[OfferedPair]
    may_compare: bool
    address: str


class NewLetter(Wire):
    kind: str = Field(max_length=20)


class SendLetter(Wire):
    by_mail: bool = False


class OwnLetter(Wire):
    id: UUID
    sent_at: datetime
    opened: bool
    has_pdf: bool
    letter: LetterView
