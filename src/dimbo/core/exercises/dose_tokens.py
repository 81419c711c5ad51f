"""The signs of a dose line: numbers, words, ×, + and clock times, each with its place, and what cannot be read."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass

RIGHT, LEFT = {"r", "right"}, {"l", "left"}
SECONDS = {"s", "sec", "secs", "second", "seconds"}
MINUTES = {"min", "mins", "minute", "minutes"}
COUNTS = {"c", "count", "counts"}
SETS = {"set", "sets"}
REPS = {"rep", "reps", "repetition", "repetitions", "times", "stroke", "strokes", "circle", "circles", "breath", "breaths", "tap", "taps"}

_TOKEN = re.compile(
    r"(?P<clock>\d+:\d\d(?!\d))|(?P<number>\d+(?:[.,]\d+)?)|(?P<word>[^\W\d_]+)|(?P<times>[×x*])|(?P<plus>\+)|(?P<slash>/)|(?P<mark>[,;()])|(?P<bad>\S)",
    re.I,
)
_SAME = {"٫": ".", "،": ",", "，": ",", "；": ";", "：": ":", "＋": "+", "（": "(", "）": ")", "．": "."}
"""Signs of other scripts that mean the same."""
_ENDS = SECONDS | MINUTES | COUNTS | REPS | SETS | {"side", "sides", "day", "alt", "spot", "spots"}
"""Words behind which a part may be over."""
_GLUED = "hrl"


class DoseLineError(ValueError):
    """A line that cannot be read. ``start`` and ``end`` bound the place in the typed text; ``instead`` is a line that says what was
    most likely meant, to be taken with one touch, empty where nothing is likely."""

    def __init__(self, message: str, text: str, start: int, end: int, instead: str = "") -> None:
        super().__init__(message)
        self.message, self.text, self.start, self.end, self.instead = message, text, start, max(end, start + 1), instead


@dataclass(frozen=True, slots=True)
class Token:
    """``text`` is in small letters; ``raw`` as it was typed."""

    kind: str
    text: str
    raw: str
    start: int
    end: int


def _plain(text: str) -> str:
    """The same text with digits and signs of every script as ASCII; places stay."""
    return "".join(_SAME.get(c) or (str(unicodedata.decimal(c)) if c.isdecimal() else c) for c in text)


def _split(word: str) -> int:
    """Where a word hides a ×, as in 2xh5 or setsx; 0 where it does not."""
    if len(word) == 2 and word[0] == "x" and word[1] in _GLUED:
        return 1
    if word[-1] == "x" and word[:-1] in RIGHT | LEFT | SETS:
        return len(word) - 1
    return 0


def tokens(text: str) -> list[Token]:
    """Everything that a line is made of. Raises DoseLineError for a sign that means nothing, or a number that could mean two things."""
    plain, out = _plain(text), []
    for m in _TOKEN.finditer(plain):
        kind, raw, start, end = str(m.lastgroup), m.group(), m.start(), m.end()
        word = raw.lower()
        if kind == "bad":
            raise DoseLineError(f"“{text[start:end]}” has no meaning here", text, start, end)
        if kind == "number":
            _check_number(text, m, after=plain[end : end + 2])
        if kind == "word" and (cut := _split(word)):
            for a, b in ((0, cut), (cut, len(word))):
                part = "times" if word[a:b] == "x" else "word"
                out.append(Token(part, text=word[a:b], raw=raw[a:b], start=start + a, end=start + b))
            continue
        out.append(Token("times" if word == "x" else kind, text=word, raw=raw, start=start, end=end))
    return _without_marks(out)


def _check_number(text: str, found: re.Match[str], after: str) -> None:
    raw, start, end = found.group(), found.start(), found.end()
    if re.match(r"[.,]\d", after):
        raise DoseLineError(f"“{text[start : end + 2]}” is no number", text, start, end + 2)
    if re.fullmatch(r"\d+[.,]\d{3,}", raw):
        whole = re.sub(r"[.,]", "", raw)
        raise DoseLineError(f"“{text[start:end]}” could be {whole} or a part of one: write it without the sign", text, start, end)


def _without_marks(found: list[Token]) -> list[Token]:
    """Commas, semicolons and brackets between two parts say nothing; anywhere else they stay, and are refused where they stand."""
    out = []
    for i, token in enumerate(found):
        before, after = (found[k] if 0 <= k < len(found) else None for k in (i - 1, i + 1))
        if token.kind == "mark" and token.text == "(" and before is not None and before.kind == "times":
            continue
        ends = before is not None and (before.kind in ("number", "clock", "mark") or before.text in _ENDS)
        counted = after is not None and after.kind == "number" and i + 2 < len(found) and found[i + 2].text in SETS | REPS
        begins = after is None or counted or after.kind in ("word", "plus", "mark", "slash")
        if token.kind == "mark" and ends and begins and token.text != "(":
            continue
        if token.kind == "mark" and token.text == "(" and ends and after is not None and after.kind == "word":
            continue
        out.append(token)
    return out
