"""Photographs and records that are older than a practice keeps them: told, then deleted; and what is put away comes back."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.work.records import keeping

from ..conftest import new_program

NOW = datetime.now(UTC)


@pytest.fixture
def photographed(coach, practice, owner):
    sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={}).json()["id"]
    owner.execute(
        "insert into photographs (id, practice_id, client_id, sitting_id, source_name, source_hash, image, thumbnail, width, height) "
        "values (%s, %s, %s, %s, '', '', '', '', 1, 1)",
        (uuid4(), practice.id, practice.client_id, sitting),
    )


def assign(coach, program):
    start = coach.get(f"/api/programs/{program}").json()["client_today"]
    made = coach.post(f"/api/programs/{program}/assignment", json={"start": start})
    assert made.status_code in (200, 201), made.text


def decide(coach, photographs, records, law=""):
    body = {"keep_photographs_months": photographs, "keep_records_months": records, "kept_by_law": law}
    return coach.put("/api/settings/keeping", json=body)


def letters(owner):
    return owner.execute("select to_coach, subject from outbox where kind = 'keeping' order by subject, to_coach").fetchall()


def day(n):
    return NOW + timedelta(days=n)


def test_photographs_go_first_then_the_record_each_after_its_notice(coach, client, practice, photographed, db, owner):
    assert decide(coach, 3, 12).status_code == 204
    assert [g["what"] for g in client.get("/api/my-record").json()["going"]] == ["photographs", "record"]
    assert keeping.mind(db, day(50)) == 0 and letters(owner) == []
    assert keeping.mind(db, day(75)) == 1
    told = letters(owner)
    assert [t[0] for t in told] == [False, True] and "photographs will be deleted on" in told[0][1]
    assert keeping.mind(db, day(80)) == 0, "told once"
    assert keeping.mind(db, day(106)) == 1
    assert owner.execute("select count(*) from photographs").fetchone() == (0,)
    assert coach.get(f"/api/clients/{practice.client_id}").status_code == 200
    assert keeping.mind(db, day(360)) == 1 and len(letters(owner)) == 4
    keeping.mind(db, day(400))
    assert coach.get(f"/api/clients/{practice.client_id}").status_code == 404
    (stone,) = coach.get("/api/erasures").json()
    assert (stone["by_whom"], stone["reason"]) == ("age", "kept long enough")
    assert letters(owner) == [], "the letters named them"


def test_a_new_course_or_word_takes_the_notice_back(coach, practice, db, owner):
    decide(coach, 1, 1)
    keeping.mind(db, day(10))
    assert owner.execute("select what from keeping_notices").fetchall() == [("record",)]
    program = new_program(coach, practice.client_id)
    assign(coach, program)
    keeping.mind(db, day(60))
    assert owner.execute("select count(*) from keeping_notices").fetchone() == (0,)
    assert coach.get(f"/api/clients/{practice.client_id}").status_code == 200
    assert coach.get(f"/api/clients/{practice.client_id}/record").json()["going"] == []


def test_the_coach_keeps_longer_and_the_client_sees_it(coach, client, practice, db, owner):
    decide(coach, 1, 1)
    keeping.mind(db, day(10))
    path = f"/api/clients/{practice.client_id}/kept-until"
    assert coach.put(path, json={"until": "1999-01-01"}).json()["field"] == "until"
    until = day(300).date().isoformat()
    assert coach.put(path, json={"until": until}).status_code == 204
    keeping.mind(db, day(200))
    found = client.get("/api/my-record").json()
    assert found["kept_until"] == until and found["going"][0] == {"what": "record", "goes_on": until, "told": False}
    assert [(s["what"], s["subject"].split()[0]) for s in found["steps"]] == [("kept longer", "until")]


def test_photographs_never_outlive_the_record_and_only_owners_decide(coach, colleague, client):
    for photographs, records in ((None, 12), (24, 12)):
        assert decide(coach, photographs, records).json()["field"] == "keep_photographs_months"
    assert decide(coach, 0, None).status_code == 422
    assert decide(coach, 12, None, "Bills are kept for seven years.").status_code == 204
    assert decide(colleague, 1, 1).status_code == 403
    assert client.get("/api/my-record").json()["keeps"]["kept_by_law"] == "Bills are kept for seven years."


def test_archived_is_away_from_the_desk_and_comes_back(coach, colleague, client, practice, owner):
    path = f"/api/clients/{practice.client_id}/archived"
    assert coach.put(path, json={"archived": True}).status_code == 204
    assert coach.put(path, json={"archived": True}).status_code == 204, "twice is harmless"
    assert coach.get("/api/desk").json()["clients"] == [] and coach.get("/api/client-names").json() == []
    assert [r["archived"] for r in coach.get("/api/clients").json()] == [True]
    assert client.get("/api/my-course").status_code == 200, "theirs stays"
    said = {"kind": "message", "id": str(uuid4()), "text": "May I begin again?", "written_at": NOW.isoformat()}
    assert client.post("/api/hand-in", json={"sent_at": NOW.isoformat(), "entries": [said]}).status_code == 200
    assert len(coach.get("/api/desk").json()["clients"]) == 1, "what they say is said to somebody"
    assert [s["what"] for s in client.get("/api/my-record").json()["steps"]] == ["archived"]


def test_nobody_is_archived_while_a_program_runs(coach, practice):
    program = new_program(coach, practice.client_id)
    assign(coach, program)
    answer = coach.put(f"/api/clients/{practice.client_id}/archived", json={"archived": True})
    assert answer.status_code == 422 and "End it first" in answer.json()["message"]
