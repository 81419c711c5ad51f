"""Signing in and out, invitations, the list of clients and the client page."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.store.people import clients
from dimbo.web import schemas as s
from dimbo.web.context import SIGN_IN, Coach, Ctx, From, Senior, SignedIn, Token, keep, plain
from dimbo.web.views import course as views
from dimbo.web.views import desk as desk_views
from dimbo.work.people import inviting, signing_in
from dimbo.work.review import client_list, course
from dimbo.work.shared.errors import Refused, Why

router = APIRouter(prefix="/api")


@router.post("/sign-in", operation_id="signIn", status_code=204)
def sign_in(body: s.SignInRequest, response: Response, ctx: Ctx, place: From) -> None:
    keep(response, ctx, signing_in.sign_in(ctx.db, body.email, body.password, place, now=ctx.now, lasts=ctx.lasting, code=body.code))


@router.post("/sign-out", operation_id="signOut", status_code=204)
def sign_out(response: Response, ctx: Ctx, token: Token) -> None:
    if token:
        signing_in.sign_out(ctx.db, token)
    response.delete_cookie(ctx.cookie(SIGN_IN), path="/", secure=ctx.settings.secure, httponly=True, samesite="strict")


@router.get("/me", operation_id="me")
def me(person: SignedIn, ctx: Ctx) -> s.Me:
    return s.Me(
        id=person.id,
        role=person.role,
        name=person.name,
        practice_name=person.practice_name,
        client_id=person.client_id,
        standing=person.standing,
        stand_in_camera=ctx.settings.stand_in_camera,
    )


@router.get("/invitations/{token}", operation_id="invitation")
def invitation(token: str, ctx: Ctx) -> s.InvitationView:
    return s.InvitationView.model_validate(inviting.invitation(ctx.db, token))


@router.post("/invitations/{token}", operation_id="acceptInvitation", status_code=204)
def accept_invitation(token: str, body: s.PasswordRequest, response: Response, ctx: Ctx, place: From) -> None:
    keep(response, ctx, inviting.accept_invitation(ctx.db, token, body.password, place, now=ctx.now, lasts=ctx.lasting))


@router.get("/clients", operation_id="clients")
def list_clients(coach: Coach, ctx: Ctx) -> list[s.ClientRow]:
    return [desk_views.client_row(x) for x in client_list.everybody(ctx.db, coach, ctx.now)]


@router.get("/client-names", operation_id="clientNames")
def client_names(coach: Coach, ctx: Ctx) -> list[s.ClientName]:
    """The clients by name, for choosing among them."""
    return [s.ClientName.model_validate(c) for c in client_list.names(ctx.db, coach)]


@router.post("/clients", operation_id="createClient", status_code=201)
def create_client(body: s.NewClient, coach: Senior, ctx: Ctx) -> s.Created:
    try:
        practice_day(ctx.now, zone(body.time_zone))
    except ValueError as error:
        raise Refused(Why.UNREADABLE, str(error), "time_zone") from error
    if not body.name.strip():
        raise Refused(Why.NEEDED, "Write the client's name.", "name")
    with ctx.db.of(coach) as conn:
        made = clients.create(
            conn,
            coach.practice_id,
            body.name.strip(),
            birth_year=body.birth_year,
            time_zone=body.time_zone,
            minutes=body.minutes,
            concerns=body.concerns,
            goals=body.goals,
            coach_id=coach.id,
        )
    return s.Created(id=made)


@router.get("/clients/{client_id}", operation_id="course", response_model=s.CourseView)
def client_page(client_id: UUID, coach: Coach, ctx: Ctx) -> Response:
    now = ctx.now
    return plain(views.course(course.course(ctx.db, coach, client_id, now), now))


@router.post("/clients/{client_id}/invitation", operation_id="invite", status_code=201)
def invite(client_id: UUID, body: s.InviteRequest, coach: Coach, ctx: Ctx) -> s.InviteLink:
    token = inviting.invite_client(ctx.db, coach, client_id, body.email, ctx.now)
    return s.InviteLink(path=f"/invite/{token}", days=inviting.INVITATION_DAYS)
