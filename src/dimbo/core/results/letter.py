"""A progress letter, composed from records: what was done, what the photographs show, and what the letter does not say.

The coach writes own words; what was counted and measured is said by the core and cannot be edited.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from dimbo.core.review.adherence import Adherence
from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.core.text import join_words, long_date

from .plain_words import NO_CHANGE
from .practised import Practised


class Told(StrEnum):
    """Who says a passage: the records, the coach, or every letter alike."""

    RECORDS = "records"
    COACH = "coach"
    ALWAYS = "always"


@dataclass(frozen=True, kw_only=True)
class Placed:
    """A photograph by its id, with its size in pixels and the points by which it is laid level and to the size of another."""

    id: str
    width: int
    height: int
    flipped: bool
    points: Mapping[str, tuple[float, float]]


@dataclass(frozen=True, kw_only=True)
class PairSaid:
    """Two photographs of a view with what they say."""

    view: str
    before: Placed
    after: Placed
    days: tuple[date, date]
    sentences: tuple[str, ...]
    alike: str


@dataclass(frozen=True, kw_only=True)
class Passage:
    heading: str
    told: Told
    paragraphs: tuple[str, ...]
    pairs: tuple[PairSaid, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Words:
    """What the coach writes."""

    opening: str = ""
    adds: str = ""
    next_steps: str = ""
    addressee: str = ""
    """Of a letter to a clinician."""


@dataclass(frozen=True, kw_only=True)
class Done:
    """What was done in the period of a letter."""

    practised: Practised
    sessions: Adherence
    effort: float | None
    """Middle of the effort that was told, of 10."""
    soreness: int | None
    """Highest soreness that was told, of 10."""
    eased: tuple[tuple[date, str, str], ...]
    """Weeks that were eased back or stopped: their first day, what was decided, and why."""
    pains: tuple[str, ...]
    """What hurt, in sentences."""


@dataclass(frozen=True, kw_only=True)
class Facts:
    """Everything that a letter is composed of. ``compared`` says whether any sittings were held against each other at all."""

    client: str
    coach: str
    practice: str
    written: date
    first: date
    last: date
    programs: tuple[str, ...]
    done: Done
    pairs: tuple[PairSaid, ...]
    not_comparable: tuple[str, ...]
    """Why sittings of the period cannot be compared."""
    ratings: tuple[str, ...]
    follows: str = ""
    """Title of the program that follows; empty when none does yet."""


@dataclass(frozen=True, kw_only=True)
class Letter:
    title: str
    greeting: str
    passages: tuple[Passage, ...]
    signed: str
    practice: str
    written: date


NOT_SAID = (
    "This letter is no diagnosis and promises nothing. A change is named only where it is larger than taking the photographs again would "
    "explain; what practice did and what time did cannot be told apart in one person."
)


def _minutes(seconds: float) -> str:
    whole = round(seconds / 60)
    return "1 minute" if whole == 1 else f"{whole} minutes"


def _number(value: float) -> str:
    return f"{value:.0f}" if value == round(value) else f"{value:.1f}"


def done_words(done: Done) -> tuple[str, ...]:
    """What was done, how it felt, and what was eased, in sentences to the client."""
    p, out = done.practised, []
    if not p.sessions:
        return ("In this time no session was practised.",)
    sessions = "one session" if p.sessions == 1 else f"{p.sessions} sessions"
    days = "one day" if p.days == 1 else f"{p.days} days"
    planned = f" Of {done.sessions.planned} planned days you did {_number(done.sessions.done)}." if done.sessions.planned else ""
    out.append(f"You practised {sessions} on {days}, {_minutes(p.done_s)} in all.{planned}")
    if p.right_s + p.left_s > 0:
        out.append(f"Muscles were tightened for {_minutes(p.right_s)} on your right side and {_minutes(p.left_s)} on your left.")
    felt = []
    if done.effort is not None:
        felt.append(f"effort was mostly {_number(done.effort)} of 10")
    if done.soreness is not None:
        felt.append(f"soreness {done.soreness} of 10 at most" if done.soreness else "no soreness was told")
    if felt:
        out.append(f"As you told it, {join_words(felt)}.")
    out += [f"In the week of {long_date(day)} it was {what}{f': {why}' if why else '.'}" for day, what, why in done.eased]
    return (*out, *done.pains)


def photograph_words(facts: Facts) -> tuple[str, ...]:
    """What is said besides the pairs: that none can be compared, or that none are chosen."""
    if facts.pairs:
        changed = [s for p in facts.pairs for s in p.sentences if NO_CHANGE not in s and "cannot be held against" not in s]
        return (
            ()
            if changed
            else (
                "The photographs show no change beyond what taking them again would explain. That is a real answer, and the usual one "
                "in the first weeks.",
            )
        )
    if facts.not_comparable:
        return tuple(
            f"The photographs of this time cannot be held against each other. {why}" for why in dict.fromkeys(facts.not_comparable)
        )
    return ("There are no photographs of two days in this time, so this letter says nothing of what can be seen.",)


def report(facts: Facts, words: Words) -> Letter:
    """A progress letter to the client."""
    period = f"{long_date(facts.first)} to {long_date(facts.last)}"
    passages = [
        Passage(heading="", told=Told.COACH, paragraphs=_paragraphs(words.opening)),
        Passage(
            heading="What you did",
            told=Told.RECORDS,
            paragraphs=(
                *((f"From {period} you followed {join_words([f'“{t}”' for t in facts.programs])}.",) if facts.programs else ()),
                *done_words(facts.done),
            ),
        ),
        Passage(heading="What the photographs show", told=Told.RECORDS, paragraphs=photograph_words(facts), pairs=facts.pairs),
        Passage(heading="Rated without knowing before and after", told=Told.RECORDS, paragraphs=facts.ratings),
        Passage(heading="From me", told=Told.COACH, paragraphs=_paragraphs(words.adds)),
        Passage(
            heading="What comes next",
            told=Told.COACH,
            paragraphs=(*_paragraphs(words.next_steps), *((f"Your next program is “{facts.follows}”.",) if facts.follows else ())),
        ),
        Passage(heading="What this letter does not say", told=Told.ALWAYS, paragraphs=(NOT_SAID, STANDING_LINE)),
    ]
    return Letter(
        title=f"Your practice, {period}",
        greeting=f"Dear {facts.client.split()[0]},",
        passages=tuple(p for p in passages if p.paragraphs or p.pairs),
        signed=facts.coach,
        practice=facts.practice,
        written=facts.written,
    )


@dataclass(frozen=True, kw_only=True)
class Observed:
    """What was told or seen, with its day: no interpretation."""

    day: date
    text: str


def to_clinician(facts: Facts, words: Words, observed: Sequence[Observed], *, held: Sequence[str], born: int | None) -> Letter:
    """A letter to a clinician: what was observed and when, what was practised, what is locked until there is a word."""
    p = facts.done.practised
    told = tuple(f"{long_date(o.day)}: {o.text}" for o in sorted(observed, key=lambda o: o.day))
    work = f"{p.sessions} sessions of facial exercise on {p.days} days, {_minutes(p.done_s)} in all, between the first and the last day."
    period = f"{long_date(facts.first)} to {long_date(facts.last)}"
    about = f"{facts.client}{f', born in {born}' if born else ''}"
    passages = [
        Passage(heading="", told=Told.RECORDS, paragraphs=(f"This is about {about}, who practises facial exercises with my guidance.",)),
        Passage(heading="", told=Told.COACH, paragraphs=_paragraphs(words.opening)),
        Passage(heading="What was told or seen", told=Told.RECORDS, paragraphs=told or ("Nothing is on record.",)),
        Passage(heading="What was practised", told=Told.RECORDS, paragraphs=(f"{period}: {work}",)),
        Passage(heading="What waits for your word", told=Told.RECORDS, paragraphs=tuple(held)),
        Passage(heading="From me", told=Told.COACH, paragraphs=_paragraphs(words.adds)),
        Passage(
            heading="What this letter does not say",
            told=Told.ALWAYS,
            paragraphs=("I am a coach and neither diagnose nor treat. The above is what was told or seen, without interpretation.",),
        ),
    ]
    return Letter(
        title=f"About {about}",
        greeting=words.addressee.strip() or "To whom it may concern,",
        passages=tuple(p for p in passages if p.paragraphs),
        signed=facts.coach,
        practice=facts.practice,
        written=facts.written,
    )


def _paragraphs(text: str) -> tuple[str, ...]:
    return tuple(p.strip() for p in text.split("\n") if p.strip())
