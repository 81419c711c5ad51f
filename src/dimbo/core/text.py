"""Numbers as sentences say them."""

from __future__ import annotations

from collections.abc import Sequence


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
