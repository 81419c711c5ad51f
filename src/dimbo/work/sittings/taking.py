"""Sittings: opening them, letting the client take one alone, and taking photographs in, whole or piece by piece."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.safety.cautions import stop_words
from dimbo.core.safety.health_questions import Asking, asked_before_sitting
from dimbo.core.sittings.protocol import NEUTRAL, VIEWS
from dimbo.core.text import long_date
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.intake import facts
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.sittings import photographs, sittings
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.sittings import Sitting
from dimbo.vision.apart import read_photograph
from dimbo.vision.terms import MAX_BYTES, PhotographError
from dimbo.work.intake.consenting import consent_of, require
from dimbo.work.intake.entering import cautions_of
from dimbo.work.intake.looking import PHOTOGRAPHS, come_near, concerned, consents_of, look, may_see, noted
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.queue import queue_analysis
from dimbo.work.shared.tokens import token_hash
from dimbo.work.shared.turns import Turns

LINK_DAYS = 14
READING = Turns(1, waiting=6, words="Other photographs are being read at this moment. Wait a little, then send it again.")
"""One picture is decoded at a time in a process, and its file is in memory only then."""
MAX_PIECE = 1024 * 1024
MOST_UNFINISHED, MOST_PIECES = 4 * MAX_BYTES, 1000
"""How much of a client may be on its way at once, in bytes and in pieces; it ends when nothing more came for ``UNFINISHED``."""
UNFINISHED = timedelta(days=2)
HOW = ("", "another person", "timer", "selfie", "mirror")


@dataclass(frozen=True, kw_only=True)
class Arrangement:
    """How a sitting is to be taken: which views, baseline or follow-up, how, and by which mark sides can be told."""

    kind: str = ""
    asked_views: tuple[str, ...] = (NEUTRAL,)
    how: str = ""
    hint: str = ""
    note: str = ""


def _checked(a: Arrangement) -> Arrangement:
    unknown = [v for v in a.asked_views if v not in VIEWS]
    if unknown:
        raise Refused(Why.UNKNOWN, f"“{unknown[0][:40]}” is not a view of the protocol. Choose from the list.", "asked_views")
    if a.how not in HOW:
        raise Refused(Why.NEEDED, "Say how the pictures are taken: by another person, by timer, as a selfie or in a mirror.", "how")
    if a.kind not in ("", "baseline", "follow-up"):
        raise Refused(Why.UNREADABLE, "A sitting is a baseline or a follow-up.", "kind")
    return Arrangement(
        kind=a.kind,
        asked_views=tuple(v for v in VIEWS if v in a.asked_views) or (NEUTRAL,),
        how=a.how,
        hint=a.hint.strip()[:200],
        note=a.note.strip()[:2000],
    )


def open_sitting(
    db: Database, coach: Person, client_id: UUID, taken_on: date, now: datetime, arrangement: Arrangement = Arrangement()
) -> UUID:
    """A new sitting for a client; before practice begins it is a baseline unless said otherwise. Raises NotThere, Refused."""
    asked = _checked(arrangement)
    with db.of(coach) as conn:
        come_near(conn, coach, client_id, now)
        kind = asked.kind or ("follow-up" if sittings.has_practised(conn, client_id) else "baseline")
        earlier = sittings.of_client(conn, client_id)
        hint = asked.hint or next((s.hint for s in earlier if s.hint), "")
        made = sittings.create(
            conn, coach.practice_id, client_id, taken_on, kind=kind, asked_views=list(asked.asked_views), note=asked.note, hint=hint
        )
        if asked.how:
            sittings.describe(conn, made, kind=kind, how=asked.how, hint=hint, note=asked.note, asked_views=list(asked.asked_views))
        return made


def arrange(db: Database, coach: Person, sitting_id: UUID, arrangement: Arrangement, now: datetime) -> None:
    """Change how a sitting is taken. Raises NotThere, Refused."""
    asked = _checked(arrangement)
    with db.of(coach) as conn:
        known = _near(conn, coach, sitting_id, now)
        sittings.describe(
            conn,
            sitting_id,
            kind=asked.kind or known.kind,
            how=asked.how or known.how,
            hint=asked.hint or known.hint,
            note=asked.note or known.note,
            asked_views=list(asked.asked_views),
        )


def send_link(db: Database, coach: Person, sitting_id: UUID, now: datetime, *, token: str = "") -> str:
    """A link by which the client takes this sitting alone; returns its token, which is ``token`` where one is made already. An
    earlier link ends."""
    token = token or secrets.token_urlsafe(24)
    with db.of(coach) as conn:
        sitting = _near(conn, coach, sitting_id, now)
        require(conn, clients.one(conn, sitting.client_id), PHOTOGRAPHS, now)
        sittings.set_link(conn, sitting_id, token_hash(token), by=coach.id, expires_at=now + timedelta(days=LINK_DAYS))
    return token


def waiting(conn: Conn, client_id: UUID) -> Sitting | None:
    """The newest sitting that waits for the client's photographs."""
    taken = {p.sitting_id for p in photographs.of_client(conn, client_id)}
    open_ones = [s for s in sittings.of_client(conn, client_id) if s.handed_in_at is None and s.id not in taken]
    return open_ones[-1] if open_ones else None


