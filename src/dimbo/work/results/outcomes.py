"""What a practice can learn from its own records: what followed practice among its clients, each answer behind its gate."""

from __future__ import annotations

import math
import secrets
import time
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from uuid import UUID

from dimbo.core.anatomy import Side
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.calendar.time_zones import off_days
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.exercises.card import Card
from dimbo.core.results.clean_starts import RAISERS, Case, Choice, Gain, Left, extra_s, gain_of, selection
from dimbo.core.results.helped import Approach, OfReading, PractisingOn, Ratings, of_approaches, of_ratings, of_readings, practising_on
from dimbo.core.results.practising_on import Followed, by_first_weeks, followed
from dimbo.core.sittings.comparison import SittingValue
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.results import outcomes, side_sums
from dimbo.store.results.outcomes import ChosenSide, Coin, Course
from dimbo.store.sittings import rating as rounds
from dimbo.work.exercises.shelf import shelf
from dimbo.work.intake.looking import consents_of, sees
from dimbo.work.measured import measurement
from dimbo.work.review.grouping import by_client
from dimbo.work.shared.errors import Refused, Why
from dimbo.work.sittings.rating import SCORE, result

AGREED = "learn"
"""The consent by which somebody is counted in the table without names."""


@dataclass(frozen=True)
class Mark:
    """A sitting in a client's picture: the difference of the sides with its band; ``chose`` where it took part in choosing a side."""

    week: int
    day: date
    value: SittingValue
    chose: bool
    excluded: bool


@dataclass(frozen=True, kw_only=True)
class ClientPicture:
    """One client and reading: sittings by week, and the extra minutes of each side week by week."""

    client: Client
    reading: str
    side: Side | None
    marks: Sequence[Mark]
    extra: Sequence[tuple[int, float]]
    """Week from 1, and right minus left in minutes."""
    counts: str
    """Why it does not count for the practice; empty when it does."""
    would_show: float
    """The least change between the first and the last of these sittings that would show, mm."""


@dataclass(frozen=True, kw_only=True)
class Outcomes:
    readings: Sequence[OfReading]
    left: Mapping[str, Counter[Left]]
    """By reading, why clients do not count."""
    approaches: Sequence[Approach]
    ratings: Sequence[Ratings]
    practising: PractisingOn
    pictures: Sequence[ClientPicture]
    agreed: int
    """How many are counted in the table without names."""


@dataclass(frozen=True, kw_only=True)
class Known:
    """One client, as far as it may be learned from."""

    client: Client
    case: Mapping[str, Case]
    found: Mapping[str, Gain | Left]
    approach: str
    coin: bool
    agreed: bool


def _cases(
    conn: Conn, client: Client, began: date, *, sides: Sequence[ChosenSide], courses: Sequence[Course], cards: Mapping[str, Card]
) -> dict[str, Case]:
    m = measurement(conn, client)
    if len(m.sittings) < 2:
        return {}
    work = side_sums.contraction_of(conn, client.id)
    chose_on = min((c.made_at for c in courses), default=None)
    out = {}
    for key in RAISERS:
        own = [s for s in sides if s.reading == key]
        out[key] = Case(
            measurement=m,
            began=began,
            chose_on=practice_day(chose_on, zone(client.time_zone)) if chose_on else began,
            choice=Choice(Side(own[0].side), tuple(own[0].sittings)) if own else None,
            took_part=frozenset(i for s in own for i in s.sittings),
            work=work,
            cards=cards,
        )
    return out


PATIENCE_S = 2.0
"""Measuring photographs anew takes a while; one question is answered after so long with how far it got, and asked again."""
MOST_REMEMBERED = 400
"""With more clients than are remembered asking again would begin anew; then it is worked out at once."""


@dataclass(frozen=True)
class SoFar:
    """How many clients have been measured, and of how many."""

    done: int
    of: int


def _known(conn: Conn, person: Person, now: datetime, patience_s: float = math.inf) -> list[Known] | SoFar:
    """Everybody whose photographs this person may look at and who has practised."""
    practised = {p.client_id: p for p in outcomes.practised(conn)}
    sides = by_client(outcomes.chosen_sides(conn))
    courses = by_client(outcomes.courses(conn))
    coins = by_client(outcomes.coins(conn))
    cards = shelf(conn, person.practice_id).cards
    out: list[Known] = []
    everybody = [c for c in clients.every(conn) if c.id in practised]
    until = time.monotonic() + (patience_s if len(everybody) <= MOST_REMEMBERED else math.inf)
    for number, client in enumerate(everybody):
        if number and time.monotonic() > until:
            return SoFar(number, of=len(everybody))
        consents = consents_of(conn, client, now)
        if not sees(consents, person, client):
            continue
        began = practised[client.id].days[0]
        own = courses.get(client.id, [])
        case = _cases(conn, client, began, sides=sides.get(client.id, []), courses=own, cards=cards)
        approach = own[0].approach if own else ""
        out.append(
            Known(
                client=client,
                case=case,
                found={key: gain_of(c, key) for key, c in case.items()},
                approach=approach,
                coin=_by_coin(coins.get(client.id, []), approach=approach, began=began, client=client),
                agreed=next(c for c in consents if c.text.id == AGREED).in_force,
            )
        )
    return out


def _by_coin(thrown: Sequence[Coin], *, approach: str, began: date, client: Client) -> bool:
    """Whether the first coin before practice chose the approach that was practised: one that is thrown until it falls well is none."""
    before = [c for c in thrown if practice_day(c.thrown_at, zone(client.time_zone)) <= began]
    return bool(before) and before[0].fell == approach


