"""Templates: those that ship and those that a practice keeps; doses are kept by rungs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from uuid import UUID

from dimbo.catalogue import shipped_catalogue
from dimbo.catalogue.templates import shipped_templates
from dimbo.core.design.miniature import Miniature, miniature
from dimbo.core.design.weeks import work_out
from dimbo.core.exercises.approach import approach
from dimbo.core.programs.program import Program, Settings
from dimbo.core.programs.progression import axes_for
from dimbo.core.programs.relative_doses import relative_cells, resolved_cells
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.programs import programs, templates
from dimbo.work.shared.errors import Refused, Why

from .documents import ProgramDocument, from_program, to_program
from .writing import Kept, SheetContext, SheetEdit, named, plain, sheet_context


@dataclass(frozen=True, kw_only=True)
class Template:
    """A template to choose from. ``own`` ones can be changed; ``version`` is 0 for those that ship."""

    id: str
    title: str
    about: str
    weeks: int
    minutes: int | None
    lines: int
    approach: str
    concerns: tuple[str, ...]
    own: bool
    version: int
    saved_by: str | None
    miniature: Miniature | None
    """Nothing where an own one does not work out any more, because an exercise of it is gone."""


@lru_cache(maxsize=256)
def _shipped_at_a_glance(template_id: str, settings: Settings) -> Miniature:
    return miniature(work_out(shipped_templates()[template_id].program(settings, shipped_catalogue().cards), settings))


def _at_a_glance(title: str, document: ProgramDocument, at: SheetContext) -> Miniature | None:
    try:
        return miniature(work_out(to_program(title, _resolved(document, at), at.shelf.cards), at.settings))
    except (Refused, ValueError):
        return None


def _resolved(document: ProgramDocument, at: SheetContext) -> ProgramDocument:
    """Cells by rungs as dose lines at the practice's settings. Raises Refused."""
    lines = []
    for row in document.lines:
        card = at.card(row.exercise)
        try:
            cells = resolved_cells(card, row.cells, at.settings, axes_for(card, approach(document.approach)))
        except ValueError as error:
            raise Refused(Why.UNREADABLE, f"{error}.", "lines") from error
        lines.append(row.model_copy(update={"cells": list(cells)}))
    return document.model_copy(update={"lines": lines})


def relative(document: ProgramDocument, at: SheetContext) -> ProgramDocument:
    """Dose lines said by rungs where they stand on one; who it was for and why a row was chosen are left away."""
    lines = []
    for row in document.lines:
        card = at.card(row.exercise)
        cells = relative_cells(card, row.cells, at.settings, axes_for(card, approach(document.approach)))
        lines.append(row.model_copy(update={"cells": cells, "why": ""}))
    return document.model_copy(update={"lines": lines, "concern": None})


def document_of(conn: Conn, at: SheetContext, template_id: str) -> tuple[str, ProgramDocument, int]:
    """Title, document and version of a template. Raises NotThere, Refused."""
    shipped = shipped_templates().get(template_id)
    if shipped:
        return shipped.entry.title, from_program(shipped.program(at.settings, at.shelf.cards)), 0
    try:
        stored = templates.one(conn, UUID(template_id))
    except ValueError as error:
        raise NotThere("There is no such template.") from error
    return stored.title, _resolved(ProgramDocument.model_validate(stored.document), at), stored.version


def program_of(conn: Conn, at: SheetContext, template_id: str) -> Program:
    """A template as a program at the practice's settings. Raises NotThere, Refused."""
    title, document, _ = document_of(conn, at, template_id)
    return to_program(title, document, at.shelf.cards)


def every(db: Database, coach: Person, now: datetime) -> list[Template]:
    """The practice's own first, then those that ship."""
    with db.of(coach) as conn:
        own = templates.every(conn)
        at = sheet_context(conn, coach, None, now)
    cards = at.shelf.cards
    out = []
    for t in own:
        document = ProgramDocument.model_validate(t.document)
        here = [cards[n.exercise] for n in document.lines if n.exercise in cards]
        concerns = tuple(dict.fromkeys(c for card in here if card.family.contracts for c in card.concerns[:1]))
        out.append(
            Template(
                id=str(t.id),
                title=t.title,
                about=t.about,
                weeks=document.weeks,
                minutes=document.minutes,
                lines=len(document.lines),
                approach=document.approach,
                concerns=concerns,
                own=True,
                version=t.version,
                saved_by=t.saved_by,
                miniature=_at_a_glance(t.title, document, at),
            )
        )
    for i, s in shipped_templates().items():
        e = s.entry
        out.append(
            Template(
                id=i,
                title=e.title,
                about=e.about,
                weeks=e.weeks,
                minutes=e.minutes,
                lines=len(e.rows),
                approach=e.school,
                concerns=e.concerns,
                own=False,
                version=0,
                saved_by=None,
                miniature=_shipped_at_a_glance(i, at.settings),
            )
        )
    return out


@dataclass(frozen=True, kw_only=True)
class OpenTemplate:
    id: str
    title: str
    document: ProgramDocument
    version: int
    own: bool
    context: SheetContext


def load(db: Database, coach: Person, template_id: str, now: datetime) -> OpenTemplate:
    """A template on the sheet, its doses at the practice's settings. Raises NotThere."""
    with db.of(coach) as conn:
        at = sheet_context(conn, coach, None, now)
        title, document, version = document_of(conn, at, template_id)
    return OpenTemplate(id=template_id, title=title, document=document, version=version, own=version > 0, context=at)


def keep(db: Database, coach: Person, title: str, about: str, document: ProgramDocument, now: datetime) -> UUID:
    """Keep a program as a template. Raises Refused."""
    title = named(title, what="template")
    with db.of(coach) as conn:
        at = sheet_context(conn, coach, None, now)
        at.program(document, title)
        return templates.create(conn, coach.practice_id, title, about=about.strip(), document=plain(relative(document, at)), by=coach.name)


def keep_program(db: Database, coach: Person, program_id: UUID, title: str, about: str, now: datetime) -> UUID:
    """Keep a client's program as a template, without the client. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        stored = programs.one(conn, program_id)
    return keep(db, coach, title or stored.title, about=about, document=ProgramDocument.model_validate(stored.document), now=now)


def copy(db: Database, coach: Person, template_id: str, now: datetime) -> UUID:
    """A copy of the practice's own, to change. Raises NotThere."""
    opened = load(db, coach, template_id, now)
    return keep(db, coach, f"{opened.title[:110]}, own", about="", document=opened.document, now=now)


def save(db: Database, coach: Person, template_id: UUID, edit: SheetEdit, now: datetime) -> Kept:
    """Check an own template and keep it as its next version, in one go. Raises Conflict, NotThere, Refused."""
    title = named(edit.title, what="template")
    with db.of(coach) as conn:
        at = sheet_context(conn, coach, None, now)
        compiled = at.compile(at.program(edit.document, title))
        document = plain(relative(edit.document, at))
        version = templates.save(conn, template_id, edit.base_revision, title, document=document, by=coach.name, sheet=edit.sheet)
    return Kept(version=version, revision=version, compiled=compiled, settings=at.settings)
