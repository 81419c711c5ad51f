"""A client's own results: every sitting's photographs, what has changed since the first in plain words, and what was practised between."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from dimbo.core.results.plain_words import FIRST, conditions, plain_sentence
from dimbo.core.results.practised import Practised, practised
from dimbo.core.sittings.comparison import SittingValue
from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.shot import JudgedShot
from dimbo.core.sittings.sitting import Measurement, SittingRead
from dimbo.core.text import long_date
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.practice import log_sums
from dimbo.store.results import side_sums
from dimbo.store.sittings import own_notes, photographs
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.sittings import Sitting
from dimbo.vision.apart import compare_pictures
from dimbo.work.practice.days import own_client
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.sittings.exporting import half_of
from dimbo.work.sittings.measuring import Bench, load

MOST_SAID = 3
LONGEST_NOTE = 2000


@dataclass(frozen=True, kw_only=True)
class Shown:
    """One photograph of a view, with its points on the picture as it is shown."""

    photograph: Photograph
    judged: JudgedShot | None


@dataclass(frozen=True)
class Said:
    """What a comparison says of one reading, in a client's words."""

    reading: str
    view: str
    verdict: str
    sentence: str
    reason: str = ""
    """Why it cannot be compared; empty when it can."""


@dataclass(frozen=True, kw_only=True)
class OwnSitting:
    """A sitting: one photograph of each view, what it says against the first, and what was practised since then."""

    sitting: Sitting
    first: bool
    shown: Mapping[str, Shown]
    said: Sequence[Said]
    practised: Practised | None
    alike: Mapping[str, str]
    """By view, whether it was taken like the first one."""
    note: str


@dataclass(frozen=True)
class Row:
    """A main measurement over all sittings that have it; ``left out`` where a value is no evidence of a change."""

    reading: str
    points: Sequence[tuple[SittingRead, SittingValue, bool]]


@dataclass(frozen=True, kw_only=True)
class OwnResults:
    client: Client
    views: Sequence[str]
    sittings: Sequence[OwnSitting]
    rows: Sequence[Row]


def own_results(db: Database, person: Person, now: datetime) -> OwnResults:
    """Everything that the client's own photographs say. Raises NotThere."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        found = load(conn, person, client_id, now)
        return _results(conn, found)


def _results(conn: Conn, found: Bench) -> OwnResults:
    m, client_id = found.measurement, found.client.id
    sessions = log_sums.sessions_of(conn, client_id)
    sides = side_sums.contraction_of(conn, client_id)
    base = m.baseline
    start = base.taken_on if base else None
    kept = [(s, shown_of(found, s.id)) for s in found.sittings]
    kept = [(s, shown) for s, shown in kept if shown]
    first_id = UUID(base.id) if base else kept[0][0].id if kept else None
    first = next((shown for s, shown in kept if s.id == first_id), {})

    def since(day: date) -> Practised | None:
        return practised(sessions, sides, first=start, last=day) if start and day > start else None

    own = [
        OwnSitting(
            sitting=s,
            first=s.id == first_id,
            shown=shown,
            said=said_of(m, str(s.id)),
            practised=since(s.taken_on),
            alike={view: _alike(first.get(view), later=x) for view, x in shown.items()} if s.id != first_id else {},
            note=found.notes.get(s.id, ""),
        )
        for s, shown in kept
    ]
    views = [v for v in VIEWS if any(v in s.shown for s in own)]
    return OwnResults(client=found.client, views=views, sittings=own, rows=rows_of(m))


def _alike(first: Shown | None, later: Shown) -> str:
    shots = [x.judged for x in (first, later) if x and x.judged]
    return conditions(shots) if len(shots) == 2 else ""


def shown_of(found: Bench, sitting_id: UUID) -> dict[str, Shown]:
    """By view, the photograph of a sitting that is shown: one that counts where there is one, the first of them."""
    judged = {j.shot.id: j for j in found.measurement.sitting(str(sitting_id)).shots}
    out: dict[str, Shown] = {}
    for p in found.of(sitting_id):
        if p.state != "measured" or p.same_person is False:
            continue
        shot = judged.get(str(p.id))
        known = out.get(p.view)
        if known is None or (shot and shot.counts and not (known.judged and known.judged.counts)):
            out[p.view] = Shown(photograph=p, judged=shot)
    return out


def said_of(m: Measurement, sitting_id: str) -> list[Said]:
    """What a sitting says against the first with values, main readings first; nothing of the first itself."""
    base = m.baseline
    return said_between(m, base.id, after=sitting_id) if base else []


def said_between(m: Measurement, before: str, *, after: str, view: str = "") -> list[Said]:
    """What a sitting says against an earlier one, main readings first, of one view or of all."""
    base, read = m.sitting(before), m.sitting(after)
    if read.id == base.id or not read.values or read.taken_on < base.taken_on:
        return []
    changes = [c for c in m.changes(base, read) if view in ("", READINGS[c.reading].view)]
    main = [c for c in changes if c.reading in m.headlines][:MOST_SAID] or (changes[:MOST_SAID] if view else [])
    looked_at = {READINGS[c.reading].view for c in main}
    further = [c for c in changes if c.direction is not None and READINGS[c.reading].view not in looked_at]
    since = FIRST if m.baseline and base.id == m.baseline.id else f"on {long_date(base.taken_on)}"
    return [
        Said(
            c.reading,
            view=READINGS[c.reading].view,
            verdict=c.verdict.value,
            sentence=plain_sentence(READINGS[c.reading], c, since),
            reason=c.reason,
        )
        for c in (*main, *further)
    ]


def rows_of(m: Measurement) -> list[Row]:
    """The main readings over time, those that any sitting has."""
    out = []
    for key in m.headlines:
        points = [(s, s.values[key], key in s.excluded) for s in m.sittings if key in s.values]
        if points:
            out.append(Row(key, points))
    return out


def write_note(db: Database, person: Person, sitting_id: UUID, words: str, now: datetime) -> None:
    """Keep the client's own words beside a sitting; empty words remove them. Raises Refused, NotThere."""
    client_id, said = own_client(person), words.strip()
    if len(said) > LONGEST_NOTE:
        raise Refused(Why.BOUNDS, f"A note has at most {LONGEST_NOTE} characters; this one has {len(said)}.", "words")
    with db.of(person, client_id) as conn:
        found = load(conn, person, client_id, now)
        if sitting_id not in {s.id for s in found.sittings}:
            raise NotThere("There is no such sitting.")
        own_notes.write(conn, person.practice_id, client_id, sitting_id=sitting_id, words=said, at=now)


def share_picture(db: Database, person: Person, before: UUID, *, after: UUID, now: datetime) -> bytes:
    """Two of the client's own photographs side by side, for the client alone to keep or to show: dates, whether they were taken alike,
    and no claim. Raises Refused, NotThere."""
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        found = load(conn, person, client_id, now)
        shots = {p.id: p for p in found.photographs}
        if before not in shots or after not in shots:
            raise NotThere("There is no such photograph.")
        if shots[before].view != shots[after].view:
            raise Refused(Why.CLASH, "Put photographs of the same view side by side.", "after")
        halves = [half_of(found, i, photographs.picture(conn, i, small=False)[1]) for i in (before, after)]
        judged = {j.shot.id: j for s in found.measurement.sittings for j in s.shots}
        alike = conditions([judged[str(i)] for i in (before, after)])
    note = alike or "Whether they were taken alike is not known."
    return compare_pictures(halves[0], after=halves[1], view=VIEWS[shots[before].view].name, note=note)
