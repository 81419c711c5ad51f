"""Rungs: the steps from a start dose to a target dose, and which week stands on which.

One axis moves at a time. From rung to rung the load of a line (lead and hold, all runs) rises by no
more than ``growth`` allows, about 30 % as shipped: a third, so that 1x8 -> 2x5 -> 2x6 -> 2x8 is allowed. When a set
is added the repetitions drop first and build up again; where there are too few repetitions for that
(fewer than three cannot rise by a third), the hold drops and builds up instead. A step that cannot be
made smaller (the smallest hold, one repetition without a hold, one session) is taken whole and marked
``steep``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from .card import Axis
from .dose import Apart, Dose, Phase, PhaseKind, SidePlan, Span, Together

GROWTH_LIMIT = 4 / 3
FINE_STEP = 0.5
"""Half a second or half a count: the smallest change of a hold that has halves already; nobody counts them otherwise."""


def _fine(*amounts: float) -> float:
    """The smallest change between holds: a whole second or count, where they are whole."""
    return FINE_STEP if any(a % 1 for a in amounts) else 1.0


@dataclass(frozen=True, slots=True)
class Rung:
    """One step: the dose of a session, sessions a week, and whether the rise to it passes the limit."""

    dose: Dose
    sessions: int
    steep: bool = False


@dataclass(frozen=True, slots=True)
class Ladder:
    """All rungs in order. ``capped`` tells that the daily ceiling ended it before the target."""

    rungs: tuple[Rung, ...]
    capped: bool = False

    def at_week(self, week: int, weeks: int) -> Rung:
        """The rung of a week (1-based) by calendar: one rung a week, spread evenly if there are fewer."""
        if not 1 <= week <= weeks:
            raise ValueError(f"week {week} is outside 1 to {weeks}")
        n = len(self.rungs)
        return self.rungs[week - 1 if n >= weeks else (week - 1) * n // weeks]


def load_s(dose: Dose, pace_s: float) -> float:
    """What a rung is judged by: lead and hold of all runs, or their whole time where neither is used."""
    return dose.over_runs(lambda p: _phase_load(p, pace_s)) or dose.over_runs(lambda p: p.seconds(pace_s))


def _phase_load(phase: Phase, pace_s: float) -> float:
    return 0.0 if phase.kind is PhaseKind.PAUSE else len(phase.directions) * phase.load_s(pace_s)


def _with_phase(dose: Dose, index: int, phase: Phase) -> Dose:
    every = dose.all_phases
    return dose.with_phases((*every[:index], phase, *every[index + 1 :]))


def _holds_up(dose: Dose, index: int, to: Span) -> Iterator[Dose]:
    """Doses with a longer hold, longest first: whole steps (of five from 15 on), then the fine step."""
    now = dose.all_phases[index].hold.amount
    whole = [a for a in range(int(now) + 1, int(to.amount) + 1) if now < 15 or a % 5 == 0]
    for amount in dict.fromkeys([to.amount, *reversed(whole), min(now + _fine(now, to.amount), to.amount)]):
        yield _with_phase(dose, index, replace(dose.all_phases[index], hold=Span(float(amount), to.unit)))


def _reps_up(dose: Dose, index: int, to: int) -> Iterator[Dose]:
    for reps in range(to, dose.all_phases[index].reps, -1):
        yield _with_phase(dose, index, replace(dose.all_phases[index], reps=reps))


def _best(options: Sequence[Dose], load: float, pace_s: float, growth: float) -> tuple[Dose, bool]:
    """The largest option within the limit, else the smallest, marked steep."""
    for option in options:
        if load_s(option, pace_s) <= load * growth + 1e-9:
            return option, False
    smallest = min(options, key=lambda o: load_s(o, pace_s))
    return smallest, load_s(smallest, pace_s) > load * growth + 1e-9


def _next_sides(now: SidePlan, to: SidePlan) -> SidePlan | None:
    """One set more where it is furthest from its target (on both sides when they are level), or nothing."""
    if isinstance(now, Together) and isinstance(to, Together):
        return Together(now.sets + 1) if now.sets < to.sets else None
    if isinstance(now, Apart) and isinstance(to, Apart):
        right, left = to.right_sets - now.right_sets, to.left_sets - now.left_sets
        if max(right, left) <= 0:
            return None
        return replace(now, right_sets=now.right_sets + (right >= left), left_sets=now.left_sets + (left >= right))
    raise ValueError("start and target lay the sides out differently")


class _Climb:
    """Builds a ladder step by step."""

    def __init__(self, start: Dose, target: Dose, sessions: tuple[int, int], pace_s: float, growth: float) -> None:
        self.target, self.pace_s, self.to_sessions, self.growth = target, pace_s, sessions[1], growth
        self.rungs = [Rung(start, sessions[0])]

    @property
    def dose(self) -> Dose:
        return self.rungs[-1].dose

    def step(self, options: Sequence[Dose]) -> None:
        dose, steep = _best(options, load_s(self.dose, self.pace_s), pace_s=self.pace_s, growth=self.growth)
        self.rungs.append(Rung(dose, self.rungs[-1].sessions, steep))

    def raise_hold(self, index: int, to: Span) -> None:
        while self.dose.all_phases[index].hold.amount < to.amount:
            self.step(list(_holds_up(self.dose, index, to)))

    def raise_reps(self, index: int, to: int) -> None:
        while (now := self.dose.all_phases[index]).reps < to:
            if now.reps >= 3 or not self.lower_hold_for(list(_reps_up(self.dose, index, to=now.reps + 1)), index):
                self.step(list(_reps_up(self.dose, index, to=to)))

    def lower_hold_for(self, raised: Sequence[Dose], index: int) -> bool:
        """Take a raise that is too large with a shorter hold, then build the hold up again."""
        load, hold = load_s(self.dose, self.pace_s), self.dose.all_phases[index].hold
        for option in raised:
            amount = hold.amount
            while amount >= 1:
                lowered = _with_phase(option, index, replace(option.all_phases[index], hold=Span(amount, hold.unit)))
                if load_s(lowered, self.pace_s) <= load * self.growth + 1e-9:
                    self.rungs.append(Rung(lowered, self.rungs[-1].sessions))
                    self.raise_hold(index, hold)
                    return True
                amount -= _fine(hold.amount)
        return False

    def raise_sets(self) -> None:
        while (sides := _next_sides(self.dose.sides, to=self.target.sides)) is not None:
            more = replace(self.dose, sides=sides)
            every = more.all_phases
            index = max(range(len(every)), key=lambda i: _phase_load(every[i], self.pace_s))
            reps = every[index].reps
            fewer = [_with_phase(more, index, replace(every[index], reps=r)) for r in range(reps, 0, -1)]
            fits = [d for d in fewer if load_s(d, self.pace_s) <= load_s(self.dose, self.pace_s) * self.growth + 1e-9]
            if fits and (fits[0].all_phases[index].reps >= min(3, reps)):
                self.step(fits)
                self.raise_reps(index, to=reps)
            elif not self.lower_hold_for([more], index):
                self.step(fewer)
                self.raise_reps(index, to=reps)

    def raise_sessions(self) -> None:
        while self.rungs[-1].sessions < self.to_sessions:
            sessions = self.rungs[-1].sessions
            self.rungs.append(Rung(self.dose, sessions + 1, steep=sessions + 1 > sessions * self.growth + 1e-9))

    def climb(self, axis: Axis) -> None:
        if axis is Axis.SESSIONS:
            self.raise_sessions()
        elif axis is Axis.SETS:
            self.raise_sets()
        else:
            for index, phase in enumerate(self.target.all_phases):
                if axis is Axis.HOLD:
                    self.raise_hold(index, phase.hold)
                elif phase.window is None:
                    self.raise_reps(index, to=phase.reps)


def _comparable(start: Dose, target: Dose) -> None:
    if len(start.phases) != len(target.phases) or (start.left is None) != (target.left is None):
        raise ValueError("start and target have different phases")
    for a, b in zip(start.all_phases, target.all_phases, strict=True):
        fixed = [(p.kind, p.lead, p.release, p.directions, p.window, p.on_breath) for p in (a, b)]
        if fixed[0] != fixed[1]:
            raise ValueError("start and target may differ in hold, repetitions and sets only")
        if a.hold.unit is not b.hold.unit:
            raise ValueError("start and target count their holds differently")


def ladder(
    start: Dose,
    target: Dose,
    axes: Sequence[Axis],
    *,
    pace_s: float,
    fits: Callable[[Dose], bool] | None = None,
    sessions: tuple[int, int] = (1, 1),
    growth: float = GROWTH_LIMIT,
) -> Ladder:
    """All rungs from start to target, raising ``axes`` in their order.

    A rung that does not fit (``ceilings.fits``: it would pass a daily ceiling) ends the ladder and marks it ``capped``. The
    start is always the first rung. Raises ValueError when the two doses differ in more than hold,
    repetitions, sets and sessions.
    """
    _comparable(start, target=target)
    climb = _Climb(start, target, sessions, pace_s, growth)
    for axis in axes:
        climb.climb(axis)
    kept: list[Rung] = [climb.rungs[0]]
    for rung in climb.rungs[1:]:
        if fits is not None and not fits(rung.dose):
            return Ladder(tuple(kept), capped=True)
        kept.append(rung)
    return Ladder(tuple(kept))
