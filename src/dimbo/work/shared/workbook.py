"""Tables as a workbook (.xlsx) with typed cells. Loaded by ``tables.as_workbook`` with the first that is asked for."""

from __future__ import annotations

import io
from collections.abc import Iterable
from datetime import UTC, date, datetime
from itertools import chain
from uuid import UUID

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from openpyxl.cell.cell import Cell as SheetCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet._write_only import WriteOnlyWorksheet

from .tables import DECIMALS, PLAIN, Cell, Table, written

WIDEST, ROWS_LOOKED_AT = 60, 200
"""Of a column of a workbook, in characters; rows by which its width is chosen."""


def write(tables: Iterable[Table]) -> bytes:
    """The bytes of a workbook with one sheet a table."""
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
        longest = max([len(column) + 2, *(len(written(row[place], PLAIN)) for row in first)])
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
