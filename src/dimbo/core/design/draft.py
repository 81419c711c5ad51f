"""A first program from an intake: exercises with reasons, doses, ramp, order, sides; or from a template, made to fit.

The school chooses what is done (``choosing``), the checks complete it: what they miss is added, what rises too fast waits; the minutes
decide how much of it (``fitting``). So a draft and the margin can never disagree. It is deterministic.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from dimbo.core.anatomy import Family, Side, Stage
from dimbo.core.design.checks.body import SPEAKS_FOR, lay_sides
from dimbo.core.design.checks.client import USUAL_EXPECTATIONS
from dimbo.core.design.checks.session import in_order, line_id, with_card
from dimbo.core.exercises.approach import BIASED, WEAK_ONLY, Approach, approach
from dimbo.core.exercises.card import Card, SideRule
from dimbo.core.exercises.dose import Apart
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.intake.conclusions import ConcernView
from dimbo.core.programs.daily_ceilings import fits
from dimbo.core.programs.ordering import propose
from dimbo.core.programs.program import MAX_LINES, Line, Program, Settings, days_within, read_cell
from dimbo.core.programs.progression import axes_for, first_cells

from .checks import Note, check
from .choosing import Choosing, LeftOut, Wanted, calm_beginning
from .fitting import cap, day_s, idle, shortened, without_least
from .weeks import About, work_out

FULL_AT_START = 0.8
"""Share of the client's minutes that the first week may take; the rest is room to rise."""
MOST_HABITS = 2
TRIED = 5
"""So many of the exercises behind one that did not fit are tried in its place."""
NO_FRAME_MINUTES = 4
"""With fewer minutes a session has no beginning and no end of its own."""

_BECAUSE: Mapping[str, str] = {
    "prepared": "So that the session does not begin with work.",
    "loosened": "Loosens or wakes what is worked.",
    "released": "So that a hard contraction is not the last thing done to the muscle.",
    "drained": "Leads down the neck what was moved in the face.",
    "undrained": "Leads away what release has moved.",
    "neck-first": "Neck and shoulders before the face.",
    "ends-calm": "So that the session ends calm.",
    "balance": "Lifts the corners, so that what pulls them down does not work alone.",
}
_COMPLETES = ("balance", "foundation", "prepared", "loosened", "released", "drained", "undrained", "neck-first", "ends-calm")
_TAMES = ("unreadable", "ceiling", "muscle-ceiling", "steep-line", "one-axis", "steep-session", "rest-days", "strength-days", "days")


@dataclass(frozen=True, slots=True)
class Draft:
    """A program with what was wanted and left out; ``says`` are sentences about the draft as a whole."""

    program: Program
    left_out: tuple[LeftOut, ...]
    says: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class DraftFrom:
    """What a draft is made from: concerns with their causes, the client's minutes, and what the checks know."""

    concerns: tuple[ConcernView, ...]
    about: About
    minutes: int | None
    weeks: int = 12
    approach: str = "balanced"
    habits: Mapping[str, str] = field(default_factory=dict)
    """Habit tasks that were agreed, in words, by the exercise that stands for each."""
    title: str = ""
    stopped: frozenset[str] = frozenset()
    """Exercises that hurt and wait for the coach."""
    leave_out: frozenset[str] = frozenset()
    """Needs, marks and exercises (ids) that the coach leaves out."""
    busy: Side | None = None
    """The side that chews more, as the side tests say."""


