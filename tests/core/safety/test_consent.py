"""Consents: dated, to a version, for so many months, and taken back at once."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.safety.consent import Choice, ConsentState, ConsentText, add_months, consent

TEXT = ConsentText(id="photographs", name="Keep photographs", version=2, months=12, text="I agree.", withdrawn="They are deleted.")
GIVEN = date(2026, 1, 31)


def state(choice, today=date(2026, 3, 1)):
    return consent(TEXT, choice, today)


def test_never_asked_is_not_agreed():
    assert state(None).state is ConsentState.NEVER and not state(None).in_force and not state(None).settled


def test_a_yes_lasts_through_its_last_day():
    yes = Choice(given=True, on=GIVEN, version=2)
    assert state(yes, date(2027, 1, 31)).in_force
    over = state(yes, date(2027, 2, 1))
    assert over.state is ConsentState.EXPIRED and not over.in_force and not over.settled
    assert "31 January 2027" in over.sentence


def test_an_earlier_text_binds_but_is_asked_again():
    old = state(Choice(given=True, on=GIVEN, version=1))
    assert old.state is ConsentState.EARLIER_TEXT and old.in_force and not old.settled


def test_taking_back_is_told_from_never_having_agreed():
    assert state(Choice(given=False, on=GIVEN, version=2, before=True)).state is ConsentState.WITHDRAWN
    assert state(Choice(given=False, on=GIVEN, version=2)).state is ConsentState.REFUSED
    assert not state(Choice(given=False, on=GIVEN, version=2, before=True)).in_force


@pytest.mark.parametrize(
    ("day", "months", "later"),
    [
        (date(2026, 1, 31), 1, date(2026, 2, 28)),
        (date(2027, 12, 31), 2, date(2028, 2, 29)),
        (date(2026, 11, 15), 14, date(2028, 1, 15)),
    ],
)
def test_months_end_where_a_shorter_month_ends(day, months, later):
    assert add_months(day, months) == later


@given(st.dates(date(2000, 1, 1), date(2090, 1, 1)), st.integers(0, 60))
def test_months_never_skip_or_repeat_one(day, months):
    later = add_months(day, months)
    assert (later.year * 12 + later.month) - (day.year * 12 + day.month) == months
    assert later.day == day.day or (later + timedelta(days=1)).day == 1
