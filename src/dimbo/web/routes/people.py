"""Signing in and out, invitations, the list of clients and the client page, and those who work in the practice."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.store.people import clients
from dimbo.store.people.accounts import Account
from dimbo.web import schemas as s
from dimbo.web.context import SIGN_IN, Coach, Ctx, From, Owner, Senior, SignedIn, Token, keep, plain
from dimbo.web.schemas import people as a
from dimbo.web.schemas.intake import CoachName
from dimbo.web.schemas.sittings import Count
from dimbo.web.views import course as views
from dimbo.web.views import desk as desk_views
from dimbo.work.people import account, beginning, inviting, signing_in, staff
from dimbo.work.review import client_list, course
from dimbo.work.shared.errors import Refused, Why

router = APIRouter(prefix="/api", tags=["people"])


@router.post("/sign-in", operation_id="signIn", status_code=204)
def sign_in(body: s.SignInRequest, response: Response, ctx: Ctx, place: From) -> None:
    keep(
        response,
        ctx,
        signing_in.sign_in(ctx.db, body.email, password=body.password, asking=place, now=ctx.now, lasts=ctx.lasting, code=body.code),
    )


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
        time_zone=account.zone_of(ctx.db, person),
        stand_in_camera=ctx.settings.stand_in_camera,
    )


@router.get("/invitations/{token}", operation_id="invitation")
def invitation(token: str, ctx: Ctx) -> s.InvitationView:
    return s.InvitationView.model_validate(inviting.invitation(ctx.db, token))


@router.post("/invitations/{token}", operation_id="acceptInvitation", status_code=204)
def accept_invitation(token: str, body: s.PasswordRequest, response: Response, ctx: Ctx, place: From) -> None:
    keep(response, ctx, inviting.accept_invitation(ctx.db, token, password=body.password, asking=place, now=ctx.now, lasts=ctx.lasting))


@router.get("/clients", operation_id="clients")
def list_clients(coach: Coach, ctx: Ctx) -> list[s.ListedClient]:
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


# ---------------------------------------------------------------- those who work here
def _person(x: Account) -> a.PersonView:
    return a.PersonView(
        id=x.id,
        name=x.name,
        email=x.email,
        standing=x.standing,
        sees_all=x.sees_all,
        sees=x.sees,
        clients=x.clients,
        disabled_at=x.disabled_at,
        factor_since=x.totp_since,
        seen_at=x.seen_at,
    )


@router.get("/beginning", operation_id="beginning")
def first_steps(coach: Coach, ctx: Ctx) -> list[a.StepView]:
    """What a practice that was just opened does first; nothing once all is done."""
    return [a.StepView.model_validate(x) for x in beginning.steps(ctx.db, coach)]


@router.post("/beginning/{step}", operation_id="settleBeginning", status_code=204)
def settle_first_step(step: Literal["ways", "colleague"], coach: Senior, ctx: Ctx) -> None:
    beginning.settle(ctx.db, coach, step)


@router.get("/coaches", operation_id="coaches")
def coaches(coach: Coach, ctx: Ctx) -> list[CoachName]:
    """Those who can take a client on."""
    return [CoachName(id=x.id, name=x.name) for x in staff.everybody(ctx.db, coach).people if staff.takes_on(x)]


@router.get("/people", operation_id="people")
def people(owner: Owner, ctx: Ctx) -> a.PeopleView:
    found = staff.everybody(ctx.db, owner)
    invited = [a.InvitedView.model_validate(x) for x in found.invited]
    return a.PeopleView(people=[_person(x) for x in found.people], invited=invited)


@router.post("/people/invitations", operation_id="inviteColleague", status_code=201)
def invite_colleague(body: a.InviteColleague, owner: Owner, ctx: Ctx) -> a.PathView:
    token = staff.invite(ctx.db, owner, name=body.name, email=body.email, standing=body.standing, now=ctx.now)
    return a.PathView(path=f"/join/{token}", days=staff.LINK_DAYS)


@router.delete("/people/invitations/{link_id}", operation_id="takeInvitationBack", status_code=204)
def take_back(link_id: UUID, owner: Owner, ctx: Ctx) -> None:
    staff.take_invitation_back(ctx.db, owner, link_id)


@router.put("/people/{account_id}", operation_id="changePerson", status_code=204)
def change(account_id: UUID, body: a.PersonChange, owner: Owner, ctx: Ctx) -> None:
    to = staff.Change(standing=body.standing, sees_all=body.sees_all, sees=body.sees, disabled=body.disabled)
    staff.change(ctx.db, owner, account_id, to, ctx.now)


@router.post("/people/{account_id}/new-password", operation_id="passwordForPerson", status_code=201)
def new_password(account_id: UUID, owner: Owner, ctx: Ctx) -> a.PathView:
    """A link that the owner hands over, for somebody who cannot get mail."""
    token = staff.new_password_link(ctx.db, owner, account_id, ctx.now)
    return a.PathView(path=f"/new-password/{token}", days=staff.RESET_LINK.days)


@router.post("/people/{account_id}/hand-over", operation_id="handOverAll")
def hand_over_all(account_id: UUID, body: a.HandOver, coach: Senior, ctx: Ctx) -> Count:
    return Count(count=staff.hand_over(ctx.db, coach, body.to, from_=account_id))


@router.post("/clients/{client_id}/hand-over", operation_id="handOver", status_code=204)
def hand_over(client_id: UUID, body: a.HandOver, coach: Senior, ctx: Ctx) -> None:
    staff.hand_over(ctx.db, coach, body.to, client_id=client_id)
