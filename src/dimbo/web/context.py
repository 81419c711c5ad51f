"""What every request needs: the database, the settings, who is asking, and the time."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Annotated

from fastapi import Depends, HTTPException, Request, Response

from dimbo.ops.settings import Settings
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.work.people import signing_in, staff
from dimbo.work.people.signing_in import Asking, Lasting, Tokens
from dimbo.work.shared.tables import Decimal, Dialect, Separator

from .schemas.wire import Wire

SIGN_IN, DEVICE = "dimbo_sign_in", "dimbo_device"
OWN_HEADER = "x-dimbo"
"""Pages of other origins cannot send this header without asking first, and they are never allowed."""
"""Cookies: the sign-in, and the device on which somebody was signed in. Over https both are bound to this host by their names."""
SAFE = {"GET", "HEAD", "OPTIONS"}
"""Methods that change nothing."""


@dataclass(frozen=True)
class Context:
    db: Database
    settings: Settings

    @property
    def lasting(self) -> Lasting:
        return Lasting(self.settings.session_days, idle_days=self.settings.session_idle_days)

    def cookie(self, name: str) -> str:
        return f"__Host-{name}" if self.settings.secure else name

    @property
    def now(self) -> datetime:
        return datetime.now(UTC)


async def context(request: Request) -> Context:
    """What a request works with; one that only asks has a database that only reads, so no page writes by being looked at."""
    found: Context = request.app.state.context
    return replace(found, db=found.db.reading()) if request.method in SAFE else found


async def noting(request: Request) -> Context:
    """For a question that is noted down: when a calendar program asked last, or that somebody looked at a photograph."""
    found: Context = request.app.state.context
    return found


Ctx = Annotated[Context, Depends(context)]
Noting = Annotated[Context, Depends(noting)]


def sign_in_token(request: Request, ctx: Ctx) -> str:
    """The token of the sign-in that asks; empty without one."""
    return request.cookies.get(ctx.cookie(SIGN_IN), "")


def asking(request: Request, ctx: Ctx) -> Asking:
    """Where a request comes from."""
    address = request.client.host if request.client else "unknown"
    return Asking(address=address, device=request.cookies.get(ctx.cookie(DEVICE)), browser=request.headers.get("user-agent", ""))


def keep(response: Response, ctx: Context, tokens: Tokens) -> None:
    """Give the browser its cookies."""
    for name, value, days in ((SIGN_IN, tokens.sign_in, ctx.settings.session_days), (DEVICE, tokens.device, 400)):
        response.set_cookie(
            ctx.cookie(name), value, max_age=days * 86400, httponly=True, samesite="strict", secure=ctx.settings.secure, path="/"
        )


def signed_in(request: Request, ctx: Ctx) -> Person:
    person = signing_in.who(ctx.db, sign_in_token(request, ctx), ctx.lasting)
    if person is None:
        raise HTTPException(401, "Sign in first.")
    return person


async def coach(person: Annotated[Person, Depends(signed_in)]) -> Person:
    if person.role != "coach":
        raise HTTPException(403, "This page is for coaches.")
    return person


async def senior(person: Annotated[Person, Depends(coach)]) -> Person:
    if person.standing == staff.ASSISTANT:
        raise HTTPException(403, "Assistants leave this to the coaches of the practice.")
    return person


async def owner(person: Annotated[Person, Depends(coach)]) -> Person:
    if person.standing != staff.OWNER:
        raise HTTPException(403, "This is for an owner of the practice.")
    return person


async def client(person: Annotated[Person, Depends(signed_in)]) -> Person:
    if person.role != "client":
        raise HTTPException(403, "This page is for clients.")
    return person


def plain(view: Wire, status: int = 200) -> Response:
    """A finished view as an answer; the framework would validate it once more, on another thread."""
    return Response(view.model_dump_json(), status, media_type="application/json")


SignedIn = Annotated[Person, Depends(signed_in)]
Coach = Annotated[Person, Depends(coach)]
"""Everybody who works in the practice."""
Senior = Annotated[Person, Depends(senior)]
"""Coaches and owners, not assistants: what holds for the whole practice, takes clients on, or takes data out."""
Owner = Annotated[Person, Depends(owner)]
From = Annotated[Asking, Depends(asking)]
Token = Annotated[str, Depends(sign_in_token)]
Client = Annotated[Person, Depends(client)]


async def written(separator: Separator = Separator.COMMA, decimal: Decimal = Decimal.POINT, mark: bool = False) -> Dialect:
    """How tables are written; ``mark`` is the byte-order mark by which spreadsheets know UTF-8."""
    return Dialect(separator=separator, decimal=decimal, mark=mark)


Written = Annotated[Dialect, Depends(written)]
