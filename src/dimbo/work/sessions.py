"""A client's sessions, compiled to the second out of what every running program plans, and the habit tasks of a day."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from types import MappingProxyType
from uuid import UUID

from dimbo.core.anatomy import Stage
from dimbo.core.breaks import Pause
from dimbo.core.card import Card
from dimbo.core.cautions import CautionRule, Cautions, Effect, Verdict, stop_words
from dimbo.core.ceilings import NOTHING, Left, Passed, Spent
from dimbo.core.consent import Consent, ConsentState
from dimbo.core.easing import eased_item
from dimbo.core.merging import Owned, merged, spare, within_ceilings
from dimbo.core.program import Settings, read_cell
from dimbo.core.session import Cue, Item, session_s, timeline
from dimbo.core.text import join_words
from dimbo.core.words import in_words
from dimbo.store import assignments, practice
from dimbo.store.assignments import Assignment, PlannedDay
from dimbo.store.clients import Client
from dimbo.store.database import Conn

from .consenting import PRACTISE, consent_of
from .exercises import cards_of
from .intake import cautions_of
from .laying import items_of, program_of

"""What a client reads while a sudden sign stands; the phone keeps it, for when there is no connection."""


@dataclass(frozen=True)
class Part:
    """What one program gives to a session: by this plan, and which of its sessions it is."""

    assignment: Assignment
    planned: PlannedDay


@dataclass(frozen=True)
class Session:
    """One session, compiled: its items with the assignment each belongs to, their timeline, and what is left out and why."""

    parts: tuple[Part, ...]
    day: date
    part: str
    items: tuple[Owned[UUID], ...]
    cues: tuple[Cue, ...]
    seconds: float
    settings: Settings
    left_out: tuple[tuple[str, str], ...]
    """Name and reason."""
    eased: Mapping[str, str]
    """Cautions because of which the eased version is done, by exercise; an exercise whose eased version is one of its own
    is in ``items`` as that."""
    spare: Mapping[str, Left]
    """What may still be repeated today, of the ceilings of each exercise and its muscles."""
    tender: Mapping[str, str]
    """Where an exercise was held longer last time, in a sentence."""

    @property
    def plain(self) -> tuple[Item, ...]:
        return tuple(o.item for o in self.items)

    @property
    def title(self) -> str:
        return join_words([p.assignment.title for p in self.parts])

    @property
    def key(self) -> str:
        """Changes when anything changes that a phone plays; sessions that are alike on several days share it."""
        rows = [(str(o.owner), o.item.line.id, o.item.card.id, o.item.card.name, o.item.line.note, repr(o.item.dose)) for o in self.items]
        spare = [(k, v.exercise, sorted(v.muscles.items(), key=str)) for k, v in sorted(self.spare.items())]
        told = repr((self.part, rows, self.left_out, sorted(self.eased.items()), spare, sorted(self.tender.items()), self.settings))
        return hashlib.sha256(told.encode()).hexdigest()[:16]


@dataclass(frozen=True)
class Standing:
    """What holds over a client's practice now."""

    client: Client
    running: tuple[Assignment, ...]
    cautions: Cautions
    stopped: frozenset[str]
    halt: str
    """Why nothing may be practised; empty when it may."""
    questions: tuple[CautionRule, ...]
    """What must be answered before anything is practised, the sudden signs first; empty when all is known."""
    agreed: Consent
    """Consent to practise."""
    pauses: tuple[Pause, ...]
    cards: Mapping[tuple[UUID, int], Mapping[str, Card]]
    plans: Mapping[tuple[UUID, int], Assignment]

    @property
    def may_practise(self) -> bool:
        """Whether practice may start: nothing stops it, all that touches it was asked, and it was agreed to."""
        return not self.halt and not self.questions and self.agreed.in_force


def standing(conn: Conn, practice_id: UUID, client: Client, now: datetime) -> Standing:
    """Everything that decides on a client's sessions, besides the days themselves."""
    cautions = cautions_of(conn, client, now)
    agreed = consent_of(conn, client, PRACTISE, now)
    halt = ""
    if cautions.urgent:
        halt = stop_words([h.rule for h in cautions.urgent])
    elif agreed.state in (ConsentState.REFUSED, ConsentState.WITHDRAWN):
        halt = "You have not agreed to practise with guidance. Open your agreements to change that."
    running = tuple(assignments.running_of(conn, client.id))
    plans = {(p.id, p.plan): p for a in running for p in ([a] if a.plan == 1 else assignments.plans(conn, a.id))}
    cards = {key: cards_of(conn, practice_id, plan) for key, plan in plans.items()}
    stopped = frozenset(s.exercise_id for s in practice.stopped(conn, client.id))
    pauses = tuple(p.pause for p in assignments.pauses(conn, client.id))
    known = {c for a in running for c in program_cards(a, cards[a.id, a.plan])}
    questions = cautions.missing(sorted(known, key=lambda c: c.id)) if running else ()
    return Standing(client, running, cautions, stopped, halt, questions, agreed, pauses, cards, plans)