@dataclass(slots=True, kw_only=True)
class _Drafting:
    source: DraftFrom
    settings: Settings
    school: Approach
    chooses: Choosing

    @property
    def cards(self) -> Mapping[str, Card]:
        return self.chooses.cards

    def allowed(self, card: Card) -> bool:
        return self.chooses.allowed(card)

    def leave(self, card: Card, reason: str) -> None:
        self.chooses.leave(card, reason)

    def row(self, program: Program, want: Wanted) -> Line:
        cells = first_cells(want.card, program.weeks, self.settings, axes=axes_for(want.card, self.school))
        line = Line(id=line_id(program, want.card), card=want.card, stage=want.card.stage, cells=cells, when=want.when, why=want.why)
        return self._with_more(line, want.more) if want.more else line

    def _with_more(self, line: Line, side: Side) -> Line:
        """A set more on the side that is busier or tighter, where the day has room for it."""
        cells = []
        for text in line.cells:
            dose = read_cell(text, line.card).dose
            if dose is None or not isinstance(dose.sides, Apart):
                return line
            right, left = dose.sides.right_sets, dose.sides.left_sets
            sides = replace(dose.sides, right_sets=right + (side is Side.RIGHT), left_sets=left + (side is Side.LEFT))
            more = replace(dose, sides=sides)
            cells.append(print_line(more, line.card.style) if fits(line.card, more, self.settings) else text)
        return replace(line, cells=tuple(cells), why=f"{line.why} A set more on the {side.value}.")

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

    def build(self, wants: Sequence[Wanted]) -> Program:
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
        """How the school begins and ends each session of the day, where there are minutes for it."""
        if self.source.minutes is not None and self.source.minutes < NO_FRAME_MINUTES:
            return program
        for part in program.parts:
            for card_id in self.school.opens[part.value]:
                card = self.cards.get(card_id)
                here = {n.card.id for n in program.lines if part in n.when.parts}
                if card and card_id not in here and self.allowed(card):
                    why = (
                        "How this approach begins."
                        if card.stage in (Stage.PREPARE, Stage.LOOSEN, Stage.WAKE)
                        else "How this approach ends."
                    )
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
        """What was agreed as a habit, then one task for each cause that asks for one; two at most, each with its own words."""
        found: dict[str, tuple[str, str]] = {i: ("Agreed at the intake.", text) for i, text in self.source.habits.items()}
        for view in self.source.concerns:
            card_id = self._habit_for(view)
            if card_id:
                why = f"For {view.concern.name[0].lower()}{view.concern.name[1:]}: {view.cause.name}. {view.cause.because}"
                said = view.cause.habits[0] if card_id == view.cause.task and view.cause.habits else ""
                found[card_id] = (why, found[card_id][1] if card_id in found else said)
        cards = [self.cards[i] for i in found if i in self.cards]
        for card in [c for c in cards if self.allowed(c)][:MOST_HABITS]:
            why, said = found[card.id]
            before = {n.id for n in program.lines}
            program = with_card(program, card, self.settings, why=why)
            program = program.with_line(next(n.id for n in program.lines if n.id not in before), note=said)
        return program

    def _habit_for(self, view: ConcernView) -> str:
        """The habit that a cause names, or the one that fits best where it asks for one without naming it; empty for none."""
        if view.cause.task in self.cards:
            return view.cause.task
        if Family.HABIT.value not in view.cause.families:
            return ""
        muscles = set(view.cause.muscles)
        fits = [c for c in self.cards.values() if c.family is Family.HABIT and view.concern.id in c.concerns]
        best = min(fits, key=lambda c: (not muscles & set(c.prime_movers), c.concerns.index(view.concern.id)), default=None)
        return best.id if best else ""


def _drafting(source: DraftFrom, settings: Settings, cards: Mapping[str, Card]) -> _Drafting:
    about = replace(source.about, concerns=source.concerns)
    school = approach(source.approach)
    chooses = Choosing(
        concerns=source.concerns,
        about=about,
        cards=cards,
        school=school,
        minutes=source.minutes,
        stopped=source.stopped,
        leave_out=source.leave_out,
        busy=source.busy,
    )
    free = {i: c for i, c in cards.items() if not c.withdrawn and not chooses.kept_out(c)}
    return _Drafting(source=replace(source, about=replace(about, cards=free)), settings=settings, school=school, chooses=chooses)


def _longest(job: _Drafting, wants: Sequence[Wanted]) -> int:
    """How many of the wanted exercises could fit at all, a few too many: building a program for each would take long."""
    if job.source.minutes is None:
        return len(wants)
    room = {part: job.source.minutes * 60 * 1.4 for want in wants for part in want.when.parts}
    for count, want in enumerate(wants, start=1):
        dose = read_cell(want.card.start_line, want.card).dose
        took = dose.practice_s(job.settings.pace_s) + want.card.setup_s + job.settings.change_over_s if dose else 0.0
        for part in want.when.parts:
            room[part] -= took
        if min(room.values()) < 0:
            return count
    return len(wants)


