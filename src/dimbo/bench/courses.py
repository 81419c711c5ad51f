"""Whole courses: what the weekly review makes of six programs with thirteen kinds of client who always get what is suggested.

    ./dimbo simulate

Prints the table that docs/review.md quotes. Nothing is random.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from dimbo.catalogue import shipped_catalogue
from dimbo.catalogue.templates import shipped_templates
from dimbo.core.calendar.schedule import Step
from dimbo.core.design.checks.dose import GROWTH_FLOOR_S
from dimbo.core.design.weeks import week_plans
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Program, Settings, read_cell
from dimbo.core.review.adherence import Day, DayState
from dimbo.core.review.apply_review import THE_WEEK, Standing, after_review, is_judged, now_of
from dimbo.core.review.breaks import going_on
from dimbo.core.review.thresholds import ReviewRules
from dimbo.core.review.weekly import LineFacts, Verdict, WeekFacts, judge, judge_line

SETTINGS, RULES = Settings(), ReviewRules()
PROGRAMS = ("first-steps", "bright-eyes", "even-smile", "lift-and-level", "cheeks-up", "neck-and-chin")
MONDAY = date(2026, 1, 5)
LONGEST = 60
"""Calendar weeks after which a course that has not ended is given up."""


@dataclass(frozen=True, kw_only=True)
class Told:
    """What a client does and tells in a week: the share of the sessions, how much above plan on each day, effort and
    soreness of 10, and whether it is felt in the right place. A client who is away does nothing at all."""

    done: float = 1.0
    over: float = 0.0
    effort: int | None = 5
    soreness: int = 1
    form: str = "partly"
    away: bool = False


Kind = Callable[[int], Told]
KINDS: Mapping[str, Kind] = {
    "steady": lambda week: Told(),
    "finds it easy, and feels it": lambda week: Told(effort=2, form="yes"),
    "finds it easy, says no form": lambda week: Told(effort=2),
    "does not feel it at first": lambda week: Told(form="no" if week < 4 else "yes"),
    "three of four sessions": lambda week: Told(done=0.75),
    "half, then all": lambda week: Told(done=0.55 if week % 2 else 1.0),
    "finds it hard every third week": lambda week: Told(effort=9 if week % 3 == 0 else 6),
    "sore every third week": lambda week: Told(soreness=7 if week % 3 == 0 else 2),
    "sore after a lighter week": lambda week: Told(soreness=7 if week in (6, 7, 8, 10) else 2),
    "eager, overdoes every fourth week": lambda week: Told(over=0.4 if week % 4 == 0 else 0.0),
    "tells no effort": lambda week: Told(effort=None),
    "two weeks away": lambda week: Told(away=week in (5, 6)),
    "five weeks away": lambda week: Told(away=5 <= week <= 9),
}


@dataclass(kw_only=True)
class Practised:
    """A calendar week that was practised: where it stood, its days, contraction of its busiest session in seconds, and load
    by line; ``lighter`` weeks are compared with nothing."""

    step: Step
    sessions: float
    session_s: float
    loads: Mapping[str, float]
    lighter: bool
    verdict: Verdict


@dataclass
class Course:
    """A course as it ran: its practised weeks in order, and the program as it was planned at first."""

    planned: Program
    weeks: list[Practised] = field(default_factory=list)
    ended: bool = False


def loads_of(program: Program, step: Step) -> dict[str, float]:
    """Load of every line that contracts in a week, as it is played."""
    out = {}
    for line in program.lines:
        at = Standing(week=step.week, back=step.back, next_week=step.week)
        dose = read_cell(now_of(program, line, at, SETTINGS), line.card).dose
        if dose is not None and line.card.family.contracts:
            out[line.id] = load_s(dose, SETTINGS.pace_s)
    return out


def session_of(program: Program, step: Step) -> float:
    plans = week_plans(program, SETTINGS, step.week, back=step.back)
    return max((max(p.contraction.right, p.contraction.left) for p in plans), default=0.0)


def facts_of(told: Told, sessions: float, first: date) -> WeekFacts:
    """A week as the review reads it; whole sessions first, then one in part."""
    n, days = round(sessions), []
    for i in range(n):
        share = min(max(told.done * n - i, 0.0), 1.0)
        state = DayState.DONE if share >= 1 else DayState.PARTLY if share > 0 else DayState.SKIPPED
        days.append(Day(day=first + timedelta(days=i), state=state, share=share, over_s=told.over * 60, load_s=60))
    effort = (told.effort,) * n if told.effort is not None else ()
    forms = (told.form,) * len(effort)
    return WeekFacts(days=tuple(days), efforts=effort, soreness=((first + timedelta(days=2), told.soreness),), forms=forms)


def verdicts_of(program: Program, at: Standing, facts: WeekFacts) -> tuple[Verdict, dict[str, Verdict]]:
    """What is suggested for the week and each line that is judged."""
    whole = judge(facts, RULES)
    out = {THE_WEEK: Verdict(whole.verdict)}
    for line in program.lines:
        if is_judged(program, line, at, SETTINGS):
            said = judge_line(
                LineFacts(exercise_id=line.card.id, name=line.card.name, muscles=frozenset(line.card.shares)), whole, facts, RULES
            )
            out[line.id] = Verdict(said.verdict)
    return Verdict(whole.verdict), out


AWAY = Told(done=0.0, effort=None)


def run(planned: Program, kind: Kind) -> Course:
    """A course from its first week to its last, the review of every week confirmed as suggested."""
    course = Course(planned)
    program, steps, place = planned, [Step(w) for w in range(1, planned.weeks + 1)], 0
    back_to: tuple[Program, list[Step], int] | None = None
    away = 0
    for number in range(1, LONGEST + 1):
        told = kind(number)
        if told.away:
            back_to = back_to or (program, steps, place - 1)
            away += 1
        elif back_to is not None:
            # On the day of the return the phone goes on from where practice stopped; the last silent week is reviewed then.
            silent_at = steps[min(place - 1, len(steps) - 1)]
            program, known, stopped = back_to
            steps, place, back_to = list(going_on(known, max(stopped, 0), weeks=program.weeks, days=7 * away)), 0, None
            away = 0
            program = _reviewed(program, silent_at, then=steps[0], told=AWAY)
        if place >= len(steps):
            course.ended = not told.away
            break
        step = steps[place]
        if not told.away:
            sessions = program.sessions[step.week - 1]
            facts = facts_of(told, sessions, MONDAY + timedelta(weeks=number))
            verdict = Verdict(judge(facts, RULES).verdict)
            loads, lighter = loads_of(program, step), step.week in program.lighter
            course.weeks.append(
                Practised(step=step, sessions=sessions, session_s=session_of(program, step), loads=loads, lighter=lighter, verdict=verdict)
            )
        place += 1
        if place < len(steps):
            program = _reviewed(program, step, then=steps[place], told=AWAY if told.away else told)
    return course


def _reviewed(program: Program, step: Step, then: Step, told: Told) -> Program:
    at = Standing.between(step, then=then)
    facts = facts_of(told, program.sessions[step.week - 1], MONDAY)
    return after_review(program, verdicts_of(program, at, facts)[1], at, SETTINGS)


# ---------------------------------------------------------------- what is told of a course
def pairs(course: Course) -> Iterator[tuple[Practised, Practised]]:
    """Each week with the one practised before it; lighter weeks are passed over."""
    heavy = [w for w in course.weeks if not w.lighter]
    yield from itertools.pairwise(heavy)


def line_rise(a: Practised, b: Practised) -> float:
    """The most by which a line's load rises between two weeks, as a factor."""
    return max((b.loads[k] / a.loads[k] for k in b.loads if a.loads.get(k)), default=1.0)


