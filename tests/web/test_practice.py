"""The client's day, and logs that arrive once."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from .conftest import new_program


@pytest.fixture
def today(coach, client, practice):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    found = client.get("/api/today").json()
    assert found["session"] is not None
    return found


def report(today, **change):
    session = today["session"]
    now = datetime.now(UTC)
    return {
        "id": str(uuid4()),
        "assignment_id": session["assignment_id"],
        "day": session["day"],
        "effort": 5,
        "note": "",
        "started_at": (now - timedelta(minutes=12)).isoformat(),
        "ended_at": now.isoformat(),
        "lines": [{"line_id": i["line_id"], "done_s": i["seconds"], "outcome": "done"} for i in session["items"]],
    } | change


def course_day(coach, practice, day):
    return next(d for d in coach.get(f"/api/clients/{practice.client_id}").json()["days"] if d["day"] == day)


def test_today_is_the_compiled_session(today):
    session = today["session"]
    assert session["items"][0]["exercise"] == "settle-breath"
    assert sum(c["length_s"] for c in session["cues"]) == pytest.approx(session["seconds"], abs=0.5)
    assert {c["side"] for c in session["cues"]} >= {"right", "left", None}


def test_the_coach_sees_what_was_done(coach, client, practice, today):
    assert course_day(coach, practice, today["day"])["state"] == "open"
    assert client.put("/api/practice-logs", json=report(today, note="Fine.")).json() == {"kept": True}
    day = course_day(coach, practice, today["day"])
    assert day["state"] == "done" and day["logs"][0]["effort"] == 5 and day["logs"][0]["note"] == "Fine."
    assert client.get("/api/today").json()["done_at"]


def test_a_log_that_is_sent_many_times_at_once_is_kept_once(client, coach, practice, today):
    body = report(today)
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda _: client.put("/api/practice-logs", json=body), range(12)))
    assert all(a.status_code == 200 for a in answers)
    assert sum(a.json()["kept"] for a in answers) == 1
    assert len(course_day(coach, practice, today["day"])["logs"]) == 1


def test_half_a_session_counts_half_and_too_much_is_said(client, coach, practice, today):
    half = report(today)
    for line in half["lines"]:
        line["done_s"] /= 2
        line["outcome"] = "partly"
    client.put("/api/practice-logs", json=half)
    day = course_day(coach, practice, today["day"])
    assert day["state"] == "partly" and day["share"] == pytest.approx(0.5, abs=0.01)
    client.put("/api/practice-logs", json=report(today))
    day = course_day(coach, practice, today["day"])
    assert day["over_s"] == pytest.approx(0.5 * day["planned_s"], rel=0.02)


def test_pain_stops_the_exercise_until_the_coach_decides(client, coach, practice, today):
    body = report(today)
    hurt = next(i for i, item in enumerate(today["session"]["items"]) if item["exercise"] == "bracket-open")
    body["lines"][hurt] |= {"done_s": 4, "outcome": "hurt", "pain_side": "right", "pain_level": 6, "pain_where": "eye"}
    client.put("/api/practice-logs", json=body)
    stopped = coach.get(f"/api/clients/{practice.client_id}").json()["stopped"]
    assert [(s["name"], s["side"], s["level"], s["where"]) for s in stopped] == [("Finger-bracket wide open", "right", 6, "eye")]
    assert coach.get("/api/clients").json()[0]["stopped"] == 1
    left = client.get("/api/today").json()["session"]
    assert left["left_out"] == ["Finger-bracket wide open"]
    assert "bracket-open" not in {i["exercise"] for i in left["items"]}
    path = f"/api/clients/{practice.client_id}/stopped/bracket-open/clear"
    assert coach.post(path).status_code == 204
    assert coach.post(path).status_code == 404
    assert client.get("/api/today").json()["session"]["left_out"] == []


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"day": "2031-01-01"}, "day"),
        ({"started_at": "2031-01-01T10:00:00Z", "ended_at": "2031-01-01T10:10:00Z"}, "started_at"),
        ({"ended_at": "2020-01-01T10:00:00Z"}, "ended_at"),
        ({"effort": 11}, "effort"),
        ({"lines": [{"line_id": "unknown", "done_s": 1, "outcome": "done"}]}, "lines"),
        ({"lines": [{"line_id": "a", "done_s": 1e6, "outcome": "done"}]}, "lines.0.done_s"),
    ],
)
def test_logs_that_cannot_be_are_refused_whole(client, today, owner, change, field):
    answer = client.put("/api/practice-logs", json=report(today, **change))
    assert answer.status_code == 422
    assert answer.json()["field"] == field
    assert owner.execute("select count(*) from practice_logs").fetchone() == (0,)


def test_nobody_logs_for_somebody_else(browser, db, owner, today):
    from .conftest import make_practice

    stranger = browser(make_practice(db, owner, "hillside").client_email)
    assert stranger.put("/api/practice-logs", json=report(today)).status_code == 404
