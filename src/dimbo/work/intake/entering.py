"""The intake: entering facts, what stands of them, and what Dimbo concludes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID, uuid4

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.catalogue.intake_schema import ReasoningEntry
from dimbo.catalogue.intake_tables import reasoning
from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.intake.conclusions import Conclusions, Intake, Rating, Tables, conclude
from dimbo.core.intake.side_tests import TestResult
from dimbo.core.safety.age import for_age
from dimbo.core.safety.cautions import CautionAnswer, Cautions, Clearance, lock_changes, silenced, stand
from dimbo.core.safety.consent import Choice, Consent, consent
from dimbo.core.sittings.sitting import Measurement
from dimbo.store.database import Conflict, Conn, Database
from dimbo.store.intake import facts, intakes
from dimbo.store.intake import reasoning as reasoning_store
from dimbo.store.intake.facts import Fact, NewFact
from dimbo.store.intake.reasoning import OwnText
from dimbo.store.intake.self_intakes import SelfIntake
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.work.measured import measurement
from dimbo.work.shared.errors import Refused, Why

from .intake_entries import CautionValue, ClearanceValue, ProfileValue, check_caution, check_clearance, check_key, profile, shape


@dataclass(frozen=True)
class Author:
    """Whose word a fact is. ``account_id`` is None for a client who fills the intake in by a link."""

    practice_id: UUID
    name: str
    account_id: UUID | None
    source: str


def coach_author(coach: Person, source: str = "coach") -> Author:
    return Author(coach.practice_id, coach.name, coach.id, source)


@dataclass(frozen=True)
class Entry:
    """One thing entered; ``id`` is made where it was entered, so that sending it twice is harmless."""

    id: UUID
    kind: str
    key: str
    value: dict[str, Any]


def tables_with(own: Sequence[OwnText]) -> Tables:
    """The shipped tables, with the practice's own reasoning where it keeps some."""
    shipped = shipped_intake().tables
    if not own:
        return shipped
    entries = {o.concern: reasoning(ReasoningEntry.model_validate(o.document)) for o in own}
    return Tables(
        concerns=shipped.concerns,
        reasoning={**shipped.reasoning, **entries},
        tests=shipped.tests,
        cautions=shipped.cautions,
        regions=shipped.regions,
    )


def day_of(client: Client, now: datetime) -> date:
    """The client's own practice day."""
    return practice_day(now, zone(client.time_zone))


def day_from(text: str | None) -> date | None:
    """A stored day."""
    return date.fromisoformat(text) if text else None


def caution_state(standing: Sequence[Fact]) -> tuple[dict[str, CautionAnswer], tuple[Clearance, ...]]:
    """Answers to cautions and clearances, from facts in order."""
    answers: dict[str, CautionAnswer] = {}
    clearances = []
    for f in standing:
        v = f.value
        if f.kind == "caution":
            given = CautionAnswer(
                caution=f.key,
                answer=v["answer"],
                at=f.at,
                regions=frozenset(v.get("regions", ())),
                event_on=day_from(v.get("event_on")),
                note=v.get("note", ""),
            )
            answers[f.key] = given.after(answers.get(f.key))
        elif f.kind == "clearance":
            clearances.append(
                Clearance(
                    caution=f.key,
                    by_name=v["by_name"],
                    role=v["role"],
                    given_on=date.fromisoformat(v["given_on"]),
                    at=f.at,
                    says=v["says"],
                    regions=frozenset(v.get("regions", ())),
                    valid_from=day_from(v.get("valid_from")),
                    until=day_from(v.get("until")),
                )
            )
    return answers, tuple(clearances)


def cautions_of(conn: Conn, client: Client, now: datetime) -> Cautions:
    """What stands over a client now, for whoever plans or practises."""
    answers, clearances = caution_state([f for f in facts.standing(conn, client.id) if f.kind in ("caution", "clearance")])
    return stand(shipped_intake().tables.cautions, answers, clearances, day_of(client, now))


def consents(standing: Sequence[Fact], today: date, birth_year: int | None) -> list[Consent]:
    """Where every consent stands for somebody of this age, in the order of the table."""
    choices: dict[str, Choice] = {}
    for f in standing:
        if f.kind == "consent":
            before = choices.get(f.key)
            choices[f.key] = Choice(
                given=f.value["given"],
                on=date.fromisoformat(f.value["on"]),
                version=f.value["version"],
                person=f.value.get("person", ""),
                account=UUID(f.value["account"]) if f.value.get("account") else None,
                before=bool(before and (before.given or before.before)),
            )
    return for_age([consent(text, choices.get(text.id), today) for text in shipped_intake().consents.values()], birth_year, today)


