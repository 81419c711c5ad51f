"""A first program from an intake: exercises with reasons, doses, ramp, order, sides; or from a template, made to fit.

The draft chooses work by what each concern comes from, then lets the checks complete it: what they miss is added, what
rises too fast waits, what is too long goes. So a draft and the margin can never disagree. It is deterministic.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from dimbo.core.anatomy import Family, Stage
from dimbo.core.design.checks.body import SPEAKS_FOR, lay_sides
from dimbo.core.design.checks.causes import against
from dimbo.core.design.checks.client import USUAL_EXPECTATIONS
from dimbo.core.design.checks.dose import least_missed
from dimbo.core.design.checks.session import in_order, line_id, with_card
from dimbo.core.exercises.approach import BIASED, WEAK_ONLY, Approach, approach
from dimbo.core.exercises.card import Card, SideRule
from dimbo.core.intake.conclusions import ConcernView
from dimbo.core.programs.ordering import propose
from dimbo.core.programs.program import MAX_LINES, Line, Program, Settings, When, days_within
from dimbo.core.programs.progression import axes_for, first_cells
from dimbo.core.safety.cautions import Effect
from dimbo.core.text import join_words

from .checks import Note, check
from .weeks import About, work_out

FULL_AT_START = 0.8
"""Share of the client's minutes that the first week may take; the rest is room to rise."""
MARKED = 3
"""From this severity on a concern gets a second exercise of work."""
EVENING_CONCERNS = frozenset({"jaw-tension", "neck-tension"})
MOST_HABITS = 2
FRAME: Mapping[When, tuple[str, ...]] = {
    When.MORNING: ("settle-breath", "warm-palms"),
    When.EVENING: ("evening-breath",),
}
"""What every session begins and ends with."""

_BECAUSE: Mapping[str, str] = {
    "prepared": "So that the session does not begin with work.",
    "loosened": "Loosens or wakes what is worked.",
    "released": "So that a hard contraction is not the last thing done to the muscle.",
    "drained": "Leads down the neck what was moved in the face.",
    "ends-calm": "So that the session ends calm.",
    "balance": "Lifts the corners, so that what pulls them down does not work alone.",
}
_COMPLETES = ("balance", "foundation", "prepared", "loosened", "released", "drained", "ends-calm")
_TAMES = ("unreadable", "ceiling", "muscle-ceiling", "steep-line", "one-axis", "steep-session", "rest-days", "days")


@dataclass(frozen=True, slots=True)
class LeftOut:
    """An exercise that was wanted and is not in the draft, with the reason."""

    exercise: str
    name: str
    reason: str


@dataclass(frozen=True, slots=True)
class Draft:
    program: Program
    left_out: tuple[LeftOut, ...]


@dataclass(frozen=True, kw_only=True)
class DraftFrom:
    """What a draft is made from: concerns with their causes, the client's minutes, and what the checks know."""

    concerns: tuple[ConcernView, ...]
    about: About
    minutes: int | None
    weeks: int = 12
    approach: str = "balanced"
    habits: tuple[str, ...] = ()
    """Habit tasks that were agreed, in words."""
    title: str = ""
    stopped: frozenset[str] = frozenset()
    """Exercises that hurt and wait for the coach."""


@dataclass(slots=True)
class _Wanted:
    card: Card
    weight: float
    why: str
    when: When = When.MORNING


