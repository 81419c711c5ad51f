"""Tables as they leave: one writer for all of them, as CSV in the reader's own dialect or as a workbook (.xlsx)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from enum import StrEnum
from itertools import chain
from uuid import UUID

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from openpyxl.cell.cell import Cell as SheetCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet._write_only import WriteOnlyWorksheet

from .errors import Refused, Why

Cell = str | int | float | bool | date | datetime | UUID | None
WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
DECIMALS = 4
"""Of a number that is no whole one. Never exactly three are written: a spreadsheet of another language takes the sign before them for
one that groups thousands."""
FORMULA_SIGNS = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""
WIDEST, ROWS_LOOKED_AT = 60, 200
"""Of a column of a workbook, in characters; rows by which its width is chosen."""


@dataclass(frozen=True, kw_only=True)
class Table:
    """``rows`` in the order of ``columns``; they may be made as they are read, once."""

    name: str
    columns: Sequence[str]
    rows: Iterable[Sequence[Cell]]


class Separator(StrEnum):
    COMMA = "comma"
    SEMICOLON = "semicolon"
    TAB = "tab"


class Decimal(StrEnum):
    POINT = "point"
    COMMA = "comma"


_SIGNS = {Separator.COMMA: ",", Separator.SEMICOLON: ";", Separator.TAB: "\t"}


@dataclass(frozen=True, kw_only=True)
class Dialect:
    """How CSV is written; ``mark`` puts a byte-order mark before it, by which spreadsheets know UTF-8. Raises Refused."""

    separator: Separator = Separator.COMMA
    decimal: Decimal = Decimal.POINT
    mark: bool = False

    def __post_init__(self) -> None:
        if self.decimal is Decimal.COMMA and self.separator is Separator.COMMA:
            raise Refused(Why.CLASH, "Numbers with a comma need another separator: semicolon or tab.", "separator")


PLAIN = Dialect()


def formula_safe(text: str) -> str:
    """Text as it may stand in a cell of CSV: never the beginning of a formula; empty text stays empty."""
    return f"'{text}" if text.startswith(FORMULA_SIGNS) else text


def number(value: float, decimal: Decimal = Decimal.POINT) -> str:
    """A number with as many decimals as it needs, at most ``DECIMALS`` and never three."""
    text = f"{value:.{DECIMALS}f}".rstrip("0").rstrip(".")
    whole, _, part = text.partition(".")
    if len(part) == 3:
        part += "0"
    text = f"{whole}.{part}" if part else whole
    if text == "-0":
        text = "0"
    return text.replace(".", ",") if decimal is Decimal.COMMA else text


def _written(value: Cell, dialect: Dialect) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return number(value, dialect.decimal)
    if isinstance(value, datetime | date):
        return value.isoformat()
    return formula_safe(value) if isinstance(value, str) else str(value)


def as_csv(table: Table, dialect: Dialect = PLAIN) -> bytes:
    """A table as UTF-8 text, its columns in the first line."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=_SIGNS[dialect.separator])
    writer.writerow(table.columns)
    writer.writerows([_written(v, dialect) for v in row] for row in table.rows)
    return out.getvalue().encode("utf-8-sig" if dialect.mark else "utf-8")


def as_workbook(tables: Iterable[Table]) -> bytes:
    """One sheet a table, with typed cells: numbers as numbers, days as days, moments in UTC as the columns say, text as text."""
    book = Workbook(write_only=True)
    for table in tables:
        _sheet(book, table)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _sheet(book: Workbook, table: Table) -> None:
    sheet = book.create_sheet(table.name[:31])
    rows = iter(table.rows)
    first = [list(row) for _, row in zip(range(ROWS_LOOKED_AT), rows, strict=False)]
    for place, column in enumerate(table.columns):
        longest = max([len(column) + 2, *(len(_written(row[place], PLAIN)) for row in first)])
        sheet.column_dimensions[get_column_letter(place + 1)].width = min(longest + 1, WIDEST)
    sheet.freeze_panes = "A2"
    sheet.append([_heading(sheet, c) for c in table.columns])
    for row in chain(first, rows):
        sheet.append([_typed(sheet, v) for v in row])


def _heading(sheet: WriteOnlyWorksheet, text: str) -> SheetCell:
    cell = WriteOnlyCell(sheet, value=text)
    cell.font = Font(bold=True)
    return cell


def _typed(sheet: WriteOnlyWorksheet, value: Cell) -> SheetCell:
    if isinstance(value, datetime):
        value = value.astimezone(UTC).replace(tzinfo=None)
    elif isinstance(value, UUID):
        value = str(value)
    elif isinstance(value, float):
        value = round(value, DECIMALS)
    if isinstance(value, str):
        cell = WriteOnlyCell(sheet, value=ILLEGAL_CHARACTERS_RE.sub(" ", value))
        cell.data_type = "s"  # what begins like a formula is still text
        return cell
    cell = WriteOnlyCell(sheet)
    cell.value = value
    if isinstance(value, datetime):
        cell.number_format = "yyyy-mm-dd hh:mm:ss"
    elif isinstance(value, date):
        cell.number_format = "yyyy-mm-dd"
    return cell
