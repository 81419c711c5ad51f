"""What came of it: the client's own results, and a picture of two photographs that is the client's to keep."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.results.letter import Words
from dimbo.web.context import Client, Coach, Ctx, Senior, SignedIn, Written, plain
from dimbo.web.files import Csv, Pdf, Png, Workbook
from dimbo.web.schemas import Created
from dimbo.web.schemas import results as r
from dimbo.web.views import results as views
from dimbo.work.results import letters, outcomes, outcomes_out, own_results
from dimbo.work.results.letter_facts import Draft, PairChoice
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


@router.get("/clients/{client_id}/letters", operation_id="letters")
def of_client(client_id: UUID, coach: Coach, ctx: Ctx) -> r.LettersView:
    name, known = letters.of_client(ctx.db, coach, client_id, ctx.now)
    return r.LettersView(client_id=client_id, client_name=name, letters=[views.letter_row(x) for x in known])


@router.post("/clients/{client_id}/letters", operation_id="beginLetter", status_code=201)
def begin_letter(client_id: UUID, body: r.NewLetter, coach: Coach, ctx: Ctx) -> Created:
    return Created(id=letters.begin(ctx.db, coach, client_id, body.kind, ctx.now))


@router.get("/letters/{letter_id}.pdf", operation_id="letterPaper", response_class=Pdf)
def paper(letter_id: UUID, person: SignedIn, ctx: Ctx) -> Pdf:
    return Pdf(letters.paper_of(ctx.db, person, letter_id, ctx.now), "letter.pdf")


@router.get("/letters/{letter_id}", operation_id="letter", response_model=r.OpenLetter)
def letter(letter_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    return plain(views.open_letter(letters.look(ctx.db, coach, letter_id, ctx.now)))


@router.put("/letters/{letter_id}", operation_id="keepLetter", response_model=r.OpenLetter)
def keep_letter(letter_id: UUID, body: r.LetterDraft, coach: Coach, ctx: Ctx) -> Response:
    """Keep what was chosen and written; the answer is the letter as the client will read it."""
    pairs = tuple(PairChoice(view=p.view, before=p.before, after=p.after) for p in body.pairs)
    draft = Draft(first=body.first, last=body.last, pairs=pairs, words=Words(**body.words.model_dump()))
    return plain(views.open_letter(letters.keep(ctx.db, coach, letter_id, draft, ctx.now)))


@router.delete("/letters/{letter_id}/draft", operation_id="dropLetter", status_code=204)
def drop_letter(letter_id: UUID, coach: Coach, ctx: Ctx) -> None:
    letters.drop(ctx.db, coach, letter_id, ctx.now)


@router.post("/letters/{letter_id}/sent", operation_id="sendLetter", status_code=204)
def send_letter(letter_id: UUID, body: r.SendLetter, coach: Coach, ctx: Ctx) -> None:
    """Sent twice it goes once."""
    letters.send(ctx.db, coach, letter_id, by_mail=body.by_mail, now=ctx.now)


@router.get("/my-letters", operation_id="myLetters")
def my_letters(client: Client, ctx: Ctx) -> list[r.OwnLetter]:
    return [views.own_letter(x) for x in letters.of_own(ctx.db, client)]


@router.post("/my-letters/{letter_id}/opened", operation_id="openedLetter", status_code=204)
def opened(letter_id: UUID, client: Client, ctx: Ctx) -> None:
    letters.opened(ctx.db, client, letter_id, ctx.now)
