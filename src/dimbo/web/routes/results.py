"""What came of it: the client's own results, and a picture of two photographs that is the client's to keep."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.core.exercises.approach import APPROACHES
from dimbo.web.context import Client, Coach, Ctx, Senior, Written, plain
from dimbo.web.files import Csv, Png, Workbook
from dimbo.web.schemas import results as r
from dimbo.web.views import results as views
from dimbo.work.results import outcomes, outcomes_out, own_results
from dimbo.work.shared.tables import as_csv

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


@router.get("/helped", operation_id="helped", response_model=r.HelpedAnswer)
def helped(coach: Coach, ctx: Ctx) -> Response:
    return plain(views.answered(outcomes.look(ctx.db, coach, ctx.now)))


@router.get("/helped.csv", operation_id="helpedTable", response_class=Csv)
def helped_table(coach: Senior, ctx: Ctx, dialect: Written) -> Csv:
    """The table without names, of those who agreed."""
    return Csv(outcomes_out.as_csv_file(ctx.db, coach, ctx.now, dialect), "dimbo-outcomes.csv")


@router.get("/helped.xlsx", operation_id="helpedWorkbook", response_class=Workbook)
def helped_workbook(coach: Senior, ctx: Ctx) -> Workbook:
    return Workbook(outcomes_out.workbook(ctx.db, coach, ctx.now), "dimbo-outcomes.xlsx")


@router.get("/helped-dictionary.csv", operation_id="helpedDictionary", response_class=Csv)
def helped_dictionary(coach: Coach, dialect: Written) -> Csv:
    return Csv(as_csv(outcomes_out.dictionary(), dialect), "dimbo-outcomes-dictionary.csv")


@router.post("/clients/{client_id}/coin", operation_id="throwCoin", status_code=201)
def throw_coin(client_id: UUID, body: r.CoinRequest, coach: Coach, ctx: Ctx) -> r.CoinView:
    """A coin between two approaches, noted before practice: only then can they be compared fairly."""
    coin = outcomes.throw_coin(ctx.db, coach, client_id, body.between, ctx.now)
    return r.CoinView(fell=coin.fell, name=APPROACHES[coin.fell].name)
