"""Messages, the outbox of the messenger, reminders, and the calendar feed."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from fastapi import APIRouter, HTTPException, Request, Response

from dimbo.core.calendar.reminder_times import DEFAULT_TEXT, PLACES, Quiet
from dimbo.ops import stand_in_push
from dimbo.ops.stand_in_mail import arrived
from dimbo.store.messages.devices import NewDevice
from dimbo.store.people.accounts import Person
from dimbo.web.context import Client, Coach, Context, Ctx, Noting, Senior, SignedIn, Token
from dimbo.web.files import Calendar
from dimbo.web.schemas import messages as s
from dimbo.web.schemas import people as a
from dimbo.work.messages import due, feed, messaging, pushing
from dimbo.work.messages.messaging import Said
from dimbo.work.practice import reminding
from dimbo.work.practice.days import own_client
from dimbo.work.shared.errors import Refused, Why

router = APIRouter(tags=["messages"])


@router.post("/api/my-messages/read", operation_id="readMyMessages", status_code=204)
def read_my_messages(client: Client, ctx: Ctx) -> None:
    """What the coach wrote until now was shown."""
    messaging.mark_read(ctx.db, client, own_client(client), ctx.now)


@router.get("/api/clients/{client_id}/messages", operation_id="clientMessages")
def client_messages(client_id: UUID, coach: Coach, ctx: Ctx) -> list[s.MessageView]:
    return [s.MessageView.model_validate(m) for m in messaging.of_client(ctx.db, coach, client_id)]


@router.post("/api/clients/{client_id}/messages/read", operation_id="readClientMessages", status_code=204)
def read_client_messages(client_id: UUID, coach: Coach, ctx: Ctx) -> None:
    """What the client wrote until now was shown."""
    messaging.mark_read(ctx.db, coach, client_id, ctx.now)


@router.post("/api/clients/{client_id}/messages", operation_id="writeToClient", status_code=204)
def write(client_id: UUID, body: s.WriteRequest, coach: Coach, ctx: Ctx) -> None:
    said = Said(id=body.id, text=body.text, written_at=ctx.now, about_day=body.about_day, exercise_id=body.exercise_id)
    messaging.write_as_coach(ctx.db, coach, client_id, said, ctx.now)


def _posted(ctx: Context, person: Person, client_id: UUID | None) -> list[s.PostedView]:
    return [s.PostedView.model_validate(p) for p in messaging.outbox_of(ctx.db, person, client_id)]


@router.get("/api/outbox", operation_id="outbox")
def outbox(coach: Coach, ctx: Ctx, client_id: UUID | None = None) -> list[s.PostedView]:
    return _posted(ctx, coach, client_id)


@router.get("/api/my-outbox", operation_id="myOutbox")
def my_outbox(client: Client, ctx: Ctx) -> list[s.PostedView]:
    return _posted(ctx, client, None)


@router.get("/api/my-reminders", operation_id="myReminders")
def my_reminders(client: Client, ctx: Ctx) -> s.RemindersView:
    own, ours = reminding.choices(ctx.db, client, own_client(client))
    quiet = s.QuietHours(first=own.quiet_first, last=own.quiet_last) if own.quiet_first and own.quiet_last else None
    practice = s.QuietHours(first=ours.quiet_first, last=ours.quiet_last)
    return s.RemindersView(on=own.unsubscribed_at is None, quiet=quiet, practice_quiet=practice)


@router.put("/api/my-reminders", operation_id="setMyReminders", status_code=204)
def set_my_reminders(body: s.RemindersRequest, client: Client, ctx: Ctx) -> None:
    quiet = body.quiet
    choice = reminding.Choice(body.on, quiet.first if quiet else None, quiet_last=quiet.last if quiet else None)
    reminding.choose(ctx.db, client, own_client(client), choice, ctx.now)


@router.get("/api/reminding", operation_id="reminding")
def practice_reminding(coach: Coach, ctx: Ctx) -> s.RemindingView:
    ours = reminding.of_practice(ctx.db, coach)
    quiet = s.QuietHours(first=ours.quiet_first, last=ours.quiet_last)
    return s.RemindingView(quiet=quiet, text=ours.reminder_text, shipped_text=DEFAULT_TEXT, places=list(PLACES))


@router.post("/api/reminding/preview", operation_id="previewReminding")
def preview_reminding(body: s.RemindingRequest, coach: Coach, ctx: Ctx) -> list[s.ReminderMoved]:
    """Which reminders other quiet hours would move; nothing is stored."""
    quiet = Quiet(body.quiet.first, last=body.quiet.last)
    return [s.ReminderMoved.model_validate(m) for m in reminding.preview(ctx.db, coach, quiet, ctx.now)]


@router.put("/api/reminding", operation_id="setReminding", status_code=204)
def set_reminding(body: s.RemindingRequest, coach: Senior, ctx: Ctx) -> None:
    reminding.set_practice(ctx.db, coach, body.quiet.first, quiet_last=body.quiet.last, text=body.text)


@router.post("/api/unsubscribe/{token}", operation_id="unsubscribe")
def unsubscribe(token: str, ctx: Ctx) -> s.Unsubscribed:
    return s.Unsubscribed(practice_name=reminding.unsubscribe(ctx.db, token, ctx.now))


def _feed(ctx: Context, person: Person, client_id: UUID) -> s.FeedView:
    found = feed.current(ctx.db, person, client_id)
    return s.FeedView(open=found is not None, made_at=found.made_at if found else None, read_at=found.read_at if found else None)


@router.get("/api/my-feed", operation_id="myFeed")
def my_feed(client: Client, ctx: Ctx) -> s.FeedView:
    return _feed(ctx, client, own_client(client))


@router.post("/api/my-feed", operation_id="openMyFeed", status_code=201)
def open_my_feed(client: Client, ctx: Ctx) -> s.FeedLink:
    return s.FeedLink(path=f"/calendar/{feed.open_feed(ctx.db, client, own_client(client), ctx.now)}.ics")


@router.delete("/api/my-feed", operation_id="closeMyFeed", status_code=204)
def close_my_feed(client: Client, ctx: Ctx) -> None:
    feed.close_feed(ctx.db, client, own_client(client), ctx.now)


def _file(content: bytes, day: date) -> Calendar:
    return Calendar(content, f"practice-{day}.ics")


@router.get("/api/my-calendar.ics", operation_id="myCalendar", response_class=Calendar)
def my_calendar(client: Client, ctx: Noting) -> Calendar:
    return _file(feed.download(ctx.db, client, own_client(client), ctx.now), ctx.now.date())


@router.get("/api/clients/{client_id}/calendar.ics", operation_id="clientCalendar", response_class=Calendar)
def client_calendar(client_id: UUID, coach: Coach, ctx: Noting) -> Calendar:
    return _file(feed.download(ctx.db, coach, client_id, ctx.now), ctx.now.date())


_ENDED: dict[int | str, dict[str, Any]] = {
    304: {"description": "Nothing has changed"},
    404: {"description": "No such calendar", "content": {"text/plain": {"schema": {"type": "string"}}}},
    410: {"description": "This address was closed", "content": {"text/plain": {"schema": {"type": "string"}}}},
}


@router.get("/calendar/{token}.ics", operation_id="calendarFeed", response_class=Calendar, responses=_ENDED)
def calendar_feed(token: str, request: Request, ctx: Noting) -> Response:
    """The feed by its private address, for calendar programs that do not sign in. Whoever says what they have already gets 304 while
    nothing has changed."""
    try:
        sheet = feed.read(ctx.db, token, ctx.now)
    except Refused as error:
        # Programs stop asking at 410; at 404 they ask again.
        return Response(error.message, 410 if error.why is Why.LINK else 404, media_type="text/plain; charset=utf-8")
    return Calendar(sheet.content).known_by(sheet.tag, sheet.changed_at, request)


@router.get("/api/stand-in-mail", operation_id="standInMail")
def mail(ctx: Ctx) -> list[a.ArrivedView]:
    """Every message that the stand-in mail server took in, for whoever tries the demo, signed in or not."""
    folder = ctx.settings.stand_in_mail
    if folder is None:
        raise HTTPException(404, "There is no stand-in for mail here.")
    return [a.ArrivedView.model_validate(m) for m in arrived(folder)]


@router.get("/api/undelivered", operation_id="undelivered")
def undelivered(coach: Coach, ctx: Ctx) -> list[s.UndeliveredView]:
    """Whom letters do not reach: each person once."""
    return [s.UndeliveredView.model_validate(u) for u in messaging.undelivered(ctx.db, coach)]


# ---------------------------------------------------------------- notices on devices
@router.get("/api/push-key", operation_id="pushKey")
def push_key(person: SignedIn, ctx: Noting) -> s.PushKey:
    return s.PushKey(key=pushing.public_key(ctx.db), stand_in=bool(ctx.settings.stand_in_push))


@router.get("/api/my-devices", operation_id="myDevices")
def my_devices(person: SignedIn, ctx: Ctx) -> list[s.DeviceView]:
    return [s.DeviceView.model_validate(d) for d in pushing.of_account(ctx.db, person)]


@router.put("/api/my-devices", operation_id="addDevice", status_code=204)
def add_device(body: s.DeviceRequest, person: SignedIn, token: Token, ctx: Ctx) -> None:
    """Notices come to this browser, as long as it is signed in."""
    pushing.subscribe(ctx.db, person, token, NewDevice(**body.model_dump()), ctx.settings.stand_in_push)


@router.post("/api/my-devices/take-off", operation_id="takeDeviceOff", status_code=204)
def take_device_off(body: s.DeviceGone, person: SignedIn, ctx: Ctx) -> None:
    pushing.unsubscribe(ctx.db, person, body.endpoint)


@router.post("/api/stand-in-device", operation_id="standInDevice", status_code=201)
def stand_in_device(person: SignedIn, ctx: Ctx) -> s.MadeDevice:
    """A device of the demo, in place of the browser's own."""
    if not ctx.settings.stand_in_push:
        raise HTTPException(404, "There is no stand-in for notices here.")
    made = stand_in_push.make_device(ctx.settings.stand_in_push)
    return s.MadeDevice(endpoint=made["endpoint"], **made["keys"])


