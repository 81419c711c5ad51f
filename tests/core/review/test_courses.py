"""Whole courses: whatever is decided week after week, nothing rises faster than the rules allow, and no rung is invented."""

from functools import lru_cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.bench import courses
from dimbo.core.calendar.schedule import Step
from dimbo.core.design.checks.daily import ceiling, muscle_ceiling
from dimbo.core.design.checks.dose import session_rises, steep_line
from dimbo.core.design.weeks import work_out
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Settings, read_cell
from dimbo.core.review.apply_review import THE_WEEK, Standing, after_review, is_judged, next_of
from dimbo.core.review.breaks import going_on
from dimbo.core.review.weekly import Verdict
from tests.examples import examples

S = Settings()
KEYS = (THE_WEEK, *(f"any{n}" for n in range(6)))
VERDICTS = st.sampled_from([Verdict.ADVANCE, Verdict.ADVANCE, Verdict.HOLD, Verdict.EASE])
DECIDED = st.lists(st.tuples(*(VERDICTS for _ in KEYS)), min_size=11, max_size=11)


@lru_cache(maxsize=1)
def programs():
    return courses.programs()


def decide(program, chosen, at):
    """A verdict for the week and, going round, for each judged line."""
    own = [n for n in program.lines if is_judged(program, n, at, S)]
    return {THE_WEEK: chosen[0]} | {n.id: chosen[1 + i % (len(chosen) - 1)] for i, n in enumerate(own)}


def decided(program, weeks):
    for week, chosen in enumerate(weeks[: program.weeks - 1], start=1):
        at = Standing.between(Step(week), Step(week + 1))
        program = after_review(program, decide(program, chosen, at), at, S)
    return program


def rungs_of(program, line):
    """The line's cells without lighter weeks and weeks of rest."""
    return [t for w, t in enumerate(line.cells, start=1) if w not in program.lighter and t.strip()]


def lowest(program, line):
    return min((load_s(read_cell(t, line.card).dose, S.pace_s) for t in rungs_of(program, line)), default=None)


@pytest.mark.parametrize("name", courses.PROGRAMS)
@examples(0.12)
@given(weeks=DECIDED)
def test_no_verdicts_make_anything_rise_faster_than_the_rules_allow(name, weeks):
    planned = programs()[name]
    after = decided(planned, weeks)
    c = work_out(after, S)
    assert all(rise <= S.session_growth + 1e-9 for rise in session_rises(c).values()), session_rises(c)
    assert not list(steep_line(c)), [n.text for n in steep_line(c)]
    assert not [n.text for check in (ceiling, muscle_ceiling) for n in check(c)]
    for line, own in zip(after.lines, planned.lines, strict=True):
        assert set(rungs_of(after, line)) <= set(rungs_of(planned, own)), "no rung is invented"
        least = lowest(after, line)
        assert least is None or least >= lowest(planned, own) - 1e-9, "none falls below the first rung"
    assert max(after.sessions) <= max(planned.sessions) and min(after.sessions) >= min(planned.sessions)


@pytest.mark.parametrize("name", courses.PROGRAMS)
@pytest.mark.parametrize("verdict", [Verdict.HOLD, Verdict.EASE])
def test_holding_and_easing_never_raise_the_next_week(name, verdict):
    program = programs()[name]
    for week in range(1, program.weeks):
        at = Standing.between(Step(week), Step(week + 1))
        after = after_review(program, decide(program, [verdict] * len(KEYS), at), at, S)
        base = max(w for w in range(1, week + 1) if w not in program.lighter)
        assert after.sessions[week] <= program.sessions[base - 1]
        for before, line in zip(program.lines, after.lines, strict=True):
            now, then = (read_cell(t, line.card).dose for t in (before.cells[base - 1], line.cells[week]))
            if then is not None:
                assert now is not None, f"{line.card.name} is new in week {week + 1} although the program holds"
                assert load_s(then, S.pace_s) <= load_s(now, S.pace_s) + 1e-9
            if line.days is not None:
                assert line.days[week] <= before.days[base - 1]


@pytest.mark.parametrize("name", courses.PROGRAMS)
def test_a_lighter_week_is_no_rung(name):
    program = programs()[name]
    for week in program.lighter:
        at = Standing.between(Step(week), Step(week + 1))
        for verdict, least in ((Verdict.HOLD, 0), (Verdict.EASE, 1)):
            after = after_review(program, decide(program, [verdict] * len(KEYS), at), at, S)
            for before, line in zip(program.lines, after.lines, strict=True):
                if is_judged(program, before, at, S):
                    rungs = [t for w, t in enumerate(before.cells[: week - 1], start=1) if w not in program.lighter]
                    found = dict.fromkeys(reversed(rungs))
                    assert line.cells[week] in list(found)[: least + 2], "held on its rung, or one below, never on the lighter dose"
                    if verdict is Verdict.HOLD:
                        assert line.cells[week] == rungs[-1]


@pytest.mark.parametrize("days", [7, 13, 20, 21, 36])
@pytest.mark.parametrize("name", courses.PROGRAMS)
@examples(0.06)
@given(chosen=st.tuples(*(VERDICTS for _ in KEYS)), stopped=st.integers(2, 3))
def test_a_review_never_undoes_a_break(name, days, chosen, stopped):
    program = programs()[name]
    steps = going_on([Step(w) for w in range(1, program.weeks + 1)], stopped - 1, program.weeks, days)
    silent = Step(min(stopped + days // 7, program.weeks))
    at = Standing.between(silent, steps[0])
    after = after_review(program, decide(program, chosen, at), at, S)
    for step in steps:
        for own, line in zip(program.lines, after.lines, strict=True):
            here = Standing(week=step.week, back=step.back, next_week=step.week, next_back=step.back)
            assert next_of(after, line, here, S) == next_of(program, own, here, S), "what the break lays out stands"


def test_the_table_of_whole_courses_keeps_its_worst_figures():
    """As docs/review.md prints it, over three of the programs."""
    for name in ("first-steps", "bright-eyes", "even-smile"):
        for kind, behaves in courses.KINDS.items():
            f = courses.figures(courses.run(programs()[name], behaves))
            assert f.raised == 0, f"{name}, {kind}: a week rose against its verdict"
            assert f.session <= S.session_growth + 1e-9 and f.line <= 1.5 + 1e-9, (name, kind, f)
            if kind == "steady":
                assert f.reached == pytest.approx(1.0) and not f.stall
