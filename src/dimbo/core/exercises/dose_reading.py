"""Reading a dose line from left to right; grammar in docs/dose-line.md."""

from __future__ import annotations

import re

from .card import DoseStyle, SideRule
from .dose import DEFAULT_PACE_S, MAX_PACE_S, MIN_PACE_S, ZERO, Apart, Dose, Phase, PhaseKind, SidePlan, Span, Together, Unit, print_span
from .dose_tokens import COUNTS, LEFT, MINUTES, REPS, RIGHT, SECONDS, SETS, DoseLineError, Token, tokens

MAX_SETS, MAX_REPS, MAX_SPAN_S, MAX_PHASES = 12, 120, 600.0, 6
SPOT_LEAD = Span(1)
"""A moment to go on to the next spot."""

_HOLD, _RELEASE, _LEAD = {"h", "hold", "holds"}, {"r", "release"}, {"l", "lead"}
_EACH = {"each", "per"}
_WAYS = {"d", "ways", "directions"}
_SPOTS = {"spot", "spots", "places"}
_WALKED = (PhaseKind.STROKES, PhaseKind.CIRCLES, PhaseKind.PRESS, PhaseKind.TAP)
"""Kinds that can be walked spot by spot."""
_WITH_BREATH = (PhaseKind.HOLD, PhaseKind.REPS)
"""Kinds that can go with the breath."""
_OF_PHASE = {"the hold", "the release", "the lead", "the directions"}


