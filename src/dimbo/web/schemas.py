"""What goes over the wire. Times of day are aware; lengths carry their unit in the name."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from dimbo.work.documents import CellText, ProgramDocument


class Wire(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class Problem(Wire):
    """Every refusal: what happened and what to do, and the field that it is about."""

    message: str
    field: str | None = None


# --- people
class SignInRequest(Wire):
    email: Annotated[str, Field(max_length=200)]
    password: Annotated[str, Field(max_length=200)]


class Me(Wire):
    role: Literal["coach", "client"]
    name: str
    practice_name: str
    client_id: UUID | None
    stand_in_camera: bool = False


class InvitationView(Wire):
    client_name: str
    practice_name: str
    email: str


class PasswordRequest(Wire):
    password: Annotated[str, Field(max_length=400)]


class InviteRequest(Wire):
    email: Annotated[str, Field(max_length=200)]


class InviteLink(Wire):
    path: str
    days: int


class NewClient(Wire):
    name: Annotated[str, Field(min_length=1, max_length=120)]
    birth_year: Annotated[int | None, Field(ge=1900, le=2100)] = None
    time_zone: Annotated[str, Field(max_length=60)]
    minutes: Annotated[int | None, Field(ge=1, le=120)] = None
    concerns: list[str] = Field(default_factory=list, max_length=20)
    story: Annotated[str, Field(max_length=4000)] = ""


class Created(Wire):
    id: UUID


class DayMark(Wire):
    day: date
    state: Literal["done", "partly", "skipped", "open", "future", "paused"]
    share: float
    over_s: float


class AdherenceView(Wire):
    done: float
    planned: int


class ClientRow(Wire):
    id: UUID
    name: str
    age: int | None
    concerns: list[str]
    has_account: bool
    days: list[DayMark]
    week: AdherenceView
    stopped: int
    missed: int


# --- catalogue
class Named(Wire):
    id: str
    name: str


class TrainPhaseView(Wire):
    kind: str
    reps: int
    lead_s: float
    hold_s: float
    release_s: float
    directions: int


class TrainView(Wire):
    phases: list[TrainPhaseView]
    runs: list[Literal["right", "left", "both"]]
    rest_s: float
    total_s: float


class CautionView(Wire):
    about: str
    text: str
    effect: Literal["lock", "ease", "remind"]


class FaultView(Wire):
    fault: str
    remedy: str


class RungView(Wire):
    line: str
    train: TrainView
    sessions: int
    steep: bool


class CardView(Wire):
    id: str
    name: str
    family: str
    stage: str
    purpose: str
    concerns: list[Named]
    prime_movers: list[Named]
    helpers: list[Named]
    sides: str
    start_line: str
    target_line: str
    rungs: list[RungView]
    axes: list[str]
    ceiling_s: float
    ceiling_basis: str
    pressure: str
    needs: list[str]
    position: str
    foundation: bool
    after: list[Named]
    cues: list[str]
    felt_at: str
    faults: list[FaultView]
    eased: str
    stop_rule: str
    cautions: list[CautionView]


class CatalogueView(Wire):
    cards: list[CardView]
    concerns: list[Named]
    stages: list[str]


# --- program sheet
class CellErrorView(Wire):
    message: str
    start: int
    end: int


class CellView(Wire):
    text: str
    canonical: str | None
    error: CellErrorView | None
    train: TrainView | None
    over_ceiling: bool


class SheetLineView(Wire):
    id: str
    exercise: str
    name: str
    family: str
    stage: str
    sides: str
    cells: list[CellView]


class MuscleLoad(Wire):
    id: str
    muscle: str
    right_s: float
    left_s: float


class SegmentView(Wire):
    """An exercise in the session to scale."""

    line_id: str
    start_s: float
    length_s: float


class WeekView(Wire):
    number: int
    sessions: int
    seconds: float
    right_s: float
    left_s: float
    muscles: list[MuscleLoad]
    segments: list[SegmentView]


class NoteView(Wire):
    rule: str
    weight: Literal["stop", "watch", "fine"]
    text: str
    remedy: str
    line: str | None
    weeks: list[int]


class SheetView(Wire):
    lines: list[SheetLineView]
    weeks: list[WeekView]
    notes: list[NoteView]
    assignable: bool
    pace_s: float


class ProgramView(Wire):
    id: UUID
    client_id: UUID
    client_name: str
    title: str
    version: int
    saved_by: str
    updated_at: datetime
    document: ProgramDocument
    sheet: SheetView


class NewProgram(Wire):
    title: Annotated[str, Field(max_length=120)] = ""
    weeks: Annotated[int, Field(ge=1, le=26)] = 4
    concern: Annotated[str | None, Field(max_length=60)] = None


class CheckRequest(Wire):
    client_id: UUID | None = None
    document: ProgramDocument


class SaveRequest(Wire):
    base_version: int
    title: Annotated[str, Field(max_length=120)]
    document: ProgramDocument


class Saved(Wire):
    version: int


class FillRequest(Wire):
    client_id: UUID | None = None
    exercise: Annotated[str, Field(max_length=60)]
    cells: Annotated[list[CellText], Field(max_length=26)]
    week: Annotated[int, Field(ge=1, le=26)]


class FillView(Wire):
    cells: list[str]
    remark: str


class NewLineRequest(Wire):
    client_id: UUID | None = None
    exercise: Annotated[str, Field(max_length=60)]
    weeks: Annotated[int, Field(ge=1, le=26)]


class NewLineView(Wire):
    id: str
    exercise: str
    stage: str
    cells: list[str]


class AssignRequest(Wire):
    start: date


# --- course
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
    story: str
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


class SittingsView(Wire):
    client_id: UUID
    client_name: str
    sittings: list[SittingRow]


class NewSitting(Wire):
    taken_on: date
    note: Annotated[str, Field(max_length=2000)] = ""


# --- practice
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
    stop_rule: str
    muscles: dict[str, float]
    """Muscle id to the share of the work that it has: 1 a prime mover, 0.5 a helper."""
    train: TrainView


class SessionView(Wire):
    assignment_id: UUID
    day: date
    week: int
    title: str
    seconds: float
    pace_s: float
    items: list[SessionItem]
    cues: list[CueView]
    left_out: list[str]


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
    lines: Annotated[list[LineReportIn], Field(max_length=60)]


class HandedIn(Wire):
    kept: bool
    """False when this very log had arrived before."""
