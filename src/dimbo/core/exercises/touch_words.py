"""What an exercise's words say of hands and of the head: a place that a hand is laid on must be listed, a move of the head or
a held breath must be marked, or a caution cannot hold it.

Words are read coarsely and on the safe side: where a sentence names a hand and a place, the hand is taken to be there.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Set
from dataclasses import dataclass

_HAND = re.compile(
    r"\b(fingers?|fingertips?|thumbs?|palms?|hands?|knuckles|fist|pinch|press|tap|stroke|sweep|glide|index)\b(?!['’]s width)",
    re.IGNORECASE,
)
_PLACES: tuple[tuple[re.Pattern[str], frozenset[str]], ...] = tuple(
    (re.compile(rf"\b(?:{words})\b", re.IGNORECASE), frozenset(regions))
    for words, regions in (
        ("forehead", ("forehead",)),
        ("brows?", ("brow",)),
        ("temples?", ("temple",)),
        ("eyes?", ("eye",)),
        ("nostrils?|nose", ("nose",)),
        ("cheeks?|cheekbones?", ("cheek",)),
        ("lips?|corners?", ("mouth", "eye")),
        ("under the chin", ("under the chin", "chin")),
        ("chin", ("chin", "under the chin")),
        ("jaw", ("jaw", "under the chin")),
        ("ears?", ("ear", "neck", "jaw", "temple")),
        ("neck|nape", ("neck", "front of neck")),
        ("collarbones?", ("neck", "shoulder")),
        ("scalp", ("scalp",)),
        ("shoulders?", ("shoulder",)),
    )
)
"""Words for places, and the regions of which an exercise must list one when a hand goes there."""
_MOVES: tuple[tuple[re.Pattern[str], str], ...] = tuple(
    (re.compile(words, re.IGNORECASE), mark)
    for words, mark in (
        (r"\b(tilt|lean|drop|let|take|bring)\b[^.]*\bhead\b[^.]*\bback\b(?!\s+(to|up|down|level|over))", "head-back"),
        (r"\b(tilt|lean|incline)\b[^.]*\b(head|ear)\b[^.]*\b(side|shoulder)\b", "head-tilt"),
        (r"\b(turn|twist|rotate)\b[^.]*\b(head|neck)\b|\bhead turned\b", "neck-turn"),
        (r"\bhold (the|your) breath\b", "breath-hold"),
        (r"^((gently|softly|slowly) )?(pucker|purse|pout)\b|\b(and|then) (pucker|purse|pout)\b", "puckers"),
        (r"\bhead\b[^.]*\b(hang down|below the heart|between the knees)\b|\bbend (forward|down)\b", "head-down"),
    )
)
"""Words for moves of the head and the breath, and the mark that an exercise with them carries."""
_SENTENCE = re.compile(r"(?<=[.!?])\s+")


@dataclass(frozen=True, slots=True)
class Untold:
    """A sentence that says more than the exercise lists: one of these regions, or this mark, is missing."""

    sentence: str
    regions: frozenset[str] = frozenset()
    mark: str = ""


def untold(cues: Iterable[str], regions: Set[str], marks: Set[str]) -> Untold | None:
    """The first sentence of the cues that lays a hand where nothing is listed, or moves the head without its mark."""
    for cue in cues:
        for sentence in _SENTENCE.split(cue):
            if _HAND.search(sentence):
                for words, wanted in _PLACES:
                    if words.search(sentence) and not regions & wanted:
                        return Untold(sentence, wanted)
            for words, mark in _MOVES:
                if words.search(sentence) and mark not in marks:
                    return Untold(sentence, mark=mark)
    return None
