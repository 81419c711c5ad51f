"""The dose line: a dose as one short line that people type and read. Grammar in docs/dose-line.md.

A line is read against a card's ``DoseStyle``, which supplies what the line leaves unsaid, so
``parse(print_line(dose, style), style) == dose`` for every dose that the style can hold.
"""

from __future__ import annotations

import re
from functools import lru_cache

from .card import DoseStyle
from .dose import ZERO, Apart, Dose, Phase, PhaseKind, Together, print_span
from .dose_reading import SPOT_LEAD, Reader
from .dose_tokens import DoseLineError


@lru_cache(maxsize=8192)
def parse(text: str, style: DoseStyle) -> Dose:
    """Read a typed dose line against a card's style.

    Nothing is read otherwise than it is written: what is said twice, could mean two things or would last no time is refused. Raises
    DoseLineError, whose ``start`` and ``end`` point into ``text`` and whose ``instead``, where there is one, can be read.
    """
    try:
        return Reader(text, style).line()
    except DoseLineError as error:
        error.instead = _understood(error.instead, style)
        raise


def _understood(text: str, style: DoseStyle) -> str:
    """A suggested line as it would be printed; empty where it cannot be read itself."""
    try:
        return print_line(Reader(text, style).line(), style) if text else ""
    except DoseLineError:
        return ""


def _print_phase(phase: Phase, template: Phase) -> str:
    ways = "" if len(phase.directions) == len(template.directions) else f" d{len(phase.directions)}"
    if phase.kind is PhaseKind.PAUSE:
        return f"pause {print_span(phase.hold)}"
    if phase.kind is PhaseKind.TIMES:
        return f"{phase.reps} a day"
    if phase.kind is PhaseKind.BREATHS:
        return f"{phase.reps} in {print_span(phase.lead)} out {print_span(phase.release)}"
    if phase.kind is PhaseKind.SPOTS:
        lead = "" if phase.lead == SPOT_LEAD else f" l{print_span(phase.lead)}"
        release = f" r{print_span(phase.release)}" if phase.release.amount else ""
        return f"{phase.reps} spots h{print_span(phase.hold)}{lead}{release}{ways}"
    if phase.on_breath:
        return f"{phase.reps} out {print_span(phase.hold)} in {print_span(phase.release)}{ways}"
    timed = phase.window or (phase.hold if phase.reps == 1 and phase.lead == phase.release == ZERO else None)
    if timed is not None and (phase.window or timed.amount):
        head = f"{timed.amount:g} {timed.unit.value}"
        if phase.window is None:
            return head + ways
    else:
        head = str(phase.reps)
    out = [head]
    if phase.hold.amount or phase.window:
        out.append(f"h{print_span(phase.hold)}")
    if phase.lead != template.lead:
        out.append(f"l{print_span(phase.lead)}")
    if phase.release != template.release:
        out.append(f"r{print_span(phase.release)}")
    return " ".join(out) + ways


def _print_parts(phases: tuple[Phase, ...], style: DoseStyle) -> str:
    return " + ".join(_print_phase(p, template=style.phase(i)) for i, p in enumerate(phases))


def print_line(dose: Dose, style: DoseStyle) -> str:
    """The canonical line of a dose; what the style supplies is left away."""
    body = _print_parts(dose.phases, style)
    sides = dose.sides
    if isinstance(sides, Together):
        plain_time = re.match(r"[\d.]+ [sc]", body) or dose.phases[0].kind in (PhaseKind.BREATHS, PhaseKind.PAUSE, PhaseKind.TIMES)
        out = body if sides.sets == 1 and plain_time else f"{sides.sets}×{body}"
    elif dose.left is not None and dose.uneven:
        out = f"R{sides.right_sets} ×{body} / L{sides.left_sets} ×{_print_parts(dose.left, style)}"
    else:
        named = [f"R{sides.right_sets}" if sides.right_sets else "", f"L{sides.left_sets}" if sides.left_sets else ""]
        out = f"{' '.join(n for n in named if n)} ×{body}"
    if dose.rest != style.rest:
        out += f" rest {print_span(dose.rest)}"
    if isinstance(sides, Apart) and sides.alternate:
        out += " alt"
    return out
