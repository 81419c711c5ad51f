"""The intake and what it concludes: what is locked or eased, what comes from what, what helps, what to ask next."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date

from dimbo.core.anatomy import Side
from dimbo.core.exercises.card import Card
from dimbo.core.safety.cautions import URGENT, CautionAnswer, CautionRule, Cautions, Clearance, Effect, RegionState, Verdict, stand
from dimbo.core.text import join_words

from .reasoning import Cause, Reasoning, Suggestion, suggest
from .side_tests import SideTest, TestResult, Topic, side_of, topics

MOST_SEVERE = 4
MOST_AGREED_GOALS = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Concern:
    """A concern of the catalogue; ``levels`` are the words for severity 1 to 4, ``never_trained`` muscles whose strength is the opposite
    of what is wanted, such as the one that closes an eye which opens too little: they may be released, and are not strengthened."""

    id: str
    name: str
    paired: bool
    muscles: tuple[str, ...] = ()
    also: tuple[str, ...] = ()
    levels: tuple[str, ...] = ()
    never_trained: tuple[str, ...] = ()
    never_marks: tuple[str, ...] = ()
    """Marks of movements that deepen it, such as a pucker where the lips are lined."""

    def contradicted_by(self, card: Card) -> bool:
        """Whether an exercise strengthens only what works against the wish."""
        return card.family.contracts and set(card.prime_movers) <= set(self.never_trained)


@dataclass(frozen=True, slots=True)
class Rating:
    """Severity 0 (none) to 4 (marked) on each side; both are the same where a concern is not paired."""

    right: int
    left: int

    @property
    def worst(self) -> int:
        return max(self.right, self.left)

    @property
    def deeper(self) -> Side | None:
        if self.right == self.left:
            return None
        return Side.RIGHT if self.right > self.left else Side.LEFT


def severity_by_muscle(concerns: Mapping[str, Concern], ratings: Mapping[str, Rating]) -> dict[str, Rating]:
    """The gravest rating of the concerns that show at each muscle, 0 to 4 on each side."""
    out: dict[str, Rating] = {}
    for concern_id, rating in ratings.items():
        for muscle in concerns[concern_id].muscles if concern_id in concerns and rating.worst else ():
            known = out.get(muscle, Rating(0, left=0))
            out[muscle] = Rating(max(known.right, rating.right), left=max(known.left, rating.left))
    return out


@dataclass(frozen=True, slots=True, kw_only=True)
class Tables:
    """The tables that an intake is judged by: the shipped ones, with the practice's own reasoning."""

    concerns: Mapping[str, Concern]
    reasoning: Mapping[str, Reasoning]
    tests: Mapping[str, SideTest]
    cautions: tuple[CautionRule, ...]
    regions: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Intake:
    """What is known of a client, each value the newest of its kind."""

    ratings: Mapping[str, Rating] = field(default_factory=dict)
    answers: Mapping[tuple[str, str], str] = field(default_factory=dict)
    """Answers by concern and question."""
    causes: Mapping[str, str] = field(default_factory=dict)
    """The cause that the coach has chosen, by concern."""
    results: Mapping[str, TestResult] = field(default_factory=dict)
    cautions: Mapping[str, CautionAnswer] = field(default_factory=dict)
    clearances: tuple[Clearance, ...] = ()
    habits: frozenset[str] = frozenset()
    """Side tests whose habit task is agreed."""
    minutes: int | None = None
    goals: str = ""
    unsettled_consents: tuple[str, ...] = ()
    """Names of consents that were never asked, have run out, or were given to an earlier text."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ConcernView:
    """A concern with its suggestion. ``cause`` is the coach's where one was chosen, else the leading one."""

    concern: Concern
    rating: Rating
    suggestion: Suggestion
    cause: Cause
    chosen: bool
    differs: bool
    """Whether the coach chose another cause than the answers point to."""
    derived: Mapping[str, str]
    """Questions that were answered elsewhere, with the answer."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FamilyAdvice:
    """A technique family that helps: its weight, the concerns it helps with, and where it is locked."""

    family: str
    weight: int
    concerns: tuple[str, ...]
    muscles: tuple[str, ...]
    locked: tuple[str, ...]
    """Names of the cautions that lock it for one of these muscles' regions, or everywhere."""