class Reader:
    """Reads one line; every refusal names its place, what was expected, and a line to take instead."""

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

    # line = half [ "/" half ] { extra }; half = [sides] phase { "+" phase }
    def line(self) -> Dose:
        if not self.tokens:
            raise DoseLineError("expected a dose, such as 2×8 h5 or 30 s", self.text, 0, 1)
        sides, phases, left = self.halves()
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
        return Dose(phases, sides, rest, left=None if left == phases else left)

    def parts(self) -> tuple[Phase, ...]:
        """What one run goes through."""
        phases = [self.phase(0)]
        while self.is_kind("plus"):
            self.at += 1
            if len(phases) >= MAX_PHASES:
                raise self.fail(f"at most {MAX_PHASES} phases")
            phases.append(self.phase(len(phases)))
        return tuple(phases)

    def halves(self) -> tuple[SidePlan, tuple[Phase, ...], tuple[Phase, ...] | None]:
        """Sides and phases; the left side's own phases where each side is told for itself: R1 ×30 s / L1 ×45 s, R 30 s L 45 s."""
        if self.names_a_time():
            return self.times_of_sides()
        sides, phases = self.sides(), self.parts()
        slash = self.peek()
        if slash is None or slash.kind != "slash":
            return sides, phases, None
        self.at += 1
        if not isinstance(sides, Apart) or (sides.right_sets and sides.left_sets) or "the sides" not in self.said:
            raise self.fail("/ stands between what the right and the left side do, such as R1 ×30 s / L1 ×45 s", slash)
        first_right = sides.right_sets > 0
        if not (self.is_word(LEFT if first_right else RIGHT) and self.is_kind("number", 1)):
            raise self.fail(f"expected the {'left' if first_right else 'right'} side, such as {'L' if first_right else 'R'}1 ×45 s")
        self.said = {}
        other = self.apart()
        return self.both_halves(sides, phases, other=other, place=slash, more=self.parts())

    def both_halves(
        self, first: Apart, phases: tuple[Phase, ...], *, other: Apart, place: Token, more: tuple[Phase, ...]
    ) -> tuple[SidePlan, tuple[Phase, ...], tuple[Phase, ...]]:
        if [(p.kind, p.directions) for p in phases] != [(p.kind, p.directions) for p in more]:
            raise self.fail("both sides do the same parts; only how long and how often may differ", place)
        plan = Apart(first.right_sets + other.right_sets, left_sets=first.left_sets + other.left_sets)
        return (plan, phases, more) if first.right_sets else (plan, more, phases)

    def names_a_time(self) -> bool:
        """Whether a side and its time come next: R 30 s, left 1:30."""
        return self.is_word(RIGHT | LEFT) and (
            self.is_kind("clock", 1) or (self.is_kind("number", 1) and self.is_word(SECONDS | MINUTES | COUNTS, 2))
        )

    def times_of_sides(self) -> tuple[SidePlan, tuple[Phase, ...], tuple[Phase, ...] | None]:
        """How people write a time for each side: R 30 s L 45 s."""
        start = self.tokens[self.at]
        if self.style.side_rule is SideRule.TOGETHER:
            raise self.fail("this exercise works both sides together; leave R and L away", start)
        found: dict[bool, tuple[Phase, ...]] = {}
        while self.names_a_time():
            token = self.next()
            right = token.text in RIGHT
            if right in found:
                raise self.fail(f"{'right' if right else 'left'} is named twice", token)
            found[right] = self.parts()
        self.said["the sides"] = self.said["the number of sets"] = start
        if len(found) == 1:
            (right, phases), *_ = found.items()
            return Apart(int(right), left_sets=int(not right)), phases, None
        one = (Apart(1, left_sets=0), Apart(0, left_sets=1))
        return self.both_halves(one[0], found[True], other=one[1], place=start, more=found[False])

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
        if self.is_word(_SPOTS):
            return self.spots(reps, template)
        self.skip_word(REPS)
        kind = template.kind
        if self.is_word({"out"}) and kind is not PhaseKind.BREATHS:
            return self.on_breath(reps, template)
        if self.is_word({"in"}) or kind is PhaseKind.BREATHS:
            return self.breaths(reps, template)
        if kind is PhaseKind.TIMES:
            while self.skip_word({"a", "per", "day", "daily"}):
                pass
            return Phase(kind=kind, reps=reps)
        lead, hold, release, ways = self.timings(template)
        return Phase(kind=kind, reps=reps, lead=lead, hold=hold or ZERO, release=release, directions=template.directions[:ways])

    def spots(self, count: int, template: Phase) -> Phase:
        """So many spots, a while at each: 6 spots h10."""
        word = self.next()
        if template.kind not in _WALKED:
            raise self.fail("only strokes, circles, presses and taps are walked spot by spot; count repetitions here", word)
        if self.is_kind("number") or self.is_kind("clock"):
            lead, hold, release, ways = SPOT_LEAD, self.span("the time at each spot"), ZERO, len(template.directions)
        else:
            own = Phase(kind=PhaseKind.SPOTS, lead=SPOT_LEAD, directions=template.directions)
            lead, given, release, ways = self.timings(own)
            if given is None:
                raise self.fail("expected the time at each spot, such as 6 spots h10", instead=self.without(word, put="spots h10"))
            hold = given
        return Phase(kind=PhaseKind.SPOTS, reps=count, lead=lead, hold=hold, release=release, directions=template.directions[:ways])

    def on_breath(self, reps: int, template: Phase) -> Phase:
        """Contraction on the breath out, release on the breath in: 8 out 6 in 4."""
        start = self.next()
        if template.kind not in _WITH_BREATH:
            raise self.fail("only what is held or repeated goes with the breath", start)
        out = self.span("the breath out")
        if not self.skip_word({"in"}):
            raise self.fail("expected in and the seconds of the breath in", instead=self.text.rstrip() + " in 4")
        back = self.span("the breath in")
        if not out.amount or not back.amount:
            raise self.fail("a breath out and a breath in last at least a moment", start)
        ways = len(template.directions)
        if ways > 1 and self.skip_word(_WAYS):
            ways = self.whole("the number of directions", ways)
        return Phase(kind=template.kind, reps=reps, hold=out, release=back, directions=template.directions[:ways], on_breath=True)

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

    def breath_the_other_way(self, reps: int) -> tuple[str, Token | None, str]:
        """Why work does not begin on the breath in, its place, and the line the right way round."""
        found = re.search(r"\bin\s*([\d.,]+)\s*s?\s*out\s*([\d.,]+)", self.text, re.I)
        turned = f"{self.text[: found.start()]}out {found[2]} in {found[1]}{self.text[found.end() :]}" if found else ""
        return f"work goes with the breath out and lets go with the breath in: write {reps} out 6 in 4", self.peek(), turned

    def breaths(self, reps: int, template: Phase) -> Phase:
        if template.kind is not PhaseKind.BREATHS:
            raise self.fail(*self.breath_the_other_way(reps))
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
