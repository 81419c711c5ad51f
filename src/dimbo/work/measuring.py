"""Sittings: taking photographs in, analysing them, and the values that come of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import date, datetime
from uuid import UUID

import numpy as np

from dimbo.core.consent import Consent
from dimbo.core.frame import head_frame
from dimbo.core.readings import READINGS, Change, Pair, SittingValue, compare, measure, sitting_value
from dimbo.store import clients, sittings
from dimbo.store.accounts import Person
from dimbo.store.clients import Client
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.sittings import Photograph, Sitting
from dimbo.vision.landmarks import METHOD, FaceError, Landmarks, locate
from dimbo.vision.photograph import PhotographError, decode, read_photograph
from dimbo.vision.quality import Check, accepted, assess

from .consenting import PHOTOGRAPHS, consent_of, require
from .errors import Refused
from .queue import ANALYSE, queue


def open_sitting(db: Database, coach: Person, client_id: UUID, taken_on: date, note: str = "") -> UUID:
    """A new sitting for a client. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        clients.one(conn, client_id)
        return sittings.create(conn, coach.practice_id, client_id, taken_on, note)


def take_in(db: Database, coach: Person, sitting_id: UUID, photograph_id: UUID, name: str, data: bytes, now: datetime) -> None:
    """Keep an uploaded photograph and queue its analysis, in one transaction. Sent twice, it is kept once.

    Raises Refused with a plain message, also while the client has not agreed that photographs are kept; then nothing is kept.
    """
    try:
        photo = read_photograph(data, name)
    except PhotographError as error:
        raise Refused(str(error), "file") from error
    with db.practice(coach.practice_id) as conn:
        sitting = sittings.one(conn, sitting_id)
        require(conn, clients.one(conn, sitting.client_id), PHOTOGRAPHS, now)
        outcome = sittings.add_photograph(
            conn,
            coach.practice_id,
            sitting,
            photograph_id,
            source_name=name[:200],
            source_hash=photo.source_hash,
            image=photo.jpeg,
            thumbnail=photo.thumbnail,
            size=photo.size,
            taken_at=photo.taken_at,
        )
        if outcome == "twice":
            raise Refused(f"{name} is in this sitting already.", "file")
        if outcome == "added":
            _queue(conn, coach.practice_id, photograph_id)


def _queue(conn: Conn, practice_id: UUID, photograph_id: UUID) -> None:
    queue.configure_task(ANALYSE, connection=conn).defer(practice_id=str(practice_id), photograph_id=str(photograph_id))


@dataclass(frozen=True)
class Analysis:
    """One photograph analysed: points, quality and readings."""

    marks: Landmarks
    checks: list[Check]
    pairs: dict[str, Pair]


def analyse_pixels(image: bytes, progress: Callable[[str], None] = lambda _: None) -> Analysis:
    """The whole way from a stored JPEG to readings. Raises FaceError."""
    rgb = np.asarray(decode(image, "The photograph"))
    marks = locate(rgb, progress)
    frame = head_frame(marks.points, marks.iris_px)
    return Analysis(marks, assess(rgb, marks), {r.id: measure(r, marks.points, frame) for r in READINGS.values()})


def analyse(db: Database, practice_id: UUID, photograph_id: UUID) -> None:
    """Analyse one stored photograph and keep the result; every step is told to those who wait.

    A photograph that was deleted while it waited, as by a withdrawn consent, is left alone.
    """

    def tell(state: str, words: str, refusal: str = "") -> None:
        with db.practice(practice_id) as conn:
            sittings.step(conn, photograph_id, state, words, refusal)

    tell("working", "opening")
    try:
        with db.practice(practice_id) as conn:
            image = sittings.picture(conn, photograph_id, small=False)
    except NotThere:
        return
    try:
        found = analyse_pixels(image, lambda words: tell("working", words))
    except FaceError as error:
        tell("refused", "", str(error))
        return
    with db.practice(practice_id) as conn:
        sittings.keep_analysis(
            conn,
            practice_id,
            photograph_id,
            method=METHOD,
            points=found.marks.points,
            iris_px=found.marks.iris_px,
            quality=[{k: str(v) for k, v in asdict(c).items()} for c in found.checks],
            readings={k: asdict(v) for k, v in found.pairs.items()},
        )
        if accepted(found.checks):
            sittings.step(conn, photograph_id, "measured", "")
        else:
            worst = found.checks[0]
            sittings.step(conn, photograph_id, "refused", "", f"Cannot be measured: {worst.name} {worst.found}. {worst.change}")


@dataclass(frozen=True)
class SittingView:
    """A sitting with its photographs, its values, and what changed since the client's first sitting."""

    sitting: Sitting
    photographs: list[Photograph]
    values: dict[str, SittingValue]
    changes: dict[str, Change]


def views(seen: list[Sitting], shots: list[Photograph]) -> list[SittingView]:
    """Every sitting judged against its noise and against the first one that has a value."""
    out: list[SittingView] = []
    baseline: dict[str, SittingValue] = {}
    for sitting in seen:
        own = [p for p in shots if p.sitting_id == sitting.id]
        measured = [p for p in own if p.state == "measured" and p.readings]
        values, changes = {}, {}
        for reading in READINGS.values():
            pairs = [Pair(**p.readings[reading.id]) for p in measured if p.readings and reading.id in p.readings]
            if not pairs:
                continue
            values[reading.id] = sitting_value(reading, pairs)
            if reading.id in baseline:
                changes[reading.id] = compare(reading, baseline[reading.id], values[reading.id])
            else:
                baseline[reading.id] = values[reading.id]
        out.append(SittingView(sitting, own, values, changes))
    return out


@dataclass(frozen=True)
class Sittings:
    """A client's sittings, and whether photographs may be kept."""

    client: Client
    consent: Consent
    views: list[SittingView]


def sitting_views(db: Database, coach: Person, client_id: UUID, now: datetime) -> Sittings:
    """All sittings of a client with their values. Raises NotThere."""
    with db.practice(coach.practice_id) as conn:
        client = clients.one(conn, client_id)
        seen, shots = sittings.of_client(conn, client_id), sittings.photographs(conn, client_id)
        consent = consent_of(conn, client, PHOTOGRAPHS, now)
    return Sittings(client, consent, views(seen, shots))


def picture(db: Database, person: Person, photograph_id: UUID, *, small: bool) -> bytes:
    """A photograph's JPEG, for those who may see it. Raises NotThere."""
    with db.practice(person.practice_id, person.client_id) as conn:
        return sittings.picture(conn, photograph_id, small=small)


def remove(db: Database, coach: Person, photograph_id: UUID) -> None:
    with db.practice(coach.practice_id) as conn:
        sittings.delete_photograph(conn, photograph_id)
