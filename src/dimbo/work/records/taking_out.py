"""Everything that is held of a client in one ZIP: a page to read, record.json by a published schema, tables, photographs.

``docs/formats/client-record.schema.json`` is made from the database's own columns (``python -m dimbo.ops.record_schema``), so
a table that is added later is in both; ``MEANINGS`` says what each table holds.
"""

from __future__ import annotations

import html
import json
import tempfile
import zipfile
from collections.abc import Mapping
from datetime import date, datetime
from typing import IO, Any
from uuid import UUID

from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.text import long_date
from dimbo.store.database import Conn, Database, NotThere
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.people.clients import Client
from dimbo.store.records import whole
from dimbo.store.records.whole import Column
from dimbo.work.intake.entering import day_of
from dimbo.work.intake.looking import noted
from dimbo.work.review import tables_out
from dimbo.work.shared.tables import as_csv, as_workbook
from dimbo.work.shared.turns import Turns
from dimbo.work.sittings import exporting
from dimbo.work.sittings.measuring import load

from .record import near

MAKING = Turns(1, waiting=3, words="Other records are being put together at this moment. Wait a little, then ask again.")
IN_MEMORY = 8 * 1024 * 1024
"""What is larger is put together in a file that has no name."""
MEANINGS: Mapping[str, str] = {
    "clients": "who the client is, and what was agreed at the beginning",
    "accounts": "the account that the client signs in with; no password",
    "analyses": "points found on each photograph, in pixels, what was judged of the shot, and the small grey picture of the face "
    "(40 by 40, a byte each) by which it is told whether two photographs show the same person",
    "assignments": "programs as they were given to the client",
    "calendar_events": "sessions as your calendar was last told of them",
    "check_ins": "soreness the next day, 0 to 10, and where",
    "coins": "coins that were thrown between two approaches",
    "devices": "devices that get notices; no keys",
    "due_links": "links that opened all that was due",
    "facts": "everything known of the client, in order: answers, ratings, tests, consents, notes; the newest of a kind and key holds",
    "feeds": "calendar addresses that were made",
    "habit_ticks": "habits that were ticked through the day",
    "invitations": "invitations to have an account",
    "keeping_notices": "notices that something is deleted for its age",
    "letters": "letters about what came of it: what was chosen for each, and the whole as it was sent",
    "messages": "what client and coach wrote to each other",
    "outbox": "notices, reminders and what went with them",
    "own_notes": "what you wrote beside photographs",
    "pauses": "days without practice that were agreed",
    "photographs": "one entry for each photograph; the pictures are in photographs/",
    "planned_days": "what was planned for each day, in seconds",
    "plans": "how each program was laid out on days, with its doses and the exercises as they were then",
    "point_moves": "points that were set by hand",
    "practice_log_lines": "what was done of each exercise",
    "practice_log_sides": "what was done of each exercise on each side, the client's own",
    "practice_logs": "every session that was practised",
    "primary_readings": "what was named to look at most",
    "program_versions": "every version of the programs",
    "programs": "the programs as they stand",
    "rating_answers": "answers of ratings without knowing before and after",
    "rating_rounds": "ratings without knowing before and after",
    "reminder_wishes": "what the client wants of reminders",
    "reviews": "weekly reviews: what was found, suggested and decided",
    "self_intakes": "intakes that the client filled in alone",
    "settled_alarms": "what the coach marked as seen on the desk, or put off to a day",
    "sittings": "days on which photographs were taken",
    "stays": "time zones that the client lived in",
    "stopped_exercises": "exercises that were stopped because they hurt",
    "trail": "who else looked at photographs or took something out",
    "upload_pieces": "photographs that are still on their way",
}
_KINDS: Mapping[str, dict[str, Any]] = {
    "uuid": {"type": "string", "format": "uuid"},
    "text": {"type": "string"},
    "date": {"type": "string", "format": "date"},
    "time without time zone": {"type": "string"},
    "timestamp with time zone": {"type": "string", "format": "date-time"},
    "smallint": {"type": "integer"},
    "integer": {"type": "integer"},
    "bigint": {"type": "integer"},
    "numeric": {"type": "number"},
    "real": {"type": "number"},
    "double precision": {"type": "number"},
    "boolean": {"type": "boolean"},
    "jsonb": {},
    "bytea": {"type": "string", "pattern": r"^\\x([0-9a-f]{2})*$", "description": "bytes, two hexadecimal digits each, after \\x"},
    "text[]": {"type": "array", "items": {"type": "string"}},
    "uuid[]": {"type": "array", "items": {"type": "string", "format": "uuid"}},
    "smallint[]": {"type": "array", "items": {"type": "integer"}},
}


def schema(columns: list[Column]) -> dict[str, Any]:
    """The JSON Schema of record.json."""
    tables: dict[str, Any] = {}
    for c in columns:
        table = tables.setdefault(
            c.table,
            {
                "description": MEANINGS[c.table],
                "type": "array",
                "items": {"type": "object", "additionalProperties": False, "required": [], "properties": {}},
            },
        )
        kind = _KINDS[c.kind]
        table["items"]["properties"][c.name] = kind if c.needed or not kind else kind | {"type": [kind["type"], "null"]}
        table["items"]["required"].append(c.name)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Everything that is held of a client",
        "type": "object",
        "required": ["made_at", "practice", *tables],
        "properties": {
            "made_at": {"type": "string", "format": "date-time"},
            "practice": {"type": "string", "description": "name of the practice"},
            **tables,
        },
    }