def program_cards(plan: Assignment, cards: Mapping[str, Card]) -> frozenset[Card]:
    """The exercises of a plan's program."""
    return frozenset(line.card for line in program_of(plan, cards).lines)


def merged_items(parts: Sequence[Part], cards: Mapping[tuple[UUID, int], Mapping[str, Card]]) -> tuple[tuple[Owned[UUID], ...], Settings]:
    """Everything that the parts of a session plan, in sequence order, and the settings it is timed with."""
    rows: tuple[Owned[UUID], ...] = ()
    for part in parts:
        key = part.assignment.id, part.assignment.plan
        items = items_of(part.assignment, program_of(part.assignment, cards[key]), part.planned)
        rows = merged(rows, [Owned(part.assignment.id, i) for i in items])
    return rows, Settings(**parts[0].assignment.settings)


def _enough(card: Card, over: Passed) -> str:
    """Why an exercise is left out of a day that has had enough."""
    return "you have had enough of it today" if over.muscle is None else f"{card.muscles[over.muscle].name} has had enough today"


def _in_version(owned: Owned[UUID], verdict: Verdict) -> Owned[UUID]:
    """An item as it may be done: as it is, or in the eased version that the verdict names."""
    return owned if verdict.version is owned.item.card else replace(owned, item=eased_item(owned.item))


def compile_session(
    at: Standing, parts: Sequence[Part], used: Spent = NOTHING, tender: Mapping[str, str] = MappingProxyType({})
) -> Session:
    """The session of a day and part of the day out of what each running program plans for it.

    Exercises that wait for the coach or a clearance are left out, and those that would pass a daily ceiling. ``used`` is
    what the day has had already; ``tender`` says of an exercise where it was held longer last time.
    """
    first = parts[0]
    rows, settings = merged_items(parts, at.cards)
    verdicts = {o.item.card.id: at.cautions.of(o.item.card) for o in rows}
    eased = {i: join_words([h.rule.name for h in v.held]) for i, v in verdicts.items() if v.effect is Effect.EASE}
    locked = {i for i, v in verdicts.items() if v.effect is Effect.LOCK}
    may = tuple(_in_version(o, verdicts[o.item.card.id]) for o in rows if o.item.card.id not in at.stopped | locked)
    kept, beyond = within_ceilings(may, settings, used)
    left_out = [(o.item.card.name, "it hurt, and waits for your coach") for o in rows if o.item.card.id in at.stopped]
    left_out += [(o.item.card.name, "a clearance is missing") for o in rows if o.item.card.id in locked - at.stopped]
    left_out += [(b.owned.item.card.name, _enough(b.owned.item.card, b.passed)) for b in beyond]
    items = tuple(o.item for o in kept)
    return Session(
        tuple(parts),
        first.planned.day,
        first.planned.part,
        kept,
        timeline(items, settings),
        session_s(items, settings),
        settings,
        tuple(dict.fromkeys(left_out)),
        eased,
        spare(items, settings, used),
        {i.card.id: tender[i.card.id] for i in items if i.card.id in tender},
    )


def parts_on(conn: Conn, at: Standing, first: date, last: date) -> dict[tuple[date, str], list[Part]]:
    """What every running program plans on some days, by day and part of the day, morning first."""
    out: dict[tuple[date, str], list[Part]] = {}
    for running in at.running:
        for planned in assignments.sessions(conn, running.id, first, last):
            out.setdefault((planned.day, planned.part), []).append(Part(at.plans[running.id, planned.plan], planned))
    return dict(sorted(out.items(), key=lambda n: (n[0][0], n[0][1] == "evening")))


@dataclass(frozen=True)
class HabitTask:
    """A small task in the day: how often in words and in number, what to do, and how often it was done."""

    assignment_id: UUID
    exercise_id: str
    name: str
    often: str
    times: int
    say: str
    count: int


def habits_of(running: Assignment, cards: Mapping[str, Card], week: int, cautions: Cautions, done: Mapping[str, int]) -> list[HabitTask]:
    """The habit tasks of a program week (1-based), in the coach's words where there are any; locked ones are left out."""
    settings = Settings(**running.settings)
    program = program_of(running, cards)
    found = []
    for line in program.lines:
        dose = read_cell(line.cells[week - 1], line.card).dose if line.stage is Stage.DAY and week <= program.weeks else None
        if dose is not None and cautions.of(line.card).effect is not Effect.LOCK:
            times = sum(p.reps for p in dose.phases)
            say = line.note or " ".join(line.card.cues)
            often = in_words(dose, settings.pace_s)
            found.append(HabitTask(running.id, line.card.id, line.card.name, often, times, say, done.get(line.card.id, 0)))
    return found