@dataclass(slots=True, kw_only=True)
class _Drafting:
    source: DraftFrom
    settings: Settings
    cards: Mapping[str, Card]
    school: Approach
    left_out: dict[str, LeftOut] = field(default_factory=dict)

    def allowed(self, card: Card) -> bool:
        """Whether an exercise may be drafted at all; what may not is noted with its reason."""
        verdict = self.source.about.cautions.of(card)
        if verdict.effect is Effect.LOCK:
            self.leave(card, f"locked: {join_words([h.rule.name.lower() for h in verdict.held if h.on(card) is Effect.LOCK])}")
            return False
        if card.withdrawn:
            return False
        if card.id in self.source.stopped:
            self.leave(card, "it hurt and waits for your decision")
            return False
        if forbidden := self.school.forbids(card):
            self.leave(card, f"it {forbidden}, which the approach “{self.school.name}” forbids")
            return False
        for needed, name in card.after:
            if needed not in self.cards or not self.allowed(self.cards[needed]):
                self.leave(card, f"it builds on {name}, which is left out")
                return False
        return True

    def leave(self, card: Card, reason: str) -> None:
        self.left_out.setdefault(card.id, LeftOut(card.id, name=card.name, reason=reason))

    def fit(self, card: Card, view: ConcernView) -> float:
        """How well an exercise answers a concern that comes from its cause."""
        muscles = set(view.cause.muscles)
        score = 4.0 - 0.4 * card.concerns.index(view.concern.id) if view.concern.id in card.concerns else 0.0
        score += 2.0 * len(muscles & set(card.prime_movers)) / max(len(card.prime_movers), 1)
        score += 0.5 * len(muscles & set(card.helpers))
        score += 1.5 * card.foundation + 0.5 * (card.style.side_rule is SideRule.WEAK and view.rating.deeper is not None)
        score -= 1.5 * card.inside_mouth + 1.0 * len(card.marks & {"head-back", "head-tilt"}) + 0.5 * bool(card.after)
        if self.source.about.cautions.of(card).effect is Effect.EASE:
            score -= 2.0
        return score

    def wanted(self) -> list[_Wanted]:
        """Exercises for every concern, by the families that its cause asks for; the most wanted first."""
        found: dict[str, _Wanted] = {}
        for view in self.source.concerns:
            families = sorted(
                (Family(f) for f in view.cause.families if f != Family.HABIT.value),
                key=lambda f: self.school.first.index(f) if f in self.school.first else len(self.school.first),
            )
            for place, family in enumerate(families):
                muscles = set(view.cause.muscles)
                fits = [
                    c
                    for c in self.cards.values()
                    if c.family is family
                    and (view.concern.id in c.concerns or muscles & set(c.prime_movers))
                    and not view.concern.contradicted_by(c)
                    and not any(against(v, c) for v in self.source.concerns)
                    and self.allowed(c)
                ]
                fits.sort(key=lambda c: -self.fit(c, view))
                take = 2 if family.contracts and view.rating.worst >= MARKED else 1
                for rank, card in enumerate(fits[:take]):
                    other = fits[take].name if len(fits) > take else ""
                    weight = view.rating.worst * 2 - place - 2.0 * rank
                    self._want(found, card, weight, self._why(view, card, other))
        return sorted(found.values(), key=lambda w: -w.weight)

    def _want(self, found: dict[str, _Wanted], card: Card, weight: float, why: str) -> None:
        if card.id in found:
            known = found[card.id]
            known.weight += weight / 2
            known.why = f"{known.why} {why.split('. ')[0].rstrip('.')}, too."
        else:
            found[card.id] = _Wanted(card, weight, why)

    def _why(self, view: ConcernView, card: Card, other: str) -> str:
        side = f", more on the {view.rating.deeper.value}" if view.rating.deeper else ""
        out = f"For {view.concern.name[0].lower()}{view.concern.name[1:]}{side}: {view.cause.name}. {view.cause.helps}"
        if other:
            out += f" Preferred to {other}."
        if self.source.about.cautions.of(card).effect is Effect.EASE:
            out += " Shown in its eased version."
        return out

    def row(self, program: Program, want: _Wanted) -> Line:
        cells = first_cells(want.card, program.weeks, self.settings, axes=axes_for(want.card, self.school))
        return Line(id=line_id(program, want.card), card=want.card, stage=want.card.stage, cells=cells, when=want.when, why=want.why)

    def blank(self) -> Program:
        days = len(self.source.about.weekdays) or 6
        most = min(days, self.school.target_sessions)
        ramp = tuple(float(min(self.school.start_sessions + w, most)) for w in range(self.source.weeks))
        return Program(
            title=self.source.title or "New program",
            weeks=self.source.weeks,
            sessions=ramp,
            minutes=self.source.minutes,
            lines=(),
            expectations=USUAL_EXPECTATIONS,
            approach=self.school.id,
        )

    def build(self, wants: Sequence[_Wanted]) -> Program:
        """The program of these exercises, completed and tamed by the checks."""
        program = self.blank()
        for want in wants:
            if len(program.lines) < MAX_LINES:
                program = replace(program, lines=(*program.lines, self.row(program, want)))
        program = self.habits(in_order(self.frame(program)))
        program = self._days(program, frozenset(w.card.id for w in wants))
        program = self.sides(program)
        program = self.complete(program)
        return self.tame(in_order(program))

    def frame(self, program: Program) -> Program:
        """A calm beginning and a calm end for every session of the day."""
        for part in program.parts:
            for card_id in FRAME[part]:
                card = self.cards.get(card_id)
                if card and card_id not in {n.card.id for n in program.lines} and self.allowed(card):
                    why = "A calm beginning." if card.stage is Stage.PREPARE else "A calm end."
                    program = with_card(program, card, self.settings, part, why)
        return program

    def _days(self, program: Program, wanted: frozenset[str]) -> Program:
        """Where a drain or a breath is wanted daily, it is daily from the first day; strength keeps its own ramp, and rests
        some days of every week."""
        ramp = program.sessions
        if any(n.card.family in (Family.DRAIN, Family.BREATHE) and n.card.id in wanted for n in program.lines):
            most = float(min(len(self.source.about.weekdays) or 7, 7))
            lines = tuple(replace(n, days=ramp) if n.card.family.contracts and n.stage is Stage.WORK else n for n in program.lines)
            program = replace(program, lines=lines, sessions=(most,) * program.weeks)
        return replace(
            program,
            lines=tuple(replace(n, days=days_within(n.card, n.days or ramp, given=n.days, settings=self.settings)) for n in program.lines),
        )

    def sides(self, program: Program) -> Program:
        """More for the weaker side where a reading beyond its noise names one."""
        for line in program.lines:
            keys = [k for m in line.card.prime_movers for k in SPEAKS_FOR.get(m, ()) if k in self.source.about.bias]
            told = next((self.source.about.bias[k] for k in keys if self.source.about.bias[k].take != "off"), None)
            if line.card.style.side_rule is SideRule.WEAK and told and told.side and self.school.asymmetry in (BIASED, WEAK_ONLY):
                program = lay_sides(program, line.id, told.side).with_line(line.id, why=f"{line.why} {told.because}")
        return program

    def complete(self, program: Program) -> Program:
        """Take the remedies of the checks that miss something, until none does."""
        for _ in range(24):
            note = self._first(program, _COMPLETES)
            if note is None or note.fix is None:
                return program
            before = {n.id for n in program.lines}
            more = note.fix.apply(program)
            new = [n for n in more.lines if n.id not in before]
            if more == program or len(more.lines) > MAX_LINES:
                return program
            for line in new:
                builder = next((n for n in program.lines if n.id == note.line), None) if note.rule == "foundation" else None
                more = more.with_line(line.id, why=f"{builder.card.name} builds on it." if builder else _BECAUSE[note.rule])
            program = in_order(more)
        return program

    def tame(self, program: Program) -> Program:
        """Take the remedies of the checks of dose, until none has one left."""
        for _ in range(program.weeks * 12):
            note = self._first(program, _TAMES)
            if note is None or note.fix is None:
                return program
            program = note.fix.apply(program)
        return program

    def _first(self, program: Program, rules: Sequence[str]) -> Note | None:
        compiled = work_out(program, self.settings, self.source.about)
        found = [n for n in check(compiled) if n.rule in rules and n.fix]
        return min(found, key=lambda n: rules.index(n.rule), default=None)

    def habits(self, program: Program) -> Program:
        """One habit task for each cause that asks for one, two at most, with the words that were agreed."""
        out = program
        agreed = list(self.source.habits)
        for view in self.source.concerns:
            if sum(n.stage is Stage.DAY for n in out.lines) >= MOST_HABITS:
                break
            here = {n.card.id for n in out.lines}
            fits = [c for c in self.cards.values() if c.family is Family.HABIT and view.concern.id in c.concerns and c.id not in here]
            fits.sort(key=lambda c: c.concerns.index(view.concern.id))
            if (view.cause.habits or Family.HABIT.value in view.cause.families) and fits and self.allowed(fits[0]):
                said = agreed.pop(0) if agreed else view.cause.habits[0] if view.cause.habits else ""
                more = with_card(
                    out, fits[0], self.settings, why=f"For {view.concern.name.lower()}: {view.cause.name}. {view.cause.because}"
                )
                out = more.with_line(next(n.id for n in more.lines if n.id not in {m.id for m in out.lines}), note=said)
        return out

    def day_s(self, program: Program, week: int) -> float:
        """Seconds of the longest day of a week, morning and evening together."""
        plans = work_out(program, self.settings).weeks[week - 1].plans
        return sum(max((p.seconds for p in plans if p.when is part), default=0.0) for part in program.parts)

    def cap(self, program: Program) -> Program:
        """Lines stop rising where a day would pass the minutes, the longest riser first."""
        if self.source.minutes is None:
            return program
        limit = self.source.minutes * 60
        for week in range(2, program.weeks + 1):
            for _ in range(len(program.lines) * 2):
                if self.day_s(program, week) <= limit:
                    break
                risers = [(n, self._grows(program, n, week)) for n in program.lines]
                line, most = max(risers, key=lambda pair: pair[1])
                if most <= 0:
                    break
                stays = line.cells[week - 2]
                cells = (*line.cells[: week - 1], *(stays for _ in line.cells[week - 1 :]))
                said = f" Stays from week {week}: the minutes are full."
                why = line.why if "the minutes are full" in line.why else line.why + said
                program = program.with_line(line.id, cells=cells, why=why)
        return program

    def _grows(self, program: Program, line: Line, week: int) -> float:
        items = work_out(replace(program, lines=(line,), circuits=()), self.settings).items[line.id]
        if week not in items or week - 1 not in items:
            return 0.0
        return items[week].seconds(self.settings) - items[week - 1].seconds(self.settings)


