"""The program document: what the sheet edits and the store keeps, and its way into the core and back."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated
from uuid import uuid4

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints, model_validator

from dimbo.core.anatomy import Stage
from dimbo.core.calendar.schedule import EVERY_OTHER
from dimbo.core.exercises.approach import APPROACHES, DEFAULT_APPROACH
from dimbo.core.exercises.card import Card
from dimbo.core.programs.program import MAX_LINES, MAX_ROUNDS, MAX_WEEKS, Circuit, Line, Mode, Program, When
from dimbo.core.review.thresholds import checked_rules
from dimbo.work.shared.errors import Refused, Why

CellText = Annotated[str, StringConstraints(max_length=120)]


def _days(value: float) -> float:
    if value != EVERY_OTHER and value != int(value):
        raise ValueError(f"days a week are 1 to 7, or {EVERY_OTHER} for every other day")
    return value


DaysAWeek = Annotated[float, Field(ge=1, le=7), AfterValidator(_days)]


class LineDocument(BaseModel):
    """One row: an exercise, its stage, a dose line for each week ("" rests), and when it is practised."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    id: str = Field(default_factory=lambda: uuid4().hex[:12], min_length=1, max_length=40)
    exercise: str = Field(max_length=60)
    stage: Stage
    cells: list[CellText]
    when: When = When.MORNING
    days: list[DaysAWeek] | None = None
    note: Annotated[str, StringConstraints(max_length=400)] = ""
    why: Annotated[str, StringConstraints(max_length=1200)] = ""
    flows: bool = False


class CircuitDocument(BaseModel):
    """Rows that stand together and are gone through several times."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    lines: list[str] = Field(min_length=1, max_length=MAX_LINES)
    rounds: int = Field(ge=2, le=MAX_ROUNDS)


class ProgramDocument(BaseModel):
    """A program as one document. ``sessions`` and every row's cells have one entry per week."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    weeks: int = Field(ge=1, le=MAX_WEEKS)
    sessions: list[DaysAWeek]
    minutes: int | None = Field(default=None, ge=1, le=120)
    concern: str | None = Field(default=None, max_length=60)
    mode: Mode = Mode.CALENDAR
    approach: str = DEFAULT_APPROACH
    lighter: list[Annotated[int, Field(ge=2, le=MAX_WEEKS)]] = Field(default_factory=list, max_length=MAX_WEEKS)
    circuits: list[CircuitDocument] = Field(default_factory=list, max_length=10)
    expectations: Annotated[str, StringConstraints(max_length=1000)] = ""
    review: dict[str, float] = Field(default_factory=dict, max_length=20)
    """The program's own thresholds of the weekly review; the practice's hold for the rest."""
    lines: list[LineDocument] = Field(default_factory=list, max_length=MAX_LINES)

    @model_validator(mode="after")
    def _rows_match_weeks(self) -> ProgramDocument:
        if len(self.sessions) != self.weeks:
            raise ValueError(f"sessions: {self.weeks} weeks need {self.weeks} entries, not {len(self.sessions)}")
        for line in self.lines:
            if len(line.cells) != self.weeks:
                raise ValueError(f"lines: {line.exercise} needs {self.weeks} cells, not {len(line.cells)}")
            if line.days is not None and len(line.days) != self.weeks:
                raise ValueError(f"lines: the days of {line.exercise} need {self.weeks} entries, not {len(line.days)}")
        if len({line.id for line in self.lines}) != len(self.lines):
            raise ValueError("lines: two rows have the same id")
        checked_rules(self.review)
        if self.approach not in APPROACHES:
            raise ValueError(f"approach: there is no “{self.approach}”; choose from {', '.join(APPROACHES)}")
        return self


def to_program(title: str, document: ProgramDocument, cards: Mapping[str, Card]) -> Program:
    """The document as the core understands it. Raises Refused for what is not in the catalogue or does not fit together."""
    lines = []
    for row in document.lines:
        if row.exercise not in cards:
            raise Refused(Why.UNKNOWN, f"There is no exercise “{row.exercise}” in the catalogue. Take the row out.", "lines")
        days = tuple(row.days) if row.days is not None else None
        lines.append(
            Line(
                id=row.id,
                card=cards[row.exercise],
                stage=row.stage,
                cells=tuple(row.cells),
                when=row.when,
                days=days,
                note=row.note,
                why=row.why,
                flows=row.flows,
            )
        )
    try:
        return Program(
            title=title,
            weeks=document.weeks,
            sessions=tuple(document.sessions),
            minutes=document.minutes,
            lines=tuple(lines),
            mode=document.mode,
            lighter=frozenset(document.lighter),
            circuits=tuple(Circuit(tuple(c.lines), c.rounds) for c in document.circuits),
            expectations=document.expectations,
            approach=document.approach,
            review=tuple(sorted(document.review.items())),
        )
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"{str(error)[0].upper()}{str(error)[1:]}.", "document") from error


def from_program(program: Program, concern: str | None = None) -> ProgramDocument:
    """A program of the core as a document."""
    return ProgramDocument(
        weeks=program.weeks,
        sessions=list(program.sessions),
        minutes=program.minutes,
        concern=concern,
        mode=program.mode,
        approach=program.approach,
        lighter=sorted(program.lighter),
        circuits=[CircuitDocument(lines=list(c.lines), rounds=c.rounds) for c in program.circuits],
        expectations=program.expectations,
        review=dict(program.review),
        lines=[
            LineDocument(
                id=n.id,
                exercise=n.card.id,
                stage=n.stage,
                cells=list(n.cells),
                when=n.when,
                days=list(n.days) if n.days is not None else None,
                note=n.note[:400],
                why=n.why[:1200],
                flows=n.flows,
            )
            for n in program.lines
        ],
    )


def empty_document(weeks: int, minutes: int | None, approach: str = DEFAULT_APPROACH) -> ProgramDocument:
    """A program without exercises; its days a week rise as the approach has them."""
    school = APPROACHES[approach]
    ramp = [float(min(school.start_sessions + w, school.target_sessions)) for w in range(weeks)]
    return ProgramDocument(weeks=weeks, sessions=ramp, minutes=minutes, approach=approach)
