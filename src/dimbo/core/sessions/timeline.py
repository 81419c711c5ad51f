"""One session to the second: how long it takes, and the timeline that practice plays."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import lru_cache
from typing import NamedTuple, TypeVar

from dimbo.core.anatomy import Side, SideSeconds
from dimbo.core.exercises.card import Card
from dimbo.core.exercises.dose import Dose, Phase, PhaseKind, Together, exercise_s
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Line, Settings

T = TypeVar("T")
NOTHING = SideSeconds(0.0, left=0.0)


@dataclass(frozen=True, slots=True)
class Item:
    """An exercise with its dose, in its place in a session. It remembers what was worked out of it."""

    line: Line
    dose: Dose
    goes_on: bool = False
    """Whether the next exercise flows on from it: the hands stay on the face, so it does not settle."""
    _memo: dict[object, object] = field(default_factory=dict, init=False, compare=False, repr=False)

    @property
    def card(self) -> Card:
        return self.line.card

    def _once(self, key: object, work: Callable[[], T]) -> T:
        if key not in self._memo:
            self._memo[key] = work()
        return self._memo[key]  # type: ignore[return-value]

    def going_on(self) -> Item:
        """The same with an exercise after it that flows on."""
        return self._once("on", lambda: replace(self, goes_on=True))

    @property
    def settle_s(self) -> float:
        """Seconds to settle after it."""
        return 0.0 if self.goes_on else self.card.settle_s

    def seconds(self, settings: Settings) -> float:
        """Seconds of the exercise in a session, with setup and settle."""
        pace_s = settings.pace_s
        return self._once(("s", pace_s), lambda: exercise_s(self.dose, pace_s, setup_s=self.card.setup_s, settle_s=self.settle_s))

    def contraction(self, pace_s: float) -> SideSeconds:
        """Seconds of contraction on each side; zero for families that do not contract."""
        if not self.card.family.contracts:
            return NOTHING
        return self._once(("c", pace_s), lambda: self.dose.loaded(pace_s))

    def hands_on(self, pace_s: float) -> SideSeconds:
        """Seconds in which each side is worked on, rests left out."""
        return self._once(("h", pace_s), lambda: SideSeconds.each(lambda side: self.dose.hands_on_s(side, pace_s)))

    def moments(self, side: Side | None, pace_s: float) -> tuple[_Run, ...]:
        """One pass of ``side`` through its phases, moment by moment."""
        own = side if self.dose.left is not None else None
        return self._once(("m", own, pace_s), lambda: _run(self.dose.phases_of(own or Side.RIGHT), pace_s))

    def load(self, pace_s: float) -> float:
        """What a rise from week to week is judged by, in seconds."""
        return self._once(("l", pace_s), lambda: load_s(self.dose, pace_s))


def flowing(items: Sequence[Item]) -> tuple[Item, ...]:
    """The exercises of a session in order, each told whether the next one flows on from it."""
    nexts = itertools.chain((i.line.flows for i in items[1:]), (False,))
    return tuple(item.going_on() if flows else item for item, flows in zip(items, nexts, strict=False))


def change_over_s(before: Card, after: Card, settings: Settings, oiled: bool = False, flows: bool = False) -> float:
    """Seconds between two exercises: longer when oil comes in, or is washed off for clean hands, lids, lips or a grip that must hold;
    none where the second ``flows`` on from the first, unless there is something to wash or to take. ``oiled`` says that there is oil
    from an exercise before."""
    washing = (oiled or before.oily) and after.wants_clean_hands
    if (after.oily and not before.oily) or washing or (after.inside_mouth and not before.inside_mouth):
        return settings.oil_change_over_s
    return 0.0 if flows else settings.change_over_s


def oiled_before(cards: Sequence[Card]) -> list[bool]:
    """Whether there is oil on skin and fingers as each exercise of a session is come to: it stays until it is washed off."""
    out, oiled = [], False
    for card in cards:
        out.append(oiled)
        oiled = card.oily or (oiled and not card.wants_clean_hands)
    return out


def change_overs(items: Sequence[Item], settings: Settings) -> list[float]:
    """Seconds of the change-over to each exercise of a session; none to the first."""
    oiled = oiled_before([i.card for i in items])
    pairs = enumerate(itertools.pairwise(items), start=1)
    return [0.0, *(change_over_s(a.card, after=b.card, settings=settings, oiled=oiled[n], flows=b.line.flows) for n, (a, b) in pairs)]


def session_s(items: Sequence[Item], settings: Settings) -> float:
    """Seconds of a session: its exercises and the change-overs between them."""
    return sum(item.seconds(settings) for item in items) + sum(change_overs(items, settings) if items else ())


def stretches(items: Sequence[Item], settings: Settings) -> list[tuple[float, float]]:
    """When each exercise of a session begins, and how long it takes, in seconds; change-overs lie between them."""
    out, now = [], 0.0
    for item, change in zip(items, change_overs(items, settings), strict=False):
        now += change
        out.append((now, item.seconds(settings)))
        now += out[-1][1]
    return out


class Beat(StrEnum):
    """What a moment of practice asks for."""

    SETUP = "setup"
    LEAD = "lead"
    HOLD = "hold"
    RELEASE = "release"
    MOVE = "move"
    """A timed stretch of strokes, circles, taps or press without a count of its own."""
    REST = "rest"
    PAUSE = "pause"
    SETTLE = "settle"
    CHANGE = "change"


class Cue(NamedTuple):
    """A stretch of the timeline. Places count from 1; ``side`` is None for both together."""

    start_s: float
    length_s: float
    beat: Beat
    item: int
    side: Side | None = None
    set_number: int = 0
    sets: int = 0
    rep: int = 0
    reps: int = 0
    phase: int = 0
    direction: str = ""


_Moment = tuple[float, Beat, int, int, int, str]
_Run = tuple[int, Beat, int, int, int, str]
"""The same with its length in milliseconds."""


_COUNTED = (PhaseKind.HOLD, PhaseKind.REPS, PhaseKind.BREATHS, PhaseKind.SPOTS)


def _only_timed(phase: Phase) -> bool:
    """Whether repetitions are dosed in time alone, such as twenty seconds of winks: a movement, and nothing that is held."""
    return phase.kind is PhaseKind.REPS and not phase.lead.amount and not phase.release.amount


def _phase_moments(number: int, phase: Phase, pace_s: float) -> Iterator[_Moment]:
    if phase.kind is PhaseKind.PAUSE:
        yield phase.hold.seconds(pace_s), Beat.PAUSE, 0, 0, number, ""
        return
    reps = phase.count(pace_s)
    timed = phase.reps == 1 and not phase.window and (phase.kind not in _COUNTED or _only_timed(phase))
    parts = [
        (length, Beat.MOVE if timed and beat is Beat.HOLD else beat)
        for span, beat in ((phase.lead, Beat.LEAD), (phase.hold, Beat.HOLD), (phase.release, Beat.RELEASE))
        if (length := span.seconds(pace_s)) > 0
    ]
    for way in phase.directions:
        name = way.name if len(phase.directions) > 1 else ""
        for rep in range(1, reps + 1):
            for length, beat in parts:
                yield length, beat, rep, reps, number, name
        if phase.window and (left := phase.window.seconds(pace_s) - reps * phase.rep_s(pace_s)) > 1e-9:
            yield left, Beat.PAUSE, 0, 0, number, name


def _ms(seconds: float) -> int:
    """Whole milliseconds: tenths of a count at a pace of two decimals have no smaller part, so nothing is lost."""
    return round(1000 * seconds)


@lru_cache(maxsize=4096)
def _run(phases: tuple[Phase, ...], pace_s: float) -> tuple[_Run, ...]:
    """One pass through the phases, moment by moment, in milliseconds; what has no length is left out."""
    moments = (m for n, phase in enumerate(phases, start=1) for m in _phase_moments(n, phase, pace_s))
    return tuple((_ms(m[0]), *m[1:]) for m in moments if m[0] > 0)


def timeline(items: Sequence[Item], settings: Settings) -> tuple[Cue, ...]:
    """The whole session as cues without gaps; their lengths add up to ``session_s``."""
    out: list[Cue] = []
    put, new = out.append, tuple.__new__  # a cue is made of its places at once: a long session has a thousand
    now = 0
    pace_s = settings.pace_s

    def add(seconds: float, beat: Beat, item: int, side: Side | None = None, set_number: int = 0, sets: int = 0) -> None:
        nonlocal now
        if (length := _ms(seconds)) > 0:
            put(Cue(now / 1000, length_s=length / 1000, beat=beat, item=item, side=side, set_number=set_number, sets=sets))
            now += length

    for index, (item, change) in enumerate(zip(items, change_overs(items, settings), strict=False)):
        add(change, Beat.CHANGE, index)
        add(item.card.setup_s, Beat.SETUP, index)
        dose = item.dose
        run_sides = [None] * dose.sides.sets if isinstance(dose.sides, Together) else dose.sides.order()
        seen: dict[Side | None, int] = {}
        for run, side in enumerate(run_sides):
            seen[side] = number = seen.get(side, 0) + 1
            sets = dose.runs_of(side or Side.RIGHT)
            if run:
                add(dose.rest.seconds(pace_s), Beat.REST, index, side, number, sets)
            for length, beat, rep, reps, phase, way in item.moments(side, pace_s):
                put(new(Cue, (now / 1000, length / 1000, beat, index, side, number, sets, rep, reps, phase, way)))
                now += length
        add(item.settle_s, Beat.SETTLE, index)
    return tuple(out)


def to_prepare(before: Card | None, after: Card, oiled: bool = False) -> tuple[str, ...]:
    """What the change-over to an exercise asks for, in the order in which it is done; nothing that is there already.
    ``oiled`` says that there is oil on skin and fingers."""
    out = []
    if after.inside_mouth and (before is None or not before.inside_mouth):
        out.append("Wash your hands" if oiled else "Clean hands, for inside the mouth")
    elif after.grips and oiled:
        out.append("Wash the oil off, so that the fingers hold")
    elif after.wants_clean_hands and oiled:
        out.append("Wash the oil off, so that none gets on lids and lips")
    if after.oily and not (before is not None and before.oily):
        out.append("A little oil on the fingertips")
    for need in after.needs:
        if need in _PREPARED and (before is None or need not in before.needs):
            out.append(_PREPARED[need])
    if (lies := _lies(after)) != (before is not None and _lies(before)):
        out.append("Lie down" if lies else "Sit up again, slowly")
    return tuple(dict.fromkeys(out))


def _lies(card: Card) -> bool:
    return "lying" in card.position.lower() and "seated" not in card.position.lower()


_PREPARED = {
    "mirror": "Face the mirror",
    "hand on forehead": "A hand on the forehead, to keep it still",
    "contact lenses out": "Contact lenses out",
}
