"""Age at every gate: assigning, practising, photographs."""

from datetime import UTC, date, datetime
from uuid import uuid4

import pytest

from tests.web.conftest import new_program
from tests.web.practising import hand_in, read

YEAR = date.today().year


@pytest.fixture
def born(owner, practice):
    def set_year(year):
        owner.execute("update clients set birth_year = %s where id = %s", (year, practice.client_id))

    return set_year


@pytest.fixture
def program(coach, practice):
    return new_program(coach, practice.client_id)


def assign(coach, program):
    start = coach.get(f"/api/programs/{program}").json()["client_today"]
    return coach.post(f"/api/programs/{program}/assignment", json={"start": start})


def agree(page, path, choice, person=""):
    texts = {t["id"]: t for t in page.get(path).json()["texts"]}
    return page.put(f"{path}/{choice}", json={"given": True, "version": texts[choice]["version"], "person": person})


@pytest.mark.parametrize(("year", "says"), [(None, "year of birth is not known"), (YEAR - 15, "not before the age of 16")])
def test_nobody_who_is_too_young_or_of_unknown_age_is_assigned_or_photographed(coach, practice, program, born, year, says):
    born(year)
    answer = assign(coach, program)
    assert answer.status_code == 422 and says in answer.json()["message"].lower()
    made = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": date.today().isoformat()}).json()
    begun = coach.post(f"/api/sittings/{made.get('id')}/uploads", json={"name": "a.jpg", "size": 10, "hash": "0" * 64})
    assert begun.status_code >= 400


def test_who_runs_without_a_year_is_asked_for_it_before_the_next_session(coach, client, program, born):
    assert assign(coach, program).status_code == 201
    born(None)
    day = read(client)
    assert day["no_age"] and day["sessions"] == {}
    born_in = {"kind": "born", "id": str(uuid4()), "year": 1979, "said_at": datetime.now(UTC).isoformat()}
    assert [r["state"] for r in hand_in(client, born_in, born_in)] == ["kept", "had"]
    day = read(client)
    assert not day["no_age"] and day["sessions"]
    (answer,) = hand_in(client, {**born_in, "id": str(uuid4()), "year": 1801})
    assert answer["state"] == "refused" and "1801" in answer["said"][0]


def test_under_eighteen_a_named_guardian_agrees_first(coach, client, program, born):
    born(YEAR - 17)
    answer = assign(coach, program)
    assert answer.status_code == 422 and "guardian" in answer.json()["message"]
    path = "/api/my/consents"
    assert agree(client, path, "guardian-practise").json()["message"] == "Write the name of the guardian."
    assert agree(client, path, "guardian-practise", "Maren Quill").status_code == 200
    assert assign(coach, program).status_code == 201
    assert read(client)["sessions"]
