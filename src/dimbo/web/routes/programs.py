"""The catalogue and the program sheet."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Stage
from dimbo.core.card import Card
from dimbo.work import practising, programs
from dimbo.work.errors import Refused

from .. import schemas as s
from .. import views
from ..context import Coach, Ctx, SignedIn

router = APIRouter(prefix="/api")


@router.get("/catalogue", operation_id="catalogue")
def catalogue(_: SignedIn) -> s.CatalogueView:
    shipped = shipped_catalogue()
    return s.CatalogueView(
        cards=[views.card(c) for c in shipped.cards.values()],
        stages=list(Stage),
        concerns=[s.Named(id=c.id, name=c.name) for c in shipped.concerns.values()],
    )


@router.post("/clients/{client_id}/programs", operation_id="createProgram", status_code=201)
def create(client_id: UUID, body: s.NewProgram, coach: Coach, ctx: Ctx) -> s.Created:
    return s.Created(id=programs.create(ctx.db, coach, client_id, body.title, body.weeks, body.concern, ctx.now))


@router.get("/programs/{program_id}", operation_id="program")
def program(program_id: UUID, coach: Coach, ctx: Ctx) -> s.ProgramView:
    found = programs.load(ctx.db, coach, program_id, ctx.now)
    stored = found.stored
    return s.ProgramView(
        id=stored.id,
        client_id=stored.client_id,
        client_name=found.client_name,
        client_today=found.client_today,
        title=stored.title,
        version=stored.version,
        saved_by=stored.saved_by,
        updated_at=stored.updated_at,
        document=found.document,
        sheet=views.sheet(found.sheet, found.settings),
    )


@router.put("/programs/{program_id}", operation_id="saveProgram")
def save(program_id: UUID, body: s.SaveRequest, coach: Coach, ctx: Ctx) -> s.Saved:
    return s.Saved(version=programs.save(ctx.db, coach, program_id, body.base_version, body.title, body.document))


@router.post("/sheet/check", operation_id="checkSheet")
def check(body: s.CheckRequest, coach: Coach, ctx: Ctx) -> s.SheetView:
    return views.sheet(*programs.check_for(ctx.db, coach, body.client_id, body.document, ctx.now))


def _card(exercise: str) -> Card:
    card = programs.cards().get(exercise)
    if card is None:
        raise Refused(f"There is no exercise “{exercise}” in the catalogue.", "exercise")
    return card


@router.post("/sheet/fill", operation_id="fillRight")
def fill(body: s.FillRequest, coach: Coach, ctx: Ctx) -> s.FillView:
    if body.week > len(body.cells):
        raise Refused(f"There is no week {body.week} in this row.", "week")
    settings = programs.settings_for(ctx.db, coach, body.client_id)
    return s.FillView.model_validate(programs.fill_right(_card(body.exercise), body.cells, body.week, settings))


@router.post("/sheet/line", operation_id="newLine")
def line(body: s.NewLineRequest, coach: Coach, ctx: Ctx) -> s.NewLineView:
    settings = programs.settings_for(ctx.db, coach, body.client_id)
    return s.NewLineView.model_validate(programs.new_line(_card(body.exercise), body.weeks, settings))


@router.post("/programs/{program_id}/assignment", operation_id="assign", status_code=201)
def assign(program_id: UUID, body: s.AssignRequest, coach: Coach, ctx: Ctx) -> s.Created:
    return s.Created(id=practising.assign(ctx.db, coach, program_id, body.start, ctx.now))


@router.post("/assignments/{assignment_id}/end", operation_id="endAssignment", status_code=204)
def end(assignment_id: UUID, coach: Coach, ctx: Ctx) -> None:
    practising.end_assignment(ctx.db, coach, assignment_id, ctx.now)


@router.post("/clients/{client_id}/stopped/{exercise_id}/clear", operation_id="clearStop", status_code=204)
def clear(client_id: UUID, exercise_id: str, coach: Coach, ctx: Ctx) -> None:
    practising.clear_stop(ctx.db, coach, client_id, exercise_id)
