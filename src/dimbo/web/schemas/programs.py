"""The program sheet: document, cells, weeks and notes."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from dimbo.core.programs.program import MAX_WEEKS
from dimbo.work.programs.documents import ProgramDocument

from .exercises import TrainView
from .wire import Wire


class CellErrorView(Wire):
    message: str
    start: int
    end: int
    instead: str
    """A line that says what was most likely meant, to be taken with one touch; empty where nothing is likely."""


class CellView(Wire):
    text: str
    canonical: str | None
    error: CellErrorView | None
    train: int | None
    """Place of its pulse train in the sheet's trains."""
    over_ceiling: bool


class SheetLineView(Wire):
    id: str
    exercise: str
    name: str
    family: str
    stage: str
    sides: str
    own: bool
    when: str
    days: list[float] | None
    note: str
    why: str
    flows: bool
    """Whether it goes on from the row above without a change-over."""
    rounds: int
    """How often it is gone through in a session; more than 1 in a circuit."""
    cells: list[CellView]


class MuscleLoad(Wire):
    """A muscle's load: contraction with its share, and hands-on time; of the whole week and of its longest session."""

    id: str
    muscle: str
    right_s: float
    left_s: float
    hands_right_s: float
    hands_left_s: float
    session_right_s: float
    session_left_s: float
    session_hands_right_s: float
    session_hands_left_s: float


class SegmentView(Wire):
    """An exercise in the session to scale."""

    line_id: str
    start_s: float
    length_s: float


class SessionPlanView(Wire):
    """Sessions of a week that are alike."""

    when: str
    days: int
    seconds: float
    right_s: float
    left_s: float
    segments: list[SegmentView]


class WeekView(Wire):
    number: int
    sessions: float
    days: str
    seconds: float
    """Of the longest session."""
    over: bool
    """Whether that is more than the client has, by more than the practice's slack."""
    total_s: float
    right_s: float
    left_s: float
    lighter: bool
    muscles: list[MuscleLoad]
    plans: list[SessionPlanView]


class NoteView(Wire):
    rule: str
    weight: Literal["stop", "watch", "remark", "fine"]
    text: str
    remedy: str
    line: str | None
    weeks: list[int]
    fix: str | None
    """What the one-key remedy says; None when there is none."""
    ways: list[Literal["answer-health", "send-questions"]]
    """Next steps outside the program."""


class SheetView(Wire):
    lines: list[SheetLineView]
    trains: list[TrainView]
    weeks: list[WeekView]
    notes: list[NoteView]
    parts: list[str]
    assignable: bool
    pace_s: float


class WeekStandingView(Wire):
    """Where a week of the program stands with whoever practises it, and its first planned day."""

    week: int
    state: Literal["practised", "eased back", "missed", "now", "ahead", "draft"]
    first: date | None


class ProgramView(Wire):
    id: UUID
    client_id: UUID
    client_name: str
    client_today: date
    """The client's own day, which closes at 03:00 in their time zone."""
    title: str
    version: int
    revision: int
    """Counts every save; what the next save is made over."""
    saved_by: str
    updated_at: datetime
    document: ProgramDocument
    sheet: SheetView
    standing: list[WeekStandingView]
    """Every week, where somebody practises it; nothing for a draft."""


class NewProgram(Wire):
    """``source``: the intake, a template (its id), a program of any client (``program-`` and its id), or empty. ``minutes`` a session and
    ``approach`` are the client's where they are not given; ``leave_out`` names needs, marks and exercises that a draft does without."""

    title: Annotated[str, Field(max_length=120)] = ""
    weeks: Annotated[int, Field(ge=1, le=MAX_WEEKS)] = 12
    source: Annotated[str, Field(max_length=60)] = "intake"
    approach: Annotated[str | None, Field(max_length=40)] = None
    minutes: Annotated[int | None, Field(ge=1, le=180)] = None
    leave_out: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=60, default_factory=list)]


class LeftOutView(Wire):
    exercise: str
    name: str
    reason: str


class DraftView(Wire):
    """A draft before it is kept."""

    title: str
    document: ProgramDocument
    sheet: SheetView
    left_out: list[LeftOutView]
    says: list[str]
    """Sentences about the draft as a whole, such as why it leaves most of the minutes free."""


class CheckRequest(Wire):
    client_id: UUID | None = None
    program_id: UUID | None = None
    document: ProgramDocument


class FixRequest(CheckRequest):
    rule: Annotated[str, Field(max_length=40)]
    line: Annotated[str | None, Field(max_length=40)] = None


class WeekRequest(CheckRequest):
    week: Annotated[int, Field(ge=1, le=MAX_WEEKS)]


class SideRequest(CheckRequest):
    line: Annotated[str, Field(max_length=40)]
    side: Literal["right", "left", "level"]


class EditedView(Wire):
    """A document that the core has changed, with what the checks say of it."""

    document: ProgramDocument
    sheet: SheetView


class PlacedView(Wire):
    line: str
    reason: str


class OrderedView(EditedView):
    places: list[PlacedView]


class VersionView(Wire):
    version: int
    title: str
    saved_by: str
    saved_at: datetime


class DifferenceView(Wire):
    text: str
    line: str | None
    weeks: list[int]


class RestoreRequest(Wire):
    version: Annotated[int, Field(ge=1)]
    base_revision: int


class SaveRequest(Wire):
    """``base_revision``: what it was made from; ``sheet``: the open sheet that it comes from, so that a save whose answer was
    lost can be sent again, and a morning's work is one version."""

    base_revision: int
    title: Annotated[str, Field(max_length=120)]
    document: ProgramDocument
    sheet: UUID | None = None


class KeptView(Wire):
    """A sheet that was kept, its doses in their canonical lines, and what the checks say of it."""

    version: int
    revision: int
    sheet: SheetView


class Saved(Wire):
    version: int


class FillRequest(CheckRequest):
    line: Annotated[str, Field(max_length=40)]
    week: Annotated[int, Field(ge=1, le=MAX_WEEKS)]


class FillView(Wire):
    cells: list[str]
    remark: str


class NewLineRequest(CheckRequest):
    exercise: Annotated[str, Field(max_length=60)]


class NewLineView(Wire):
    id: str
    exercise: str
    stage: str
    cells: list[str]
