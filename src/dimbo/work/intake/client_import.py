"""Clients from a coach's own list, CSV or .xlsx: match columns, decide what is unclear, look at every row, and only then import.

Safe to run twice. What cannot be read is never lost: it is left out only by somebody's word, and stands in a note then.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from enum import StrEnum
from typing import Any
from uuid import uuid4

from dimbo.catalogue import shipped_catalogue
from dimbo.core.intake.import_columns import FIELDS, UnclearError, birth_year, guess, minutes, plain
from dimbo.core.intake.import_table import Spreadsheet, SpreadsheetError, no_row, read_spreadsheet, stand_alone
from dimbo.store.database import Conflict, Database
from dimbo.store.intake import facts
from dimbo.store.intake.facts import NewFact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import NewClient
from dimbo.work.shared.errors import Refused, Why

from .intake_entries import profile
from .workbooks import is_workbook, read_workbook

SHOWN_ROWS, SHOWN_ERRORS = 60, 300
WORDS_OF_STATUS: Mapping[str, tuple[str, ...]] = {
    "enquiry": ("enquiry", "inquiry", "new", "anfrage", "interessentin", "interessent", "demande"),
    "active": ("active", "active client", "yes", "aktiv", "laufend", "ja", "actif", "oui"),
    "paused": ("paused", "pause", "on hold", "pausiert", "en pause"),
    "finished": ("finished", "done", "ended", "former", "inactive", "beendet", "fertig", "abgeschlossen", "ehemalig", "inaktiv", "termine"),
}
"""States as people write them, in plain words."""
_STATUS = {word: status for status, words in WORDS_OF_STATUS.items() for word in words}


class Fate(StrEnum):
    NEW = "new"
    HERE = "here"
    """Already a client; nothing is changed."""
    ASK = "ask"
    """Somebody has to say whether this is a new client."""
    NONE = "none"
    """No client: a total, a heading, or left out by whoever imports."""
    WRONG = "wrong"


class Said(StrEnum):
    """What somebody says of a row that is asked about."""

    CLIENT = "client"
    LEAVE = "leave"


@dataclass(frozen=True, kw_only=True)
class Choices:
    """What whoever imports has decided. ``columns`` names the field of each column, None to have it guessed; ``rest`` keeps the other
    columns as a note; ``left_out`` are cells (line, column from 0) that are left out, ``left_out_columns`` columns of which every cell
    is that cannot be read; ``rows`` says of lines that are asked about what they are."""

    columns: Sequence[str] | None = None
    year_first: bool | None = None
    rest: bool = False
    left_out: frozenset[tuple[int, int]] = frozenset()
    left_out_columns: frozenset[int] = frozenset()
    rows: Mapping[int, Said] = field(default_factory=dict)


@dataclass(frozen=True)
class RowError:
    """What is wrong in one cell; ``line`` is its line in the file, ``place`` its column from 0, None for the whole row. ``order`` marks
    what saying the order of dates mends."""

    line: int
    column: str
    message: str
    place: int | None = None
    order: bool = False


@dataclass(frozen=True)
class Row:
    """A row as it would be imported."""

    line: int
    fate: Fate
    values: dict[str, Any]
    remark: str = ""


@dataclass(frozen=True)
class Plan:
    """What an import would do; nothing is stored."""

    sheet: Spreadsheet
    columns: list[str]
    rows: list[Row]
    errors: list[RowError]

    def count(self, fate: Fate) -> int:
        return sum(r.fate is fate for r in self.rows)


@dataclass(frozen=True)
class _Known:
    """Somebody who is there already; ``line`` is None for a client."""

    name: str
    birth_year: int | None
    email: str
    line: int | None


@dataclass
class _Seen:
    """Who is known already: by address, and by what their name is without accents, case and spaces."""

    emails: dict[str, list[_Known]] = field(default_factory=dict)
    names: dict[str, list[_Known]] = field(default_factory=dict)

    def add(self, new: _Known) -> None:
        if new.email:
            self.emails.setdefault(new.email.lower(), []).append(new)
        self.names.setdefault(plain(new.name), []).append(new)

    def same(self, values: Mapping[str, Any]) -> _Known | None:
        """Who it is beyond doubt: by address and name, or by the very name and year where no address is given."""
        email, name = values.get("email", "").lower(), values["name"]
        if email:
            return next((k for k in self.emails.get(email, ()) if plain(k.name) == plain(name)), None)
        alike = (k for k in self.names.get(plain(name), ()) if k.name.lower() == name.lower() and k.birth_year == values.get("birth_year"))
        return next(alike, None)

    def like(self, values: Mapping[str, Any]) -> _Known | None:
        """Who it might be: who has the address, or the name while no year of birth speaks against it."""
        if known := self.emails.get(values.get("email", "").lower()):
            return known[0]
        year = values.get("birth_year")
        return next((k for k in self.names.get(plain(values["name"]), ()) if year is None or k.birth_year in (None, year)), None)


def _read(data: bytes) -> Spreadsheet:
    try:
        return read_workbook(data) if is_workbook(data) else read_spreadsheet(data)
    except SpreadsheetError as error:
        raise Refused(Why.UNREADABLE, str(error), "file") from error


def _columns(sheet: Spreadsheet, wanted: Sequence[str] | None, today: date) -> list[str]:
    if wanted is None:
        return guess(sheet.headers, list(zip(*sheet.rows, strict=True)), today)
    if len(wanted) != len(sheet.headers):
        raise Refused(
            Why.CLASH, f"The table has {len(sheet.headers)} columns, but {len(wanted)} were matched. Choose the file again.", "columns"
        )
    for name in wanted:
        if name and name not in FIELDS:
            raise Refused(Why.UNKNOWN, f"There is no field “{name}” to import.", "columns")
    doubled = [n for n in set(wanted) if n and wanted.count(n) > 1]
    if doubled:
        raise Refused(Why.CLASH, f"Two columns are matched to {doubled[0].replace('_', ' ')}. Choose one.", "columns")
    if not {"name", "first_name", "last_name"} & set(wanted):
        raise Refused(Why.NEEDED, "Match one column to the client's name, or two to first and last name.", "columns")
    return list(wanted)


def _value(name: str, *, text: str, today: date, year_first: bool | None) -> object:
    """A cell as the field's value. Raises Refused, UnclearError."""
    if name == "birth_year":
        return profile(name, birth_year(text, today, year_first=year_first), today)
    if name == "minutes":
        return profile(name, minutes(text), today)
    if name == "status":
        return profile(name, _STATUS.get(plain(text), text.lower()), today)
    return profile("name" if name in ("first_name", "last_name") else name, text, today)


