"""The exercises of a practice: those that ship and its own."""

from __future__ import annotations

from fastapi import APIRouter

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Family, Stage
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.exercises.card import MARK_WORDS
from dimbo.store.database import NotThere
from dimbo.web import schemas as s
from dimbo.web.context import Coach, Ctx, Senior
from dimbo.web.views import programs as views
from dimbo.work import exercises
from dimbo.work.programs import writing

router = APIRouter(prefix="/api", tags=["exercises"])


@router.get("/catalogue", operation_id="catalogue")
def catalogue(coach: Coach, ctx: Ctx) -> s.CatalogueView:
    shipped, found = shipped_catalogue(), exercises.every(ctx.db, coach)
    return s.CatalogueView(
        cards=[views.brief(c, i not in found.offered) for i, c in found.cards.items()],
        concerns=[s.Named(id=c.id, name=c.name) for c in shipped.concerns.values()],
        muscles=[s.MuscleView(id=m.id, name=m.name, region=m.region, action=m.action) for m in shipped.muscles.values()],
        approaches=[s.Named(id=a.id, name=a.name) for a in APPROACHES.values()],
        needs=sorted({n for c in found.cards.values() for n in c.needs}),
        families=list(Family),
        stages=list(Stage),
        marks=[s.Named(id=k, name=v) for k, v in MARK_WORDS.items()],
    )


@router.get("/exercises/{exercise_id}", operation_id="exercise")
def exercise(exercise_id: str, coach: Coach, ctx: Ctx) -> s.CardView:
    at = writing.open_context(ctx.db, coach, None, ctx.now)
    card = at.shelf.cards.get(exercise_id)
    if card is None:
        raise NotThere("There is no such exercise.")
    return views.card(card, at.settings, exercise_id in at.shelf.retired)


@router.get("/exercises/{exercise_id}/written", operation_id="writtenExercise")
def written(exercise_id: str, coach: Coach, ctx: Ctx) -> s.WrittenView:
    w = exercises.read(ctx.db, coach, exercise_id)
    return s.WrittenView(id=w.id, family=w.family, entry=w.entry, version=w.version, retired=w.retired_at is not None, saved_by=w.saved_by)


@router.post("/exercises", operation_id="createExercise", status_code=201)
def create(body: s.WrittenRequest, coach: Senior, ctx: Ctx) -> s.CreatedExercise:
    return s.CreatedExercise(id=exercises.create(ctx.db, coach, body.family, body.entry))


@router.put("/exercises/{exercise_id}", operation_id="saveExercise")
def save(exercise_id: str, body: s.WrittenRequest, coach: Senior, ctx: Ctx) -> s.Saved:
    return s.Saved(version=exercises.save(ctx.db, coach, exercise_id, body.base_version, family=body.family, document=body.entry))


@router.post("/exercises/{exercise_id}/retire", operation_id="retireExercise", status_code=204)
def retire(exercise_id: str, body: s.RetireRequest, coach: Senior, ctx: Ctx) -> None:
    exercises.retire(ctx.db, coach, exercise_id, body.retired)
