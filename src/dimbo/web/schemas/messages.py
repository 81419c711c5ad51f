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
    kind: Literal["reminder", "message", "pain", "urgent", "health", "keeping"]
    subject: str
    body: str
    due_at: datetime
    state: Literal["waiting", "delivered", "failed", "withheld"]
    tries: int
    problem: str
    delivered_at: datetime | None
    way: Literal["", "mail", "device"]
    """How it arrived."""


class UndeliveredView(Wire):
    """Somebody whom letters do not reach, since the last that did; said once, however many there were."""

    client_id: UUID
    name: str
    to_coach: bool
    address: str
    letters: int
    problem: str
    since: datetime


class PushKey(Wire):
    """What a browser subscribes with; ``stand_in`` when the demo makes the devices itself."""

    key: str
    stand_in: bool


class DeviceRequest(Wire):
    """What a browser got from its push service."""

    endpoint: Annotated[str, Field(max_length=1000)]
    p256dh: Annotated[str, Field(max_length=200)]
    auth: Annotated[str, Field(max_length=100)]
    name: Annotated[str, Field(max_length=120)] = ""


class DeviceGone(Wire):
    endpoint: Annotated[str, Field(max_length=1000)]


class DeviceView(Wire):
    endpoint: str
    name: str
    made_at: datetime
    reached_at: datetime | None


class MadeDevice(Wire):
    """A device of the demo, as a browser would have made it."""

    endpoint: str
    p256dh: str
    auth: str


class NoticeView(Wire):
    """A notice that a device of the demo would have shown."""

    at: datetime
    title: str
    body: str
    opens: str


class DueLinkRequest(Wire):
    email: Annotated[str, Field(max_length=200)] = ""
    """What the client signs in with; empty for the one that is known."""


class DueLink(Wire):
    path: str
    days: int


class DueView(Wire):
    """All that is due of a client, on one page."""

    client_name: str
    practice_name: str
    account: Literal["due", "done"]
    intake: Literal["due", "done"]
    photographs: Literal["due", "done", "not yet"]


class DueOpened(Wire):
    path: str


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


class ReminderMoved(Wire):
    """A reminder that other quiet hours would move, by the client's clock; none after: it would not go at all."""

    client_id: UUID
    client: str
    title: str
    part: Literal["morning", "evening"]
    before: time | None
    after: time | None


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
