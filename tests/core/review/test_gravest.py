"""Pain, soreness and being asked again: whatever is told, and in whatever combination, makes a week gentler or leaves it."""

import itertools
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue
from dimbo.core.review.adherence import Day, DayState
from dimbo.core.review.soreness import ToldSore, soreness, stops_on
from dimbo.core.review.thresholds import ReviewRules
from dimbo.core.review.weekly import LINE_RULES, WEEK_RULES, LineFacts, Pain, Verdict, WeekFacts, judge, judge_line
from dimbo.core.safety.health_questions import asking
from dimbo.core.safety.pain import at_place, joints, shares, stopped_with

MONDAY = date(2026, 3, 2)
RULES = ReviewRules()
GENTLE = (Verdict.ADVANCE, Verdict.HOLD, Verdict.EASE, Verdict.STOP)
CARDS = shipped_catalogue().cards
HURT = Pain(exercise_id="lift", name="Lift", day=MONDAY, side="left", level=4, where="cheek")


def week(done, effort, sore, over, pain, stop):
    days = tuple(
        Day(
            day=MONDAY + timedelta(days=n),
            state=DayState.DONE if n < done else DayState.SKIPPED,
            share=float(n < done),
            over_s=160.0 if n < over else 0.0,
            load_s=400.0,
        )
        for n in range(4)
    )
    told = ((MONDAY, sore),) if sore is not None else ()
    return WeekFacts(
        days=days,
        efforts=(effort,) if effort else (),
        soreness=told,
        sore_muscles=frozenset(),
        pains=(HURT,) if pain else (),
        sore_stop="Soreness 9 of 10." if stop else "",
    )


EVERY = list(itertools.product(range(5), (None, 1, 5, 9), (None, 2, 4, 6, 9), (0, 1, 2), (False, True), (False, True)))


@pytest.mark.parametrize("line", ["", "lift", "press"])
def test_nothing_that_is_told_makes_a_verdict_less_gentle(line):
    def gentle(facts):
        whole = judge(facts, RULES)
        if not line:
            return GENTLE.index(whole.verdict)
        return GENTLE.index(judge_line(LineFacts(exercise_id=line, name=line, muscles=frozenset()), whole, facts, RULES).verdict)

    found = {told: gentle(week(*told)) for told in EVERY}
    for (done, effort, sore, over, pain, stop), verdict in found.items():
        without = [
            (done, effort, sore, over, False, stop),
            (done, effort, sore, over, pain, False),
            (done, effort, sore, 0, pain, stop),
            (done, effort, None if sore is None or sore < 2 else 2, over, pain, stop),
        ]
        assert all(found[less] <= verdict for less in without), (done, effort, sore, over, pain, stop)
        if sore is not None and sore > RULES.soreness_ease:
            assert verdict >= GENTLE.index(Verdict.EASE)


@pytest.mark.parametrize("table", [WEEK_RULES, LINE_RULES], ids=["week", "exercise"])
def test_the_tables_go_from_the_gravest_to_the_mildest(table):
    """The first rule that speaks decides, so a milder one must never stand before a graver one."""
    order = [GENTLE.index(entry.verdict) for entry in table]
    assert order == sorted(order, reverse=True)


def test_pain_stops_what_shares_joint_mark_or_muscle_and_nothing_else():
    for hurt, other in itertools.product(CARDS.values(), repeat=2):
        together = shares(hurt, other)
        assert together >= bool(joints(hurt) & joints(other)) and together >= bool(hurt.marks & other.marks)
        if together and hurt is not other:
            muscle = set(hurt.prime_movers) & set(other.shares)
            assert muscle or hurt.marks & other.marks or joints(hurt) & joints(other)
    for where in ("jaw joint", "neck", "front of neck"):
        held = stopped_with(CARDS["settle-breath"], where, CARDS.values())
        assert held - {"settle-breath"} == {c.id for c in CARDS.values() if at_place(where, c)} and len(held) > 3


def at(day):
    return datetime(day.year, day.month, day.day, 8, tzinfo=UTC)


