"""Looking for anything by words: clients, programs, exercises, templates, messages and notes of a practice."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TypeVar

from dimbo.catalogue.templates import shipped_templates
from dimbo.core.text import folded
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.store.review import search as store
from dimbo.store.review.search import Written
from dimbo.work.exercises.shelf import shelf

MOST = 6
"""Of each kind so many are shown."""
AROUND = 60
"""Letters of a text that are shown on either side of what was looked for."""

Thing = TypeVar("Thing")


@dataclass(frozen=True, slots=True, kw_only=True)
class Hit:
    """Something that was found: its kind, what it is called, what stands beside it, and what it is of.

    ``id`` is of the client, program, exercise or template; a message or a note has its client's.
    """

    kind: str
    id: str
    name: str
    beside: str
    at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Found:
    """What was found, the nearest first within each kind; and how many more there are of a kind."""

    hits: Sequence[Hit]
    more: dict[str, int]


def _rank(words: Sequence[str], *texts: str) -> int | None:
    """How near texts come to words: 0 where the first text begins with the first word, 1 where one of its own words does, 2
    where all are somewhere; None where one is nowhere."""
    first, everything = folded(texts[0]), folded(" ".join(texts))
    if not all(w in everything for w in words):
        return None
    return 0 if first.startswith(words[0]) else 1 if f" {words[0]}" in f" {first}" else 2


def _nearest(of: Iterable[Thing], words: Sequence[str], texts: Callable[[Thing], tuple[str, ...]]) -> list[Thing]:
    ranked = [(rank, thing) for thing in of if (rank := _rank(words, *texts(thing))) is not None]
    return [thing for _, thing in sorted(ranked, key=lambda r: r[0])]


def _around(text: str, word: str) -> str:
    """The part of a text around a word, on one line."""
    line = " ".join(text.split())
    at = max(folded(line).find(word), 0)
    start, end = max(0, at - AROUND), at + len(word) + AROUND
    return f"{'… ' if start else ''}{line[start:end].strip()}{' …' if end < len(line) else ''}"


def search(db: Database, coach: Person, wanted: str) -> Found:
    """Everything of the coach's practice that holds all the words, whatever their case and accents; nothing for no word.

    Notes of photo sessions are not looked through: they are seen with the photographs.
    """
    words = folded(wanted).split()
    if not words:
        return Found([], {})
    longest = max(words, key=len)
    with db.of(coach) as conn:
        kept = store.read(conn, longest)
        cards = shelf(conn, coach.practice_id).offered
    templates = [(str(t.id), t.title) for t in kept.templates] + [(i, t.entry.title) for i, t in shipped_templates().items()]
    by_kind: dict[str, list[Hit]] = {
        "client": [
            Hit(kind="client", id=str(c.id), name=c.name, beside="in the archive" if c.archived else c.email)
            for c in _nearest(kept.clients, words, lambda c: (c.name, c.email))
        ],
        "program": [
            Hit(kind="program", id=str(p.id), name=p.title, beside=p.of) for p in _nearest(kept.programs, words, lambda p: (p.title, p.of))
        ],
        "exercise": [
            Hit(kind="exercise", id=i, name=c.name, beside=f"{c.stage}, {c.family}")
            for i, c in _nearest(cards.items(), words, lambda x: (x[1].name, x[1].family, x[1].purpose))
        ],
        "template": [Hit(kind="template", id=i, name=title, beside="") for i, title in _nearest(templates, words, lambda t: (t[1],))],
        "message": _texts("message", kept.messages, words, longest),
        "note": _texts("note", kept.notes, words, longest),
    }
    hits = [hit for found in by_kind.values() for hit in found[:MOST]]
    return Found(hits, {kind: len(found) - MOST for kind, found in by_kind.items() if len(found) > MOST})


def _texts(kind: str, written: Iterable[Written], words: Sequence[str], longest: str) -> list[Hit]:
    return [
        Hit(kind=kind, id=str(w.client_id), name=w.name, beside=f"{w.by}: {_around(w.text, word=longest)}", at=w.at)
        for w in written
        if _rank(words, w.text, w.name) is not None
    ]
