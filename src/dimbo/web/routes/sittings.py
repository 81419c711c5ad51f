"""Sittings: taking photographs, alone or by the coach, and what they say."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from fastapi import APIRouter, Depends, File, Form, HTTPException, Response, UploadFile

from dimbo.store.database import NotThere
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.vision import apart
from dimbo.vision.terms import MAX_BYTES, VIEW_STATES, Scene, identities
from dimbo.web.context import Coach, Context, Ctx, Noting, SignedIn, plain
from dimbo.web.files import Jpeg
from dimbo.web.schemas import Created
from dimbo.web.schemas import sittings as v
from dimbo.web.schemas.practice import AnswerIn
from dimbo.web.views import sittings as views
from dimbo.work.practice import answering
from dimbo.work.sittings import measuring
from dimbo.work.sittings import taking as work

router = APIRouter(prefix="/api", tags=["sittings"])


@router.get("/clients/{client_id}/sittings", operation_id="sittings", response_model=v.SittingsView)
def sittings(client_id: UUID, coach: Coach, ctx: Ctx, before: UUID | None = None, after: UUID | None = None) -> Response:
    found = measuring.bench(ctx.db, coach, client_id, ctx.now)
    return plain(views.sittings(found, measuring.compared(found, before, after=after)))


@router.post("/clients/{client_id}/sittings", operation_id="openSitting", status_code=201)
def open_sitting(client_id: UUID, body: v.NewSitting, coach: Coach, ctx: Ctx) -> Created:
    day = body.taken_on or work.today_of(ctx.db, coach, client_id, ctx.now)
    return Created(id=work.open_sitting(ctx.db, coach, client_id, day, ctx.now, arrangement=_arrangement(body)))


def _arrangement(body: v.NewSitting) -> work.Arrangement:
    return work.Arrangement(kind=body.kind, asked_views=tuple(body.asked_views), how=body.how, hint=body.hint, note=body.note)


@router.put("/sittings/{sitting_id}", operation_id="arrangeSitting", status_code=204)
def arrange(sitting_id: UUID, body: v.NewSitting, coach: Coach, ctx: Ctx) -> None:
    work.arrange(ctx.db, coach, sitting_id, _arrangement(body), ctx.now)


@router.post("/sittings/{sitting_id}/link", operation_id="sendSittingLink", status_code=201)
def send_link(sitting_id: UUID, coach: Coach, ctx: Ctx) -> v.SittingLink:
    return v.SittingLink(path=f"/photographs/{work.send_link(ctx.db, coach, sitting_id, ctx.now)}")


@router.delete("/sittings/{sitting_id}/link", operation_id="endSittingLink", status_code=204)
def end_link(sitting_id: UUID, coach: Coach, ctx: Ctx) -> None:
    work.end_link(ctx.db, coach, sitting_id, ctx.now)


@router.post("/sittings/{sitting_id}/confirm-views", operation_id="confirmViews")
def confirm_views(sitting_id: UUID, coach: Coach, ctx: Ctx) -> v.Count:
    return v.Count(count=measuring.confirm_views(ctx.db, coach, sitting_id, ctx.now))


@router.put("/clients/{client_id}/primary-readings", operation_id="namePrimary", status_code=204)
def name_primary(client_id: UUID, body: v.PrimaryIn, coach: Coach, ctx: Ctx) -> None:
    measuring.name_primary(ctx.db, coach, client_id, body.readings, ctx.now)


# ---------------------------------------------------------------- taking: by the coach, or by a link
def _taking(ctx: Context, person: Person, sitting_id: UUID) -> v.TakingView:
    found = work.taking(ctx.db, person, sitting_id, ctx.now)
    judged = {}
    if found.photographs:
        m = measuring.bench(ctx.db, person, found.client.id, ctx.now).measurement
        judged = {j.shot.id: j for j in m.sitting(str(sitting_id)).shots}
    return views.taking(found, judged, stand_in=ctx.settings.stand_in_camera)


def _safe(name: str) -> str:
    return re.sub(r"[^\w .()-]", "_", (name or "photograph").rsplit("/", 1)[-1])[:200]


@router.get("/sittings/{sitting_id}/taking", operation_id="taking")
def taking(sitting_id: UUID, coach: Coach, ctx: Ctx) -> v.TakingView:
    return _taking(ctx, coach, sitting_id)


@router.get("/taking/{token}", operation_id="takingByLink")
def taking_by_link(token: str, ctx: Ctx) -> v.TakingView:
    return _taking(ctx, *work.by_link(ctx.db, token, ctx.now))


@router.post("/taking/{token}/health", operation_id="healthByLink", status_code=204)
def health_by_link(token: str, body: v.HealthTold, ctx: Ctx) -> None:
    """What has changed in the health of a client who takes photographs alone, or that nothing has."""
    person, _ = work.by_link(ctx.db, token, ctx.now)
    told = body.entry
    if isinstance(told, AnswerIn):
        said = answering.Answer(id=told.id, caution=told.caution, answer=told.answer, regions=told.regions, event_on=told.event_on)
        answering.answer(ctx.db, person, said, ctx.now)
    else:
        answering.nothing_changed(ctx.db, person, told.id, ctx.now)


@router.post("/taking/{token}/done", operation_id="handInSitting", status_code=204)
def hand_in(token: str, ctx: Ctx) -> None:
    person, sitting_id = work.by_link(ctx.db, token, ctx.now)
    work.hand_in(ctx.db, person, sitting_id, ctx.now)


@router.post("/sittings/{sitting_id}/photographs", operation_id="uploadPhotograph", status_code=202)
def upload(
    sitting_id: UUID,
    photograph_id: Annotated[UUID, Form()],
    file: Annotated[UploadFile, File()],
    coach: Coach,
    ctx: Ctx,
    view: Annotated[str | None, Form()] = None,
) -> Created:
    name = _safe(file.filename or "")
    work.take_in(
        ctx.db,
        coach,
        sitting_id,
        photograph_id=photograph_id,
        name=name,
        data=lambda: file.file.read(MAX_BYTES + 1),
        now=ctx.now,
        view=view or None,
    )
    return Created(id=photograph_id)


Sender = tuple[Person, UUID]
"""Who sends a file piece by piece, and to which sitting."""


async def _signed_in(key: str, coach: Coach) -> Sender:
    try:
        return coach, UUID(key)
    except ValueError as error:
        raise NotThere("There is no such sitting.") from error


def _by_link(key: str, ctx: Ctx) -> Sender:
    return work.by_link(ctx.db, key, ctx.now)


def _pieces(prefix: str, who: str, sender: Callable[..., Any]) -> None:
    """The three addresses by which a file comes piece by piece, for the coach and for a link alike."""
    found = Depends(sender)

    @router.get(f"{prefix}/uploads/{{photograph_id}}", operation_id=f"{who}UploadState")
    def state(photograph_id: UUID, ctx: Ctx, sent: Sender = found) -> v.UploadState:
        person, sitting_id = sent
        return v.UploadState(received=work.received(ctx.db, person, sitting_id, photograph_id=photograph_id, now=ctx.now))

    @router.put(f"{prefix}/uploads/{{photograph_id}}", operation_id=f"{who}UploadPiece")
    def piece(
        photograph_id: UUID, starts_at: int, total: int, data: Annotated[bytes, File()], ctx: Ctx, sent: Sender = found
    ) -> v.UploadState:
        person, sitting_id = sent
        here = work.take_piece(
            ctx.db, person, sitting_id, photograph_id=photograph_id, starts_at=starts_at, total=total, data=data, now=ctx.now
        )
        return v.UploadState(received=here)

    @router.post(f"{prefix}/uploads/{{photograph_id}}/done", operation_id=f"{who}UploadDone", status_code=202)
    def done(
        photograph_id: UUID,
        name: Annotated[str, Form()],
        total: Annotated[int, Form()],
        ctx: Ctx,
        view: Annotated[str | None, Form()] = None,
        device_time: Annotated[datetime | None, Form()] = None,
        sent: Sender = found,
    ) -> Created:
        person, sitting_id = sent
        work.finish_pieces(
            ctx.db,
            person,
            sitting_id,
            photograph_id=photograph_id,
            name=_safe(name),
            total=total,
            now=ctx.now,
            view=view or None,
            device_time=device_time,
        )
        return Created(id=photograph_id)


_pieces("/sittings/{key}", who="sitting", sender=_signed_in)
_pieces("/taking/{key}", who="link", sender=_by_link)


# ---------------------------------------------------------------- one photograph
@router.patch("/photographs/{photograph_id}", operation_id="answerPhotograph", status_code=204)
def answer(photograph_id: UUID, body: v.PhotographAnswer, coach: Coach, ctx: Ctx) -> None:
    measuring.answer(ctx.db, coach, photograph_id, now=ctx.now, **body.model_dump())


@router.put("/photographs/{photograph_id}/points", operation_id="setPoints", status_code=204)
def set_points(photograph_id: UUID, body: v.PointsIn, coach: Coach, ctx: Ctx) -> None:
    measuring.set_points(ctx.db, coach, photograph_id, dict(body.moves), ctx.now, again=body.again)


@router.post("/photographs/{photograph_id}/points/preview", operation_id="previewPoints", response_model=v.PreviewView)
def preview_points(photograph_id: UUID, body: v.MovesIn, coach: Coach, ctx: Ctx) -> Response:
    found, sitting_id = measuring.preview(ctx.db, coach, photograph_id, dict(body.moves), ctx.now)
    compared = measuring.compared(found, body.before, after=sitting_id)
    moved = next(p for p in found.photographs if p.id == photograph_id)
    return plain(
        v.PreviewView(
            readings=views.readings(found.measurement, compared.after) if compared.after else [],
            changes=[views.change(c) for c in compared.changes],
            profile=views.profile(moved, found.setting),
        )
    )


@router.get("/photographs/{photograph_id}.jpg", operation_id="photograph", response_class=Jpeg)
def photograph(photograph_id: UUID, person: SignedIn, ctx: Noting) -> Jpeg:
    return Jpeg(work.picture(ctx.db, person, photograph_id, ctx.now, small=False))


@router.get("/photographs/{photograph_id}/small.jpg", operation_id="thumbnail", response_class=Jpeg)
def thumbnail(photograph_id: UUID, person: SignedIn, ctx: Noting) -> Jpeg:
    return Jpeg(work.picture(ctx.db, person, photograph_id, ctx.now, small=True))


@router.get("/taking/{token}/ghost/{photograph_id}.jpg", operation_id="ghostByLink", response_class=Jpeg)
def ghost_by_link(token: str, photograph_id: UUID, ctx: Ctx) -> Jpeg:
    return Jpeg(work.ghost(ctx.db, token, photograph_id, ctx.now))


# ---------------------------------------------------------------- the stand-in camera
def _stand_in(ctx: Context, person: Person, client_id: UUID, seed: int, state: str) -> Jpeg:
    """A fresh photograph of the client's made-up face; later seeds are later moments."""
    if not ctx.settings.stand_in_camera:
        raise HTTPException(404, "The stand-in camera is switched off.")
    with ctx.db.of(person) as conn:
        client = clients.one(conn, client_id)
    names = identities()
    identity = client.portrait if client.portrait in names else names[client_id.int % len(names)]
    scene = Scene(identity=identity, state=VIEW_STATES.get(state, "uneven"), seed=seed % 2**31)
    return Jpeg(apart.stand_in_shot(scene, ctx.now))


@router.get("/clients/{client_id}/stand-in-shot.jpg", operation_id="standInShot", response_class=Jpeg)
def stand_in_shot(client_id: UUID, coach: Coach, ctx: Ctx, seed: int = 0, view: str = "") -> Jpeg:
    return _stand_in(ctx, coach, client_id, seed, view)


@router.get("/sittings/{sitting_id}/stand-in-shot.jpg", operation_id="standInShotOfSitting", response_class=Jpeg)
def stand_in_of_sitting(sitting_id: UUID, coach: Coach, ctx: Ctx, seed: int = 0, view: str = "") -> Jpeg:
    return _stand_in(ctx, coach, work.taking(ctx.db, coach, sitting_id, ctx.now).client.id, seed, view)


@router.get("/taking/{token}/stand-in-shot.jpg", operation_id="standInShotByLink", response_class=Jpeg)
def stand_in_by_link(token: str, ctx: Ctx, seed: int = 0, view: str = "") -> Jpeg:
    person, _ = work.by_link(ctx.db, token, ctx.now)
    assert person.client_id
    return _stand_in(ctx, person, person.client_id, seed, view)
