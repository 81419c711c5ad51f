"""What a review makes of the course: each exercise goes along the program, keeps its dose, or goes a rung back; and so do the
days a week, what works no muscle, and what is new.

Every row has its rungs: its own doses, week by week, lighter weeks left out. A verdict says on which of them the next week
stands; what the program had planned follows from there, so the program keeps its length and ends lower, and a missed rise is
never made up. A lighter week is laid over the rungs and is none. Where practice comes back from a break, what the break lays
out stands, whatever is decided. In the end rows wait where the rows together would rise faster than the limits allow.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from dimbo.core.calendar.schedule import Step
from dimbo.core.design.checks.dose import session_rises
from dimbo.core.design.weeks import Compiled, work_out
from dimbo.core.exercises.dose_line import print_line
from dimbo.core.programs.daily_ceilings import passed
from dimbo.core.programs.program import MAX_WEEKS, Line, Program, Settings, read_cell
from dimbo.core.programs.progression import lighter_cell, rung_back

from .weekly import Verdict

T = TypeVar("T")

THE_WEEK = ""
"""The verdict under this key, which no row can have, is that on the week itself: days a week, rows without one, and new ones."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """Where a program stands: the program week (1-based) of the week that was reviewed and how many rungs back it was; and
    the same of the week that comes next. ``returns`` says that the next week comes back from a break."""

    week: int
    back: int
    next_week: int
    next_back: int = 0
    returns: bool = False

    @classmethod
    def between(cls, step: Step, then: Step) -> Standing:
        """Between a week and the one that follows it: a rung back, or a week that comes again, is a return from a break."""
        returns = then.back > step.back or (then.week <= step.week and then.back >= step.back)
        return cls(week=step.week, back=step.back, next_week=then.week, next_back=then.back, returns=returns)


@dataclass(frozen=True, slots=True)
class LineOutlook:
    """An exercise at a review: this week's dose, and next week's for each verdict, as dose lines ("" rests)."""

    line_id: str
    now: str
    next: Mapping[Verdict, str]

    def changes(self, verdict: Verdict) -> bool:
        """Whether the dose becomes another one next week."""
        return self.next[verdict] != self.now


def printed(line: Line, text: str) -> str:
    """A cell as it is written everywhere."""
    cell = read_cell(text, line.card)
    return print_line(cell.dose, line.card.style) if cell.dose is not None else text.strip()


def now_of(program: Program, line: Line, at: Standing, settings: Settings) -> str:
    """The cell of a line as the reviewed week had it."""
    return rung_back(line, at.week, back=at.back, pace_s=settings.pace_s, lighter=program.lighter)


def next_of(program: Program, line: Line, at: Standing, settings: Settings) -> str:
    """The cell of a line as the next week plays it."""
    return rung_back(line, at.next_week, back=at.next_back, pace_s=settings.pace_s, lighter=program.lighter)


def is_judged(program: Program, line: Line, at: Standing, settings: Settings) -> bool:
    """Whether a review judges a line: it works a muscle, was practised this week, and is practised next week."""
    return bool(line.card.family.contracts and now_of(program, line, at, settings).strip() and line.cells[at.next_week - 1].strip())


def entering(program: Program, at: Standing, settings: Settings) -> tuple[str, ...]:
    """Names of the exercises that rest this week and begin in the next."""
    if at.returns:
        return ()
    base = _base(program, at.week)
    return tuple(n.card.name for n in program.lines if not n.cells[base - 1].strip() and n.cells[at.next_week - 1].strip())


# ---------------------------------------------------------------- the rungs of a course from the reviewed week on
def _places(program: Program, first: int) -> list[int]:
    """The program weeks from one on that are rungs: all but the lighter ones."""
    return [w for w in range(first, program.weeks + 1) if w not in program.lighter]


def _base(program: Program, week: int) -> int:
    """The week on whose rungs a week stands: itself, or the one before its lighter weeks."""
    return max((w for w in range(1, week + 1) if w not in program.lighter), default=week)


def _sources(program: Program, at: Standing) -> list[int]:
    """The program weeks whose doses follow the present ones: from the next on, without leaving any out."""
    return _places(program, min(at.next_week, _base(program, at.week) + 1))


def _lower_week(program: Program, line: Line, at: Standing, settings: Settings) -> tuple[str, int]:
    """The cell one rung below the present one, and the week that has it; the present ones on the first rung."""
    base = _base(program, at.week)
    lower = rung_back(line, base, back=at.back + 1, pace_s=settings.pace_s, lighter=program.lighter)
    weeks = [w for w in _places(program, 1) if w <= base and line.cells[w - 1] == lower]
    return lower, max(weeks, default=base)


@dataclass(frozen=True, slots=True)
class _Row:
    """A row from the reviewed week on, without lighter weeks: its cells and, where it has its own, its days."""

    cells: tuple[str, ...]
    days: tuple[float, ...] | None


def _led(verdict: Verdict, lower: T, stood: T) -> list[T]:
    """What stands before the doses that were planned: nothing more, the present one, or the lower and the present one."""
    return {Verdict.ADVANCE: [], Verdict.HOLD: [stood], Verdict.EASE: [lower, stood]}[verdict]


def _row(program: Program, line: Line, verdict: Verdict, judged: bool, at: Standing, settings: Settings) -> _Row:
    base, places = _base(program, at.week), _places(program, at.next_week)
    stood = rung_back(line, base, back=at.back, pace_s=settings.pace_s, lighter=program.lighter)
    if not stood.strip() and at.next_week > 1 and at.next_week - 1 > at.week:
        stood = line.cells[at.next_week - 2]  # looked at late, and new meanwhile: what has begun stays
    lower, where = _lower_week(program, line, at, settings) if judged else (stood, base)
    if judged and verdict is Verdict.EASE and lower == stood:
        verdict = Verdict.HOLD  # on its first rung it stays
    sources = places if verdict is Verdict.ADVANCE else _sources(program, at)
    ahead = [*_led(verdict, lower, stood=stood), *(line.cells[w - 1] for w in sources)][: len(places)]
    days = None
    if line.days is not None:
        own = line.days
        moved = [*_led(verdict, own[where - 1], stood=own[base - 1]), *(own[w - 1] for w in sources)][: len(places)]
        days = (own[base - 1], *moved)
    return _Row((stood, *ahead), days)


def _sessions(program: Program, verdict: Verdict, at: Standing) -> tuple[float, ...]:
    """Days a week from the reviewed week on, without lighter weeks; a rung back is the last lower number before."""
    base, places = _base(program, at.week), _places(program, at.next_week)
    now = program.sessions[base - 1]
    lower = next((program.sessions[w - 1] for w in reversed(_places(program, 1)) if w < base and program.sessions[w - 1] < now), now)
    sources = places if verdict is Verdict.ADVANCE else _sources(program, at)
    ahead = [*_led(verdict, lower, stood=now), *(program.sessions[w - 1] for w in sources)][: len(places)]
    return (now, *ahead)


# ---------------------------------------------------------------- no faster than the limits
def _two(strip: Program, week: int, settings: Settings) -> Compiled:
    """Two weeks of a strip worked out: the one before, and this."""
    lines = tuple(
        replace(n, cells=n.cells[week - 2 : week], days=n.days[week - 2 : week] if n.days is not None else None) for n in strip.lines
    )
    return work_out(replace(strip, weeks=2, sessions=strip.sessions[week - 2 : week], lines=lines), settings)


def _over(c: Compiled, week: int) -> set[tuple[str, str | None, str]]:
    """The daily ceilings that a week passes: exercise or muscle, and side."""
    day = c.day(week)
    return {(n.card.id, p.muscle, p.side.value) for n in c.program.lines for p in passed(n.card, day, c.settings)}


def _too_much(c: Compiled, most: float) -> bool:
    """Whether the second of two weeks rises by more than a factor, or passes a daily ceiling that the first does not."""
    return session_rises(c).get(2, 0.0) > most + 1e-9 or bool(_over(c, 2) - _over(c, 1))


def _rising(c: Compiled) -> list[tuple[float, str]]:
    """The lines that ask for more in the second of two weeks, by how much their load rises, the most first."""
    out = []
    for line in c.program.lines:
        before, now = c.items[line.id].get(1), c.items[line.id].get(2)
        rise = (now.load(c.settings.pace_s) if now else 0.0) - (before.load(c.settings.pace_s) if before else 0.0)
        more_days = line.days is not None and line.days[1] > line.days[0]
        if rise > 1e-9 or (now and more_days):
            out.append((rise, line.id))
    return sorted(out, key=lambda x: -x[0])


def _delayed(strip: Program, line_id: str, week: int) -> Program:
    """The line keeps the week before once more, and what follows moves on by one."""
    line = next(n for n in strip.lines if n.id == line_id)

    days = (*line.days[: week - 1], line.days[week - 2], *line.days[week - 1 : -1]) if line.days is not None else None
    cells = (*line.cells[: week - 1], line.cells[week - 2], *line.cells[week - 1 : -1])
    return strip.with_line(line_id, cells=cells, days=days)


def paced(strip: Program, settings: Settings, most: float) -> Program:
    """The strip with rows waiting where the session would rise by more than a factor from a week to the next, or a daily
    ceiling would be passed: the row that rises most waits first."""
    for week in range(2, strip.weeks + 1):
        c = _two(strip, week, settings)
        while _too_much(c, most) and (rising := _rising(c)):
            strip = _delayed(strip, rising[0][1], week)
            c = _two(strip, week, settings)
    return strip


def _steepest(strip: Program, settings: Settings) -> float:
    """The most by which a session rises from a week to the next: what the coach has planned may happen."""
    found = (session_rises(_two(strip, week, settings)).get(2, 0.0) for week in range(2, strip.weeks + 1))
    return max([settings.session_growth, *found])


# ---------------------------------------------------------------- the program as a review leaves it
def _strip(program: Program, verdicts: Mapping[str, Verdict], at: Standing, settings: Settings) -> Program:
    """The weeks from the reviewed one on, without lighter ones, as verdicts leave them."""
    whole = _of_week(verdicts)
    rows = {n.id: _row(program, n, *_verdict_of(n, verdicts, whole), at, settings) for n in program.lines}
    sessions = _sessions(program, whole, at)[:MAX_WEEKS]
    lines = []
    for n in program.lines:
        days = rows[n.id].days
        lines.append(replace(n, cells=rows[n.id].cells[:MAX_WEEKS], days=days[:MAX_WEEKS] if days is not None else None))
    return replace(program, weeks=len(sessions), sessions=sessions, lines=tuple(lines), lighter=frozenset())


def _of_week(verdicts: Mapping[str, Verdict]) -> Verdict:
    found = verdicts.get(THE_WEEK, Verdict.ADVANCE)
    return Verdict.EASE if found is Verdict.STOP else found


def _verdict_of(line: Line, verdicts: Mapping[str, Verdict], whole: Verdict) -> tuple[Verdict, bool]:
    """The verdict on a line, and whether it is its own."""
    own = verdicts.get(line.id)
    if own is None:
        return whole, False
    return (Verdict.HOLD if own is Verdict.STOP else own), True


def _over_places(program: Program, at: Standing, own: Sequence[T], row: Sequence[T]) -> tuple[list[T], dict[int, T]]:
    """A row of the program with a strip's weeks in their places; and for each lighter week what the rung before it has."""
    out, rungs = list(own), {}
    for place, value in zip(_places(program, at.next_week), row[1:], strict=False):
        out[place - 1] = value
    last = row[1] if len(row) > 1 else row[0]
    for week in range(at.next_week, program.weeks + 1):
        if week in program.lighter:
            rungs[week] = last
        else:
            last = out[week - 1]
    return out, rungs


