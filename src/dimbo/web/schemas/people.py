"""People: signing in, invitations, the list of clients."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .wire import Wire


class SignInRequest(Wire):
    email: Annotated[str, Field(max_length=200)]
    password: Annotated[str, Field(max_length=200)]
    code: Annotated[str, Field(max_length=40)] = ""
    """Of the second factor, where the account asks for one: the device's, or a recovery code."""


class Me(Wire):
    id: UUID
    role: Literal["coach", "client"]
    name: str
    practice_name: str
    client_id: UUID | None
    standing: Literal["owner", "coach", "assistant", "client"]
    time_zone: str | None
    """Of the days of somebody who works in the practice; None for where their browser is."""
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
    goals: Annotated[str, Field(max_length=4000)] = ""


class ZoneRequest(Wire):
    time_zone: Annotated[str, Field(max_length=60)]


class Created(Wire):
    id: UUID


class DayMark(Wire):
    day: date
    state: Literal["done", "partly", "skipped", "open", "future", "paused", "extra"]
    share: float
    over_s: float
    """Work above plan, s."""
    over_share: float
    """The same as a share of the plan."""


class AdherenceView(Wire):
    done: float
    planned: int


class ClientName(Wire):
    id: UUID
    name: str


class ClientRow(ClientName):
    """A client as the list shows them."""

    age: int | None
    concerns: list[str]
    has_account: bool
    days: list[DayMark]
    week: AdherenceView
    urgent: bool
    """Whether a sudden sign stands."""
    archived: bool = False
    """Put away because the course is over; not on the desk."""
    status: str
