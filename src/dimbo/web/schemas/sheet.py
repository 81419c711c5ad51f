"""The program sheet: document, cells, weeks and notes."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from dimbo.work.documents import CellText, ProgramDocument

from .catalogue import TrainView
from .wire import Wire


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
    weight: Literal["stop", "watch", "remark", "fine"]
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
    client_today: date
    """The client's own day, which closes at 03:00 in their time zone."""
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
