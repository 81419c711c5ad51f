"""Checks of what is known about the client: cautions, days, the school that the practice follows, what is told."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from dimbo.core.calendar.schedule import most_days
from dimbo.core.design.weeks import Compiled
from dimbo.core.exercises.approach import approach
from dimbo.core.programs.program import Program
from dimbo.core.safety.cautions import URGENT, Effect
from dimbo.core.text import join_words, list_weeks

from .base import Fix, Note, Way, Weight

USUAL_EXPECTATIONS = (
    "Give it two to four weeks before you look for a change, and eight to twelve for a real look. Everybody’s face is "
    "uneven; muscle tone may be trained, bone stays as it is. Some see no change. More than the plan does not get there sooner."
)
"""What a client is told when the coach has not written anything else. No date is promised."""

_WEIGHT = {Effect.LOCK: Weight.STOP, Effect.EASE: Weight.WATCH, Effect.REMIND: Weight.REMARK}
_VERB = {Effect.LOCK: "Locked", Effect.EASE: "Eased", Effect.REMIND: "Remember for"}


def _without(program: Program, ids: frozenset[str]) -> Program:
    """The program without some rows; circuits lose them too."""
    lines = tuple(n for n in program.lines if n.id not in ids)
    circuits = tuple(replace(k, lines=left) for k in program.circuits if (left := tuple(i for i in k.lines if i not in ids)))
    return replace(program, lines=lines, circuits=circuits)


MOST_NAMED = 4
"""So many open questions are named; of more, their number is enough."""


def unasked(c: Compiled) -> Iterator[Note]:
    """What must be known before anybody practises this: the sudden signs, every caution that reaches an exercise of the
    program, and the client's consent to practise. One note for all that is missing."""
    missing = c.about.cautions.missing(line.card for line in c.program.lines)
    if not missing and not c.about.not_agreed and not c.about.no_age:
        return
    said = []
    if missing:
        urgent = sum(r.group == URGENT for r in missing)
        others = [r.name.lower() for r in missing if r.group != URGENT]
        named = join_words(others) if len(others) <= MOST_NAMED else f"{len(others)} conditions that touch this program"
        told = join_words([t for t in (f"{urgent} sudden sign{'s' if urgent > 1 else ''}" if urgent else "", named) if t])
        said.append(f"Not asked yet: {told}.")
    if c.about.no_age:
        said.append("The year of birth is not known; under 16 nobody practises.")
    if c.about.not_agreed:
        said.append(f"Consent to practise with guidance: {c.about.not_agreed[:1].lower()}{c.about.not_agreed[1:]}")
    yield Note(
        rule="unasked",
        weight=Weight.STOP,
        text=" ".join(said),
        remedy="Answer with the client, or send them the questions.",
        ways=(Way.ANSWER_HEALTH, Way.SEND_QUESTIONS),
    )


def cautions(c: Compiled) -> Iterator[Note]:
    """What the client's cautions say of this program: one note for each caution and effect, with the exercises it
    reaches. A lock refuses assignment and cannot be silenced here."""
    for held in c.about.cautions.held:
        for effect in Effect:
            reached = [line for line in c.program.lines if c.about.cautions.effect_of(held, line.card) is effect]
            if not reached:
                continue
            names = list(dict.fromkeys(line.card.name for line in reached))
            who = join_words(names) if len(names) <= 4 else f"{len(names)} exercises"
            ids = frozenset(n.id for n in reached)
            out = "Take it out" if len(ids) == 1 else f"Take the {len(ids)} out"
            yield Note(
                rule=f"caution-{effect.value}",
                weight=_WEIGHT[effect],
                text=f"{held.reason} {_VERB[effect]}: {who}.",
                remedy=held.remedy
                if effect is Effect.LOCK
                else "The eased version is shown to the client."
                if effect is Effect.EASE
                else "",
                line=reached[0].id if len(reached) == 1 else None,
                weeks=(),
                fix=Fix(out, partial(_without, ids=ids)) if effect is Effect.LOCK else None,
            )


def withdrawn(c: Compiled) -> Iterator[Note]:
    """An exercise that is not practised any more."""
    for card in {n.card.id: n.card for n in c.program.lines if n.card.withdrawn}.values():
        ids = frozenset(n.id for n in c.program.lines if n.card.id == card.id)
        yield Note(
            rule="withdrawn",
            weight=Weight.STOP,
            text=f"{card.name} is withdrawn. {card.withdrawn}",
            remedy="Take it out; sessions leave it out meanwhile.",
            line=min(ids),
            weeks=(),
            fix=Fix("Take it out", partial(_without, ids=ids)),
        )


def school(c: Compiled) -> Iterator[Note]:
    """An exercise that the program's approach forbids."""
    own = approach(c.program.approach)
    for line in c.program.lines:
        if forbidden := own.forbids(line.card):
            yield Note(
                rule="school",
                weight=Weight.STOP,
                text=f"{line.card.name} {forbidden}; the approach “{own.name}” forbids it.",
                remedy=f"{own.why} Take it out, or choose another approach for this client.",
                line=line.id,
                weeks=(),
                fix=Fix("Take it out", partial(_without, ids=frozenset({line.id}))),
            )


def days(c: Compiled) -> Iterator[Note]:
    """More days a week than the client has."""
    has = len(c.about.weekdays)
    weeks = tuple(w.number for w in c.weeks if has and most_days(w.sessions) > has)
    if weeks:
        most = max(most_days(c.program.sessions[w - 1]) for w in weeks)
        yield Note(
            rule="days",
            weight=Weight.WATCH,
            text=f"{list_weeks(weeks).capitalize()}: {most} days a week, and the client has {has}.",
            remedy="Only the days that they have will be planned.",
            line=None,
            weeks=weeks,
            fix=Fix(f"At most {has} days", lambda program: replace(program, sessions=tuple(min(s, has) for s in program.sessions))),
        )


def expectations(c: Compiled) -> Iterator[Note]:
    """A program that says nothing about when a change can be looked for."""
    if not c.program.expectations.strip():
        yield Note(
            rule="expectations",
            weight=Weight.WATCH,
            text="The client is not told yet when a change can be looked for.",
            remedy="Write it under the title, without a promise.",
            line=None,
            weeks=(),
            fix=Fix("Use the usual words", lambda program: replace(program, expectations=USUAL_EXPECTATIONS)),
        )


def no_weeks(c: Compiled) -> Iterator[Note]:
    """Weeks in which nothing is practised."""
    weeks = tuple(w.number for w in c.weeks if not w.plans)
    if weeks and c.program.lines:
        yield Note(
            rule="empty-week",
            weight=Weight.STOP,
            text=f"{list_weeks(weeks).capitalize()}: nothing to practise.",
            remedy="Fill the cells, or take the weeks off.",
            line=None,
            weeks=weeks,
        )
