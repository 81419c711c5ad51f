"""What may be entered: every field has its limits, and a refusal names the field."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_intake
from dimbo.work.intake.intake_entries import SHAPES, check_caution, profile, shape
from dimbo.work.shared.errors import Refused

TODAY = date(2026, 3, 20)
TABLES = shipped_intake().tables
JUNK = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)


@given(
    st.sampled_from(sorted(SHAPES)), st.dictionaries(st.sampled_from(["right", "left", "answer", "text", "value", "regions", "x"]), JUNK)
)
def test_whatever_is_sent_is_taken_or_refused_in_words(kind, value):
    try:
        shape(kind, value)
    except Refused as refused:
        assert refused.message.endswith(".") and refused.field


@given(st.sampled_from(["name", "email", "phone", "birth_year", "minutes", "days", "goals", "agreed", "status", "time_zone", "shoe"]), JUNK)
def test_a_profile_field_is_taken_or_refused_by_its_name(field, value):
    try:
        kept = profile(field, value, TODAY)
    except Refused as refused:
        assert refused.field in (field, "key") and refused.message
    else:
        assert profile(field, kept, TODAY) == kept, "what is kept is kept again unchanged"


@pytest.mark.parametrize(
    ("field", "given_", "kept"),
    [
        ("name", "  Nell  ", "Nell"),
        ("days", [5, 1, 1], [1, 5]),
        ("agreed", [" cheeks ", "", "  "], ["cheeks"]),
        ("birth_year", 2026, 2026),
        ("minutes", None, None),
        ("email", "", ""),
        ("phone", "+351 (55) 010-0111", "+351 (55) 010-0111"),
        ("time_zone", "Africa/Lagos", "Africa/Lagos"),
        ("status", "paused", "paused"),
    ],
)
def test_what_is_kept_is_tidy(field, given_, kept):
    assert profile(field, given_, TODAY) == kept


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("birth_year", 2027),
        ("birth_year", 1899),
        ("birth_year", True),
        ("minutes", 0),
        ("minutes", 12.5),
        ("days", [8]),
        ("days", "Mon"),
        ("name", 7),
    ],
)
def test_what_cannot_be_is_refused(field, value):
    with pytest.raises(Refused) as refused:
        profile(field, value, TODAY)
    assert refused.value.field == field


@pytest.mark.parametrize("severity", [-1, 5, "2", 2.5, None, True])
def test_severity_is_a_whole_number_from_none_to_marked(severity):
    with pytest.raises(Refused, match="between 0") as refused:
        shape("rating", {"right": severity, "left": 0})
    assert refused.value.field == "right"


def test_an_event_today_is_possible_and_tomorrow_is_not():
    check_caution(TABLES, "fillers", shape("caution", {"answer": "yes", "event_on": "2026-03-20"}), TODAY)
    with pytest.raises(Refused, match="in the future"):
        check_caution(TABLES, "fillers", shape("caution", {"answer": "yes", "event_on": "2026-03-21"}), TODAY)
