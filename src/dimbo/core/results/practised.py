"""What was practised between two days: sessions, time, and contraction by side."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

from dimbo.core.anatomy import Side
from dimbo.core.review.adherence import SessionRow


class SideDay(NamedTuple):
    """Work of one exercise on one day, in seconds done by side, whatever the plan."""

    day: date
    exercise_id: str
    right_s: float
    left_s: float

    def of(self, side: Side) -> float:
        return self.right_s if side is Side.RIGHT else self.left_s


@dataclass(frozen=True, kw_only=True)
class Practised:
    """Sessions in which anything was done, the days they lie on, their time up to the plan, and seconds of contraction by side as done.

    Days count from the first on, up to but not with the last: photographs come before the practice of their day, so no day counts twice.
    """

    first: date
    last: date
    sessions: int
    days: int
    done_s: float
    right_s: float
    left_s: float


def practised(sessions: Iterable[SessionRow], sides: Iterable[SideDay], *, first: date, last: date) -> Practised:
    """What was practised from ``first`` on and before ``last``; ``sides`` are the exercises that contract."""
    own = [r for r in sessions if first <= r.day < last and (r.done_s or 0) > 0]
    work = [w for w in sides if first <= w.day < last]
    return Practised(
        first=first,
        last=last,
        sessions=len(own),
        days=len({r.day for r in own}),
        done_s=sum(r.done_s or 0 for r in own),
        right_s=sum(w.right_s for w in work),
        left_s=sum(w.left_s for w in work),
    )
