"""What the catalogue as a whole must offer: every muscle trained and released, every concern reachable and contradicted by nothing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from dimbo.core.anatomy import Family, Muscle
from dimbo.core.exercises.card import Card
from dimbo.core.intake.conclusions import Concern

TRAINS = frozenset({Family.CONTRACT, Family.RESIST, Family.ALIGN, Family.MOBILISE})
RELEASES = frozenset({Family.RELEASE, Family.PRESS, Family.STRETCH})


def gaps(muscles: Mapping[str, Muscle], concerns: Mapping[str, Concern], cards: Iterable[Card]) -> list[str]:
    """What is missing, each as a sentence; empty when the catalogue is whole."""
    trained: set[str] = set()
    released: set[str] = set()
    reached: set[str] = set()
    contradicted: list[str] = []
    for card in cards:
        reached.update(card.concerns)
        against = [concerns[c].name.lower() for c in card.concerns if concerns[c].contradicted_by(card)]
        contradicted += [f"{card.name} strengthens what works against {name}" for name in against]
        if card.family in TRAINS:
            trained.update(card.shares)
        if card.family in RELEASES:
            released.update(card.shares)
    return (
        [f"no exercise trains {m.name}" for m in muscles.values() if m.id not in trained]
        + [f"no exercise releases {m.name}" for m in muscles.values() if m.id not in released]
        + [f"no exercise helps with {c.name.lower()}" for c in concerns.values() if c.id not in reached]
        + contradicted
    )