def end_link(db: Database, coach: Person, sitting_id: UUID, now: datetime) -> None:
    with db.of(coach) as conn:
        _near(conn, coach, sitting_id, now)
        sittings.end_link(conn, sitting_id)


def _near(conn: Conn, person: Person, sitting_id: UUID, now: datetime) -> Sitting:
    """A sitting of a client whose photographs are this person's business. Raises NotThere."""
    sitting = sittings.one(conn, sitting_id)
    come_near(conn, person, sitting.client_id, now)
    return sitting


def by_link(db: Database, token: str, now: datetime) -> tuple[Person, UUID]:
    """Who comes by a link, as the client it was sent to, and the sitting it opens. A link ends when whoever made it may not
    look any more. Raises NotThere, Refused."""
    with db.anyone() as conn:
        link = sittings.by_link(conn, token_hash(token))
    if link is None:
        raise NotThere("This link is not known, or it was taken back. Ask your coach for a new one.")
    with db.practice(link.practice_id, link.client_id) as conn:
        maker = accounts.at_work(conn, link.made_by) if link.made_by else None
        client = clients.one(conn, link.client_id)
        stands = maker is not None and concerned(consents_of(conn, client, now), maker, client)
    if link.expired or not stands:
        raise Refused(Why.LINK, "This link has run out. Ask your coach for a new one; the photographs sent so far are kept.")
    return Person(
        id=link.client_id,
        practice_id=link.practice_id,
        role="client",
        client_id=link.client_id,
        name=link.client_name,
        practice_name=link.practice_name,
    ), link.sitting_id


@dataclass(frozen=True, kw_only=True)
class Taking:
    """What the capture page needs: the sitting, its photographs, and the baseline shot that is shown as a ghost."""

    client: Client
    practice: str
    sitting: Sitting
    photographs: list[Photograph]
    ghosts: dict[str, UUID]
    may_keep: bool
    consent: str
    baseline_clock: datetime | None
    ask: Asking | None
    """Health is asked before the first photograph of the day."""
    halt: str
    """What a client who has told a sudden sign is to do; nothing is taken alone then."""
    emergency_number: str


def taking(db: Database, person: Person, sitting_id: UUID, now: datetime) -> Taking:
    """Everything of one sitting that is being taken. Raises NotThere."""
    with db.of(person) as conn:
        sitting = _near(conn, person, sitting_id, now)
        client = clients.one(conn, sitting.client_id)
        consent = consent_of(conn, client, PHOTOGRAPHS, now)
        shots = photographs.of_client(conn, client.id)
        earlier = {s.id: i for i, s in enumerate(sittings.of_client(conn, client.id))}
        seen = may_see(conn, person, client, now)
        ask = _asking(conn, person, client, sitting, now)
        halt = _halt(conn, person, client, now)
        number = clients.emergency_number(conn)
    before = sorted(
        (p for p in shots if p.sitting_id != sitting_id and p.state == "measured" and p.view_confirmed), key=lambda p: earlier[p.sitting_id]
    )
    ghosts: dict[str, UUID] = {}
    for p in before:
        ghosts.setdefault(p.view, p.id)
    clock = next((p.taken_at for p in before if p.view == NEUTRAL and p.taken_at), None)
    local = clock.astimezone(zone(client.time_zone)) if clock else None
    mine = [p for p in shots if p.sitting_id == sitting_id]
    ghosts = ghosts if seen else {}
    return Taking(
        client=client,
        practice=person.practice_name,
        sitting=sitting,
        photographs=mine,
        ghosts=ghosts,
        may_keep=consent.in_force,
        consent=consent.sentence,
        baseline_clock=local,
        ask=ask,
        halt=halt,
        emergency_number=number,
    )


