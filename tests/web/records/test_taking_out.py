"""Everything that is held of a client, in one file that a person and a program can read."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from datetime import datetime
from pathlib import Path
from uuid import uuid4

import jsonschema
import pytest

from dimbo.store.records import whole
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.records import taking_out

from ..conftest import new_program

SCHEMA = Path(__file__).parents[3] / "docs/formats/client-record.schema.json"


@pytest.fixture
def lived(coach, client, practice):
    """A client of whom something is held: two photographs of which one was removed, a program, a message."""
    c = practice.client_id
    new_program(coach, c)
    sitting = coach.post(f"/api/clients/{c}/sittings", json={"taken_on": "2026-04-20", "note": "by the window"}).json()["id"]
    photos = [str(uuid4()), str(uuid4())]
    for n, photo in enumerate(photos):
        data = shoot(Scene(identity="aster", state="even", seed=n)).jpeg(datetime.fromisoformat("2026-04-20T08:40:00+00:00"))
        form = {"photograph_id": photo, "view": "front-neutral"}
        assert coach.post(f"/api/sittings/{sitting}/photographs", data=form, files={"file": ("a.jpg", data)}).status_code == 202
    coach.delete(f"/api/photographs/{photos[1]}")
    said = {"id": str(uuid4()), "text": "Die Übungen <b>helfen</b>.", "written_at": "2026-04-21T08:00:00Z"}
    coach.post(f"/api/clients/{c}/messages", json=said)
    return photos


def opened(answer):
    assert answer.status_code == 200, answer.text
    return zipfile.ZipFile(io.BytesIO(answer.content))


def test_it_is_whole_and_valid_by_its_schema(client, practice, lived, owner):
    archive = opened(client.get("/api/my-record.zip"))
    record, schema = json.loads(archive.read("record.json")), json.loads(SCHEMA.read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(record, schema)
    assert json.loads(archive.read("record.schema.json")) == schema
    for table in taking_out.MEANINGS:
        key = "id" if table == whole.ITSELF else "client_id"
        there = owner.execute(f"select count(*) from {table} where {key} = %s".encode(), (practice.client_id,)).fetchone()[0]
        assert len(record[table]) == there, table
    assert len(record["facts"]) > 20 and len(record["programs"]) == 1
    kept = {hashlib.sha256(bytes(r[0])).hexdigest() for r in owner.execute("select image from photographs").fetchall()}
    assert {hashlib.sha256(archive.read(n)).hexdigest() for n in archive.namelist() if n.endswith(".jpg")} == kept
    assert len(kept) == 2, "one that was removed is still held, so it is in here"


def test_a_person_can_read_it(client, lived):
    archive = opened(client.get("/api/my-record.zip"))
    page = archive.read("index.html").decode()
    assert "Die Übungen &lt;b&gt;helfen&lt;/b&gt;." in page and "removed, kept for 30 days" in page
    assert {"tables/logs.csv", "tables/adherence.csv", "tables/reviews.csv", "tables/readings.csv", "tables/tables.xlsx"} <= set(
        archive.namelist()
    )
    assert {part.split("'")[0] for part in page.split("src='")[1:]} <= set(archive.namelist())


def test_nothing_in_it_opens_anything(coach, client, practice, lived, owner):
    client.post("/api/my-feed")
    coach.post(f"/api/clients/{practice.client_id}/self-intake")
    text = opened(client.get("/api/my-record.zip")).read("record.json").decode()
    secrets = [owner.execute("select password_hash from accounts where client_id is not null").fetchone()[0]]
    for table, column in (("feeds", "token_hash"), ("self_intakes", "token_hash")):
        secrets += [bytes(r[0]).hex() for r in owner.execute(f"select {column} from {table}".encode()).fetchall()]
    assert len(secrets) >= 3 and not [s for s in secrets if s in text]


def test_it_holds_nobody_else(client, coach, practice, lived, owner):
    other = coach.post("/api/clients", json={"name": "Somebody else", "time_zone": "UTC"}).json()["id"]
    text = opened(client.get("/api/my-record.zip")).read("record.json").decode()
    assert other not in text and "Somebody else" not in text


def test_every_table_with_a_client_is_in_it_with_its_meaning(db, practice):
    """A table that is added later is taken out as well, once ``MEANINGS`` says what it holds."""
    with db.practice(practice.id) as conn:
        columns = whole.columns(conn)
    assert {c.table for c in columns} == set(taking_out.MEANINGS)
    assert json.loads(SCHEMA.read_text()) == taking_out.schema(columns)


def test_only_the_client_and_their_own_coach_take_it_out(coach, colleague, client, practice, lived):
    path = f"/api/clients/{practice.client_id}/record.zip"
    assert coach.get(path).status_code == 200
    assert colleague.get(path).status_code == 404 and client.get(path).status_code == 403
