"""Tables as they leave: one writer for all of them, as CSV in the reader's own dialect or as a workbook (.xlsx)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum
from uuid import UUID

from .errors import Refused, Why

Cell = str | int | float | bool | date | datetime | UUID | None
WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
DECIMALS = 4
"""Of a number that is no whole one. Never exactly three are written: a spreadsheet of another language takes the sign before them for
one that groups thousands."""
FORMULA_SIGNS = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""


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


def written(value: Cell, dialect: Dialect) -> str:
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
    writer.writerows([written(v, dialect) for v in row] for row in table.rows)
    return out.getvalue().encode("utf-8-sig" if dialect.mark else "utf-8")


def as_workbook(tables: Iterable[Table]) -> bytes:
    """One sheet a table, with typed cells: numbers as numbers, days as days, moments in UTC as the columns say, text as text."""
    from .workbook import write  # its package takes a third of a second to load, and few ask for workbooks

    return write(tables)