def _measured(read: Measurement, tables: Tables) -> dict[str, TestResult]:
    """What the newest measured sitting says of a side, as results of the side tests that name a reading."""
    newest = next((s for s in reversed(read.sittings) if s.values), None)
    out: dict[str, TestResult] = {}
    for test in tables.tests.values():
        if newest and test.reading and test.reading in newest.values:
            side = newest.values[test.reading].smaller_side
            out[test.id] = TestResult(test.id, answer=side.value if side else "neither", noted_on=newest.taken_on, measured=True)
    return out


def ratings_of(standing: Sequence[Fact]) -> dict[str, Rating]:
    """The newest rating of every concern, from facts in order."""
    return {f.key: Rating(f.value["right"], left=f.value["left"]) for f in standing if f.kind == "rating"}


def to_intake(client: Client, standing: Sequence[Fact], measured: dict[str, TestResult], today: date) -> Intake:
    """The core's intake from facts in order."""
    answers, clearances = caution_state(standing)
    replies, causes, results, habits = {}, {}, dict(measured), set()
    for f in standing:
        v = f.value
        if f.kind == "answer" and v["answer"]:
            concern, _, question = f.key.partition(".")
            replies[concern, question] = v["answer"]
        elif f.kind == "cause" and v["cause"]:
            causes[f.key] = v["cause"]
        elif f.kind == "test" and v["answer"]:
            results[f.key] = TestResult(f.key, answer=v["answer"], noted_on=f.at.date())
        elif f.kind == "habit" and v["agreed"]:
            habits.add(f.key)
    return Intake(
        ratings=ratings_of(standing),
        answers=replies,
        causes=causes,
        results=results,
        cautions=answers,
        clearances=clearances,
        habits=frozenset(habits),
        minutes=client.minutes,
        goals=client.goals,
        unsettled_consents=tuple(c.text.name for c in consents(standing, today, client.birth_year) if not c.settled),
    )


def second_coaches(conn: Conn, client: Client) -> dict[UUID, str]:
    """Whom a client can name, by account."""
    return {i: name for i, name in accounts.coaches_now(conn).items() if i != client.coach_id}


@dataclass(frozen=True, kw_only=True)
class OpenIntake:
    """Everything the intake page shows."""

    client: Client
    today: date
    tables: Tables
    standing: list[Fact]
    intake: Intake
    conclusions: Conclusions
    consents: list[Consent]
    self_intake: SelfIntake | None
    photographs: int
    coaches: dict[UUID, str]
    """Whom the client can name as second coach."""


def _conclusions(tables: Tables, intake: Intake, today: date) -> Conclusions:
    shipped = shipped_catalogue()
    regions = {m.id: m.region for m in shipped.muscles.values()}
    return conclude(tables, intake, shipped.cards.values(), regions, today)


def open_intake(conn: Conn, client_id: UUID, now: datetime) -> OpenIntake:
    """Load a client's intake and conclude from it, within a transaction. Raises NotThere."""
    stored = intakes.load(conn, client_id)
    tables = tables_with(stored.own_texts)
    today = day_of(stored.client, now)
    intake = to_intake(stored.client, stored.standing, _measured(measurement(conn, stored.client), tables), today)
    return OpenIntake(
        client=stored.client,
        today=today,
        tables=tables,
        standing=stored.standing,
        intake=intake,
        conclusions=_conclusions(tables, intake, today),
        consents=consents(stored.standing, today, stored.client.birth_year),
        self_intake=stored.self_intake,
        photographs=stored.photographs,
        coaches=second_coaches(conn, stored.client),
    )


def load(db: Database, coach: Person, client_id: UUID, now: datetime) -> OpenIntake:
    with db.of(coach) as conn:
        return open_intake(conn, client_id, now)


def record(db: Database, coach: Person, client_id: UUID, entries: Sequence[Entry], now: datetime) -> OpenIntake:
    """Enter facts, all or none, in one transaction; what they lock or release goes into the audit trail with them.

    Raises Refused for what cannot be, and for an answer that would silence a lock without a clearance.
    """
    with db.of(coach) as conn:
        enter(conn, coach_author(coach), client_id, entries, now)
        return open_intake(conn, client_id, now)


