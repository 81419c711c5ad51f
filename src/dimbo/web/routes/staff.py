"""The people of a practice: invited, given a standing, and handing clients over."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from dimbo.store.people.accounts import Account
from dimbo.web.context import Ctx, Owner, Senior
from dimbo.web.schemas import account as s
from dimbo.web.schemas.sittings import Count
from dimbo.work.people import staff

router = APIRouter(prefix="/api")


def _person(a: Account) -> s.PersonView:
    return s.PersonView(
        id=a.id,
        name=a.name,
        email=a.email,
        standing=a.standing,
        sees_all=a.sees_all,
        sees=a.sees,
        clients=a.clients,
        disabled_at=a.disabled_at,
        factor_since=a.totp_since,
        seen_at=a.seen_at,
    )


@router.get("/people", operation_id="people")
def people(owner: Owner, ctx: Ctx) -> s.PeopleView:
    found = staff.everybody(ctx.db, owner)
    invited = [s.InvitedView.model_validate(x) for x in found.invited]
    return s.PeopleView(people=[_person(a) for a in found.people], invited=invited)


@router.post("/people/invitations", operation_id="inviteColleague", status_code=201)
def invite(body: s.InviteColleague, owner: Owner, ctx: Ctx) -> s.PathView:
    token = staff.invite(ctx.db, owner, name=body.name, email=body.email, standing=body.standing, now=ctx.now)
    return s.PathView(path=f"/join/{token}", days=staff.LINK_DAYS)


@router.delete("/people/invitations/{link_id}", operation_id="takeInvitationBack", status_code=204)
def take_back(link_id: UUID, owner: Owner, ctx: Ctx) -> None:
    staff.take_invitation_back(ctx.db, owner, link_id)


@router.put("/people/{account_id}", operation_id="changePerson", status_code=204)
def change(account_id: UUID, body: s.PersonChange, owner: Owner, ctx: Ctx) -> None:
    to = staff.Change(standing=body.standing, sees_all=body.sees_all, sees=body.sees, disabled=body.disabled)
    staff.change(ctx.db, owner, account_id, to, ctx.now)


@router.post("/people/{account_id}/new-password", operation_id="passwordForPerson", status_code=201)
def new_password(account_id: UUID, owner: Owner, ctx: Ctx) -> s.PathView:
    """A link that the owner hands over, for somebody who cannot get mail."""
    token = staff.new_password_link(ctx.db, owner, account_id, ctx.now)
    return s.PathView(path=f"/new-password/{token}", days=staff.RESET_LINK.days)


@router.post("/people/{account_id}/hand-over", operation_id="handOverAll")
def hand_over_all(account_id: UUID, body: s.HandOver, coach: Senior, ctx: Ctx) -> Count:
    return Count(count=staff.hand_over(ctx.db, coach, body.to, from_=account_id))


@router.post("/clients/{client_id}/hand-over", operation_id="handOver", status_code=204)
def hand_over(client_id: UUID, body: s.HandOver, coach: Senior, ctx: Ctx) -> None:
    staff.hand_over(ctx.db, coach, body.to, client_id=client_id)