def _evening(wants: list[_Wanted], concerns: Sequence[ConcernView], minutes: int | None) -> list[_Wanted]:
    """Release and breath for jaw, neck and sleep go to the evening, when there are minutes for two sessions."""
    if minutes is not None and minutes < 10:
        return wants
    calm = {v.concern.id for v in concerns if v.concern.id in EVENING_CONCERNS and v.rating.worst >= 2}
    work = [w for w in wants if w.card.family.contracts]
    if not calm or not work:
        return wants
    for want in wants:
        soft = want.card.family in (Family.RELEASE, Family.BREATHE, Family.PRESS, Family.STRETCH, Family.MOBILISE)
        if soft and calm & set(want.card.concerns) and want.card.stage is not Stage.PREPARE:
            want.when = When.EVENING
            want.why += " In the evening, when the day has tightened it."
    return wants


def draft(source: DraftFrom, settings: Settings, cards: Mapping[str, Card]) -> Draft:
    """A program for a client. What is locked, stopped or against the approach is never in it, and is named as left out.

    Priorities when the minutes are short: the gravest concern first; foundations and what prepares, releases and leads
    away stay with their work; second exercises for one concern go before first ones.
    """
    about = replace(source.about, cards=_free(source, cards), concerns=source.concerns)
    job = _Drafting(source=replace(source, about=about), settings=settings, cards=cards, school=approach(source.approach))
    wants = job.wanted()
    wants = _evening(wants, source.concerns, source.minutes)
    if not wants:
        calm = [cards[i] for i in ("settle-breath", "warm-palms") if i in cards and job.allowed(cards[i])]
        wants = [_Wanted(c, 1.0, "A calm beginning; no concern asks for more yet.") for c in calm]
    for count in range(len(wants), 0, -1):
        program = job.build(wants[:count])
        if source.minutes is None or count == 1 or job.day_s(program, 1) <= source.minutes * 60 * FULL_AT_START:
            break
        job.leave(wants[count - 1].card, f"did not fit the {source.minutes} minutes")
    else:
        program = job.blank()
    program = job.cap(program)
    here = {n.card.id for n in program.lines}
    order = tuple(p.line for p in propose(program.lines))
    return Draft(replace(program, lines=order), tuple(x for i, x in job.left_out.items() if i not in here))


