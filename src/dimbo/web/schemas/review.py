"""The weekly review, its thresholds, and an opened week."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .exercises import TrainView
from .people import AdherenceView, DayMark
from .wire import Wire

Verdict = Literal["advance", "hold", "ease back", "stop"]


class DoseAt(Wire):
    """A dose line with its pulse train; nothing where the exercise rests."""

    line: str
    train: TrainView | None


class ReviewLineView(Wire):
    """An exercise at a review: the suggestion and why, its dose now, and next week's dose for each verdict."""

    line_id: str
    exercise_id: str
    name: str
    suggested: Verdict
    because: str
    rule: str
    sessions: int
    share: float
    stopped: bool
    now: DoseAt
    next: dict[Verdict, DoseAt]


class WeekLineView(Wire):
    """The verdict on the week itself: days a week now and for each verdict, in words, and what begins next week."""

    suggested: Verdict
    because: str
    now: str
    next: dict[Verdict, str]
    entering: list[str]


class WeekBiasView(Wire):
    key: str
    text: str
    label: str


class RuleView(Wire):
    """A rule with its thresholds filled in."""

    id: str
    name: str
    says: str


class KeptReview(Wire):
    """A review as it was decided."""

    id: UUID
    assignment_id: UUID
    first_day: date
    last_day: date
    suggested: Verdict
    because: str
    decided: Verdict
    otherwise: list[str]
    """Exercises in which the coach decided otherwise, in words."""
    reason: str
    words: str
    holds_from: date | None
    made_at: datetime
    differs: str
    """How the numbers of the week have changed since; empty when they have not."""


class ToldSoreness(Wire):
    """Soreness 0 to 10 of the practice before the day on which it was told."""

    day: date
    level: int


class ReviewView(Wire):
    client_id: UUID
    client_name: str
    assignment_id: UUID
    title: str
    week: int
    first_day: date
    last_day: date
    earned: bool
    waiting: bool
    """The week was laid out to come again until it is reviewed."""
    refused: str
    """Why it cannot be decided yet; empty when it can."""
    evidence: str
    sessions: AdherenceView
    days: list[DayMark]
    efforts: list[int]
    effort: float | None
    soreness: list[ToldSoreness]
    suggested: Verdict
    because: str
    rules: list[RuleView]
    """The rules that spoke, the deciding one first."""
    holds_from: date | None
    """From which day a decision holds; nothing at the end of the program."""
    of_week: WeekLineView | None
    lines: list[ReviewLineView]
    bias: list[WeekBiasView]
    remarks: list[str]
    """What else the week says: what was left out, what rises, what to try instead."""
    kept: list[KeptReview]


class DecisionRequest(Wire):
    """What the coach decides. Exercises that are not named follow the suggestion; ``id`` is made by the device."""

    id: UUID
    first_day: date
    verdicts: Annotated[dict[str, Verdict], Field(default_factory=dict, max_length=61)]
    bias: Annotated[list[Annotated[str, Field(max_length=80)]], Field(default_factory=list, max_length=20)]
    reason: Annotated[str, Field(max_length=400)] = ""
    words: Annotated[str, Field(max_length=1000)] = ""


class AgainstView(Wire):
    """What a check says of the program as a decision would leave it, and the remedy."""

    text: str
    remedy: str


class CheckedView(Wire):
    """A decision before it is confirmed."""

    against: list[AgainstView]
    """Daily ceilings that it would pass: it cannot be confirmed."""
    remarks: list[AgainstView]
    """What else it would bring about."""
    next: dict[str, DoseAt]
    """By line: what the next week plays."""
    days: str
    """Days of the next week, in words; empty where nothing follows."""


class DecidedView(Wire):
    id: UUID
    decided: Verdict
    holds_from: date | None
    program_version: int | None


class ThresholdView(Wire):
    key: str
    name: str
    unit: str
    least: float
    most: float
    about: str
    value: float
    shipped: float


class ThresholdsView(Wire):
    thresholds: list[ThresholdView]
    rules: dict[str, list[RuleView]]
    """Every rule by where it speaks."""


class ThresholdsRequest(Wire):
    values: Annotated[dict[str, float], Field(max_length=20)]


class WeekJudged(Wire):
    """A program's last whole week, judged otherwise by other thresholds."""

    client_id: UUID
    client: str
    title: str
    before: Verdict
    after: Verdict
    because: str
    """Why, by the other thresholds."""


class ThresholdsEffect(Wire):
    looked_at: int
    """Running programs that have a whole week."""
    effects: list[WeekJudged]


class DrawnItemView(Wire):
    name: str
    train: int
    """Place in the list of trains."""
    start_s: float
    length_s: float
    done: float
    outcome: Literal["planned", "done", "partly", "skipped", "hurt"]


class DrawnSessionView(Wire):
    day: date
    part: Literal["morning", "evening"]
    title: str
    seconds: float
    items: list[DrawnItemView]


class DoseMoveView(Wire):
    name: str
    before: DoseAt
    after: DoseAt


class OpenWeekView(Wire):
    sessions: list[DrawnSessionView]
    moves: list[DoseMoveView]
    trains: list[TrainView]


class OwnWeekView(Wire):
    number: int
    first: date
    last: date
    days: list[DayMark]
    sessions: AdherenceView
    overdone: int
    """Days on which more was done than the practice's threshold above the plan."""
    effort: float | None
    soreness: int | None
    words: list[str]


class OwnCourseView(Wire):
    name: str
    today: date
    titles: list[str]
    weeks: list[OwnWeekView]
    whole: AdherenceView


class ExerciseDayView(Wire):
    day: date
    sessions: int
    done_s: float
    planned_s: float
    left_out: int
    hurt: int
