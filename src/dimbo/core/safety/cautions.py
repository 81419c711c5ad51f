"""Cautions: what was answered, what a clinician has released, and what therefore stands on a day.

Dimbo never diagnoses. A yes reaches exercises with an effect: lock (not to be assigned), ease (the eased version) or
remind. Only a clearance releases a lock, for as long as it lasts; "not sure" counts as yes.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from enum import StrEnum

from dimbo.core.exercises.card import Card
from dimbo.core.text import brief_date, join_words, long_date

from .consent import add_months


class Effect(StrEnum):
    """What a caution does, the gravest first."""

    LOCK = "lock"
    EASE = "ease"
    REMIND = "remind"


GRAVITY: Mapping[Effect, int] = {Effect.LOCK: 2, Effect.EASE: 1, Effect.REMIND: 0}
URGENT = "urgent"
URGENT_CARE = "Seek urgent medical care now."
"""What is said first, before anything else, when an urgent sign is reported."""
CARE_TODAY = "See a doctor today."
"""What is said first of a sign that cannot wait until tomorrow."""
LONGEST_MONTHS = 12
"""Nobody's word releases a lock for longer."""
LOCAL_NUMBER = "your local emergency number"
"""No number ships: it differs from place to place. A practice may have its own."""
STANDING_LINE = "No diagnosis, no treatment. Your clinician and local rules come first."
"""Stands at the foot of whatever a client is given: screens, letters, hand-outs, comparisons."""
NOTHING_UNTIL = "No exercises until your coach has recorded a clearance."


@dataclass(frozen=True, slots=True, kw_only=True)
class Touch:
    """What a caution reaches. Every given key must name something of the exercise; without keys it reaches all.

    ``noted`` stands for the regions that were noted with the answer; while none are noted it reaches all regions.
    """

    effect: Effect
    regions: frozenset[str] = frozenset()
    noted: bool = False
    families: frozenset[str] = frozenset()
    pressures: frozenset[str] = frozenset()
    needs: frozenset[str] = frozenset()
    marks: frozenset[str] = frozenset()
    exercises: frozenset[str] = frozenset()
    hands: bool = False
    """Only what lays hands on its regions; on any region where it names none."""

    @property
    def by_region(self) -> bool:
        return self.noted or bool(self.regions)

    @property
    def narrowed(self) -> bool:
        """Whether it reaches only some of the exercises of its regions."""
        return bool(self.families or self.pressures or self.needs or self.marks or self.exercises or self.hands)

    def own_regions(self, noted: frozenset[str]) -> frozenset[str]:
        return noted if self.noted else self.regions

    def reaches(self, card: Card, noted: frozenset[str], released: frozenset[str]) -> bool:
        """Whether it reaches an exercise, without the ``released`` regions."""
        if self.families and card.family.value not in self.families:
            return False
        if self.pressures and card.pressure not in self.pressures:
            return False
        if self.needs and self.needs.isdisjoint(card.needs):
            return False
        if self.marks and self.marks.isdisjoint(card.marks):
            return False
        if self.exercises and card.id not in self.exercises:
            return False
        if self.hands and not card.touches:
            return False
        if not self.by_region:
            return True
        own = self.own_regions(noted)
        return not own or not (card.touches if self.hands else card.regions).isdisjoint(own - released)

    def may_reach(self, card: Card) -> bool:
        """Whether it could reach an exercise, whatever regions may yet be noted with a yes."""
        return self.reaches(card, frozenset(), released=frozenset())


