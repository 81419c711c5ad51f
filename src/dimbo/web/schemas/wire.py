"""What every schema is, and what every refusal looks like."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from dimbo.work.shared.errors import Why


class Wire(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class HealthView(Wire):
    """What lives. Whoever can read this has reached the web server."""

    database: Literal["up", "only reads", "away"]
    worker: Literal["up", "away"]


class Problem(Wire):
    """Every refusal: what happened and what to do. ``code`` stays the same whatever the words are; ``field`` names what to
    correct, if one does."""

    code: Why | Literal["not-there", "conflict", "signed-out", "not-allowed", "away"]
    message: str
    field: str | None = None
