"""The weekly review: whether a program advances, holds, eases back or stops, for each exercise and for the whole.

Advice only. The coach confirms, changes some of it, or decides otherwise with a reason.
"""

from __future__ import annotations

import statistics
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from dimbo.core.rules import Judgement, Rule, tenths
from dimbo.core.text import join_words, percent

from .adherence import Adherence, Day, overdone, session_adherence
from .thresholds import ReviewRules


class Verdict(StrEnum):
    """What is done with a dose: go along the program, keep it, one rung lower, or leave the exercise out."""

    ADVANCE = "advance"
    HOLD = "hold"
    EASE = "ease back"
    STOP = "stop"


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


@dataclass(frozen=True, slots=True, kw_only=True)
class WeekRule:
    """One rule on a whole week: what it says, when it speaks, what it decides, and the sentence with the numbers."""

    rule: Rule
    verdict: Verdict
    speaks: Callable[[WeekFacts, ReviewRules], bool]
    because: Callable[[WeekFacts, ReviewRules], str]


_SLACK = 1e-9
"""Shares are quotients of floats: four of five must reach 0.8."""


def _share(f: WeekFacts) -> float:
    """Share of the planned sessions, for the rules that stand after the one for a week without a plan."""
    share = f.adherence().share
    return 1.0 if share is None else share


def _sorer_than(f: WeekFacts, least: float) -> bool:
    return f.sorest is not None and f.sorest[1] > least


def _easy(f: WeekFacts, r: ReviewRules) -> bool:
    return f.effort is not None and f.effort < r.effort_low


def _done(f: WeekFacts) -> str:
    return f"{_sessions(f)}, {percent(_share(f))}"


def _soreness(f: WeekFacts, least: float) -> str:
    day, level = f.sorest or (date.min, 0)
    return f"Soreness {level} of 10 on {day:%A}, above {tenths(least)}"


def _overdone(f: WeekFacts, r: ReviewRules) -> str:
    return join_words([f"{d.day:%A} +{percent(d.over_share)}" for d in overdone(f.days, r.over_share)])


