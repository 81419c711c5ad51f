"""Writing programs: the sheet with its checks and remedies, filling along rungs, saving and versions without losing work."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.design.checks.body import lay_sides
from dimbo.core.design.checks.session import in_order
from dimbo.core.design.sheet import Sheet, compile_sheet
from dimbo.core.design.weeks import NOBODY, About
from dimbo.core.exercises.approach import approach
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose_line import DoseLineError
from dimbo.core.exercises.ladder import Ladder
from dimbo.core.programs.differences import Change, differences
from dimbo.core.programs.ordering import Placed, propose
from dimbo.core.programs.program import Line, Program, Settings
from dimbo.core.programs.progression import Filled, axes_for, card_ladder, fill_right, first_cells, lighten
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Ways
from dimbo.store.programs import programs
from dimbo.store.programs.programs import StoredProgram, Version
from dimbo.work.exercises import Shelf, shelf
from dimbo.work.shared.errors import Refused

from .check_context import about
from .documents import LineDocument, ProgramDocument, empty_document, from_program, to_program


def check(title: str, document: ProgramDocument, settings: Settings, cards: Mapping[str, Card], known: About = NOBODY) -> Sheet:
    """Compile a document with every check, under what is known about the client; nothing is stored."""
    return compile_sheet(to_program(title, document, cards), settings, known)


def rungs_of(card: Card, settings: Settings) -> Ladder:
    """All rungs of an exercise at a practice's settings."""
    return card_ladder(card, settings)


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
            raise Refused(f"There is no exercise “{exercise}” in the catalogue.", "exercise")
        return card

    def compile(self, program: Program) -> Sheet:
        return compile_sheet(program, self.settings, self.about)


def sheet_context(conn: Conn, coach: Person, client_id: UUID | None, now: datetime, program_id: UUID | None = None) -> SheetContext:
    """Raises NotThere."""
    books = shelf(conn, coach.practice_id)
    return SheetContext(clients.ways(conn, client_id), books, about(conn, coach, client_id, books, now=now, program_id=program_id))


def open_context(db: Database, coach: Person, client_id: UUID | None, now: datetime, program_id: UUID | None = None) -> SheetContext:
    """``sheet_context`` in a transaction of its own. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        return sheet_context(conn, coach, client_id, now, program_id)


def new_line(at: SheetContext, exercise: str, document: ProgramDocument) -> LineDocument:
    """A row for an exercise, climbing its rungs by calendar from its start dose. Raises Refused."""
    card = at.card(exercise)
    axes = axes_for(card, approach(document.approach))
    cells = first_cells(card, document.weeks, at.settings, axes=axes)
    return LineDocument(exercise=card.id, stage=card.stage, cells=list(cells))


def fill(at: SheetContext, document: ProgramDocument, row: str, week: int) -> Filled:
    """Fill the weeks after ``week`` of a row with the next rungs. Raises Refused for a row or week that is not there."""
    program = to_program("", document, at.shelf.cards)
    line = _line(program, row)
    if not 1 <= week <= program.weeks:
        raise Refused(f"There is no week {week} in this row.", "week")
    times = program.rounds_of(line.id) * len(line.when.parts)
    axes = axes_for(line.card, approach(program.approach))
    try:
        return fill_right(line.card, line.cells, week, at.settings, axes=axes, times_a_day=times)
    except DoseLineError as error:
        raise Refused(f"Week {week} cannot be read: {error.message}.", "cells") from error


def _line(program: Program, row: str) -> Line:
    line = next((n for n in program.lines if n.id == row), None)
    if line is None:
        raise Refused("This row is no longer in the program.", "line")
    return line


def remedied(at: SheetContext, document: ProgramDocument, rule: str, row: str | None) -> ProgramDocument:
    """Take the remedy of a note. Raises Refused when the note is gone or has no remedy."""
    program = to_program("", document, at.shelf.cards)
    note = next((n for n in at.compile(program).notes if n.rule == rule and n.line == row and n.fix), None)
    if note is None or note.fix is None:
        raise Refused("This note is settled already.", "rule")
    return from_program(note.fix.apply(program), document.concern)


def lightened(at: SheetContext, document: ProgramDocument, week: int) -> ProgramDocument:
    """Put a lighter week in, or take it out again. Raises Refused."""
    try:
        return from_program(lighten(to_program("", document, at.shelf.cards), week, at.settings), document.concern)
    except ValueError as error:
        raise Refused(f"{str(error)[0].upper()}{str(error)[1:]}.", "week") from error


def ordered(at: SheetContext, document: ProgramDocument) -> tuple[ProgramDocument, tuple[Placed, ...]]:
    """The document in the proposed order, and the reason for each place."""
    program = to_program("", document, at.shelf.cards)
    return from_program(in_order(program), document.concern), propose(program.lines)


def sided(at: SheetContext, document: ProgramDocument, row: str, side: str) -> ProgramDocument:
    """A row laid out for its weaker side as the approach does it: right, left, or level. Raises Refused."""
    program = to_program("", document, at.shelf.cards)
    _line(program, row)
    return from_program(lay_sides(program, row, Side(side) if side in ("right", "left") else None), document.concern)


def create(db: Database, coach: Person, client_id: UUID, title: str, weeks: int, now: datetime) -> UUID:
    """A new empty program for a client. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
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


def load(db: Database, coach: Person, program_id: UUID, now: datetime) -> OpenProgram:
    """A program with its compiled sheet. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        stored = programs.one(conn, program_id)
        at = sheet_context(conn, coach, stored.client_id, now, program_id)
        client = clients.one(conn, stored.client_id)
    document = ProgramDocument.model_validate(stored.document)
    sheet = at.compile(to_program(stored.title, document, at.shelf.cards))
    return OpenProgram(
        stored=stored,
        document=document,
        sheet=sheet,
        context=at,
        client_name=client.name,
        client_today=practice_day(now, zone(client.time_zone)),
    )


def save(db: Database, coach: Person, program_id: UUID, base_version: int, title: str, document: ProgramDocument) -> int:
    """Save as the next version. What cannot be read is kept as typed; assigning refuses it. Raises Conflict."""
    title = title.strip()
    if not title:
        raise Refused("Give the program a name.", "title")
    with db.practice(coach.practice_id) as conn:
        to_program(title, document, shelf(conn, coach.practice_id).cards)
        return programs.save(conn, program_id, base_version, title, document=plain(document), by=coach.id)


def versions(db: Database, coach: Person, program_id: UUID) -> list[Version]:
    """Every saved version, newest first. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        programs.one(conn, program_id)
        return programs.versions(conn, program_id)


def version_differences(db: Database, coach: Person, program_id: UUID, before: int, after: int) -> list[Change]:
    """What changed between two saved versions. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        cards = shelf(conn, coach.practice_id).cards
        pair = [programs.version(conn, program_id, number) for number in (before, after)]
    a, b = (to_program(title, ProgramDocument.model_validate(document), cards) for title, document in pair)
    return differences(a, b=b)


def restore(db: Database, coach: Person, program_id: UUID, number: int, base_version: int) -> int:
    """Make an old version the newest; the versions between stay. Raises NotThere, Conflict."""
    with db.practice(coach.practice_id) as conn:
        title, document = programs.version(conn, program_id, number)
        return programs.save(conn, program_id, base_version, title, document=document, by=coach.id)
