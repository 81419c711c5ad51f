"""What a review says besides its verdict: what was left out, where form is missing, what rises, and what to try when the same
verdict comes again and again."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from dimbo.core.exercises.card import Card
from dimbo.core.rules import Judgement, Rule
from dimbo.core.text import join_words, percent

from .adherence import DayState
from .thresholds import ReviewRules
from .weekly import LineFacts, Verdict, WeekFacts

LEFT_OUT_SESSIONS = 2
"""Practised sessions from which what was left out is spoken of."""
RISING_DAYS = 3
"""Check-ins in a row, each higher than the one before, from which soreness is said to rise."""
STALLED_WEEKS = 3
"""Reviews in a row with the same finding, this one included, from which something else is proposed."""

RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule(
            "remark-left-out",
            name="Left out",
            says=f"Exercises of which less than {{hold_share}} was done in {LEFT_OUT_SESSIONS} practised "
            "sessions or more are named; a region of which everything that works it was left out is named by itself.",
        ),
        Rule(
            "remark-rising",
            name="Soreness rises",
            says=f"{RISING_DAYS} check-ins running, each higher than the one before, are said before the threshold is reached.",
        ),
        Rule(
            "remark-form",
            name="Form check",
            says="Where it was not felt in the right place, each exercise offers its main cue and its foundation.",
        ),
        Rule("remark-stall", name="Stall", says=f"The same finding {STALLED_WEEKS} times running says what to try instead."),
    )
}

INSTEAD: Mapping[str, str] = {
    "review-seldom": "A shorter session or other days may fit better than the same plan once more; talk about what is in the way.",
    "review-half": "Fewer exercises in fewer minutes, or other days, keep more than a plan that is half done; talk about what fits.",
    "review-hard": "Put the easier version or another exercise in place of the hardest one, and shorten the session.",
    "review-easy": "Look at the form together once. Where it is felt in the right place, say so and it advances; else a harder "
    "exercise may be missing.",
    "review-silent": "Ask for the effort at the next talk, and say why it matters: without it nothing is raised.",
    "review-sore": "Take a session of the week away or change the exercise; soreness that stays belongs to a clinician.",
    "review-sore-stop": "Soreness that comes again and again belongs to a clinician before more is tried.",
    "review-tender": "A day more between sessions, or the eased version, lets soreness settle.",
    "review-overdone": "Agree what enough is: shorter sessions, a fixed time of day, nothing beside the plan.",
    "review-pain": "Pain that comes again belongs to a clinician; put another exercise in its place.",
    "review-form": "Go back to the foundation of what is not felt, one exercise at a time, in front of the mirror.",
}
"""What to try when a finding comes again and again, by its rule."""


FOR_CLIENT: Mapping[str, str] = {
    "review-seldom": "there were too few sessions to judge by",
    "review-half": "some sessions were missed",
    "review-hard": "it was hard",
    "review-easy": "it was easy, and the form is looked at first",
    "review-form": "it was not felt in the right place yet",
    "review-silent": "you did not say how hard it was",
    "review-sore": "you were sore",
    "review-sore-stop": "you were sore",
    "review-tender": "you were a little sore",
    "review-overdone": "it was more than planned",
    "review-pain": "something hurt",
    "review-paused": "nothing was planned",
}
"""Why a program does not advance, as it is said to the client, by rule."""

_COMES: Mapping[str, str] = {
    Verdict.ADVANCE: "it goes on as planned",
    Verdict.HOLD: "the same once more",
    Verdict.EASE: "a week a little lighter",
    Verdict.STOP: "some exercises rest",
}


def to_client(decided: str, suggested: str, rule: str, words: str) -> str:
    """A review as the client reads it: what comes, why where the rules say so, and the coach's own words."""
    why = FOR_CLIENT.get(rule, "") if decided == suggested else ""
    told = f"Your coach looked at your week: {_COMES[decided]}{f', because {why}' if why and decided != Verdict.ADVANCE else ''}."
    return f"{told} “{words}”" if words else told


@dataclass(frozen=True, slots=True)
class Remark:
    """A remark of a review and the rule behind it."""

    rule: str
    text: str


def _left_out(lines: Sequence[LineFacts], cards: Mapping[str, Card], rules: ReviewRules) -> Iterator[Remark]:
    practised = [n for n in lines if n.sessions >= LEFT_OUT_SESSIONS]
    out = [n for n in practised if n.share < rules.hold_share - 1e-9]
    if not out:
        return
    told = join_words([f"{n.name} ({percent(n.share)} done)" for n in out])
    yield Remark("remark-left-out", text=f"Left out in {max(n.sessions for n in out)} practised sessions: {told}.")
    missing = {n.exercise_id for n in out}
    regions: dict[str, set[str]] = {}
    for n in practised:
        card = cards[n.exercise_id]
        if card.family.contracts:
            for region in card.home:
                regions.setdefault(region, set()).add(n.exercise_id)
    whole = sorted(region for region, own in regions.items() if own <= missing)
    if whole:
        yield Remark(
            "remark-left-out", text=f"Nothing that works the {join_words(whole)} was done. Ask why; it may hurt, or not be understood."
        )


def _rising(told: Iterable[tuple[date, int]], rules: ReviewRules) -> Iterator[Remark]:
    days = sorted(told)[-RISING_DAYS:]
    levels = [level for _, level in days]
    running = all(b[0] - a[0] <= timedelta(days=3) for a, b in itertools.pairwise(days))
    if len(levels) == RISING_DAYS and running and levels[0] < levels[1] < levels[2] <= rules.soreness_ease:
        yield Remark(
            "remark-rising", text=f"Soreness rises: {', '.join(map(str, levels))} of 10, up to {days[-1][0]:%A}. Ask before it is too much."
        )


def _form(facts: WeekFacts, lines: Sequence[LineFacts], cards: Mapping[str, Card]) -> Iterator[Remark]:
    if not facts.unfelt:
        return
    for n in lines:
        card = cards[n.exercise_id]
        if not card.family.contracts or not n.sessions:
            continue
        first = f" First again: {join_words([name for _, name in card.after])}." if card.after else ""
        yield Remark("remark-form", text=f"{card.name}: “{card.key_cue}” Felt at: {card.felt_at}{first}")


def stall(whole: Judgement, before: Sequence[str]) -> Remark | None:
    """What to try instead when a finding stands for the ``STALLED_WEEKS``th time; ``before`` has the rules of the reviews
    before, the newest first."""
    if whole.verdict == Verdict.ADVANCE or whole.rule not in INSTEAD:
        return None
    same = 0
    for rule in before:
        if rule != whole.rule:
            break
        same += 1
    if same + 1 < STALLED_WEEKS:
        return None
    return Remark("remark-stall", text=f"The same for the {_nth(same + 1)} week running. {INSTEAD[whole.rule]}")


def _nth(n: int) -> str:
    return {3: "third", 4: "fourth", 5: "fifth", 6: "sixth"}.get(n, f"{n}th")


def remarks(
    facts: WeekFacts, lines: Sequence[LineFacts], cards: Mapping[str, Card], whole: Judgement, before: Sequence[str], rules: ReviewRules
) -> tuple[Remark, ...]:
    """Everything that a review remarks. ``lines`` has every exercise of the week, ``before`` the rules of earlier reviews."""
    practised = any(d.state in (DayState.DONE, DayState.PARTLY) for d in facts.days)
    found: list[Remark] = []
    if (stalled := stall(whole, before)) is not None:
        found.append(stalled)
    found += _rising(facts.soreness, rules)
    if practised:
        found += _left_out(lines, cards, rules)
        found += _form(facts, lines, cards)
    return tuple(found)
