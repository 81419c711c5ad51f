"""Writing programs: the sheet with its checks, filling along rungs, saving without losing anybody's work."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import STAGE_ORDER, Side
from dimbo.core.card import Card
from dimbo.core.cautions import Cautions, Effect
from dimbo.core.dose_line import DoseLineError, parse, print_line
from dimbo.core.program import Settings
from dimbo.core.rungs import Ladder, ladder
from dimbo.core.schedule import practice_day, zone
from dimbo.core.sheet import NOTHING_HELD, Sheet, compile_sheet
from dimbo.store import clients, programs
from dimbo.store.accounts import Person
from dimbo.store.database import Database
from dimbo.store.programs import StoredProgram

from .documents import LineDocument, ProgramDocument, empty_document, to_program
from .errors import Refused
from .intake import cautions_of

DRAFT_LINES = 5


def cards() -> Mapping[str, Card]:
    """The exercises that a program may use, by id."""
    return shipped_catalogue().cards


def check(title: str, document: ProgramDocument, settings: Settings, cautions: Cautions = NOTHING_HELD) -> Sheet:
    """Compile a document with every check, under what stands over the client; nothing is stored."""
    return compile_sheet(to_program(title, document, cards()), settings, cautions)


def card_ladder(card: Card, settings: Settings, start: str | None = None, target: str | None = None) -> Ladder:
    """Rungs of an exercise between two lines (its own start and target where none is given). Raises Refused."""
    try:
        first, last = parse(start or card.start_line, card.style), parse(target or card.target_line, card.style)
        return ladder(
            first, last, card.axes, pace_s=settings.pace_s, ceiling=card.ceiling, sessions=(card.start_sessions, card.target_sessions)
        )
    except (DoseLineError, ValueError) as error:
        raise Refused(f"{card.name} has no rungs from here to its target: {error}") from error


def new_line(card: Card, weeks: int, settings: Settings) -> LineDocument:
    """A row for an exercise, climbing its rungs by calendar from its start dose."""
    steps = card_ladder(card, settings)
    cells = [print_line(steps.at_week(w, weeks).dose, card.style) for w in range(1, weeks + 1)]
    return LineDocument(exercise=card.id, stage=card.stage, cells=cells)


@dataclass(frozen=True)
class Filled:
    """Cells from a week on, and why they stop rising if they do."""

    cells: list[str]
    remark: str


def fill_right(card: Card, cells: list[str], week: int, settings: Settings) -> Filled:
    """Fill the weeks after ``week`` with the next rungs from that week's dose toward the card's target."""
    text = cells[week - 1]
    if not text.strip():
        return Filled([*cells[:week], *([""] * (len(cells) - week))], "An empty cell fills as rest.")
    try:
        here = parse(text, card.style)
    except DoseLineError as error:
        raise Refused(f"Week {week} cannot be read: {error.message}.", "cells") from error
    line = print_line(here, card.style)
    try:
        steps = ladder(here, parse(card.target_line, card.style), card.axes, pace_s=settings.pace_s, ceiling=card.ceiling)
    except ValueError:
        rest = [line] * (len(cells) - week)
        return Filled([*cells[: week - 1], line, *rest], f"This dose is laid out unlike {card.name}’s target, so it stays.")
    rungs = [print_line(r.dose, card.style) for r in steps.rungs]
    out = [rungs[min(k, len(rungs) - 1)] for k in range(len(cells) - week + 1)]
    remark = "" if len(rungs) > len(cells) - week else "The daily ceiling ends the rise." if steps.capped else "The target is reached."
    return Filled([*cells[: week - 1], *out], remark)


def draft(document: ProgramDocument, settings: Settings, cautions: Cautions = NOTHING_HELD) -> ProgramDocument:
    """A first draft for the concern: its own exercises with what prepares and ends a session, in stage order.

    Foundations come before what builds on them; exercises stop being added when the client's minutes are full, and
    those that a caution locks are left out.
    """
    wanted = [c for c in cards().values() if document.concern in c.concerns and c.family.contracts]
    needed = [cards()[i] for c in wanted for i, _ in c.after]
    work = list(dict.fromkeys([*needed, *wanted]))[:DRAFT_LINES]
    around = [c for c in cards().values() if not c.family.contracts and document.concern in c.concerns]
    lines: list[LineDocument] = []
    first = [cards()[i] for i in _FRAME]
    for card in [*first[:2], *work, *first[2:], *(c for c in around if c.id not in _FRAME)]:
        if cautions.of(card).effect is Effect.LOCK:
            continue
        more = sorted(
            [*lines, new_line(card, document.weeks, settings)], key=lambda n: (STAGE_ORDER[n.stage], bool(cards()[n.exercise].after))
        )
        trial = document.model_copy(update={"lines": more})
        longest = max(w.seconds for w in check("draft", trial, settings).weeks)
        if document.minutes is None or longest <= document.minutes * 60:
            lines = more
    return _gentle(document.model_copy(update={"lines": lines}), settings)


def _gentle(document: ProgramDocument, settings: Settings) -> ProgramDocument:
    """Lines wait a week, the steepest first, until no session rises by more than the limit."""
    for week in range(2, document.weeks + 1):
        for _ in document.lines:
            sheet = check("draft", document, settings)
            if not any(n.rule == "steep-session" and week in n.weeks for n in sheet.notes):
                break

            def rise(line: LineDocument, sheet: Sheet = sheet, week: int = week) -> float:
                card, cells = cards()[line.exercise], sheet.cells[line.id]
                now, before = cells[week - 1].dose, cells[week - 2].dose
                if now is None or before is None:
                    return 0.0
                return max(card.contraction_s(now, s, settings.pace_s) - card.contraction_s(before, s, settings.pace_s) for s in Side)

            steepest = max(document.lines, key=rise)
            waits = [*steepest.cells[: week - 1], steepest.cells[week - 2], *steepest.cells[week - 1 : -1]]
            lines = [n.model_copy(update={"cells": waits}) if n.id == steepest.id else n for n in document.lines]
            document = document.model_copy(update={"lines": lines})
    return document


_FRAME = ("settle-breath", "warm-palms", "face-rain", "elbow-wheels", "chewer-circles", "temple-wide", "neck-side-drain")
"""What prepares, loosens, wakes, releases, drains and closes around the work, most wanted first."""


def create(db: Database, coach: Person, client_id: UUID, title: str, weeks: int, concern: str | None, now: datetime) -> UUID:
    """A new program for a client, drafted for a concern if one is named."""
    with db.practice(coach.practice_id) as conn:
        client = clients.one(conn, client_id)
        settings = clients.settings(conn, client_id)
        document = empty_document(weeks, client.minutes, concern)
        if concern:
            if concern not in shipped_catalogue().concerns:
                raise Refused(f"There is no concern “{concern}”.", "concern")
            document = draft(document, settings, cautions_of(conn, client, now))
        return programs.create(conn, coach.practice_id, client_id, title.strip() or "New program", _plain(document), coach.id)


def _plain(document: ProgramDocument) -> dict[str, Any]:
    return document.model_dump(mode="json")


@dataclass(frozen=True)
class OpenProgram:
    stored: StoredProgram
    document: ProgramDocument
    sheet: Sheet
    settings: Settings
    client_name: str
    client_today: date


def load(db: Database, coach: Person, program_id: UUID, now: datetime) -> OpenProgram:
    """A program with its compiled sheet. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        stored = programs.one(conn, program_id)
        settings = clients.settings(conn, stored.client_id)
        client = clients.one(conn, stored.client_id)
        cautions = cautions_of(conn, client, now)
    document = ProgramDocument.model_validate(stored.document)
    sheet = check(stored.title, document, settings, cautions)
    return OpenProgram(stored, document, sheet, settings, client.name, practice_day(now, zone(client.time_zone)))


def check_for(db: Database, coach: Person, client_id: UUID | None, document: ProgramDocument, now: datetime) -> tuple[Sheet, Settings]:
    """Check a document that is being edited, for a client if one is named. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        settings = clients.settings(conn, client_id)
        cautions = cautions_of(conn, clients.one(conn, client_id), now) if client_id else NOTHING_HELD
    return check("draft", document, settings, cautions), settings


def settings_for(db: Database, coach: Person, client_id: UUID | None) -> Settings:
    with db.practice(coach.practice_id) as conn:
        return clients.settings(conn, client_id)


def save(db: Database, coach: Person, program_id: UUID, base_version: int, title: str, document: ProgramDocument) -> int:
    """Save as the next version. What cannot be read is kept as typed; assigning refuses it. Raises Conflict."""
    title = title.strip()
    if not title:
        raise Refused("Give the program a name.", "title")
    to_program(title, document, cards())
    with db.practice(coach.practice_id) as conn:
        return programs.save(conn, program_id, base_version, title, _plain(document), coach.id)
