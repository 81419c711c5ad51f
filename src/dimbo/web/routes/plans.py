"""Assigning programs, changing running ones, pauses, and letting a stopped exercise go on."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from dimbo.web.context import Coach, Ctx
from dimbo.web.schemas import Created
from dimbo.web.schemas import plans as s
from dimbo.web.schemas.course import NextRequest
from dimbo.web.views import practice as views
from dimbo.work.plans import assigning, ending, pausing
from dimbo.work.practice import answering
from dimbo.work.review import course_ends, stopping

router = APIRouter(prefix="/api", tags=["plans"])


@router.post("/programs/{program_id}/assignment/preview", operation_id="previewAssignment")
def preview(program_id: UUID, body: s.PreviewRequest, coach: Coach, ctx: Ctx) -> list[s.PreparedView]:
    """The real calendar for each client; nothing is kept."""
    found = assigning.preview(ctx.db, coach, program_id, body.clients, wish=views.wish(body.wish), now=ctx.now)
    return [views.prepared(p) for p in found]


@router.post("/programs/{program_id}/assignment", operation_id="assign", status_code=201)
def assign(program_id: UUID, body: s.WishIn, coach: Coach, ctx: Ctx) -> Created:
    return Created(id=assigning.assign(ctx.db, coach, program_id, views.wish(body), ctx.now))


@router.post("/programs/{program_id}/group", operation_id="assignGroup", status_code=201)
def assign_group(program_id: UUID, body: s.GroupRequest, coach: Coach, ctx: Ctx) -> s.GroupStarted:
    got = assigning.assign_group(ctx.db, coach, program_id, body.clients, name=body.name, wish=views.wish(body.wish), now=ctx.now)
    return s.GroupStarted(
        group_id=got.group_id,
        started=[s.StartedView(client_id=i, name=n) for i, n in got.started],
        refused=[s.RefusedView(client_id=i, name=n, reason=why) for i, n, why in got.refused],
    )


@router.post("/assignments/{assignment_id}/change/preview", operation_id="previewChange")
def preview_change(assignment_id: UUID, body: s.WishIn, coach: Coach, ctx: Ctx) -> s.PreparedView:
    return views.prepared(assigning.preview_change(ctx.db, coach, assignment_id, views.wish(body), ctx.now))


@router.post("/assignments/{assignment_id}/change", operation_id="changeAssignment")
def change(assignment_id: UUID, body: s.ChangeRequest, coach: Coach, ctx: Ctx) -> s.Changed:
    return s.Changed(plan=assigning.change(ctx.db, coach, assignment_id, views.wish(body.wish), reason=body.reason, now=ctx.now))


@router.get("/assignments/{assignment_id}/end", operation_id="previewEnd")
def preview_end(assignment_id: UUID, coach: Coach, ctx: Ctx) -> s.EndingView:
    """What would no longer be due."""
    found = ending.preview(ctx.db, coach, assignment_id, ctx.now)
    return s.EndingView(
        sessions=found.sessions, last_day=found.last, follows=[s.FollowsView(id=k, says=v) for k, v in ending.FOLLOWS.items()]
    )


@router.post("/assignments/{assignment_id}/end", operation_id="endAssignment", status_code=204)
def end(assignment_id: UUID, body: s.EndRequest, coach: Coach, ctx: Ctx) -> None:
    ending.end(ctx.db, coach, assignment_id, body.follows, ctx.now)


@router.post("/assignments/{assignment_id}/end/take-back", operation_id="takeEndBack", status_code=204)
def take_end_back(assignment_id: UUID, coach: Coach, ctx: Ctx) -> None:
    """Let a program that was ended in the last 30 days run again, as it was."""
    ending.take_back(ctx.db, coach, assignment_id, ctx.now)


@router.post("/assignments/{assignment_id}/next", operation_id="prepareNext", status_code=201)
def prepare_next(assignment_id: UUID, body: NextRequest, coach: Coach, ctx: Ctx) -> Created:
    """The program that follows a course that ends, as a draft."""
    return Created(id=course_ends.go_on(ctx.db, coach, assignment_id, course_ends.Way(body.way), ctx.now))


@router.post("/clients/{client_id}/pause", operation_id="pauseClient", status_code=204)
def pause(client_id: UUID, body: s.PauseRequest, coach: Coach, ctx: Ctx) -> None:
    pausing.pause(ctx.db, coach, client_id, body.first, last=body.last, reason=body.reason, now=ctx.now)


@router.post("/clients/{client_id}/resume", operation_id="resumeClient")
def resume(client_id: UUID, body: s.ResumeRequest, coach: Coach, ctx: Ctx) -> s.Resumed:
    return s.Resumed(rule=pausing.resume(ctx.db, coach, client_id, body.on, ctx.now))


@router.post("/clients/{client_id}/stopped/{exercise_id}/clear", operation_id="clearStop", status_code=204)
def clear(client_id: UUID, exercise_id: str, body: s.ClearRequest, coach: Coach, ctx: Ctx) -> None:
    stopping.clear_stop(ctx.db, coach, client_id, exercise_id, note=body.note, now=ctx.now)


@router.post("/clients/{client_id}/soreness/asked", operation_id="askedSoreness", status_code=204)
def asked_soreness(client_id: UUID, body: s.ClearRequest, coach: Coach, ctx: Ctx) -> None:
    """What soreness was that stopped strength; it goes on."""
    answering.soreness_asked(ctx.db, coach, client_id, body.note, ctx.now)


@router.post("/clients/{client_id}/asked", operation_id="askedHealth", status_code=204)
def asked(client_id: UUID, coach: Coach, ctx: Ctx) -> None:
    """The coach asked whether something has changed in the client's health, and nothing has."""
    answering.asked_by_coach(ctx.db, coach, client_id, ctx.now)
