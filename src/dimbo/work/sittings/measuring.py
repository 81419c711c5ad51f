"""What a client's photographs say: sittings judged, compared, and looked at by those who may."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from uuid import UUID

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import zone
from dimbo.core.safety.consent import Consent
from dimbo.core.sittings.compared import Compared, compare
from dimbo.core.sittings.comparison import MOST_PRIMARY
from dimbo.core.sittings.frame import mirrored
from dimbo.core.sittings.points import FRONT_POINTS, PROFILE_POINTS
from dimbo.core.sittings.profile_view import SettingNoise, setting_noise
from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.sitting import Measurement
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.sittings import own_notes, photographs, sittings
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.sittings import Sitting
from dimbo.vision.terms import METHOD
from dimbo.work.intake.consenting import consent_of
from dimbo.work.intake.looking import COMPARISON, PHOTOGRAPHS, come_near, look, may_see
from dimbo.work.measured import asked_on, measurement, measurement_of, told_sides
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.shared.queue import queue_analysis

Moves = dict[str, tuple[float, float] | None]
"""Where points are set by hand, pixels of the picture as it is shown; None puts one back to its automatic place."""


@dataclass(frozen=True, kw_only=True)
class Bench:
    """Everything the sittings pages show."""

    client: Client
    consent: Consent
    may_compare: bool
    sittings: list[Sitting]
    photographs: list[Photograph]
    measurement: Measurement
    primary_locked: bool
    asked_on: date | None
    """When somebody last asked about health, in the client's zone."""
    told: Mapping[str, Side]
    """The weaker side by reading, as side tests say it."""
    outdated: int
    notes: Mapping[UUID, str]
    """What the client wrote beside a sitting."""
    setting: Mapping[str, SettingNoise]
    """How far two settings of a profile's points differ in this practice, by reading."""

    def of(self, sitting_id: UUID) -> list[Photograph]:
        return [p for p in self.photographs if p.sitting_id == sitting_id]


def load(conn: Conn, person: Person, client_id: UUID, now: datetime, *, without: bool = False) -> Bench:
    """Raises NotThere, also for a coach who may not see this client's photographs; with ``without`` there are none then, where consent to
    keep them has run out."""
    client = come_near(conn, person, client_id, now)
    seen, shots = sittings.of_client(conn, client_id), photographs.of_client(conn, client_id)
    hidden = bool(shots) and without and not may_see(conn, person, client, now)
    if hidden:
        shots = []
    elif shots:
        look(conn, person, client_id, now)
    return Bench(
        client=client,
        consent=consent_of(conn, client, PHOTOGRAPHS, now),
        may_compare=consent_of(conn, client, COMPARISON, now).in_force,
        sittings=seen,
        photographs=shots,
        measurement=measurement_of(client, seen, shots) if hidden else measurement(conn, client),
        primary_locked=sittings.has_practised(conn, client_id),
        asked_on=asked_on(conn, client),
        told=told_sides(conn, client),
        outdated=sum(p.method not in (None, METHOD) and p.not_read_by != METHOD for p in shots),
        notes=own_notes.of_client(conn, client_id),
        setting=setting_noise(photographs.set_twice(conn)),
    )


def bench(db: Database, person: Person, client_id: UUID, now: datetime) -> Bench:
    """All sittings of a client. Raises NotThere."""
    with db.of(person) as conn:
        return load(conn, person, client_id, now)


def compared(found: Bench, before: UUID | None, *, after: UUID | None) -> Compared:
    """Two sittings and what changed between them; by default the first with a value and the newest. Raises NotThere."""
    m = found.measurement
    try:
        earlier, later = (m.sitting(str(x)) if x else None for x in (before, after))
    except KeyError as error:
        raise NotThere("There is no such sitting.") from error
    return compare(m, before=earlier, after=later, practised=found.primary_locked, asked_on=found.asked_on, told=found.told)


def answer(
    db: Database,
    coach: Person,
    photograph_id: UUID,
    *,
    view: str | None = None,
    flipped: bool | None = None,
    same_person: bool | None = None,
    taken_at: datetime | None = None,
    now: datetime,
) -> None:
    """What the coach says of a photograph: its view, whether it is mirrored, whose it is, when it was taken. Raises Refused, NotThere."""
    if view is not None and view not in VIEWS:
        raise Refused(Why.NEEDED, "Choose a view of the protocol.", "view")
    with db.of(coach) as conn:
        before = photographs.one(conn, photograph_id)
        client = look(conn, coach, before.client_id, now)
        if taken_at is not None and taken_at.tzinfo is None:
            taken_at = taken_at.replace(tzinfo=zone(client.time_zone))
        if taken_at is not None and taken_at > now:
            raise Refused(Why.NOT_NOW, "This time has not come yet. Say when the photograph was taken.", "taken_at")
        if flipped is not None and _asks_way(measurement(conn, client), photograph_id):
            photographs.settle(conn, before.sitting_id, flipped)  # it is about the camera of the whole first sitting
        photographs.answer(conn, photograph_id, view=view, flipped=flipped, same_person=same_person, taken_at=taken_at)
        if view is not None and before.state == "refused":  # a profile is no refusal once it is called one
            photographs.step(conn, photograph_id, "waiting", words="")
            queue_analysis(conn, coach.practice_id, photograph_id=photograph_id)


