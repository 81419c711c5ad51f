"""Programs on the sheet: drafting, editing with the core's help, versions, assigning; and what a practice has confirmed for all."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.core.safety.starting_values import STARTING_VALUES
from dimbo.store.programs.confirmed_values import Confirmation
from dimbo.web import schemas as s
from dimbo.web.context import Coach, Ctx, Senior, plain
from dimbo.web.schemas import program_files as files
from dimbo.web.views import programs as views
from dimbo.work.programs import drafting, safety_settings, writing
from dimbo.work.programs.documents import ProgramDocument
from dimbo.work.programs.drafting import Drafted, Wish
from dimbo.work.programs.writing import Kept, SheetContext, SheetEdit

router = APIRouter(prefix="/api", tags=["programs"])

EMPTY, INTAKE = "empty", "intake"
"""Sources of a new program besides the id of a template."""


def compiled(at: SheetContext, document: ProgramDocument) -> s.SheetView:
    """What the checks say of a document that is being edited."""
    return views.sheet(at.compile(at.program(document)), at.settings)


def _edited(at: SheetContext, document: ProgramDocument) -> Response:
    return plain(s.EditedView(document=document, sheet=compiled(at, document)))


def _at(body: s.CheckRequest, coach: Coach, ctx: Ctx) -> SheetContext:
    return writing.open_context(ctx.db, coach, body.client_id, ctx.now, body.program_id)


def _wish(body: s.NewProgram) -> Wish:
    return Wish(
        weeks=body.weeks,
        school=body.approach,
        minutes=body.minutes,
        template=None if body.source == INTAKE else body.source,
        leave_out=frozenset(body.leave_out),
    )


@router.post("/clients/{client_id}/programs", operation_id="createProgram", status_code=201)
def create(client_id: UUID, body: s.NewProgram, coach: Coach, ctx: Ctx) -> s.Created:
    if body.source == EMPTY:
        return s.Created(id=writing.create(ctx.db, coach, client_id, body.title, weeks=body.weeks, now=ctx.now))
    return s.Created(id=drafting.create(ctx.db, coach, client_id, ctx.now, _wish(body), title=body.title))


def _draft(made: Drafted) -> s.DraftView:
    return s.DraftView(
        title=made.title,
        document=made.document,
        sheet=compiled(made.context, made.document),
        left_out=[s.LeftOutView(exercise=x.exercise, name=x.name, reason=x.reason) for x in made.draft.left_out],
        says=list(made.draft.says),
    )


@router.post("/clients/{client_id}/programs/draft", operation_id="draftProgram")
def draft(client_id: UUID, body: s.NewProgram, coach: Coach, ctx: Ctx) -> s.DraftView:
    """What a draft would be; nothing is stored."""
    return _draft(drafting.prepare(ctx.db, coach, client_id, ctx.now, _wish(body)))


@router.get("/programs/{program_id}", operation_id="program", response_model=s.ProgramView)
def program(program_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    found = writing.load(ctx.db, coach, program_id, ctx.now)
    stored = found.stored
    view = s.ProgramView(
        id=stored.id,
        client_id=stored.client_id,
        client_name=found.client_name,
        client_today=found.client_today,
        title=stored.title,
        version=stored.version,
        revision=stored.revision,
        saved_by=stored.saved_by,
        updated_at=stored.updated_at,
        document=found.document,
        sheet=views.sheet(found.sheet, found.context.settings),
        standing=[s.WeekStandingView.model_validate(w) for w in found.standing],
    )
    return plain(view)


def edit_of(body: s.SaveRequest) -> SheetEdit:
    return SheetEdit(base_revision=body.base_revision, title=body.title, document=body.document, sheet=body.sheet)


def kept(made: Kept) -> Response:
    return plain(s.KeptView(version=made.version, revision=made.revision, sheet=views.sheet(made.compiled, made.settings)))


@router.put("/programs/{program_id}", operation_id="saveProgram", response_model=s.KeptView)
def save(program_id: UUID, body: s.SaveRequest, coach: Coach, ctx: Ctx) -> Response:
    """Check and keep in one go."""
    return kept(writing.save(ctx.db, coach, program_id, edit_of(body), ctx.now))


@router.get("/programs/{program_id}/versions", operation_id="programVersions")
def versions(program_id: UUID, coach: Coach, ctx: Ctx) -> list[s.VersionView]:
    return [s.VersionView.model_validate(v) for v in writing.versions(ctx.db, coach, program_id)]


@router.get("/programs/{program_id}/differences", operation_id="programDifferences")
def differences(program_id: UUID, before: int, after: int, coach: Coach, ctx: Ctx) -> list[s.DifferenceView]:
    found = writing.version_differences(ctx.db, coach, program_id, before, after=after)
    return [s.DifferenceView(text=c.text, line=c.line, weeks=list(c.weeks)) for c in found]


@router.post("/programs/{program_id}/restore", operation_id="restoreProgram")
def restore(program_id: UUID, body: s.RestoreRequest, coach: Coach, ctx: Ctx) -> s.Saved:
    return s.Saved(version=writing.restore(ctx.db, coach, program_id, body.version, base_revision=body.base_revision))


@router.post("/sheet/check", operation_id="checkSheet", response_model=s.SheetView)
def check(body: s.CheckRequest, coach: Coach, ctx: Ctx) -> Response:
    return plain(compiled(_at(body, coach, ctx), body.document))


@router.post("/sheet/fix", operation_id="takeRemedy", response_model=s.EditedView)
def fix(body: s.FixRequest, coach: Coach, ctx: Ctx) -> Response:
    at = _at(body, coach, ctx)
    return _edited(at, writing.remedied(at, body.document, body.rule, row=body.line))


@router.post("/sheet/lighter", operation_id="lightenWeek", response_model=s.EditedView)
def lighter(body: s.WeekRequest, coach: Coach, ctx: Ctx) -> Response:
    at = _at(body, coach, ctx)
    return _edited(at, writing.lightened(at, body.document, body.week))


@router.post("/sheet/order", operation_id="orderSheet")
def order(body: s.CheckRequest, coach: Coach, ctx: Ctx) -> s.OrderedView:
    at = _at(body, coach, ctx)
    document, places = writing.ordered(at, body.document)
    reasons = [s.PlacedView(line=p.line.id, reason=p.reason) for p in places]
    return s.OrderedView(document=document, sheet=compiled(at, document), places=reasons)


@router.post("/sheet/sides", operation_id="laySides", response_model=s.EditedView)
def sides(body: s.SideRequest, coach: Coach, ctx: Ctx) -> Response:
    at = _at(body, coach, ctx)
    return _edited(at, writing.sided(at, body.document, body.line, side=body.side))


@router.post("/sheet/fill", operation_id="fillRight")
def fill(body: s.FillRequest, coach: Coach, ctx: Ctx) -> s.FillView:
    return s.FillView.model_validate(writing.fill(_at(body, coach, ctx), body.document, body.line, body.week))


@router.post("/sheet/line", operation_id="newLine")
def line(body: s.NewLineRequest, coach: Coach, ctx: Ctx) -> s.NewLineView:
    return s.NewLineView.model_validate(writing.new_line(_at(body, coach, ctx), body.exercise, body.document))


@router.get("/settings/safety", operation_id="safety")
def safety(coach: Coach, ctx: Ctx) -> files.CareView:
    found = safety_settings.of_practice(ctx.db, coach)
    return files.CareView(
        emergency_number=found.emergency_number,
        values=[
            files.StartingValueView(
                id=v.id,
                name=v.name,
                ships=v.ships,
                why=v.why,
                loosens=bool(v.setting),
                confirmed=files.ConfirmationView.model_validate(c) if (c := found.confirmed.get(v.id)) else None,
            )
            for v in STARTING_VALUES.values()
        ],
    )


@router.put("/settings/safety/number", operation_id="setEmergencyNumber", status_code=204)
def set_emergency_number(body: files.NumberRequest, coach: Senior, ctx: Ctx) -> None:
    safety_settings.set_number(ctx.db, coach, body.emergency_number)


@router.post("/settings/safety/values/{value}", operation_id="confirmStartingValue", status_code=204)
def confirm_value(value: str, body: files.ConfirmRequest, coach: Senior, ctx: Ctx) -> None:
    safety_settings.confirm(
        ctx.db, coach, body.id, Confirmation(value, by_name=body.by_name, role=body.role, confirmed_on=body.confirmed_on), ctx.now
    )
