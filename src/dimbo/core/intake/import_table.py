"""Reading a table that somebody else made: encoding, delimiter, which line names the columns, and which lines are no rows.

Pure: bytes in, text out. What columns mean is guessed in ``import_columns``; what values mean is checked by whoever imports them.
"""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import islice

from .import_columns import COUNTED, TOTALS, knows_headings, plain

MOST_BYTES = 8_000_000
MOST_ROWS, MOST_COLUMNS = 20_000, 100
HEAD_LINES = 20
"""Lines among which the one is looked for that names the columns."""
Line = tuple[int, Sequence[str]]
"""Number in the file, counted from 1, and cells."""


class SpreadsheetError(ValueError):
    """The file cannot be read as a table; the message says why and what to do."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Spreadsheet:
    """A table with its headers. ``rows`` are padded to the headers' length; ``lines`` are their first lines in the file
    (1-based), for messages; ``named_in`` is the line of the headers. ``encoding`` says how the letters were read."""

    headers: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    named_in: int
    encoding: str
    delimiter: str


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
    """The mark by which most of the first lines have the same number of columns, more than one; a comma where there is none. Quoted
    marks do not count, nor does a title above the table."""

    def fit(mark: str) -> tuple[int, int]:
        try:
            widths = Counter(
                len(row) for row in islice(filter(None, csv.reader(io.StringIO(text, newline=""), delimiter=mark)), HEAD_LINES)
            )
        except csv.Error:
            return 0, 0
        return max(((count, width) for width, count in widths.items() if width > 1), default=(0, 0))

    return max(",;\t|", key=fit)


def read_spreadsheet(data: bytes) -> Spreadsheet:
    """Read a CSV file of whatever encoding and delimiter. Empty lines are left out. Raises SpreadsheetError."""
    if not data.strip():
        raise SpreadsheetError("The file is empty.")
    if len(data) > MOST_BYTES:
        raise SpreadsheetError(f"The file has {len(data) / 1e6:.0f} MB; {MOST_BYTES // 1_000_000} MB is the most. Split it.")
    text, encoding = _decode(data)
    mark = _delimiter(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=mark)
    lines: list[Line] = []
    before = 0
    try:
        for row in reader:
            if any(row):
                lines.append((before + 1, row))
            before = reader.line_num
            if len(lines) > MOST_ROWS + HEAD_LINES:
                break  # too many already; which of them is the first that is too much, is told below
    except csv.Error as error:
        raise SpreadsheetError(f"Line {reader.line_num} cannot be read: {error}. Look for a quote that is never closed.") from error
    return spreadsheet_of(lines, encoding, delimiter=mark)


def spreadsheet_of(lines: Iterable[Line], encoding: str, delimiter: str) -> Spreadsheet:
    """A table from its lines, each with its number in the file. The line that names the columns is the one among the first
    ``HEAD_LINES`` with most headings that are known, where it has two of them or is one cell wide; else the first one. What stands
    above it is left out; what stands beside it has no heading. Raises SpreadsheetError."""
    filled = [(n, tuple(c.strip() for c in cells)) for n, cells in lines if any(c.strip() for c in cells)]
    if not filled:
        raise SpreadsheetError("The file is empty.")
    head = max(range(min(HEAD_LINES, len(filled))), key=lambda i: (_names(filled[i][1]), -i))
    (line, headers), below = filled[head], filled[head + 1 :]
    if len(below) > MOST_ROWS:
        raise SpreadsheetError(f"The table has more than {MOST_ROWS:,} rows. Split it.")
    if not below:
        raise SpreadsheetError("The table has a first line but no rows below it.")
    wide = max(place + 1 for cells in (headers, *(cells for _, cells in below)) for place, c in enumerate(cells) if c)
    if wide > MOST_COLUMNS:
        raise SpreadsheetError(f"The table has {wide} columns; {MOST_COLUMNS} are the most. Leave out those that are not about clients.")

    def padded(cells: tuple[str, ...]) -> tuple[str, ...]:
        return (cells + ("",) * wide)[:wide]

    return Spreadsheet(
        headers=padded(headers),
        rows=tuple(padded(cells) for _, cells in below),
        lines=tuple(n for n, _ in below),
        named_in=line,
        encoding=encoding,
        delimiter=delimiter,
    )


def _names(cells: Sequence[str]) -> int:
    """How many headings a line has that are known; none where it is too few to be the line that names the columns."""
    known = knows_headings(cells)
    return known if known >= min(2, sum(1 for c in cells if c)) else 0


def no_row(sheet: Spreadsheet, place: int) -> str:
    """Why a line is no row of the table, or "": the headings once more, or a line that adds others up."""
    cells = sheet.rows[place]
    filled = [c for c in cells if c]
    again = sum(plain(c) == plain(h) for c, h in zip(cells, sheet.headers, strict=True) if c)
    if again == len(filled) or again >= max(2, len(filled) - 1):
        return "the headings once more"
    words = set(plain(filled[0]).split())
    if (
        words & TOTALS
        and all(w in TOTALS | COUNTED or w.isdigit() for w in words)
        and not any(re.search(r"[^\W\d_]", c) for c in filled[1:])
    ):
        return "a line that adds others up"
    return ""


def stand_alone(sheet: Spreadsheet) -> set[int]:
    """Lines with one cell only, where most have more: each may be the heading of a part."""
    counts = [sum(1 for c in row if c) for row in sheet.rows]
    return {place for place, n in enumerate(counts) if n == 1} if sorted(counts)[len(counts) // 2] > 2 else set()
