"""People: signing in, invitations, the list of clients, everybody's own account, and those who work in a practice."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from .wire import Wire

Standing = Literal["owner", "coach", "assistant"]
Password = Annotated[str, Field(max_length=400)]
Email = Annotated[str, Field(max_length=200)]
Name = Annotated[str, Field(max_length=120)]


class SignInView(Wire):
    """One place where the account is signed in; ``here`` is this one."""

    id: UUID
    device: str
    created_at: datetime
    seen_at: datetime
    here: bool


class AccountView(Wire):
    name: str
    email: str
    pending: str
    """An address that waits to be confirmed; empty for none."""
    standing: Literal["owner", "coach", "assistant", "client"]
    time_zone: str | None
    """Of somebody who works in the practice."""
    factor_since: datetime | None
    recovery_codes: int
    sign_ins: list[SignInView]


class NameRequest(Wire):
    name: Name
    time_zone: Annotated[str | None, Field(max_length=60)] = None


class NewPassword(Wire):
    old: Password
    new: Password


class NewAddress(Wire):
    email: Email
    password: Password


class AddressView(Wire):
    email: str


class Ended(Wire):
    """In how many places the account was signed out."""

    count: int


class FactorBegun(Wire):
    secret: str
    picture: str
    """The same as a picture (SVG) for an authenticator's camera."""


class CodeRequest(Wire):
    code: Annotated[str, Field(max_length=40)]


class RecoveryCodes(Wire):
    codes: list[str]


class ForgotRequest(Wire):
    email: Email


class LinkView(Wire):
    """Whose link it is, and of which practice."""

    name: str
    email: str
    practice_name: str


class SignedIn(Wire):
    """Whether the browser is signed in now; an account with a second factor signs in by itself."""

    signed_in: bool


class PersonView(Wire):
    id: UUID
    name: str
    email: str
    standing: Standing
    sees_all: bool
    sees: list[UUID]
    clients: int
    disabled_at: datetime | None
    factor_since: datetime | None
    seen_at: datetime | None


class InvitedView(Wire):
    id: UUID
    name: str
    email: str
    standing: Standing
    made_at: datetime
    expires_at: datetime


class PeopleView(Wire):
    people: list[PersonView]
    invited: list[InvitedView]


class InviteColleague(Wire):
    name: Name
    email: Email
    standing: Standing


class PathView(Wire):
    """The path of a link that works once."""

    path: str
    days: int


class PersonChange(Wire):
    standing: Standing
    sees_all: bool
    sees: Annotated[list[UUID], Field(max_length=200)] = Field(default_factory=list)
    disabled: bool


class HandOver(Wire):
    """To whom clients are handed over."""

    to: UUID


class StepView(Wire):
    """A first step of a practice that was just opened."""

    id: Literal["ways", "client", "program", "colleague"]
    done: bool


class ArrivedView(Wire):
    """A message that a stand-in mail server took in."""

    to: str
    subject: str
    at: datetime
    text: str


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
    """A client as the desk and the list show them."""

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


class ListedProgram(Wire):
    """A running program: the week of its course, of so many; below 1 before it begins."""

    title: str
    week: int
    weeks: int


class ListedClient(ClientRow):
    """A client in the list."""

    at: Literal["running", "beginning", "paused", "finished", "enquiry", "archived"]
    programs: list[ListedProgram]
    last_practised: date | None
    photographs: date | None
    """Since when photographs are due, or when they will be."""
    coach_id: UUID | None
    today: date
