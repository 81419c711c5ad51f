"""How much of what was planned was done. Future days never count; paused days leave both sides."""

from __future__ import annotations

import statistics
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from itertools import groupby
from typing import NamedTuple
from uuid import UUID

from dimbo.core.rules import Rule


class DayState(StrEnum):
    DONE = "done"
    PARTLY = "partly"
    SKIPPED = "skipped"
    OPEN = "open"
    """Today, not yet done or done in part: counts as soon as it is done, and against nobody before it closes."""
    FUTURE = "future"
    PAUSED = "paused"
    EXTRA = "extra"
    """Practised without a plan for the day: all of it lies above plan, and it counts for nothing."""


@dataclass(frozen=True, slots=True)
class Practised:
    """What was logged for one planned day: seconds of its exercises that count and that were planned, what was overdone,
    and the load planned. Load is contraction of both sides."""

    done_s: float
    planned_s: float
    over_s: float = 0.0
    load_s: float = 0.0

    @property
    def share(self) -> float:
        """Share of the plan that was done, 0 to 1."""
        return min(self.done_s / self.planned_s, 1.0) if self.planned_s > 0 else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Day:
    """A planned day and what became of it. ``over_s`` is what was overdone, ``load_s`` the load planned, in seconds."""

    day: date
    state: DayState
    share: float = 0.0
    over_s: float = 0.0
    load_s: float = 0.0

    @property
    def over_share(self) -> float:
        """What was overdone, as a share of the load planned; without a plan everything is."""
        return self.over_s / self.load_s if self.load_s > 0 else 1.0 if self.over_s > 0 else 0.0

    @property
    def counts(self) -> bool:
        """Whether the day counts in adherence."""
        return self.state in _COUNTED

    @property
    def practised(self) -> bool:
        return self.state in (DayState.DONE, DayState.PARTLY) or (self.state is DayState.OPEN and self.share > 0)


@dataclass(frozen=True, slots=True)
class Adherence:
    """Sessions done (partly done by their share) over sessions planned, in a window of days."""

    done: float
    planned: int

    @property
    def share(self) -> float | None:
        """0 to 1, or None when nothing was planned yet."""
        return self.done / self.planned if self.planned else None


WHOLE = 0.995
"""A session counts as done from here; the rest is rounding of seconds."""


def day_state(day: date, today: date, practised: Practised | None, paused: bool = False) -> Day:
    """The state of one planned day as seen from ``today``."""
    if practised is not None and practised.done_s > 0 and practised.planned_s <= 0:
        return Day(day=day, state=DayState.EXTRA, share=0.0, over_s=practised.over_s)
    if practised is not None and practised.done_s > 0:
        state = DayState.DONE if practised.share >= WHOLE else DayState.OPEN if day >= today and not paused else DayState.PARTLY
        return Day(day=day, state=state, share=practised.share, over_s=practised.over_s, load_s=practised.load_s)
    if paused:
        return Day(day=day, state=DayState.PAUSED)
    if day > today:
        return Day(day=day, state=DayState.FUTURE)
    return Day(day=day, state=DayState.OPEN if day == today else DayState.SKIPPED)


class SessionRow(NamedTuple):
    """A session with what its logs say, in seconds. Without a plan, or without a log, the other half is None.

    ``done_s`` counts each exercise and side at most whole over all logs of the session; load is contraction of both sides;
    ``over_s`` is load above plan, exercise by exercise over all logs, and hands-on time beyond its ceiling.
    """

    client_id: UUID
    assignment_id: UUID
    day: date
    part: str
    week: int | None
    back: int | None
    plan: int | None
    planned_s: float | None
    log_planned_s: float | None
    done_s: float | None
    load_planned_s: float | None
    load_done_s: float | None
    over_s: float | None
    effort: int | None
    form: str | None = None
    """Whether it was felt in the right place: yes, partly, no; of several logs the least."""