def _asks_way(m: Measurement, photograph_id: UUID) -> bool:
    """Whether a photograph is the client's first, of which nobody has said yet which way round it is."""
    return any(j.asks_way and j.shot.id == str(photograph_id) for s in m.sittings for j in s.shots)


def confirm_views(db: Database, coach: Person, sitting_id: UUID, now: datetime) -> int:
    """Confirm every suggested view of a sitting at once; returns how many."""
    with db.of(coach) as conn:
        sitting = sittings.one(conn, sitting_id)
        look(conn, coach, sitting.client_id, now)
        waiting = [p for p in photographs.of_client(conn, sitting.client_id) if p.sitting_id == sitting_id and not p.view_confirmed]
        ready = [p for p in waiting if p.state == "measured"]
        for p in ready:
            photographs.answer(conn, p.id, view=p.view)
    return len(ready)


def set_points(db: Database, coach: Person, photograph_id: UUID, moves: Moves, now: datetime, *, again: bool = False) -> None:
    """Set points by hand, or put them back (None); ``again`` a second time, to learn how far two settings differ. All or none.

    Raises Refused naming the point, NotThere.
    """
    with db.of(coach) as conn:
        p = photographs.one(conn, photograph_id)
        look(conn, coach, p.client_id, now)
        check_moves(p, moves)
        if again and not VIEWS[p.view].face.is_profile:
            raise Refused(Why.UNKNOWN, "Only the points of a profile are set again.", "again")
        if again and (unset := [n for n in moves if n not in p.hand]):
            raise Refused(Why.NEEDED, f"Set the {PROFILE_POINTS[unset[0]]} a first time before setting it again.", f"moves.{unset[0]}")
        photographs.move_points(conn, coach.practice_id, p, _stored(p, moves), by=coach.id, at=now, again=again)


def check_moves(p: Photograph, moves: Moves) -> None:
    """Raises Refused for a point that this view does not have, or a place outside the picture."""
    allowed = PROFILE_POINTS if VIEWS[p.view].face.is_profile else FRONT_POINTS
    for name, place in moves.items():
        if name not in allowed:
            raise Refused(Why.UNKNOWN, f"“{name[:30]}” is no point of this view.", f"moves.{name[:30]}")
        if place is not None and not (0 <= place[0] <= p.width and 0 <= place[1] <= p.height):
            raise Refused(Why.BOUNDS, f"The {name} lies outside the picture. Set it within.", f"moves.{name}")


def _stored(p: Photograph, moves: Moves) -> Moves:
    """Moves on the picture as it is shown, on the picture as it is stored: a mirrored one is turned round."""
    if not p.flipped:
        return moves
    placed = mirrored({n: place for n, place in moves.items() if place is not None}, p.width)
    back = mirrored({n: (0.0, 0.0) for n, place in moves.items() if place is None}, 0)
    return {**placed, **dict.fromkeys(back)}


def preview(db: Database, coach: Person, photograph_id: UUID, moves: Moves, now: datetime) -> tuple[Bench, UUID]:
    """Everything as it would be with points moved, without keeping it."""
    with db.of(coach) as conn:
        p = photographs.one(conn, photograph_id)
        look(conn, coach, p.client_id, now)
        check_moves(p, moves)
        found = load(conn, coach, p.client_id, now)
        primary = sittings.primary(conn, p.client_id)
    hand = dict(p.hand)
    for name, place in _stored(p, moves).items():
        if place is None:
            hand.pop(name, None)
        else:
            hand[name] = list(place)
    shots = [replace(x, hand=hand) if x.id == photograph_id else x for x in found.photographs]
    return replace(
        found, photographs=shots, measurement=measurement_of(found.client, found.sittings, shots, primary, found.measurement.chosen_by)
    ), p.sitting_id


def name_primary(db: Database, coach: Person, client_id: UUID, readings: list[str], now: datetime) -> None:
    """Name the readings that get a headline, before practice begins. Raises Refused once it has begun."""
    unknown = [r for r in readings if r not in READINGS]
    if unknown:
        raise Refused(Why.UNKNOWN, f"“{unknown[0][:40]}” is not a reading.", "readings")
    if len(set(readings)) > MOST_PRIMARY:
        raise Refused(Why.BOUNDS, f"Name at most {MOST_PRIMARY}; with more, one would move by chance.", "readings")
    with db.of(coach) as conn:
        come_near(conn, coach, client_id, now)
        if sittings.has_practised(conn, client_id):
            raise Refused(
                Why.ALREADY,
                "Practice has begun, and the primary readings are locked until the program ends. All others are “also looked at”.",
                "readings",
            )
        sittings.name_primary(conn, coach.practice_id, client_id, list(dict.fromkeys(readings)), by=coach.id, at=now)
