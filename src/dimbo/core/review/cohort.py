"""A group that started together: its middle, and who is behind."""

from __future__ import annotations

import statistics
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from dimbo.core.rules import Rule
from dimbo.core.text import join_words, percent

from .alarms import MISSED_IN_A_ROW

BEHIND = 0.25
"""Share of sessions below the middle of the group from which somebody is behind."""

RULE = Rule(
    "group-behind",
    name="Behind the group",
    says=f"Somebody is behind when they did {percent(BEHIND)} of the sessions less than the middle of the group, or missed "
    f"{MISSED_IN_A_ROW} planned days in a row.",
)


def middle(shares: Sequence[float | None]) -> float | None:
    """The median adherence of those who have begun, 0 to 1; None while nobody has."""
    begun = [s for s in shares if s is not None]
    return statistics.median(begun) if begun else None


def behind(share: float | None, median: float | None, missed: int) -> str:
    """Why somebody is behind, in words; empty when they are not."""
    if missed >= MISSED_IN_A_ROW:
        return f"missed {missed} planned days in a row"
    if share is not None and median is not None and median - share >= BEHIND - 1e-9:
        return f"{percent(share)} done, the middle of the group is {percent(median)}"
    return ""


AHEAD_DAYS = 2
"""Days of the last seven with more than planned from which somebody is ahead, which is no credit."""


def ahead(overdone_days: int) -> str:
    """That somebody does more than planned, in words; empty when they do not."""
    return f"more than planned on {overdone_days} of the last 7 days" if overdone_days >= AHEAD_DAYS else ""


LEFT_OUT_SHARE = 0.5
"""Share of those who practised that left an exercise out, from which it is looked at together."""
HARD, EASY = 7.5, 3.0
"""Middle effort of a week above or below which the next class is made lighter, or a rung is looked at."""
CLASS_DAYS = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassMember:
    """What a class knows of somebody: their first name, and of the last seven days whether they practised, what they left out and
    what hurt (names of exercises), their efforts, whether they did more than planned, and when photographs are due."""

    name: str
    practised: bool
    left_out: frozenset[str] = frozenset()
    hurt: frozenset[str] = frozenset()
    efforts: tuple[int, ...] = ()
    overdone: bool = False
    photographs: date | None = None


def next_class(members: Sequence[ClassMember], begins: Mapping[str, date], today: date) -> list[str]:
    """What to do in the next class, the gravest first: what hurt, what many left out, what begins in the next week, how hard it
    was, who does too much, and whose photographs are due.

    ``begins`` are exercises with the day on which they are first practised.
    """
    here = [m for m in members if m.practised]
    soon = today + timedelta(days=CLASS_DAYS)
    said: list[str] = []
    for name in sorted({h for m in members for h in m.hurt}):
        who = join_words([m.name for m in members if name in m.hurt])
        said.append(f"{name} hurt {who}: leave it out together, and look at the eased version.")
    missed = Counter(name for m in here for name in m.left_out)
    for name, n in missed.most_common(2):
        if n >= max(2, LEFT_OUT_SHARE * len(here)):
            said.append(f"{n} of {len(here)} left out {name}: begin with it, and see what is in the way.")
    new = sorted(name for name, day in begins.items() if today < day <= soon)
    if new:
        said.append(f"New in the next days: {join_words(new[:3])}. Show {'it' if len(new) == 1 else 'them'} once, slowly.")
    efforts = [e for m in here for e in m.efforts]
    if efforts and (middle_effort := statistics.median(efforts)) >= HARD:
        said.append(f"The week felt like {middle_effort:g} of 10: hold shorter today, with longer rests.")
    elif efforts and statistics.median(efforts) <= EASY:
        said.append(f"The week felt like {statistics.median(efforts):g} of 10: look whether the holds are really held.")
    if over := [m.name for m in members if m.overdone]:
        does = "does" if len(over) == 1 else "do"
        said.append(f"{join_words(over)} {does} more than planned: say that more strains and brings nothing sooner.")
    if due := [m.name for m in members if m.photographs and m.photographs <= soon]:
        said.append(f"Photographs of {join_words(due)} are due: take them before the class, in one light.")
    return said
