"""Assigning, changing and pausing."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .wire import Wire

Weekday = Annotated[int, Field(ge=1, le=7)]


class TimesIn(Wire):
    morning: time | None = None
    evening: time | None = None


class WishIn(Wire):
    """How a program is practised. ``start`` is its first day, or the day from which a change holds."""

    start: date
    end: date | None = None
    weekdays: Annotated[list[Weekday], Field(max_length=7, default_factory=list)]
    """Monday 1 to Sunday 7; none for the days on which the client has time."""
    times: TimesIn = Field(default_factory=TimesIn)
    remind_min: Annotated[int | None, Field(ge=0, le=240)] = None
    as_part: Literal["morning", "evening"] | None = None


class PreviewRequest(Wire):
    wish: WishIn
    clients: Annotated[list[UUID], Field(max_length=60, default_factory=list)]
    """Who would start; the program's own client when empty."""


class CalendarDayView(Wire):
    day: date
    morning_s: float
    evening_s: float
    beside_s: float
    """Seconds of another program on that day."""
    paused: bool


class CalendarWeekView(Wire):
    number: int
    days: list[CalendarDayView]
    total_s: float


class FirstSessionView(Wire):
    """The first session as the client's phone will show it: whole length with change-overs, and how many exercises."""

    day: date
    part: Literal["morning", "evening"]
    seconds: float
    exercises: int


class PreparedView(Wire):
    """What assigning would mean for a client, and what stands against it."""

    client_id: UUID
    client_name: str
    time_zone: str
    unasked: bool
    remarks: list[str]
    """What the chosen days bring about."""
    """Whether health questions or consent are missing: they can be answered now, or sent to the client."""
    refusals: list[str]
    weeks: list[CalendarWeekView]
    sessions: int
    last_day: date | None
    first: FirstSessionView | None


class GroupRequest(Wire):
    name: Annotated[str, Field(max_length=80)]
    clients: Annotated[list[UUID], Field(min_length=1, max_length=60)]
    wish: WishIn


class StartedView(Wire):
    client_id: UUID
    name: str


class RefusedView(Wire):
    client_id: UUID
    name: str
    reason: str


class GroupStarted(Wire):
    group_id: UUID
    started: list[StartedView]
    refused: list[RefusedView]


class ChangeRequest(Wire):
    wish: WishIn
    reason: Annotated[str, Field(max_length=400)] = ""


class Changed(Wire):
    plan: int


class PauseRequest(Wire):
    first: date
    last: date | None = None
    reason: Annotated[str, Field(max_length=400)] = ""


class ClearRequest(Wire):
    """What the coach found before something that hurt goes on."""

    note: Annotated[str, Field(max_length=400)]


class ResumeRequest(Wire):
    on: date


class Resumed(Wire):
    rule: str
    """What the length of the pause means for the doses."""


class PauseView(Wire):
    first_day: date
    last_day: date | None
    reason: str


class PlanView(Wire):
    """A plan of an assignment: from which day it holds, and why it was made."""

    assignment_id: UUID
    number: int
    from_day: date
    version: int
    kind: Literal["assigned", "changed", "resumed", "break", "review", "repeat"]
    reason: str
    made_at: datetime
    made_by: str
    """Who made it; empty where a break or the calendar did."""


class EndRequest(Wire):
    follows: str
    """What comes after it: "next", "rest" or "done"."""


class FollowsView(Wire):
    id: str
    says: str
    """What the client reads."""


class EndingView(Wire):
    sessions: int
    """Sessions that were still planned."""
    last_day: date | None
    follows: list[FollowsView]