def enter(conn: Conn, author: Author, client_id: UUID, entries: Sequence[Entry], now: datetime) -> None:
    """Enter facts within a transaction; see ``record``."""
    clients.hold(conn, client_id)
    client = clients.one(conn, client_id)
    tables = tables_with(reasoning_store.own(conn))
    kept = facts.known(conn, client_id, [e.id for e in entries])
    today = day_of(client, now)
    standing = facts.standing(conn, client_id)
    before = stand(tables.cautions, *caution_state(standing), today)
    current, new = before, []
    for entry in entries:
        if entry.id in kept:
            continue
        fact = _checked(tables, entry, standing, now, today=today, author=author)
        standing = [
            *standing,
            Fact(
                client_id=client_id,
                id=fact.id,
                seq=0,
                kind=fact.kind,
                key=fact.key,
                value=fact.value,
                at=fact.at,
                author=fact.author,
                source=fact.source,
            ),
        ]
        after = stand(tables.cautions, *caution_state(standing), today)
        if fact.kind == "caution" and (lost := silenced(current, after=after)):
            raise Refused(
                Why.CARE,
                f"{lost.rule.name} was answered yes and stays locked. Only a recorded clearance releases it: {lost.rule.says}",
                "answer",
            )
        current = after
        new.append(fact)
        if fact.kind == "profile":
            clients.set_profile(conn, client_id, fact.key, fact.value["value"])
    for change in lock_changes(before, after=current):
        kind = "lock" if change.locked else "release"
        new.append(
            NewFact(
                id=uuid4(),
                kind=kind,
                key=change.caution,
                value={"reason": change.reason},
                at=now,
                author=author.name,
                author_id=author.account_id,
                source=author.source,
            )
        )
    facts.add(conn, author.practice_id, client_id, new)
    if any(f.kind == "rating" for f in new):
        worst = {f.key: max(f.value["right"], f.value["left"]) for f in standing if f.kind == "rating"}
        rated = sorted((c for c in worst if worst[c]), key=lambda c: -worst[c])
        clients.set_concerns(conn, client_id, [*rated, *(c for c in client.concerns if c not in worst)])


def _checked(tables: Tables, entry: Entry, standing: Sequence[Fact], now: datetime, today: date, author: Author) -> NewFact:
    """An entry as a fact, after every check of its kind."""
    value = shape(entry.kind, entry.value)
    check_key(tables, entry.kind, key=entry.key, value=value)
    stored = value.model_dump(mode="json")
    if isinstance(value, CautionValue):
        check_caution(tables, entry.key, value, today)
    elif isinstance(value, ClearanceValue):
        given = caution_state(standing)[0].get(entry.key)
        check_clearance(
            tables,
            entry.key,
            value,
            given.answer if given else None,
            noted=given.regions if given else frozenset(),
            event_on=given.event_on if given else None,
            today=today,
        )
    elif isinstance(value, ProfileValue):
        stored = {"value": profile(entry.key, value.value, today)}
    return NewFact(
        id=entry.id,
        kind=entry.kind,
        key=entry.key,
        value=stored,
        at=now,
        author=author.name,
        author_id=author.account_id,
        source=author.source,
    )


def begin(db: Database, coach: Person, client_id: UUID, now: datetime) -> OpenIntake:
    """Open an intake. Raises Conflict while one is open."""
    with db.of(coach) as conn:
        client = clients.one(conn, client_id)
        if not clients.open_intake(conn, client_id, coach.name, now):
            assert client.intake_opened_at
            raise Conflict(
                f"An intake is open since {client.intake_opened_at:%-d %B %Y}, begun by {client.intake_opened_by}. Go on with that one."
            )
        facts.add(
            conn,
            coach.practice_id,
            client_id,
            [NewFact(id=uuid4(), kind="intake", key="opened", value={}, at=now, author=coach.name, author_id=coach.id, source="coach")],
        )
        return open_intake(conn, client_id, now)


def finish(db: Database, coach: Person, client_id: UUID, now: datetime) -> OpenIntake:
    """Finish the open intake; what was entered stays. Raises Conflict when none is open."""
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        if not clients.finish_intake(conn, client_id, now):
            raise Conflict("No intake is open.")
        facts.add(
            conn,
            coach.practice_id,
            client_id,
            [NewFact(id=uuid4(), kind="intake", key="finished", value={}, at=now, author=coach.name, author_id=coach.id, source="coach")],
        )
        return open_intake(conn, client_id, now)


def practice_tables(db: Database, coach: Person) -> Tables:
    """The tables as they hold in the coach's practice."""
    with db.of(coach) as conn:
        return tables_with(reasoning_store.own(conn))


def timeline(db: Database, coach: Person, client_id: UUID, before: int | None = None) -> list[Fact]:
    """Everything that changed, the newest first. Raises NotThere."""
    with db.of(coach) as conn:
        clients.one(conn, client_id)
        return facts.history(conn, client_id, before=before)
