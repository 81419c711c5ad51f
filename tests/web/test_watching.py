"""Figures by operation, and an access log that holds neither token nor name."""

from __future__ import annotations

import urllib.request

import pytest
import structlog
from prometheus_client import generate_latest
from structlog.testing import capture_logs

from dimbo.ops.cluster import free_port


def figure(app, name, **labels):
    return app.state.figures.registry.get_sample_value(name, labels) or 0


def test_answers_are_counted_by_operation_and_status(app, coach, client, practice):
    coach.get(f"/api/clients/{practice.client_id}")
    coach.get("/api/clients/00000000-0000-0000-0000-000000000000")
    client.get("/api/desk")
    coach.post("/api/sign-out", headers={"x-dimbo": ""}, content=b"x" * 100_000)
    assert figure(app, "dimbo_requests_total", operation="course", status="2xx") == 1
    assert figure(app, "dimbo_requests_total", operation="course", status="4xx") == 1
    assert figure(app, "dimbo_requests_total", operation="desk", status="4xx") == 1
    assert figure(app, "dimbo_requests_total", operation="page", status="4xx") == 1, "refused before it came to an operation"
    assert figure(app, "dimbo_request_seconds_count", operation="course") == 2
    assert figure(app, "dimbo_requests_running") == 0
    assert 1e7 < figure(app, "dimbo_memory_peak_bytes") < 4e9


@pytest.mark.parametrize("token", ["A-token-that-opens-something", "client@harbour.example"])
def test_the_access_log_names_neither_token_nor_person(browser, coach, practice, app, token):
    with capture_logs() as said:
        browser().get(f"/api/self-intakes/{token}")
        browser().get(f"/api/due/{token}?email={token}")
        browser().post("/api/sign-in", json={"email": token, "password": token})
        coach.get(f"/api/clients/{practice.client_id}")
    lines = [x for x in said if x["event"] == "request"]
    assert {x["operation"] for x in lines} == {"selfIntake", "due", "signIn", "course"}
    assert token not in str(said) and str(practice.client_id) not in str(lines)
    assert token.encode() not in generate_latest(app.state.figures.registry)


def test_they_are_served_on_a_port_of_their_own(app, coach):
    port = free_port()
    app.state.figures.serve(port, host="127.0.0.1")
    coach.get("/api/me")
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/metrics", timeout=5) as answer:
        text = answer.read().decode()
    assert 'dimbo_requests_total{operation="me",status="2xx"}' in text
    assert coach.get("/metrics").status_code in (200, 503) and "dimbo_requests" not in coach.get("/metrics").text


def test_an_answer_names_the_request_that_the_log_tells_of(coach):
    with capture_logs(processors=[structlog.contextvars.merge_contextvars]) as said:
        first, second = coach.get("/api/me"), coach.get("/api/nothing")
    told = [x["request"] for x in said if x["event"] == "request"]
    assert told == [first.headers["x-request-id"], second.headers["x-request-id"]] and len(set(told)) == 2
    assert structlog.contextvars.get_contextvars() == {}


def test_a_fault_of_ours_is_answered_in_words_and_noted_under_the_number_that_they_tell(coach, monkeypatch):
    def broken(*_, **__):
        raise ZeroDivisionError("of our own making")

    monkeypatch.setattr("dimbo.web.routes.desk.desk.desk", broken)
    with capture_logs(processors=[structlog.contextvars.merge_contextvars]) as said:
        answer = coach.get("/api/desk")
    number = answer.headers["x-request-id"]
    assert answer.status_code == 500 and answer.json()["code"] == "fault" and answer.json()["message"].endswith(number)
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert [x["request"] for x in said if x["event"] == "fault"] == [number]
    assert "making" not in answer.text
