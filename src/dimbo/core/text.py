"""Numbers as sentences say them."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from datetime import date


def clock(seconds: float) -> str:
    """Minutes and seconds, such as 2:06, rounded to the second."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"


def percent(share: float) -> str:
    return f"{round(share * 100)} %"


def list_weeks(weeks: Sequence[int]) -> str:
    """Weeks in words: week 3; weeks 3 to 5; weeks 2, 4 and 6."""
    if len(weeks) == 1:
        return f"week {weeks[0]}"
    if weeks[-1] - weeks[0] == len(weeks) - 1:
        return f"weeks {weeks[0]} to {weeks[-1]}" if len(weeks) > 2 else f"weeks {weeks[0]} and {weeks[1]}"
    return f"weeks {', '.join(map(str, weeks[:-1]))} and {weeks[-1]}"


def join_words(words: Sequence[str], last: str = "and") -> str:
    """Words in a sentence: a; a and b; a, b and c."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} {last} {words[-1]}" if words else ""


def long_date(day: date) -> str:
    """A day such as 3 March 2026."""
    return f"{day.day} {day:%B %Y}"


def brief_date(day: date) -> str:
    """A day such as 3 Mar 2026, where room is short."""
    return f"{day.day} {day:%b %Y}"


def folded(text: str) -> str:
    """A text in small letters without accents, so that words are found however they are written."""
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