@dataclass(frozen=True, slots=True, kw_only=True)
class CautionRule:
    """One caution of the table. ``cleared_by`` is "clinician", "coach", or "" when nothing needs releasing; ``roles`` are
    those whose word releases it, for ``lasts_months`` at most."""

    id: str
    name: str
    group: str
    ask: str
    text: str
    touches: tuple[Touch, ...]
    cleared_by: str = ""
    says: str = ""
    dated: bool = False
    noted_regions: bool = False
    ask_after_days: int | None = None
    roles: tuple[str, ...] = ()
    lasts_months: int = LONGEST_MONTHS
    kin: str = ""
    """What a sudden sign concerns, as a heading."""
    same_day: bool = False
    """Of a sudden sign: to be seen by a doctor today, where it is not for the emergency number."""

    @property
    def locks(self) -> bool:
        return any(t.effect is Effect.LOCK for t in self.touches)

    @property
    def effect(self) -> Effect:
        """The gravest effect."""
        return max((t.effect for t in self.touches), key=lambda e: GRAVITY[e])

    def concerns(self, cards: Iterable[Card]) -> bool:
        """Whether its answer decides on any of the exercises; that of a sudden sign always does."""
        return self.group == URGENT or any(t.may_reach(c) for t in self.touches for c in cards)


def care(signs: Iterable[CautionRule]) -> str:
    """What is said first, before anything else, of sudden signs: the gravest decides."""
    return CARE_TODAY if all(r.same_day for r in signs) else URGENT_CARE


def stop_words(signs: Sequence[CautionRule], number: str = "") -> str:
    """Everything that is said of sudden signs to whoever told them: what to do first, and that nothing is practised.
    ``number`` is the practice's own for an emergency."""
    now, call = care(signs), f"call {number or LOCAL_NUMBER}"
    if now == CARE_TODAY:
        return f"{now} If sight, speech, swallowing or breath change, {call}. {NOTHING_UNTIL}"
    return f"{now} C{call[1:]} now. Do not drive yourself. Note when it began. {NOTHING_UNTIL}"


@dataclass(frozen=True, slots=True, kw_only=True)
class CautionAnswer:
    """What was answered to a caution: yes, no or unsure; the regions and the day of the event where it has them."""

    caution: str
    answer: str
    at: datetime
    regions: frozenset[str] = frozenset()
    event_on: date | None = None
    note: str = ""
    since: datetime | None = None
    """When it was first said of this event; None when that was now."""

    @property
    def begun(self) -> datetime:
        return self.since or self.at

    def after(self, before: CautionAnswer | None) -> CautionAnswer:
        """This answer as the next one after another: what only adds a region, a day or a note to a yes speaks of the same
        event; a yes that is said again, or after a no, speaks of a new one."""
        adds = (
            before is not None
            and before.answer == self.answer != "no"
            and before.regions <= self.regions
            and before.event_on in (None, self.event_on)
            and (before.regions, before.event_on, before.note) != (self.regions, self.event_on, self.note)
        )
        return replace(self, since=before.begun) if before is not None and adds else self


@dataclass(frozen=True, slots=True, kw_only=True)
class Clearance:
    """Somebody's word that releases a caution: for all of it, or for the ``regions`` named; from a day, until a day."""

    caution: str
    by_name: str
    role: str
    given_on: date
    at: datetime
    says: str = ""
    regions: frozenset[str] = frozenset()
    valid_from: date | None = None
    until: date | None = None

    def ends(self, rule: CautionRule) -> date:
        """Its last day: the day that was named, and never longer than anybody's word releases this caution."""
        longest = add_months(self.valid_from or self.given_on, rule.lasts_months)
        return min(self.until, longest) if self.until else longest

    def in_force(self, rule: CautionRule, today: date) -> bool:
        return (self.valid_from or self.given_on) <= today <= self.ends(rule)

    def answers(self, rule: CautionRule, given: CautionAnswer) -> bool:
        """Whether it speaks of this event, out of the right mouth: given after it was told, not before it happened."""
        if given.event_on is not None and self.given_on < given.event_on:
            return False
        return self.at >= given.begun and (not rule.roles or self.role in rule.roles)


