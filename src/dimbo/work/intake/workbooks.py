"""A list of clients that comes as a workbook (.xlsx)."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator
from datetime import date, datetime

from openpyxl import load_workbook
from openpyxl.worksheet.worksheet import Worksheet

from dimbo.core.intake.import_table import MOST_BYTES, MOST_ROWS, Line, Spreadsheet, SpreadsheetError, spreadsheet_of

MOST_UNPACKED, MOST_COLUMNS = 200_000_000, 100


def is_workbook(data: bytes) -> bool:
    return data.startswith(b"PK\x03\x04") and b"[Content_Types].xml" in data[:4096] + data[-65_536:]


def read_workbook(data: bytes) -> Spreadsheet:
    """The first sheet that has a table; days are written year-month-day and whole numbers without decimals. Raises SpreadsheetError."""
    if len(data) > MOST_BYTES:
        raise SpreadsheetError(f"The file has {len(data) / 1e6:.0f} MB; {MOST_BYTES // 1_000_000} MB is the most. Split it.")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(f.file_size for f in packed.infolist()) > MOST_UNPACKED:
                raise SpreadsheetError("This workbook is too large when it is unpacked. Save the list of clients alone.")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheets = [list(_lines(sheet)) for sheet in book.worksheets]
    except SpreadsheetError:
        raise
    except Exception as error:
        # A damaged or foreign file fails in as many ways as there are parts in it.
        raise SpreadsheetError("This workbook cannot be read. Open it and save it again as .xlsx, or as CSV.") from error
    found = next((lines for lines in sheets if sum(any(cells) for _, cells in lines) > 1), None)
    if found is None:
        raise SpreadsheetError("The workbook has no sheet with a table.")
    return spreadsheet_of(found, "a workbook", delimiter="")


def _lines(sheet: Worksheet) -> Iterator[Line]:
    for number, row in enumerate(sheet.iter_rows(max_col=MOST_COLUMNS, values_only=True), start=1):
        if number > MOST_ROWS + 50:
            raise SpreadsheetError(f"The table has more than {MOST_ROWS:,} rows. Split it.")
        yield number, [_text(v) for v in row]


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