def _written_back(program: Program, strip: Program, at: Standing, settings: Settings) -> Program:
    """The program with a strip's weeks in their places, and lighter weeks laid over anew where the rungs have changed."""
    sessions, lighter = _over_places(program, at, program.sessions, row=strip.sessions)
    if tuple(sessions) != program.sessions:
        sessions = [lighter.get(w, s) for w, s in enumerate(sessions, start=1)]
    lines = []
    for line, row in zip(program.lines, strip.lines, strict=True):
        cells, rungs = _over_places(program, at, line.cells, row=row.cells)
        if tuple(cells) != line.cells:
            cells = [lighter_cell(line.card, rungs[w], settings) if w in rungs else text for w, text in enumerate(cells, start=1)]
        days = _over_places(program, at, line.days, row=row.days)[0] if line.days is not None and row.days is not None else None
        lines.append(replace(line, cells=tuple(cells), days=tuple(days) if days is not None else None))
    return replace(program, sessions=tuple(sessions), lines=tuple(lines))


def _stopped(program: Program, verdicts: Mapping[str, Verdict], at: Standing) -> Program:
    """What is stopped rests from the next week on."""
    rest = [""] * (program.weeks - at.next_week + 1)
    for line in program.lines:
        if verdicts.get(line.id) is Verdict.STOP:
            program = program.with_line(line.id, cells=(*line.cells[: at.next_week - 1], *rest))
    return program


