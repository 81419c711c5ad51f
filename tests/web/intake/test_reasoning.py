"""The practice's own reasoning table, and the way back to the shipped text."""

import copy
from uuid import uuid4

import pytest


@pytest.fixture
def entry(coach):
    def read(concern="jowls"):
        return next(e for e in coach.get("/api/reasoning").json() if e["concern"] == concern)

    return read


def test_an_own_text_holds_for_the_practice_until_it_goes_back(coach, browser, db, owner, practice, entry):
    from tests.web.conftest import make_practice

    shipped = entry()
    own = copy.deepcopy(shipped["document"])
    own["causes"][0]["usual"], own["causes"][1]["usual"] = -2, 3
    assert coach.put("/api/reasoning/jowls", json={"document": own}).status_code == 204
    assert entry()["edited_by"] == "Coach of harbour" and entry()["document"] == own
    rated = coach.post(
        f"/api/clients/{practice.client_id}/facts",
        json={"entries": [{"id": str(uuid4()), "kind": "rating", "key": "jowls", "value": {"right": 2, "left": 2}}]},
    ).json()
    assert rated["conclusions"]["concerns"][0]["cause"]["id"] == own["causes"][1]["id"]
    other = browser(make_practice(db, owner, "elsewhere").coach_email)
    assert next(e for e in other.get("/api/reasoning").json() if e["concern"] == "jowls")["edited_by"] is None
    assert coach.delete("/api/reasoning/jowls").status_code == 204
    assert entry() == shipped
    assert coach.delete("/api/reasoning/jowls").status_code == 404


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        (("causes", 0, "families"), ["sing"], "families"),
        (("causes", 0, "muscles"), ["elbow"], "no muscle “elbow”"),
        (("causes", 0, "usual"), 99, "usual"),
        (("causes", 0, "evidence"), {"nope": {"yes": 1}}, "no question “nope”"),
        (("causes", 0, "name"), "", "name"),
        (("causes",), [], "causes"),
        (("questions", 0, "from"), "humming", "humming"),
    ],
)
def test_what_does_not_fit_is_refused_and_the_shipped_text_stays(coach, entry, path, value, says):
    own = copy.deepcopy(entry()["document"])
    place = own
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    answer = coach.put("/api/reasoning/jowls", json={"document": own})
    assert answer.status_code == 422 and says in answer.json()["message"]
    assert entry()["edited_by"] is None


def test_clients_cannot_read_or_edit_it(client):
    assert client.get("/api/reasoning").status_code == 403
    assert client.put("/api/reasoning/jowls", json={"document": {}}).status_code == 403
