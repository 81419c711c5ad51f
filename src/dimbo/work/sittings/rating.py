"""Blind rating rounds: beginning one, one look at a time, and results once all are answered."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.catalogue import shipped_catalogue
from dimbo.core.sittings.rating import (
    REST_EVERY,
    SECONDS_A_LOOK,
    SECONDS_A_PAIR,
    Item,
    Preference,
    RatedChange,
    agreement,
    pair_round,
    preference,
    rated_change,
    single_round,
    weighted_kappa,
)
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people.accounts import Person
from dimbo.store.sittings import photographs, rating
from dimbo.store.sittings.photographs import Photograph
from dimbo.store.sittings.rating import Round
from dimbo.work.intake.looking import come_near, look
from dimbo.work.shared.errors import Refused, Why

from .measuring import load

SCORE, BETTER = "score", "better of two"


@dataclass(frozen=True, kw_only=True)
class Look:
    """What is shown next: photographs without dates or names, and how far the round is."""

    round_id: UUID
    kind: str
    concern: str
    place: int
    of: int
    photographs: list[UUID]
    flipped: list[bool]


@dataclass(frozen=True, kw_only=True)
class Result:
    """What a finished round says. ``kappa`` is the rater's agreement with themself on repeated looks."""

    round: Round
    change: RatedChange | None
    preference: Preference | None
    kappa: float | None
    repeats: int