def take_out(db: Database, person: Person, client_id: UUID, now: datetime) -> IO[bytes]:
    """The ZIP, at its beginning; whoever gets it closes it. That a coach took it out stands in the client's trail.

    Raises NotThere for whoever is neither the client nor the coach who took them on; Refused when too many are made at once.
    """
    with db.of(person, client_id) as conn:
        client = clients.one(conn, client_id)
        if not near(person, client):
            raise NotThere(f"The record of {client.name} is taken out by the client, or by the coach who took them on.")
        noted(conn, person, client_id, what="took out", subject="everything", now=now)
    out = tempfile.SpooledTemporaryFile(max_size=IN_MEMORY)  # noqa: SIM115 - the one who asked closes it
    try:
        with MAKING.turn(), zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            _fill(archive, db, person, client, now)
    except BaseException:
        out.close()
        raise
    out.seek(0)
    return out


def _fill(archive: zipfile.ZipFile, db: Database, person: Person, client: Client, now: datetime) -> None:
    span = tables_out.Span(client_id=client.id, last=day_of(client, now))
    with db.of(person, client.id) as conn:
        for name in tables_out.TABLES:
            archive.writestr(f"tables/{name}.csv", as_csv(tables_out.table_in(conn, name, span, now)))
        found = load(conn, person, client.id, now)
    archive.writestr("tables/dictionary.csv", as_csv(tables_out.dictionary()))
    archive.writestr("tables/readings.csv", as_csv(exporting.readings_table(found)))
    archive.writestr("tables/readings-dictionary.csv", as_csv(exporting.dictionary()))
    with db.of(person, client.id) as conn:
        every = [tables_out.table_in(conn, name, span, now) for name in tables_out.TABLES]
        every += [tables_out.dictionary(), exporting.readings_table(found), exporting.dictionary()]
        archive.writestr("tables/tables.xlsx", as_workbook(every))
    with db.of(person, client.id) as conn, whole.with_removed(conn):
        columns = whole.columns(conn)
        record: dict[str, Any] = {"made_at": now.isoformat(), "practice": person.practice_name}
        for table in dict.fromkeys(c.table for c in columns):
            record[table] = whole.rows(conn, table, [c.name for c in columns if c.table == table], client.id)
        archive.writestr("record.json", json.dumps(record, ensure_ascii=False, indent=1))
        archive.writestr("record.schema.json", json.dumps(schema(columns), ensure_ascii=False, indent=1))
        pictures = _pictures(archive, conn, record)
    archive.writestr("index.html", _page(client, person.practice_name, record, pictures, now))


def _pictures(archive: zipfile.ZipFile, conn: Conn, record: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Put the photographs in, one in memory at a time; returns their file names with what they are."""
    days = {s["id"]: s["taken_on"] for s in record["sittings"]}
    out = []
    for n, p in enumerate(sorted(record["photographs"], key=lambda p: (days[p["sitting_id"]], p["created_at"])), start=1):
        day, view = days[p["sitting_id"]], p["view"]
        name = f"photographs/{day}-{n:03d}-{view}.jpg"
        archive.writestr(zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0)), whole.photograph(conn, UUID(p["id"])))
        words = f"{VIEWS[view].name if view in VIEWS else view}, {long_date(date.fromisoformat(day))}"
        out.append((name, words + (" (removed, kept for 30 days)" if p["removed_at"] else "")))
    return out


def _page(client: Client, practice: str, record: Mapping[str, Any], pictures: list[tuple[str, str]], now: datetime) -> str:
    """The page that a person reads; it needs nothing beside the files of the ZIP."""
    e = html.escape
    held = [f"<tr><td>{e(MEANINGS[t])}</td><td>{len(record[t])}</td></tr>" for t in MEANINGS if record.get(t)]
    files = "".join(f"<figure><img src='{e(name)}' alt=''><figcaption>{e(words)}</figcaption></figure>" for name, words in pictures)
    wrote = [
        f"<p><b>{e('the coach' if m['by_coach'] else client.name)}</b>, {e(m['written_at'][:10])}<br>{e(m['text'])}</p>"
        for m in record["messages"]
    ]
    return f"""<!doctype html><html lang="en"><meta charset="utf-8"><title>What {e(practice)} holds of {e(client.name)}</title>
<style>body{{font:17px/1.5 sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;color:#211a24}}
table{{border-collapse:collapse;width:100%}}td{{border-bottom:1px solid #ccc;padding:.3rem .6rem .3rem 0;vertical-align:top}}
td:last-child{{text-align:right}}figure{{display:inline-block;width:10.5rem;margin:0 .6rem 1rem 0;vertical-align:top}}
img{{width:100%}}figcaption{{font-size:.85rem}}</style>
<h1>What {e(practice)} holds of {e(client.name)}</h1>
<p>Put together on {e(long_date(now.date()))}. Everything is here: this page is an overview, record.json has every entry, and the
folder tables has what was practised, how far it was kept to, what was reviewed and what was measured, for a spreadsheet; what each
column means stands in its dictionary. Right and left are your own.</p>
<h2>How much there is</h2><table>{"".join(held)}</table>
<h2>Photographs</h2>{files or "<p>None.</p>"}
<h2>Messages</h2>{"".join(wrote) or "<p>None.</p>"}
<h2>Not in here</h2><p>Passwords and the keys of links and of devices, because they open something and say nothing of you;
and pieces of photographs whose upload was never finished, which go by themselves after some days. Measurements describe photographs
under stated conditions; they are no diagnosis.</p></html>
"""
