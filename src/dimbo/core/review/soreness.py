"""Soreness on the day after: what it leaves out today, and when strength stops until the coach has asked.

Check-ins are told on the day after practice, 0 to 10. All thresholds are of 10 and come with the review's rules.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from dimbo.core.rules import Rule

from .thresholds import ReviewRules

STOP_LEVEL = 8
"""Soreness from which strength stops until the coach has asked."""
LONG_DAYS = 4
"""Days in a row of more than the soreness to advance, after which it stops as well."""
LOOK_BACK_DAYS = 14

RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule(
            "sore-rest", name="Sore today", says="Soreness above {soreness_ease} of 10 leaves strength out on the day on which it is told."
        ),
        Rule(
            "sore-stop",
            name="Stop and ask",
            says=f"Soreness from {STOP_LEVEL} of 10, above {{soreness_ease}} in two weeks, or above "
            f"{{soreness_advance}} for {LONG_DAYS} days stops strength until the coach has noted what it was, or decided a "
            "review; think of the sudden signs.",
        ),
    )
}


@dataclass(frozen=True, slots=True)
class Soreness:
    """What soreness means on a day: the rule that speaks, when it was told, and why, for the coach."""

    rule: str
    told_on: date
    because: str

    def rests(self, day: date) -> bool:
        """Whether strength is left out on a day."""
        return self.rule == "sore-stop" or day == self.told_on


def _in_a_row(told: Mapping[date, int], day: date, above: float) -> int:
    n = 0
    while told.get(day - timedelta(days=n), 0) > above:
        n += 1
    return n


def stops_on(told: Mapping[date, int], day: date, rules: ReviewRules) -> str:
    """Why soreness told on a day stops strength, as a sentence; empty when it does not. ``told`` holds the newest of each day."""
    level = told.get(day, 0)
    if level >= STOP_LEVEL:
        return f"Soreness {level} of 10 on {day:%A}."
    week_before = [d for d, n in told.items() if n > rules.soreness_ease and 7 <= (day - d).days < 14]
    if level > rules.soreness_ease and week_before:
        return f"Soreness {level} of 10 on {day:%A}, and {told[max(week_before)]} in the week before."
    if _in_a_row(told, day, rules.soreness_advance) >= LONG_DAYS:
        return f"Sore for {_in_a_row(told, day, rules.soreness_advance)} days in a row, up to {day:%A}."
    return ""


@dataclass(frozen=True, slots=True)
class ToldSore:
    """How sore somebody was on a day, 0 to 10, and when they said so."""

    day: date
    level: int
    said_at: datetime


def soreness(told: Sequence[ToldSore], today: date, reviewed: datetime | None, rules: ReviewRules) -> Soreness | None:
    """What soreness means today. ``told`` has the newest of each day; ``reviewed`` is when a coach last asked or decided,
    which ends what was told before."""
    newest = {t.day: t.level for t in told}
    for t in sorted(told, key=lambda t: t.day, reverse=True):
        fresh = timedelta(0) <= today - t.day <= timedelta(days=LOOK_BACK_DAYS)
        if fresh and (reviewed is None or t.said_at > reviewed) and (because := stops_on(newest, t.day, rules)):
            return Soreness("sore-stop", t.day, because)
    if newest.get(today, 0) > rules.soreness_ease:
        return Soreness("sore-rest", today, f"Soreness {newest[today]} of 10 today.")
    return None
