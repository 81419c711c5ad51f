"""A dose as a value: spans of time, phases, sides, and the arithmetic that follows from them.

One set is one pass through the phases. All times resolve to seconds by the practice's count pace.

    set         = sum over phases of directions x reps x (lead + hold + release)
    exercise    = setup + runs x set + (runs - 1) x rest + settle
    contraction = directions that load the side x reps x (lead + hold), over the runs of that side

The left side may have phases of its own (right 30 s, left 45 s); every sum is then over the runs of each side.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from dimbo.core.anatomy import Side, SideSeconds

MIN_PACE_S, MAX_PACE_S, DEFAULT_PACE_S = 0.8, 1.6, 1.0
"""Seconds per count: the slowest and quickest pace a practice may set, and the shipped one."""


class Unit(StrEnum):
    SECONDS = "s"
    COUNTS = "c"


@dataclass(frozen=True, slots=True)
class Span:
    """A length of time as it was prescribed: tenths of a second, or of a count."""

    amount: float
    unit: Unit = Unit.SECONDS

    def __post_init__(self) -> None:
        if self.amount < 0:
            raise ValueError(f"a time cannot be negative: {self.amount}")
        if abs(self.amount * 10 - round(self.amount * 10)) > 1e-6:
            raise ValueError(f"a time is kept to a tenth: {self.amount}")
        if self.amount == 0:  # nothing is nothing, in counts as in seconds
            object.__setattr__(self, "unit", Unit.SECONDS)

    def seconds(self, pace_s: float) -> float:
        return self.amount if self.unit is Unit.SECONDS else self.amount * pace_s


ZERO = Span(0)


def print_span(span: Span) -> str:
    """A span as the line writes it: seconds bare, counts with a c."""
    return f"{span.amount:g}{'c' if span.unit is Unit.COUNTS else ''}"


@dataclass(frozen=True, slots=True)
class Direction:
    """One direction of a phase and the sides of the body that it loads.

    Turning the head to the left loads the right side of the neck, so ``loads`` is not the side named.
    """

    name: str
    loads: frozenset[Side] = frozenset(Side)


STRAIGHT = (Direction("straight"),)


class PhaseKind(StrEnum):
    HOLD = "hold"
    REPS = "reps"
    STROKES = "strokes"
    CIRCLES = "circles"
    PRESS = "press"
    TAP = "tap"
    BREATHS = "breaths"
    SPOTS = "spots"
    """So many places along the way of the hands, a while at each."""
    PAUSE = "pause"
    TIMES = "times"
    """A habit, so often a day; it takes no time of a session."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Phase:
    """Repetitions of lead (moving into it), hold and release, in each direction.

    With a ``window`` the whole phase lasts exactly that long and the repetitions are those that fit;
    ``reps`` is then ignored and kept at 1. ``on_breath``: the hold lasts the breath out, the release the breath in; breathing in
    is never contraction, so nothing leads into the hold.
    """

    kind: PhaseKind
    reps: int = 1
    lead: Span = ZERO
    hold: Span = ZERO
    release: Span = ZERO
    directions: tuple[Direction, ...] = STRAIGHT
    window: Span | None = None
    on_breath: bool = False

    def __post_init__(self) -> None:
        if self.on_breath and (self.lead.amount or not self.hold.amount or not self.release.amount):
            raise ValueError("what goes with the breath has a breath out and a breath in, and no lead")
        if self.reps < 1:
            raise ValueError("a phase has at least one repetition")
        if not self.directions:
            raise ValueError("a phase has at least one direction")
        if self.window is not None and self.reps != 1:
            raise ValueError("a phase with a fixed window derives its repetitions")

    def rep_s(self, pace_s: float) -> float:
        """Seconds of one repetition."""
        return self.lead.seconds(pace_s) + self.hold.seconds(pace_s) + self.release.seconds(pace_s)

    def count(self, pace_s: float) -> int:
        """Repetitions per direction; for a window, as many as fit whole."""
        if self.window is None:
            return self.reps
        each = self.rep_s(pace_s)
        return int(self.window.seconds(pace_s) / each + 1e-9) if each > 0 else 0

    def load_s(self, pace_s: float) -> float:
        """Seconds of lead and hold in one direction."""
        return self.count(pace_s) * (self.lead.seconds(pace_s) + self.hold.seconds(pace_s))

    def seconds(self, pace_s: float) -> float:
        """Seconds of the phase in one set, all directions."""
        one_way = self.window.seconds(pace_s) if self.window else self.reps * self.rep_s(pace_s)
        return len(self.directions) * one_way


@dataclass(frozen=True, slots=True)
class Together:
    """Both sides at once: one run a set."""

    sets: int

    def __post_init__(self) -> None:
        if self.sets < 1:
            raise ValueError("at least one set")


