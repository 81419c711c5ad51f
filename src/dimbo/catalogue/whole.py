"""What the catalogue as a whole must offer: every muscle trained and released, every concern reachable by several families and contradicted
by nothing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping

from dimbo.core.anatomy import Family, Muscle
from dimbo.core.exercises.card import Card
from dimbo.core.intake.conclusions import Concern
from dimbo.core.text import join_words

TRAINS = frozenset({Family.CONTRACT, Family.RESIST, Family.ALIGN, Family.MOBILISE})
RELEASES = frozenset({Family.RELEASE, Family.PRESS, Family.STRETCH})


LEAST = 2
"""Exercises that each muscle is trained by, and released by."""
FAMILIES = 3
"""Families of exercises by which each concern can be reached."""


def _few(count: int) -> str:
    return "only one exercise" if count else "no exercise"


def gaps(muscles: Mapping[str, Muscle], concerns: Mapping[str, Concern], cards: Iterable[Card]) -> list[str]:
    """What is missing, each as a sentence; empty when the catalogue is whole."""
    trained: Counter[str] = Counter()
    released: Counter[str] = Counter()
    reached: dict[str, set[Family]] = {}
    contradicted: list[str] = []
    for card in cards:
        for concern in card.concerns:
            reached.setdefault(concern, set()).add(card.family)
        against = [concerns[c].name.lower() for c in card.concerns if concerns[c].contradicted_by(card)]
        contradicted += [f"{card.name} strengthens what works against {name}" for name in against]
        if card.family in TRAINS:
            trained.update(card.shares.keys())
        if card.family in RELEASES:
            released.update(card.shares.keys())
    return (
        [f"{_few(trained[m.id])} trains {m.name}" for m in muscles.values() if trained[m.id] < LEAST]
        + [f"{_few(released[m.id])} releases {m.name}" for m in muscles.values() if released[m.id] < LEAST]
        + [f"no exercise helps with {c.name.lower()}" for c in concerns.values() if c.id not in reached]
        + [
            f"{c.name.lower()} is helped by {join_words(sorted(reached[c.id]))} alone"
            for c in concerns.values()
            if 0 < len(reached.get(c.id, ())) < FAMILIES
        ]
        + contradicted
    )
