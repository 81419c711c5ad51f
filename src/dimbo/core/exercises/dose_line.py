"""The dose line: a dose as one short line that people type and read. Grammar in docs/dose-line.md.

A line is read against a card's ``DoseStyle``, which supplies what the line leaves unsaid, so
``parse(print_line(dose, style), style) == dose`` for every dose that the style can hold.
"""

from __future__ import annotations

import re
from functools import lru_cache

from .card import DoseStyle, SideRule
from .dose import DEFAULT_PACE_S, MAX_PACE_S, MIN_PACE_S, ZERO, Apart, Dose, Phase, PhaseKind, SidePlan, Span, Together, Unit
from .dose_tokens import COUNTS, LEFT, MINUTES, REPS, RIGHT, SECONDS, SETS, DoseLineError, Token, tokens

MAX_SETS, MAX_REPS, MAX_SPAN_S, MAX_PHASES = 12, 120, 600.0, 6

_HOLD, _RELEASE, _LEAD = {"h", "hold", "holds"}, {"r", "release"}, {"l", "lead"}
_EACH = {"each", "per"}
_WAYS = {"d", "ways", "directions"}


class _Reader:
    """Reads one line from left to right; every refusal names its place, what was expected, and a line to take instead."""

    def __init__(self, text: str, style: DoseStyle) -> None:
        self.text, self.style, self.at, self.tokens = text, style, 0, tokens(text)
        self.said: dict[str, Token] = {}
        """What was said already, so that nothing said twice is dropped."""

    def fail(self, message: str, token: Token | None = None, instead: str = "") -> DoseLineError:
        token = token or self.peek()
        if token is None:
            end = len(self.text.rstrip())
            return DoseLineError(f"{message}; the line ends here", self.text, end, end + 1, instead)
        return DoseLineError(message, self.text, token.start, token.end, instead)

    def without(self, first: Token, last: Token | None = None, put: str = "") -> str:
        """The typed line with a stretch replaced."""
        end = (last or first).end
        return " ".join(f"{self.text[: first.start]} {put} {self.text[end:]}".split())

    def as_reps(self) -> str:
        """The typed line with its first number as repetitions: 8x h5 is eight times, and not eight sets of nothing."""
        return re.sub(r"^(\s*\d+)\s*[x×*]\s*", r"\1 ", self.text)

    def once(self, what: str, token: Token) -> None:
        """Note that something is said. Raises DoseLineError when it was said before."""
        if what in self.said:
            raise self.fail(f"{what} is said twice, here and before: keep one", token)
        self.said[what] = token

    def peek(self, ahead: int = 0) -> Token | None:
        return self.tokens[self.at + ahead] if self.at + ahead < len(self.tokens) else None

    def next(self) -> Token:
        token = self.tokens[self.at]
        self.at += 1
        return token

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

    def number(self, what: str) -> tuple[float, Token]:
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
        token = self.peek()
        if token is not None and token.kind == "clock":
            minutes, seconds = map(int, self.next().text.split(":"))
            return self.bounded(what, 60.0 * minutes + seconds, token)
        value, token = self.number(f"{what} in seconds or counts, such as 5 or 10 c")
        if self.skip_word(COUNTS):
            return self.bounded(what, value, token, Unit.COUNTS)
        if self.skip_word(MINUTES):
            value *= 60
            if self.is_kind("number") and self.is_word(SECONDS, 1):
                value += self.number("the seconds")[0]
        self.skip_word(SECONDS)
        return self.bounded(what, value, token)

    def bounded(self, what: str, value: float, token: Token, unit: Unit = Unit.SECONDS) -> Span:
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
        while (token := self.peek()) is not None:
            if self.skip_word({"rest"}):
                self.once("the rest", token)
                rest = self.span("the rest between sets")
            elif self.is_word({"alt", "alternate", "alternating"}):
                self.once("alt", token)
                if not isinstance(sides, Apart):
                    raise self.fail("sides can take turns only when they work apart, such as R2 L2 ×5 alt")
                self.at += 1
                alternate = True
            elif self.is_kind("times") or (token.kind == "number" and self.is_word(SETS, 1)):
                sides = self.sets_behind(token)
            elif self.is_word(_EACH) or (self.is_word({"both"}) and self.is_word({"sides"}, 1)):
                self.each_side(token)
            else:
                raise self.misplaced(token)
        if alternate and isinstance(sides, Apart):
            sides = Apart(sides.right_sets, left_sets=sides.left_sets, alternate=True)
        return Dose(tuple(phases), sides, rest)

    def misplaced(self, token: Token) -> DoseLineError:
        """What cannot stand behind the repetitions."""
        if token.raw in ("R", "L"):
            return self.fail(
                f"{token.raw} is the client's {'right' if token.raw == 'R' else 'left'} side and stands in front; "
                f"a {'release' if token.raw == 'R' else 'lead'} is written {token.text}",
                token,
                self.sides_in_front(),
            )
        return self.fail("expected a hold (h5), release (r2), lead (l1), rest, + and a further part, or the end", token)

    def sides_in_front(self) -> str:
        """The line with its R and L moved to the front; as plain sets where the exercise works both sides together."""
        found = {m.group(1): m for m in re.finditer(r"\b([RL])\s*(\d+)", self.text)}
        rest = " ".join(re.sub(r"\b[RL]\s*\d+", " ", self.text).split())
        if self.style.side_rule is not SideRule.TOGETHER:
            head = " ".join(f"{side}{found[side].group(2)}" for side in ("R", "L") if side in found)
            return f"{head} ×{rest.lstrip('×xX* ')}"
        counts = {m.group(2) for m in found.values()}
        return f"{counts.pop()}×{rest.lstrip('×xX* ')}" if len(found) == 2 and len(counts) == 1 else ""

    def sets_behind(self, token: Token) -> SidePlan:
        """Sets that are named behind the repetitions: 8 h5 x2, 8 reps 2 sets."""
        self.once("the number of sets", token)
        if self.is_kind("times"):
            self.at += 1
        sets = self.whole("the number of sets", MAX_SETS)
        self.skip_word(SETS)
        return Together(sets) if self.style.side_rule is SideRule.TOGETHER else Apart(sets, left_sets=sets)

    def each_side(self, token: Token) -> None:
        """That both sides do it, as an exercise that works each side apart does anyway."""
        self.once("each side", token)
        self.at += 1
        if not self.skip_word({"side", "sides"}):
            raise self.fail("expected side, as in 8 h5 each side")
        if self.style.side_rule is SideRule.TOGETHER:
            raise self.fail("this exercise works both sides together; leave it away", token, self.text[: token.start].strip())
        if "the sides" in self.said:
            raise self.fail("the sides are named already", token)

    def sides(self) -> SidePlan:
        if self.is_word(RIGHT | LEFT) and self.is_kind("number", 1):
            return self.apart()
        if self.is_kind("number") and (self.is_kind("times", 1) or self.is_word(SETS, 1)):
            start = self.tokens[self.at]
            self.said["the number of sets"] = start
            sets = self.whole("the number of sets", MAX_SETS)
            last = self.next()
            if last.kind == "word" and not self.skip_word({"of"}) and self.is_kind("times"):
                last = self.next()
            if not (self.is_kind("number") or self.is_kind("clock") or self.is_word(_HOLD | {"pause"})):
                raise self.fail("expected the repetitions after the sets", instead=self.without(last))
            if self.style.side_rule is not SideRule.TOGETHER:
                named = f"R{sets} L{sets} ×"
                counted = self.is_kind("number") or self.is_kind("clock")
                wanted = self.without(start, last=self.tokens[self.at - 1], put=named).replace("× ", "×") if counted else self.as_reps()
                raise self.fail(
                    f"this exercise works each side apart: write {named}{'' if counted else ' and the repetitions'}", start, wanted
                )
            return Together(sets)
        if self.style.side_rule is not SideRule.TOGETHER:
            return Apart(1, left_sets=1)
        return Together(1)

    def apart(self) -> Apart:
        sets = {"right": 0, "left": 0}
        start = self.tokens[self.at]
        for what in ("the number of sets", "the sides"):
            self.said[what] = start
        for _ in range(2):
            side = "right" if self.is_word(RIGHT) else "left" if self.is_word(LEFT) else None
            if side is None:
                break
            if sets[side]:
                raise self.fail(f"{side} is named twice")
            self.at += 1
            sets[side] = self.whole(f"the number of {side} sets", MAX_SETS, least=0)
        if self.style.side_rule is SideRule.TOGETHER:
            times = self.without(start, last=self.tokens[self.at - 1], put=f"{sets['right']}") if sets["right"] == sets["left"] else ""
            raise self.fail("this exercise works both sides together; leave R and L away", start, times)
        if not sum(sets.values()):
            raise self.fail("at least one side needs a set", start)
        if self.is_kind("times"):
            self.at += 1
        else:
            raise self.fail("expected × and the repetitions after the sides")
        return Apart(sets["right"], left_sets=sets["left"])

    def phase(self, index: int) -> Phase:
        start, self.said = self.peek(), {k: t for k, t in self.said.items() if k not in _OF_PHASE}
        phase = self.read_phase(index)
        if phase.kind is PhaseKind.TIMES or phase.seconds(MIN_PACE_S) > 0:
            return phase
        lasts = "a pause of nothing" if phase.kind is PhaseKind.PAUSE else "this lasts no time: say for how long, such as 20 s or h5"
        instead = self.without(start, put=f"{phase.reps} s") if start and start.kind == "number" and phase.reps > 1 else ""
        raise self.fail(lasts, start, instead)

    def read_phase(self, index: int) -> Phase:
        if self.skip_word({"pause"}):
            return Phase(kind=PhaseKind.PAUSE, hold=self.span("the pause"))
        template = self.style.phase(index)
        if self.is_kind("clock") or (self.is_kind("number") and self.is_word(SECONDS | MINUTES | COUNTS, 1)):
            return self.timed(template)
        if self.is_word(_HOLD) and template.kind is not PhaseKind.BREATHS:
            return self.hold_first(template)
        reps = self.whole("the number of repetitions", MAX_REPS)
        self.skip_word(REPS)
        kind = template.kind
        if self.is_word({"in"}) or kind is PhaseKind.BREATHS:
            return self.breaths(reps, template)
        if kind is PhaseKind.TIMES:
            while self.skip_word({"a", "per", "day", "daily"}):
                pass
            return Phase(kind=kind, reps=reps)
        lead, hold, release, ways = self.timings(template)
        return Phase(kind=kind, reps=reps, lead=lead, hold=hold or ZERO, release=release, directions=template.directions[:ways])

    def hold_first(self, template: Phase) -> Phase:
        """The hold named before the repetitions: hold 5, 8 reps."""
        lead, hold, release, ways = self.timings(template)
        if self.is_kind("times"):
            self.at += 1
        if not self.is_kind("number"):
            raise self.fail("expected the number of repetitions, as in 8 h5 or 2×8 h5", instead=self.as_reps())
        reps = self.whole("the number of repetitions", MAX_REPS)
        self.skip_word(REPS)
        return Phase(kind=template.kind, reps=reps, lead=lead, hold=hold or ZERO, release=release, directions=template.directions[:ways])

    def timed(self, template: Phase) -> Phase:
        start = self.tokens[self.at]
        whole = self.span("the time")
        if whole.amount == 0:
            raise self.fail("a time of nothing is no dose", self.tokens[self.at - 1])
        if template.kind is PhaseKind.BREATHS:
            raise self.breaths_in(whole, start, template)
        place = self.peek()
        lead, hold, release, ways = self.timings(template)
        directions = template.directions[:ways]
        if hold is None:
            if place is not None and self.peek() is not place and (lead, release) != (template.lead, template.release):
                raise self.fail("a plain time has no lead or release", place)
            return Phase(kind=template.kind, hold=whole, directions=directions)
        if lead.amount + hold.amount + release.amount == 0:
            raise self.fail("a fixed window needs a hold, lead or release to fill it", place)
        found = Phase(kind=template.kind, reps=1, lead=lead, hold=hold, release=release, directions=directions, window=whole)
        if not any(found.count(pace) for pace in (MIN_PACE_S, MAX_PACE_S)):
            each = found.rep_s(MIN_PACE_S)
            raise self.fail(f"not one repetition of {each:g} s fits into {whole.seconds(MIN_PACE_S):g} s", start)
        return found

    def breaths_in(self, whole: Span, start: Token, template: Phase) -> DoseLineError:
        """Breaths are counted: the number of them that a time comes nearest to."""
        each = template.rep_s(DEFAULT_PACE_S)
        near = max(1, round(whole.seconds(DEFAULT_PACE_S) / each)) if each else 0
        said = f"{near} in {print_span(template.lead)} out {print_span(template.release)}"
        fit = f": {said} takes {near * each:g} s" if near else ""
        return self.fail(f"breaths are counted, not timed{fit}", start, said if near else "")

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
        while (token := self.peek()) is not None and token.raw not in ("R", "L"):  # in capitals they are sides
            if self.skip_word(_HOLD):
                self.once("the hold", token)
                hold = self.span("the hold")
            elif self.skip_word(_RELEASE):
                self.once("the release", token)
                release = self.span("the release")
            elif self.skip_word(_LEAD):
                self.once("the lead", token)
                lead = self.span("the lead")
            elif self.is_word(_WAYS):
                self.once("the directions", token)
                self.at += 1
                if ways == 1:
                    raise self.fail("this exercise has one direction only", self.tokens[self.at - 1])
                ways = self.whole("the number of directions", len(template.directions))
            else:
                break
        return lead, hold, release, ways


_OF_PHASE = {"the hold", "the release", "the lead", "the directions"}


@lru_cache(maxsize=8192)
def parse(text: str, style: DoseStyle) -> Dose:
    """Read a typed dose line against a card's style.

    Nothing is read otherwise than it is written: what is said twice, could mean two things or would last no time is refused. Raises
    DoseLineError, whose ``start`` and ``end`` point into ``text`` and whose ``instead``, where there is one, can be read.
    """
    try:
        return _Reader(text, style).line()
    except DoseLineError as error:
        error.instead = _understood(error.instead, style)
        raise


def _understood(text: str, style: DoseStyle) -> str:
    """A suggested line as it would be printed; empty where it cannot be read itself."""
    try:
        return print_line(_Reader(text, style).line(), style) if text else ""
    except DoseLineError:
        return ""


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
