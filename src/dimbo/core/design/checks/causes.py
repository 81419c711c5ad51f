"""Checks of what a row does against what its concern comes from: the same look has causes that need opposite work."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from dimbo.core.anatomy import Family
from dimbo.core.design.weeks import Compiled
from dimbo.core.exercises.approach import Approach, approach
from dimbo.core.exercises.card import MARK_WORDS, Card
from dimbo.core.intake.conclusions import ConcernView
from dimbo.core.programs.program import Line
from dimbo.core.text import join_words

from .base import Fix, Note, Weight
from .client import _without

DRAINING_HELPS_NOT = "What is weak wants work, and draining gives it none."
STRENGTH = frozenset({Family.CONTRACT, Family.RESIST})


def families_of(view: ConcernView) -> frozenset[Family]:
    """The families that help where the concern comes from its cause."""
    return frozenset(Family(f) for f in view.cause.families) - {Family.HABIT}


def is_fluid(view: ConcernView) -> bool:
    """Whether a concern comes from fluid: drainage helps, and strength does not."""
    own = families_of(view)
    return Family.DRAIN in own and not own & STRENGTH


def against(view: ConcernView, card: Card, school: Approach) -> str:
    """Why an exercise works against a concern that comes from its cause, as a sentence; empty when it does not. Draining what is weak
    is left to a school that drains everybody."""
    if view.concern.id in card.concerns or set(card.prime_movers) & set(view.concern.muscles):
        forbidden = sorted(card.marks & set(view.concern.never_marks))
        if forbidden:
            return f"{join_words([MARK_WORDS[m] for m in forbidden])} would deepen it.".capitalize()
    if view.concern.id not in card.concerns:
        return ""
    own = families_of(view)
    if is_fluid(view) and card.family in STRENGTH:
        return "Fluid is led away and not trained away."
    leads = card.family is Family.DRAIN and "neck" not in card.regions
    if leads and own & STRENGTH and Family.DRAIN not in own and Family.DRAIN not in school.first:
        return DRAINING_HELPS_NOT
    return ""


def _wanted(c: Compiled, card: Card, school: Approach) -> bool:
    """Whether another concern of the client asks for the exercise."""
    return any(card.family in families_of(v) and v.concern.id in card.concerns and not against(v, card, school) for v in c.about.concerns)


def against_cause(c: Compiled) -> Iterator[Note]:
    """Rows that work against the cause of a concern, and that no other concern asks for."""
    school = approach(c.program.approach)
    for view in c.about.concerns:
        if not view.rating.worst:
            continue
        why: dict[str, list[Line]] = {}
        for line in c.program.lines:
            said = against(view, line.card, school)
            if said and not _wanted(c, line.card, school):
                why.setdefault(said, []).append(line)
        for said, lines in why.items():
            ids = frozenset(n.id for n in lines)
            names = join_words(list(dict.fromkeys(n.card.name for n in lines)))
            yield Note(
                rule="against-cause",
                weight=Weight.REMARK if said is DRAINING_HELPS_NOT else Weight.WATCH,
                text=f"{names}: {view.concern.name[0].lower()}{view.concern.name[1:]} comes from {view.cause.name}. {said}",
                remedy=view.cause.helps,
                line=lines[0].id if len(lines) == 1 else None,
                fix=Fix("Take it out" if len(ids) == 1 else f"Take the {len(ids)} out", partial(_without, ids=ids)),
            )
