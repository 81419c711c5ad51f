"""Templates, practice settings with those of safety, and programs in open formats."""

from __future__ import annotations

from datetime import date
from typing import Annotated
from uuid import UUID

from pydantic import Field

from dimbo.work.programs.documents import ProgramDocument

from .exercises import Named
from .programs import SheetView
from .wire import Wire


class ShareView(Wire):
    """How strongly a muscle works on each side, 0 to 1."""

    right: float
    left: float


class MiniatureRowView(Wire):
    """An exercise of a sheet in miniature: by week, its time as a share of its own longest week; 0 where it rests."""

    name: str
    stage: str
    family: str
    shares: list[float]


class MiniatureView(Wire):
    """A sheet in miniature: minutes of each week's longest session, its sessions, and shares of load by muscle and side."""

    rows: list[MiniatureRowView]
    minutes: list[float]
    days: list[float]
    regions: dict[str, ShareView]


class TemplateRow(Wire):
    id: str
    title: str
    about: str
    weeks: int
    minutes: int | None
    lines: int
    approach: str
    concerns: list[Named]
    own: bool
    version: int
    saved_by: str | None
    miniature: MiniatureView | None


class TemplateView(Wire):
    id: str
    title: str
    document: ProgramDocument
    version: int
    own: bool
    sheet: SheetView


class KeepTemplate(Wire):
    """A program kept as a template: one that is stored, or a document."""

    program_id: UUID
    title: Annotated[str, Field(max_length=120)] = ""
    about: Annotated[str, Field(max_length=1000)] = ""


class TemplateCreated(Wire):
    id: str


class ApproachView(Wire):
    id: str
    name: str
    why: str
    first: list[str]
    days: str
    lip_stretch: bool
    asymmetry: str
    raising: str
    silent: list[str]


class LimitView(Wire):
    key: str
    name: str
    unit: str
    least: float
    most: float
    shipped: float
    value: float
    about: str
    group: str
    """The heading under which it stands."""


class CheckView(Wire):
    """A rule of the margin, as the practice settings list it."""

    id: str
    title: str
    weight: str
    why: str


class WaysView(Wire):
    approach: str
    approaches: list[ApproachView]
    limits: list[LimitView]
    checks: list[CheckView]


class WaysRequest(Wire):
    approach: Annotated[str, Field(max_length=40)]
    values: dict[str, float]


class EffectView(Wire):
    program_id: UUID
    sentence: str
    speaks: list[str]
    settles: list[str]


class WaysEffect(Wire):
    """What a change would do before it is kept."""

    looked_at: int
    effects: list[EffectView]


class OwnWaysView(Wire):
    """A client's own approach and count pace; None follows the practice, whose values stand beside them."""

    approach: str | None
    pace_s: float | None
    practice_approach: str
    practice_pace_s: float
    approaches: list[Named]


class OwnWaysRequest(Wire):
    approach: Annotated[str | None, Field(max_length=40)] = None
    pace_s: float | None = None


class UnknownView(Wire):
    id: str
    name: str
    rows: int
    like: list[Named]
    comes: bool
    """Whether the file has it written, so that it can become one of the practice's own (choice ``bring``)."""


class FilePreview(Wire):
    """What an import would make."""

    title: str
    weeks: int
    lines: int
    known: int
    unknown: list[UnknownView]
    document: ProgramDocument


class ConfirmationView(Wire):
    by_name: str
    role: str
    confirmed_on: date


class StartingValueView(Wire):
    """A careful starting value, and who has confirmed it."""

    id: str
    name: str
    ships: str
    why: str
    loosens: bool
    """Whether a setting of the practice can be loosened beyond it once it is confirmed."""
    confirmed: ConfirmationView | None


class CareView(Wire):
    emergency_number: str
    values: list[StartingValueView]


class NumberRequest(Wire):
    emergency_number: Annotated[str, Field(max_length=40)]


class ConfirmRequest(Wire):
    id: UUID
    by_name: Annotated[str, Field(max_length=120)]
    role: Annotated[str, Field(max_length=60)]
    confirmed_on: date