@dataclass(frozen=True, slots=True)
class AskNext:
    """What to ask next, the most important first. ``place`` is the section, ``key`` the question's id there."""

    place: str
    key: str
    text: str
    why: str


@dataclass(frozen=True, slots=True)
class HabitAdvice:
    """A habit task that a one-sided habit could become."""

    test: str
    text: str
    times: int
    agreed: bool
    exercise: str
    """The exercise (id) that stands for it in a program; empty where none does."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Conclusions:
    cautions: Cautions
    regions: tuple[RegionState, ...]
    exercises: tuple[tuple[Card, Verdict], ...]
    """Exercises that a caution locks or eases."""
    concerns: tuple[ConcernView, ...]
    families: tuple[FamilyAdvice, ...]
    topics: tuple[Topic, ...]
    habits: tuple[HabitAdvice, ...]
    ask_next: tuple[AskNext, ...]


def _elsewhere(source: str, rating: Rating, tables: Tables, intake: Intake, known: Mapping[str, Topic]) -> str | None:
    """What a caution, a side test or a topic answers to a question about a concern."""
    if source in intake.cautions:
        return intake.cautions[source].answer
    side = side_of(source, tables.tests, intake.results, known)
    if side is None or rating.deeper is None:
        return None
    return "yes" if side is rating.deeper else "no"


def _concerns(tables: Tables, intake: Intake, known: Mapping[str, Topic]) -> list[ConcernView]:
    out = []
    for concern_id, rating in sorted(intake.ratings.items(), key=lambda r: -r[1].worst):
        entry = tables.reasoning.get(concern_id)
        if rating.worst == 0 or entry is None:
            continue
        derived: dict[str, str] = {}
        for q in entry.questions:
            if q.source and (concern_id, q.id) not in intake.answers and (told := _elsewhere(q.source, rating, tables, intake, known)):
                derived[q.id] = told
        answers = {q: a for (c, q), a in intake.answers.items() if c == concern_id} | derived
        suggestion = suggest(entry, answers, frozenset(derived))
        chosen = next((c for c in entry.causes if c.id == intake.causes.get(concern_id)), None)
        cause = chosen or suggestion.first.cause
        out.append(
            ConcernView(
                concern=tables.concerns[concern_id],
                rating=rating,
                suggestion=suggestion,
                cause=cause,
                chosen=chosen is not None,
                differs=chosen is not None and chosen.id != suggestion.first.cause.id,
                derived=derived,
            )
        )
    return out


def _families(concerns: list[ConcernView], cautions: Cautions, muscle_region: Mapping[str, str]) -> list[FamilyAdvice]:
    """Families by the severity of the concerns that they help with."""
    weights: dict[str, int] = {}
    names: dict[str, list[str]] = {}
    muscles: dict[str, dict[str, None]] = {}
    for view in concerns:
        for family in view.cause.families:
            weights[family] = weights.get(family, 0) + view.rating.worst
            names.setdefault(family, []).append(view.concern.name)
            muscles.setdefault(family, {}).update(dict.fromkeys(view.cause.muscles))
    out = []
    locks = [(h, t) for h in cautions.locks for t in h.rule.touches if t.effect is Effect.LOCK]
    for family in sorted(weights, key=lambda f: -weights[f]):
        regions = {muscle_region[m] for m in muscles[family] if m in muscle_region}
        locked = [
            h.rule.name
            for h, t in locks
            if (not t.families or family in t.families)
            and not (t.pressures or t.needs or t.marks or t.exercises)
            and (not t.by_region or not (own := t.own_regions(h.answer.regions)) or not regions.isdisjoint(own - h.released))
        ]
        out.append(
            FamilyAdvice(
                family=family,
                weight=weights[family],
                concerns=tuple(dict.fromkeys(names[family])),
                muscles=tuple(muscles[family]),
                locked=tuple(dict.fromkeys(locked)),
            )
        )
    return out


def _ask_next(tables: Tables, intake: Intake, cautions: Cautions, concerns: list[ConcernView]) -> list[AskNext]:
    out = [
        AskNext("cautions", key=r.id, text=r.ask, why="Urgent signs come before everything.") for r in cautions.unasked if r.group == URGENT
    ]
    out += [
        AskNext("cautions", key=h.rule.id, text=f"{h.rule.name}: which regions?", why="Until they are noted, all regions are locked.")
        for h in cautions.locks
        if h.rule.noted_regions and not h.answer.regions
    ]
    out += [
        AskNext("cautions", key=h.rule.id, text=f"{h.rule.name}: when was it?", why="A clearance must be later than that day.")
        for h in cautions.locks
        if h.rule.dated and h.answer.event_on is None
    ]
    left = [r for r in cautions.unasked if r.group != URGENT]
    out += [AskNext("cautions", key=r.id, text=r.ask, why=f"{len(left)} cautions are not asked yet.") for r in left[:1]]
    if not any(r.worst for r in intake.ratings.values()):
        out.append(AskNext("concerns", key="", text="What would they like to change?", why="No concern is rated yet."))
    for view in concerns:
        q = view.suggestion.ask_next
        if q and not view.chosen and not view.suggestion.clear:
            first, second = view.suggestion.ranked[0].cause.name, view.suggestion.ranked[1].cause.name
            out.append(AskNext("concerns", key=f"{view.concern.id}.{q.id}", text=q.ask, why=f"Tells {first} from {second}."))
    wanted = {q.source for v in concerns for q in tables.reasoning[v.concern.id].questions if q.source}
    for test in tables.tests.values():
        if test.reading is None and test.id not in intake.results and (test.id in wanted or (test.topic and test.topic in wanted)):
            out.append(AskNext("tests", key=test.id, text=test.ask, why="Helps to tell the causes apart."))
    if intake.minutes is None:
        out.append(AskNext("time", key="minutes", text="How many minutes do they really have?", why="The program is fitted into them."))
    if not intake.goals.strip():
        out.append(AskNext("time", key="goals", text="What would they like, in their own words?", why="The letter answers these words."))
    if intake.unsettled_consents:
        names = join_words([n.lower() for n in intake.unsettled_consents])
        out.append(AskNext("consent", key="", text=f"Consent: {names}.", why="Each is asked apart."))
    return out


def conclude(tables: Tables, intake: Intake, cards: Iterable[Card], muscle_region: Mapping[str, str], today: date) -> Conclusions:
    """Everything that the intake says on ``today``. Pure; the same intake and tables always conclude the same."""
    known = topics(tables.tests.values(), intake.results)
    cautions = stand(tables.cautions, intake.cautions, intake.clearances, today)
    concerns = _concerns(tables, intake, known)
    verdicts = [(c, cautions.of(c)) for c in cards]
    habits = [
        HabitAdvice(t.id, text=text, times=t.task.times, agreed=t.id in intake.habits, exercise=t.task.exercise)
        for t in tables.tests.values()
        if t.task and t.id in intake.results and (text := t.task.for_answer(intake.results[t.id].answer))
    ]
    return Conclusions(
        cautions=cautions,
        regions=cautions.regions(tables.regions),
        exercises=tuple((c, v) for c, v in verdicts if v.effect in (Effect.LOCK, Effect.EASE)),
        concerns=tuple(concerns),
        families=tuple(_families(concerns, cautions, muscle_region)),
        topics=tuple(known.values()),
        habits=tuple(habits),
        ask_next=tuple(_ask_next(tables, intake, cautions, concerns)),
    )