def day_of(day: date, today: date, rows: Sequence[SessionRow], off: bool) -> Day:
    """A day out of all its sessions, planned or not; ``off`` says that it was paused, or jumped over at the date line.

    A session is planned as its log says, or as the plan says while it has none; more in one never pays for another. On a day
    without a plan nothing was planned, and all load of its logs is overdone.
    """
    if not off and len(rows) == 1 and rows[0].done_s is None:
        return Day(day=day, state=DayState.FUTURE if day > today else DayState.OPEN if day == today else DayState.SKIPPED)
    planned = done = over = load = lifted = 0.0
    told, has_plan = False, False
    for r in rows:
        has_plan = has_plan or r.planned_s is not None
        mine = r.log_planned_s if r.log_planned_s is not None else r.planned_s or 0.0
        planned += mine
        if r.done_s is not None:
            told = True
            done += min(r.done_s, mine)
            load += r.load_planned_s or 0.0
            lifted += r.load_done_s or 0.0
            over += r.over_s or 0.0
    if not told:
        return day_state(day, today=today, practised=None, paused=off)
    return day_state(
        day,
        today=today,
        practised=Practised(done, planned_s=planned, over_s=over, load_s=load)
        if has_plan
        else Practised(done, planned_s=0.0, over_s=max(lifted, over)),
        paused=off,
    )


def days_of(rows: Iterable[SessionRow], today: date, off: Callable[[date], bool]) -> list[Day]:
    """Every day of some sessions, which come ordered by day."""
    return [day_of(day, today=today, rows=list(own), off=off(day)) for day, own in groupby(rows, key=lambda r: r.day)]


RULES: Mapping[str, Rule] = {
    r.id: r
    for r in (
        Rule(
            "adherence-sessions",
            name="Sessions done",
            says="Sessions done over sessions planned, over planned days; a session counts by its "
            "exercises and their sides, each at most whole, weighed by their time: more of one never pays for what was left out, nor "
            "the morning for the evening. Paused days leave both sides, days to come never count, today counts as soon as it is done.",
        ),
        Rule(
            "adherence-dose",
            name="Dose done",
            says="The sum of what was done, up to the plan and exercise by exercise, over what was planned; in "
            "seconds of contraction, of hands-on time, and of both.",
        ),
        Rule(
            "adherence-over",
            name="Above plan",
            says="Overdoing is about load: contraction above the plan, exercise by exercise over all logs of a "
            "session, and hands-on time beyond its daily ceiling; breath and taps once more are none. Extra load is harm, not credit. "
            "Load without a plan lies above it.",
        ),
        Rule(
            "adherence-windows",
            name="Windows",
            says="Told for the last 7 days, the last 28 days and the whole course, each up to and with today.",
        ),
        Rule(
            "adherence-length",
            name="Real length",
            says="The median time from start to end without pauses, over sessions that were played whole, "
            "against the planned length with its change-overs.",
        ),
    )
}

_COUNTED = {DayState.DONE, DayState.PARTLY, DayState.SKIPPED}
WINDOWS: Mapping[str, int | None] = {"7 days": 7, "28 days": 28, "whole course": None}
"""Windows in which adherence is told, in days up to and with today; None for all."""


def first_of_window(today: date, window_days: int | None) -> date:
    return today - timedelta(days=window_days - 1) if window_days else date.min


def session_adherence(days: Iterable[Day], today: date, window_days: int | None = None) -> Adherence:
    """Done over planned in the last ``window_days`` days up to and with today (all days if None)."""
    first = first_of_window(today, window_days)
    counted = [d for d in days if d.state in _COUNTED and first <= d.day <= today]
    return Adherence(sum(d.share for d in counted), len(counted))


def missed_in_a_row(days: Sequence[Day]) -> int:
    """Planned days missed since the last one that was practised, oldest first in ``days``."""
    return len(missed_days(days))


def missed_days(days: Sequence[Day]) -> list[date]:
    """The planned days missed since the last one that was practised, oldest first in ``days``."""
    missed: list[date] = []
    for day in days:
        if day.state is DayState.SKIPPED:
            missed.append(day.day)
        elif day.practised or day.state is DayState.EXTRA:
            missed = []
    return missed


def sessions_between(rows: Iterable[SessionRow], first: date, last: date, today: date, off: Callable[[date], bool]) -> Adherence:
    """Planned sessions of some days, those to come among them, and what is done of them; paused ones leave both."""
    seen = [day_of(r.day, today=today, rows=[r], off=off(r.day)) for r in rows if first <= r.day <= last and r.planned_s is not None]
    mine = [d for d in seen if d.state is not DayState.PAUSED]
    return Adherence(sum(d.share for d in mine), len(mine))


def is_overdone(day: Day, share: float) -> bool:
    """Whether more than ``share`` of a day's plan was done above it, or anything on a day without one."""
    return day.over_share > share and day.over_s > 0


