"""Exercises that a practice may use: those that ship and its own; and the cards that assignments were made with."""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from functools import lru_cache
from typing import Any
from uuid import UUID

from pydantic import ValidationError

from dimbo.catalogue import dangling, make_card, shipped_catalogue, unsound
from dimbo.catalogue.schema import ExerciseEntry
from dimbo.core.anatomy import Family
from dimbo.core.exercises.card import MARK_WORDS, PRESSURES, Card
from dimbo.core.exercises.touch_words import Untold, untold
from dimbo.core.text import join_words
from dimbo.store import exercises
from dimbo.store.database import Conn, Database
from dimbo.store.people.accounts import Person
from dimbo.store.plans.assignments import Assignment
from dimbo.work.shared.errors import Refused, Why

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
    stamps = exercises.stamps(conn)
    if not stamps:
        return Shelf(shipped(), frozenset())
    if any((practice_id, i, v) not in _made for i, v, _ in stamps):
        rows = exercises.every(conn)
        names = {i: c.name for i, c in shipped().items()} | {r.id: str(r.entry["name"]) for r in rows}
        for r in rows:
            _made.setdefault((practice_id, r.id, r.version), _card(r.entry, r.family, names, r.version, True))
    own = {i: _made[practice_id, i, v] for i, v, _ in stamps}
    return Shelf({**shipped(), **own}, frozenset(i for i, _, retired in stamps if retired))


def written(conn: Conn, exercise_id: str) -> tuple[str, dict[str, Any]]:
    """Family and entry of an exercise, shipped or own. Raises NotThere."""
    known = shipped_catalogue().entries.get(exercise_id)
    if known:
        return known[0].value, known[1].model_dump(mode="json", by_alias=True)
    row = exercises.one(conn, exercise_id)
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
    exercises.keep_cards(conn, practice_id, [(hashes[i], *texts[i]) for i in texts])
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
        texts = exercises.kept_cards(conn, unread.values())
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


def _listed(more: Untold) -> tuple[str, str]:
    """A sentence about words that say more than the exercise lists, and the field to correct."""
    said = f"“{more.sentence}”"
    if more.mark:
        return f"{said} moves the head or holds the breath. Choose “{MARK_WORDS[more.mark]}”, so that cautions can hold it.", "marks"
    where = join_words(sorted(more.regions), "or")
    return f"{said} lays a hand there. Choose {where} among the regions that it reaches, so that cautions can hold it.", "regions"


def _checked(document: Mapping[str, Any], exercise_id: str, family: str, cards: Mapping[str, Card]) -> dict[str, Any]:
    """An entry that can be used. Raises Refused that names field and remedy."""
    try:
        known_family = Family(family)
    except ValueError as error:
        raise Refused(Why.UNKNOWN, f"There is no family “{family}”. Choose from {', '.join(Family)}.", "family") from error
    try:
        entry = ExerciseEntry.model_validate({**document, "id": exercise_id})
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise Refused(Why.UNREADABLE, f"{where or 'The exercise'}: {first['msg'].removeprefix('Value error, ')}.", where or None) from error
    catalogue = shipped_catalogue()
    if missing := dangling(entry, catalogue.muscles, catalogue.concerns, cards):
        raise Refused(Why.UNREADABLE, f"{missing[0]}: {missing[2]}.", missing[0])
    if exercise_id in entry.after:
        raise Refused(Why.CLASH, "after: an exercise cannot build on itself.", "after")
    card = make_card(entry, known_family, {}, catalogue.muscles, own=True)
    for version in (card, card.easier):
        if version is not None and (more := untold(version.cues, version.regions, marks=version.marks)):
            raise Refused(Why.UNREADABLE, *_listed(more))
    if wrong := unsound(card):
        raise Refused(Why.UNREADABLE, f"{wrong[0]}: {wrong[1]}.", wrong[0])
    return entry.model_dump(mode="json", by_alias=True)


def new_id(name: str) -> str:
    """An id made of a name, such as own-slow-lift."""
    words = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:46]
    if not words:
        raise Refused(Why.NEEDED, "Give the exercise a name with letters in it.", "name")
    return f"own-{words}"


def create(db: Database, coach: Person, family: str, document: Mapping[str, Any]) -> str:
    """A new exercise of the practice's own; returns its id. Raises Refused, Conflict."""
    exercise_id = new_id(str(document.get("name", "")))
    with db.of(coach) as conn:
        entry = _checked(document, exercise_id, family=family, cards=shelf(conn, coach.practice_id).cards)
        exercises.create(conn, coach.practice_id, exercise_id, family=family, entry=entry, by=coach.name)
    return exercise_id


def save(db: Database, coach: Person, exercise_id: str, base_version: int, family: str, document: Mapping[str, Any]) -> int:
    """A new version; running programs keep the card that they were assigned with. Raises Refused, Conflict, NotThere."""
    with db.of(coach) as conn:
        exercises.one(conn, exercise_id)
        entry = _checked(document, exercise_id, family=family, cards=shelf(conn, coach.practice_id).cards)
        return exercises.save(conn, exercise_id, base_version, family, entry=entry, by=coach.name)


def retire(db: Database, coach: Person, exercise_id: str, retired: bool) -> None:
    """Take an own exercise out of the choice, or back in; programs that have it keep it. Raises NotThere."""
    with db.of(coach) as conn:
        exercises.retire(conn, exercise_id, retired)


@dataclass(frozen=True, kw_only=True)
class Written:
    """An exercise as it is written, to copy or to edit. ``saved_by`` is None for one that ships."""

    id: str
    family: str
    entry: dict[str, Any]
    version: int
    retired_at: datetime | None
    saved_by: str | None


def read(db: Database, coach: Person, exercise_id: str) -> Written:
    """Raises NotThere."""
    with db.of(coach) as conn:
        if exercise_id in shipped():
            family, entry = written(conn, exercise_id)
            return Written(id=exercise_id, family=family, entry=entry, version=1, retired_at=None, saved_by=None)
        row = exercises.one(conn, exercise_id)
    return Written(id=row.id, family=row.family, entry=row.entry, version=row.version, retired_at=row.retired_at, saved_by=row.saved_by)


def every(db: Database, coach: Person) -> Shelf:
    """All exercises of the practice."""
    with db.of(coach) as conn:
        return shelf(conn, coach.practice_id)
