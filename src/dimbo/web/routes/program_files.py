"""Templates, what a practice decides, programs in open formats and on paper."""

from __future__ import annotations

import json
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, File, Form, Query, Response, UploadFile

from dimbo.catalogue import shipped_catalogue
from dimbo.core.calendar.schedule import days_in_words
from dimbo.core.design.checks import CHECKS
from dimbo.core.exercises.approach import APPROACHES, Approach
from dimbo.core.programs.program import LIMITS, Settings
from dimbo.printing.handout import Print
from dimbo.store.people.clients import Ways
from dimbo.web import schemas as s
from dimbo.web.context import Coach, Ctx, Senior, Written
from dimbo.web.files import Csv, Json, JsonSchema, Pdf, Workbook
from dimbo.web.views import programs as views
from dimbo.work.programs import exchange, hand_out, practice_settings, templates
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.tables import as_csv, as_workbook

from .programs import compiled, edit_of, kept

router = APIRouter(prefix="/api", tags=["programs"])


@router.get("/templates", operation_id="templates")
def every(coach: Coach, ctx: Ctx) -> list[s.TemplateRow]:
    concerns = shipped_catalogue().concerns
    return [
        s.TemplateRow(
            id=t.id,
            title=t.title,
            about=t.about,
            weeks=t.weeks,
            minutes=t.minutes,
            lines=t.lines,
            approach=APPROACHES[t.approach].name,
            concerns=views.named(t.concerns, concerns),
            own=t.own,
            version=t.version,
            saved_by=t.saved_by,
            miniature=s.MiniatureView.model_validate(t.miniature) if t.miniature else None,
        )
        for t in templates.every(ctx.db, coach, ctx.now)
    ]


@router.post("/templates", operation_id="keepTemplate", status_code=201)
def keep(body: s.KeepTemplate, coach: Coach, ctx: Ctx) -> s.TemplateCreated:
    return s.TemplateCreated(id=str(templates.keep_program(ctx.db, coach, body.program_id, body.title, about=body.about, now=ctx.now)))


@router.get("/templates/{template_id}", operation_id="template")
def one(template_id: str, coach: Coach, ctx: Ctx) -> s.TemplateView:
    found = templates.load(ctx.db, coach, template_id, ctx.now)
    return s.TemplateView(
        id=found.id,
        title=found.title,
        document=found.document,
        version=found.version,
        own=found.own,
        sheet=compiled(found.context, found.document),
    )


@router.post("/templates/{template_id}/copy", operation_id="copyTemplate", status_code=201)
def copy(template_id: str, coach: Coach, ctx: Ctx) -> s.TemplateCreated:
    return s.TemplateCreated(id=str(templates.copy(ctx.db, coach, template_id, ctx.now)))


@router.put("/templates/{template_id}", operation_id="saveTemplate", response_model=s.KeptView)
def save(template_id: UUID, body: s.SaveRequest, coach: Coach, ctx: Ctx) -> Response:
    """Check and keep in one go."""
    return kept(templates.save(ctx.db, coach, template_id, edit_of(body), ctx.now))


def _approach(a: Approach) -> s.ApproachView:
    titles = {c.id: c.title for c in CHECKS}
    return s.ApproachView(
        id=a.id,
        name=a.name,
        why=a.why,
        first=[f.value for f in a.first],
        days=f"{days_in_words(a.start_sessions)}, then {days_in_words(a.target_sessions)}",
        lip_stretch=a.lip_stretch,
        asymmetry=a.asymmetry,
        raising=", then ".join(a.axes) if a.axes else "not raised",
        silent=[titles.get(i, i.replace("-", " ")) for i in sorted(a.silent)],
    )


@router.get("/settings/ways", operation_id="ways")
def read_ways(coach: Coach, ctx: Ctx) -> s.WaysView:
    found, shipped = practice_settings.load(ctx.db, coach), Settings()
    return s.WaysView(
        approach=found.approach,
        approaches=[_approach(a) for a in APPROACHES.values()],
        limits=[
            s.LimitView(
                key=key,
                name=limit.name,
                unit=limit.unit,
                least=limit.least,
                most=limit.most,
                shipped=round(getattr(shipped, key), 3),
                value=round(getattr(found.settings, key), 3),
                about=limit.about,
                group=limit.group,
            )
            for key, limit in LIMITS.items()
        ],
        checks=[s.CheckView(id=c.id, title=c.title, weight=c.weight.value, why=c.why) for c in CHECKS],
    )


def _wanted(body: s.WaysRequest) -> Ways:
    return practice_settings.wanted(body.approach, body.values)


@router.post("/settings/ways/preview", operation_id="previewWays")
def preview_ways(body: s.WaysRequest, coach: Coach, ctx: Ctx) -> s.WaysEffect:
    """What a change would do; nothing is stored."""
    effects, looked_at = practice_settings.preview(ctx.db, coach, _wanted(body))
    return s.WaysEffect(
        looked_at=looked_at,
        effects=[
            s.EffectView(program_id=e.program_id, sentence=e.sentence, speaks=list(e.speaks), settles=list(e.settles)) for e in effects
        ],
    )


