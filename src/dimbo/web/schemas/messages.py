"""Messages, the outbox, reminders, the calendar feed."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .wire import Wire


class MessageView(Wire):
    id: UUID
    by_coach: bool
    author: str
    text: str
    about_day: date | None
    exercise_id: str | None
    written_at: datetime
    read_at: datetime | None


class WriteRequest(Wire):
    id: UUID
    text: Annotated[str, Field(min_length=1, max_length=2000)]
    about_day: date | None = None
    exercise_id: Annotated[str | None, Field(max_length=60)] = None


class PostedView(Wire):
    id: UUID
    to_coach: bool
    address: str
    kind: Literal["reminder", "message", "pain", "urgent", "health"]
    subject: str
    body: str
    due_at: datetime
    state: Literal["waiting", "delivered", "failed", "withheld"]
    tries: int
    problem: str
    delivered_at: datetime | None


class QuietHours(Wire):
    first: time
    last: time


class RemindersView(Wire):
    """A client's wishes; without quiet hours of their own the practice's hold."""

    on: bool
    quiet: QuietHours | None
    practice_quiet: QuietHours


class RemindersRequest(Wire):
    on: bool
    quiet: QuietHours | None = None


class RemindingView(Wire):
    """What the practice decides about reminders; an empty text is the shipped one."""

    quiet: QuietHours
    text: str
    shipped_text: str
    places: list[str]


class RemindingRequest(Wire):
    quiet: QuietHours
    text: Annotated[str, Field(max_length=400)] = ""


class FeedView(Wire):
    open: bool
    made_at: datetime | None
    read_at: datetime | None


class FeedLink(Wire):
    path: str
    """Shown once; the server keeps no more than its hash."""


class Unsubscribed(Wire):
    practice_name: str