def after_review(program: Program, verdicts: Mapping[str, Verdict], at: Standing, settings: Settings) -> Program:
    """The program as a review leaves it: verdicts by line id, and that on the week itself under ``THE_WEEK``."""
    rises = any(v in (Verdict.HOLD, Verdict.EASE, Verdict.STOP) for v in verdicts.values())
    if rises and not at.returns and _places(program, at.next_week):
        planned = _strip(program, {}, at, settings)
        strip = paced(_strip(program, verdicts, at, settings), settings, _steepest(planned, settings))
        program = _written_back(program, strip=strip, at=at, settings=settings)
    return _stopped(program, verdicts, at)


def _next_cell(program: Program, line: Line, verdict: Verdict, at: Standing, settings: Settings) -> str:
    if verdict is Verdict.STOP:
        return ""
    if verdict is Verdict.ADVANCE or at.returns or not _places(program, at.next_week):
        return next_of(program, line, at, settings)
    cell = _row(program, line, verdict, True, at=at, settings=settings).cells[1]
    return lighter_cell(line.card, cell, settings) if at.next_week in program.lighter else cell


def outlook(program: Program, line: Line, at: Standing, settings: Settings) -> LineOutlook:
    """What each verdict would make of a line next week, all others alike."""
    after = {v: printed(line, _next_cell(program, line, v, at, settings)) for v in Verdict}
    return LineOutlook(line.id, now=printed(line, now_of(program, line, at, settings)), next=after)


@dataclass(frozen=True, slots=True)
class WeekOutlook:
    """Days a week now, and next week for each verdict on the week."""

    now: float
    next: Mapping[Verdict, float]


def week_outlook(program: Program, at: Standing, settings: Settings) -> WeekOutlook:
    """What each verdict on the week would make of its days."""
    found = {v: after_review(program, {THE_WEEK: v}, at, settings).sessions[at.next_week - 1] for v in Verdict}
    return WeekOutlook(program.sessions[at.week - 1], found)
