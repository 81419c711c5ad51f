"""What a client is told of a comparison is never more than the comparison says."""

from dataclasses import replace
from datetime import date
from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.results.plain_words import NO_CHANGE, SAME, UNSURE, conditions, plain_sentence
from dimbo.core.results.practised import SideDay, practised
from dimbo.core.review.adherence import SessionRow
from dimbo.core.sittings.comparison import SittingValue, Verdict, change_sentence, compare, not_comparable
from dimbo.core.sittings.noise import Spread
from dimbo.core.sittings.quality import Check
from dimbo.core.sittings.reading_table import READINGS
from tests.core.builders_sitting import shot

EYE = READINGS["fissure_height"]


def value(right: float, left: float) -> SittingValue:
    band = EYE.noise.band(Spread.of_one(3))
    return SittingValue(
        value=left - right,
        right=right,
        left=left,
        shots=(left - right,) * 3,
        band=band,
        provisional=False,
        retaking=band,
        spread=Spread.of_one(3),
    )


def test_a_change_of_one_side_is_said_of_that_side_and_nothing_beyond_it():
    change = compare(EYE, value(9.0, 11.0), after=value(10.6, 11.0))
    assert plain_sentence(EYE, change) == "Your right eye opens more than in the first photographs. Your left and right are more alike."
    within = compare(EYE, value(9.0, 11.0), after=value(9.1, 11.0))
    assert plain_sentence(EYE, within) == f"Eye opening: {NO_CHANGE}."
    worse = compare(EYE, value(10.6, 11.0), after=value(9.0, 11.0))
    assert plain_sentence(EYE, worse).endswith("Your left and right are less alike.")
    crossed = compare(EYE, value(10.0, 11.2), after=value(11.2, 10.0))
    assert plain_sentence(EYE, crossed).endswith(UNSURE), "left more, then right more: nearer to alike is not known"
    other = not_comparable(EYE, 1.0, after=0.2, mdc=0.5, reason="The light came from one side.")
    assert plain_sentence(EYE, other) == "Eye opening: these photographs cannot be held against each other. The light came from one side."


@given(st.floats(8, 12), st.floats(8, 12), st.floats(8, 12), st.floats(8, 12))
def test_what_is_said_of_the_sides_is_what_the_coach_reads(r0, l0, r1, l1):
    change = compare(EYE, value(r0, l0), after=value(r1, l1))
    plain, coach = plain_sentence(EYE, change), change_sentence(EYE, change, "at the baseline")
    assert ("more alike" in plain and "cannot" not in plain) == ("more alike" in coach and "cannot" not in coach)
    assert ("less alike" in plain) == ("less alike" in coach)
    assert (NO_CHANGE in plain) == (change.verdict is Verdict.WITHIN)
    assert not any(word in plain.lower() for word in ("better", "improve", "because", "younger", "symmetr"))


def judged(*noted: str):
    from dimbo.core.sittings.sitting import SittingFacts, read

    found = read([SittingFacts("a", date(2026, 3, 2), "baseline")], [shot("1")]).sittings[0].shots[0]
    extra = tuple(Check(id=n, name=n, found="otherwise", weight="watch") for n in noted)
    return replace(found, checks=(*(c for c in found.checks if c.weight == "fine"), *extra))


def test_photographs_are_called_alike_only_when_nothing_was_noted_of_either():
    assert conditions([judged(), judged()]) == SAME
    assert conditions([judged(), judged("light", "dark", "clock")]) == "Not taken alike, or not known to be: light and time of day."
    assert conditions([judged(), replace(judged(), checks=())]) == "", "nothing is known, so nothing is said"


def test_a_day_of_photographs_counts_toward_what_comes_after_it():
    one = SessionRow(uuid4(), uuid4(), date(2026, 3, 2), "morning", 1, 0, 1, 300, 300, 240, 60, 60, 0, 5)
    sessions = [one._replace(day=date(2026, 3, d), done_s=done) for d, done in ((2, 240), (3, 240), (3, 100), (9, 240), (5, 0), (6, None))]
    sides = [SideDay(date(2026, 3, d), "lid", right, left) for d, right, left in ((2, 60, 30), (9, 60, 60))]
    first = practised(sessions, sides, first=date(2026, 3, 2), last=date(2026, 3, 9))
    later = practised(sessions, sides, first=date(2026, 3, 9), last=date(2026, 3, 20))
    assert (first.sessions, first.days, first.done_s, first.right_s, first.left_s) == (3, 2, 580, 60, 30)
    assert (later.sessions, later.right_s) == (1, 60)


@pytest.mark.parametrize("reading", [r for r in READINGS.values() if r.paired], ids=lambda r: r.id)
def test_every_pair_has_words_for_its_sides(reading):
    assert reading.more and reading.less