def _asking(conn: Conn, person: Person, client: Client, sitting: Sitting, now: datetime) -> Asking | None:
    """Whether health is asked before this sitting: a client who takes it alone takes it now, whatever day it was opened for."""
    home = zone(client.time_zone)
    today = practice_day(now, home)
    told = facts.last_asked(conn, client.id)
    taken_on = today if person.role == "client" else sitting.taken_on
    return asked_before_sitting(today, taken_on=taken_on, asked=practice_day(told, home) if told else None)


def _halt(conn: Conn, person: Person, client: Client, now: datetime) -> str:
    """What a client who has told a sudden sign is to do, instead of taking photographs alone; empty without one."""
    signs = cautions_of(conn, client, now).urgent if person.role == "client" else ()
    return stop_words([h.rule for h in signs], clients.emergency_number(conn)) if signs else ""


def _require_ready(conn: Conn, person: Person, client: Client, sitting: Sitting, now: datetime) -> None:
    """Raises Refused while photographs may not be kept, a client who takes them alone has told a sudden sign, or health was
    not asked before this sitting."""
    require(conn, client, PHOTOGRAPHS, now)
    if halt := _halt(conn, person, client, now):
        raise Refused(Why.CARE, halt)
    if _asking(conn, person, client, sitting, now):
        raise Refused(Why.CARE, "Before photographs of today are taken, answer whether something has changed in health.", "asked")


def hand_in(db: Database, person: Person, sitting_id: UUID, now: datetime) -> None:
    """The client says that all photographs are taken."""
    with db.of(person) as conn:
        _near(conn, person, sitting_id, now)
        sittings.hand_in(conn, sitting_id, now)


def take_piece(
    db: Database, person: Person, sitting_id: UUID, photograph_id: UUID, starts_at: int, total: int, data: bytes, now: datetime
) -> int:
    """Keep one piece of a file; returns how far it is here without a gap. Raises Refused, NotThere."""
    if not 0 < total <= MAX_BYTES:
        raise Refused(Why.BOUNDS, f"A photograph may have up to {MAX_BYTES // 2**20} MB. Save it smaller and try again.", "total")
    if len(data) > MAX_PIECE or starts_at < 0 or starts_at + len(data) > total:
        raise Refused(Why.CLASH, "This piece does not fit into its file. Send the file again.", "starts_at")
    with db.of(person) as conn:
        sitting = _near(conn, person, sitting_id, now)
        _require_ready(conn, person, clients.one(conn, sitting.client_id), sitting, now)
        pieces, size = photographs.unfinished(conn, sitting.client_id)
        if pieces >= MOST_PIECES or size + len(data) > MOST_UNFINISHED:
            raise Refused(
                Why.TOO_MANY, "Too many photographs were begun and not finished. Finish those first; what is left ends after two days."
            )
        photographs.add_piece(conn, person.practice_id, sitting.client_id, photograph_id=photograph_id, starts_at=starts_at, data=data)
        return photographs.received(conn, photograph_id)


def received(db: Database, person: Person, sitting_id: UUID, photograph_id: UUID, now: datetime) -> int:
    """How many bytes of a file are here, so that sending can go on where it stopped."""
    with db.of(person) as conn:
        _near(conn, person, sitting_id, now)
        return photographs.received(conn, photograph_id)


def finish_pieces(
    db: Database,
    person: Person,
    sitting_id: UUID,
    photograph_id: UUID,
    name: str,
    total: int,
    now: datetime,
    view: str | None,
    device_time: datetime | None,
) -> None:
    """Take the file in once all its pieces are here. Raises Refused when some are missing or the file cannot be used."""
    with db.of(person) as conn:
        _near(conn, person, sitting_id, now)
        if photographs.exists(conn, photograph_id):
            return
        here = photographs.received(conn, photograph_id)
        if here < total:
            raise Refused(Why.NOT_NOW, f"{name} is here to {here} of {total} bytes. Send the rest.", "file")

    def whole() -> bytes:
        with db.of(person) as conn:
            return photographs.take_pieces(conn, photograph_id)

    take_in(db, person, sitting_id, photograph_id=photograph_id, name=name, data=whole, now=now, view=view, device_time=device_time)


