"""A client's record as a whole: looked through, taken out, archived, kept longer, erased; and single things that are removed and
brought back."""

from __future__ import annotations

from datetime import datetime
from typing import IO
from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.store.people.accounts import Person
from dimbo.store.records.keeping import Keeping
from dimbo.store.removed import Kind
from dimbo.web.context import SIGN_IN, Client, Coach, Ctx, Noting, Owner, Senior
from dimbo.web.files import Zip
from dimbo.web.schemas import records as s
from dimbo.work import removing
from dimbo.work.people import staff
from dimbo.work.records import erasing, keeping, record, taking_out
from dimbo.work.records.record import Record

router = APIRouter(prefix="/api", tags=["records"])


def _view(found: Record, person: Person) -> s.RecordView:
    return s.RecordView(
        client_id=found.client.id,
        name=found.client.name,
        practice=person.practice_name,
        coach=found.coach,
        own=found.own,
        may_erase=person.client_id is not None or person.standing == staff.OWNER,
        archived_at=found.client.archived_at,
        running=found.running,
        kept_until=found.client.kept_until,
        held=s.HeldCounts.model_validate(found.held),
        keeps=s.KeepingView.model_validate(found.keeps),
        going=[s.GoingView.model_validate(g) for g in found.going],
        steps=[s.TrailView.model_validate(x) for x in found.steps],
    )


def _zip(file: IO[bytes], now: datetime) -> Zip:
    return Zip(file, f"record-{now:%Y-%m-%d}.zip")


@router.get("/my-record", operation_id="myRecord")
def own(client: Client, ctx: Ctx) -> s.RecordView:
    assert client.client_id
    return _view(record.of_client(ctx.db, client, client.client_id, ctx.now), client)


@router.get("/my-record.zip", operation_id="takeOwnOut", response_class=Zip)
def take_own_out(client: Client, ctx: Ctx) -> Zip:
    """Everything that is held of the client, to keep."""
    assert client.client_id
    return _zip(taking_out.take_out(ctx.db, client, client.client_id, ctx.now), ctx.now)


@router.post("/my-record/erase", operation_id="eraseSelf", status_code=204)
def erase_self(body: s.EraseSelf, response: Response, client: Client, ctx: Ctx) -> None:
    """Everything of the client, for good; they are signed out."""
    erasing.erase_self(ctx.db, client, body.password, ctx.now)
    response.delete_cookie(ctx.cookie(SIGN_IN), path="/", secure=ctx.settings.secure, httponly=True, samesite="strict")


@router.get("/clients/{client_id}/record", operation_id="clientRecord")
def of_client(client_id: UUID, coach: Coach, ctx: Ctx) -> s.RecordView:
    return _view(record.of_client(ctx.db, coach, client_id, ctx.now), coach)


@router.get("/clients/{client_id}/record.zip", operation_id="takeOut", response_class=Zip)
def take_out(client_id: UUID, coach: Senior, ctx: Noting) -> Zip:
    return _zip(taking_out.take_out(ctx.db, coach, client_id, ctx.now), ctx.now)


@router.post("/clients/{client_id}/erase", operation_id="eraseClient", status_code=204)
def erase(client_id: UUID, body: s.EraseClient, owner: Owner, ctx: Ctx) -> None:
    """Everything of a client, for good."""
    erasing.erase(ctx.db, owner, client_id, name=body.name, password=body.password, reason=body.reason, now=ctx.now)


@router.put("/clients/{client_id}/archived", operation_id="archiveClient", status_code=204)
def archive(client_id: UUID, body: s.ArchiveRequest, coach: Senior, ctx: Ctx) -> None:
    record.archive(ctx.db, coach, client_id, archived=body.archived, now=ctx.now)


@router.put("/clients/{client_id}/kept-until", operation_id="keepLonger", status_code=204)
def keep_longer(client_id: UUID, body: s.KeepLonger, coach: Senior, ctx: Ctx) -> None:
    """Nothing of the client is deleted for its age before that day."""
    record.keep_longer(ctx.db, coach, client_id, body.until, ctx.now)


@router.get("/settings/keeping", operation_id="keeping")
def kept_how_long(coach: Coach, ctx: Ctx) -> s.KeepingView:
    return s.KeepingView.model_validate(keeping.of_practice(ctx.db, coach))


@router.put("/settings/keeping", operation_id="setKeeping", status_code=204)
def set_keeping(body: s.KeepingView, owner: Owner, ctx: Ctx) -> None:
    keeping.decide(ctx.db, owner, Keeping(**body.model_dump()))


@router.get("/erasures", operation_id="erasures")
def erasures(owner: Owner, ctx: Ctx) -> list[s.ErasureView]:
    """What stays of whom the practice erased: no name."""
    return [s.ErasureView.model_validate(e) for e in erasing.tombstones(ctx.db, owner)]


# ---------------------------------------------------------------- single things
@router.delete("/{kind}/{row_id}", operation_id="remove", status_code=204)
def remove(kind: Kind, row_id: UUID, coach: Coach, ctx: Ctx) -> None:
    """Out of sight at once; kept for 30 days."""
    removing.remove(ctx.db, coach, kind, row_id, ctx.now)


@router.post("/{kind}/{row_id}/bring-back", operation_id="bringBack", status_code=204)
def bring_back(kind: Kind, row_id: UUID, coach: Coach, ctx: Ctx) -> None:
    removing.bring_back(ctx.db, coach, kind, row_id, ctx.now)


@router.get("/removed/{kind}", operation_id="removed")
def removed(kind: Kind, coach: Coach, ctx: Ctx, client_id: UUID | None = None) -> list[s.RemovedView]:
    return [
        s.RemovedView(id=x.row.id, client_id=x.row.client_id, name=x.row.name, removed_at=x.row.removed_at, gone_at=x.gone_at)
        for x in removing.still(ctx.db, coach, kind, client_id, ctx.now)
    ]