class State(StrEnum):
    ACTIVE = "active"
    WAITS = "waits"
    """A clearance is recorded and begins on a later day."""
    EXPIRED = "expired"
    PARTLY = "partly"
    """Some of its regions are released."""
    CLEARED = "cleared"


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """A caution that was answered with yes (or not sure), and where it stands on a day."""

    rule: CautionRule
    answer: CautionAnswer
    state: State
    released: frozenset[str]
    clearance: Clearance | None
    reason: str
    remedy: str

    @property
    def locked(self) -> bool:
        return self.rule.locks and self.state is not State.CLEARED

    @property
    def short(self) -> str:
        """Where it stands, in one line."""
        match self.state:
            case State.CLEARED:
                return f"{self.rule.name}: released."
            case State.WAITS if self.clearance is not None:
                return f"{self.rule.name}: locked until {brief_date(self.clearance.valid_from or self.clearance.given_on)}."
            case State.EXPIRED if self.clearance is not None and self.clearance.answers(self.rule, self.answer):
                return f"{self.rule.name}: the clearance ended on {brief_date(self.clearance.ends(self.rule))}, locked again."
            case State.EXPIRED:
                return f"{self.rule.name}: locked again, a clearance no longer holds."
            case State.PARTLY:
                return f"{self.rule.name}: locked, released for {join_words(sorted(self.released))} only."
            case _:
                return f"{self.rule.name}{_where(self.rule, self.answer)}: locked."

    @property
    def effect(self) -> Effect | None:
        """The gravest effect that still stands."""
        return None if self.state is State.CLEARED else self.rule.effect

    @property
    def scope(self) -> frozenset[str] | None:
        """Regions under lock; None when the lock is not by region, or when no region has been noted yet."""
        if not self.locked:
            return frozenset()
        own = [t.own_regions(self.answer.regions) for t in self.rule.touches if t.effect is Effect.LOCK and t.by_region]
        if not own or not all(own):
            return None
        return frozenset().union(*own) - self.released

    def on(self, card: Card) -> Effect | None:
        """Its effect on an exercise."""
        if self.state is State.CLEARED:
            return None
        gravest: Effect | None = None
        for touch in self.rule.touches:
            heavier = gravest is None or GRAVITY[touch.effect] > GRAVITY[gravest]
            if heavier and touch.reaches(card, self.answer.regions, released=self.released):
                gravest = touch.effect
        return gravest


@dataclass(frozen=True, slots=True)
class Verdict:
    """What all cautions together say of one exercise, the gravest first.

    ``version`` is what may be done of it: the exercise as it is; its eased version where it is eased and has one of its
    own, or where only that is free of locks; None while it is locked.
    """

    effect: Effect | None
    held: tuple[Held, ...]
    version: Card | None


