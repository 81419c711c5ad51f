"""How long people keep practising: who stopped, who is followed still, and whether the first two weeks foretell it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from dimbo.core.sittings.noise import Z95

STOPPED_DAYS = 21
"""So many days without practice, pauses left out, are a stop, dated at the last day of practice."""
LEAST_CLIENTS = 10
LEAST_AT_RISK = 5
FIRST_DAYS = 14
MANY = 0.8
LEAST_IN_GROUP = 10
LEAST_STOPS = 5


@dataclass(frozen=True)
class Followed:
    """Days of practice life, pauses left out, and whether they ended in a stop."""

    days: int
    stopped: bool


def followed(practised: Sequence[date], today: date, off: Callable[[date], bool], ended: date | None) -> Followed | None:
    """How long somebody kept practising; None while that cannot be known. ``practised`` are days in order, ``off`` says that a day was
    paused, ``ended`` is the first day without a program, which is a cut and no stop.

    All are followed only to 21 days before today: a stop is known so late, and who is lost sight of earlier is no survivor.
    """
    if not practised:
        return None
    until = min(today - timedelta(days=STOPPED_DAYS), ended or date.max)
    first = practised[0]

    def lived(from_day: date, to_day: date) -> int:
        return sum(not off(from_day + timedelta(days=n)) for n in range((to_day - from_day).days))

    known = [d for d in practised if d <= today]
    for here, there in zip(known, [*known[1:], None], strict=True):
        rest = min(x for x in (there or today, ended or date.max, today) if x is not None)
        if lived(here, rest) - (0 if off(here) else 1) >= STOPPED_DAYS and (ended is None or here < ended):
            return Followed(lived(first, here), stopped=True) if here <= until else None
    days = lived(first, until) if until > first else 0
    return Followed(days, stopped=False) if days > 0 else None


@dataclass(frozen=True, kw_only=True)
class Share:
    """Share that still practises on a day, with its 95 % band and how many were followed so far."""

    day: int
    share: float
    low: float
    high: float
    at_risk: int


def still_practising(people: Sequence[Followed], day: int) -> Share:
    """Kaplan and Meier (1958), with the log-log band of Greenwood's variance (Kalbfleisch and Prentice); without a step, or with nobody
    left, Clopper and Pearson's. Raises ValueError without anybody."""
    if not people:
        raise ValueError("nobody is followed")
    share, loose = 1.0, 0.0
    for d in sorted({p.days for p in people if p.stopped and p.days <= day}):
        there = sum(p.days >= d for p in people)
        gone = sum(p.stopped and p.days == d for p in people)
        share *= 1 - gone / there
        loose += gone / (there * (there - gone)) if there > gone else 0.0
    at_risk = sum(p.days >= day for p in people)
    if share in (0.0, 1.0):
        n = at_risk if share == 1 else len(people)
        edge = 0.025 ** (1 / n) if n else 0.0
        low, high = (edge, 1.0) if share == 1 else (0.0, 1 - edge)
    else:
        e = Z95 * math.sqrt(loose) / abs(math.log(share))
        low, high = share ** math.exp(e), share ** math.exp(-e)
    return Share(day=day, share=share, low=low, high=high, at_risk=at_risk)


def course_of(people: Sequence[Followed], step: int = 7) -> list[Share]:
    """Week by week, as far as enough are followed."""
    last = max((p.days for p in people), default=0)
    found = (still_practising(people, day) for day in range(0, last + 1, step))
    return [s for s in found if s.at_risk >= LEAST_AT_RISK]


@dataclass(frozen=True, kw_only=True)
class FirstWeeks:
    """Those who did most of the planned sessions of the first 14 days, and the others, of all who still practised then."""

    many: tuple[Followed, ...]
    few: tuple[Followed, ...]

    @property
    def gate(self) -> bool:
        stops = sum(p.stopped for p in (*self.many, *self.few))
        return min(len(self.many), len(self.few)) >= LEAST_IN_GROUP and stops >= LEAST_STOPS


def by_first_weeks(people: Sequence[tuple[Followed, float]]) -> FirstWeeks:
    """``people`` with their share of planned sessions practised in the first 14 days; only those who still practised on day 14, because
    who had stopped by then could not do many (Anderson, Cain and Gelber 1983)."""
    there = [(p, share) for p, share in people if p.days > FIRST_DAYS]
    return FirstWeeks(many=tuple(p for p, s in there if s >= MANY), few=tuple(p for p, s in there if s < MANY))
