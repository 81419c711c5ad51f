"""A practice's own exercises: written, checked, saved in versions, retired."""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import ValidationError
from pydantic_core import ErrorDetails

from dimbo.catalogue import dangling, make_card, shipped_catalogue, unsound
from dimbo.catalogue.schema import ExerciseEntry, FigureEntry
from dimbo.core.anatomy import Family
from dimbo.core.exercises.card import MARK_WORDS, Card
from dimbo.core.exercises.figure import Figure
from dimbo.core.exercises.touch_words import Untold, untold
from dimbo.core.text import join_words
from dimbo.store.database import Conn, Database
from dimbo.store.exercises import media, own
from dimbo.store.people.accounts import Person
from dimbo.work.shared.errors import Refused, Why

from .shelf import shelf, shipped, written

NEW = "new"
"""Stands for an exercise that is not written yet, where one is asked for by its id."""


@dataclass(frozen=True, kw_only=True)
class Fault:
    """What cannot be used in an exercise as it is written: the field, and a sentence that says what to do."""

    field: str
    words: str
    why: Why = Why.UNREADABLE


def _listed(more: Untold) -> tuple[str, str]:
    """A sentence about words that say more than the exercise lists, and the field to correct."""
    said = f"“{more.sentence}”"
    if more.mark:
        return f"{said} moves the head or holds the breath. Choose “{MARK_WORDS[more.mark]}”, so that cautions can hold it.", "marks"
    where = join_words(sorted(more.regions), "or")
    return f"{said} lays a hand there. Choose {where} among the regions that it reaches, so that cautions can hold it.", "regions"


def _said(error: ErrorDetails) -> str:
    """What the schema has against a field, in words."""
    kind, about = error["type"], error.get("ctx", {})
    if kind == "missing" or (kind in ("string_too_short", "too_short") and not error.get("input")):
        return "Nothing stands here yet."
    if kind == "string_too_short":
        return f"Write at least {about['min_length']} letters."
    if kind == "string_too_long":
        return f"Write at most {about['max_length']} letters."
    if kind == "too_short":
        return f"At least {about['min_length']} are needed; here {'is' if about['actual_length'] == 1 else 'are'} {about['actual_length']}."
    return f"{error['msg'].removeprefix('Value error, ')}."


def _read(document: Mapping[str, Any], exercise_id: str) -> ExerciseEntry | list[Fault]:
    try:
        return ExerciseEntry.model_validate({**document, "id": exercise_id})
    except ValidationError as error:
        found: dict[str, Fault] = {}
        for e in error.errors():
            field = str(e["loc"][0]) if e["loc"] else "name"
            found.setdefault(field, Fault(field=field, words=_said(e)))
        return list(found.values())


def _shown_faults(conn: Conn, entry: ExerciseEntry) -> Iterator[Fault]:
    for field, shown in (("clip", entry.clip), ("picture", entry.picture)):
        if shown and not media.exists(conn, shown.hash):
            yield Fault(field=field, words=f"This {field} is not kept here any more. Choose it again.", why=Why.UNKNOWN)


def _card_faults(entry: ExerciseEntry, card: Card) -> Iterator[Fault]:
    if card.id in entry.after:
        yield Fault(field="after", words="An exercise cannot build on itself.", why=Why.CLASH)
    for version in (card, card.easier):
        if version is not None and (more := untold(version.cues, version.regions, marks=version.marks)):
            words, field = _listed(more)
            yield Fault(field=field, words=words)
    if wrong := unsound(card):
        yield Fault(field=wrong[0], words=f"{wrong[1][0].upper()}{wrong[1][1:]}.")


def _looked(
    conn: Conn, coach: Person, document: Mapping[str, Any], exercise_id: str, family: str
) -> tuple[ExerciseEntry | None, Card | None, list[Fault]]:
    """An entry and its card as far as they can be read, and all that stands against using them."""
    if family not in list(Family):
        return (
            None,
            None,
            [Fault(field="family", words=f"There is no family “{family}”. Choose from {', '.join(Family)}.", why=Why.UNKNOWN)],
        )
    entry = _read(document, exercise_id)
    if not isinstance(entry, ExerciseEntry):
        return None, None, entry
    catalogue = shipped_catalogue()
    if missing := dangling(entry, catalogue.muscles, catalogue.concerns, shelf(conn, coach.practice_id).cards):
        return None, None, [Fault(field=missing[0], words=f"{missing[2][0].upper()}{missing[2][1:]}.")]
    card = make_card(entry, Family(family), {}, catalogue.muscles, own=True)
    return entry, card, [*_card_faults(entry, card), *_shown_faults(conn, entry)]


def _checked(conn: Conn, coach: Person, document: Mapping[str, Any], exercise_id: str, family: str) -> dict[str, Any]:
    """An entry that can be used. Raises Refused that names field and remedy."""
    entry, _, faults = _looked(conn, coach, document, exercise_id, family=family)
    if faults:
        first = faults[0]
        raise Refused(first.why, f"{first.field.replace('_', ' ').capitalize()}: {first.words}", first.field)
    assert entry is not None
    return entry.model_dump(mode="json", by_alias=True)


