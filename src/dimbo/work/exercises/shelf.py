"""The exercises that a practice may use, those that ship and its own; and the cards that assignments were made with."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any
from uuid import UUID

from dimbo.catalogue import make_card, shipped_catalogue
from dimbo.catalogue.schema import ExerciseEntry
from dimbo.core.anatomy import Family
from dimbo.core.exercises.card import PRESSURES, Card
from dimbo.store.database import Conn, Database
from dimbo.store.exercises import own as own_store
from dimbo.store.people.accounts import Person
from dimbo.store.plans.assignments import Assignment

_made: dict[tuple[UUID, str, int], Card] = {}
"""Own cards by practice, id and version, so that the doses read against one are remembered."""


def shipped() -> Mapping[str, Card]:
    return shipped_catalogue().cards


def _card(entry: Mapping[str, Any], family: str, names: Mapping[str, str], version: int, own: bool) -> Card:
    return make_card(ExerciseEntry.model_validate(entry), Family(family), names, shipped_catalogue().muscles, version=version, own=own)


@dataclass(frozen=True)
class Shelf:
    """The exercises of a practice: all of them by id, and which are retired; these and what is withdrawn is not offered."""

    cards: Mapping[str, Card]
    retired: frozenset[str]

    @property
    def offered(self) -> dict[str, Card]:
        return {i: c for i, c in self.cards.items() if i not in self.retired and not c.withdrawn}


def shelf(conn: Conn, practice_id: UUID) -> Shelf:
    """Everything that the practice's programs may hold. Own cards are read once in each version."""
    stamps = own_store.stamps(conn)
    if not stamps:
        return Shelf(shipped(), frozenset())
    if any((practice_id, i, v) not in _made for i, v, _ in stamps):
        rows = own_store.every(conn)
        names = {i: c.name for i, c in shipped().items()} | {r.id: str(r.entry["name"]) for r in rows}
        for r in rows:
            _made.setdefault((practice_id, r.id, r.version), _card(r.entry, r.family, names, r.version, True))
    mine = {i: _made[practice_id, i, v] for i, v, _ in stamps}
    return Shelf({**shipped(), **mine}, frozenset(i for i, _, retired in stamps if retired))


def written(conn: Conn, exercise_id: str) -> tuple[str, dict[str, Any]]:
    """Family and entry of an exercise, shipped or own. Raises NotThere."""
    known = shipped_catalogue().entries.get(exercise_id)
    if known:
        return known[0].value, known[1].model_dump(mode="json", by_alias=True)
    row = own_store.one(conn, exercise_id)
    return row.family, row.entry


def _hash(family: str, entry: Mapping[str, Any]) -> str:
    return hashlib.sha256(json.dumps([family, entry], sort_keys=True).encode()).hexdigest()[:32]


@lru_cache(maxsize=1)
def _shipped_hashes() -> Mapping[str, str]:
    return {i: _hash(f.value, e.model_dump(mode="json", by_alias=True)) for i, (f, e) in shipped_catalogue().entries.items()}


def keep_for_assignment(conn: Conn, practice_id: UUID, used: Iterable[str]) -> dict[str, str]:
    """Keep the cards that an assignment is made with; returns the hash of each."""
    texts = {i: written(conn, i) for i in dict.fromkeys(used)}
    hashes = {i: _hash(family, entry) for i, (family, entry) in texts.items()}
    own_store.keep_cards(conn, practice_id, [(hashes[i], *texts[i]) for i in texts])
    return hashes


_kept: dict[str, Card] = {}
"""Cards of assignments by hash; the text of a hash never changes."""


def cards_of(conn: Conn, practice_id: UUID, assignment: Assignment) -> Mapping[str, Card]:
    """The cards that an assignment was made with; today's, for assignments from before cards were kept."""
    if not assignment.cards:
        return shipped()
    now = _shipped_hashes()
    other = {i: h for i, h in assignment.cards.items() if now.get(i) != h}
    unread = {i: h for i, h in other.items() if h not in _kept}
    if unread:
        names = {i: c.name for i, c in shipped().items()}
        texts = own_store.kept_cards(conn, unread.values())
        for exercise_id, h in unread.items():
            family, entry = texts[h]
            kept = _card(entry, family, names, 1, exercise_id not in now)
            _kept[h] = _as_known_now(kept, exercise_id)
    return {i: _kept[h] if i in other else shipped()[i] for i, h in assignment.cards.items()}


def _as_known_now(kept: Card, exercise_id: str) -> Card:
    """A card as it was assigned, with what has become known of its risks since: today's regions, touches and marks besides
    its own, the lower ceiling, an eased version where it had none; withdrawn, where that text is not practised any more."""
    found = shipped_catalogue().entries.get(exercise_id)
    if found is None:
        return kept
    today, entry = shipped()[exercise_id], found[1]
    ceiling = min(kept.ceiling, today.ceiling, key=lambda c: c.seconds) if kept.ceiling.basis == today.ceiling.basis else kept.ceiling
    return replace(
        kept,
        regions=kept.regions | today.regions,
        touches=kept.touches | today.touches,
        marks=kept.marks | today.marks,
        pressure=max(kept.pressure, today.pressure, key=PRESSURES.index),
        ceiling=ceiling,
        easier=kept.easier or today.easier,
        withdrawn=today.withdrawn or entry.rewritten or "",
    )


def every(db: Database, coach: Person) -> Shelf:
    """All exercises of the practice."""
    with db.of(coach) as conn:
        return shelf(conn, coach.practice_id)
