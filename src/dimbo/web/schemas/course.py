"""The client page and the sittings."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .catalogue import Named
from .intake import HeldView, RatingView
from .people import AdherenceView
from .wire import Wire


class LogView(Wire):
    id: UUID
    started_at: datetime
    planned_s: float
    done_s: float
    effort: int | None
    note: str


class CourseDay(Wire):
    day: date
    week: int
    state: Literal["done", "partly", "skipped", "open", "future", "paused"]
    share: float
    planned_s: float
    over_s: float
    right_s: float
    left_s: float
    logs: list[LogView]


class AssignmentView(Wire):
    id: UUID
    program_id: UUID
    title: str
    start_date: date
    weeks: int
    running: bool


class StoppedView(Wire):
    exercise_id: str
    name: str
    day: date
    side: str | None
    level: int | None
    where: str


class ProgramRow(Wire):
    id: UUID
    title: str
    version: int
    weeks: int
    updated_at: datetime


class ReadingView(Wire):
    id: str
    name: str
    definition: str
    unit: str
    right: float
    left: float
    difference: float
    band: float
    shots: int
    provisional: bool
    judgement: Literal["beyond noise", "within noise"]
    lower_side: Literal["right", "left"] | None
    sentence: str


class ChangeView(Wire):
    id: str
    before: float
    after: float
    mdc: float
    judgement: Literal["beyond noise", "within noise"]
    toward_symmetry: bool | None


class CheckView(Wire):
    name: str
    found: str
    weight: Literal["stop", "watch", "fine"]
    change: str


class PhotographView(Wire):
    id: UUID
    source_name: str
    width: int
    height: int
    taken_at: datetime | None
    state: Literal["waiting", "working", "measured", "refused"]
    step: str
    refusal: str
    points: dict[str, list[float]] | None
    quality: list[CheckView] | None


class SittingRow(Wire):
    id: UUID
    taken_on: date
    note: str
    photographs: list[PhotographView]
    readings: list[ReadingView]
    changes: list[ChangeView]


class CourseView(Wire):
    id: UUID
    name: str
    age: int | None
    time_zone: str
    local_time: datetime
    minutes: int | None
    concerns: list[Named]
    goals: str
    has_account: bool
    today: date
    assignment: AssignmentView | None
    days: list[CourseDay]
    last_week: AdherenceView
    whole: AdherenceView
    missed: int
    stopped: list[StoppedView]
    programs: list[ProgramRow]
    sittings: list[SittingRow]
    urgent: str
    """What is said before anything else; empty when no urgent sign stands."""
    held: list[HeldView]
    severity: dict[str, RatingView]
    """Severity 0 to 4 by muscle."""
    tender: dict[str, RatingView]
    """Where stopped exercises hurt, 0 to 10 by muscle."""
    holds: dict[str, Literal["lock", "ease"]]
    """Muscles whose region is locked or eased."""
    own_intake: bool
    """An intake that the client filled in waits for review."""


class SittingsView(Wire):
    client_id: UUID
    client_name: str
    may_keep: bool
    """Whether the client has agreed that photographs are kept."""
    consent: str
    sittings: list[SittingRow]


class NewSitting(Wire):
    taken_on: date
    note: Annotated[str, Field(max_length=2000)] = ""
