"""From a concern to its likely cause: answers weigh causes, and every step of it can be read.

The weights are the practice's own table. They are a way to write down experience, not a probability, and the coach
has the last word.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

CLEAR_LEAD = 2
"""A cause that leads by this much is called likely; by less, the page says that it is open between two."""


@dataclass(frozen=True, slots=True)
class Question:
    """A question that tells causes apart. ``source`` names the caution, side test or topic that can answer it."""

    id: str
    ask: str
    source: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """A cause with what speaks for it and what then helps.

    ``usual`` is its weight before anything is asked; ``evidence`` maps question and answer to a weight.
    """

    id: str
    name: str
    usual: int
    evidence: Mapping[str, Mapping[str, int]]
    because: str
    helps: str
    families: tuple[str, ...]
    muscles: tuple[str, ...]
    avoid: str
    habits: tuple[str, ...] = ()
    few: str = ""
    """Why no more than one or two families help, where they are so few."""
    evening: bool = False
    """Whether what is soft belongs to the evening."""
    task: str = ""
    """The habit (id of an exercise) that the first of its habits in words stands for; empty where none does."""
    busy_side: bool = False
    """Whether one side is busier, and gets more of what lets go."""

    def weight(self, question: str, answer: str) -> int:
        return self.evidence.get(question, {}).get(answer, 0)


@dataclass(frozen=True, slots=True)
class Reasoning:
    """The table's entry for one concern."""

    concern: str
    questions: tuple[Question, ...]
    causes: tuple[Cause, ...]


@dataclass(frozen=True, slots=True)
class Weighed:
    """A cause with its score and the line of reasoning that led there."""

    cause: Cause
    score: int
    steps: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Suggestion:
    """Causes by weight. ``clear`` tells whether the first leads clearly; ``ask_next`` is the open question that would
    tell the leading causes apart best."""

    concern: str
    ranked: tuple[Weighed, ...]
    clear: bool
    ask_next: Question | None
    summary: str

    @property
    def first(self) -> Weighed:
        return self.ranked[0]


def _signed(weight: int) -> str:
    return f"+{weight}" if weight > 0 else f"−{-weight}"


def _weigh(entry: Reasoning, cause: Cause, answers: Mapping[str, str], derived: frozenset[str]) -> Weighed:
    steps = [f"Usual weight {cause.usual}." if cause.usual >= 0 else f"Usual weight −{-cause.usual}."]
    score = cause.usual
    for q in entry.questions:
        given = answers.get(q.id)
        weight = cause.weight(q.id, answer=given) if given else 0
        if weight:
            score += weight
            by = ", from elsewhere in the intake" if q.id in derived else ""
            steps.append(f"{q.ask} {str(given).capitalize()}{by}: {_signed(weight)}.")
    return Weighed(cause, score, tuple(steps))


def _spread(question: Question, first: Cause, second: Cause) -> int:
    """How far the answers to a question would move two causes apart."""
    gaps = [first.weight(question.id, answer=a) - second.weight(question.id, answer=a) for a in ("yes", "no")]
    return max(gaps) - min(gaps)


def suggest(entry: Reasoning, answers: Mapping[str, str], derived: frozenset[str] = frozenset()) -> Suggestion:
    """Weigh the causes of a concern. ``derived`` names the questions that were answered elsewhere; ties keep the table's order."""
    ranked = tuple(sorted((_weigh(entry, c, answers, derived) for c in entry.causes), key=lambda w: -w.score))
    first, second = ranked[0], ranked[1] if len(ranked) > 1 else None
    clear = second is None or first.score - second.score >= CLEAR_LEAD
    unanswered = [q for q in entry.questions if answers.get(q.id) in (None, "unsure")]
    ask_next = None
    if unanswered:
        rival = (
            second.cause if second else Cause(id="", name="", usual=0, evidence={}, because="", helps="", families=(), muscles=(), avoid="")
        )
        best = max(unanswered, key=lambda q: _spread(q, first.cause, second=rival))
        ask_next = best if _spread(best, first.cause, second=rival) > 0 else None
        if any(q.id not in answers for q in unanswered) and best.id in answers:
            ask_next = next((q for q in unanswered if q.id not in answers and _spread(q, first.cause, second=rival) > 0), None)
    if clear:
        summary = f"Probably {first.cause.name}."
    else:
        assert second
        summary = f"Open between {first.cause.name} and {second.cause.name}."
    return Suggestion(concern=entry.concern, ranked=ranked, clear=clear, ask_next=ask_next, summary=summary)
