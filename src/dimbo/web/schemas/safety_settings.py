"""Safety of a practice as it goes over the wire."""

from __future__ import annotations

from datetime import date
from typing import Annotated
from uuid import UUID

from pydantic import Field

from . import Wire


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