@router.get("/api/stand-in-notices", operation_id="standInNotices")
def notices(ctx: Ctx) -> list[s.NoticeView]:
    """Every notice that a device of the demo would have shown, for whoever tries it."""
    folder = ctx.settings.stand_in_notices
    if folder is None:
        raise HTTPException(404, "There is no stand-in for notices here.")
    return [s.NoticeView.model_validate(n) for n in stand_in_push.arrived(folder)]


# ---------------------------------------------------------------- all that is due
@router.post("/api/clients/{client_id}/due-link", operation_id="sendDueLink", status_code=201)
def send_due_link(client_id: UUID, body: s.DueLinkRequest, coach: Senior, ctx: Ctx) -> s.DueLink:
    return s.DueLink(path=f"/due/{due.make(ctx.db, coach, client_id, body.email, ctx.now)}", days=due.LINK_DAYS)


@router.get("/api/due/{token}", operation_id="due")
def look_at_due(token: str, ctx: Ctx) -> s.DueView:
    return s.DueView.model_validate(due.look(ctx.db, token, ctx.now))


@router.post("/api/due/{token}/{what}", operation_id="openDue")
def open_due(token: str, what: due.What, ctx: Ctx) -> s.DueOpened:
    """The link that opens one of them."""
    return s.DueOpened(path=due.open_one(ctx.db, token, what, ctx.now))