def _free(source: DraftFrom, cards: Mapping[str, Card]) -> dict[str, Card]:
    """Exercises that a remedy may add: neither locked nor stopped."""
    free = {i: c for i, c in cards.items() if i not in source.stopped and not c.withdrawn}
    return {i: c for i, c in free.items() if source.about.cautions.of(c).effect is not Effect.LOCK}


def adapt(template: Program, source: DraftFrom, settings: Settings, cards: Mapping[str, Card]) -> Draft:
    """A template made to fit a client: locked and forbidden exercises out, sides by their readings, days and minutes theirs."""
    about = replace(source.about, cards=_free(source, cards), concerns=source.concerns)
    job = _Drafting(
        source=replace(source, about=about, weeks=template.weeks), settings=settings, cards=cards, school=approach(source.approach)
    )
    lines = tuple(n for n in template.lines if job.allowed(n.card))
    ids = {n.id for n in lines}
    circuits = tuple(replace(c, lines=left) for c in template.circuits if (left := tuple(i for i in c.lines if i in ids)))
    days = len(source.about.weekdays) or 7
    program = replace(
        template,
        lines=lines,
        circuits=circuits,
        sessions=tuple(min(s, days) for s in template.sessions),
        minutes=source.minutes,
        approach=source.approach,
        expectations=template.expectations or USUAL_EXPECTATIONS,
    )
    program = job.sides(program)
    if len(lines) < len(template.lines):
        program = job.complete(program)
    program = _shorten(job, program)
    return Draft(job.tame(program), tuple(job.left_out.values()))


def _shorten(job: _Drafting, program: Program) -> Program:
    """Take rows out until the first week fits the minutes; then lines stop rising where a day would be too long."""
    minutes = job.source.minutes
    while minutes is not None and job.day_s(program, 1) > minutes * 60:
        line = least_missed(work_out(program, job.settings), 1)
        if line is None or len(program.lines) <= 1:
            break
        job.leave(line.card, f"did not fit the {minutes} minutes")
        kept = tuple(n for n in program.lines if n.id != line.id)
        circuits = tuple(replace(c, lines=left) for c in program.circuits if (left := tuple(i for i in c.lines if i != line.id)))
        program = replace(program, lines=kept, circuits=circuits)
    return job.cap(program)
