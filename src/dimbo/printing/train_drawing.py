"""A pulse train as a drawing in black: right above the line and filled, left below it in outline, both together around it."""

from __future__ import annotations

from dimbo.core.exercises.pulse_train import Train

STROKE_S = 2.5
"""A timed stretch of strokes, circles or taps has no count; it is drawn as so many of this length."""
WIDTH, HEIGHT = 300.0, 13.0
"""Of the drawing, points; the longest train of a session fills the width."""
_INK = "#1c1420"
_TIMED = frozenset({"strokes", "circles", "tap", "press"})


def train_svg(train: Train, longest_s: float) -> str:
    """The drawing of a train as SVG; ``longest_s`` seconds fill its width."""
    scale, middle = WIDTH / max(longest_s, 1.0), HEIGHT / 2
    parts = [f'<path d="M0 {middle}H{train.total_s * scale:.2f}"/>']
    now = 0.0
    for number, run in enumerate(train.runs):
        now += train.rest_s if number else 0.0
        for phase in train.phases_of(run):
            each = phase.lead_s + phase.hold_s + phase.release_s
            if phase.kind in ("pause", "times"):
                now += each
                continue
            drawn = max(1, round(each / STROKE_S)) if phase.reps == 1 and phase.kind in _TIMED else phase.reps
            share = phase.reps / drawn
            lead, hold, release = (t * share * scale for t in (phase.lead_s, phase.hold_s, phase.release_s))
            for _ in range(drawn * phase.directions):
                parts.append(_pulse(now * scale, lead=lead, hold=hold, release=release, run=run, kind=phase.kind))
                now += each * share
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}">'
        f'<g fill="none" stroke="{_INK}" stroke-width="0.5" stroke-linejoin="round">{"".join(parts)}</g></svg>'
    )


def _pulse(x: float, lead: float, hold: float, release: float, run: str, kind: str) -> str:
    middle = HEIGHT / 2
    up = 0.0 if run == "left" else middle - 0.6
    down = 0.0 if run == "right" else middle - 0.6
    if kind in ("tap", "press"):
        at = x + (lead + hold + release) / 2
        return f'<path d="M{at:.2f} {middle + down * 0.8:.2f}V{middle - up * 0.8:.2f}"/>'
    outline = kind in ("strokes", "circles", "breaths", "spots") or run == "left"
    held, sunk = x + lead + hold, x + lead + hold + release * 0.7
    return (
        f'<path d="M{x:.2f} {middle}L{x + lead:.2f} {middle - up:.2f}H{held:.2f}L{sunk:.2f} {middle}'
        f'L{held:.2f} {middle + down:.2f}H{x + lead:.2f}Z"{"" if outline else f" fill={chr(34)}{_INK}{chr(34)}"}/>'
    )