def known_of(db: Database, person: Person, now: datetime) -> list[Known]:
    """Everybody that this person may learn from, one by one."""
    with db.of(person) as conn:
        found = _known(conn, person, now)
        return [] if isinstance(found, SoFar) else found


def look(db: Database, person: Person, now: datetime) -> Outcomes | SoFar:
    """Everything that can be said, or why nothing can be said yet; or how far measuring got, to be asked again."""
    with db.of(person) as conn:
        known = _known(conn, person, now, PATIENCE_S)
        if isinstance(known, SoFar):
            return known
        gains = {key: [g for k in known if isinstance(g := k.found.get(key), Gain)] for key in RAISERS}
        left = {key: Counter(x for k in known if isinstance(x := k.found.get(key), Left)) for key in RAISERS}
        by = {
            key: [(g, APPROACHES[k.approach].name, k.coin) for k in known if isinstance(g := k.found.get(key), Gain) and k.approach]
            for key in RAISERS
        }
        return Outcomes(
            readings=of_readings(gains),
            left=left,
            approaches=of_approaches(by),
            ratings=_ratings(conn, known),
            practising=_practising(conn, outcomes.practised(conn), now),
            pictures=[p for k in known for p in _pictures(k)],
            agreed=sum(k.agreed for k in known),
        )


def _pictures(k: Known) -> list[ClientPicture]:
    """A client's picture for each reading of which there are two sittings."""
    out = []
    for key, case in k.case.items():
        if sum(key in s.values for s in case.measurement.sittings) < 2:
            continue
        chosen = selection(case, key)
        took = case.took_part | ({chosen.id} if chosen else set())
        marks = [
            Mark((s.taken_on - case.began).days // 7, s.taken_on, s.values[key], chose=s.id in took, excluded=key in s.excluded)
            for s in case.measurement.sittings
            if key in s.values
        ]
        found = k.found[key]
        out.append(
            ClientPicture(
                client=k.client,
                reading=key,
                side=case.choice.side if case.choice else None,
                marks=marks,
                extra=_extra(case, key),
                counts=found.value if isinstance(found, Left) else "",
                would_show=case.measurement.noise[key].band(marks[0].value.spread + marks[-1].value.spread),
            )
        )
    return out


def _extra(case: Case, key: str) -> list[tuple[int, float]]:
    """Right minus left in minutes, week by week of practice."""
    last = max((w.day for w in case.work), default=case.began)
    out = []
    for week in range((last - case.began).days // 7 + 1):
        first = case.began + timedelta(weeks=week)
        own = [w for w in case.work if first <= w.day < first + timedelta(weeks=1)]
        out.append((week + 1, extra_s(own, case.cards, RAISERS[key], side=Side.RIGHT, until=date.max) / 60))
    return out


def _ratings(conn: Conn, known: Iterable[Known]) -> list[Ratings]:
    """Of every concern, the newest finished round of each client whose earlier photographs are of a clean start."""
    changes: dict[str, list[float]] = {}
    for k in known:
        if not k.case:
            continue
        case = next(iter(k.case.values()))
        took = {i for c in k.case.values() for i in c.took_part} | {s.id for key, c in k.case.items() if (s := selection(c, key))}
        where = {j.shot.id: s for s in case.measurement.sittings for j in s.shots}
        seen: set[str] = set()
        for r in rounds.of_client(conn, k.client.id):
            earlier, later = (where.get(str(p[0])) if p else None for p in (r.earlier, r.later))
            if r.kind != SCORE or r.concern in seen or not earlier or not later:
                continue
            if earlier.id in took or earlier.taken_on > case.began or later.taken_on <= case.began:
                continue
            said = result(r)
            if said and said.change:
                seen.add(r.concern)
                changes.setdefault(r.concern, []).append(said.change.amount)
    return [of_ratings(concern, found) for concern, found in sorted(changes.items())]


def _practising(conn: Conn, practised: Iterable[outcomes.Practising], now: datetime) -> PractisingOn:
    """Everybody who practised, whether or not there are photographs."""
    courses = by_client(outcomes.courses(conn))
    people: list[tuple[Followed, float]] = []
    for p in practised:
        client = clients.one(conn, p.client_id)
        today = practice_day(now, zone(client.time_zone))
        pauses = off_days([x.pause for x in assignments.pauses(conn, client.id)], assignments.stays(conn, client.id))
        spans = [(c.first_day, c.ended_from) for c in courses.get(p.client_id, [])]

        off = _off(pauses, spans)
        ended = None if any(b is None for _, b in spans) else max((b for _, b in spans if b), default=None)
        found = followed(p.days, today, off, ended)
        if found:
            people.append((found, p.done / p.planned if p.planned else 0.0))
    return practising_on([f for f, _ in people], by_first_weeks(people))


def _off(paused: Callable[[date], bool], spans: Sequence[tuple[date, date | None]]) -> Callable[[date], bool]:
    """Whether nothing was to be practised on a day: it was paused, or lies between two programs."""
    return lambda day: paused(day) or not any(first <= day and (end is None or day < end) for first, end in spans)


def throw_coin(db: Database, coach: Person, client_id: UUID, between: Sequence[str], now: datetime) -> Coin:
    """Let a coin choose between two approaches for a client and note it, before practice. Raises Refused, NotThere."""
    if len(set(between)) != 2 or any(b not in APPROACHES for b in between):
        raise Refused(Why.UNKNOWN, "Name two different approaches.", "between")
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        if any(p.client_id == client_id for p in outcomes.practised(conn)):
            raise Refused(Why.ALREADY, "Practice has begun. A coin is fair only when it falls before.", "between")
        coin = Coin(client_id, list(between), secrets.choice(between), now)
        outcomes.note_coin(conn, coach.practice_id, coin, coach.id)
        return coin
