"""Refusals carry a code that stays the same whatever the words are, and the field that they are about."""

from uuid import uuid4

import pytest

from dimbo.web.description import REFUSALS
from dimbo.web.schemas import Problem


def told(answer):
    problem = Problem.model_validate(answer.json())
    return answer.status_code, str(problem.code), problem.field


def test_a_refusal_is_known_by_its_code_and_field(coach, client, browser, practice):
    messages = f"/api/clients/{practice.client_id}/messages"
    word = {"id": str(uuid4()), "text": ""}
    assert told(coach.post(messages, json=word | {"text": "  "})) == (422, "needed", "text")
    assert told(coach.post(messages, json=word | {"text": "a" * 5000})) == (422, "bounds", "text")
    assert told(coach.post(messages, json=word | {"text": "Rest.", "exercise_id": "nothing"})) == (422, "unknown", "exercise_id")
    assert told(coach.post(messages, json={})) == (422, "needed", "id")
    assert told(coach.post(messages, json=word | {"id": "7"})) == (422, "unreadable", "id")
    assert told(coach.get(f"/api/clients/{uuid4()}")) == (404, "not-there", None)
    assert told(client.get("/api/clients")) == (403, "not-allowed", None)
    assert told(browser().get("/api/clients")) == (401, "signed-out", None)
    assert told(browser().post("/api/sign-in", json={"email": practice.coach_email, "password": "wrong"})) == (422, "not-yours", None)
    assert told(browser().get("/api/invitations/nobody")) == (422, "link", None)


@pytest.mark.parametrize(("tries", "refused"), [(8, (422, "not-yours", None)), (9, (429, "too-many", None))])
def test_too_many_tries_are_another_code_than_a_wrong_password(browser, tries, refused):
    page = browser()
    for _ in range(tries):
        answer = page.post("/api/sign-in", json={"email": "nobody@harbour.example", "password": "wrong"})
    assert told(answer) == refused


def test_what_the_description_of_the_api_promises_is_what_is_sent(app):
    described = app.openapi()["components"]["schemas"]["Problem"]["properties"]
    assert set(described) == {"code", "message", "field"}
    for path in app.openapi()["paths"].values():
        for operation in path.values():
            refusals = {s: r for s, r in operation["responses"].items() if s[0] in "45" and operation["operationId"] != "calendarFeed"}
            assert set(refusals) <= set(REFUSALS) and "422" in operation["responses"]
            bodies = [r["content"]["application/json"]["schema"]["$ref"] for r in refusals.values()]
            assert set(bodies) <= {"#/components/schemas/Problem"}
