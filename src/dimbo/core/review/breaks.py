"""Pauses and breaks: where a program goes on after days without practice.

Under 7 days it goes on; after 7 to 20 days it goes on one rung back for a week; after 21 days or more it begins again on
its first rung. A missed session is never made up.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from enum import StrEnum

from dimbo.core.calendar.schedule import Step
from dimbo.core.rules import Rule

BACK_ONE_FROM_DAYS, FIRST_RUNG_FROM_DAYS = 7, 21
"""Days without practice from which a program goes back one rung for a week, and to its first rung."""


RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule("break-short", name="Short break", says=f"Under {BACK_ONE_FROM_DAYS} days without practice: go on."),
        Rule(
            "break-week",
            name="A week or more",
            says=f"{BACK_ONE_FROM_DAYS} to {FIRST_RUNG_FROM_DAYS - 1} days: one rung back for a week, then the "
            "week in which practice stopped comes again.",
        ),
        Rule("break-long", name="Three weeks or more", says=f"{FIRST_RUNG_FROM_DAYS} days or more: back to the first rung."),
        Rule("break-missed", name="Missed sessions", says="A missed session is never made up by doubling the next."),
    )
}


class AfterBreak(StrEnum):
    """What a break asks for."""

    GO_ON = "go on"
    BACK_ONE = "one rung back for a week"
    FIRST_RUNG = "back to the first rung"


def days_without(last: date, again: date) -> int:
    """Whole days between the last practice and the day on which it is taken up again."""
    return max((again - last).days - 1, 0)


def after_break(days: int) -> AfterBreak:
    """What a break of so many days without practice asks for."""
    if days < BACK_ONE_FROM_DAYS:
        return AfterBreak.GO_ON
    return AfterBreak.BACK_ONE if days < FIRST_RUNG_FROM_DAYS else AfterBreak.FIRST_RUNG


RETURNS: Mapping[AfterBreak, str] = {
    AfterBreak.GO_ON: "Nothing is doubled; practice goes on where it was.",
    AfterBreak.BACK_ONE: "Practice goes on one rung lower for a week, by itself.",
    AfterBreak.FIRST_RUNG: "Practice begins again on its first rungs, by itself.",
}
"""What is said of somebody who would practise again today."""


def returns(last: date | None, missed: Sequence[date], today: date) -> str:
    """How practice would go on today, as a sentence: ``last`` was practised last, ``missed`` are the planned days since; who
    never practised is away since the first of them. Empty when nothing was missed."""
    if not missed:
        return ""
    since = last if last is not None else missed[0] - timedelta(days=1)
    return RETURNS[after_break(days_without(since, again=today))]


def steps_from(week: int, weeks: int, after: AfterBreak) -> tuple[Step, ...]:
    """The weeks that follow when practice stopped in program week ``week`` of ``weeks``.

    One rung back is a week of its own; then the week in which practice stopped comes again, because it was not finished.
    Raises ValueError for a week outside the program.
    """
    if not 1 <= week <= weeks:
        raise ValueError(f"week {week} is outside 1 to {weeks}")
    if after is AfterBreak.FIRST_RUNG:
        return tuple(Step(w) for w in range(1, weeks + 1))
    rest = tuple(Step(w) for w in range(week, weeks + 1))
    return (Step(week, back=1), *rest) if after is AfterBreak.BACK_ONE else rest


def going_on(steps: Sequence[Step], at: int, weeks: int, days: int) -> tuple[Step, ...]:
    """The weeks after ``days`` without practice, when practice stopped in the place ``at`` of ``steps`` (from 0).

    Weeks that come again because of an earlier break stay; its lighter weeks do not. Empty when the calendar just goes on.
    """
    after = after_break(days)
    if after is AfterBreak.GO_ON:
        return ()
    week = min(steps[at].week, weeks)
    if after is AfterBreak.FIRST_RUNG:
        return steps_from(week, weeks=weeks, after=after)
    return (Step(week, back=1), *(s for s in steps[at:] if s.back == 0 and s.week <= weeks))


def continued(steps: Sequence[Step], passed: int, weeks: int) -> tuple[Step, ...]:
    """The weeks of a plan from the place ``passed`` on, when its program has ``weeks`` weeks from now on."""
    last = max((s.week for s in steps), default=0)
    return (*(s for s in steps[passed:] if s.week <= weeks), *(Step(w) for w in range(last + 1, weeks + 1)))
