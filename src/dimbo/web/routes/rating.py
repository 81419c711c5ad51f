"""Blind rating, and readings, points and comparisons in open formats."""

from __future__ import annotations

import json
from uuid import UUID

from fastapi import APIRouter

from dimbo.web.context import Coach, Ctx, Noting, Written
from dimbo.web.files import Csv, Jpeg, Json, JsonSchema, Png, Workbook
from dimbo.web.schemas import Created
from dimbo.web.schemas import sittings as v
from dimbo.web.views import sittings as views
from dimbo.work.shared.tables import as_csv
from dimbo.work.sittings import exporting, rating
from dimbo.work.sittings import taking as work

router = APIRouter(prefix="/api", tags=["sittings"])


@router.post("/clients/{client_id}/rating-rounds", operation_id="beginRound", status_code=201)
def begin(client_id: UUID, body: v.NewRound, coach: Coach, ctx: Ctx) -> Created:
    return Created(id=rating.begin(ctx.db, coach, client_id, rating.Wanted(**body.model_dump()), ctx.now))


@router.post("/clients/{client_id}/rating-rounds/preview", operation_id="previewRound")
def preview(client_id: UUID, body: v.NewRound, coach: Coach, ctx: Ctx) -> v.RoundAhead:
    """What a round would be; nothing is kept."""
    return v.RoundAhead.model_validate(rating.ahead(ctx.db, coach, client_id, rating.Wanted(**body.model_dump()), ctx.now))


@router.get("/clients/{client_id}/rating-rounds", operation_id="ratingRounds")
def rounds(client_id: UUID, coach: Coach, ctx: Ctx) -> list[v.RoundView]:
    return [views.round_view(r, result) for r, result in rating.results(ctx.db, coach, client_id, ctx.now)]


@router.get("/rating-rounds/{round_id}/look", operation_id="nextLook")
def look(round_id: UUID, coach: Coach, ctx: Ctx) -> v.LookView | None:
    found = rating.next_look(ctx.db, coach, round_id, ctx.now)
    return views.look(found) if found else None


@router.post("/rating-rounds/{round_id}/answers", operation_id="answerLook")
def answer(round_id: UUID, body: v.RatingIn, coach: Coach, ctx: Ctx) -> v.LookView | None:
    following = rating.answer(ctx.db, coach, round_id, body.place, value=body.value, now=ctx.now)
    return views.look(following) if following else None


@router.get("/rating-rounds/{round_id}/looks/{place}/{which}.jpg", operation_id="blindPicture", response_class=Jpeg)
def picture(round_id: UUID, place: int, which: int, coach: Coach, ctx: Noting) -> Jpeg:
    """The address names the look, not the photograph, so that it gives no order away."""
    found = rating.blind_picture(ctx.db, coach, round_id, place, which=which, now=ctx.now)
    return Jpeg(work.picture(ctx.db, coach, found, ctx.now, small=False))


@router.get("/clients/{client_id}/readings.csv", operation_id="readingsCsv", response_class=Csv)
def readings_csv(client_id: UUID, coach: Coach, ctx: Noting, dialect: Written) -> Csv:
    return Csv(exporting.readings_csv(ctx.db, coach, client_id, ctx.now, dialect), f"readings-{client_id}.csv")


@router.get("/clients/{client_id}/readings.xlsx", operation_id="readingsWorkbook", response_class=Workbook)
def readings_workbook(client_id: UUID, coach: Coach, ctx: Noting) -> Workbook:
    """Readings and their dictionary, as sheets."""
    return Workbook(exporting.readings_workbook(ctx.db, coach, client_id, ctx.now), f"readings-{client_id}.xlsx")


@router.get("/readings-dictionary.csv", operation_id="readingsDictionary", response_class=Csv)
def dictionary(coach: Coach, dialect: Written) -> Csv:
    return Csv(as_csv(exporting.dictionary(), dialect), "readings-dictionary.csv")


@router.get("/clients/{client_id}/points.json", operation_id="pointsJson", response_class=Json)
def points(client_id: UUID, coach: Coach, ctx: Noting) -> Json:
    return Json(exporting.points_json(ctx.db, coach, client_id, ctx.now), f"points-{client_id}.json")


@router.get("/points.schema.json", operation_id="pointsSchema", response_class=JsonSchema)
def points_schema(coach: Coach) -> JsonSchema:
    return JsonSchema(json.dumps(exporting.POINTS_SCHEMA, indent=1), "points.schema.json")


@router.get("/comparisons/{before}/{after}.png", operation_id="comparisonPicture", response_class=Png)
def comparison(before: UUID, after: UUID, coach: Coach, ctx: Noting, match_light: bool = False) -> Png:
    return Png(exporting.comparison_picture(ctx.db, coach, before, after=after, now=ctx.now, match_light=match_light), "comparison.png")
