"""The weekly review: whether a program advances, holds, eases back or stops, for each exercise and for the whole.

Advice only. The coach confirms, changes some of it, or decides otherwise with a reason.
"""

from __future__ import annotations

import statistics
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from datetime import date
from enum import StrEnum

from dimbo.core.programs.program import Limit
from dimbo.core.rules import Judgement, Rule, tenths
from dimbo.core.text import join_words, percent

from .adherence import Adherence, Day, overdone, session_adherence


class OutOfBounds(ValueError):
    """A threshold that cannot be; ``field`` is its key."""

    def __init__(self, message: str, field: str) -> None:
        super().__init__(message)
        self.field = field


class Verdict(StrEnum):
    """What is done with a dose: go along the program, keep it, one rung lower, or leave the exercise out."""

    ADVANCE = "advance"
    HOLD = "hold"
    EASE = "ease back"
    STOP = "stop"


@dataclass(frozen=True, slots=True, kw_only=True)
class ReviewRules:
    """The thresholds of the weekly review; effort and soreness are of 10, shares 0 to 1."""

    advance_share: float = 0.8
    hold_share: float = 0.5
    effort_low: float = 3
    effort_high: float = 7
    soreness_advance: float = 3
    soreness_ease: float = 5
    over_share: float = 0.25
    over_days: float = 2


SHIPPED = ReviewRules()


REVIEW_LIMITS: Mapping[str, Limit] = {
    "advance_share": Limit(
        name="Advance from", unit="of the sessions", least=0.5, most=1, about="Share of the planned sessions from which a program advances."
    ),
    "hold_share": Limit(
        name="Hold from",
        unit="of the sessions",
        least=0.2,
        most=0.8,
        about="Below this share a week says too little, and the dose stays as well.",
    ),
    "effort_low": Limit(
        name="Effort at least",
        unit="of 10",
        least=0,
        most=5,
        about="Median effort below which the form is looked at before the dose is raised.",
    ),
    "effort_high": Limit(name="Effort at most", unit="of 10", least=5, most=10, about="Median effort above which a program holds."),
    "soreness_advance": Limit(
        name="Soreness to advance", unit="of 10", least=0, most=5, about="Next-day soreness up to which a program advances."
    ),
    "soreness_ease": Limit(
        name="Soreness to ease back", unit="of 10", least=3, most=9, about="Next-day soreness above which a program eases back one rung."
    ),
    "over_share": Limit(
        name="Overdone from",
        unit="above plan",
        least=0.1,
        most=1,
        about="A day counts as overdone when more than this share lies above its plan.",
    ),
    "over_days": Limit(
        name="Overdone days", unit="days", least=1, most=7, about="So many overdone days in a week, and a program eases back one rung."
    ),
}
"""Every threshold of ``ReviewRules`` with its bounds."""


def checked_rules(values: Mapping[str, float], base: ReviewRules | None = None) -> ReviewRules:
    """Thresholds from plain numbers over ``base``. Raises OutOfBounds that names the threshold and its bounds."""
    for key, value in values.items():
        limit = REVIEW_LIMITS.get(key)
        if limit is None:
            raise OutOfBounds(f"there is no review threshold “{key}”; choose from {', '.join(REVIEW_LIMITS)}", key)
        if not limit.least <= value <= limit.most:
            raise OutOfBounds(f"{limit.name} must be {limit.least:g} to {limit.most:g} {limit.unit}, not {value:g}", key)
    rules = ReviewRules(**asdict(base or ReviewRules()) | dict(values))
    for low, high in (("hold_share", "advance_share"), ("effort_low", "effort_high"), ("soreness_advance", "soreness_ease")):
        if getattr(rules, low) > getattr(rules, high):
            raise OutOfBounds(f"{REVIEW_LIMITS[low].name} must not lie above {REVIEW_LIMITS[high].name.lower()}", low)
    return rules


def own_rules(rules: ReviewRules) -> dict[str, float]:
    """Only what differs from the shipped thresholds."""
    shipped = ReviewRules()
    return {f.name: getattr(rules, f.name) for f in fields(ReviewRules) if getattr(rules, f.name) != getattr(shipped, f.name)}


