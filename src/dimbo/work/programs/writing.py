"""Writing programs: the sheet with its checks and remedies, filling along rungs, saving and versions without losing work."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.design.checks.body import lay_sides
from dimbo.core.design.checks.session import in_order
from dimbo.core.design.sheet import Sheet, compile_sheet
from dimbo.core.design.weeks import About
from dimbo.core.exercises.approach import approach
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.exercises.dose_tokens import DoseLineError
from dimbo.core.programs.differences import Change, differences
from dimbo.core.programs.ordering import Placed, propose
from dimbo.core.programs.program import Line, Program, Settings
from dimbo.core.programs.progression import Filled, axes_for, fill_right, first_cells, lighten
from dimbo.core.programs.week_standing import WeekStanding, standings
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Ways
from dimbo.store.plans import assignments
from dimbo.store.programs import programs
from dimbo.store.programs.programs import StoredProgram, Version
from dimbo.work.exercises.shelf import Shelf, shelf
from dimbo.work.shared.errors import Refused, Why

from .check_context import about
from .documents import LineDocument, ProgramDocument, empty_document, from_program, to_program


@dataclass(frozen=True)
class SheetContext:
    """What a sheet is edited with: the practice's ways, its exercises, and what is known about the client."""

    ways: Ways
    shelf: Shelf
    about: About

    @property
    def settings(self) -> Settings:
        return self.ways.settings

    def card(self, exercise: str) -> Card:
        """Raises Refused."""
        card = self.shelf.cards.get(exercise)
        if card is None:
            raise Refused(Why.UNKNOWN, f"There is no exercise “{exercise}” in the catalogue.", "exercise")
        return card

    def program(self, document: ProgramDocument, title: str = "") -> Program:
        """A document with its exercises. Raises Refused."""
        return to_program(title, document, self.shelf.cards)

    def compile(self, program: Program) -> Sheet:
        """A program with every check, under what is known about the client; nothing is stored."""
        return compile_sheet(program, self.settings, self.about)


def sheet_context(conn: Conn, coach: Person, client_id: UUID | None, now: datetime, program_id: UUID | None = None) -> SheetContext:
    """Raises NotThere."""
    books = shelf(conn, coach.practice_id)
    return SheetContext(clients.ways(conn, client_id), books, about(conn, coach, client_id, books, now=now, program_id=program_id))


def open_context(db: Database, coach: Person, client_id: UUID | None, now: datetime, program_id: UUID | None = None) -> SheetContext:
    """``sheet_context`` in a transaction of its own. Raises NotThere."""
    with db.of(coach) as conn:
        return sheet_context(conn, coach, client_id, now, program_id)


def new_line(at: SheetContext, exercise: str, document: ProgramDocument) -> LineDocument:
    """A row for an exercise, climbing its rungs by calendar from its start dose. Raises Refused."""
    card = at.card(exercise)
    axes = axes_for(card, approach(document.approach))
    cells = first_cells(card, document.weeks, at.settings, axes=axes)
    return LineDocument(exercise=card.id, stage=card.stage, cells=list(cells))


def fill(at: SheetContext, document: ProgramDocument, row: str, week: int) -> Filled:
    """Fill the weeks after ``week`` of a row with the next rungs. Raises Refused for a row or week that is not there."""
    program = at.program(document)
    line = _line(program, row)
    if not 1 <= week <= program.weeks:
        raise Refused(Why.UNKNOWN, f"There is no week {week} in this row.", "week")
    try:
        return fill_right(program, line, week, at.settings)
    except DoseLineError as error:
        raise Refused(Why.UNREADABLE, f"Week {week} cannot be read: {error.message}.", "cells") from error


def _line(program: Program, row: str) -> Line:
    line = next((n for n in program.lines if n.id == row), None)
    if line is None:
        raise Refused(Why.CHANGED, "This row is no longer in the program.", "line")
    return line


def remedied(at: SheetContext, document: ProgramDocument, rule: str, row: str | None) -> ProgramDocument:
    """Take the remedy of a note. Raises Refused when the note is gone or has no remedy."""
    program = at.program(document)
    note = next((n for n in at.compile(program).notes if n.rule == rule and n.line == row and n.fix), None)
    if note is None or note.fix is None:
        raise Refused(Why.CHANGED, "This note is settled already.", "rule")
    return from_program(note.fix.apply(program), document.concern)


def lightened(at: SheetContext, document: ProgramDocument, week: int) -> ProgramDocument:
    """Put a lighter week in, or take it out again. Raises Refused."""
    try:
        return from_program(lighten(at.program(document), week, at.settings), document.concern)
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"{str(error)[0].upper()}{str(error)[1:]}.", "week") from error


def ordered(at: SheetContext, document: ProgramDocument) -> tuple[ProgramDocument, tuple[Placed, ...]]:
    """The document in the proposed order, and the reason for each place."""
    program = at.program(document)
    return from_program(in_order(program), document.concern), propose(program.lines)


