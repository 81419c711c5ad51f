"""Blind rating, and readings, points and comparisons in open formats."""

from __future__ import annotations

import json
from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.web.context import Coach, Ctx, Noting
from dimbo.web.schemas import Created
from dimbo.web.schemas import sittings as v
from dimbo.web.views import sittings as views
from dimbo.work.sittings import exporting, rating
from dimbo.work.sittings import taking as work

router = APIRouter(prefix="/api", tags=["judging"])


@router.post("/clients/{client_id}/rating-rounds", operation_id="beginRound", status_code=201)
def begin(client_id: UUID, body: v.NewRound, coach: Coach, ctx: Ctx) -> Created:
    return Created(id=rating.begin(ctx.db, coach, client_id, now=ctx.now, **body.model_dump()))


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


@router.get("/rating-rounds/{round_id}/looks/{place}/{which}.jpg", operation_id="blindPicture", response_class=Response)
def picture(round_id: UUID, place: int, which: int, coach: Coach, ctx: Noting) -> Response:
    """The address names the look, not the photograph, so that it gives no order away."""
    found = rating.blind_picture(ctx.db, coach, round_id, place, which=which, now=ctx.now)
    data = work.picture(ctx.db, coach, found, ctx.now, small=False)
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": "private, no-store"})


def _download(data: str | bytes, kind: str, name: str) -> Response:
    return Response(data, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"})


@router.get("/clients/{client_id}/readings.csv", operation_id="readingsCsv", response_class=Response)
def readings_csv(client_id: UUID, coach: Coach, ctx: Noting) -> Response:
    return _download(exporting.readings_csv(ctx.db, coach, client_id, ctx.now), "text/csv", name="readings.csv")


@router.get("/readings-dictionary.csv", operation_id="readingsDictionary", response_class=Response)
def dictionary(coach: Coach) -> Response:
    return _download(exporting.dictionary_csv(), "text/csv", name="readings-dictionary.csv")


@router.get("/clients/{client_id}/points.json", operation_id="pointsJson", response_class=Response)
def points(client_id: UUID, coach: Coach, ctx: Noting) -> Response:
    return _download(exporting.points_json(ctx.db, coach, client_id, ctx.now), "application/json", name="points.json")


@router.get("/points.schema.json", operation_id="pointsSchema", response_class=Response)
def points_schema(coach: Coach) -> Response:
    return _download(json.dumps(exporting.POINTS_SCHEMA, indent=1), "application/schema+json", name="points.schema.json")


@router.get("/comparisons/{before}/{after}.png", operation_id="comparisonPicture", response_class=Response)
def comparison(before: UUID, after: UUID, coach: Coach, ctx: Noting, match_light: bool = False) -> Response:
    data = exporting.comparison_picture(ctx.db, coach, before, after=after, now=ctx.now, match_light=match_light)
    return _download(data, "image/png", name="comparison.png")
