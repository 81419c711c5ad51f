"""Checks of what must come before and after hands: oil under what slides, the neck before the face, a drain behind what moved fluid."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from dimbo.core.anatomy import Family, Side, Stage
from dimbo.core.design.weeks import Compiled
from dimbo.core.exercises.card import Card
from dimbo.core.programs.program import Line, When
from dimbo.core.safety.cautions import Effect
from dimbo.core.text import clock

from .base import Fix, Note, Weight
from .session import _at, with_card

MOVES_FLUID_S = 150.0
"""Hands-on time of release in the face of one session, on its busier side, from which a drain belongs behind it, in seconds."""
MANY = 3
"""So many rows that loosen the face want something for neck or shoulders before them."""
BELOW = frozenset({"neck", "front of neck", "shoulder"})


def _of(c: Compiled, part: When) -> list[Line]:
    return [n for n in c.program.lines if part in n.when.parts and n.stage is not Stage.DAY]


def in_face(card: Card) -> bool:
    """Whether an exercise works in the face: its muscles lie there, or all that it touches does."""
    return not (card.home or card.regions) & (BELOW | {"scalp", "ear"})


def _free(c: Compiled, *ids: str) -> Card | None:
    """The first of these exercises that the client may do."""
    cards = (c.about.cards[i] for i in ids if i in c.about.cards)
    return next((k for k in cards if c.about.cautions.of(k).effect is not Effect.LOCK), None)


def oil_missing(c: Compiled) -> Iterator[Note]:
    """Something that slides over the skin under pressure, dry: nothing with oil came before it, or it was washed off."""
    for part in c.program.parts:
        oiled = False
        for line in _of(c, part):
            card = line.card
            oiled = card.oily or (oiled and not card.wants_clean_hands)
            if card.slides and not oiled:
                yield Note(
                    rule="oil-missing",
                    weight=Weight.WATCH,
                    text=f"{card.name}{_at(c, part)} slides over dry skin.",
                    remedy="Put it behind something with oil, or name oil among what it needs; dry skin is dragged.",
                    line=line.id,
                )


def undrained(c: Compiled) -> Iterator[Note]:
    """Minutes of kneading and stroking in the face, and no drain afterwards."""
    for part in c.program.parts:
        own = _of(c, part)
        drains = [n for n in own if n.card.family is Family.DRAIN]
        seconds = {
            side: max(
                (
                    sum(
                        c.items[n.id][week.number].hands_on(c.settings.pace_s).of(side)
                        for n in own
                        if n.card.family is Family.RELEASE and in_face(n.card) and week.number in c.items[n.id]
                    )
                    for week in c.weeks
                ),
                default=0.0,
            )
            for side in Side
        }
        longest = max(seconds.values())
        if drains or longest < MOVES_FLUID_S:
            continue
        card = _free(c, "neck-side-drain", "cheek-drain")
        yield Note(
            rule="undrained",
            weight=Weight.REMARK,
            text=f"{clock(longest)} of release{_at(c, part)} move fluid in the face, and no drain closes it.",
            remedy="End it down the side of the neck.",
            fix=Fix(f"Add {card.name}", partial(with_card, card=card, settings=c.settings, when=part)) if card else None,
        )


def neck_first(c: Compiled) -> Iterator[Note]:
    """A face that is loosened while neck and shoulders are not."""
    for part in c.program.parts:
        loosened: list[Line] = []
        for line in _of(c, part):
            if line.card.regions & BELOW:
                break
            if line.card.family is Family.RELEASE and line.stage is Stage.LOOSEN and in_face(line.card):
                loosened.append(line)
        if len(loosened) < MANY:
            continue
        card = _free(c, "elbow-wheels", "shoulder-knead", "tall-seat")
        yield Note(
            rule="neck-first",
            weight=Weight.REMARK,
            text=f"{loosened[0].card.name} and {len(loosened) - 1} more{_at(c, part)} loosen the face; "
            "neck and shoulders were not loosened before.",
            remedy="Begin below: what hangs on a tight neck does not stay loose.",
            line=loosened[0].id,
            fix=Fix(f"Add {card.name}", partial(with_card, card=card, settings=c.settings, when=part)) if card else None,
        )
