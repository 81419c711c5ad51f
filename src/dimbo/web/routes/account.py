"""Everybody's own account; a forgotten password; links that confirm and open."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from dimbo.web.context import Ctx, From, SignedIn, Token, keep
from dimbo.web.schemas import people as s
from dimbo.work.people import account, second_factor, staff

router = APIRouter(prefix="/api", tags=["own account"])


@router.get("/account", operation_id="account")
def read(person: SignedIn, token: Token, ctx: Ctx) -> s.AccountView:
    own = account.own(ctx.db, person, token)
    known = own.account
    return s.AccountView(
        name=known.name,
        email=known.email,
        pending=own.pending,
        standing=person.standing,
        time_zone=known.time_zone,
        factor_since=known.totp_since,
        recovery_codes=own.recovery_codes,
        sign_ins=[s.SignInView.model_validate(x) for x in own.sign_ins],
    )


@router.put("/account/name", operation_id="renameAccount", status_code=204)
def rename(body: s.NameRequest, person: SignedIn, ctx: Ctx) -> None:
    account.rename(ctx.db, person, body.name, time_zone=body.time_zone)


@router.put("/account/password", operation_id="changePassword")
def change_password(body: s.NewPassword, person: SignedIn, token: Token, ctx: Ctx) -> s.Ended:
    return s.Ended(count=account.change_password(ctx.db, person, old=body.old, new=body.new, token=token))


@router.post("/account/address", operation_id="askForAddress", status_code=204)
def ask_for_address(body: s.NewAddress, person: SignedIn, ctx: Ctx) -> None:
    """The new address gets a link; the old one holds until it is followed."""
    account.ask_for_address(ctx.db, person, body.email, password=body.password, now=ctx.now)


@router.post("/addresses/{token}", operation_id="confirmAddress")
def confirm_address(token: str, ctx: Ctx) -> s.AddressView:
    return s.AddressView(email=account.confirm_address(ctx.db, token))


@router.delete("/account/sign-ins", operation_id="signOutElsewhere")
def sign_out_elsewhere(person: SignedIn, token: Token, ctx: Ctx) -> s.Ended:
    return s.Ended(count=account.sign_out_elsewhere(ctx.db, person, token))


@router.delete("/account/sign-ins/{sign_in_id}", operation_id="endSignIn", status_code=204)
def end_sign_in(sign_in_id: UUID, person: SignedIn, ctx: Ctx) -> None:
    account.end_sign_in(ctx.db, person, sign_in_id)


@router.post("/account/factor", operation_id="beginFactor", status_code=201)
def begin_factor(body: s.PasswordRequest, person: SignedIn, ctx: Ctx) -> s.FactorBegun:
    made = second_factor.begin(ctx.db, person, body.password)
    return s.FactorBegun(secret=made.secret, picture=made.picture)


@router.post("/account/factor/confirm", operation_id="confirmFactor")
def confirm_factor(body: s.CodeRequest, person: SignedIn, ctx: Ctx) -> s.RecoveryCodes:
    """From now on signing in asks for a code; the recovery codes are shown this once."""
    return s.RecoveryCodes(codes=second_factor.switch_on(ctx.db, person, body.code, ctx.now))


@router.post("/account/factor/off", operation_id="endFactor", status_code=204)
def end_factor(body: s.PasswordRequest, person: SignedIn, ctx: Ctx) -> None:
    second_factor.switch_off(ctx.db, person, body.password)


@router.post("/forgotten", operation_id="forgotPassword", status_code=204)
def forgot(body: s.ForgotRequest, ctx: Ctx, place: From) -> None:
    """The same answer for addresses that are known and that are not."""
    account.forgot(ctx.db, body.email, place, ctx.now)


@router.get("/new-passwords/{token}", operation_id="passwordLink")
def password_link(token: str, ctx: Ctx) -> s.LinkView:
    return s.LinkView.model_validate(account.opened(ctx.db, token, kind="password"))


@router.post("/new-passwords/{token}", operation_id="setPassword")
def set_password(token: str, body: s.PasswordRequest, response: Response, ctx: Ctx, place: From) -> s.SignedIn:
    tokens = account.set_password(ctx.db, token, password=body.password, asking=place, now=ctx.now, lasts=ctx.lasting)
    if tokens:
        keep(response, ctx, tokens)
    return s.SignedIn(signed_in=tokens is not None)


@router.get("/joining/{token}", operation_id="joinLink")
def join_link(token: str, ctx: Ctx) -> s.LinkView:
    return s.LinkView.model_validate(staff.invitation(ctx.db, token))


@router.post("/joining/{token}", operation_id="join", status_code=204)
def join(token: str, body: s.PasswordRequest, response: Response, ctx: Ctx, place: From) -> None:
    keep(response, ctx, staff.join(ctx.db, token, password=body.password, asking=place, now=ctx.now, lasts=ctx.lasting))