def in_words(rules: ReviewRules) -> dict[str, str]:
    """The thresholds as they stand in a sentence."""
    return {
        f.name: percent(getattr(rules, f.name)) if f.name.endswith("_share") else tenths(getattr(rules, f.name))
        for f in fields(ReviewRules)
    }


RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule(
            "review-pain",
            name="Pain",
            says="An exercise at which pain was told stops until the coach clears it; no other exercise is raised.",
        ),
        Rule(
            "review-sore",
            name="Soreness",
            says="Next-day soreness above {soreness_ease} of 10 eases back one rung: what works the sore "
            "muscles where they were named, else everything that works a muscle; nothing is raised.",
        ),
        Rule(
            "review-sore-stop",
            name="Stop and ask",
            says="Grave or lasting soreness stops strength until the review is decided; then everything "
            "that works a muscle goes one rung back.",
        ),
        Rule(
            "review-overdone",
            name="Overdoing",
            says="More than {over_share} above plan on {over_days} days of the week eases back one rung.",
        ),
        Rule(
            "review-seldom",
            name="Too little to judge",
            says="Below {hold_share} of the planned sessions the dose stays; ask what was in the way.",
        ),
        Rule("review-half", name="Adherence", says="From {hold_share} to below {advance_share} of the planned sessions the dose stays."),
        Rule("review-hard", name="Effort", says="Median effort above {effort_high} of 10 holds the dose."),
        Rule(
            "review-easy",
            name="Effort too low",
            says="Median effort below {effort_low} of 10 holds the dose until the form was looked at; where "
            "it is felt in the right place, the program advances.",
        ),
        Rule("review-form", name="Not felt", says="Where it is not felt in the right place, the dose stays: form comes before more."),
        Rule("review-silent", name="No effort told", says="Without any effort told nothing is raised; ask for it."),
        Rule("review-tender", name="Soreness to advance", says="Next-day soreness above {soreness_advance} of 10 holds the dose."),
        Rule(
            "review-advance",
            name="Advance",
            says="At least {advance_share} of the planned sessions done, no pain, median effort {effort_low} to "
            "{effort_high} of 10 (or less, where it is felt in the right place) and next-day soreness at most {soreness_advance} of 10: "
            "along the program to the next week.",
        ),
        Rule(
            "review-line-seldom",
            name="Exercise left out",
            says="An exercise of which less than {hold_share} was done, in at least two practised "
            "sessions, stays although the others advance.",
        ),
        Rule(
            "review-line-overdone",
            name="Exercise overdone",
            says="An exercise done by more than {over_share} above plan on {over_days} days eases back one rung.",
        ),
        Rule(
            "review-paused",
            name="Nothing planned",
            says="A week in which nothing was planned, or all of it was paused, is not judged; the dose stays.",
        ),
    )
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Pain:
    """Pain at an exercise, as it was logged: which, on which day, side, level of 10 and where."""

    exercise_id: str
    name: str
    day: date
    side: str | None
    level: int | None
    where: str = ""
    since: str = ""
    """Since when, in the client's words; empty when it was not told."""

    @property
    def short(self) -> str:
        """Side and level only."""
        level = f"{self.level} of 10" if self.level is not None else "no level told"
        return f"{self.side} side, {level}" if self.side in ("left", "right") else level

    @property
    def sentence(self) -> str:
        at = join_words([x for x in (f"{self.side} side" if self.side in ("left", "right") else self.side or "", self.where) if x])
        level = f", {self.level} of 10" if self.level is not None else ""
        return f"{self.name} hurt{f', {at}' if at else ''}{level}{f', since {self.since}' if self.since else ''}"


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekFacts:
    """What happened in a week: its planned days, effort of each session, next-day soreness by the day it was told, and pain."""

    days: tuple[Day, ...]
    efforts: tuple[int, ...] = ()
    soreness: tuple[tuple[date, int], ...] = ()
    sore_muscles: frozenset[str] = frozenset()
    """Muscles that were named with soreness above the threshold to ease back."""
    pains: tuple[Pain, ...] = ()
    sore_stop: str = ""
    """Why soreness stopped strength in this week, as a sentence; empty when it did not."""
    forms: tuple[str, ...] = ()
    """Whether it was felt in the right place, of each session that told it, in their order: yes, partly, no."""

    def adherence(self) -> Adherence:
        return session_adherence(self.days, max((d.day for d in self.days), default=date.min))

    @property
    def effort(self) -> float | None:
        """Median effort of 10."""
        return statistics.median(self.efforts) if self.efforts else None

    @property
    def unfelt(self) -> bool:
        """Whether it is not felt in the right place: said last, or at least as often as not."""
        return "no" in self.forms and (self.forms[-1] == "no" or 2 * self.forms.count("no") >= len(self.forms))

    @property
    def felt(self) -> bool:
        """Whether it is felt in the right place, as far as half of the sessions or more say."""
        told = len(self.efforts) or 1
        return not self.unfelt and 2 * self.forms.count("yes") >= max(told, len(self.forms))

    @property
    def sorest(self) -> tuple[date, int] | None:
        return max(self.soreness, key=lambda s: s[1], default=None)


