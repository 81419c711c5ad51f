"""What a client's photographs say: one road from stored points to values, for the bench, the intake and a program's sides."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date

from dimbo.catalogue import shipped_intake
from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import zone
from dimbo.core.sittings.bias import Bias, sides_of
from dimbo.core.sittings.protocol import NEUTRAL
from dimbo.core.sittings.quality import Seen
from dimbo.core.sittings.shape import alike
from dimbo.core.sittings.shot import Shot
from dimbo.core.sittings.sitting import Measurement, SittingFacts, read
from dimbo.store.database import Conn
from dimbo.store.intake import facts
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.sittings import photographs, sittings
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.sittings import Sitting
from dimbo.vision.terms import METHOD
from dimbo.work.shared.remembered import Remembered


def as_shot(p: Photograph, client: Client) -> Shot:
    """A stored photograph as the core reads it; times on the client's clock."""
    return Shot(
        id=str(p.id),
        sitting=str(p.sitting_id),
        view=p.view,
        confirmed=p.view_confirmed,
        points={n: (xy[0], xy[1]) for n, xy in (p.points or {}).items()},
        depth=p.depth or {},
        trust=p.trust or {},
        hand={n: (xy[0], xy[1]) for n, xy in p.hand.items()},
        iris_px=p.iris_px or 0.0,
        seen=Seen.kept(p.seen) if p.seen else None,
        width=p.width,
        taken_at=p.taken_at.astimezone(zone(client.time_zone)) if p.taken_at else None,
        flipped=bool(p.flipped),
        settled_flip=p.flipped is not None,
        same_person=p.same_person,
        method=p.method or "",
        current=p.method in (None, METHOD),
    )


def measurement_of(
    client: Client,
    seen: Sequence[Sitting],
    shots: Sequence[Photograph],
    primary: Sequence[str] = (),
    chosen_by: Mapping[str, frozenset[str]] | None = None,
) -> Measurement:
    """The core's reading of stored sittings; ``chosen_by`` are the sittings, by reading, that chose a side of a plan."""
    measured = [p for p in shots if p.state == "measured"]
    facts = [SittingFacts(str(s.id), s.taken_on, s.kind) for s in seen]
    order = {s.id: i for i, s in enumerate(seen)}
    prints = sorted(
        (p for p in measured if p.face_print and p.view == NEUTRAL and p.view_confirmed and not p.flipped),
        key=lambda p: order[p.sitting_id],
    )
    fits = {str(p.id): alike(p.face_print, b=prints[0].face_print) for p in prints[1:] if p.face_print and prints[0].face_print}
    return read(facts, [as_shot(p, client) for p in measured], primary, fits, chosen_by)


_kept: Remembered[tuple[str, Measurement]] = Remembered(512)


def measurement(conn: Conn, client: Client) -> Measurement:
    """Everything that a client's photographs say now.

    Measuring takes longer than a keystroke may, so the answer is kept until a photograph, point, sitting or named reading
    changes, or the client's zone, in which the times of the shots are read.
    """
    stamp = f"{client.time_zone} {photographs.stamp(conn, client.id)}"
    known = _kept.get(client.id)
    if known and known[0] == stamp:
        return known[1]
    seen, shots = sittings.of_client(conn, client.id), photographs.of_client(conn, client.id)
    found = measurement_of(client, seen, shots, sittings.primary(conn, client.id), assignments.chosen_by(conn, client.id))
    _kept.keep(client.id, (stamp, found))
    return found


def asked_on(conn: Conn, client: Client) -> date | None:
    """The day in the client's zone on which somebody last asked whether something has changed in their health."""
    asked = facts.last_asked(conn, client.id)
    return asked.astimezone(zone(client.time_zone)).date() if asked else None


def bias_of(conn: Conn, client: Client, keys: Iterable[str]) -> dict[str, Bias]:
    """What the newest sitting says of a side, by reading, as far as it may be acted on yet."""
    return dict(sides_of(measurement(conn, client), keys, told=told_sides(conn, client)).told(asked_on(conn, client)))


def told_sides(conn: Conn, client: Client) -> dict[str, Side]:
    """The weaker side by reading, as the side tests say that somebody did."""
    tests = shipped_intake().tables.tests
    answers = {f.key: f.value["answer"] for f in facts.standing(conn, client.id) if f.kind == "test" and f.key in tests}
    return {reading: Side(a) for k, a in answers.items() if (reading := tests[k].reading) and a in list(Side)}
