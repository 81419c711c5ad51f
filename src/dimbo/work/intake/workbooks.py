"""A list of clients that comes as a workbook (.xlsx)."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime
from typing import TYPE_CHECKING

from dimbo.core.intake.import_table import HEAD_LINES, MOST_BYTES, MOST_ROWS, Line, Spreadsheet, SpreadsheetError, spreadsheet_of

if TYPE_CHECKING:
    from openpyxl.worksheet.worksheet import Worksheet

MOST_UNPACKED = 60_000_000
"""Bytes of everything within a workbook; a list of ``MOST_ROWS`` clients has a tenth of it."""


def is_workbook(data: bytes) -> bool:
    return data.startswith(b"PK\x03\x04") and b"[Content_Types].xml" in data[:4096] + data[-65_536:]


def read_workbook(data: bytes) -> Spreadsheet:
    """The first sheet that has a table; days are written year-month-day and whole numbers without decimals. Raises SpreadsheetError."""
    from openpyxl import load_workbook  # a third of a second, and few lists come as workbooks

    if len(data) > MOST_BYTES:
        raise SpreadsheetError(f"The file has {len(data) / 1e6:.0f} MB; {MOST_BYTES // 1_000_000} MB is the most. Split it.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(f.file_size for f in packed.infolist()) > MOST_UNPACKED:
                raise SpreadsheetError("This workbook is too large when it is unpacked. Save the list of clients alone.")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        found = next((lines for sheet in book.worksheets if len(lines := _lines(sheet)) > 1), None)
    except SpreadsheetError:
        raise
    except Exception as error:
        # A damaged or foreign file fails in as many ways as there are parts in it.
        raise SpreadsheetError("This workbook cannot be read. Open it and save it again as .xlsx, or as CSV.") from error
    if found is None:
        raise SpreadsheetError("The workbook has no sheet with a table.")
    return spreadsheet_of(found, "a workbook", delimiter="")


def _lines(sheet: Worksheet) -> list[Line]:
    """The lines that hold something; sheets end in thousands that do not. One too many shows that there are more."""
    lines: list[Line] = []
    for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
        if any(v is not None for v in row):
            lines.append((number, [_text(v) for v in row]))
        if len(lines) > MOST_ROWS + HEAD_LINES:
            break
    return lines


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == datetime.min.time() else value.isoformat(sep=" ")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value).strip()
