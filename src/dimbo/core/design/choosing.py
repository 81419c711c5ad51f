"""Which exercises a draft wants: by what the concerns come from, and by what a school reaches for.

The cause says what helps; the school says with which hands. Where a school does without a family that a cause asks for, it
answers with its own; what would work against a cause is wanted by nobody.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from dimbo.core.anatomy import Family, Side, Stage
from dimbo.core.design.checks.causes import STRENGTH, against, families_of, is_fluid
from dimbo.core.exercises.approach import RELEASE_TIGHT, Approach
from dimbo.core.exercises.card import MARK_WORDS, Card, SideRule
from dimbo.core.intake.conclusions import ConcernView
from dimbo.core.programs.program import When
from dimbo.core.safety.cautions import Effect
from dimbo.core.text import join_words

from .weeks import About

MARKED = 3
"""From this severity on a concern gets a second exercise of work."""
EVENING_CONCERNS = frozenset({"jaw-tension", "neck-tension"})
"""What is soft for these goes to the evening, where there is work in the morning."""
SOFT = frozenset({Family.RELEASE, Family.BREATHE, Family.PRESS, Family.STRETCH, Family.MOBILISE})
BROUGHT = 2.5
"""By so much less is wanted what the school brings and the cause does not ask for."""
ROOM_MINUTES = 20
"""From so many minutes on there is room for a further exercise of each family."""


@dataclass(slots=True)
class Wanted:
    """An exercise that a draft wants. ``asked``: by the cause of a concern, and not by the school alone; ``more`` is the side that
    gets more of it, because it is busier or tighter."""

    card: Card
    weight: float
    why: str
    when: When = When.MORNING
    asked: bool = True
    more: Side | None = None


@dataclass(frozen=True, slots=True)
class LeftOut:
    """An exercise that was wanted and is not in the draft, with the reason."""

    exercise: str
    name: str
    reason: str
    held: bool = False
    """Whether a caution, a hurt or the coach keeps it out, and not the minutes or the school."""


def families_for(view: ConcernView, school: Approach) -> list[tuple[Family, bool]]:
    """The families that answer a concern, the most wanted first, each with whether its cause asks for it."""
    cause = families_of(view)
    if not cause:
        return []
    kept = {f for f in cause if f not in school.without} or (set() if school.instead else set(cause))
    if len(kept) < len(cause):
        kept |= set(school.instead)
    asked = kept | cause
    brought = {f for f in school.adds if f not in school.without and (f not in STRENGTH or cause & (STRENGTH | {Family.ALIGN}))}
    if cause <= {Family.BREATHE}:
        brought = set()
    if is_fluid(view):
        brought &= {Family.DRAIN, Family.TAP, Family.BREATHE}
        kept -= STRENGTH

    def order(family: Family) -> tuple[int, str]:
        return (school.first.index(family) if family in school.first else len(school.first), family.value)

    return [(f, f in asked and f in kept) for f in sorted(kept | brought, key=order)]


@dataclass(slots=True, kw_only=True)
class Choosing:
    """Chooses exercises for a client in a school. ``left_out`` gathers what was wanted and may not be, with the reason."""

    concerns: tuple[ConcernView, ...]
    about: About
    cards: Mapping[str, Card]
    school: Approach
    minutes: int | None
    stopped: frozenset[str]
    leave_out: frozenset[str]
    busy: Side | None
    left_out: dict[str, LeftOut] = field(default_factory=dict)
    _regions: dict[str, str] = field(default_factory=dict)
    """Muscles (ids) and their regions, once they were asked for."""

    def leave(self, card: Card, reason: str, held: bool = False) -> None:
        self.left_out.setdefault(card.id, LeftOut(card.id, name=card.name, reason=reason, held=held))

    def allowed(self, card: Card) -> bool:
        """Whether an exercise may be drafted at all; what may not is noted with its reason."""
        if card.withdrawn:
            return False
        kept_out = self.kept_out(card)
        if reason := kept_out or self.unwanted(card):
            self.leave(card, reason, held=bool(kept_out))
            return False
        return True

    def kept_out(self, card: Card) -> str:
        """What keeps an exercise from the client: a caution, a hurt, or the coach; empty when nothing does."""
        verdict = self.about.cautions.of(card)
        if verdict.effect is Effect.LOCK:
            return f"locked: {join_words([h.rule.name.lower() for h in verdict.held if h.on(card) is Effect.LOCK])}"
        if card.id in self.stopped:
            return "it hurt and waits for your decision"
        if card.id in self.leave_out:
            return "you left it out"
        named = [MARK_WORDS.get(x, x) for x in sorted(self.leave_out & {*card.needs, *card.marks})]
        return f"you left out: {join_words(named)}" if named else ""

    def unwanted(self, card: Card) -> str:
        """Why the school does not draft an exercise, or what it builds on is not there; empty when neither holds."""
        if forbidden := self.school.forbids(card):
            return f"it {forbidden}, which the approach “{self.school.name}” forbids"
        for needed, name in card.after:
            if needed not in self.cards or not self.allowed(self.cards[needed]):
                return f"it builds on {name}, which is left out"
        return ""

    def fit(self, card: Card, view: ConcernView) -> float:
        """How well an exercise answers a concern that comes from its cause."""
        muscles = set(view.cause.muscles)
        score = 4.0 - 0.4 * card.concerns.index(view.concern.id) if view.concern.id in card.concerns else 0.0
        score += 2.0 * len(muscles & set(card.prime_movers)) / max(len(card.prime_movers), 1)
        score += 0.5 * len(muscles & set(card.helpers))
        score += 1.0 * bool(card.touches & self._places(view))
        if self.school.asymmetry == RELEASE_TIGHT and view.rating.deeper:
            score += 2.0 * (card.style.side_rule is not SideRule.TOGETHER)
        score += 1.5 * card.foundation + 0.5 * (card.style.side_rule is SideRule.WEAK and view.rating.deeper is not None)
        score -= 1.5 * card.inside_mouth + 1.0 * len(card.marks & {"head-back", "head-tilt"}) + 0.5 * bool(card.after)
        if self.about.cautions.of(card).effect is Effect.EASE:
            score -= 2.0
        return score

    def _places(self, view: ConcernView) -> set[str]:
        """The regions in which a concern shows."""
        if not self._regions:
            self._regions.update({m.id: m.region for c in self.cards.values() for m in c.muscles.values()})
        return {self._regions[m] for m in view.concern.muscles if m in self._regions}

    def wanted(self) -> list[Wanted]:
        """Exercises for every concern, the most wanted first."""
        found: dict[str, Wanted] = {}
        for view in self.concerns:
            for place, (family, asked) in enumerate(families_for(view, self.school)):
                fits = self._fits(view, family)
                take = self._take(view, family, asked)
                room = 1 if self.minutes is None or self.minutes >= ROOM_MINUTES else 0
                for rank, card in enumerate(fits[: take + room]):
                    other = fits[take].name if len(fits) > take and rank < take else ""
                    weight = view.rating.worst * 2 - place - 2.0 * rank - BROUGHT * (not asked) - 3.0 * (rank >= take)
                    want = Wanted(card, weight, self._why(view, card, other=other, asked=asked), asked=asked, more=self._more(view, card))
                    _merge(found, want)
        return self._evening(sorted(found.values(), key=lambda w: -w.weight))

    def _fits(self, view: ConcernView, family: Family) -> list[Card]:
        muscles = set(view.cause.muscles)
        fits = [
            c
            for c in self.cards.values()
            if c.family is family
            and (muscles & set(c.prime_movers) or (view.concern.id in c.concerns and not (family.contracts and muscles)))
            and not view.concern.contradicted_by(c)
            and not any(against(v, c, self.school) for v in self.concerns)
            and self.allowed(c)
        ]
        return sorted(fits, key=lambda c: -self.fit(c, view))

    def _take(self, view: ConcernView, family: Family, asked: bool) -> int:
        if not asked:
            return 1
        marked = family.contracts and view.rating.worst >= MARKED
        return 1 + marked + (family is Family.DRAIN or family is self.school.first[0])

    def _more(self, view: ConcernView, card: Card) -> Side | None:
        """The side that gets more of what lets go: the one that chews, or in a school that releases the tight side, the worse one."""
        if card.family.contracts or card.style.side_rule is SideRule.TOGETHER or not set(view.cause.muscles) & set(card.shares):
            return None
        if view.cause.busy_side:
            return self.busy or view.rating.deeper
        tight = self.school.asymmetry == RELEASE_TIGHT and Family.RELEASE in families_of(view)
        return view.rating.deeper if tight else None

    def _why(self, view: ConcernView, card: Card, *, other: str, asked: bool) -> str:
        side = f", more on the {view.rating.deeper.value}" if view.rating.deeper else ""
        out = f"For {view.concern.name[0].lower()}{view.concern.name[1:]}{side}: {view.cause.name}. "
        if card.family in families_of(view):
            out += view.cause.helps
        elif asked:
            spared = join_words(sorted(f.value for f in families_of(view) & self.school.without))
            out += f"In this approach {card.family.value} stands for {spared}."
        else:
            out += f"{self.school.name} brings it: {self.school.why.split('. ')[0].rstrip('.').lower()}."
        if other:
            out += f" Preferred to {other}."
        if self.about.cautions.of(card).effect is Effect.EASE:
            out += " Shown in its eased version."
        return out

    def _evening(self, wants: list[Wanted]) -> list[Wanted]:
        """What is soft goes to the evening where its cause says so, or where there is work in the morning and minutes for both."""
        if self.minutes is not None and self.minutes < 5:
            return wants
        worse = [v for v in self.concerns if v.rating.worst >= 2]
        said = {v.concern.id for v in worse if v.cause.evening}
        work = any(w.card.family.contracts for w in wants) and (self.minutes is None or self.minutes >= 10)
        calm = said | ({v.concern.id for v in worse} & EVENING_CONCERNS if work else set())
        for want in wants:
            if want.card.family in SOFT and calm & set(want.card.concerns) and want.card.stage is not Stage.PREPARE:
                want.when = When.EVENING
                want.why += " In the evening, when the day has tightened it."
        return wants


def _merge(found: dict[str, Wanted], want: Wanted) -> None:
    known = found.get(want.card.id)
    if known is None:
        found[want.card.id] = want
        return
    known.weight = max(known.weight, want.weight) + min(known.weight, want.weight) / 2
    known.asked = known.asked or want.asked
    known.more = known.more or want.more
    also = want.why.split(". ")[0].rstrip(".")
    if also not in known.why:
        known.why = f"{known.why} {also}, too."


def calm_beginning(cards: Mapping[str, Card], allowed: Sequence[str]) -> list[Wanted]:
    """What somebody gets for whom no concern asks for anything yet."""
    return [Wanted(cards[i], 1.0, "A calm beginning; no concern asks for more yet.") for i in allowed]
