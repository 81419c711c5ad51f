"""The dose line: a dose as one short line that people type and read. Grammar in docs/dose-line.md.

A line is read against a card's ``DoseStyle``, which supplies what the line leaves unsaid, so
``parse(print_line(dose, style), style) == dose`` for every dose that the style can hold.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from .card import DoseStyle, SideRule
from .dose import ZERO, Apart, Dose, Phase, PhaseKind, SidePlan, Span, Together, Unit

MAX_SETS, MAX_REPS, MAX_SPAN_S, MAX_PHASES = 12, 120, 600.0, 6

_TOKEN = re.compile(r"(?P<number>\d+(?:[.,]\d+)?)|(?P<word>[^\W\d_]+)|(?P<times>[×x*])|(?P<plus>\+)|(?P<bad>\S)", re.I)
_TIMES = {"x", "×", "*"}
_SECONDS = {"s", "sec", "secs", "second", "seconds"}
_MINUTES = {"min", "mins", "minute", "minutes"}
_COUNTS = {"c", "count", "counts"}
_RIGHT, _LEFT = {"r", "right"}, {"l", "left"}
_HOLD, _RELEASE, _LEAD = {"h", "hold", "holds"}, {"r", "release"}, {"l", "lead"}
_REP_WORDS = {"rep", "reps", "times", "stroke", "strokes", "circle", "circles", "breath", "breaths"}


class DoseLineError(ValueError):
    """A line that cannot be read. ``start`` and ``end`` bound the place in the typed text."""

    def __init__(self, message: str, text: str, start: int, end: int) -> None:
        super().__init__(message)
        self.message, self.text, self.start, self.end = message, text, start, max(end, start + 1)


@dataclass(frozen=True, slots=True)
class _Token:
    kind: str
    text: str
    start: int
    end: int


def _tokens(text: str) -> list[_Token]:
    out: list[_Token] = []
    for m in _TOKEN.finditer(text):
        kind, word = str(m.lastgroup), m.group().lower()
        if kind == "word" and word in _TIMES:
            kind = "times"
        elif kind == "word" and word[0] == "x" and word[1:] in ("h", "r", "l"):  # "2xh5" and the like
            out.append(_Token("times", text="x", start=m.start(), end=m.start() + 1))
            out.append(_Token("word", text=word[1:], start=m.start() + 1, end=m.end()))
            continue
        elif kind == "word" and word[-1] == "x" and word[:-1] in (_RIGHT | _LEFT | {"set", "sets"}):
            out.append(_Token("word", text=word[:-1], start=m.start(), end=m.end() - 1))
            out.append(_Token("times", text="x", start=m.end() - 1, end=m.end()))
            continue
        elif kind == "bad":
            if m.group() in ",;:()":
                continue
            raise DoseLineError(f"“{m.group()}” has no meaning here", text, m.start(), m.end())
        out.append(_Token(kind, text=word, start=m.start(), end=m.end()))
    return out


class _Reader:
    """Reads one line from left to right; every refusal names its place and what was expected."""

    def __init__(self, text: str, style: DoseStyle) -> None:
        self.text, self.style, self.at, self.tokens = text, style, 0, _tokens(text)

    def fail(self, message: str, token: _Token | None = None) -> DoseLineError:
        token = token or self.peek()
        if token is None:
            end = len(self.text.rstrip())
            return DoseLineError(f"{message}; the line ends here", self.text, end, end + 1)
        return DoseLineError(message, self.text, token.start, token.end)

    def peek(self, ahead: int = 0) -> _Token | None:
        return self.tokens[self.at + ahead] if self.at + ahead < len(self.tokens) else None

    def is_word(self, words: set[str], ahead: int = 0) -> bool:
        token = self.peek(ahead)
        return token is not None and token.kind == "word" and token.text in words

    def is_kind(self, kind: str, ahead: int = 0) -> bool:
        token = self.peek(ahead)
        return token is not None and token.kind == kind

    def skip_word(self, words: set[str]) -> bool:
        if self.is_word(words):
            self.at += 1
            return True
        return False

    def number(self, what: str) -> tuple[float, _Token]:
        token = self.peek()
        if token is None or token.kind != "number":
            raise self.fail(f"expected {what}")
        self.at += 1
        return float(token.text.replace(",", ".")), token

    def whole(self, what: str, most: int, least: int = 1) -> int:
        value, token = self.number(what)
        if value != int(value):
            raise self.fail(f"{what} is a whole number", token)
        if not least <= value <= most:
            raise self.fail(f"{what} must be {least} to {most}", token)
        return int(value)

    def span(self, what: str) -> Span:
        value, token = self.number(f"{what} in seconds or counts, such as 5 or 10 c")
        unit = Unit.SECONDS
        if self.skip_word(_COUNTS):
            unit = Unit.COUNTS
        elif self.skip_word(_MINUTES):
            value *= 60
        else:
            self.skip_word(_SECONDS)
        if abs(value * 10 - round(value * 10)) > 1e-6:
            raise self.fail(f"{what} is kept to a tenth", token)
        if value > MAX_SPAN_S:
            raise self.fail(f"{what} is at most {MAX_SPAN_S:g}", token)
        return Span(round(value, 1), unit)

    # line = [sides] phase { "+" phase } { extra }
    def line(self) -> Dose:
        if not self.tokens:
            raise DoseLineError("expected a dose, such as 2×8 h5 or 30 s", self.text, 0, 1)
        sides = self.sides()
        phases = [self.phase(0)]
        while self.is_kind("plus"):
            self.at += 1
            if len(phases) >= MAX_PHASES:
                raise self.fail(f"at most {MAX_PHASES} phases")
            phases.append(self.phase(len(phases)))
        rest, alternate = self.style.rest, False
        while self.peek() is not None:
            if self.skip_word({"rest"}):
                rest = self.span("the rest between sets")
            elif self.is_word({"alt", "alternate", "alternating"}):
                if not isinstance(sides, Apart):
                    raise self.fail("sides can take turns only when they work apart, such as R2 L2 ×5 alt")
                self.at += 1
                alternate = True
            else:
                raise self.fail("expected h, r, l, +, rest, or the end of the line")
        if alternate and isinstance(sides, Apart):
            sides = Apart(sides.right_sets, left_sets=sides.left_sets, alternate=True)
        return Dose(tuple(phases), sides, rest)

    def sides(self) -> SidePlan:
        if self.is_word(_RIGHT | _LEFT):
            return self.apart()
        if self.is_kind("number") and (self.is_kind("times", 1) or self.is_word({"set", "sets"}, 1)):
            start = self.peek()
            sets = self.whole("the number of sets", MAX_SETS)
            self.skip_word({"set", "sets"})
            if self.is_kind("times"):
                self.at += 1
            else:
                self.skip_word({"of"})
            if self.style.side_rule is not SideRule.TOGETHER:
                raise self.fail(f"this exercise works each side apart: write R{sets} L{sets} ×", start)
            return Together(sets)
        if self.style.side_rule is not SideRule.TOGETHER:
            return Apart(1, left_sets=1)
        return Together(1)

    def apart(self) -> Apart:
        sets = {"right": 0, "left": 0}
        start = self.peek()
        for _ in range(2):
            side = "right" if self.is_word(_RIGHT) else "left" if self.is_word(_LEFT) else None
            if side is None:
                break
            if sets[side]:
                raise self.fail(f"{side} is named twice")
            self.at += 1
            sets[side] = self.whole(f"the number of {side} sets", MAX_SETS, least=0)
        if self.style.side_rule is SideRule.TOGETHER:
            raise self.fail("this exercise works both sides together; leave R and L away", start)
        if not sum(sets.values()):
            raise self.fail("at least one side needs a set", start)
        if self.is_kind("times"):
            self.at += 1
        else:
            raise self.fail("expected × and the repetitions after the sides")
        return Apart(sets["right"], left_sets=sets["left"])

    def phase(self, index: int) -> Phase:
        if self.skip_word({"pause"}):
            return Phase(kind=PhaseKind.PAUSE, hold=self.span("the pause"))
        template = self.style.phase(index)
        if self.is_kind("number") and self.is_word(_SECONDS | _MINUTES | _COUNTS, 1):
            return self.timed(template)
        reps = self.whole("the number of repetitions", MAX_REPS)
        self.skip_word(_REP_WORDS)
        kind = template.kind
        if self.is_word({"in"}) or kind is PhaseKind.BREATHS:
            return self.breaths(reps, template)
        if kind is PhaseKind.TIMES:
            while self.skip_word({"a", "per", "day", "daily"}):
                pass
            return Phase(kind=kind, reps=reps)
        lead, hold, release, ways = self.timings(template)
        return Phase(kind=kind, reps=reps, lead=lead, hold=hold or ZERO, release=release, directions=template.directions[:ways])

    def timed(self, template: Phase) -> Phase:
        whole = self.span("the time")
        if whole.amount == 0:
            raise self.fail("a time of nothing is no dose", self.tokens[self.at - 1])
        place = self.peek()
        lead, hold, release, ways = self.timings(template)
        directions = template.directions[:ways]
        if hold is None:
            if place is not None and self.peek() is not place and (lead, release) != (template.lead, template.release):
                raise self.fail("a plain time has no lead or release", place)
            return Phase(kind=template.kind, hold=whole, directions=directions)
        if lead.amount + hold.amount + release.amount == 0:
            raise self.fail("a fixed window needs a hold, lead or release to fill it", place)
        return Phase(kind=template.kind, reps=1, lead=lead, hold=hold, release=release, directions=directions, window=whole)

    def breaths(self, reps: int, template: Phase) -> Phase:
        if template.kind is not PhaseKind.BREATHS:
            raise self.fail("only breathing is dosed as in and out")
        lead, release = template.lead, template.release
        if self.skip_word({"in"}):
            lead = self.span("the breath in")
            if not self.skip_word({"out"}):
                raise self.fail("expected out and the seconds of the breath out")
            release = self.span("the breath out")
        return Phase(kind=PhaseKind.BREATHS, reps=reps, lead=lead, hold=ZERO, release=release)

    def timings(self, template: Phase) -> tuple[Span, Span | None, Span, int]:
        lead, release, ways = template.lead, template.release, len(template.directions)
        hold: Span | None = None
        while True:
            if self.skip_word(_HOLD):
                hold = self.span("the hold")
            elif self.skip_word(_RELEASE):
                release = self.span("the release")
            elif self.skip_word(_LEAD):
                lead = self.span("the lead")
            elif self.is_word({"d", "ways", "directions"}):
                self.at += 1
                if ways == 1:
                    raise self.fail("this exercise has one direction only", self.tokens[self.at - 1])
                ways = self.whole("the number of directions", len(template.directions))
            else:
                return lead, hold, release, ways


@lru_cache(maxsize=8192)
def parse(text: str, style: DoseStyle) -> Dose:
    """Read a typed dose line against a card's style.

    Raises DoseLineError, whose ``start`` and ``end`` point into ``text``.
    """
    return _Reader(text, style).line()


def print_span(span: Span) -> str:
    """A span as the line writes it: seconds bare, counts with a c."""
    return f"{span.amount:g}{'c' if span.unit is Unit.COUNTS else ''}"


def _print_phase(phase: Phase, template: Phase) -> str:
    ways = "" if len(phase.directions) == len(template.directions) else f" d{len(phase.directions)}"
    if phase.kind is PhaseKind.PAUSE:
        return f"pause {print_span(phase.hold)}"
    if phase.kind is PhaseKind.TIMES:
        return f"{phase.reps} a day"
    if phase.kind is PhaseKind.BREATHS:
        return f"{phase.reps} in {print_span(phase.lead)} out {print_span(phase.release)}"
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


def print_line(dose: Dose, style: DoseStyle) -> str:
    """The canonical line of a dose; what the style supplies is left away."""
    body = " + ".join(_print_phase(p, template=style.phase(i)) for i, p in enumerate(dose.phases))
    sides = dose.sides
    if isinstance(sides, Together):
        plain_time = re.match(r"[\d.]+ [sc]", body) or dose.phases[0].kind in (PhaseKind.BREATHS, PhaseKind.PAUSE, PhaseKind.TIMES)
        out = body if sides.sets == 1 and plain_time else f"{sides.sets}×{body}"
    else:
        named = [f"R{sides.right_sets}" if sides.right_sets else "", f"L{sides.left_sets}" if sides.left_sets else ""]
        out = f"{' '.join(n for n in named if n)} ×{body}"
    if dose.rest != style.rest:
        out += f" rest {print_span(dose.rest)}"
    if isinstance(sides, Apart) and sides.alternate:
        out += " alt"
    return out
