"""The client's day, and the report of a session."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .catalogue import FigureView, TrainView
from .wire import Wire


class CueView(Wire):
    start_s: float
    length_s: float
    beat: str
    item: int
    side: Literal["right", "left"] | None
    set_number: int
    sets: int
    rep: int
    reps: int
    phase: int
    direction: str


class SessionItem(Wire):
    line_id: str
    exercise: str
    name: str
    family: str
    stage: str
    dose: str
    seconds: float
    cues: list[str]
    felt_at: str
    needs: list[str]
    position: str
    eased: str
    eased_for: str
    """The cautions because of which the eased version is done; empty when it is done as written."""
    stop_rule: str
    figure: FigureView
    note: str
    """What the coach says about it."""
    muscles: dict[str, float]
    """Muscle id to the share of the work that it has: 1 a prime mover, 0.5 a helper."""
    train: TrainView


class SessionView(Wire):
    assignment_id: UUID
    day: date
    part: Literal["morning", "evening"]
    week: int
    title: str
    seconds: float
    pace_s: float
    items: list[SessionItem]
    cues: list[CueView]
    left_out: list[str]


class HabitView(Wire):
    """A habit task of the day."""

    name: str
    often: str
    say: str


class TodayView(Wire):
    name: str
    practice_name: str
    day: date
    title: str | None
    session: SessionView | None
    done_at: datetime | None
    next_day: date | None
    done: int
    planned: int
    changed: list[str]
    habits: list[HabitView]
    halt: str
    """Why nothing may be practised now; empty when it may."""


class LineReportIn(Wire):
    line_id: Annotated[str, Field(max_length=40)]
    done_s: Annotated[float, Field(ge=0, le=4 * 3600)]
    outcome: Literal["done", "partly", "skipped", "hurt"]
    pain_side: Literal["right", "left", "both"] | None = None
    pain_level: Annotated[int | None, Field(ge=0, le=10)] = None
    pain_where: Annotated[str, Field(max_length=200)] = ""


class ReportIn(Wire):
    id: UUID
    assignment_id: UUID
    day: date
    started_at: datetime
    ended_at: datetime
    effort: Annotated[int | None, Field(ge=0, le=10)] = None
    note: Annotated[str, Field(max_length=2000)] = ""
    part: Literal["morning", "evening"] = "morning"
    lines: Annotated[list[LineReportIn], Field(max_length=240)]


class HandedIn(Wire):
    kept: bool
    """False when this very log had arrived before."""
