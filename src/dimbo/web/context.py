"""What every request needs: the database, the settings, who is asking, and the time."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Annotated

from fastapi import Depends, HTTPException, Request, Response

from dimbo.ops.settings import Settings
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.work.people import signing_in

from .schemas.wire import Wire

COOKIE = "dimbo_sign_in"
SAFE = {"GET", "HEAD", "OPTIONS"}
"""Methods that change nothing."""


@dataclass(frozen=True)
class Context:
    db: Database
    settings: Settings

    @property
    def now(self) -> datetime:
        return datetime.now(UTC)


async def context(request: Request) -> Context:
    """What a request works with; one that only asks has a database that only reads, so no page writes by being looked at."""
    found: Context = request.app.state.context
    return replace(found, db=found.db.reading()) if request.method in SAFE else found


async def noting(request: Request) -> Context:
    """For a question that is noted down, such as when a calendar program asked last."""
    found: Context = request.app.state.context
    return found


Ctx = Annotated[Context, Depends(context)]
Noting = Annotated[Context, Depends(noting)]


def signed_in(request: Request, ctx: Ctx) -> Person:
    person = signing_in.who(ctx.db, request.cookies.get(COOKIE))
    if person is None:
        raise HTTPException(401, "Sign in first.")
    return person


async def coach(person: Annotated[Person, Depends(signed_in)]) -> Person:
    if person.role != "coach":
        raise HTTPException(403, "This page is for coaches.")
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
Client = Annotated[Person, Depends(client)]