def _sessions(facts: WeekFacts) -> str:
    known = facts.adherence()
    return f"{tenths(known.done)} of {known.planned} sessions"


def evidence_words(facts: WeekFacts) -> str:
    """The numbers of a week in one sentence: sessions, effort, soreness, pain."""
    parts = [_sessions(facts)]
    parts.append(f"effort {tenths(facts.effort)}" if facts.effort is not None else "no effort told")
    parts.append(f"soreness {facts.sorest[1]}" if facts.sorest else "no soreness told")
    parts.append(join_words([p.sentence for p in facts.pains]) if facts.pains else "no pain")
    return ", ".join(parts)


_GRAVITY: Mapping[str, int] = {Verdict.STOP: 3, Verdict.EASE: 2, Verdict.HOLD: 1, Verdict.ADVANCE: 0}


def gravest(found: Iterable[Judgement]) -> Judgement:
    """The judgement that asks for least; of equal ones the first."""
    return max(found, key=lambda j: _GRAVITY[j.verdict])


def judge(facts: WeekFacts, rules: ReviewRules) -> Judgement:
    """The verdict on a whole week. Every rule that speaks is heard, and the gravest decides: nothing that is told makes a
    week less gentle."""
    return gravest(_speak(facts, rules))


def _speak(facts: WeekFacts, rules: ReviewRules) -> Iterator[Judgement]:
    """What each rule that speaks says of a week, the most telling of equal verdicts first."""
    if facts.sore_stop:
        because = f"{facts.sore_stop} Strength is stopped until this is decided: ask what it was, then one rung back."
        yield Judgement(Verdict.EASE, rule="review-sore-stop", because=because)
    sorest = facts.sorest
    if sorest and sorest[1] > rules.soreness_ease:
        because = f"Soreness {sorest[1]} of 10 on {sorest[0]:%A}, above {tenths(rules.soreness_ease)}: one rung back."
        yield Judgement(Verdict.EASE, rule="review-sore", because=because)
    over = overdone(facts.days, rules.over_share)
    if len(over) >= rules.over_days:
        told = join_words([f"{d.day:%A} +{percent(d.over_share)}" for d in over])
        yield Judgement(Verdict.EASE, rule="review-overdone", because=f"Overdone on {len(over)} days, {told}: one rung back.")
    if facts.pains:
        told = join_words([p.sentence for p in facts.pains])
        yield Judgement(
            Verdict.HOLD, rule="review-pain", because=f"{told}. That exercise stops until you clear it; nothing else is raised."
        )
    yield from _of_adherence(facts, rules)


