"""A dose in words, for those who never learned dose lines."""

from __future__ import annotations

from dimbo.core.anatomy import Side
from dimbo.core.text import join_words

from .dose import Apart, Dose, Phase, PhaseKind, Span, Together, Unit

_ONE = {
    PhaseKind.HOLD: ("time", "times"),
    PhaseKind.REPS: ("time", "times"),
    PhaseKind.STROKES: ("stroke", "strokes"),
    PhaseKind.CIRCLES: ("circle", "circles"),
    PhaseKind.PRESS: ("press", "presses"),
    PhaseKind.TAP: ("tap", "taps"),
    PhaseKind.BREATHS: ("breath", "breaths"),
}


def _span(span: Span, pace_s: float) -> str:
    """A time; counts are told with their seconds."""
    if span.unit is Unit.COUNTS:
        return f"{span.amount:g} counts ({span.seconds(pace_s):g} s)"
    if span.amount >= 60 and span.amount % 30 == 0:
        return f"{span.amount / 60:g} min"
    return f"{span.amount:g} s"


def _phase(phase: Phase, pace_s: float) -> str:
    if phase.kind is PhaseKind.PAUSE:
        return f"pause {_span(phase.hold, pace_s)}"
    if phase.kind is PhaseKind.TIMES:
        return f"{phase.reps} times a day" if phase.reps > 1 else "once a day"
    ways = f", each way: {join_words([d.name for d in phase.directions])}" if len(phase.directions) > 1 else ""
    if phase.kind is PhaseKind.BREATHS:
        return f"{phase.reps} breaths, in {phase.lead.amount:g} s, out {phase.release.amount:g} s"
    if phase.kind is PhaseKind.SPOTS:
        return f"{phase.reps} spot{'s' if phase.reps > 1 else ''}, {_span(phase.hold, pace_s)} at each{ways}"
    if phase.on_breath:
        out, back = _span(phase.hold, pace_s), _span(phase.release, pace_s)
        return f"{phase.reps} breath{'s' if phase.reps > 1 else ''}: work for {out} out, let go for {back} in{ways}"
    if phase.window is not None:
        return f"for {_span(phase.window, pace_s)}: hold {_span(phase.hold, pace_s)}, let go, again{ways}"
    timed = phase.reps == 1 and phase.hold.amount and not phase.lead.amount and not phase.release.amount
    if timed:
        return f"for {_span(phase.hold, pace_s)}{ways}"
    one, many = _ONE[phase.kind]
    count = f"{phase.reps} {one if phase.reps == 1 else many}" if phase.reps != 1 or one != "time" else "once"
    hold = f", hold {_span(phase.hold, pace_s)}" if phase.hold.amount else ""
    return f"{count}{hold}{ways}"


def in_words(dose: Dose, pace_s: float) -> str:
    """A dose as a sentence: "2 sets of 8 times, hold 5 s; rest 10 s between"."""

    def parts(phases: tuple[Phase, ...]) -> str:
        return ", then ".join(_phase(p, pace_s) for p in phases)

    body, sides = parts(dose.phases), dose.sides
    if isinstance(sides, Together):
        out = body if sides.sets == 1 else f"{sides.sets} sets of {body}"
    elif dose.uneven:
        each = (f"{s.value} {dose.runs_of(s)}×: {parts(dose.phases_of(s))}" for s in Side)
        out = "; ".join(each) + (", turn about" if sides.alternate else "")
    else:
        named = [f"{side.value} {dose.runs_of(side)}×" for side in Side if dose.runs_of(side)]
        only = [s for s in Side if dose.runs_of(s)]
        if len(only) == 1 and dose.runs == 1:
            out = f"{only[0].value} side only: {body}"
        elif isinstance(sides, Apart) and sides.right_sets == sides.left_sets == 1:
            out = f"right, then left: {body}"
        else:
            out = f"{join_words(named)}{', turn about' if sides.alternate else ''}: {body}"
    if dose.runs > 1 and dose.rest.amount:
        out += f"; rest {_span(dose.rest, pace_s)} between"
    return out
