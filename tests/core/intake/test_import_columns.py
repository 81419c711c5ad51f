"""What a column holds, by its heading and by what stands in it; years of birth as people write dates."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.intake.import_columns import UnclearError, birth_year, guess, minutes, plain

TODAY = date(2026, 5, 1)


@pytest.mark.parametrize(
    ("headings", "cells", "fields"),
    [
        (
            ["Company name", "Name", "E-Mail", "Date of birth", "Other"],
            ["Acme", "Ada", "a@b.example", "1971", "x"],
            "|name|email|birth_year|",
        ),
        (["Timestamp", "Name", "Minutes"], ["12:03", "Ada", "15"], "|name|minutes"),
        (["Zeit", "Vorname", "Nachname", "Geb."], ["abends", "Ada", "Lind", "3.4.71"], "|first_name|last_name|birth_year"),
        (["Prénom", "Nom", "Téléphone", "Objectifs"], ["Ada", "Lind", "+33 1 2345", "dormir"], "first_name|last_name|phone|goals"),
        (["Name", "First name"], ["Lind", "Ada"], "last_name|first_name"),
        (["Surname", "Status"], ["Lind", "aktiv"], "name|status"),
        (["Time", "Client"], ["8:30", "Ada"], "|name"),
        (["Contact", "Name"], ["a@b.example", "Ada"], "email|name"),
        (["Name", "Birthday"], ["Ada", "in spring"], "name|"),
        (["Mobile no.", "Full name"], ["0171 55501", "Ada"], "phone|name"),
    ],
)
def test_headings_are_read_by_whole_words_and_held_against_the_cells(headings, cells, fields):
    assert "|".join(guess(headings, [[c] for c in cells], TODAY)) == fields


@pytest.mark.parametrize(
    ("text", "year"),
    [
        ("1971", 1971),
        ("03.04.1971", 1971),
        ("4/3/71", 1971),
        ("3. April 71", 1971),
        ("April 3, 1971", 1971),
        ("71-04-03", 1971),
        ("1971-04-03 00:00:00", 1971),
        ("'08", 2008),
        ("03.04.08", 2008),
    ],
)
def test_years_of_birth(text, year):
    assert birth_year(text, TODAY) == year


@pytest.mark.parametrize("text", ["unknown", "03.04.20", "5", "1971 or 1972", "100", "1/2/3/4"])
def test_what_holds_no_year_is_said(text):
    with pytest.raises(UnclearError, match=r"four digits"):
        birth_year(text, TODAY)


@pytest.mark.parametrize(("two", "year"), [("16", 2016), ("17", None), ("25", None), ("26", 1926)])
def test_the_century_is_told_only_where_the_age_tells_it(two, year):
    """From 10 to 100 years on 1 May 2026."""
    try:
        assert birth_year(f"03.04.{two}", TODAY) == year
    except UnclearError:
        assert year is None


def test_two_ways_of_reading_are_asked_about():
    with pytest.raises(UnclearError) as told:
        birth_year("04-05-09", TODAY)
    assert told.value.order
    assert (birth_year("04-05-09", TODAY, year_first=True), birth_year("04-05-09", TODAY, year_first=False)) == (2004, 2009)


@given(st.dates(date(1930, 1, 1), date(2010, 12, 31)), st.sampled_from(["{d}.{m}.{y}", "{m}/{d}/{y}", "{y}-{m}-{d}", "{d} {m} {y}"]))
def test_a_year_of_four_digits_is_found_in_any_order(born, form):
    assert birth_year(form.format(d=born.day, m=born.month, y=born.year), TODAY) == born.year


@pytest.mark.parametrize(("text", "found"), [("15", 15), ("15 min", 15), ("ca. 20 Minuten am Tag", 20), ("10'", 10)])
def test_minutes(text, found):
    assert minutes(text) == found


@pytest.mark.parametrize("text", ["12:03", "a while", "15-20", "2026-01-01 10:00", "1000"])
def test_what_is_no_number_of_minutes_is_said(text):
    with pytest.raises(UnclearError):
        minutes(text)


def test_plain_words():
    assert plain("  Größer-WEISS, Änne ") == "grosser weiss anne"
