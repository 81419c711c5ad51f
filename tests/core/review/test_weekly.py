"""The weekly review: every rule at its threshold, which of them decides, single exercises, and what becomes of the doses."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Family
from dimbo.core.calendar.schedule import Step
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.program import Settings, read_cell
from dimbo.core.review.adherence import Day, DayState
from dimbo.core.review.apply_review import Standing, after_review, is_judged, outlook
from dimbo.core.review.continuation import ahead, waits
from dimbo.core.review.course_weeks import CourseWeek
from dimbo.core.review.thresholds import REVIEW_LIMITS, ReviewRules, checked_rules, in_words, own_rules
from dimbo.core.review.weekly import RULES, LineFacts, Pain, Verdict, WeekFacts, judge, judge_line, overridden, sore_muscles
from tests.core.builders import card, program

MONDAY = date(2026, 3, 2)
SETTINGS = Settings()


def week(*shares, over=(), **facts):
    """A week of planned days with the share of each that was done; ``over`` has the places of overdone days."""
    days = []
    for n, share in enumerate(shares):
        state = DayState.DONE if share == 1 else DayState.PARTLY if share else DayState.SKIPPED
        days.append(Day(day=MONDAY + timedelta(days=n), state=state, share=share, over_s=160.0 if n in over else 0.0, load_s=400.0))
    return WeekFacts(days=tuple(days), **{"efforts": (5, 5, 6)} | facts)


def verdict(facts, rules=None):
    said = judge(facts, rules or ReviewRules())
    return said.verdict, said.rule


def test_a_good_week_advances_and_says_on_which_numbers():
    said = judge(week(1, 1, 1, 1, 0, soreness=((MONDAY, 3),)), ReviewRules())
    assert (said.verdict, said.rule) == (Verdict.ADVANCE, "review-advance")
    for number in ("4 of 5 sessions", "effort 5", "soreness 3", "no pain"):
        assert number in said.because


@pytest.mark.parametrize(
    ("facts", "expected"),
    [
        (week(1, 1, 1, 1, 0), (Verdict.ADVANCE, "review-advance")),
        (week(1, 1, 1, 0.96, 0), (Verdict.HOLD, "review-half")),
        (week(1, 1, 0, 0), (Verdict.HOLD, "review-half")),
        (week(1, 0.9, 0, 0), (Verdict.HOLD, "review-seldom")),
        (week(1, 1, efforts=(8, 8, 7)), (Verdict.HOLD, "review-hard")),
        (week(1, 1, efforts=(7, 7, 8)), (Verdict.ADVANCE, "review-advance")),
        (week(1, 1, efforts=(2, 2, 9)), (Verdict.HOLD, "review-easy")),
        (week(1, 1, efforts=()), (Verdict.HOLD, "review-silent")),
        (week(1, 1, soreness=((MONDAY, 4),)), (Verdict.HOLD, "review-tender")),
        (week(1, 1, soreness=((MONDAY, 5),)), (Verdict.HOLD, "review-tender")),
        (week(1, 1, soreness=((MONDAY, 6),)), (Verdict.EASE, "review-sore")),
        (week(1, 1, 1, over=(0,)), (Verdict.ADVANCE, "review-advance")),
        (week(1, 1, 1, over=(0, 2)), (Verdict.EASE, "review-overdone")),
        (WeekFacts(days=()), (Verdict.HOLD, "review-paused")),
        (WeekFacts(days=(Day(day=MONDAY, state=DayState.PAUSED),), efforts=(5,)), (Verdict.HOLD, "review-paused")),
    ],
)
def test_each_rule_decides_at_its_threshold(facts, expected):
    assert verdict(facts) == expected


def test_pain_comes_before_everything_and_stops_only_its_exercise():
    pain = Pain(exercise_id="lift", name="Lift", day=MONDAY, side="left", level=4, where="jaw joint")
    facts = week(1, 1, over=(0, 1), soreness=((MONDAY, 9),), pains=(pain,))
    whole = judge(facts, ReviewRules())
    assert (whole.verdict, whole.rule) == (Verdict.EASE, "review-sore"), "pain never cancels easing back"
    calm = judge(week(1, 1, pains=(pain,)), ReviewRules())
    assert (calm.verdict, calm.rule) == (Verdict.HOLD, "review-pain")
    assert "left side" in calm.because and "4 of 10" in calm.because
    hurt = judge_line(LineFacts(exercise_id="lift", name="Lift", muscles=frozenset()), whole, facts, ReviewRules())
    other = judge_line(LineFacts(exercise_id="press", name="Press", muscles=frozenset()), whole, facts, ReviewRules())
    assert (hurt.verdict, other.verdict) == (Verdict.STOP, Verdict.EASE)


def test_soreness_with_a_place_eases_only_what_works_there():
    facts = week(1, 1, soreness=((MONDAY, 7),), sore_muscles=frozenset({"masseter"}))
    whole = judge(facts, ReviewRules())
    works = judge_line(LineFacts(exercise_id="a", name="A", muscles=frozenset({"masseter"})), whole, facts, ReviewRules())
    spares = judge_line(LineFacts(exercise_id="b", name="B", muscles=frozenset({"frontalis"})), whole, facts, ReviewRules())
    assert (works.verdict, spares.verdict) == (Verdict.EASE, Verdict.HOLD)
    assert sore_muscles([(5, ["masseter"]), (6, ["mentalis"])], ReviewRules()) == {"mentalis"}


def test_an_exercise_that_is_left_out_stays_and_one_that_is_overdone_goes_back():
    facts = week(1, 1, 1)
    whole = judge(facts, ReviewRules())

    def of(**told):
        return judge_line(LineFacts(exercise_id="a", name="A", muscles=frozenset(), **told), whole, facts, ReviewRules()).rule

    assert of(sessions=3, share=0.49) == "review-line-seldom"
    assert of(sessions=3, share=0.5) == of(sessions=1, share=0.1) == "review-advance"
    assert of(sessions=3, share=1, over_days=2) == "review-line-overdone"


def test_thresholds_of_the_practice_and_of_the_program_decide():
    strict = checked_rules({"advance_share": 0.95, "effort_high": 6})
    own = checked_rules({"effort_high": 8}, strict)
    assert verdict(week(1, 1, 1, 1, 0.5), strict)[1] == "review-half"
    assert verdict(week(1, 1, efforts=(7,)), strict)[1] == "review-hard"
    assert verdict(week(1, 1, efforts=(7,)), own)[1] == "review-advance"
    assert own_rules(own) == {"advance_share": 0.95, "effort_high": 8}


@pytest.mark.parametrize(
    ("values", "names"),
    [
        ({"advance_share": 2}, "Advance from"),
        ({"advance_share": 0.6, "hold_share": 0.7}, "Hold from"),
        ({"soreness_ease": 3, "soreness_advance": 4}, "Soreness to advance"),
        ({"mood": 3}, "mood"),
    ],
)
def test_a_threshold_that_cannot_be_is_refused_by_name(values, names):
    with pytest.raises(ValueError, match=names):
        checked_rules(values)


def test_every_rule_can_be_said_with_its_numbers():
    words = in_words(ReviewRules())
    assert words["advance_share"] == "80 %" and set(words) == set(REVIEW_LIMITS)
    for rule in RULES.values():
        assert "{" not in rule.with_numbers(words)


def test_only_what_the_coach_decided_otherwise_is_an_override():
    assert overridden({"a": "advance", "b": "hold"}, {"a": "advance", "b": "ease back"}) == ["b"]


LIFT = card("lift")
RISING = ("1×5 h3", "1×6 h3", "1×8 h3", "1×10 h3", "1×12 h3", "1×14 h3")


def of(*cells, verdict, at=None, lighter=()):
    made = program((LIFT, cells))
    if lighter:
        from dataclasses import replace

        made = replace(made, lighter=frozenset(lighter))
    return after_review(made, {"line0": verdict}, at or Standing(week=3, back=0, next_week=4), SETTINGS).lines[0].cells


def test_holding_keeps_the_dose_and_moves_the_rise_on():
    assert of(*RISING, verdict=Verdict.HOLD) == ("1×5 h3", "1×6 h3", "1×8 h3", "1×8 h3", "1×10 h3", "1×12 h3")


def test_easing_goes_one_rung_back_then_takes_this_weeks_dose_again():
    assert of(*RISING, verdict=Verdict.EASE) == ("1×5 h3", "1×6 h3", "1×8 h3", "1×6 h3", "1×8 h3", "1×10 h3")


def test_on_the_first_rung_easing_is_holding():
    at = Standing(week=1, back=0, next_week=2)
    assert of(*RISING, verdict=Verdict.EASE, at=at) == of(*RISING, verdict=Verdict.HOLD, at=at)


def test_advancing_goes_along_the_program_and_stopping_empties_what_comes():
    assert of(*RISING, verdict=Verdict.ADVANCE) == RISING
    assert of(*RISING, verdict=Verdict.STOP) == (*RISING[:3], "", "", "")


def test_after_a_lighter_week_of_a_break_the_week_that_comes_again_is_what_advancing_means():
    back = Standing(week=3, back=1, next_week=3)
    assert of(*RISING, verdict=Verdict.ADVANCE, at=back) == RISING
    assert of(*RISING, verdict=Verdict.HOLD, at=back)[2:4] == ("1×6 h3", "1×8 h3")
    assert of(*RISING, verdict=Verdict.EASE, at=back)[2:5] == ("1×5 h3", "1×6 h3", "1×8 h3")


def test_a_lighter_week_keeps_its_place_and_stays_lighter():
    cells = of(*RISING, verdict=Verdict.HOLD, lighter={5})
    assert cells[3] == "1×8 h3" and cells[5] == "1×10 h3"
    load = [load_s(read_cell(c, LIFT).dose, 1.0) for c in cells]
    assert load[4] <= 0.6 * load[3] + 1e-9


@given(st.sampled_from(Verdict), st.integers(1, 5), st.integers(0, 2), st.sets(st.integers(2, 6), max_size=2))
def test_no_verdict_ever_asks_more_of_a_week_than_the_program_did(verdict, now, back, lighter):
    cells = of(*RISING, verdict=verdict, at=Standing(week=now, back=back, next_week=now + 1), lighter=lighter)
    assert len(cells) == len(RISING) and cells[:now] == RISING[:now]
    most = [load_s(read_cell(c, LIFT).dose, 1.0) for c in RISING]
    for w in range(now + 1, 7):
        dose = read_cell(cells[w - 1], LIFT).dose
        if dose is not None and w not in lighter:
            assert load_s(dose, 1.0) <= most[w - 1] + 1e-9


def test_only_what_works_a_muscle_and_goes_on_is_judged():
    at = Standing(week=1, back=0, next_week=2)
    calm = card("drain", family=Family.DRAIN)
    made = program((LIFT, ("1×5 h3", "1×6 h3")), (calm, ("1×5 h3", "1×5 h3")), (card("end"), ("1×5 h3", "")), (card("new"), ("", "1×5 h3")))
    assert [is_judged(made, n, at, SETTINGS) for n in made.lines] == [True, False, False, False]
    after = after_review(made, {"line0": Verdict.HOLD}, at, SETTINGS)
    assert after.lines[0].cells == ("1×5 h3", "1×5 h3") and after.lines[1:] == made.lines[1:]
    seen = outlook(made, made.lines[0], at, SETTINGS)
    assert seen.now == "1×5 h3" and seen.changes(Verdict.ADVANCE) and not seen.changes(Verdict.HOLD)
    assert seen.next[Verdict.STOP] == ""


# ---------------------------------------------------------------- what follows a week
WEEK = CourseWeek(first=MONDAY, last=MONDAY + timedelta(days=6), week=1, back=0, plan=1, days=(MONDAY,))
STEPS = tuple(Step(n) for n in range(1, 5))


def day(n):
    return MONDAY + timedelta(days=n)


def after(today, steps=STEPS, anchor=MONDAY, waiting=False, practised=False):
    return ahead(WEEK, anchor, steps, waiting=waiting, today=day(today), practised_today=practised)


def test_a_review_in_time_holds_from_the_next_week_and_a_late_one_from_the_next_free_day():
    assert (after(6).from_day, after(6).steps) == (day(7), STEPS[1:])
    assert (after(9).from_day, after(9).anchor) == (day(9), day(7))
    assert after(9, practised=True).from_day == day(10)
    assert after(30, STEPS[:2]) is None


def test_a_week_that_only_waited_is_dropped_by_its_review():
    laid_out = (Step(1), *STEPS[1:])
    found = after(6, laid_out, anchor=day(7), waiting=True)
    assert found.waiting and found.steps == STEPS[1:] and found.from_day == day(7)
    late = after(9, laid_out, anchor=day(14), waiting=True)
    assert late.anchor == day(7) and late.from_day == day(9) and late.steps == STEPS[1:]


def test_the_week_after_an_unreviewed_one_is_the_same_again():
    again = waits(MONDAY, STEPS, [], day(2))
    assert again.anchor == again.from_day == day(7) and again.steps == (Step(1), *STEPS[1:])
    assert waits(MONDAY, STEPS, [MONDAY], day(2)) is None
    assert waits(MONDAY, STEPS[:1], [], day(2)) is None, "the last week waits for nothing"
    assert waits(MONDAY, STEPS, [], day(-1)) is None


def test_a_week_that_began_unearned_goes_back_to_the_one_before():
    again = waits(MONDAY, STEPS, [], day(8))
    assert (again.anchor, again.from_day) == (day(7), day(8)) and again.steps[:2] == (Step(1), Step(1))


@given(st.lists(st.integers(0, 5), max_size=4), st.integers(0, 40))
def test_waiting_settles_and_never_shows_an_unreviewed_week(reviewed, today):
    anchor, steps, known = MONDAY, tuple(Step(n) for n in range(1, 7)), [day(7 * n) for n in reviewed]
    for _ in range(3):
        found = waits(anchor, steps, known, day(today)) if anchor <= day(today) else None
        if found is None:
            break
        anchor, steps = found.anchor, found.steps
    assert anchor > day(today) or waits(anchor, steps, known, day(today)) is None
