"""The exercises of a practice: those that ship and its own."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, File, Form, Request, Response, UploadFile

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Family, Stage
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.exercises.card import MARK_WORDS, Card
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.figure import BROWS, DOES, EYES, HEADS, MOUTHS, PLACES, TOOLS, hands_at_length
from dimbo.core.programs.program import Line
from dimbo.core.sessions.timeline import Item
from dimbo.store.database import NotThere
from dimbo.vision.terms import MAX_BYTES
from dimbo.web import schemas as s
from dimbo.web.context import Coach, Ctx, Senior, SignedIn
from dimbo.web.files import Jpeg, Mp4, Zip
from dimbo.web.schemas.exercise_looks import EntryLook, PlayedView
from dimbo.web.views import practice as practice_views
from dimbo.web.views import programs as views
from dimbo.work.exercises import files, media, shelf
from dimbo.work.exercises import writing as work
from dimbo.work.programs import writing

router = APIRouter(prefix="/api", tags=["exercises"])


@router.get("/catalogue", operation_id="catalogue")
def catalogue(coach: Coach, ctx: Ctx) -> s.CatalogueView:
    shipped, found = shipped_catalogue(), shelf.every(ctx.db, coach)
    return s.CatalogueView(
        cards=[views.brief(c, i not in found.offered) for i, c in found.cards.items()],
        concerns=[s.Named(id=c.id, name=c.name) for c in shipped.concerns.values()],
        muscles=[s.MuscleView(id=m.id, name=m.name, region=m.region, action=m.action) for m in shipped.muscles.values()],
        approaches=[s.Named(id=a.id, name=a.name) for a in APPROACHES.values()],
        needs=sorted({n for c in found.cards.values() for n in c.needs}),
        families=list(Family),
        stages=list(Stage),
        marks=[s.Named(id=k, name=v) for k, v in MARK_WORDS.items()],
        figure=s.FigureTerms(places=PLACES, tools=TOOLS, does=DOES, mouth=MOUTHS, eyes=EYES, brows=BROWS, head=HEADS),
    )


@router.get("/exercises/blank", operation_id="blankExercise")
def blank(family: str, coach: Coach) -> s.WrittenView:
    return _written(work.blank(family))


@router.get("/exercises/{exercise_id}", operation_id="exercise")
def exercise(exercise_id: str, coach: Coach, ctx: Ctx) -> s.CardView:
    at = writing.open_context(ctx.db, coach, None, ctx.now)
    card = at.shelf.cards.get(exercise_id)
    if card is None:
        raise NotThere("There is no such exercise.")
    return views.card(card, at.settings, exercise_id in at.shelf.retired)


def _written(w: work.Written) -> s.WrittenView:
    return s.WrittenView(id=w.id, family=w.family, entry=w.entry, version=w.version, retired=w.retired_at is not None, saved_by=w.saved_by)


@router.get("/exercises/{exercise_id}/written", operation_id="writtenExercise")
def written(exercise_id: str, coach: Coach, ctx: Ctx) -> s.WrittenView:
    return _written(work.read(ctx.db, coach, exercise_id))


def _alone(card: Card) -> Item:
    """An exercise at its start dose."""
    return Item(Line(id="alone", card=card, stage=card.stage, cells=(card.start_line,)), parse(card.start_line, card.style))


@router.post("/exercises/{exercise_id}/look", operation_id="lookAtExercise")
def look(exercise_id: str, body: s.WrittenRequest, coach: Coach, ctx: Ctx) -> EntryLook:
    """An exercise as far as it is written; nothing is kept."""
    found = work.look(ctx.db, coach, exercise_id, family=body.family, document=body.entry)
    faults = [s.EntryFault(field=f.field, words=f.words) for f in found.faults]
    figure = views.figure(found.figure) if found.figure else None
    hands = hands_at_length(found.figure) if found.figure else ""
    card: s.CardView | None = None
    played: PlayedView | None = None
    if found.card is not None and not faults:
        settings = writing.open_context(ctx.db, coach, None, ctx.now).settings
        card = views.card(found.card, settings)
        played = None if found.card.family is Family.HABIT else practice_views.played(_alone(found.card), settings)
    return EntryLook(figure=figure, hands=hands, card=card, played=played, faults=faults)


@router.post("/exercises", operation_id="createExercise", status_code=201)
def create(body: s.WrittenRequest, coach: Senior, ctx: Ctx) -> s.CreatedExercise:
    return s.CreatedExercise(id=work.create(ctx.db, coach, body.family, body.entry))


@router.post("/exercises/import", operation_id="importExercise", status_code=201)
def take_in(file: Annotated[UploadFile, File()], coach: Senior, ctx: Ctx) -> s.CreatedExercise:
    return s.CreatedExercise(id=files.take_in(ctx.db, coach, file.file))


@router.get("/exercises/{exercise_id}/file.zip", operation_id="exerciseFile", response_class=Zip)
def as_file(exercise_id: str, coach: Senior, ctx: Ctx) -> Zip:
    file, name = files.to_file(ctx.db, coach, exercise_id)
    return Zip(file, name)


@router.put("/exercises/{exercise_id}", operation_id="saveExercise")
def save(exercise_id: str, body: s.WrittenRequest, coach: Senior, ctx: Ctx) -> s.Saved:
    return s.Saved(version=work.save(ctx.db, coach, exercise_id, body.base_version, family=body.family, document=body.entry))


@router.post("/exercises/{exercise_id}/retire", operation_id="retireExercise", status_code=204)
def retire(exercise_id: str, body: s.RetireRequest, coach: Senior, ctx: Ctx) -> None:
    work.retire(ctx.db, coach, exercise_id, body.retired)


# ---------------------------------------------------------------- clips and pictures
@router.post("/exercise-media", operation_id="keepExerciseMedium", status_code=201)
def keep(
    kind: Annotated[Literal["clip", "picture"], Form()],
    file: Annotated[UploadFile, File()],
    coach: Senior,
    ctx: Ctx,
    from_s: Annotated[float, Form(ge=0, le=86_400)] = 0.0,
    to_s: Annotated[float, Form(ge=0, le=86_400)] = 60.0,
    sound: Annotated[bool, Form()] = False,
) -> s.MediumView:
    """Keep a clip, cut from one second to another, or a picture."""
    name = (file.filename or kind)[:200]
    if kind == "picture":
        kept = media.take_picture(ctx.db, coach, file.file.read(MAX_BYTES + 1), name)
    else:
        with tempfile.NamedTemporaryFile() as whole:
            shutil.copyfileobj(file.file, whole)
            whole.flush()
            kept = media.take_clip(ctx.db, coach, Path(whole.name), name, from_s=from_s, to_s=to_s, sound=sound)
    return s.MediumView(hash=kept.hash, seconds=kept.seconds, sound=kept.sound)


@router.get("/exercise-media/{file_hash}/clip.mp4", operation_id="exerciseClip", response_class=Mp4)
def clip(file_hash: str, person: SignedIn, ctx: Ctx, request: Request) -> Response:
    """A clip, whole or by range, for the practice and for clients who have its exercise."""
    found = media.known(ctx.db, person, file_hash)

    def read(starts_at: int, length: int) -> bytes:
        return media.part(ctx.db, person, file_hash, starts_at=starts_at, length=length)

    return Mp4.asked(request, found.size, f'"{file_hash}"', read)


@router.get("/exercise-media/{file_hash}/still.jpg", operation_id="exerciseStill", response_class=Jpeg)
def still(file_hash: str, person: SignedIn, ctx: Ctx, request: Request) -> Response:
    """The still of a clip, or the picture."""
    found = media.known(ctx.db, person, file_hash)
    return Jpeg(media.still(ctx.db, person, file_hash)).known_by(f'"{file_hash}-still"', found.made_at, request)
