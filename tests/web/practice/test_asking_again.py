"""Health is asked again: after a pause before anything is practised, by whoever asks, once for each answer."""

from datetime import UTC, datetime
from uuid import uuid4

import pytest

from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from tests.web.conftest import new_program
from tests.web.practising import by_hand, hand_in, read, todays


@pytest.fixture
def running(coach, client, practice):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    hand_in(client, by_hand(todays(client)))
    return made


def long_ago(owner, days):
    """As if practice and every answer lay so many days back."""
    owner.execute("alter table facts disable trigger user")
    owner.execute("update facts set at = at - make_interval(days => %s)", (days,))
    owner.execute("alter table facts enable trigger user")
    owner.execute("alter table practice_logs disable trigger user")
    owner.execute("update practice_logs set day = day - %s::int", (days,))
    owner.execute("alter table practice_logs enable trigger user")


def test_within_a_week_nothing_is_asked_and_after_it_a_line_or_a_gate(client, owner, running):
    assert read(client)["ask"] is None
    long_ago(owner, 7)
    assert read(client)["ask"]["first"] is False, "seven days back: asked for the review, and practice goes on"
    long_ago(owner, 1)
    day = read(client)
    assert day["ask"]["first"] is True and day["sessions"] == {}, "seven days without practice: health first"


def test_nothing_has_changed_opens_the_gate_once(client, owner, running):
    long_ago(owner, 9)
    said = {"kind": "asked", "id": str(uuid4()), "said_at": datetime.now(UTC).isoformat()}
    assert [r["state"] for r in hand_in(client, said, said)] == ["kept", "had"]
    day = read(client)
    assert day["ask"] is None and day["sessions"]


def test_the_coach_may_have_asked_and_nobody_else_of_another_practice(coach, client, practice, owner, running):
    long_ago(owner, 9)
    assert coach.post(f"/api/clients/{uuid4()}/asked").status_code == 404
    assert read(client)["ask"]["first"] is True
    assert coach.post(f"/api/clients/{practice.client_id}/asked").status_code == 204
    assert read(client)["ask"] is None


def picture():
    return shoot(Scene(identity="aster", state="even", seed=3)).jpeg(datetime(2026, 3, 2, 8, 40, tzinfo=UTC))


def alone(coach, browser, practice):
    """A link by which the client takes photographs alone, opened by nobody who is signed in."""
    sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={}).json()["id"]
    path = coach.post(f"/api/sittings/{sitting}/link").json()["path"]
    return browser(), f"/api/taking/{path.rsplit('/', 1)[1]}", sitting


def send(who, base):
    """A file in one piece: the answer of the first address that refuses it."""
    photo = uuid4()
    piece = who.put(f"{base}/uploads/{photo}", params={"starts_at": 0, "total": 4}, files={"data": b"abcd"})
    return piece if piece.status_code != 200 else who.post(f"{base}/uploads/{photo}/done", data={"name": "a.jpg", "total": 4})


def test_photographs_of_today_wait_for_the_question_and_older_ones_do_not(coach, practice, owner):
    long_ago(owner, 1)
    today = coach.post(f"/api/clients/{practice.client_id}/sittings", json={}).json()["id"]
    older = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": "2026-03-02"}).json()["id"]
    assert coach.get(f"/api/sittings/{today}/taking").json()["health"]["because"]
    assert coach.get(f"/api/sittings/{older}/taking").json()["health"] is None
    whole = coach.post(f"/api/sittings/{today}/photographs", data={"photograph_id": str(uuid4())}, files={"file": ("a.jpg", picture())})
    assert whole.status_code == 422 and whole.json()["field"] == "asked"
    assert send(coach, f"/api/sittings/{today}").json()["field"] == "asked"
    assert send(coach, f"/api/sittings/{older}").json()["field"] == "file", "only the file is at fault"
    coach.post(f"/api/clients/{practice.client_id}/asked")
    assert coach.get(f"/api/sittings/{today}/taking").json()["health"] is None
    assert send(coach, f"/api/sittings/{today}").json()["field"] == "file"


def test_who_takes_them_alone_answers_first_and_a_sudden_sign_stops(coach, browser, practice, owner):
    long_ago(owner, 1)
    nobody, base, _ = alone(coach, browser, practice)
    view = nobody.get(base).json()
    assert send(nobody, base).json()["field"] == "asked"
    told = {"kind": "answer", "id": str(uuid4()), "caution": "pregnancy", "answer": "yes", "said_at": datetime.now(UTC).isoformat()}
    assert {c["id"] for c in view["health"]["changes"]} >= {"pregnancy"} and not view["halt"]
    assert nobody.post(f"{base}/health", json={"entry": told}).status_code == 204
    assert nobody.get(base).json()["health"] is None and send(nobody, base).json()["field"] == "file"
    held = coach.get(f"/api/clients/{practice.client_id}/intake").json()["cautions"]
    assert held["pregnancy"]["answer"] == "yes"
    sign = view["health"]["signs"][0]
    assert nobody.post(f"{base}/health", json={"entry": told | {"id": str(uuid4()), "caution": sign["id"]}}).status_code == 204
    assert nobody.get(base).json()["halt"] == sign["stop_words"]
    assert send(nobody, base).json()["message"] == sign["stop_words"]
    (row,) = [c for c in coach.get("/api/desk").json()["clients"] if c["id"] == str(practice.client_id)]
    assert row["alarms"][0]["kind"] == "urgent", row["alarms"]
