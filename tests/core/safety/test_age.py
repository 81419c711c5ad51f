"""Nobody under 16, a guardian under 18, and everybody counted as young as they may be."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_intake
from dimbo.core.safety.age import GUARDIANS, Age, age, for_age
from dimbo.core.safety.consent import Choice, ConsentState, consent

TODAY = date(2026, 11, 29)
TEXTS = shipped_intake().consents


def stand(birth_year, *given):
    chosen = {i: Choice(given=True, on=date(2026, 10, 1), version=TEXTS[i].version, person="A. Guardian") for i in given}
    return {c.text.id: c for c in for_age([consent(t, chosen.get(i), TODAY) for i, t in TEXTS.items()], birth_year, TODAY)}


@pytest.mark.parametrize(
    ("year", "found"),
    [(None, Age.UNKNOWN), (2011, Age.TOO_YOUNG), (2010, Age.TOO_YOUNG), (2009, Age.GUARDED), (2008, Age.GUARDED), (2007, Age.OF_AGE)],
)
def test_everybody_is_counted_as_young_as_they_may_be(year, found):
    assert age(year, TODAY) is found


def test_a_guardian_is_asked_only_under_eighteen_and_photographs_apart():
    assert not set(GUARDIANS.values()) & set(stand(1980, "practise"))
    alone = stand(2009, "practise", "photographs")
    assert alone["practise"].state is ConsentState.GUARDIAN and "guardian" in alone["practise"].sentence
    assert not alone["practise"].in_force and not alone["practise"].settled
    one = stand(2009, "practise", "photographs", "guardian-practise")
    assert one["practise"].in_force and not one["photographs"].in_force
    both = stand(2009, "practise", "photographs", *GUARDIANS.values())
    assert both["practise"].in_force and both["photographs"].in_force


@given(st.integers(2010, 2026), st.sets(st.sampled_from(sorted(TEXTS))))
def test_under_sixteen_nothing_holds_whatever_was_agreed_to(year, given_to):
    assert not [c for c in stand(year, *given_to).values() if c.in_force]
