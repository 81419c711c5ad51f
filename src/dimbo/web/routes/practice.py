"""The client's side: the days, and handing in what a device kept."""

from __future__ import annotations

from datetime import date
from functools import lru_cache
from uuid import UUID

import structlog
from anyio import CapacityLimiter, to_thread
from fastapi import APIRouter, Response

from dimbo.store.database import AWAY, UNSTORABLE, NotThere
from dimbo.store.people.accounts import Person
from dimbo.web.context import Client, Coach, Context, Ctx, plain
from dimbo.web.schemas import practice as s
from dimbo.web.schemas.people import ZoneRequest
from dimbo.web.schemas.sittings import SittingLink
from dimbo.web.views import practice as views
from dimbo.work.messages import messaging
from dimbo.work.practice import answering, checking_in, days, handing_in, moving_zone, own_sitting, reading_logs
from dimbo.work.practice.handing_in import Kept
from dimbo.work.shared.errors import Refused

log = structlog.get_logger()
router = APIRouter(prefix="/api", tags=["practice"])
AT_ONCE = 4
"""Deliveries that a web server works on at the same time."""


@router.get("/my-days", operation_id="myDays", response_model=s.DaysView)
def my_days(client: Client, ctx: Ctx) -> Response:
    """The days as they are laid out."""
    now = ctx.now
    return plain(views.days(days.days(ctx.db, client, now), now))


@router.post("/my-days", operation_id="beginDay", response_model=s.DaysView)
def begin_day(client: Client, ctx: Ctx) -> Response:
    """The client is here: what a break or a missing review means is laid out, then the days. Asking twice changes nothing."""
    now = ctx.now
    return plain(views.days(days.begin_day(ctx.db, client, now), now))


def _hand_in(ctx: Context, client: Person, body: s.HandInRequest, entry: s.Entry) -> Kept:
    now = ctx.now
    if isinstance(entry, s.LogIn):
        return handing_in.hand_in(ctx.db, client, views.report(entry, body.sent_at), now)
    if isinstance(entry, s.CheckInIn):
        places = [checking_in.Sore(p.muscle, side=p.side) for p in entry.places]
        said = checking_in.CheckInSaid(id=entry.id, soreness=entry.soreness, places=places, said_at=entry.said_at, sent_at=body.sent_at)
        return Kept(checking_in.check_in(ctx.db, client, said, now))
    if isinstance(entry, s.TickIn):
        tick = checking_in.TickSaid(
            id=entry.id,
            assignment_id=entry.assignment_id,
            exercise_id=entry.exercise_id,
            amount=entry.amount,
            said_at=entry.said_at,
            sent_at=body.sent_at,
        )
        return Kept(checking_in.tick(ctx.db, client, tick, now))
    if isinstance(entry, s.AnswerIn):
        told = answering.Answer(id=entry.id, caution=entry.caution, answer=entry.answer, regions=entry.regions, event_on=entry.event_on)
        new, says = answering.answer(ctx.db, client, told, now)
        return Kept(new, says)
    if isinstance(entry, s.AskedIn):
        return Kept(answering.nothing_changed(ctx.db, client, entry.id, now))
    if isinstance(entry, s.BornIn):
        return Kept(answering.born(ctx.db, client, entry.id, entry.year, now))
    if isinstance(entry, s.AgreeIn):
        return Kept(answering.agree(ctx.db, client, answering.Agreement(entry.id, entry.given, entry.version), now))
    message = messaging.Said(
        id=entry.id, text=entry.text, written_at=entry.written_at, about_day=entry.about_day, exercise_id=entry.exercise_id
    )
    return Kept(messaging.write_as_client(ctx.db, client, days.own_client(client), message, now))


@lru_cache(maxsize=1)
def _few() -> CapacityLimiter:
    return CapacityLimiter(AT_ONCE)


@router.post("/hand-in", operation_id="handIn")
async def hand_in(body: s.HandInRequest, client: Client, ctx: Ctx) -> s.HandInAnswer:
    """Take entries in their order, each in a transaction of its own: what is answered as kept is kept.

    An entry that cannot be is refused by itself, and the others go on. When many phones come back at once they queue here,
    so that they take neither the threads nor the connections of everybody else.
    """
    return await to_thread.run_sync(_hand_all_in, ctx, client, body, limiter=_few())


def _hand_all_in(ctx: Context, client: Person, body: s.HandInRequest) -> s.HandInAnswer:
    results = []
    for entry in body.entries:
        try:
            kept = _hand_in(ctx, client, body, entry)
            results.append(s.HandedIn(id=entry.id, state="kept" if kept.new else "had", said=list(kept.said)))
        except (Refused, NotThere) as error:
            results.append(s.HandedIn(id=entry.id, state="refused", said=[str(error)]))
        except UNSTORABLE as error:
            log.warning("value cannot be stored", entry_id=str(entry.id), error=str(error))
            said = "Something in it cannot be stored, such as an invisible sign in a text."
            results.append(s.HandedIn(id=entry.id, state="refused", said=[said]))
        except AWAY:
            raise  # the database is away, for all of them
        except Exception:
            # One entry that trips over a fault here must not hold up the others; the phone keeps it and tries again.
            log.exception("entry could not be taken", entry_id=str(entry.id), kind=entry.kind)
            said = "This could not be taken just now. It is kept on the phone and tried again."
            results.append(s.HandedIn(id=entry.id, state="later", said=[said]))
    return s.HandInAnswer(results=results)


@router.get("/my-logs/{day}", operation_id="myLogs")
def my_logs(day: date, client: Client, ctx: Ctx) -> list[s.LoggedSession]:
    return [views.logged(x) for x in reading_logs.of_day(ctx.db, client, days.own_client(client), day)]


@router.get("/clients/{client_id}/logs/{day}", operation_id="clientLogs")
def client_logs(client_id: UUID, day: date, coach: Coach, ctx: Ctx) -> list[s.LoggedSession]:
    return [views.logged(x) for x in reading_logs.of_day(ctx.db, coach, client_id, day)]


@router.put("/my-zone", operation_id="moveZone", status_code=204)
def move(body: ZoneRequest, client: Client, ctx: Ctx) -> None:
    moving_zone.move(ctx.db, client, body.time_zone)


@router.post("/my-sitting", operation_id="beginMySitting", status_code=201)
def begin_sitting(client: Client, ctx: Ctx) -> SittingLink:
    """The way to the photographs that are due."""
    return SittingLink(path=f"/photographs/{own_sitting.begin(ctx.db, client, ctx.now)}")
