"""The coach's intake: tables, entries, conclusions, timeline, consents, the client's own intake, the reasoning table."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.catalogue import shipped_catalogue
from dimbo.web.context import Client, Coach, Ctx, Senior, plain
from dimbo.web.schemas import intake as s
from dimbo.web.views import intake as views
from dimbo.work.intake import consenting, reasoning_texts, self_filling
from dimbo.work.intake import entering as work
from dimbo.work.intake.consenting import Word

router = APIRouter(prefix="/api", tags=["intake"])


@router.get("/intake-tables", operation_id="intakeTables")
def tables(coach: Coach, ctx: Ctx) -> s.IntakeTablesView:
    return views.tables(work.practice_tables(ctx.db, coach))


@router.get("/clients/{client_id}/intake", operation_id="intake", response_model=s.IntakeView)
def intake(client_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.intake(work.load(ctx.db, coach, client_id, now), now))


@router.post("/clients/{client_id}/facts", operation_id="enterFacts", response_model=s.IntakeView)
def enter(client_id: UUID, body: s.EntriesIn, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    entries = [work.Entry(e.id, e.kind, key=e.key, value=e.value) for e in body.entries]
    return plain(views.intake(work.record(ctx.db, coach, client_id, entries, now), now))


@router.post("/clients/{client_id}/intake", operation_id="beginIntake", status_code=201, response_model=s.IntakeView)
def begin(client_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.intake(work.begin(ctx.db, coach, client_id, now), now), 201)


@router.post("/clients/{client_id}/intake/finish", operation_id="finishIntake", response_model=s.IntakeView)
def finish(client_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.intake(work.finish(ctx.db, coach, client_id, now), now))


@router.get("/clients/{client_id}/timeline", operation_id="timeline")
def timeline(client_id: UUID, coach: Coach, ctx: Ctx, before: int | None = None) -> list[s.TimelineEntry]:
    found = work.timeline(ctx.db, coach, client_id, before)
    return views.timeline(found, work.practice_tables(ctx.db, coach))


@router.put("/clients/{client_id}/consents/{choice}", operation_id="chooseConsent", response_model=s.IntakeView)
def choose(client_id: UUID, choice: str, body: s.ConsentChoice, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    consenting.choose(ctx.db, coach, client_id, choice, Word(**body.model_dump()), now=now)
    return plain(views.intake(work.load(ctx.db, coach, client_id, now), now))


@router.get("/my/consents", operation_id="myConsents")
def my_consents(client: Client, ctx: Ctx) -> s.MyConsents:
    assert client.client_id
    found = consenting.of_client(ctx.db, client, client.client_id, ctx.now)
    return s.MyConsents(
        texts=views.consent_texts(),
        consents=[views.consent(c) for c in found.consents],
        photographs=found.photographs,
        coaches=views.coaches(found.coaches),
    )


@router.put("/my/consents/{choice}", operation_id="chooseMyConsent")
def choose_mine(choice: str, body: s.ConsentChoice, client: Client, ctx: Ctx) -> s.MyConsents:
    assert client.client_id
    consenting.choose(ctx.db, client, client.client_id, choice, Word(**body.model_dump()), now=ctx.now)
    return my_consents(client, ctx)


@router.post("/clients/{client_id}/self-intake", operation_id="sendSelfIntake", status_code=201)
def send(client_id: UUID, coach: Coach, ctx: Ctx) -> s.SelfIntakeLink:
    token = self_filling.send(ctx.db, coach, client_id, ctx.now)
    return s.SelfIntakeLink(path=f"/intake/{token}", days=self_filling.LINK_DAYS)


@router.delete("/clients/{client_id}/self-intake", operation_id="revokeSelfIntake", status_code=204)
def revoke(client_id: UUID, coach: Coach, ctx: Ctx) -> None:
    self_filling.revoke(ctx.db, coach, client_id, ctx.now)


@router.get("/clients/{client_id}/self-intake", operation_id="reviewSelfIntake")
def review(client_id: UUID, coach: Coach, ctx: Ctx) -> list[s.ReviewItemView]:
    found = self_filling.review(work.load(ctx.db, coach, client_id, ctx.now))
    return [s.ReviewItemView.model_validate(i) for i in found]


@router.post("/clients/{client_id}/self-intake/accept", operation_id="acceptSelfIntake", response_model=s.AcceptedView)
def accept(client_id: UUID, body: s.AcceptIn, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    done = self_filling.accept(ctx.db, coach, client_id, body.ids, now)
    refused = [s.NotTakenView(id=field, message=said) for field, said in done.refused]
    return plain(s.AcceptedView.model_construct(intake=views.intake(done.intake, now), refused=refused))


@router.post("/clients/{client_id}/self-intake/close", operation_id="closeSelfIntake", response_model=s.IntakeView)
def close(client_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.intake(self_filling.close(ctx.db, coach, client_id, now), now))


@router.get("/self-intakes/{token}", operation_id="selfIntake")
def open_link(token: str, ctx: Ctx) -> s.SelfIntakeView:
    found = self_filling.filling(ctx.db, token, ctx.now)
    tables = views.tables(found.tables)
    if not found.photographs:
        tables.consents = [c for c in tables.consents if c.id not in consenting.OF_PHOTOGRAPHS]
    link = found.link
    return s.SelfIntakeView(
        client_name=link.client_name,
        practice_name=link.practice_name,
        expires_at=link.expires_at,
        document=found.draft,
        revision=link.revision,
        tables=tables,
        urgent=self_filling.urgent_words(found.draft),
        coaches=views.coaches(found.coaches),
    )


@router.put("/self-intakes/{token}", operation_id="saveSelfIntake")
def save_draft(token: str, body: s.DraftIn, ctx: Ctx) -> s.DraftSaved:
    revision = self_filling.save(ctx.db, token, body.document, body.base, ctx.now)
    return s.DraftSaved(revision=revision, urgent=self_filling.urgent_words(body.document))


@router.post("/self-intakes/{token}/submit", operation_id="submitSelfIntake", status_code=204)
def submit(token: str, ctx: Ctx, body: s.SubmitIn | None = None) -> None:
    self_filling.submit(ctx.db, token, body.leaves if body else [], ctx.now)


@router.get("/reasoning", operation_id="reasoning")
def reasoning(coach: Coach, ctx: Ctx) -> list[s.ReasoningEntryView]:
    concerns = shipped_catalogue().concerns
    return [
        s.ReasoningEntryView(
            concern=t.entry.concern,
            name=concerns[t.entry.concern].name,
            edited_by=t.edited_by,
            edited_at=t.edited_at,
            document=t.entry.model_dump(mode="json", by_alias=True),
        )
        for t in reasoning_texts.every(ctx.db, coach)
    ]


@router.put("/reasoning/{concern}", operation_id="saveReasoning", status_code=204)
def save_reasoning(concern: str, body: s.ReasoningIn, coach: Senior, ctx: Ctx) -> None:
    reasoning_texts.save(ctx.db, coach, concern, body.document)


@router.delete("/reasoning/{concern}", operation_id="restoreReasoning", status_code=204)
def restore_reasoning(concern: str, coach: Senior, ctx: Ctx) -> None:
    reasoning_texts.restore(ctx.db, coach, concern)