@router.put("/settings/ways", operation_id="saveWays", status_code=204)
def save_ways(body: s.WaysRequest, coach: Senior, ctx: Ctx) -> None:
    practice_settings.save(ctx.db, coach, _wanted(body))


@router.get("/clients/{client_id}/ways", operation_id="ownWays")
def own_ways(client_id: UUID, coach: Coach, ctx: Ctx) -> s.OwnWaysView:
    client, practice = practice_settings.own(ctx.db, coach, client_id)
    return s.OwnWaysView(
        approach=client.approach,
        pace_s=client.pace_s,
        practice_approach=APPROACHES[practice.approach].name,
        practice_pace_s=practice.settings.pace_s,
        approaches=[s.Named(id=a.id, name=a.name) for a in APPROACHES.values()],
    )


@router.put("/clients/{client_id}/ways", operation_id="saveOwnWays", status_code=204)
def save_own_ways(client_id: UUID, body: s.OwnWaysRequest, coach: Coach, ctx: Ctx) -> None:
    practice_settings.set_own(ctx.db, coach, client_id, body.approach, body.pace_s)


@router.get("/programs/{program_id}/program.json", operation_id="exportProgram", response_class=Json)
def export_json(program_id: UUID, coach: Coach, ctx: Ctx) -> Json:
    title, text = exchange.carry_out(ctx.db, coach, program_id)
    return Json(text, f"{title}.json")


@router.get("/program.schema.json", operation_id="programSchema", response_class=JsonSchema)
def program_schema(coach: Coach) -> JsonSchema:
    """The JSON Schema of a program's file, as docs/formats/program.schema.json has it."""
    return JsonSchema(json.dumps(exchange.schema(), indent=1), "program.schema.json")


@router.get("/programs/{program_id}/program.csv", operation_id="exportProgramSheet", response_class=Csv)
def export_csv(program_id: UUID, coach: Coach, ctx: Ctx, dialect: Written) -> Csv:
    title, sheet = exchange.carry_out_sheet(ctx.db, coach, program_id)
    return Csv(as_csv(sheet, dialect), f"{title}.csv")


@router.get("/programs/{program_id}/program.xlsx", operation_id="exportProgramWorkbook", response_class=Workbook)
def export_workbook(program_id: UUID, coach: Coach, ctx: Ctx) -> Workbook:
    title, sheet = exchange.carry_out_sheet(ctx.db, coach, program_id)
    return Workbook(as_workbook([sheet]), f"{title}.xlsx")


@router.get("/programs/{program_id}/handout.pdf", operation_id="printWeek", response_class=Pdf)
def handout(
    program_id: UUID,
    week: int,
    coach: Coach,
    ctx: Ctx,
    paper: Literal["a4", "letter"] = "a4",
    large: bool = False,
    tick: bool = False,
    only: Annotated[frozenset[str], Query(max_length=200)] = frozenset(),
    whole: bool = False,
) -> Pdf:
    """A week on paper, some rows of it (``only``), or the ``whole`` program: in large print where it is wanted, with a page to tick."""
    how = Print(paper=paper, large=large, tick=tick)
    name, data = hand_out.print_week(ctx.db, coach, program_id, week, how=how, now=ctx.now, only=only, whole=whole)
    return Pdf(data, name)


@router.post("/clients/{client_id}/programs/import/preview", operation_id="previewProgramFile")
def preview_file(client_id: UUID, file: Annotated[UploadFile, File()], coach: Coach, ctx: Ctx) -> s.FilePreview:
    """What an import would make; nothing is stored."""
    found = exchange.look(ctx.db, coach, client_id, file.file.read(exchange.MOST_BYTES + 1), ctx.now)
    return s.FilePreview(
        title=found.file.title,
        weeks=found.file.program.weeks,
        lines=len(found.file.program.lines),
        known=found.known,
        unknown=[
            s.UnknownView(id=u.id, name=u.name, rows=u.rows, like=[s.Named(id=c.id, name=c.name) for c in u.like], comes=u.comes)
            for u in found.unknown
        ],
        document=found.file.program,
    )


@router.post("/clients/{client_id}/programs/import", operation_id="importProgramFile", status_code=201)
def import_file(
    client_id: UUID, file: Annotated[UploadFile, File()], choices: Annotated[str, Form(max_length=10_000)], coach: Coach, ctx: Ctx
) -> s.Created:
    """``choices`` is a JSON object: unknown exercise to a known one, to ``bring`` where the file has it written, or to an empty text
    that leaves it out."""
    try:
        chosen = json.loads(choices or "{}")
    except ValueError as error:
        raise Refused(Why.UNREADABLE, "choices: write a JSON object of exercise to exercise.", "choices") from error
    if not isinstance(chosen, dict) or not all(isinstance(v, str) for v in chosen.values()):
        raise Refused(Why.UNREADABLE, "choices: write a JSON object of exercise to exercise.", "choices")
    return s.Created(id=exchange.carry_in(ctx.db, coach, client_id, file.file.read(exchange.MOST_BYTES + 1), choices=chosen, now=ctx.now))
