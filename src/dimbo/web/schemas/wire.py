"""What every schema is, and what every refusal looks like."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Wire(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class Problem(Wire):
    """Every refusal: what happened and what to do, and the field that it is about."""

    message: str
    field: str | None = None
