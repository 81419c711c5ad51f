"""Opens every table that leaves in an office suite set to German, and compares cell by cell what it read with what was written.

From a running demo: python -m studies.office_suite. It needs the suite's ``soffice`` (Debian: libreoffice-calc) and is no part of the
tests, because the suite is ten times as large as all that they need.
"""

from __future__ import annotations

import csv
import io
import os
import re
import subprocess
import tempfile
from collections import Counter
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

import httpx
from openpyxl import load_workbook

from dimbo.demo.people import COACHES, PASSWORD

ADDRESS = os.environ.get("DIMBO_DEMO", "http://127.0.0.1:8420")
GERMAN = 1031
"""The suite's number of the language by whose rules numbers and days are read."""
UTF_8 = 76
PLAIN = "separator=comma&decimal=point&mark=false"
READERS = {  # as the page offers them, with the sign between cells
    "a spreadsheet that writes 1,5": ("separator=semicolon&decimal=comma&mark=true", ";"),
    "a spreadsheet that writes 1.5": ("separator=comma&decimal=point&mark=true", ","),
}
NUMBER = re.compile(r"-?\d+(\.\d+)?")


@dataclass(frozen=True, kw_only=True)
class Compared:
    """How many cells of a table the suite read as they were written, and those that it did not, with their columns."""

    cells: int
    numbers: int
    text: int
    """Numbers that the suite took for text: not wrong, but nothing that it counts with."""
    wrong: Counter[str]
    example: str = ""


def _opened(suite: Path, table: bytes, separator: str) -> list[list[Any]]:
    """The cells of a CSV as the German suite reads them, with its own detection of numbers switched on."""
    with tempfile.TemporaryDirectory(dir=suite) as folder:
        path = Path(folder) / "table.csv"
        path.write_bytes(table)
        how = f"CSV:{ord(separator)},34,{UTF_8},1,,{GERMAN},false,true"
        _convert(suite, path, how)
        return [list(r) for r in load_workbook(path.with_suffix(".xlsx")).active.iter_rows(values_only=True)]  # type: ignore[union-attr]


def _convert(suite: Path, path: Path, how: str = "", to: str = "xlsx") -> None:
    command = ["soffice", "--headless", f"-env:UserInstallation=file://{suite}/profile", "--convert-to", to]
    command += [f"--infilter={how}"] if how else []
    said = subprocess.run([*command, "--outdir", str(path.parent), str(path)], capture_output=True, text=True, check=False)
    if said.returncode:
        raise SystemExit(f"The suite refused {path.name}: {said.stderr}")


def _same(wanted: str, read: Any) -> bool:
    """Whether the suite's cell holds what was written; text may be anything but changed, a number must be that number."""
    if NUMBER.fullmatch(wanted) and not isinstance(read, (str, datetime)):
        return read is not None and abs(float(read) - float(wanted)) < 1e-9
    if isinstance(read, datetime):
        return read.isoformat().startswith(wanted.rstrip("Z")[:10])
    said = str(read if read is not None else "")
    return said.lstrip("'") == wanted.lstrip("'") or said.strip("=()").lower() == wanted


def compare(wanted: list[list[str]], read: list[list[Any]]) -> Compared:
    wrong: Counter[str] = Counter()
    example, cells, numbers, text = "", 0, 0, 0
    for w, r in zip(wanted[1:], read[1:], strict=False):
        for column, a, b in zip(wanted[0], w, [*r, *[None] * len(w)], strict=False):
            cells += 1
            numbers += bool(NUMBER.fullmatch(a))
            text += bool(NUMBER.fullmatch(a)) and isinstance(b, str)
            if not _same(a, b):
                wrong[column] += 1
                example = example or f"{column}: {a!r} was read as {b!r}"
    return Compared(cells=cells, numbers=numbers, text=text, wrong=wrong, example=example)


def _row(name: str, reader: str, found: Compared) -> str:
    otherwise = f"{sum(found.wrong.values()) or 'none'} {found.example}".strip()
    return f"| {name} | {reader} | {found.cells} | {found.numbers} | {found.text} | {otherwise} |"


def main() -> None:
    page = httpx.Client(base_url=ADDRESS, headers={"x-dimbo": "1"}, timeout=60)
    page.post("/api/sign-in", json={"email": COACHES[0][1], "password": PASSWORD}).raise_for_status()
    client = next(c["id"] for c in page.get("/api/clients").json() if c["name"].startswith("Philippa"))
    paths = [f"/api/export/{t}.csv" for t in ("logs", "adherence", "reviews", "dictionary")]
    paths += [f"/api/clients/{client}/readings.csv"]
    with tempfile.TemporaryDirectory() as folder:
        suite = Path(folder)
        print("| table | for | cells | numbers | of them as text | read otherwise |\n| --- | --- | --- | --- | --- | --- |")
        for path in paths:
            name = path.rsplit("/", 1)[1]
            wanted = list(csv.reader(io.StringIO(page.get(f"{path}?{PLAIN}").raise_for_status().text)))
            for reader, (query, separator) in READERS.items():
                found = compare(wanted, _opened(suite, page.get(f"{path}?{query}").content, separator))
                print(_row(name, reader, found))
        book = suite / "tables.xlsx"
        book.write_bytes(page.get("/api/export/tables.xlsx").content)
        _convert(suite, book, to="ods")
        (suite / "tables.xlsx").unlink()
        _convert(suite, suite / "tables.ods")
        sheets = load_workbook(suite / "tables.xlsx")
        for path in paths[:3]:
            name = path.rsplit("/", 1)[1].removesuffix(".csv")
            wanted = list(csv.reader(io.StringIO(page.get(f"{path}?{PLAIN}").text)))
            found = compare(wanted, [list(r) for r in sheets[name].iter_rows(values_only=True)])
            print(_row(name, "the workbook", found))


if __name__ == "__main__":
    main()
