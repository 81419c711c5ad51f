"""A practice that was just opened is greeted with what to do first, until everything is done."""

from pathlib import Path

import dimbo

SAMPLE = Path(dimbo.__file__).parents[2] / "ui/static/sample-clients.csv"


def done(page):
    return {s["id"]: s["done"] for s in page.get("/api/beginning").json()}


def test_the_first_steps_are_ticked_as_they_are_done_and_then_gone(coach, practice, owner):
    assert done(coach) == {"ways": True, "client": True, "program": False, "colleague": True}
    owner.execute("update practices set begun = '{}'")
    assert done(coach) == {"ways": False, "client": True, "program": False, "colleague": False}
    ways = coach.get("/api/settings/ways").json()
    assert coach.put("/api/settings/ways", json={"approach": ways["approach"], "values": {}}).status_code == 204
    assert done(coach)["ways"]
    body = {"name": "Emeric", "email": "emeric@harbour.example", "standing": "coach"}
    coach.post("/api/people/invitations", json=body)
    assert done(coach)["colleague"], "invited is enough"
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "First", "source": "empty"})
    assert made.status_code == 201 and done(coach) == {}


def test_who_works_alone_says_so(coach, practice, owner):
    owner.execute("update practices set begun = '{ways}'")
    assert coach.post("/api/beginning/colleague").status_code == 204
    assert coach.post("/api/beginning/program").status_code == 422
    assert done(coach)["colleague"] and not done(coach)["program"]


def test_the_sample_table_can_be_imported_as_it_is(coach):
    with SAMPLE.open("rb") as file:
        plan = coach.post("/api/import/preview", files={"file": ("sample.csv", file)}, data={"time_zone": "Europe/Oslo"}).json()
    assert (plan["new"], plan["wrong"], plan["errors"]) == (3, 0, []), plan