@dataclass(frozen=True)
class Look:
    """An exercise as far as it is written: its figure and its card where they can be made, and all that still stands against keeping it."""

    figure: Figure | None
    card: Card | None
    faults: tuple[Fault, ...]


def _figure(document: Mapping[str, Any]) -> Figure | None:
    try:
        return FigureEntry.model_validate(document.get("figure", {})).figure()
    except ValidationError:
        return None


def look(db: Database, coach: Person, exercise_id: str, family: str, document: Mapping[str, Any]) -> Look:
    """How an exercise would be, without keeping anything."""
    name = str(document.get("name", ""))
    with db.of(coach) as conn:
        _, card, faults = _looked(
            conn, coach, document, new_id(name, unnamed="own-unnamed") if exercise_id == NEW else exercise_id, family=family
        )
    return Look(_figure(document), card, tuple(faults))


def new_id(name: str, unnamed: str = "") -> str:
    """An id made of a name, such as own-slow-lift; ``unnamed`` for a name without letters. Raises Refused."""
    words = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:46].strip("-")
    if not words and any(c.isalpha() for c in name):
        words = hashlib.sha256(name.strip().lower().encode()).hexdigest()[:12]  # a name in another script
    if not words and not unnamed:
        raise Refused(Why.NEEDED, "Give the exercise a name with letters in it.", "name")
    return f"own-{words}" if words else unnamed


def create(db: Database, coach: Person, family: str, document: Mapping[str, Any]) -> str:
    """A new exercise of the practice's own; returns its id. Raises Refused, Conflict."""
    with db.of(coach) as conn:
        return create_in(conn, coach, family, document=document)


def create_in(conn: Conn, coach: Person, family: str, document: Mapping[str, Any]) -> str:
    """``create`` in a transaction of somebody else's. Raises Refused, Conflict."""
    exercise_id = new_id(str(document.get("name", "")))
    entry = _checked(conn, coach, document, exercise_id, family=family)
    own.create(conn, coach.practice_id, exercise_id, family=family, entry=entry, by=coach.name)
    return exercise_id


def save(db: Database, coach: Person, exercise_id: str, base_version: int, family: str, document: Mapping[str, Any]) -> int:
    """A new version; running programs keep the card that they were assigned with. Raises Refused, Conflict, NotThere."""
    with db.of(coach) as conn:
        own.one(conn, exercise_id)
        entry = _checked(conn, coach, document, exercise_id, family=family)
        return own.save(conn, exercise_id, base_version, family, entry=entry, by=coach.name)


def retire(db: Database, coach: Person, exercise_id: str, retired: bool) -> None:
    """Take an own exercise out of the choice, or back in; programs that have it keep it. Raises NotThere."""
    with db.of(coach) as conn:
        own.retire(conn, exercise_id, retired)


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
        row = own.one(conn, exercise_id)
    return Written(id=row.id, family=row.family, entry=row.entry, version=row.version, retired_at=row.retired_at, saved_by=row.saved_by)


_OWN_WORDS = ("name", "purpose", "felt_at", "eased", "stop_rule")
_OWN_LISTS = ("concerns", "prime_movers", "helpers", "cues", "faults", "care", "after", "regions", "marks", "stretches_lip", "needs")
_OWN_REST = ("schools", "easier", "clip", "picture", "rewritten", "withdrawn", "longest_hold", "longest_window")


def blank(family: str) -> Written:
    """An exercise that is not written yet, with what is usual in its family: stage, dose, ceiling and times of the card whose ways are
    the commonest there. Its words and its figure are empty. Raises Refused."""
    entries = [e for f, e in shipped_catalogue().entries.values() if f.value == family]
    if not entries:
        raise Refused(Why.UNKNOWN, f"There is no family “{family}”. Choose from {', '.join(Family)}.", "family")

    def ways(e: ExerciseEntry) -> tuple[object, ...]:
        return e.stage, e.sides, len(e.phases), e.phases[0].kind, len(e.phases[0].directions), e.axes, e.ceiling.basis, e.pressure

    usual = Counter(ways(e) for e in entries).most_common(1)[0][0]
    entry = next(e for e in entries if ways(e) == usual).model_dump(mode="json", by_alias=True)
    entry |= dict.fromkeys(_OWN_WORDS, "") | {k: [] for k in _OWN_LISTS} | dict.fromkeys(_OWN_REST) | {"schools": {}}
    entry |= {"foundation": False, "figure": {}, "rhythm": None, "ceiling": entry["ceiling"] | {"why": None}}
    entry |= {"position": "Seated, spine long, shoulders low.", "stop_rule": "Stop with pain, numbness or dizziness."}
    return Written(id=NEW, family=family, entry=entry, version=0, retired_at=None, saved_by=None)