def session_rise(a: Practised, b: Practised) -> float:
    return b.session_s / max(a.session_s, GROWTH_FLOOR_S)


def total(loads: Mapping[str, float]) -> float:
    return sum(loads.values())


@dataclass(frozen=True, kw_only=True)
class Figures:
    """A course in numbers: share of the planned end dose that was reached; the most that a line and a session rose in a week,
    as factors; weeks that rose although the week before was to hold or to ease back; the longest row of one verdict other than
    advance; weeks above and below what the program had planned for that week."""

    reached: float
    line: float
    session: float
    raised: int
    stall: int
    above: int
    below: int


def figures(course: Course) -> Figures:
    planned = [total(loads_of(course.planned, Step(w))) for w in range(1, course.planned.weeks + 1)]
    heavy = [w for w in range(1, course.planned.weeks + 1) if w not in course.planned.lighter]
    end = planned[heavy[-1] - 1]
    last = next((w for w in reversed(course.weeks) if not w.lighter), None)
    both = list(pairs(course))
    raised = sum(
        a.verdict is not Verdict.ADVANCE and (b.sessions > a.sessions or b.session_s > a.session_s + 1e-6 or line_rise(a, b=b) > 1 + 1e-9)
        for a, b in both
    )
    longest = run_ = 0
    for i, w in enumerate(course.weeks):
        same = w.verdict is not Verdict.ADVANCE and i > 0 and course.weeks[i - 1].verdict is w.verdict
        run_ = run_ + 1 if same else int(w.verdict is not Verdict.ADVANCE)
        longest = max(longest, run_)
    against = [(total(w.loads), planned[min(i, len(planned) - 1)]) for i, w in enumerate(course.weeks)]
    return Figures(
        reached=total(last.loads) / end if last and end else 1.0,
        line=max((line_rise(a, b=b) for a, b in both), default=1.0),
        session=max((session_rise(a, b=b) for a, b in both), default=1.0),
        raised=raised,
        stall=longest,
        above=sum(a > b + 1e-6 for a, b in against),
        below=sum(a < b - 1e-6 for a, b in against),
    )


def programs() -> dict[str, Program]:
    """The six programs by id."""
    cards, shipped = shipped_catalogue().cards, shipped_templates()
    return {i: shipped[i].program(SETTINGS, cards) for i in PROGRAMS}


def table(rows: Sequence[tuple[str, Sequence[Figures]]]) -> list[str]:
    """One line a kind of client over all programs: the least dose reached, the worst of everything else."""
    out = ["| client | end dose reached | line rises most | session rises most | raised against the verdict | same verdict in a row | "
           "weeks above plan | below |", "| --- | --- | --- | --- | --- | --- | --- | --- |"]  # fmt: skip
    for kind, found in rows:
        cells = (
            f"{min(f.reached for f in found):.0%} to {max(f.reached for f in found):.0%}",
            f"{max(f.line for f in found) - 1:+.0%}",
            f"{max(f.session for f in found) - 1:+.0%}",
            f"{sum(f.raised for f in found)}",
            f"{max(f.stall for f in found)}",
            f"{sum(f.above for f in found)}",
            f"{sum(f.below for f in found)}",
        )
        out.append(f"| {kind} | {' | '.join(cells)} |")
    return out


def every() -> list[tuple[str, list[Figures]]]:
    """Figures of every program, by kind of client."""
    known = programs().values()
    return [(kind, [figures(run(p, behaves)) for p in known]) for kind, behaves in KINDS.items()]


def main() -> int:
    print("\n".join(table(every())))
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
