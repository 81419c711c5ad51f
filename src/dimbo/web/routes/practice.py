"""The client's side: today and handing in what was practised."""

from __future__ import annotations

from fastapi import APIRouter

from dimbo.work import practising

from .. import schemas as s
from .. import views
from ..context import Client, Ctx

router = APIRouter(prefix="/api")


@router.get("/today", operation_id="today")
def today(client: Client, ctx: Ctx) -> s.TodayView:
    return views.today(practising.today(ctx.db, client, ctx.now))


@router.put("/practice-logs", operation_id="handIn")
def hand_in(body: s.ReportIn, client: Client, ctx: Ctx) -> s.HandedIn:
    lines = [practising.LineReport(**line.model_dump()) for line in body.lines]
    report = practising.Report(
        body.id, body.assignment_id, body.day, body.started_at, body.ended_at, body.effort, body.note, lines, body.part
    )
    return s.HandedIn(kept=practising.hand_in(ctx.db, client, report, ctx.now))
