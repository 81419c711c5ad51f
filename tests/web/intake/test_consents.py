"""Consents: given and taken back by coach and client, and asked for before anything that needs one."""

from uuid import uuid4

import pytest

from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from tests.web.conftest import new_program
from tests.web.practising import todays

ALL = ["practise", "photographs", "second-coach", "comparison", "show-others", "learn"]


def choice(given, version=1, **more):
    return {"given": given, "version": version, **more}


@pytest.fixture
def consents(coach, practice):
    def states():
        found = coach.get(f"/api/clients/{practice.client_id}/intake").json()["consents"]
        return {c["id"]: c["state"] for c in found}

    return states


@pytest.fixture
def photograph(coach, practice):
    """Uploads one photograph; returns the answer."""
    picture = shoot(Scene(identity="aster", state="even", seed=1)).jpeg(None)
    sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": "2026-03-20"}).json()["id"]

    def send():
        data = {"photograph_id": str(uuid4())}
        return coach.post(f"/api/sittings/{sitting}/photographs", data=data, files={"file": (f"{uuid4()}.jpg", picture, "image/jpeg")})

    return send


def test_each_choice_stands_alone(coach, practice, consents):
    assert list(consents()) == ALL
    answer = coach.put(f"/api/clients/{practice.client_id}/consents/practise", json=choice(True))
    assert answer.status_code == 200
    assert consents() == {"practise": "given", "photographs": "given", **dict.fromkeys(ALL[2:], "never asked")}


def test_clients_give_and_take_back_their_own(client, consents):
    assert client.put("/api/my/consents/comparison", json=choice(True)).status_code == 200
    assert consents()["comparison"] == "given"
    mine = client.put("/api/my/consents/comparison", json=choice(False)).json()["consents"]
    assert next(c for c in mine if c["id"] == "comparison")["state"] == "withdrawn" == consents()["comparison"]


def test_the_second_coach_is_named(client, coach, practice, colleague):
    refused = client.put("/api/my/consents/second-coach", json=choice(True))
    assert refused.status_code == 422 and refused.json()["field"] == "account"
    (named,) = client.get("/api/my/consents").json()["coaches"]
    own = choice(True, account=str(practice.coach_id))
    assert client.put("/api/my/consents/second-coach", json=own).json()["field"] == "account", "the own coach is no second one"
    client.put("/api/my/consents/second-coach", json=choice(True, account=named["id"]))
    found = coach.get(f"/api/clients/{practice.client_id}/intake").json()["consents"]
    assert next(c for c in found if c["id"] == "second-coach")["person"] == named["name"] == "Colleague"


def test_a_text_that_is_not_the_current_one_is_read_again_first(client):
    assert "text has changed" in client.put("/api/my/consents/practise", json=choice(True, version=7)).json()["message"]
    assert client.put("/api/my/consents/everything", json=choice(True)).status_code == 422


def test_taking_back_photographs_deletes_them_after_naming_the_number(client, coach, practice, photograph, owner):
    assert photograph().status_code == 202
    refused = client.put("/api/my/consents/photographs", json=choice(False))
    assert refused.status_code == 422 and "1 photograph" in refused.json()["message"]
    assert client.put("/api/my/consents/photographs", json=choice(False, deletes=2)).status_code == 422
    assert owner.execute("select count(*) from photographs").fetchone() == (1,)
    done = client.put("/api/my/consents/photographs", json=choice(False, deletes=1)).json()
    assert done["photographs"] == 0
    assert owner.execute("select count(*) from photographs").fetchone() == (0,)
    told = [t["text"] for t in coach.get(f"/api/clients/{practice.client_id}/timeline").json()]
    assert "1 photograph deleted with what was measured" in told[:2]


def test_no_photograph_is_kept_without_consent(client, photograph):
    client.put("/api/my/consents/photographs", json=choice(False))
    refused = photograph()
    assert refused.status_code == 422 and refused.json()["field"] == "consent"
    client.put("/api/my/consents/photographs", json=choice(True))
    assert photograph().status_code == 202


def test_without_consent_to_practise_nothing_is_assigned_or_shown(client, coach, practice):
    program = new_program(coach, practice.client_id)
    start = {"start": coach.get(f"/api/programs/{program}").json()["client_today"]}
    client.put("/api/my/consents/practise", json=choice(False))
    assert "Consent to practise" in coach.post(f"/api/programs/{program}/assignment", json=start).json()["message"]
    client.put("/api/my/consents/practise", json=choice(True))
    assert coach.post(f"/api/programs/{program}/assignment", json=start).status_code == 201
    assert todays(client)["session"]
    client.put("/api/my/consents/practise", json=choice(False))
    day = todays(client)
    assert day["session"] is None and "agreements" in day["halt"]
