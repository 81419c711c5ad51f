"""A client's sessions, compiled to the second out of what every running program plans, and the habit tasks of a day."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from types import MappingProxyType
from uuid import UUID

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Stage
from dimbo.core.calendar.schedule import Pause
from dimbo.core.calendar.time_zones import day_at
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose_in_words import in_words
from dimbo.core.programs.daily_ceilings import NOTHING, Left, Passed, Spent, name_of
from dimbo.core.programs.program import Settings, read_cell
from dimbo.core.review.soreness import LOOK_BACK_DAYS, Soreness, ToldSore, soreness
from dimbo.core.review.thresholds import checked_rules
from dimbo.core.safety.cautions import CautionRule, Cautions, Effect, Verdict, stop_words
from dimbo.core.safety.consent import Consent, ConsentState
from dimbo.core.safety.health_questions import Asking, asking
from dimbo.core.safety.pain import stopped_with
from dimbo.core.sessions.eased_tracks import Track, tracks
from dimbo.core.sessions.eased_version import eased_item
from dimbo.core.sessions.merging import Owned, merged, spare, within_ceilings
from dimbo.core.sessions.timeline import Cue, Item, session_s, timeline
from dimbo.core.text import join_words
from dimbo.store.database import Conn
from dimbo.store.intake import facts
from dimbo.store.people import clients
from dimbo.store.people.clients import Client
from dimbo.store.plans import assignments
from dimbo.store.plans.assignments import Assignment, PlannedDay
from dimbo.store.practice import daily, hurts, log_sums
from dimbo.store.review import reviews
from dimbo.work.exercises.shelf import cards_of
from dimbo.work.intake.consenting import consent_of
from dimbo.work.intake.entering import cautions_of
from dimbo.work.intake.looking import PRACTISE
from dimbo.work.plans.plan_calendar import items_of, program_of

UNDER_AGE: Mapping[ConsentState, str] = {
    ConsentState.TOO_YOUNG: "Practice begins at 16. Nothing is planned until then; your coach can tell you more.",
    ConsentState.GUARDIAN: "Somebody who may decide for you must agree as well. Under “What you agreed to” they can do so, by name.",
}
"""What somebody who is not of age reads instead of a session."""


@dataclass(frozen=True)
class Part:
    """What one program gives to a session: by this plan, and which of its sessions it is."""

    assignment: Assignment
    planned: PlannedDay


@dataclass(frozen=True, kw_only=True)
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
    tracks: tuple[Track, ...]
    """The eased versions that a client may change over to."""

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


@dataclass(frozen=True, kw_only=True)
class Standing:
    """What holds over a client's practice now."""

    client: Client
    running: tuple[Assignment, ...]
    cautions: Cautions
    stopped: frozenset[str]
    """Exercises that hurt and wait for the coach."""
    beside: Mapping[str, str]
    """Exercises that wait with one that hurt, because they share its joint, mark or muscle; with its name."""
    sore: Soreness | None
    halt: str
    """Why nothing may be practised; empty when it may."""
    questions: tuple[CautionRule, ...]
    """What must be answered before anything is practised, the sudden signs first; empty when all is known."""
    ask: Asking | None
    """That health is to be asked again."""
    no_age: bool
    """The year of birth is not known, and must be before practice starts."""
    agreed: Consent
    """Consent to practise."""
    pauses: tuple[Pause, ...]
    cards: Mapping[tuple[UUID, int], Mapping[str, Card]]
    plans: Mapping[tuple[UUID, int], Assignment]

    @property
    def may_practise(self) -> bool:
        """Whether practice may start: nothing stops it, all that touches it was asked, and it was agreed to."""
        asked = self.ask is None or not self.ask.first
        return not self.halt and not self.questions and not self.no_age and asked and self.agreed.in_force


def standing(conn: Conn, practice_id: UUID, client: Client, now: datetime) -> Standing:
    """Everything that decides on a client's sessions, besides the days themselves."""
    cautions = cautions_of(conn, client, now)
    agreed = consent_of(conn, client, PRACTISE, now)
    halt = ""
    if cautions.urgent:
        halt = stop_words([h.rule for h in cautions.urgent], clients.emergency_number(conn))
    elif agreed.state in (ConsentState.TOO_YOUNG, ConsentState.GUARDIAN):
        halt = UNDER_AGE[agreed.state]
    elif agreed.state in (ConsentState.REFUSED, ConsentState.WITHDRAWN):
        halt = "You have not agreed to practise with guidance. Open your agreements to change that."
    running = tuple(assignments.running_of(conn, client.id))
    plans = {(p.id, p.plan): p for a in running for p in ([a] if a.plan == 1 else assignments.plans(conn, a.id))}
    cards = {key: cards_of(conn, practice_id, plan) for key, plan in plans.items()}
    hurt = hurts.stopped(conn, client.id)
    stopped = frozenset(s.exercise_id for s in hurt)
    pauses = tuple(p.pause for p in assignments.pauses(conn, client.id))
    known = {c for a in running for c in program_cards(a, cards[a.id, a.plan])}
    questions = cautions.missing(sorted(known, key=lambda c: c.id)) if running else ()
    beside = _beside(hurt, [c for known in cards.values() for c in known.values()])
    sore = soreness_of(conn, client.id, running, now)
    ask = _asking(conn, client.id, now) if running else None
    no_age = client.birth_year is None
    return Standing(
        client=client,
        running=running,
        cautions=cautions,
        stopped=stopped,
        beside=beside,
        sore=sore,
        halt=halt,
        questions=questions,
        ask=ask,
        no_age=no_age,
        agreed=agreed,
        pauses=pauses,
        cards=cards,
        plans=plans,
    )


