"""Clients from a coach's own CSV: match columns, look at every row, and only then import. Safe to run twice."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any
from uuid import uuid4

from dimbo.catalogue import shipped_catalogue
from dimbo.core.intake.import_table import Spreadsheet, SpreadsheetError, guess_columns, read_spreadsheet
from dimbo.store.database import Conflict, Database
from dimbo.store.intake import facts
from dimbo.store.intake.facts import NewFact
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import NewClient
from dimbo.work.shared.errors import Refused, Why

from .intake_entries import profile

FIELDS: Mapping[str, tuple[str, ...]] = {
    "name": ("name", "client", "full name", "client name"),
    "email": ("email", "e-mail", "mail"),
    "phone": ("phone", "telephone", "mobile", "tel"),
    "birth_year": ("birth year", "year of birth", "born", "birthday", "date of birth", "birth"),
    "time_zone": ("time zone", "timezone", "zone"),
    "minutes": ("minutes", "minutes a day", "time"),
    "concerns": ("concerns", "concern", "problem", "focus"),
    "goals": ("goals", "goal", "wishes", "in own words"),
    "status": ("status", "state"),
    "note": ("note", "notes", "remarks", "comment"),
}
"""Fields that can be imported, with the headers that they are guessed from."""
SHOWN_ROWS, SHOWN_ERRORS = 60, 300


@dataclass(frozen=True)
class RowError:
    """What is wrong in one row; ``line`` is its line in the file."""

    line: int
    column: str
    message: str


@dataclass(frozen=True)
class Row:
    """A row as it would be imported. ``fate``: new, here (already a client) or wrong."""

    line: int
    fate: str
    values: dict[str, Any]
    remark: str = ""


@dataclass(frozen=True)
class Plan:
    """What an import would do; nothing is stored."""

    sheet: Spreadsheet
    columns: list[str]
    rows: list[Row]
    errors: list[RowError]

    def count(self, fate: str) -> int:
        return sum(r.fate == fate for r in self.rows)


@dataclass
class _Seen:
    """Who is known already: by e-mail, and by name and birth year."""

    emails: dict[str, int | None] = field(default_factory=dict)
    names: dict[tuple[str, int | None], int | None] = field(default_factory=dict)

    def find(self, values: Mapping[str, Any]) -> tuple[bool, int | None]:
        email, name = values.get("email", "").lower(), (values["name"].lower(), values.get("birth_year"))
        if email and email in self.emails:
            return True, self.emails[email]
        if not email and name in self.names:
            return True, self.names[name]
        return False, None

    def add(self, name: str, birth_year: int | None, email: str, line: int | None) -> None:
        if email:
            self.emails[email.lower()] = line
        self.names[name.lower(), birth_year] = line


def _read(data: bytes) -> Spreadsheet:
    try:
        return read_spreadsheet(data)
    except SpreadsheetError as error:
        raise Refused(Why.UNREADABLE, str(error), "file") from error


def _columns(sheet: Spreadsheet, wanted: Sequence[str] | None) -> list[str]:
    if wanted is None:
        return guess_columns(sheet.headers, FIELDS)
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
    return list(wanted)


def _value(name: str, text: str, today: date) -> object:
    """A cell as the field's value. Raises Refused."""
    if name == "birth_year":
        years = re.findall(r"(?:19|20)\d\d", text)
        if len(years) != 1:
            raise Refused(Why.UNREADABLE, f"“{text[:30]}” holds no year of birth.")
        return profile(name, int(years[0]), today)
    if name == "minutes":
        found = re.match(r"\s*(\d+)", text)
        if not found:
            raise Refused(Why.UNREADABLE, f"“{text[:30]}” holds no minutes.")
        return profile(name, int(found[1]), today)
    if name == "status":
        return profile(name, text.lower(), today)
    return profile(name, text, today)


def _concerns(text: str) -> tuple[list[str], list[str]]:
    """Concerns that are known by name or by what people call them, and the words that are not."""

    def plain(word: str) -> str:
        return word.lower().replace("’", "'").strip()

    words: dict[str, str] = {}
    for c in shipped_catalogue().concerns.values():
        words.update(dict.fromkeys((c.id, plain(c.name), *map(plain, c.also)), c.id))
    known: list[str] = []
    unknown: list[str] = []
    for part in re.split(r"[;|/,]", text):
        word = part.strip()
        if word:
            (known if plain(word) in words else unknown).append(words.get(plain(word), word))
    return list(dict.fromkeys(known)), unknown


def _row(sheet: Spreadsheet, columns: list[str], place: int, time_zone: str, today: date) -> tuple[Row, list[RowError]]:
    line = sheet.lines[place]
    values: dict[str, Any] = {"time_zone": time_zone, "status": "active"}
    errors: list[RowError] = []
    remarks: list[str] = []
    nameless = True
    for header, name, text in zip(sheet.headers, columns, sheet.rows[place], strict=True):
        if not name or not text:
            continue
        nameless = nameless and name != "name"
        try:
            if name == "concerns":
                known, unknown = _concerns(text)
                values["concerns"] = known
                if unknown:
                    values["note"] = "\n".join(filter(None, [values.get("note"), f"Concerns: {', '.join(unknown)}"]))
                    remarks.append(f"kept as a note: {', '.join(unknown)}")
            elif name == "note":
                values["note"] = "\n".join(filter(None, [text[:4000], values.get("note")]))
            else:
                values[name] = _value(name, text=text, today=today)
        except Refused as error:
            errors.append(RowError(line, header, message=error.message))
    if nameless:
        errors.append(RowError(line, "", message="The row has no name."))
    return Row(line, "wrong" if errors else "new", values, "; ".join(remarks)), errors


def plan(db: Database, coach: Person, data: bytes, columns: Sequence[str] | None, time_zone: str, now: datetime) -> Plan:
    """What importing this file would do, row by row. ``columns`` names the field of each column (guessed when None).

    Raises Refused for a file that is no table, and for a matching that cannot be.
    """
    sheet = _read(data)
    matched = _columns(sheet, columns)
    if columns is not None and "name" not in matched:
        raise Refused(Why.NEEDED, "Match one column to the client's name.", "columns")
    profile("time_zone", time_zone, now.date())
    seen = _Seen()
    with db.of(coach) as conn:
        for name, birth_year, email in clients.identities(conn):
            seen.add(name, birth_year, email, None)
    rows, errors = [], []
    for place in range(len(sheet.rows)):
        row, wrong = _row(sheet, matched, place, time_zone, now.date())
        if not wrong:
            there, line = seen.find(row.values)
            if there and line is not None:
                wrong = [RowError(row.line, "", message=f"The same client stands in line {line} already.")]
                row = Row(row.line, "wrong", row.values, row.remark)
            elif there:
                row = Row(row.line, "here", row.values, "is a client already; nothing is changed")
            else:
                seen.add(row.values["name"], row.values.get("birth_year"), row.values.get("email", ""), row.line)
        rows.append(row)
        errors += wrong
    return Plan(sheet, matched, rows, errors)


def carry_out(
    db: Database, coach: Person, data: bytes, columns: Sequence[str], time_zone: str, file_name: str, expected: int, now: datetime
) -> Plan:
    """Import the rows that are new, all in one transaction; rows that are wrong or here already are left out.

    ``expected`` is the number that the preview promised. Raises Conflict when it is another by now.
    """
    found = plan(db, coach, data, columns, time_zone=time_zone, now=now)
    new = [r for r in found.rows if r.fate == "new"]
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