@dataclass(frozen=True, slots=True)
class Apart:
    """Each side in runs of its own: equal, one side only, or biased. ``alternate`` takes turns."""

    right_sets: int
    left_sets: int
    alternate: bool = False

    def __post_init__(self) -> None:
        if self.right_sets < 0 or self.left_sets < 0 or self.right_sets + self.left_sets < 1:
            raise ValueError("at least one set on one side")

    def order(self) -> tuple[Side, ...]:
        """The side of each run in the order of practice: right first, or turn about."""
        right, left = [Side.RIGHT] * self.right_sets, [Side.LEFT] * self.left_sets
        if not self.alternate:
            return tuple(right + left)
        out: list[Side] = []
        while right or left:
            out += right[:1] + left[:1]
            right, left = right[1:], left[1:]
        return tuple(out)


SidePlan = Together | Apart


@dataclass(frozen=True, slots=True)
class Dose:
    """What one session asks of one exercise: phases in order, sides, and the rest between runs."""

    phases: tuple[Phase, ...]
    sides: SidePlan
    rest: Span = ZERO
    left: tuple[Phase, ...] | None = None
    """The phases of the left side where they are not those of the right; None where both do the same."""

    def __post_init__(self) -> None:
        if not self.phases:
            raise ValueError("a dose has at least one phase")
        if self.left is None:
            return
        if not (isinstance(self.sides, Apart) and self.sides.right_sets and self.sides.left_sets):
            raise ValueError("phases of its own need a right and a left side that work apart")
        if [(p.kind, p.directions) for p in self.left] != [(p.kind, p.directions) for p in self.phases]:
            raise ValueError("both sides do the same parts; only how long and how often may differ")

    @property
    def uneven(self) -> bool:
        """Whether the left side does something else than the right."""
        return self.left is not None and self.left != self.phases

    @property
    def all_phases(self) -> tuple[Phase, ...]:
        """The phases of both sides: once where they are the same, else the right side's and then the left side's."""
        return (*self.phases, *(self.left or ()))

    def with_phases(self, phases: tuple[Phase, ...]) -> Dose:
        """The dose with all its phases changed, in the order of ``all_phases``."""
        parts = len(self.phases)
        return replace(self, phases=phases[:parts], left=phases[parts:] or None)

    def phases_of(self, side: Side) -> tuple[Phase, ...]:
        """What one run of ``side`` goes through."""
        return self.left if self.left is not None and side is Side.LEFT else self.phases

    @property
    def runs(self) -> int:
        """Passes through the phases, all sides."""
        s = self.sides
        return s.sets if isinstance(s, Together) else s.right_sets + s.left_sets

    def runs_of(self, side: Side) -> int:
        """Passes in which ``side`` takes part."""
        s = self.sides
        if isinstance(s, Together):
            return s.sets
        return s.right_sets if side is Side.RIGHT else s.left_sets

    def over_runs(self, of: Callable[[Phase], float]) -> float:
        """What a phase has, added up over all phases and all runs."""
        s = self.sides
        if isinstance(s, Together):
            return s.sets * sum(map(of, self.phases))
        return sum(self.runs_of(side) * sum(map(of, self.phases_of(side))) for side in Side)

    def practice_s(self, pace_s: float) -> float:
        """Seconds of all runs and the rests between them, without setup and settle."""
        return self.over_runs(lambda p: p.seconds(pace_s)) + (self.runs - 1) * self.rest.seconds(pace_s)

    def hands_on_s(self, side: Side, pace_s: float) -> float:
        """Seconds in which ``side`` is worked on, rests and pauses left out."""
        worked = sum(p.seconds(pace_s) for p in self.phases_of(side) if p.kind is not PhaseKind.PAUSE)
        return self.runs_of(side) * worked

    def loaded(self, pace_s: float) -> SideSeconds:
        """Seconds of lead and hold on both sides: the contraction time, if the family contracts."""

        def of(side: Side) -> float:
            work = (p for p in self.phases_of(side) if p.kind is not PhaseKind.PAUSE)
            return self.runs_of(side) * sum(p.load_s(pace_s) * sum(side in way.loads for way in p.directions) for p in work)

        return SideSeconds.each(of)

    def loaded_s(self, side: Side, pace_s: float) -> float:
        """Seconds of lead and hold on one side."""
        return self.loaded(pace_s).of(side)


def exercise_s(dose: Dose, pace_s: float, setup_s: float = 0.0, settle_s: float = 0.0) -> float:
    """Seconds of one exercise in a session: setup + runs x set + (runs - 1) x rest + settle."""
    return setup_s + dose.practice_s(pace_s) + settle_s
