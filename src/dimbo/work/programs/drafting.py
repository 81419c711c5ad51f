"""A client's first program: drafted from the intake, or a template made to fit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from uuid import UUID

from dimbo.core.design.draft import Draft, DraftFrom, adapt, draft
from dimbo.core.exercises.approach import approach
from dimbo.core.programs.program import MAX_WEEKS
from dimbo.store.database import Conn, Database
from dimbo.store.people.accounts import Person
from dimbo.store.practice import hurts
from dimbo.work.intake.entering import open_intake
from dimbo.work.shared.errors import Refused, Why

from .documents import ProgramDocument, from_program
from .templates import program_of
from .writing import SheetContext, sheet_context, store_new


@dataclass(frozen=True)
class Drafted:
    """A draft as it would be saved, with what was left out and why."""

    title: str
    document: ProgramDocument
    draft: Draft
    context: SheetContext


def _source(conn: Conn, coach: Person, client_id: UUID, now: datetime, weeks: int, school: str | None) -> tuple[DraftFrom, SheetContext]:
    at = sheet_context(conn, coach, client_id, now)
    opened = open_intake(conn, client_id, now)
    stopped = frozenset(s.exercise_id for s in hurts.stopped(conn, client_id))
    own = school or at.ways.approach
    try:
        approach(own)
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"{str(error)[0].upper()}{str(error)[1:]}.", "approach") from error
    habits = tuple(h.text for h in opened.conclusions.habits if h.agreed)
    source = DraftFrom(
        concerns=opened.conclusions.concerns,
        about=at.about,
        minutes=opened.client.minutes,
        weeks=weeks,
        approach=own,
        habits=habits,
        stopped=stopped,
    )
    return source, at


def prepare(
    db: Database, coach: Person, client_id: UUID, now: datetime, *, weeks: int = 12, school: str | None = None, template: str | None = None
) -> Drafted:
    """A draft from the intake, or from a template (its id); nothing is stored. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        return _prepare(conn, coach, client_id, now, weeks=weeks, school=school, template=template)


def _prepare(conn: Conn, coach: Person, client_id: UUID, now: datetime, weeks: int, school: str | None, template: str | None) -> Drafted:
    if not 1 <= weeks <= MAX_WEEKS:
        raise Refused(Why.BOUNDS, f"A program has 1 to {MAX_WEEKS} weeks.", "weeks")
    source, at = _source(conn, coach, client_id, now, weeks=weeks, school=school)
    if template:
        program = program_of(conn, at, template)
        made = adapt(program, source if school else replace(source, approach=program.approach), at.settings, at.shelf.offered)
        title = program.title
    else:
        if not source.concerns:
            raise Refused(Why.NOT_NOW, "The intake rates no concern yet. Rate one, begin from a template, or begin empty.", "concerns")
        made = draft(source, at.settings, at.shelf.offered)
        names = [c.concern.name for c in source.concerns[:2]]
        title = " and ".join([names[0], *(n[0].lower() + n[1:] for n in names[1:])])
    return Drafted(title[:120], from_program(made.program), made, at)


def create(
    db: Database,
    coach: Person,
    client_id: UUID,
    now: datetime,
    *,
    title: str = "",
    weeks: int = 12,
    school: str | None = None,
    template: str | None = None,
) -> UUID:
    """Draft and keep a client's new program. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        made = _prepare(conn, coach, client_id, now, weeks=weeks, school=school, template=template)
        return store_new(conn, coach, client_id, title or made.title, made.document)
