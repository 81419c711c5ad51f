"""Sittings: photographs in, readings out, and the stand-in camera where it is switched on."""

from __future__ import annotations

import re
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, File, Form, HTTPException, Response, UploadFile

from dimbo.store import clients
from dimbo.vision.photograph import MAX_BYTES
from dimbo.vision.stand_in_camera import STATES, Scene, identities, shoot
from dimbo.work import measuring

from .. import schemas as s
from .. import views
from ..context import Coach, Ctx, SignedIn

router = APIRouter(prefix="/api")


@router.get("/clients/{client_id}/sittings", operation_id="sittings")
def sittings(client_id: UUID, coach: Coach, ctx: Ctx) -> s.SittingsView:
    found = measuring.sitting_views(ctx.db, coach, client_id, ctx.now)
    return s.SittingsView(
        client_id=client_id,
        client_name=found.client.name,
        may_keep=found.consent.in_force,
        consent=found.consent.sentence,
        sittings=[views.sitting(v) for v in found.views],
    )


@router.post("/clients/{client_id}/sittings", operation_id="openSitting", status_code=201)
def open_sitting(client_id: UUID, body: s.NewSitting, coach: Coach, ctx: Ctx) -> s.Created:
    return s.Created(id=measuring.open_sitting(ctx.db, coach, client_id, body.taken_on, body.note))


@router.post("/sittings/{sitting_id}/photographs", operation_id="uploadPhotograph", status_code=202)
def upload(
    sitting_id: UUID, photograph_id: Annotated[UUID, Form()], file: Annotated[UploadFile, File()], coach: Coach, ctx: Ctx
) -> s.Created:
    name = re.sub(r"[^\w .()-]", "_", (file.filename or "photograph").rsplit("/", 1)[-1])
    measuring.take_in(ctx.db, coach, sitting_id, photograph_id, name, file.file.read(MAX_BYTES + 1), ctx.now)
    return s.Created(id=photograph_id)


@router.delete("/photographs/{photograph_id}", operation_id="removePhotograph", status_code=204)
def remove(photograph_id: UUID, coach: Coach, ctx: Ctx) -> None:
    measuring.remove(ctx.db, coach, photograph_id)


def _jpeg(data: bytes) -> Response:
    """Photographs never change, so a browser may keep its own copy; no shared cache may."""
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.get("/photographs/{photograph_id}.jpg", operation_id="photograph", response_class=Response)
def photograph(photograph_id: UUID, person: SignedIn, ctx: Ctx) -> Response:
    return _jpeg(measuring.picture(ctx.db, person, photograph_id, small=False))


@router.get("/photographs/{photograph_id}/small.jpg", operation_id="thumbnail", response_class=Response)
def thumbnail(photograph_id: UUID, person: SignedIn, ctx: Ctx) -> Response:
    return _jpeg(measuring.picture(ctx.db, person, photograph_id, small=True))


@router.get("/clients/{client_id}/stand-in-shot.jpg", operation_id="standInShot", response_class=Response)
def stand_in_shot(client_id: UUID, coach: Coach, ctx: Ctx, seed: int = 0, state: str = "") -> Response:
    """A fresh photograph of the client's made-up face; later seeds are later moments."""
    if not ctx.settings.stand_in_camera:
        raise HTTPException(404, "The stand-in camera is switched off.")
    with ctx.db.practice(coach.practice_id) as conn:
        client = clients.one(conn, client_id)
    names = identities()
    identity = client.portrait if client.portrait in names else names[client_id.int % len(names)]
    scene = Scene(identity, state if state in STATES else "uneven", seed=seed % 2**31)
    return Response(shoot(scene).jpeg(ctx.now), media_type="image/jpeg", headers={"Cache-Control": "no-store"})
