"""Everybody's own account, and those who work in a practice."""

from __future__ import annotations

from datetime import datetime
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