def _beside(hurt: Sequence[hurts.Stopped], cards: Sequence[Card]) -> Mapping[str, str]:
    """What waits with what hurt, and the name of that."""
    known = {c.id: c for c in cards}
    every = shipped_catalogue().cards
    out: dict[str, str] = {}
    for s in hurt:
        card = known.get(s.exercise_id) or every.get(s.exercise_id)
        if card is not None:
            out |= dict.fromkeys(stopped_with(card, s.pain_where or "", known.values()), card.name)
    return {i: name for i, name in out.items() if i not in {s.exercise_id for s in hurt}}


def _asking(conn: Conn, client_id: UUID, now: datetime) -> Asking | None:
    stays = assignments.stays(conn, client_id)
    asked = facts.last_asked(conn, client_id)
    told = day_at(stays, asked) if asked else None
    return asking(day_at(stays, now), asked=told, practised=log_sums.last_practised(conn, client_id))


def soreness_of(conn: Conn, client_id: UUID, running: Sequence[Assignment], now: datetime) -> Soreness | None:
    today = day_at(assignments.stays(conn, client_id), now)
    told = [ToldSore(c.day, c.soreness, c.said_at) for c in daily.check_ins(conn, client_id, today - timedelta(days=2 * LOOK_BACK_DAYS))]
    if not told:
        return None
    decided = [r.made_at for a in running for r in reviews.of_assignment(conn, a.id)]
    asked = facts.soreness_asked(conn, client_id)
    return soreness(told, today, max([*decided, *([asked] if asked else [])], default=None), checked_rules(reviews.own_rules(conn)))


def program_cards(plan: Assignment, cards: Mapping[str, Card]) -> frozenset[Card]:
    """The exercises of a plan's program."""
    return frozenset(line.card for line in program_of(plan, cards).lines)


def merged_items(parts: Sequence[Part], cards: Mapping[tuple[UUID, int], Mapping[str, Card]]) -> tuple[tuple[Owned[UUID], ...], Settings]:
    """Everything that the parts of a session plan, in sequence order, and the settings it is timed with."""
    rows: tuple[Owned[UUID], ...] = ()
    for part in parts:
        key = part.assignment.id, part.assignment.plan
        items = items_of(part.assignment, program_of(part.assignment, cards[key]), part.planned)
        rows = merged(rows, second=[Owned(part.assignment.id, i) for i in items])
    return rows, Settings(**parts[0].assignment.settings)


def _enough(card: Card, over: Passed) -> str:
    """Why an exercise is left out of a day that has had enough."""
    return "you have had enough of it today" if over.muscle is None else f"{name_of(card, over.muscle)} has had enough today"


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
    withdrawn = {o.item.card.id for o in rows if o.item.card.withdrawn}
    beside = at.beside.keys() - at.stopped - locked
    rests = at.sore is not None and at.sore.rests(first.planned.day)
    sore = {o.item.card.id for o in rows if rests and o.item.card.strength} - at.stopped - locked - beside
    out = at.stopped | locked | withdrawn | beside | sore
    may = tuple(_in_version(o, verdicts[o.item.card.id]) for o in rows if o.item.card.id not in out)
    kept, beyond = within_ceilings(may, settings, used)
    left_out = [(o.item.card.name, "it hurt, and waits for your coach") for o in rows if o.item.card.id in at.stopped]
    left_out += [(o.item.card.name, "a clearance is missing") for o in rows if o.item.card.id in locked - at.stopped]
    left_out += [(o.item.card.name, f"it shares what hurt with {at.beside[o.item.card.id]}") for o in rows if o.item.card.id in beside]
    until = "until your coach has looked" if at.sore and at.sore.rule == "sore-stop" else "today"
    left_out += [(o.item.card.name, f"you are sore, so strength rests {until}") for o in rows if o.item.card.id in sore]
    left_out += [(o.item.card.name, "it is not practised any more") for o in rows if o.item.card.id in withdrawn - locked - at.stopped]
    left_out += [(b.owned.item.card.name, _enough(b.owned.item.card, b.passed)) for b in beyond]
    items = tuple(o.item for o in kept)
    cues = timeline(items, settings)
    return Session(
        parts=tuple(parts),
        day=first.planned.day,
        part=first.planned.part,
        items=kept,
        cues=cues,
        seconds=session_s(items, settings),
        settings=settings,
        left_out=tuple(dict.fromkeys(left_out)),
        eased=eased,
        spare=spare(items, settings, used),
        tender={i.card.id: tender[i.card.id] for i in items if i.card.id in tender},
        tracks=tracks(items, cues, settings),
    )


def parts_on(conn: Conn, at: Standing, first: date, last: date) -> dict[tuple[date, str], list[Part]]:
    """What every running program plans on some days, by day and part of the day, morning first."""
    out: dict[tuple[date, str], list[Part]] = {}
    for running in at.running:
        for planned in assignments.sessions(conn, running.id, first, until=last):
            out.setdefault((planned.day, planned.part), []).append(Part(at.plans[running.id, planned.plan], planned))
    return dict(sorted(out.items(), key=lambda n: (n[0][0], n[0][1] == "evening")))


@dataclass(frozen=True, kw_only=True)
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
            found.append(
                HabitTask(
                    assignment_id=running.id,
                    exercise_id=line.card.id,
                    name=line.card.name,
                    often=often,
                    times=times,
                    say=say,
                    count=done.get(line.card.id, 0),
                )
            )
    return found
