"""Programs in open formats: JSON with a published schema, out and in again; the sheet as CSV.

docs/formats/program.md tells the format, docs/formats/program.schema.json is made from the models below.
"""

from __future__ import annotations

import difflib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from dimbo.core.calendar.schedule import days_in_words
from dimbo.core.exercises.card import Card
from dimbo.core.programs.program import Program
from dimbo.store.database import Conn, Database
from dimbo.store.exercises import own
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.programs import programs
from dimbo.work.exercises import writing as own_exercises
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tables import Table

from .documents import LineDocument, ProgramDocument, to_program
from .writing import SheetContext, sheet_context, store_new

FORMAT = "dimbo-program"
VERSION = 1
MOST_BYTES = 2_000_000
LEAVE_OUT = ""
"""The choice for an unknown exercise that takes its rows out."""
BRING = "bring"
"""The choice for an unknown exercise that makes it one of the practice's own, where the file has it written."""


class ExerciseName(BaseModel):
    """An exercise that the program uses, so that another practice can tell what is meant."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    id: str = Field(max_length=60)
    name: str = Field(max_length=120)
    family: str = Field(default="", max_length=40)
    version: int = Field(default=1, ge=1)
    written: dict[str, Any] | None = None
    """For an exercise of the practice's own: how it is written, without clip and picture."""


class ProgramFile(BaseModel):
    """A program as one JSON document."""

    model_config = ConfigDict(extra="ignore", frozen=True, title="Dimbo program, version 1")

    format: Literal["dimbo-program"]
    version: Literal[1]
    title: Annotated[str, Field(min_length=1, max_length=120)]
    count_pace_s: float = Field(default=1.0, ge=0.5, le=3)
    program: ProgramDocument
    exercises: list[ExerciseName] = Field(default_factory=list, max_length=200)

    @model_validator(mode="after")
    def circuits_name_their_rows(self) -> ProgramFile:
        here = {n.id for n in self.program.lines}
        for place, circuit in enumerate(self.program.circuits, start=1):
            if gone := [i for i in circuit.lines if i not in here]:
                raise ValueError(f"circuit {place} names the row “{gone[0]}”, which is not in the program")
        return self


def schema() -> dict[str, Any]:
    """The JSON Schema of the format."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "urn:dimbo:program:1", **ProgramFile.model_json_schema()}


def to_file(title: str, document: ProgramDocument, cards: Mapping[str, Card], *, pace_s: float, entries: Mapping[str, Any]) -> ProgramFile:
    """A program as it is handed on; who it is for stays here. ``entries`` are those of the practice's own exercises, by id."""
    used = [cards[i] for i in dict.fromkeys(n.exercise for n in document.lines)]
    names = [
        ExerciseName(id=c.id, name=c.name, family=c.family.value, version=c.version, written=_alone(entries[c.id]) if c.own else None)
        for c in used
    ]
    return ProgramFile(
        format="dimbo-program",
        version=VERSION,
        title=title,
        count_pace_s=pace_s,
        program=document.model_copy(update={"concern": None}),
        exercises=names,
    )


def _alone(entry: Mapping[str, Any]) -> dict[str, Any]:
    """An exercise without what is kept beside it, and without what it builds on here."""
    return {**entry, "clip": None, "picture": None, "after": []}


