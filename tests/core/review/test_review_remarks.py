"""What a review says besides its verdict, and form beside effort."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from dimbo.core.anatomy import Family
from dimbo.core.review.adherence import Day, DayState
from dimbo.core.review.review_remarks import FOR_CLIENT, INSTEAD, RULES, remarks, stall, to_client
from dimbo.core.review.thresholds import ReviewRules
from dimbo.core.review.weekly import LineFacts, Verdict, WeekFacts, judge
from dimbo.core.rules import Judgement
from tests.core.builders import card

MONDAY = date(2026, 3, 2)
R = ReviewRules()
CARDS = {
    "lift": card("lift"),
    "press": replace(card("press", prime=("masseter",)), home=frozenset({"jaw"})),
    "knead": card("knead", family=Family.RELEASE),
}


def week(**facts):
    days = tuple(Day(day=MONDAY + timedelta(days=n), state=DayState.DONE, share=1, over_s=0, load_s=60) for n in range(4))
    return WeekFacts(days=days, **{"efforts": (5, 5, 5, 5)} | facts)


def line(exercise, share=1.0, sessions=4):
    return LineFacts(exercise_id=exercise, name=exercise.title(), muscles=frozenset(CARDS[exercise].shares), sessions=sessions, share=share)


def told(facts=None, lines=(), before=()):
    facts = facts or week()
    return [(r.rule, r.text) for r in remarks(facts, lines, CARDS, judge(facts, R), before, R)]


@pytest.mark.parametrize(
    ("efforts", "forms", "verdict", "rule"),
    [
        ((2, 2, 2, 2), (), Verdict.HOLD, "review-easy"),
        ((2, 2, 2, 2), ("yes",), Verdict.HOLD, "review-easy"),
        ((2, 2, 2, 2), ("yes", "yes"), Verdict.ADVANCE, "review-advance"),
        ((2, 2, 2, 2), ("yes", "partly", "yes", "yes"), Verdict.ADVANCE, "review-advance"),
        ((5, 5, 5, 5), ("yes", "no", "yes", "yes"), Verdict.ADVANCE, "review-advance"),
        ((5, 5, 5, 5), ("yes", "yes", "yes", "no"), Verdict.HOLD, "review-form"),
        ((5, 5, 5, 5), ("no", "no", "yes", "yes"), Verdict.HOLD, "review-form"),
        ((2, 2, 2, 2), ("no", "yes", "yes", "no"), Verdict.HOLD, "review-easy"),
    ],
)
def test_form_is_heard(efforts, forms, verdict, rule):
    said = judge(week(efforts=efforts, forms=forms), R)
    assert (said.verdict, said.rule) == (verdict, rule)


def test_where_it_is_not_felt_every_exercise_offers_its_cue_and_its_foundation():
    found = told(week(forms=("no",)), [line("lift"), line("knead"), line("press", sessions=0)])
    assert [rule for rule, _ in found] == ["remark-form"] and found[0][1].startswith("Lift: “") and "Felt at" in found[0][1]
    assert told(week(forms=("yes",)), [line("lift")]) == []


def test_what_was_left_out_is_named_and_so_is_a_region_that_nobody_worked():
    assert told(lines=[line("lift"), line("press", 0.4)]) == [
        ("remark-left-out", "Left out in 4 practised sessions: Press (40 % done)."),
        ("remark-left-out", "Nothing that works the jaw was done. Ask why; it may hurt, or not be understood."),
    ]
    assert told(lines=[line("lift"), line("knead", 0.1)]) == [("remark-left-out", "Left out in 4 practised sessions: Knead (10 % done).")]
    assert told(lines=[line("press", 0.1, sessions=1)]) == [], "once is chance"
    nobody = WeekFacts(days=tuple(Day(day=MONDAY, state=DayState.SKIPPED) for _ in range(4)))
    assert told(nobody, [line("press", 0.0)]) == [], "nothing was practised, so nothing was left out"


@pytest.mark.parametrize(
    ("levels", "says"),
    [((1, 2, 3), True), ((0, 1, 2), True), ((3, 4, 5), True), ((1, 2, 2), False), ((3, 2, 1), False), ((2, 3), False), ((4, 5, 6), False)],
)
def test_rising_soreness_is_said_before_its_threshold(levels, says):
    facts = week(soreness=tuple((MONDAY + timedelta(days=n), level) for n, level in enumerate(levels)))
    assert ("remark-rising" in [rule for rule, _ in told(facts)]) is says
    apart = week(soreness=tuple((MONDAY + timedelta(days=5 * n), level) for n, level in enumerate(levels)))
    assert "remark-rising" not in [rule for rule, _ in told(apart)], "days that lie apart are no rise"


def test_the_third_time_says_what_to_try_and_never_the_same_for_easy_and_for_half():
    easy, half = Judgement(Verdict.HOLD, "review-easy", ""), Judgement(Verdict.HOLD, "review-half", "")
    assert stall(easy, ["review-easy"]) is None
    assert stall(easy, ["review-easy", "review-half", "review-easy"]) is None
    third, fourth = stall(easy, ["review-easy"] * 2), stall(easy, ["review-easy"] * 3)
    assert "third week" in third.text and "fourth week" in fourth.text
    assert stall(half, ["review-half"] * 2).text.split(". ", 1)[1] != third.text.split(". ", 1)[1]
    assert stall(Judgement(Verdict.ADVANCE, "review-advance", ""), ["review-advance"] * 5) is None
    assert len(set(INSTEAD.values())) == len(INSTEAD) and set(RULES) == {"remark-left-out", "remark-rising", "remark-form", "remark-stall"}


def test_the_client_reads_what_comes_why_and_the_coachs_words():
    assert to_client("hold", "hold", "review-hard", "") == "Your coach looked at your week: the same once more, because it was hard."
    assert to_client("advance", "advance", "review-advance", "Even and calm.") == (
        "Your coach looked at your week: it goes on as planned. “Even and calm.”"
    )
    assert to_client("hold", "advance", "review-advance", "") == "Your coach looked at your week: the same once more."
    assert set(FOR_CLIENT) == set(INSTEAD) | {"review-paused"}, "every reason to wait can be said"