@dataclass(frozen=True, slots=True)
class RegionState:
    """What stands over a region of the face. ``partial``: only some families, pressures or needs are reached there."""

    region: str
    effect: Effect
    partial: bool
    cautions: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Cautions:
    """Everything that stands over a client on a day."""

    held: tuple[Held, ...]
    unasked: tuple[CautionRule, ...]

    @property
    def urgent(self) -> tuple[Held, ...]:
        return tuple(h for h in self.held if h.rule.group == URGENT and h.locked)

    @property
    def locks(self) -> tuple[Held, ...]:
        return tuple(h for h in self.held if h.locked)

    def of(self, card: Card) -> Verdict:
        """What stands over an exercise."""
        found = [(effect, h) for h in self.held if (effect := h.on(card)) is not None]
        found.sort(key=lambda pair: -GRAVITY[pair[0]])
        effect = found[0][0] if found else None
        held = tuple(h for _, h in found)
        if effect in (None, Effect.REMIND):
            return Verdict(effect, held, card)
        if card.easier is None:
            mild = effect is Effect.EASE and not card.strong
            return Verdict(Effect.EASE, held, card) if mild else Verdict(Effect.LOCK, held, None)
        if any(h.on(card.easier) is Effect.LOCK for h in self.held):
            return Verdict(Effect.LOCK, held, None)
        return Verdict(Effect.EASE, held, card.easier)

    def effect_of(self, held: Held, card: Card) -> Effect | None:
        """What one caution does to an exercise in the end: a lock of which the eased version is free eases; what should be
        eased, strains and has no eased version is locked."""
        effect = held.on(card)
        if effect is Effect.EASE and card.easier is None and card.strong:
            return Effect.LOCK
        if effect is Effect.LOCK and card.easier is not None and held.on(card.easier) is not Effect.LOCK:
            return Effect.EASE
        return effect

    def missing(self, cards: Iterable[Card]) -> tuple[CautionRule, ...]:
        """Cautions that must be answered before any of the exercises is practised and are not: the sudden signs, and
        every one that reaches an exercise."""
        every = tuple(cards)
        return tuple(r for r in self.unasked if r.concerns(every))

    def regions(self, every: Iterable[str]) -> tuple[RegionState, ...]:
        """What stands over each region, in the order given."""
        everywhere = tuple(every)
        found: dict[str, list[tuple[int, bool, Effect, str]]] = {}
        for h in self.held:
            if h.state is State.CLEARED:
                continue
            for t in h.rule.touches:
                if t.narrowed and not t.by_region:
                    continue
                own = t.own_regions(h.answer.regions)
                entry = (GRAVITY[t.effect], not t.narrowed, t.effect, h.rule.name)
                for region in own - h.released if own else everywhere:
                    found.setdefault(region, []).append(entry)
        out = []
        for region in everywhere:
            if region in found:
                _, whole, effect, _ = max(found[region])
                out.append(RegionState(region, effect, not whole, tuple(dict.fromkeys(name for *_, name in found[region]))))
        return tuple(out)


def _where(rule: CautionRule, given: CautionAnswer) -> str:
    if rule.noted_regions and not given.regions:
        return ", regions not noted"
    return f" ({join_words(sorted(given.regions))})" if given.regions else ""


def _held(rule: CautionRule, given: CautionAnswer, clearances: list[Clearance], today: date) -> Held:
    what = f"{rule.name}{_where(rule, given)}" + (f", {long_date(given.event_on)}" if given.event_on else "")
    if given.answer == "unsure":
        what += ", not sure"
    if not rule.locks:
        return Held(
            rule=rule, answer=given, state=State.ACTIVE, released=frozenset(), clearance=None, reason=f"{what}. {rule.text}", remedy=""
        )
    mine = [c for c in clearances if c.answers(rule, given)]
    force = [c for c in mine if c.in_force(rule, today)]
    whole = [c for c in force if not c.regions]
    released = frozenset().union(*(c.regions for c in force)) if force else frozenset()
    if not whole and rule.noted_regions and given.regions and given.regions <= released:
        whole = force
    ask = f"Record what {'the treating clinician' if rule.cleared_by == 'clinician' else 'you saw'} says: {rule.says}"
    if whole:
        c = max(whole, key=lambda c: (c.ends(rule), c.at))
        until = long_date(c.ends(rule))
        return Held(
            rule=rule,
            answer=given,
            state=State.CLEARED,
            released=released,
            clearance=c,
            reason=f"{what}: released by {c.by_name}, {c.role}, until {until}.",
            remedy="",
        )
    if force:
        c = max(force, key=lambda c: c.at)
        return Held(
            rule=rule,
            answer=given,
            state=State.PARTLY,
            released=released,
            clearance=c,
            reason=f"{what}: released for {join_words(sorted(released))} only.",
            remedy=ask,
        )
    coming = [c for c in mine if (c.valid_from or c.given_on) > today]
    if coming:
        c = min(coming, key=lambda c: c.valid_from or c.given_on)
        start = long_date(c.valid_from or c.given_on)
        return Held(
            rule=rule,
            answer=given,
            state=State.WAITS,
            released=released,
            clearance=c,
            reason=f"{what}: locked until {start}, the day {c.by_name} named.",
            remedy="Nothing to do.",
        )
    over = [c for c in mine if c.ends(rule) < today]
    if over:
        c = max(over, key=lambda c: c.ends(rule))
        said = f"{what}: the clearance of {c.by_name} ended on {long_date(c.ends(rule))}, so it is locked again."
        return Held(rule=rule, answer=given, state=State.EXPIRED, released=released, clearance=c, reason=said, remedy=ask)
    if spoke := [c for c in clearances if c not in mine]:
        c = max(spoke, key=lambda c: c.at)
        why = (
            "was told again since"
            if c.at < given.begun
            else "happened since"
            if not rule.roles or c.role in rule.roles
            else f"is not for a {c.role} to release; ask {join_words(rule.roles, 'or')}"
        )
        said = f"{what}: the word of {c.by_name} of {long_date(c.given_on)} does not release it any more, because it {why}."
        return Held(rule=rule, answer=given, state=State.EXPIRED, released=released, clearance=c, reason=said, remedy=ask)
    if rule.ask_after_days and given.event_on and (today - given.event_on).days >= rule.ask_after_days:
        ask = f"{(today - given.event_on).days} days have passed; ask for the date. {ask}"
    elif rule.noted_regions and not given.regions:
        ask = f"Note which regions; until then all are locked. {ask}"
    return Held(rule=rule, answer=given, state=State.ACTIVE, released=released, clearance=None, reason=f"{what}. {rule.text}", remedy=ask)