def sided(at: SheetContext, document: ProgramDocument, row: str, side: str) -> ProgramDocument:
    """A row laid out for its weaker side as the approach does it: right, left, or level. Raises Refused."""
    program = at.program(document)
    _line(program, row)
    return from_program(lay_sides(program, row, Side(side) if side in ("right", "left") else None), document.concern)


def create(db: Database, coach: Person, client_id: UUID, title: str, weeks: int, now: datetime) -> UUID:
    """A new empty program for a client. Raises NotThere."""
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        document = empty_document(weeks, minutes=client.minutes, approach=clients.ways(conn, client_id).approach)
        return store_new(conn, coach, client_id, title or "New program", document)


def store_new(conn: Conn, coach: Person, client_id: UUID, title: str, document: ProgramDocument) -> UUID:
    """Keep a document as a client's new program."""
    return programs.create(conn, coach.practice_id, client_id, title.strip()[:120] or "New program", document=plain(document), by=coach.id)


def plain(document: ProgramDocument) -> dict[str, Any]:
    """A document as it is stored."""
    return document.model_dump(mode="json")


@dataclass(frozen=True, kw_only=True)
class OpenProgram:
    stored: StoredProgram
    document: ProgramDocument
    sheet: Sheet
    context: SheetContext
    client_name: str
    client_today: date
    standing: list[WeekStanding]


def load(db: Database, coach: Person, program_id: UUID, now: datetime) -> OpenProgram:
    """A program with its compiled sheet. Raises NotThere."""
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
        at = sheet_context(conn, coach, stored.client_id, now, program_id)
        client = clients.one(conn, stored.client_id)
        laid_out = assignments.weeks_of_program(conn, program_id)
    document = ProgramDocument.model_validate(stored.document)
    sheet = at.compile(at.program(document, stored.title))
    today = practice_day(now, zone(client.time_zone))
    return OpenProgram(
        stored=stored,
        document=document,
        sheet=sheet,
        context=at,
        client_name=client.name,
        client_today=today,
        standing=standings(laid_out, document.weeks, version=stored.version, today=today),
    )


def canonical(document: ProgramDocument, compiled: Sheet) -> ProgramDocument:
    """A document with every dose that can be read as its canonical line, and the rest as it was typed."""

    def line(row: LineDocument) -> LineDocument:
        card = next(n.card for n in compiled.program.lines if n.id == row.id)
        read = zip(row.cells, compiled.cells[row.id], strict=True)
        cells = [print_line(cell.dose, card.style) if cell.dose else text for text, cell in read]
        return row.model_copy(update={"cells": cells})

    return document.model_copy(update={"lines": [line(row) for row in document.lines]})


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetEdit:
    """A sheet as somebody left it: over which revision, what it says, and which open sheet it comes from."""

    base_revision: int
    title: str
    document: ProgramDocument
    sheet: UUID | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """A sheet as it was kept, and what the checks say of it."""

    version: int
    revision: int
    compiled: Sheet
    settings: Settings


def named(title: str, what: str) -> str:
    """A title without room around it. Raises Refused for none."""
    if not title.strip():
        raise Refused(Why.NEEDED, f"Give the {what} a name.", "title")
    return title.strip()


def save(db: Database, coach: Person, program_id: UUID, edit: SheetEdit, now: datetime) -> Kept:
    """Check and keep in one go. What cannot be read is kept as typed; assigning refuses it. Raises NotThere, Conflict, Refused."""
    title = named(edit.title, what="program")
    with db.of(coach) as conn:
        client_id = programs.one(conn, program_id).client_id
        at = sheet_context(conn, coach, client_id, now, program_id)
        compiled = at.compile(at.program(edit.document, title))
        document = plain(canonical(edit.document, compiled))
        saved = programs.save(conn, program_id, edit.base_revision, title, document=document, by=coach.id, sheet=edit.sheet)
    return Kept(version=saved.version, revision=saved.revision, compiled=compiled, settings=at.settings)


def versions(db: Database, coach: Person, program_id: UUID) -> list[Version]:
    """Every saved version, newest first. Raises NotThere."""
    with db.of(coach) as conn:
        programs.one(conn, program_id)
        return programs.versions(conn, program_id)


def version_differences(db: Database, coach: Person, program_id: UUID, before: int, after: int) -> list[Change]:
    """What changed between two saved versions. Raises NotThere."""
    with db.of(coach) as conn:
        cards = shelf(conn, coach.practice_id).cards
        pair = [programs.version(conn, program_id, number) for number in (before, after)]
    a, b = (to_program(title, ProgramDocument.model_validate(document), cards) for title, document in pair)
    return differences(a, b=b)


def restore(db: Database, coach: Person, program_id: UUID, number: int, base_revision: int) -> int:
    """Make an old version the newest; the versions between stay. Raises NotThere, Conflict."""
    with db.of(coach) as conn:
        title, document = programs.version(conn, program_id, number)
        return programs.save(conn, program_id, base_revision, title, document=document, by=coach.id).version