WEEK_RULES: tuple[WeekRule, ...] = (
    WeekRule(
        rule=Rule(
            "review-sore-stop",
            name="Stop and ask",
            says="Grave or lasting soreness stops strength until the review is decided; then everything "
            "that works a muscle goes one rung back.",
        ),
        verdict=Verdict.EASE,
        speaks=lambda f, r: bool(f.sore_stop),
        because=lambda f, r: f"{f.sore_stop} Strength is stopped until this is decided: ask what it was, then one rung back.",
    ),
    WeekRule(
        rule=Rule(
            "review-sore",
            name="Soreness",
            says="Next-day soreness above {soreness_ease} of 10 eases back one rung: what works the sore "
            "muscles where they were named, else everything that works a muscle; nothing is raised.",
        ),
        verdict=Verdict.EASE,
        speaks=lambda f, r: _sorer_than(f, r.soreness_ease),
        because=lambda f, r: f"{_soreness(f, r.soreness_ease)}: one rung back.",
    ),
    WeekRule(
        rule=Rule(
            "review-overdone",
            name="Overdoing",
            says="More than {over_share} above plan on {over_days} days of the week eases back one rung.",
        ),
        verdict=Verdict.EASE,
        speaks=lambda f, r: len(overdone(f.days, r.over_share)) >= r.over_days,
        because=lambda f, r: f"Overdone on {len(overdone(f.days, r.over_share))} days, {_overdone(f, r)}: one rung back.",
    ),
    WeekRule(
        rule=Rule(
            "review-pain",
            name="Pain",
            says="An exercise at which pain was told stops until the coach clears it; no other exercise is raised.",
        ),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: bool(f.pains),
        because=lambda f, r: (
            f"{join_words([p.sentence for p in f.pains])}. That exercise stops until you clear it; nothing else is raised."
        ),
    ),
    # Before every rule that reads a share of the sessions: without a plan there is none.
    WeekRule(
        rule=Rule(
            "review-paused",
            name="Nothing planned",
            says="A week in which nothing was planned, or all of it was paused, is not judged; the dose stays.",
        ),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: f.adherence().share is None,
        because=lambda f, r: "Nothing was planned in this week, or all of it was paused: the dose stays.",
    ),
    WeekRule(
        rule=Rule(
            "review-seldom",
            name="Too little to judge",
            says="Below {hold_share} of the planned sessions the dose stays; ask what was in the way.",
        ),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: _share(f) < r.hold_share - _SLACK,
        because=lambda f, r: f"{_done(f)}, is too little to judge: the dose stays. Ask what was in the way.",
    ),
    WeekRule(
        rule=Rule(
            "review-half",
            name="Adherence",
            says="From {hold_share} to below {advance_share} of the planned sessions the dose stays.",
        ),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: _share(f) < r.advance_share - _SLACK,
        because=lambda f, r: f"{_done(f)}, is below {percent(r.advance_share)}: the dose stays.",
    ),
    WeekRule(
        rule=Rule("review-silent", name="No effort told", says="Without any effort told nothing is raised; ask for it."),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: f.effort is None,
        because=lambda f, r: f"{_done(f)}, but no effort was told: the dose stays until it is.",
    ),
    WeekRule(
        rule=Rule("review-hard", name="Effort", says="Median effort above {effort_high} of 10 holds the dose."),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: f.effort is not None and f.effort > r.effort_high,
        because=lambda f, r: f"Median effort {tenths(f.effort or 0)} lies above {tenths(r.effort_high)}: the dose stays.",
    ),
    WeekRule(
        rule=Rule(
            "review-easy",
            name="Effort too low",
            says="Median effort below {effort_low} of 10 holds the dose until the form was looked at; where "
            "it is felt in the right place, the program advances.",
        ),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: _easy(f, r) and not f.felt,
        because=lambda f, r: (
            f"Median effort {tenths(f.effort or 0)} lies below {tenths(r.effort_low)}: look at the form before the dose is raised."
        ),
    ),
    WeekRule(
        rule=Rule("review-form", name="Not felt", says="Where it is not felt in the right place, the dose stays: form comes before more."),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: f.unfelt,
        because=lambda f, r: (
            f"Not felt in the right place in {f.forms.count('no')} of {len(f.forms)} sessions that told it: "
            "the dose stays; look at the form first."
        ),
    ),
    WeekRule(
        rule=Rule("review-tender", name="Soreness to advance", says="Next-day soreness above {soreness_advance} of 10 holds the dose."),
        verdict=Verdict.HOLD,
        speaks=lambda f, r: _sorer_than(f, r.soreness_advance),
        because=lambda f, r: f"{_soreness(f, r.soreness_advance)}: the dose stays.",
    ),
    WeekRule(
        rule=Rule(
            "review-advance",
            name="Advance",
            says="At least {advance_share} of the planned sessions done, no pain, median effort {effort_low} to "
            "{effort_high} of 10 (or less, where it is felt in the right place) and next-day soreness at most {soreness_advance} of 10: "
            "along the program to the next week.",
        ),
        verdict=Verdict.ADVANCE,
        speaks=lambda f, r: True,
        because=lambda f, r: f"{evidence_words(f)}: along the program.{' It is easy, and felt in the right place.' if _easy(f, r) else ''}",
    ),
)
"""The rules on a week from the gravest to the mildest, the most telling of equal verdicts first; the first that speaks
decides, so nothing that is told makes a week less gentle."""


def judge(facts: WeekFacts, rules: ReviewRules) -> Judgement:
    """The verdict on a whole week."""
    first = next(w for w in WEEK_RULES if w.speaks(facts, rules))
    return Judgement(first.verdict, rule=first.rule.id, because=first.because(facts, rules))


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