def overdone(days: Iterable[Day], share: float) -> list[Day]:
    """Days on which more than ``share`` of the plan was done above it, and days practised without a plan."""
    return [d for d in days if is_overdone(d, share)]


@dataclass(frozen=True, slots=True, kw_only=True)
class SessionWork:
    """One session: the work planned in seconds, by contraction and hands-on time, what was done of it, and what lay above.

    ``done`` is counted up to the plan, exercise by exercise. ``length_s`` is the session as planned with its change-overs,
    ``took_s`` from its start to its end without pauses; None while it was not practised, or not played.
    """

    day: date
    part: str
    state: DayState
    contraction_s: float
    hands_on_s: float
    contraction_done_s: float = 0.0
    hands_on_done_s: float = 0.0
    over_s: float = 0.0
    share: float = 0.0
    length_s: float = 0.0
    took_s: float | None = None


@dataclass(frozen=True, slots=True)
class Dose:
    """Seconds of work planned, done (counted up to the plan), and above plan."""

    planned_s: float
    done_s: float
    over_s: float

    @property
    def share(self) -> float | None:
        """0 to 1, or None when nothing was planned yet."""
        return self.done_s / self.planned_s if self.planned_s > 0 else None


def _counted(sessions: Iterable[SessionWork], today: date, window_days: int | None) -> list[SessionWork]:
    first = first_of_window(today, window_days)
    return [s for s in sessions if first <= s.day <= today and s.state in _COUNTED | {DayState.EXTRA}]


def dose_adherence(sessions: Iterable[SessionWork], today: date, window_days: int | None = None) -> Mapping[str, Dose]:
    """Sum of min(done, planned) over planned, by contraction and hands-on time and for both together."""
    rows = _counted(sessions, today, window_days)
    contraction = Dose(sum(s.contraction_s for s in rows), done_s=sum(min(s.contraction_done_s, s.contraction_s) for s in rows), over_s=0)
    hands_on = Dose(sum(s.hands_on_s for s in rows), done_s=sum(min(s.hands_on_done_s, s.hands_on_s) for s in rows), over_s=0)
    work = Dose(
        contraction.planned_s + hands_on.planned_s,
        done_s=contraction.done_s + hands_on.done_s,
        over_s=sum(s.over_s for s in rows),
    )
    return {"contraction": contraction, "hands-on": hands_on, "work": work}


def by_weekday(days: Iterable[Day]) -> Mapping[int, Adherence]:
    """Adherence of each weekday on which something was planned, Monday 1 to Sunday 7."""
    out: dict[int, list[Day]] = {}
    for d in days:
        if d.state in _COUNTED:
            out.setdefault(d.day.isoweekday(), []).append(d)
    return {k: Adherence(sum(d.share for d in out[k]), len(out[k])) for k in sorted(out)}


def by_part(sessions: Iterable[SessionWork]) -> Mapping[str, Adherence]:
    """Adherence of morning and evening sessions, those that were planned."""
    out: dict[str, list[SessionWork]] = {}
    for s in sessions:
        if s.state in _COUNTED:
            out.setdefault(s.part, []).append(s)
    return {k: Adherence(sum(s.share for s in out[k]), len(out[k])) for k in ("morning", "evening") if k in out}


@dataclass(frozen=True, slots=True, kw_only=True)
class ExerciseTally:
    """An exercise in the sessions that were practised: how often it was there, done by its share, left out, and hurt."""

    exercise_id: str
    sessions: int
    done: float
    left_out: int
    hurt: int

    @property
    def share(self) -> float:
        return self.done / self.sessions if self.sessions else 0.0


def left_out_first(tallies: Iterable[ExerciseTally]) -> list[ExerciseTally]:
    """Exercises that were left out, the one left out most often first; of equals the one done least."""
    return sorted((t for t in tallies if t.left_out), key=lambda t: (-t.left_out, t.share, t.exercise_id))


@dataclass(frozen=True, slots=True)
class Took:
    """How long whole sessions really took against planned, in seconds: medians over ``sessions`` of them."""

    planned_s: float
    took_s: float
    sessions: int


def took(sessions: Iterable[SessionWork]) -> Took | None:
    """Planned against real length of the sessions that were played whole; None while there are none."""
    whole = [(s.length_s, s.took_s) for s in sessions if s.state is DayState.DONE and s.took_s is not None and s.length_s > 0]
    if not whole:
        return None
    return Took(statistics.median(a for a, _ in whole), took_s=statistics.median(b for _, b in whole), sessions=len(whole))
