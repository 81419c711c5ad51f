"""Reading a table that somebody else made: encoding, delimiter, and which column is which; and text that is safe in one.

Pure: bytes in, text and guesses out. What the values mean is checked by whoever imports them.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

MOST_BYTES = 8_000_000
MOST_ROWS = 20_000


class SpreadsheetError(ValueError):
    """The file cannot be read as a table; the message says why and what to do."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Spreadsheet:
    """A table with its headers. ``rows`` are padded to the headers' length; ``lines`` are their first lines in the file
    (1-based), for messages. ``encoding`` says how the letters were read."""

    headers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    encoding: str
    delimiter: str


FORMULA_SIGNS = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""


def formula_safe(text: str) -> str:
    """Text as it may stand in a cell: never the beginning of a formula; empty text stays empty."""
    return f"'{text}" if text.startswith(FORMULA_SIGNS) else text


def _decode(data: bytes) -> tuple[str, str]:
    for mark, name, words in (
        (b"\xef\xbb\xbf", "utf-8-sig", "UTF-8"),
        (b"\xff\xfe", "utf-16", "UTF-16"),
        (b"\xfe\xff", "utf-16", "UTF-16"),
    ):
        if data.startswith(mark):
            try:
                return data.decode(name), words
            except UnicodeDecodeError as error:
                raise SpreadsheetError(f"The file says that it is {words}, but is not. Save it again as CSV, UTF-8.") from error
    if b"\0" in data:
        raise SpreadsheetError("This is not a text file. Save the table as CSV and choose that file.")
    try:
        return data.decode("utf-8"), "UTF-8"
    except UnicodeDecodeError:
        return data.decode("cp1252", errors="replace"), "Western European (Windows-1252)"


def _delimiter(text: str) -> str:
    """The mark that splits the first line into most columns; quoted marks do not count."""
    first = next((line for line in text.splitlines() if line.strip()), "")
    counts = {mark: len(next(csv.reader([first], delimiter=mark), [])) for mark in ",;\t|"}
    return max(counts, key=lambda mark: counts[mark])


def read_spreadsheet(data: bytes) -> Spreadsheet:
    """Read a CSV file of whatever encoding and delimiter. Empty lines are left out. Raises SpreadsheetError."""
    if not data.strip():
        raise SpreadsheetError("The file is empty.")
    if len(data) > MOST_BYTES:
        raise SpreadsheetError(f"The file has {len(data) / 1e6:.0f} MB; {MOST_BYTES // 1_000_000} MB is the most. Split it.")
    text, encoding = _decode(data)
    mark = _delimiter(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=mark)
    headers: tuple[str, ...] = ()
    rows: list[tuple[str, ...]] = []
    lines: list[int] = []
    before = 0
    try:
        for row in reader:
            line, before = before + 1, reader.line_num
            if not any(cell.strip() for cell in row):
                continue
            if not headers:
                headers = tuple(cell.strip() for cell in row)
                continue
            if len(rows) >= MOST_ROWS:
                raise SpreadsheetError(f"The table has more than {MOST_ROWS:,} rows. Split it.")
            cells = [cell.strip() for cell in row[: len(headers)]]
            rows.append(tuple(cells + [""] * (len(headers) - len(cells))))
            lines.append(line)
    except csv.Error as error:
        raise SpreadsheetError(f"Line {reader.line_num} cannot be read: {error}. Look for a quote that is never closed.") from error
    if not rows:
        raise SpreadsheetError("The table has a first line but no rows below it.")
    return Spreadsheet(headers=headers, rows=tuple(rows), lines=tuple(lines), encoding=encoding, delimiter=mark)


def guess_columns(headers: Sequence[str], words: Mapping[str, Sequence[str]]) -> list[str]:
    """For each header the field whose words fit it, or "". Each field is taken once, the closest header first."""

    def plain(text: str) -> str:
        return "".join(c for c in text.lower() if c.isalnum())

    out = [""] * len(headers)
    for exact in (True, False):
        for field, known in words.items():
            if field in out:
                continue
            for place, header in enumerate(headers):
                h = plain(header)
                if not out[place] and h and any(h == plain(w) if exact else plain(w) in h for w in known):
                    out[place] = field
                    break
    return out