def test_soreness_rests_strength_for_the_day_and_stops_it_when_grave_or_lasting():
    def told(*levels, first=MONDAY):
        return [ToldSore(first + timedelta(days=n), x, at(first + timedelta(days=n))) for n, x in enumerate(levels) if x is not None]

    def rule(levels, day, reviewed=None):
        found = soreness(told(*levels), MONDAY + timedelta(days=day), reviewed, RULES)
        return found.rule if found else ""

    assert [rule([n], 0) for n in (3, 5, 6, 7, 8, 10)] == ["", "", "sore-rest", "sore-rest", "sore-stop", "sore-stop"]
    assert rule([6], 1) == "", "the next day strength goes on"
    assert rule([8], 5) == "sore-stop" and rule([8], 15) == ""
    assert rule([6, *[None] * 6, 6], 7) == "sore-stop" and rule([6, *[None] * 5, 6], 6) == "sore-rest", "in two weeks"
    assert [rule([4] * n, n - 1) for n in (3, 4)] == ["", "sore-stop"] and rule([4, 4, None, 4, 4], 4) == ""
    assert rule([8], 2, at(MONDAY) + timedelta(hours=1)) == "", "a review was decided after it was told"
    assert rule([8], 2, at(MONDAY) - timedelta(hours=1)) == "sore-stop"
    assert soreness(told(6), MONDAY, None, RULES).rests(MONDAY) and not soreness(told(6), MONDAY, None, RULES).rests(
        MONDAY + timedelta(days=1)
    )


@given(st.dictionaries(st.integers(0, 20), st.integers(0, 10), max_size=21), st.integers(0, 20), st.integers(0, 10))
def test_more_soreness_never_stops_less(levels, day, more):
    told = {MONDAY + timedelta(days=n): x for n, x in levels.items()}
    on = MONDAY + timedelta(days=day)
    if stops_on(told, on, RULES):
        assert stops_on(told | {on: max(told.get(on, 0), more)}, on, RULES)


@given(st.integers(0, 60), st.one_of(st.none(), st.integers(0, 60)), st.integers(0, 60))
def test_after_a_pause_of_a_week_nobody_practises_unasked(asked, practised, today):
    day = MONDAY + timedelta(days=today)
    last = None if practised is None else MONDAY + timedelta(days=practised)
    found = asking(day, asked=MONDAY + timedelta(days=asked), practised=last)
    if practised is not None and today - practised > 7 and asked < practised + 7:
        assert found is not None and found.first
    elif found is not None:
        assert not found.first and today - asked >= 7
    assert asking(day, asked=None, practised=None) is None


@pytest.mark.parametrize(("sessions", "share", "verdict"), [(2, 0.49, "hold"), (1, 0.0, "advance"), (2, 0.5, "advance")])
def test_an_exercise_is_called_left_out_from_two_sessions_on_and_below_the_share(sessions, share, verdict):
    facts = week(4, 5, None, 0, False, False)
    line = LineFacts(exercise_id="lift", name="Lift", muscles=frozenset(), sessions=sessions, share=share)
    assert judge_line(line, judge(facts, RULES), facts, RULES).verdict == verdict


@pytest.mark.parametrize("told", [{"sore": 9, "stop": True}, {"sore": 2, "over": 2}], ids=["grave soreness", "overdone"])
def test_only_plain_soreness_spares_what_it_does_not_touch(told):
    """Grave or lasting soreness, and overdoing, ease everything that works a muscle, wherever it was sore."""
    facts = replace(week(4, 5, told["sore"], told.get("over", 0), False, told.get("stop", False)), sore_muscles=frozenset({"masseter"}))
    line = LineFacts(exercise_id="lift", name="Lift", muscles=frozenset({"frontalis"}), sessions=4)
    assert judge_line(line, judge(facts, RULES), facts, RULES).verdict is Verdict.EASE
    plain = replace(facts, sore_stop="", soreness=((MONDAY, 9),), days=week(4, 5, 9, 0, False, False).days)
    assert judge_line(line, judge(plain, RULES), plain, RULES).verdict is Verdict.HOLD
