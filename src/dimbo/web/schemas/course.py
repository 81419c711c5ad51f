"""The client page and the sittings."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Literal
from uuid import UUID

from .exercises import Named
from .intake import HeldView, RatingView
from .people import AdherenceView
from .plans import PauseView, PlanView
from .review import KeptReview, RuleView
from .sittings import SittingBrief
from .wire import Wire


class LogView(Wire):
    id: UUID
    started_at: datetime
    planned_s: float
    done_s: float
    effort: int | None
    note: str
    part: Literal["morning", "evening"]
    source: Literal["player", "manual"]
    form: str | None
    clock_off_s: float
    named_day: date | None


class CourseDay(Wire):
    day: date
    week: int
    """Week of the course, counted from its first day."""
    state: Literal["done", "partly", "skipped", "open", "future", "paused", "extra"]
    share: float
    planned_s: float
    over_s: float
    """Work above plan (contraction or hands-on time, both sides), exercise by exercise."""
    over_share: float
    overdone: bool
    """By the practice's threshold."""
    """The same as a share of the work planned."""
    right_s: float
    left_s: float
    hands_on_s: float
    """Planned hands-on time, both sides."""
    soreness: int | None
    """What the client said that day of the practice before it, 0 to 10."""
    sore_at: str
    """Where, in words."""
    logs: list[LogView]


class WishView(Wire):
    """How it is practised: weekdays, times, reminders."""

    weekdays: list[int]
    times: dict[str, str]
    remind_min: int | None
    as_part: Literal["morning", "evening"] | None
    end_date: date | None


class LineEndView(Wire):
    name: str
    planned: str
    reached: str
    """Empty when it never begins."""
    short: bool


class WayView(Wire):
    id: Literal["on", "again", "new"]
    name: str
    about: str


class EndView(Wire):
    """How a course stands to its end."""

    last_day: date
    near: bool
    """Its last week has begun, or it is over."""
    sentence: str
    """Where it ends below its plan at this pace; empty when it does not."""
    lines: list[LineEndView]
    ways: list[WayView]
    """What can be prepared to follow; nothing before the last week."""


class NextRequest(Wire):
    way: Literal["on", "again", "new"]


class AssignmentView(Wire):
    id: UUID
    program_id: UUID
    title: str
    start_date: date
    weeks: int
    running: bool
    ended_at: datetime | None
    may_run_again: bool
    """Ended so lately that the ending can still be taken back."""
    version: int
    newest_version: int
    """A newer version of the program is not in force yet when it is larger."""
    group: str | None
    plan: WishView
    end: EndView


class StoppedView(Wire):
    exercise_id: str
    name: str
    day: date
    side: str | None
    level: int | None
    where: str
    since: str


class DoseShare(Wire):
    """Seconds of work planned, done up to the plan, and above it."""

    planned_s: float
    done_s: float
    over_s: float


class WindowView(Wire):
    """Adherence in one window of days up to and with today; ``days`` is None for the whole course."""

    name: str
    days: int | None
    sessions: AdherenceView
    contraction: DoseShare
    hands_on: DoseShare
    work: DoseShare


class SkippedView(Wire):
    exercise_id: str
    name: str
    sessions: int
    left_out: int
    share: float


class TookView(Wire):
    """How long whole sessions really took against planned, medians in seconds."""

    planned_s: float
    took_s: float
    sessions: int


class PatternsView(Wire):
    windows: list[WindowView]
    weekdays: dict[int, AdherenceView]
    """Monday 1 to Sunday 7."""
    parts: dict[str, AdherenceView]
    left_out: list[SkippedView]
    took: TookView | None
    rules: list[RuleView]
    """What each of these numbers means."""


class PainView(Wire):
    day: date
    name: str
    side: str | None
    level: int | None
    where: str


class ProgramRow(Wire):
    id: UUID
    title: str
    version: int
    weeks: int
    updated_at: datetime


class CourseView(Wire):
    id: UUID
    name: str
    age: int | None
    time_zone: str
    local_time: datetime
    day_closes: time
    """Until when in the night a day can still be practised, by the client's clock."""
    minutes: int | None
    concerns: list[Named]
    goals: str
    has_account: bool
    coach_id: UUID | None
    """Who took the client on."""
    today: date
    assignments: list[AssignmentView]
    """Every block of the course, the earliest first."""
    start_date: date | None
    weeks: int
    """Weeks of the course, pauses and repeated weeks included."""
    days: list[CourseDay]
    pauses: list[PauseView]
    plans: list[PlanView]
    unread: int
    """Messages of the client that no coach has read."""
    patterns: PatternsView
    reviews: list[KeptReview]
    pains: list[PainView]
    sitting_due: date | None
    missed: int
    returns: str
    """How practice would go on today after the missed days; empty when none were."""
    stopped: list[StoppedView]
    programs: list[ProgramRow]
    sittings: list[SittingBrief]
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
    asked: datetime | None
    """When health was asked last, of any kind."""
    sore: str
    sore_stops: bool
    """Whether strength waits until the coach has asked."""
    """What soreness leaves out now, as a sentence; empty for nothing."""
    """An intake that the client filled in waits for review."""
