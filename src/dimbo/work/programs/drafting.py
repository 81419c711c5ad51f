"""A client's first program: drafted from the intake, or a template made to fit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from uuid import UUID

from dimbo.core.design.checks.body import lay_sides
from dimbo.core.design.draft import Draft, DraftFrom, adapt, draft
from dimbo.core.exercises.approach import approach
from dimbo.core.programs.program import MAX_WEEKS, Program
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.practice import hurts
from dimbo.store.programs import programs
from dimbo.work.intake.entering import open_intake
from dimbo.work.shared.errors import Refused, Why

from .documents import ProgramDocument, from_program
from .templates import program_of
from .writing import SheetContext, sheet_context, store_new

OF_A_PROGRAM = "program-"
"""How a draft names a program that it begins from."""
BUSY_SIDE = "busier-jaw"
"""The topic of the side tests that says which side chews more."""


@dataclass(frozen=True)
class Drafted:
    """A draft as it would be saved, with what was left out and why."""

    title: str
    document: ProgramDocument
    draft: Draft
    context: SheetContext


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """What a coach asks of a draft. ``school`` and ``minutes`` are the client's where they are None; ``template`` is a template's id,
    or ``program-`` and the id of a program of any client of the practice; ``leave_out`` names needs, marks and exercises."""

    weeks: int = 12
    school: str | None = None
    minutes: int | None = None
    template: str | None = None
    leave_out: frozenset[str] = frozenset()


def _source(conn: Conn, coach: Person, client_id: UUID, now: datetime, wish: Wish) -> tuple[DraftFrom, SheetContext]:
    at = sheet_context(conn, coach, client_id, now)
    opened = open_intake(conn, client_id, now)
    stopped = frozenset(s.exercise_id for s in hurts.stopped(conn, client_id))
    own = wish.school or at.ways.approach
    try:
        approach(own)
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"{str(error)[0].upper()}{str(error)[1:]}.", "approach") from error
    habits = {h.exercise: h.text for h in opened.conclusions.habits if h.agreed and h.exercise}
    source = DraftFrom(
        concerns=opened.conclusions.concerns,
        about=at.about,
        minutes=wish.minutes or opened.client.minutes,
        weeks=wish.weeks,
        approach=own,
        habits=habits,
        stopped=stopped,
        leave_out=wish.leave_out,
        busy=next((t.side for t in opened.conclusions.topics if t.id == BUSY_SIDE), None),
    )
    return source, at


def prepare(db: Database, coach: Person, client_id: UUID, now: datetime, wish: Wish) -> Drafted:
    """A draft from the intake, from a template, or from another program; nothing is stored. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        return _prepare(conn, coach, client_id, now, wish)


def _begun_from(conn: Conn, at: SheetContext, begins: str) -> Program:
    """The template or program that a draft begins from. What was written for another client stays with them: reasons, notes,
    expectations, a title with their name, and the side that got more. Raises NotThere."""
    if not begins.startswith(OF_A_PROGRAM):
        return program_of(conn, at, begins)
    try:
        stored = programs.one(conn, UUID(begins.removeprefix(OF_A_PROGRAM)))
    except ValueError as error:
        raise NotThere(f"program {begins}") from error
    program = at.program(ProgramDocument.model_validate(stored.document))
    bare = tuple(replace(n, why="", note="") for n in program.lines)
    whose = {part.lower() for part in clients.one(conn, stored.client_id).name.split()}
    named = any(word.strip(".,;:’'").removesuffix("’s").lower() in whose for word in stored.title.split())
    program = replace(program, title="New program" if named else stored.title, lines=bare, expectations="", review=())
    for line in bare:
        program = lay_sides(program, line.id, None)
    return program


def _prepare(conn: Conn, coach: Person, client_id: UUID, now: datetime, wish: Wish) -> Drafted:
    if not 1 <= wish.weeks <= MAX_WEEKS:
        raise Refused(Why.BOUNDS, f"A program has 1 to {MAX_WEEKS} weeks.", "weeks")
    source, at = _source(conn, coach, client_id, now, wish)
    if wish.template:
        program = _begun_from(conn, at, wish.template)
        made = adapt(program, source if wish.school else replace(source, approach=program.approach), at.settings, at.shelf.offered)
        title = program.title
    else:
        if not source.concerns:
            raise Refused(Why.NOT_NOW, "The intake rates no concern yet. Rate one, begin from a template, or begin empty.", "concerns")
        made = draft(source, at.settings, at.shelf.offered)
        names = [c.concern.name for c in source.concerns[:2]]
        title = " and ".join([names[0], *(n[0].lower() + n[1:] for n in names[1:])])
    return Drafted(title[:120], from_program(made.program), made, at)


def create(db: Database, coach: Person, client_id: UUID, now: datetime, wish: Wish, title: str = "") -> UUID:
    """Draft and keep a client's new program. Raises NotThere, Refused."""
    with db.of(coach) as conn:
        made = _prepare(conn, coach, client_id, now, wish)
        return store_new(conn, coach, client_id, title or made.title, made.document)