def _concerns(text: str) -> tuple[list[str], list[str]]:
    """Concerns that are known by name or by what people call them, and the words that are not."""

    def known_as(word: str) -> str:
        return word.lower().replace("’", "'").strip()

    words: dict[str, str] = {}
    for c in shipped_catalogue().concerns.values():
        words.update(dict.fromkeys((c.id, known_as(c.name), *map(known_as, c.also)), c.id))
    known: list[str] = []
    unknown: list[str] = []
    for part in re.split(r"[;|/,]", text):
        word = part.strip()
        if word:
            (known if known_as(word) in words else unknown).append(words.get(known_as(word), word))
    return list(dict.fromkeys(known)), unknown


@dataclass
class _Draft:
    """A row while it is read."""

    line: int
    values: dict[str, Any]
    errors: list[RowError] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)

    def keep_as_note(self, header: str, *, text: str) -> None:
        self.notes.append(f"{header}: {text[:2000]}" if header else text[:2000])


class _Reader:
    """Reads the rows of a table by what was chosen."""

    def __init__(self, sheet: Spreadsheet, columns: list[str], choices: Choices, time_zone: str, today: date) -> None:
        self.sheet, self.columns, self.choices, self.today = sheet, columns, choices, today
        self.fixed = {"time_zone": time_zone, "status": "active"}

    def row(self, place: int) -> tuple[Row, list[RowError]]:
        line = self.sheet.lines[place]
        if why := no_row(self.sheet, place):
            return Row(line, Fate.NONE, {}, why), []
        draft = _Draft(line, dict(self.fixed))
        for number, text in enumerate(self.sheet.rows[place]):
            if text:
                self._cell(draft, number, text)
        if names := [draft.values.pop(f) for f in ("first_name", "last_name") if f in draft.values]:
            self._join(draft, names)
        if draft.notes:
            draft.values["note"] = "\n".join(draft.notes)
        if "name" not in draft.values and not draft.errors:
            draft.errors.append(RowError(line, column="", message="The row has no name."))
        return Row(line, Fate.WRONG if draft.errors else Fate.NEW, draft.values, "; ".join(draft.remarks)), draft.errors

    def _join(self, draft: _Draft, names: Sequence[str]) -> None:
        try:
            draft.values["name"] = profile("name", " ".join(names), self.today)
        except Refused as error:
            draft.errors.append(RowError(draft.line, column="", message=error.message))

    def _cell(self, draft: _Draft, number: int, text: str) -> None:
        name, header = self.columns[number], self.sheet.headers[number]
        if not name:
            if self.choices.rest:
                draft.keep_as_note(header, text=text)
            return
        if name == "concerns":
            draft.values["concerns"], unknown = _concerns(text)
            if unknown:
                draft.keep_as_note("Concerns", text=", ".join(unknown))
                draft.remarks.append(f"kept as a note: {', '.join(unknown)}")
            return
        if name == "note":
            draft.notes.insert(0, text[:4000])
            return
        left = (draft.line, number) in self.choices.left_out
        try:
            if not left:
                draft.values[name] = _value(name, text=text, today=self.today, year_first=self.choices.year_first)
        except (Refused, UnclearError) as error:
            order = isinstance(error, UnclearError) and error.order
            left = name == "phone" or number in self.choices.left_out_columns
            if not left:
                draft.errors.append(RowError(draft.line, column=header, message=str(error), place=number, order=order))
        if left:
            draft.keep_as_note(header, text=text)
            draft.remarks.append(f"{header} kept as a note: {text[:40]}")