def _of_adherence(facts: WeekFacts, rules: ReviewRules) -> Iterator[Judgement]:
    """What sessions, effort and slight soreness say; advance when nothing of it stands against."""
    share = facts.adherence().share
    if share is None:
        yield Judgement(
            Verdict.HOLD, rule="review-paused", because="Nothing was planned in this week, or all of it was paused: the dose stays."
        )
        return
    done = f"{_sessions(facts)}, {percent(share)}"
    if share < rules.hold_share - 1e-9:
        yield Judgement(
            Verdict.HOLD, rule="review-seldom", because=f"{done}, is too little to judge: the dose stays. Ask what was in the way."
        )
    elif share < rules.advance_share - 1e-9:
        yield Judgement(Verdict.HOLD, rule="review-half", because=f"{done}, is below {percent(rules.advance_share)}: the dose stays.")
    effort = facts.effort
    if effort is None:
        yield Judgement(Verdict.HOLD, rule="review-silent", because=f"{done}, but no effort was told: the dose stays until it is.")
    elif effort > rules.effort_high:
        because = f"Median effort {tenths(effort)} lies above {tenths(rules.effort_high)}: the dose stays."
        yield Judgement(Verdict.HOLD, rule="review-hard", because=because)
    elif effort < rules.effort_low and not facts.felt:
        because = f"Median effort {tenths(effort)} lies below {tenths(rules.effort_low)}: look at the form before the dose is raised."
        yield Judgement(Verdict.HOLD, rule="review-easy", because=because)
    if facts.unfelt:
        told = f"in {facts.forms.count('no')} of {len(facts.forms)} sessions that told it"
        yield Judgement(
            Verdict.HOLD, rule="review-form", because=f"Not felt in the right place {told}: the dose stays; look at the form first."
        )
    sorest = facts.sorest
    if sorest and sorest[1] > rules.soreness_advance:
        because = f"Soreness {sorest[1]} of 10 on {sorest[0]:%A}, above {tenths(rules.soreness_advance)}: the dose stays."
        yield Judgement(Verdict.HOLD, rule="review-tender", because=because)
    easy = " It is easy, and felt in the right place." if effort is not None and effort < rules.effort_low else ""
    yield Judgement(Verdict.ADVANCE, rule="review-advance", because=f"{evidence_words(facts)}: along the program.{easy}")


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFacts:
    """What happened to one exercise in the sessions of a week that were practised."""

    exercise_id: str
    name: str
    muscles: frozenset[str]
    sessions: int = 0
    share: float = 1.0
    over_days: int = 0
    """Days on which it was done by more than the threshold above its plan."""


def judge_line(line: LineFacts, whole: Judgement, facts: WeekFacts, rules: ReviewRules) -> Judgement:
    """The verdict on one exercise that works a muscle, within the verdict on the week."""
    pain = next((p for p in facts.pains if p.exercise_id == line.exercise_id), None)
    if pain:
        return Judgement(Verdict.STOP, rule="review-pain", because=f"{pain.sentence} on {pain.day:%A}. It is left out until you clear it.")
    return gravest(_of_line(line, whole, facts, rules))


def _of_line(line: LineFacts, whole: Judgement, facts: WeekFacts, rules: ReviewRules) -> Iterator[Judgement]:
    if line.over_days >= rules.over_days:
        because = f"Done by more than {percent(rules.over_share)} above plan on {line.over_days} days: one rung back."
        yield Judgement(Verdict.EASE, rule="review-line-overdone", because=because)
    if whole.rule == "review-sore" and facts.sore_muscles and not facts.sore_muscles & line.muscles:
        yield Judgement(Verdict.HOLD, rule="review-sore", because="It does not work what is sore, so it stays as it is.")
        return
    if whole.verdict == Verdict.ADVANCE and line.sessions >= 2 and line.share < rules.hold_share - 1e-9:
        because = f"Only {percent(line.share)} of it was done in {line.sessions} practised sessions: it stays."
        yield Judgement(Verdict.HOLD, rule="review-line-seldom", because=because)
    yield Judgement(whole.verdict, rule=whole.rule, because=whole.because)


def overridden(suggested: Mapping[str, str], decided: Mapping[str, str]) -> list[str]:
    """Line ids in which the coach decided otherwise."""
    return [k for k, v in suggested.items() if decided.get(k, v) != v]


def sore_muscles(places: Iterable[tuple[int, Sequence[str]]], rules: ReviewRules) -> frozenset[str]:
    """Muscles named with soreness above the threshold to ease back; takes level and muscles of each check-in."""
    return frozenset(m for level, muscles in places if level > rules.soreness_ease for m in muscles)
