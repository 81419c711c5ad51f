"""Tables of other people: encodings, delimiters, quotes, and columns found by their headers."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.intake.import_table import MOST_ROWS, SpreadsheetError, no_row, read_spreadsheet, stand_alone

TEXT = "Name;Born\nÅsa Brännström;1971\n"


@pytest.mark.parametrize(
    ("encoding", "said"),
    [("utf-8", "UTF-8"), ("utf-8-sig", "UTF-8"), ("utf-16", "UTF-16"), ("cp1252", "Western European (Windows-1252)")],
)
def test_letters_survive_whatever_the_encoding(encoding, said):
    sheet = read_spreadsheet(TEXT.encode(encoding))
    assert sheet.rows == (("Åsa Brännström", "1971"),)
    assert sheet.encoding == said


@pytest.mark.parametrize("mark", [",", ";", "\t", "|"])
def test_the_delimiter_is_found(mark):
    sheet = read_spreadsheet(f'name{mark}note\n"Feld{mark} Otto"{mark}two\n'.encode())
    assert sheet.delimiter == mark and sheet.rows == ((f"Feld{mark} Otto", "two"),)


def test_lines_are_the_files_own_even_after_a_quoted_break():
    sheet = read_spreadsheet(b'name,note\n\n"A","one\ntwo"\nB,three\n')
    assert sheet.lines == (3, 5)
    assert sheet.rows[0][1] == "one\ntwo"


def test_short_rows_are_padded_and_what_stands_beside_the_headings_is_kept():
    sheet = read_spreadsheet(b"a,b,\n1\n1,2,3,\n")
    assert (sheet.headers, sheet.rows) == (("a", "b", ""), (("1", "", ""), ("1", "2", "3")))


def test_lines_that_are_empty_cost_no_row():
    """As many rows as may be, with two empty lines after each; one row more is refused and none is left out in silence."""
    text = b"name\n" + b"x\n\n\n" * MOST_ROWS
    assert len(read_spreadsheet(text).rows) == MOST_ROWS
    with pytest.raises(SpreadsheetError, match="Split it"):
        read_spreadsheet(text + b"y\n")


def test_a_title_above_the_table_does_not_choose_the_delimiter():
    sheet = read_spreadsheet(b"Clients, spring and summer\n\nName;Note\nFeld, Otto;two, three\nAda;x\n")
    assert (sheet.delimiter, sheet.headers, sheet.named_in) == (";", ("Name", "Note"), 3)


def test_a_row_that_happens_to_hold_a_heading_is_no_heading():
    assert read_spreadsheet(b"Kundenname;Was\nAda;Focus\nBea;x\n").headers == ("Kundenname", "Was")
    assert read_spreadsheet(b"My list\nName\nAda\n").headers == ("Name",)


@pytest.mark.parametrize(
    ("data", "word"),
    [(b"", "empty"), (b"name\n", "no rows"), (b"PK\x03\x04\0\0", "not a text file"), (b"\xff\xfeabc", "UTF-16")],
)
def test_what_is_no_table_is_refused_with_a_reason(data, word):
    with pytest.raises(SpreadsheetError, match=word):
        read_spreadsheet(data)


def test_too_many_rows_are_refused_before_anything_is_done():
    with pytest.raises(SpreadsheetError, match="Split it"):
        read_spreadsheet(b"name\n" + b"x\n" * (MOST_ROWS + 1))


CELL = st.text(st.characters(codec="utf-8", exclude_characters="\0\r", exclude_categories=("Cs", "Zs", "Cc")), min_size=1, max_size=12)


@given(st.lists(st.tuples(CELL, CELL), min_size=1, max_size=8), st.sampled_from(",;\t|"))
def test_what_a_spreadsheet_writes_is_read_back(rows, mark):
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=mark)
    writer.writerows([("name", "note"), *rows])
    sheet = read_spreadsheet(out.getvalue().encode())
    assert sheet.rows == tuple((a.strip(), b.strip()) for a, b in rows)


def test_the_line_with_most_known_headings_names_the_columns():
    sheet = read_spreadsheet(b"Clients of spring;;\nas of May;;\nName;Telefon;Notiz\nAda;12345;x\n")
    assert (sheet.headers, sheet.rows, sheet.lines) == (("Name", "Telefon", "Notiz"), (("Ada", "12345", "x"),), (4,))


def test_totals_and_headings_once_more_are_no_rows():
    sheet = read_spreadsheet(
        b"name;born;minutes\nAda;1971;15\nname;born;minutes\nGesamt: 1;;15\nTotal Eclipse;1980;20\nA part;;\nSum;Lee;20\n"
    )
    assert [no_row(sheet, n) for n in range(6)] == ["", "the headings once more", "a line that adds others up", "", "", ""]
    assert stand_alone(sheet) == {4}
    assert no_row(read_spreadsheet(b"Name\nAda\nname\n"), 1) == "the headings once more"
