"""What came of it: the client's own results, and a picture of two photographs that is the client's to keep."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.web.context import Client, Ctx, plain
from dimbo.web.files import Png
from dimbo.web.schemas import results as r
from dimbo.web.views import results as views
from dimbo.work.results import own_results

router = APIRouter(prefix="/api", tags=["results"])


@router.get("/my-results", operation_id="myResults", response_model=r.OwnResultsView)
def my_results(client: Client, ctx: Ctx) -> Response:
    return plain(views.own_results(own_results.own_results(ctx.db, client, ctx.now)))


@router.put("/my-results/{sitting_id}/note", operation_id="writeOwnNote", status_code=204)
def write_note(sitting_id: UUID, body: r.NoteIn, client: Client, ctx: Ctx) -> None:
    own_results.write_note(ctx.db, client, sitting_id, body.words, ctx.now)


@router.get("/my-results/{before}/{after}.png", operation_id="ownComparison", response_class=Png)
def own_comparison(before: UUID, after: UUID, client: Client, ctx: Ctx) -> Png:
    """Two of the client's own photographs side by side, with dates and no claim."""
    return Png(own_results.share_picture(ctx.db, client, before, after=after, now=ctx.now), "my-photographs.png")