def take_in(
    db: Database,
    person: Person,
    sitting_id: UUID,
    photograph_id: UUID,
    name: str,
    data: bytes | Callable[[], bytes],
    now: datetime,
    *,
    view: str | None = None,
    device_time: datetime | None = None,
) -> None:
    """Keep an uploaded photograph and queue its analysis, in one transaction. Sent twice, it is kept once.

    ``data`` is the file, or fetches it once it is its turn, so that files in line take no memory and stay where they are.
    ``view`` is the view it was taken for; without one it is suggested. ``device_time`` counts when the file tells no time.
    Raises Refused with a plain message, also while the client has not agreed that photographs are kept; then nothing is kept.
    """
    if view is not None and view not in VIEWS:
        raise Refused(Why.NEEDED, "Choose a view of the protocol.", "view")
    with db.of(person) as conn:
        _near(conn, person, sitting_id, now)
    with READING.turn():
        try:
            photo = read_photograph(data if isinstance(data, bytes) else data(), name)
        except PhotographError as error:
            raise Refused(Why.UNREADABLE, str(error), "file") from error
    with db.of(person) as conn:
        sitting = sittings.one(conn, sitting_id)
        client = clients.one(conn, sitting.client_id)
        _require_ready(conn, person, client, sitting, now)
        if photographs.same_file(conn, client.id, photo.source_hash, photograph_id):
            raise Refused(Why.ALREADY, f"{name} is here already; the same file was sent before.", "file")
        taken, told = _when(photo.taken_at, device_time=device_time, client=client, now=now)
        outcome = photographs.add(
            conn,
            person.practice_id,
            client.id,
            sitting_id=sitting.id,
            photograph_id=photograph_id,
            source_name=name[:200],
            source_hash=photo.source_hash,
            image=photo.jpeg,
            thumbnail=photo.thumbnail,
            size=photo.size,
            taken_at=taken,
            taken_told=told,
            view=view,
        )
        if outcome == "added":
            queue_analysis(conn, person.practice_id, photograph_id=photograph_id)


def _when(in_file: datetime | None, device_time: datetime | None, client: Client, now: datetime) -> tuple[datetime | None, str]:
    """Capture time and who told it. A camera's bare clock is the client's own; a time in the future is no time."""
    if in_file is not None:
        told = in_file if in_file.tzinfo else in_file.replace(tzinfo=zone(client.time_zone))
        if told <= now + timedelta(minutes=10):
            return told, "file"
    if device_time is not None and now - timedelta(days=1) < device_time <= now + timedelta(minutes=10):
        return device_time, "device"
    return None, "nobody"


def picture(db: Database, person: Person, photograph_id: UUID, now: datetime, *, small: bool) -> bytes:
    """A photograph's JPEG, for those who may see it; that they looked stands in the client's trail. Raises NotThere, Refused."""
    with db.of(person) as conn:
        client_id, data = photographs.picture(conn, photograph_id, small=small)
        look(conn, person, client_id, now)
        view, day = photographs.view_and_day(conn, photograph_id)
        noted(conn, person, client_id, what="looked", subject=f"{VIEWS[view].name}, {long_date(day)}", now=now, about=photograph_id)
        return data


def ghost(db: Database, token: str, photograph_id: UUID, now: datetime) -> bytes:
    """The earlier shot that is laid over the camera's picture, for a link: one of those that its sitting shows, and no other.
    Raises NotThere, Refused."""
    person, sitting_id = by_link(db, token, now)
    if photograph_id not in taking(db, person, sitting_id, now).ghosts.values():
        raise NotThere("There is no such photograph.")
    return picture(db, person, photograph_id, now, small=False)


def today_of(db: Database, person: Person, client_id: UUID, now: datetime) -> date:
    """The client's own day."""
    with db.of(person) as conn:
        return practice_day(now, zone(clients.one(conn, client_id).time_zone))
