"""The desk, and groups that started together."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.web.context import Coach, Ctx, plain
from dimbo.web.schemas import desk as d
from dimbo.web.schemas.sittings import Count
from dimbo.web.views import desk as views
from dimbo.work.messages.messaging import Said
from dimbo.work.review import desk, groups

router = APIRouter(prefix="/api", tags=["desk"])


@router.get("/desk", operation_id="desk", response_model=d.DeskView)
def the_desk(coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.desk(desk.desk(ctx.db, coach, now), now))


@router.post("/desk/settled", operation_id="settleAlarm", status_code=204)
def settle(body: d.SettleRequest, coach: Coach, ctx: Ctx) -> None:
    desk.settle(ctx.db, coach, body.client_id, body.kind, key=body.key)


@router.post("/desk/unsettled", operation_id="unsettleAlarm", status_code=204)
def unsettle(body: d.SettleRequest, coach: Coach, ctx: Ctx) -> None:
    """Let an alarm that was put aside speak again."""
    desk.unsettle(ctx.db, coach, body.client_id, body.kind, key=body.key)


@router.get("/groups/{group_id}", operation_id="group")
def group(group_id: UUID, coach: Coach, ctx: Ctx) -> d.GroupView:
    return views.group(groups.group(ctx.db, coach, group_id, ctx.now))


@router.post("/groups/{group_id}/messages", operation_id="writeToGroup", status_code=201)
def write(group_id: UUID, body: d.GroupMessage, coach: Coach, ctx: Ctx) -> Count:
    said = Said(id=body.id, text=body.text, written_at=body.written_at)
    return Count(count=groups.write(ctx.db, coach, group_id, body.clients, said=said, now=ctx.now))
