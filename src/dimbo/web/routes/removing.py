"""Removing photographs, templates and programs, what is kept of that, and bringing it back."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from dimbo.store.removed import Kind
from dimbo.web.context import Coach, Ctx
from dimbo.web.schemas import removing as s
from dimbo.work import removing

router = APIRouter(prefix="/api")


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