def plan(db: Database, coach: Person, data: bytes, choices: Choices, time_zone: str, now: datetime) -> Plan:
    """What importing this file would do, row by row.

    Raises Refused for a file that is no table, and for a matching that cannot be.
    """
    today = now.date()
    sheet = _read(data)
    matched = _columns(sheet, choices.columns, today)
    profile("time_zone", time_zone, today)
    seen = _Seen()
    with db.of(coach) as conn:
        for name, born, email in clients.identities(conn):
            seen.add(_Known(name, born, email, None))
    reader = _Reader(sheet, matched, choices, time_zone, today)
    lonely = stand_alone(sheet)
    rows, errors = [], []
    for place, line in enumerate(sheet.lines):
        row, wrong = reader.row(place)
        if choices.rows.get(line) is Said.LEAVE:
            row, wrong = Row(line, Fate.NONE, row.values, "left out"), []
        elif row.fate is Fate.NEW:
            row, wrong = _known(row, seen, choices, alone=place in lonely)
        rows.append(row)
        errors += wrong
    return Plan(sheet, matched, rows, errors)


def _known(row: Row, seen: _Seen, choices: Choices, *, alone: bool) -> tuple[Row, list[RowError]]:
    """A new row by who is known already, and by what was said of it."""
    v = row.values
    same = seen.same(v)
    if same and same.line is None:
        return replace(row, fate=Fate.HERE, remark="is a client already; nothing is changed"), []
    if same and v.get("email"):
        told = RowError(row.line, column="", message=f"The same client stands in line {same.line} already.")
        return replace(row, fate=Fate.WRONG), [told]
    if choices.rows.get(row.line) is not Said.CLIENT:
        if like := seen.like(v):
            return replace(row, fate=Fate.ASK, remark=_may_be(like, v)), []
        if alone:
            return replace(row, fate=Fate.ASK, remark="nothing but a name; it may be the heading of a part"), []
    seen.add(_Known(v["name"], v.get("birth_year"), v.get("email", ""), row.line))
    return row, []


def _may_be(like: _Known, values: Mapping[str, Any]) -> str:
    born = f", born {like.birth_year}" if like.birth_year else ""
    where = "a client already" if like.line is None else f"line {like.line}"
    shared = "has the same e-mail as" if plain(like.name) != plain(values["name"]) else "may be"
    return f"{shared} {like.name}{born}, {where}"


def carry_out(
    db: Database, coach: Person, data: bytes, choices: Choices, time_zone: str, file_name: str, expected: int, now: datetime
) -> Plan:
    """Import the rows that are new, all in one transaction; rows that are wrong, no clients, or here already are left out.

    ``expected`` is the number that the preview promised. Raises Conflict when it is another by now, Refused while a row is asked about.
    """
    found = plan(db, coach, data, choices, time_zone=time_zone, now=now)
    if asked := found.count(Fate.ASK):
        raise Refused(Why.NOT_NOW, f"Say first of {asked} {'row' if asked == 1 else 'rows'} whether they are new clients.", "rows")
    new = [r for r in found.rows if r.fate is Fate.NEW]
    if len(new) != expected:
        raise Conflict(f"The preview spoke of {expected} new clients; now it would be {len(new)}. Look at the preview again.")
    people, notes = [], []
    for row in new:
        client_id = uuid4()
        v = row.values
        people.append(
            NewClient(
                id=client_id,
                name=v["name"],
                birth_year=v.get("birth_year"),
                time_zone=v["time_zone"],
                minutes=v.get("minutes"),
                concerns=v.get("concerns", []),
                goals=v.get("goals", ""),
                email=v.get("email", ""),
                phone=v.get("phone", ""),
                status=v["status"],
            )
        )
        notes.append((client_id, _fact("intake", key="imported", value={"file": file_name[:120], "line": row.line}, coach=coach, now=now)))
        if v.get("note"):
            notes.append((client_id, _fact("note", key="", value={"text": v["note"]}, coach=coach, now=now)))
    with db.of(coach) as conn:
        clients.create_many(conn, coach.practice_id, people, coach.id)
        facts.add_many(conn, coach.practice_id, notes)
    return found


def _fact(kind: str, key: str, value: dict[str, Any], coach: Person, now: datetime) -> NewFact:
    return NewFact(id=uuid4(), kind=kind, key=key, value=value, at=now, author=coach.name, author_id=coach.id, source="import")