def read_file(data: bytes) -> ProgramFile:
    """Read and validate. Raises Refused that says where and what."""
    if len(data) > MOST_BYTES:
        raise Refused(
            Why.BOUNDS, f"The file is larger than {MOST_BYTES // 1_000_000} MB. A program is never that large; choose another file.", "file"
        )
    try:
        found = json.loads(data.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise Refused(Why.UNREADABLE, "The file is not text in UTF-8. Choose a program that was exported as JSON.", "file") from error
    except json.JSONDecodeError as error:
        raise Refused(
            Why.UNREADABLE, f"The file is broken at line {error.lineno}, column {error.colno}: {error.msg}. Export it again.", "file"
        ) from error
    except RecursionError as error:
        raise Refused(Why.BOUNDS, "The file is nested too deep to be a program.", "file") from error
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise Refused(Why.UNKNOWN, "This is no program: the file does not say “format”: “dimbo-program”.", "file")
    version = found.get("version")
    if isinstance(version, int) and version > VERSION:
        raise Refused(
            Why.BOUNDS,
            f"The file is of version {version}; this installation reads version {VERSION}. Update it, or export an older version.",
            "file",
        )
    try:
        return ProgramFile.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise Refused(Why.UNREADABLE, f"{where or 'The file'}: {first['msg'].removeprefix('Value error, ')}.", "file") from error


@dataclass(frozen=True)
class Unknown:
    """An exercise of a file that this practice does not have, with those that are most like it."""

    id: str
    name: str
    rows: int
    like: tuple[Card, ...]
    comes: bool
    """Whether the file has it written, so that it can be brought in."""


@dataclass(frozen=True)
class Preview:
    """What an import would make; nothing is stored."""

    file: ProgramFile
    known: int
    unknown: tuple[Unknown, ...]


def preview(at: SheetContext, data: bytes) -> Preview:
    """Read a file and say what is not known here. Raises Refused."""
    file = read_file(data)
    names = {e.id: e for e in file.exercises}
    cards = at.shelf.offered
    by_name = {c.name.lower(): c for c in cards.values()}
    unknown = []
    for exercise in dict.fromkeys(n.exercise for n in file.program.lines):
        if exercise in at.shelf.cards:
            continue
        told = names.get(exercise, ExerciseName(id=exercise, name=exercise))
        close = difflib.get_close_matches(told.name.lower(), list(by_name), n=3, cutoff=0.4)
        family = [c for c in cards.values() if c.family.value == told.family][:3]
        like = tuple({c.id: c for c in [*(by_name[n] for n in close), *family]}.values())[:5]
        rows = sum(n.exercise == exercise for n in file.program.lines)
        unknown.append(Unknown(exercise, name=told.name, rows=rows, like=like, comes=told.written is not None))
    known = len({n.exercise for n in file.program.lines} & set(at.shelf.cards))
    return Preview(file, known, tuple(unknown))


def mapped(file: ProgramFile, at: SheetContext, choices: Mapping[str, str]) -> ProgramDocument:
    """The file's program with unknown exercises replaced or left out as chosen. Raises Refused for one without a choice."""
    lines: list[LineDocument] = []
    for row in file.program.lines:
        exercise = row.exercise
        if exercise not in at.shelf.cards:
            if exercise not in choices:
                raise Refused(Why.NEEDED, f"Choose what becomes of “{exercise}”: another exercise, or leave it out.", "choices")
            exercise = choices[exercise]
            if exercise == LEAVE_OUT:
                continue
            card = at.card(exercise)
            row = row.model_copy(update={"exercise": exercise, "stage": card.stage})
        lines.append(row)
    here = {n.id for n in lines}
    circuits = [c.model_copy(update={"lines": left}) for c in file.program.circuits if (left := [i for i in c.lines if i in here])]
    document = file.program.model_copy(update={"lines": lines, "circuits": circuits})
    to_program(file.title, document, at.shelf.cards)
    return document


def _bring(conn: Conn, coach: Person, file: ProgramFile, choices: Mapping[str, str]) -> dict[str, str]:
    """Make what is brought in the practice's own; returns the choices with their new ids. Raises Refused, Conflict."""
    out = dict(choices)
    for exercise in file.exercises:
        if choices.get(exercise.id) == BRING:
            if exercise.written is None:
                raise Refused(
                    Why.UNKNOWN, f"The file does not say how “{exercise.name}” is done. Take another, or leave it out.", "choices"
                )
            if coach.standing == "assistant":
                raise Refused(Why.NOT_YOURS, "Own exercises are written by coaches. Ask one, or take another exercise.", "choices")
            out[exercise.id] = own_exercises.create_in(conn, coach, exercise.family, document=exercise.written)
    return out


def look(db: Database, coach: Person, client_id: UUID, data: bytes, now: datetime) -> Preview:
    """Raises Refused, NotThere."""
    with db.of(coach) as conn:
        return preview(sheet_context(conn, coach, client_id, now), data)


def carry_in(db: Database, coach: Person, client_id: UUID, data: bytes, choices: Mapping[str, str], now: datetime) -> UUID:
    """Make a new program of a file; no program is ever written over. Raises Refused, NotThere."""
    with db.of(coach) as conn:
        file = read_file(data)
        brought = _bring(conn, coach, file, choices)
        document = mapped(file, sheet_context(conn, coach, client_id, now), brought)
        return store_new(conn, coach, client_id, file.title, document)


def carry_out(db: Database, coach: Person, program_id: UUID) -> tuple[str, str]:
    """A program's title and its JSON. Raises NotThere."""
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
        at = sheet_context(conn, coach, None, stored.updated_at)
        pace_s = clients.settings(conn, stored.client_id).pace_s
        document = ProgramDocument.model_validate(stored.document)
        entries = {i: own.one(conn, i).entry for i in {n.exercise for n in document.lines} if at.shelf.cards[i].own}
    file = to_file(stored.title, document, at.shelf.cards, pace_s=pace_s, entries=entries)
    return stored.title, json.dumps(file.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def sheet(program: Program) -> Table:
    """The sheet as a table: one row per exercise, one column per week, doses as dose lines."""
    weeks = [f"week {w}" for w in range(1, program.weeks + 1)]
    rows = [["", "days a week", "", "", *(days_in_words(s) for s in program.sessions)]]
    rows += [[n.stage.value, n.card.name, n.card.family.value, n.when.value, *n.cells] for n in program.lines]
    return Table(name="program", columns=("stage", "exercise", "family", "when", *weeks), rows=rows)


def carry_out_sheet(db: Database, coach: Person, program_id: UUID) -> tuple[str, Table]:
    """A program's title and its sheet. Raises NotThere."""
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
        at = sheet_context(conn, coach, None, stored.updated_at)
    return stored.title, sheet(to_program(stored.title, ProgramDocument.model_validate(stored.document), at.shelf.cards))
