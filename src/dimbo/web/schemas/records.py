"""A client's record as a whole: what is held, how long, who looked, and its end; and what was removed and can be
brought back."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import Field

from .wire import Wire


class HeldCounts(Wire):
    photographs: int
    sittings: int
    sessions: int
    programs: int
    entries: int
    messages: int


class TrailView(Wire):
    """What somebody did with the record."""

    at: datetime
    by_name: str
    what: str
    subject: str


class GoingView(Wire):
    what: Literal["photographs", "record"]
    goes_on: date
    told: bool


class KeepingView(Wire):
    """Months after the last course; null for no end."""

    keep_photographs_months: int | None = Field(ge=1, le=600)
    keep_records_months: int | None = Field(ge=1, le=600)
    kept_by_law: str = Field(max_length=600)
    """What local rules make the practice keep outside Dimbo, in its own words."""


class RecordView(Wire):
    client_id: UUID
    name: str
    practice: str
    coach: str
    own: bool
    """Whether it is taken out from this page: by the client, or the coach who took them on."""
    may_erase: bool
    archived_at: datetime | None
    running: bool
    """Whether a program runs."""
    kept_until: date | None
    held: HeldCounts
    keeps: KeepingView
    going: list[GoingView]
    steps: list[TrailView]


class EraseSelf(Wire):
    password: str = Field(max_length=200)


class EraseClient(Wire):
    name: str = Field(max_length=120)
    password: str = Field(max_length=200)
    reason: str = Field(max_length=40)


class ArchiveRequest(Wire):
    archived: bool


class KeepLonger(Wire):
    until: date | None


class ErasureView(Wire):
    erased_client: UUID
    erased_at: datetime
    by_whom: Literal["client", "owner", "age"]
    reason: str


class RemovedView(Wire):
    id: UUID
    client_id: UUID | None
    name: str
    """A title, or the name of a photograph's file."""
    removed_at: datetime
    gone_at: datetime
    """From then on it is gone for good."""
