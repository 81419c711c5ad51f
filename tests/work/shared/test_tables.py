"""What leaves as a table is read back as it was, whoever reads it."""

import csv
import io
from datetime import UTC, date, datetime
from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from dimbo.work.shared.errors import Refused
from dimbo.work.shared.tables import Decimal, Dialect, Separator, Table, as_csv, as_workbook, formula_safe, number

SIGNS = {Separator.COMMA: ",", Separator.SEMICOLON: ";", Separator.TAB: "\t"}
DIALECTS = [
    Dialect(separator=s, decimal=d, mark=m)
    for s in Separator
    for d in Decimal
    for m in (False, True)
    if not (s is Separator.COMMA and d is Decimal.COMMA)
]
texts = st.text(st.characters(codec="utf-8", exclude_characters="\r\0"), max_size=30)


def read(data: bytes, dialect: Dialect) -> list[list[str]]:
    assert data.startswith(b"\xef\xbb\xbf") == dialect.mark
    return list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline=""), delimiter=SIGNS[dialect.separator]))


@given(texts, st.floats(-1e6, 1e6), st.integers(), st.sampled_from(DIALECTS))
def test_csv_gives_back_what_was_written(text, value, count, dialect):
    row = (text, value, count, None, True, date(2026, 3, 1), "")
    first, (said, real, whole, nothing, yes, day, empty) = read(
        as_csv(Table(name="t", columns=list("abcdefg"), rows=[row]), dialect), dialect
    )
    assert first == list("abcdefg")
    assert said == formula_safe(text) and (said == text or said[1:] == text)
    assert float(real.replace(",", ".")) == pytest.approx(value, abs=6e-5)
    assert (int(whole), nothing, yes, day, empty) == (count, "", "true", "2026-03-01", "")


@given(st.floats(-1e9, 1e9))
def test_no_number_can_be_taken_for_one_that_groups_thousands(value):
    for sign in Decimal:
        _, _, part = number(value, sign).replace(",", ".").partition(".")
        assert len(part) != 3


def test_numbers_as_people_write_them():
    assert [number(v) for v in (7.603, 0.5, 3.0, -0.00001, 12.3456789, 1e6)] == ["7.6030", "0.5", "3", "0", "12.3457", "1000000"]
    assert number(7.603, Decimal.COMMA) == "7,6030"


def test_an_empty_cell_is_empty_and_text_never_begins_like_a_formula():
    assert formula_safe("") == "" and formula_safe("-1") == "'-1" and formula_safe("\t=1") == "'\t=1" and formula_safe("a=1") == "a=1"


def test_two_signs_that_cannot_be_told_apart_are_refused():
    with pytest.raises(Refused, match="another separator"):
        Dialect(separator=Separator.COMMA, decimal=Decimal.COMMA)


@given(texts, st.floats(-1e6, 1e6), st.integers(-(2**31), 2**31))
def test_a_workbook_has_typed_cells(text, value, count):
    key, moment = uuid4(), datetime(2026, 3, 1, 22, 5, tzinfo=UTC)
    row = (text, value, count, None, True, date(2026, 3, 1), moment, key)
    book = load_workbook(io.BytesIO(as_workbook([Table(name="t", columns=list("abcdefgh"), rows=[row])])))
    sheet = book["t"]
    assert [c.value for c in sheet[1]] == list("abcdefgh") and sheet.freeze_panes == "A2"
    said, real, whole, nothing, yes, day, at, known = sheet[2]
    assert said.data_type != "f" and (said.value or "") == "".join(
        c if c.isprintable() or c in "\n\t" or ord(c) >= 32 else " " for c in text
    )
    assert real.value == pytest.approx(value, abs=6e-5) and whole.value == count and nothing.value is None and yes.value is True
    assert day.is_date and day.value.date() == date(2026, 3, 1) and day.number_format == "yyyy-mm-dd"
    assert at.value == datetime(2026, 3, 1, 22, 5) and known.value == str(key)


def test_a_formula_stays_text_in_a_workbook():
    book = load_workbook(io.BytesIO(as_workbook([Table(name="t", columns=["a"], rows=[["=1+1"]])])))
    assert (book["t"]["A2"].value, book["t"]["A2"].data_type) == ("=1+1", "s")


def test_rows_are_read_while_they_are_written_and_none_is_lost():
    book = load_workbook(io.BytesIO(as_workbook([Table(name="t", columns=["n"], rows=([n] for n in range(450)))])))
    assert [r[0].value for r in book["t"].iter_rows(min_row=2)] == list(range(450))