def _items(r: Round) -> list[Item]:
    return [Item(tuple(i["photographs"]), i["repeat_of"]) for i in r.items]


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A round that is asked for: one view of two sittings, rated how, for which concern, by whom."""

    kind: str
    concern: str
    rater: str
    before: UUID
    after: UUID
    view: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """What a round would be: photographs of each sitting, looks with their repeats, how long they take, and when a rest is offered."""

    earlier: int
    later: int
    looks: int
    repeats: int
    seconds: int
    rest_every: int


@dataclass(frozen=True, slots=True)
class _Drawn:
    earlier: list[UUID]
    later: list[UUID]
    items: list[Item]


def _drawn(conn: Conn, coach: Person, client_id: UUID, wanted: Wanted, now: datetime) -> _Drawn:
    """The looks of a round in a random order. Raises Refused, NotThere."""
    if wanted.concern not in shipped_catalogue().concerns:
        raise Refused(Why.NEEDED, "Choose the concern that is rated.", "concern")
    if wanted.kind not in (SCORE, BETTER):
        raise Refused(Why.BOUNDS, "Rate 0 to 4, or pick the better of two.", "kind")
    if wanted.rater not in ("coach", "second rater", "client"):
        raise Refused(Why.NEEDED, "Say who rates: coach, second rater or client.", "rater")
    found = load(conn, coach, client_id, now)

    def of(sitting: UUID) -> list[UUID]:
        return [p.id for p in found.of(sitting) if p.view == wanted.view and p.view_confirmed and p.state != "refused"]

    earlier, later = of(wanted.before), of(wanted.after)
    if not earlier or not later:
        raise Refused(Why.NOT_NOW, "Both sittings need a photograph of this view. Choose another view, or take it again.", "view")
    seed = secrets.randbelow(2**31)
    a, b = [str(i) for i in earlier], [str(i) for i in later]
    return _Drawn(earlier, later=later, items=single_round([*a, *b], seed) if wanted.kind == SCORE else pair_round(a, after=b, seed=seed))


def ahead(db: Database, coach: Person, client_id: UUID, wanted: Wanted, now: datetime) -> Ahead:
    """What a round would be, before it begins; nothing is kept. Raises Refused, NotThere."""
    with db.of(coach) as conn:
        drawn = _drawn(conn, coach, client_id, wanted, now)
    return Ahead(
        earlier=len(drawn.earlier),
        later=len(drawn.later),
        looks=len(drawn.items),
        repeats=sum(i.repeat_of is not None for i in drawn.items),
        seconds=len(drawn.items) * (SECONDS_A_LOOK if wanted.kind == SCORE else SECONDS_A_PAIR),
        rest_every=REST_EVERY,
    )


def begin(db: Database, coach: Person, client_id: UUID, wanted: Wanted, now: datetime) -> UUID:
    """Begin a round over the photographs of one view in two sittings. Raises Refused, NotThere."""
    with db.of(coach) as conn:
        drawn = _drawn(conn, coach, client_id, wanted, now)
        return rating.begin(
            conn,
            coach.practice_id,
            client_id,
            kind=wanted.kind,
            concern=wanted.concern,
            rater=wanted.rater,
            earlier=drawn.earlier,
            later=drawn.later,
            items=[{"photographs": list(i.photographs), "repeat_of": i.repeat_of} for i in drawn.items],
            by=coach.id,
            at=now,
        )


def _next(conn: Conn, r: Round) -> Look | None:
    for place, item in enumerate(r.items):
        if str(place) not in r.answers:
            shown = [UUID(p) for p in item["photographs"]]
            flipped = [bool(photographs.one(conn, p).flipped) for p in shown]
            return Look(round_id=r.id, kind=r.kind, concern=r.concern, place=place, of=len(r.items), photographs=shown, flipped=flipped)
    return None


def next_look(db: Database, person: Person, round_id: UUID, now: datetime) -> Look | None:
    """The next look of a round; None when it is finished. Raises NotThere."""
    with db.of(person) as conn:
        return _next(conn, _round(conn, person, round_id, now))


def _round(conn: Conn, person: Person, round_id: UUID, now: datetime) -> Round:
    """A round over photographs that this person may look at. Raises NotThere."""
    found = rating.one(conn, round_id)
    look(conn, person, found.client_id, now)
    return found


def answer(db: Database, person: Person, round_id: UUID, place: int, value: int, now: datetime) -> Look | None:
    """Keep one answer and return the next look. An answer stays. Raises Refused, NotThere."""
    with db.of(person) as conn:
        r = _round(conn, person, round_id, now)
        if not 0 <= place < len(r.items):
            raise Refused(Why.UNKNOWN, "There is no such look in this round.", "place")
        if not 0 <= value <= (4 if r.kind == SCORE else 1):
            raise Refused(Why.BOUNDS, "Rate from 0 to 4." if r.kind == SCORE else "Pick the first or the second.", "value")
        if (
            not rating.answer(conn, person.practice_id, r.client_id, round_id=round_id, place=place, value=value)
            and r.answers.get(str(place)) != value
        ):
            raise Refused(Why.ALREADY, "This look was answered before. A round is never edited; begin a new one.", "place")
        r = rating.one(conn, round_id)
        following = _next(conn, r)
        if following is None:
            rating.finish(conn, round_id, now)
        return following


def result(r: Round) -> Result | None:
    """What a finished round says; None while it is open."""
    if r.finished_at is None:
        return None
    items, answers = _items(r), {int(k): v for k, v in r.answers.items()}
    first = [(k, i) for k, i in enumerate(items) if i.repeat_of is None]
    earlier = {str(p) for p in r.earlier}
    pairs = agreement(items, answers)
    if r.kind == SCORE:
        before = [answers[k] for k, i in first if i.photographs[0] in earlier]
        after = [answers[k] for k, i in first if i.photographs[0] not in earlier]
        return Result(round=r, change=rated_change(before, after=after), preference=None, kappa=weighted_kappa(pairs), repeats=len(pairs))
    picks = [i.photographs[answers[k]] not in earlier for k, i in first]
    return Result(round=r, change=None, preference=preference(picks), kappa=weighted_kappa(pairs, 2), repeats=len(pairs))


def results(db: Database, coach: Person, client_id: UUID, now: datetime) -> list[tuple[Round, Result | None]]:
    """Every round of a client, newest first; open ones without a result."""
    with db.of(coach) as conn:
        come_near(conn, coach, client_id, now)
        return [(r, result(r)) for r in rating.of_client(conn, client_id)]


def blind_picture(db: Database, person: Person, round_id: UUID, place: int, which: int, now: datetime) -> UUID:
    """The photograph behind a look, so that its address tells nothing. Raises NotThere."""
    with db.of(person) as conn:
        r = _round(conn, person, round_id, now)
        try:
            found: Photograph = photographs.one(conn, UUID(r.items[place]["photographs"][which]))
        except IndexError as error:
            raise NotThere("There is no such look.") from error
        return found.id
