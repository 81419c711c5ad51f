"""The desk, and groups that started together."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Response

from dimbo.web.context import Coach, Ctx, plain
from dimbo.web.schemas import desk as d
from dimbo.web.schemas.people import Created
from dimbo.web.schemas.sittings import Count
from dimbo.web.views import desk as views
from dimbo.work.messages.messaging import Said
from dimbo.work.plans import assigning
from dimbo.work.plans.assigning import Wish
from dimbo.work.review import desk, groups, search

router = APIRouter(prefix="/api", tags=["desk"])


@router.get("/desk", operation_id="desk", response_model=d.DeskView)
def the_desk(coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.desk(desk.desk(ctx.db, coach, now), coach, now))


@router.post("/desk/settled", operation_id="settleAlarm", status_code=204)
def settle(body: d.SettleRequest, coach: Coach, ctx: Ctx) -> None:
    """Put an alarm aside as seen, or off until the client's tomorrow."""
    desk.settle(ctx.db, coach, body.client_id, body.kind, key=body.key, until_tomorrow=body.until_tomorrow, now=ctx.now)


@router.post("/desk/unsettled", operation_id="unsettleAlarm", status_code=204)
def unsettle(body: d.SettleRequest, coach: Coach, ctx: Ctx) -> None:
    """Let an alarm that was put aside speak again."""
    desk.unsettle(ctx.db, coach, body.client_id, body.kind, key=body.key)


@router.get("/search", operation_id="search")
def find(coach: Coach, ctx: Ctx, words: Annotated[str, Query(max_length=100)]) -> d.FoundView:
    """Clients, programs, exercises, templates, messages and notes that hold all the words."""
    found = search.search(ctx.db, coach, words)
    return d.FoundView(hits=[d.HitView.model_validate(h) for h in found.hits], more=found.more)


@router.get("/groups/{group_id}", operation_id="group")
def group(group_id: UUID, coach: Coach, ctx: Ctx) -> d.GroupView:
    return views.group(groups.group(ctx.db, coach, group_id, ctx.now))


@router.post("/groups/{group_id}/messages", operation_id="writeToGroup", status_code=201)
def write(group_id: UUID, body: d.GroupMessage, coach: Coach, ctx: Ctx) -> Count:
    said = Said(id=body.id, text=body.text, written_at=body.written_at)
    return Count(count=groups.write(ctx.db, coach, group_id, body.clients, said=said, now=ctx.now))


@router.post("/groups/{group_id}/members", operation_id="joinGroup", status_code=201)
def join(group_id: UUID, body: d.JoinRequest, coach: Coach, ctx: Ctx) -> Created:
    """Somebody starts the group's program later."""
    return Created(id=assigning.join_group(ctx.db, coach, group_id, client_id=body.client_id, wish=Wish(start=body.start), now=ctx.now))


@router.delete("/groups/{group_id}/members/{assignment_id}", operation_id="leaveGroup", status_code=204)
def leave(group_id: UUID, assignment_id: UUID, coach: Coach, ctx: Ctx) -> None:
    """Take somebody out of the group; their own program goes on."""
    groups.take_out(ctx.db, coach, group_id, assignment_id=assignment_id)


@router.put("/groups/{group_id}/members/{assignment_id}", operation_id="returnToGroup", status_code=204)
def put_back(group_id: UUID, assignment_id: UUID, coach: Coach, ctx: Ctx) -> None:
    """Put a program back into the group that it was taken out of."""
    groups.put_back(ctx.db, coach, group_id, assignment_id=assignment_id)