def stand(rules: Iterable[CautionRule], answers: Mapping[str, CautionAnswer], clearances: Iterable[Clearance], today: date) -> Cautions:
    """What stands on ``today``, urgent signs and locks first. ``answers`` holds the newest answer to each caution."""
    by_caution: dict[str, list[Clearance]] = {}
    for c in clearances:
        by_caution.setdefault(c.caution, []).append(c)
    held, unasked = [], []
    for rule in rules:
        given = answers.get(rule.id)
        if given is None:
            unasked.append(rule)
        elif given.answer != "no":
            held.append(_held(rule, given, by_caution.get(rule.id, []), today))

    def weight(h: Held) -> tuple[bool, int]:
        return (h.rule.group != URGENT, -GRAVITY[h.effect] if h.effect else 1)

    return Cautions(tuple(sorted(held, key=weight)), tuple(unasked))


def silenced(before: Cautions, after: Cautions) -> Held | None:
    """The first lock that a new answer would take away or narrow; only a clearance may do that.

    Naming the regions of a lock that had none yet is no narrowing.
    """
    now = {h.rule.id: h for h in after.held}
    for h in before.held:
        permanent = h.state is State.CLEARED and h.clearance is not None and h.clearance.until is None
        if not h.rule.locks or permanent:
            continue
        later = now.get(h.rule.id)
        if later is None or (h.locked and not later.locked):
            return h
        if h.rule.noted_regions and h.answer.regions and not h.answer.regions <= later.answer.regions | h.released:
            return h
    return None


@dataclass(frozen=True, slots=True)
class LockChange:
    """A lock that came or went, for the audit trail."""

    caution: str
    locked: bool
    reason: str


def lock_changes(before: Cautions, after: Cautions) -> list[LockChange]:
    """Locks set, changed in extent, or released between two standings."""
    was = {h.rule.id: h for h in before.locks}
    now = {h.rule.id: h for h in after.locks}
    everyone = {h.rule.id: h for h in after.held}
    out = [LockChange(i, True, h.reason) for i, h in now.items() if i not in was or was[i].scope != h.scope]
    for i, h in was.items():
        if i not in now:
            out.append(LockChange(i, False, everyone[i].reason if i in everyone else f"{h.rule.name}: answered no."))
    return out