def _candidates(job: _Drafting, wants: Sequence[Wanted]) -> Iterator[tuple[int, Program]]:
    """Programs of ever fewer of the wanted exercises; each as it is, and with what is soft shortened."""
    for count in range(_longest(job, wants), 0, -1):
        program = job.build(wants[:count])
        yield count, program
        first = frozenset(w.card.id for w in wants[:1])
        if wants[count - 1].asked:
            yield count, shortened(program, job.settings, keep=first)


def draft(source: DraftFrom, settings: Settings, cards: Mapping[str, Card]) -> Draft:
    """A program for a client. What is locked, stopped or against the approach is never in it, and is named as left out.

    Priorities when the minutes are short: the gravest concern first; foundations and what prepares, releases and leads
    away stay with their work; what a cause asks for goes after what only the school brings, and is shortened before it goes.
    """
    job = _drafting(source, settings, cards)
    wants = job.chooses.wanted()
    if not wants:
        wants = calm_beginning(cards, [i for i in ("settle-breath", "warm-palms") if i in cards and job.allowed(cards[i])])
    program, count = job.blank(), 0
    for count, program in _candidates(job, wants):  # noqa: B007 -- the last one stays
        if source.minutes is None or day_s(program, 1, settings) <= source.minutes * 60 * FULL_AT_START:
            break
    chosen, program = _more_fits(job, program, wants, count)
    program = _squeezed(job, program, frozenset(w.card.id for w in wants[:1]))
    for want in wants[count:]:
        if want.asked and want not in chosen:
            job.leave(want.card, f"did not fit the {source.minutes} minutes")
    program = cap(program, source.minutes, settings)
    here = {n.card.id for n in program.lines}
    order = tuple(p.line for p in propose(program.lines))
    left = tuple(x for i, x in job.chooses.left_out.items() if i not in here)
    structure = [v.concern.name for v in source.concerns if not v.cause.families]
    said = idle(program, source.minutes, settings, sum(x.held for x in left), structure)
    return Draft(replace(program, lines=order), left, (said,) if said else ())


def _more_fits(job: _Drafting, program: Program, wants: Sequence[Wanted], count: int) -> tuple[list[Wanted], Program]:
    """What is wanted less and fits still, where something that is wanted more did not; of the next few only."""
    chosen, minutes = list(wants[:count]), job.source.minutes
    if minutes is None or "Shorter" in "".join(n.why for n in program.lines):
        return chosen, program
    for want in wants[count + 1 : count + 1 + TRIED]:
        more = job.build([*chosen, want])
        if day_s(more, 1, job.settings) <= minutes * 60 * FULL_AT_START:
            chosen, program = [*chosen, want], more
    return chosen, program


def _squeezed(job: _Drafting, program: Program, keep: frozenset[str]) -> Program:
    """A first week that fits the minutes whatever it takes: shorter, then fewer rows, and at last the most wanted one alone."""
    minutes = job.source.minutes
    for _ in range(MAX_LINES):
        if minutes is None or day_s(program, 1, job.settings) <= minutes * 60:
            return program
        less = shortened(program, job.settings, keep=keep)
        if less != program:
            program = less
            continue
        fewer = without_least(program, job.settings, keep)
        if fewer is None:
            return program
        program, gone = fewer
        job.leave(gone.card, f"did not fit the {minutes} minutes")
    return program


def adapt(template: Program, source: DraftFrom, settings: Settings, cards: Mapping[str, Card]) -> Draft:
    """A template made to fit a client: locked and forbidden exercises out, sides by their readings, days and minutes theirs."""
    job = _drafting(replace(source, weeks=template.weeks), settings, cards)
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
    program = _fewer(job, program)
    return Draft(job.tame(program), tuple(job.chooses.left_out.values()))


def _fewer(job: _Drafting, program: Program) -> Program:
    """A template without the rows that it can do without, until its first week fits the minutes; then lines stop rising."""
    minutes = job.source.minutes
    while minutes is not None and day_s(program, 1, job.settings) > minutes * 60:
        fewer = without_least(program, job.settings, frozenset())
        if fewer is None:
            break
        program, gone = fewer
        job.leave(gone.card, f"did not fit the {minutes} minutes")
    return cap(program, minutes, job.settings)