@dataclass(frozen=True, slots=True, kw_only=True)
class LineWeek:
    """One exercise in its week: what happened to it, the verdict on the week, and the week's own facts."""

    line: LineFacts
    whole: Judgement
    facts: WeekFacts

    @property
    def pain(self) -> Pain | None:
        return next((p for p in self.facts.pains if p.exercise_id == self.line.exercise_id), None)

    @property
    def spared(self) -> bool:
        """Whether it is the week's soreness that decides, and this exercise does not work what is sore."""
        sore = self.facts.sore_muscles
        return self.whole.rule == "review-sore" and bool(sore) and not sore & self.line.muscles


@dataclass(frozen=True, slots=True, kw_only=True)
class LineRule:
    """One rule on an exercise within the week's verdict, as ``WeekRule``."""

    rule: Rule
    verdict: Verdict
    speaks: Callable[[LineWeek, ReviewRules], bool]
    because: Callable[[LineWeek, ReviewRules], str]


_OF_WEEK: dict[str, Rule] = {w.rule.id: w.rule for w in WEEK_RULES}

LINE_RULES: tuple[LineRule, ...] = (
    LineRule(
        rule=_OF_WEEK["review-pain"],
        verdict=Verdict.STOP,
        speaks=lambda n, r: n.pain is not None,
        because=lambda n, r: f"{n.pain.sentence} on {n.pain.day:%A}. It is left out until you clear it." if n.pain else "",
    ),
    LineRule(
        rule=Rule(
            "review-line-overdone",
            name="Exercise overdone",
            says="An exercise done by more than {over_share} above plan on {over_days} days eases back one rung.",
        ),
        verdict=Verdict.EASE,
        speaks=lambda n, r: n.line.over_days >= r.over_days,
        because=lambda n, r: f"Done by more than {percent(r.over_share)} above plan on {n.line.over_days} days: one rung back.",
    ),
    # The one rule that is milder than the week: soreness that was named eases only what works it.
    LineRule(
        rule=_OF_WEEK["review-sore"],
        verdict=Verdict.HOLD,
        speaks=lambda n, r: n.spared,
        because=lambda n, r: "It does not work what is sore, so it stays as it is.",
    ),
    LineRule(
        rule=Rule(
            "review-line-seldom",
            name="Exercise left out",
            says="An exercise of which less than {hold_share} was done, in at least two practised "
            "sessions, stays although the others advance.",
        ),
        verdict=Verdict.HOLD,
        speaks=lambda n, r: n.whole.verdict == Verdict.ADVANCE and n.line.sessions >= 2 and n.line.share < r.hold_share - _SLACK,
        because=lambda n, r: f"Only {percent(n.line.share)} of it was done in {n.line.sessions} practised sessions: it stays.",
    ),
)
"""The rules on one exercise, the gravest first; where none speaks, the week's verdict holds."""


def judge_line(line: LineFacts, whole: Judgement, facts: WeekFacts, rules: ReviewRules) -> Judgement:
    """The verdict on one exercise that works a muscle, within the verdict on the week."""
    week = LineWeek(line=line, whole=whole, facts=facts)
    first = next((n for n in LINE_RULES if n.speaks(week, rules)), None)
    return Judgement(first.verdict, rule=first.rule.id, because=first.because(week, rules)) if first else whole


RULES: Mapping[str, Rule] = _OF_WEEK | {n.rule.id: n.rule for n in LINE_RULES}
"""Every rule of the review by id, in their order."""


_GRAVITY: Mapping[str, int] = {Verdict.STOP: 3, Verdict.EASE: 2, Verdict.HOLD: 1, Verdict.ADVANCE: 0}


def gravest(found: Iterable[Judgement]) -> Judgement:
    """The judgement that asks for least; of equal ones the first."""
    return max(found, key=lambda j: _GRAVITY[j.verdict])


def overridden(suggested: Mapping[str, str], decided: Mapping[str, str]) -> list[str]:
    """Line ids in which the coach decided otherwise."""
    return [k for k, v in suggested.items() if decided.get(k, v) != v]


def sore_muscles(places: Iterable[tuple[int, Sequence[str]]], rules: ReviewRules) -> frozenset[str]:
    """Muscles named with soreness above the threshold to ease back; takes level and muscles of each check-in."""
    return frozenset(m for level, muscles in places if level > rules.soreness_ease for m in muscles)
