"""Whose gain counts: the start that took no part in the choice, the end at its time, the dose of the side that was smaller."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Side
from dimbo.core.results.clean_starts import Case, Choice, Gain, Kind, Left, extra_s, gain_of, selection
from dimbo.core.results.practised import SideDay
from dimbo.core.sittings.sitting import SittingFacts, read
from tests.core.builders_sitting import moved, shot

CARDS = shipped_catalogue().cards
BEGAN = date(2026, 3, 9)
RAISES, CLOSES, LIFTS = "cover-strong", "lid-close-slow", "smile-mirror"


def sitting(key, day, wider, kind="baseline"):
    """Three shots in which the right eye is opened by so many mm beyond the drawn face's 8, the left being 10."""
    facts = SittingFacts(key, day, kind)
    points = moved(ps_right=(0, -10 * wider))
    return facts, [shot(f"{key}{n}", sitting=key, points=points, settled_flip=True) for n in range(3)]


def case(*sittings, choice="b", work=((RAISES, 1200, 0),), side=Side.RIGHT, **what):
    facts, shots = [s for s, _ in sittings], [x for _, many in sittings for x in many]
    days = [SideDay(BEGAN + timedelta(days=7), exercise, right, left) for exercise, right, left in work]
    made = Case(
        measurement=read(facts, shots),
        began=BEGAN,
        chose_on=BEGAN - timedelta(days=1),
        choice=Choice(side, (choice,)) if choice else None,
        took_part=frozenset({choice} if choice else ()),
        work=days,
        cards=CARDS,
    )
    return replace(made, **what)


FIRST = sitting("a", date(2026, 2, 20), 0.0)
CHOSE = sitting("b", date(2026, 3, 2), -0.4)
END = sitting("c", date(2026, 6, 1), 1.2, "follow-up")
LATE = sitting("d", date(2026, 8, 1), 1.2, "follow-up")
EYE = "fissure_height"


def test_a_gain_is_held_against_the_start_that_did_not_choose():
    found = gain_of(case(FIRST, CHOSE, END), EYE)
    assert isinstance(found, Gain) and found.kind is Kind.UNEVEN
    assert found.start == FIRST[0].taken_on, "not the sitting that chose, though it came later"
    assert found.gain == pytest.approx(1.2, abs=0.01) and found.dose == pytest.approx(0.2)
    assert found.at_start - found.at_end == pytest.approx(found.gain)
    assert 0.05 < found.variance < 0.3


def test_a_second_start_after_the_choice_is_the_best():
    after = sitting("x", date(2026, 3, 8), -0.2)
    assert gain_of(case(FIRST, CHOSE, after, END), EYE).start == after[0].taken_on


@pytest.mark.parametrize(
    ("made", "why"),
    [
        (case(CHOSE, END), Left.NO_CLEAN_START),
        (case(FIRST, CHOSE, END, took_part=frozenset("ab")), Left.NO_CLEAN_START),
        (case(FIRST, CHOSE, LATE), Left.NO_END),
        (case(FIRST, CHOSE), Left.NO_END),
        (case(FIRST, CHOSE, END, took_part=frozenset("bc")), Left.NO_END),
        (case(FIRST, CHOSE, sitting("c", date(2026, 6, 1), -0.4, "follow-up"), choice="c"), Left.NO_END),
        (case(FIRST, CHOSE, END, work=((RAISES, 500, 0),)), Left.LITTLE),
        (case(FIRST, CHOSE, END, work=((RAISES, 0, 1200),)), Left.LITTLE),
        (case(FIRST, CHOSE, END, work=((RAISES, 1200, 0), (CLOSES, 400, 0))), Left.AGAINST),
        (case(FIRST, CHOSE, END, choice=""), Left.NOT_ALIKE),
        (case(FIRST, sitting("b", date(2026, 3, 2), 1.6), END), Left.EVEN),
    ],
    ids=lambda x: x.name if isinstance(x, Left) else "",
)
def test_who_does_not_count_and_why(made, why):
    assert gain_of(made, EYE) is why


def test_who_trained_both_alike_counts_at_no_dose():
    found = gain_of(case(FIRST, CHOSE, END, choice="", work=((RAISES, 900, 900),)), EYE)
    assert found.kind is Kind.ALIKE and found.dose == 0 and found.gain == pytest.approx(1.2, abs=0.01)
    assert selection(case(FIRST, CHOSE, END, choice=""), EYE).id == "b", "the newest when the plan was made"


def test_only_what_raises_the_reading_is_its_dose_each_exercise_once():
    work = [SideDay(BEGAN, RAISES, 300, 100), SideDay(BEGAN, LIFTS, 900, 0), SideDay(BEGAN + timedelta(days=3), RAISES, 60, 0)]
    muscles = frozenset({"levator_palpebrae"})
    assert extra_s(work, CARDS, muscles, side=Side.RIGHT, until=date.max) == 260
    assert extra_s(work, CARDS, muscles, side=Side.LEFT, until=date.max) == -260
    assert extra_s(work, CARDS, muscles, side=Side.RIGHT, until=BEGAN + timedelta(days=3)) == 200
    both = frozenset({"zygomaticus_major", "levator_anguli_oris"})
    assert extra_s(work, CARDS, both, side=Side.RIGHT, until=date.max) == 900, "two of its movers are one exercise"
