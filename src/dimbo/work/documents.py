"""The program document: what the sheet edits and the store keeps, and its way into the core."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from dimbo.core.anatomy import Stage
from dimbo.core.card import Card
from dimbo.core.program import MAX_LINES, MAX_WEEKS, Line, Program

from .errors import Refused

CellText = Annotated[str, StringConstraints(max_length=120)]


class LineDocument(BaseModel):
    """One row: an exercise of the catalogue, its stage, and a dose line for each week ("" rests)."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    id: str = Field(default_factory=lambda: uuid4().hex[:12], min_length=1, max_length=40)
    exercise: str = Field(max_length=60)
    stage: Stage
    cells: list[CellText]


class ProgramDocument(BaseModel):
    """A program as one document. ``sessions`` and every row's cells have one entry per week."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    weeks: int = Field(ge=1, le=MAX_WEEKS)
    sessions: list[Annotated[int, Field(ge=1, le=7)]]
    minutes: int | None = Field(default=None, ge=1, le=120)
    concern: str | None = Field(default=None, max_length=60)
    lines: list[LineDocument] = Field(default_factory=list, max_length=MAX_LINES)

    @model_validator(mode="after")
    def _rows_match_weeks(self) -> ProgramDocument:
        if len(self.sessions) != self.weeks:
            raise ValueError(f"sessions: {self.weeks} weeks need {self.weeks} entries, not {len(self.sessions)}")
        for line in self.lines:
            if len(line.cells) != self.weeks:
                raise ValueError(f"lines: {line.exercise} needs {self.weeks} cells, not {len(line.cells)}")
        if len({line.id for line in self.lines}) != len(self.lines):
            raise ValueError("lines: two rows have the same id")
        return self


def to_program(title: str, document: ProgramDocument, cards: Mapping[str, Card]) -> Program:
    """The document as the core understands it. Raises Refused for an exercise that is not in the catalogue."""
    lines = []
    for row in document.lines:
        if row.exercise not in cards:
            raise Refused(f"There is no exercise “{row.exercise}” in the catalogue. Take the row out.", "lines")
        lines.append(Line(row.id, cards[row.exercise], row.stage, tuple(row.cells)))
    return Program(title, document.weeks, tuple(document.sessions), document.minutes, tuple(lines))


def empty_document(weeks: int, minutes: int | None, concern: str | None) -> ProgramDocument:
    """A program without exercises: three sessions in the first week, then one more each week up to six."""
    return ProgramDocument(weeks=weeks, sessions=[min(3 + w, 6) for w in range(weeks)], minutes=minutes, concern=concern)
