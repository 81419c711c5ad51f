"""Nothing goes with one slip: what was removed, ended or put aside comes back as it was, and is out of every road's sight meanwhile."""

import asyncio
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

import pytest

from dimbo.ops.settings import Settings
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work import removing
from dimbo.worker import run
from tests.web.conftest import make_practice, new_program
from tests.web.histories import Past
from tests.web.practising import todays


def removed(coach, kind, **query):
    answer = coach.get(f"/api/removed/{kind}", params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


@pytest.fixture
def sitting(coach, practice):
    return coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": "2026-03-02"}).json()["id"]


def upload(coach, sitting, data, name="front.jpg"):
    photo = str(uuid4())
    form = {"photograph_id": photo, "view": "front-neutral"}
    answer = coach.post(f"/api/sittings/{sitting}/photographs", data=form, files={"file": (name, data)})
    return photo, answer


def photos(coach, practice):
    return [p["id"] for s in coach.get(f"/api/clients/{practice.client_id}/sittings").json()["sittings"] for p in s["photographs"]]


def test_a_removed_photograph_is_out_of_sight_everywhere_and_comes_back_measured(coach, practice, sitting, cluster, database_name):
    one, _ = upload(coach, sitting, shoot(Scene(identity="aster", state="even", seed=1)).jpeg(None), "one.jpg")
    asyncio.run(run(Settings(database_url=cluster.url(database=database_name)), wait=False))
    before = coach.get(f"/api/clients/{practice.client_id}/sittings").json()
    assert before["sittings"][0]["photographs"][0]["state"] == "measured"
    assert coach.delete(f"/api/photographs/{one}").status_code == 204
    assert photos(coach, practice) == []
    assert coach.get(f"/api/photographs/{one}.jpg").status_code == 404
    assert coach.get(f"/api/clients/{practice.client_id}/intake").json()["photographs"] == 0
    (kept,) = removed(coach, "photographs", client_id=practice.client_id)
    assert (kept["id"], kept["name"]) == (one, "one.jpg")
    gone = datetime.fromisoformat(kept["gone_at"]) - datetime.fromisoformat(kept["removed_at"])
    assert gone == timedelta(days=30)
    assert coach.delete(f"/api/photographs/{one}").status_code == 404, "it is not there to be removed twice"
    assert coach.post(f"/api/photographs/{one}/bring-back").status_code == 204
    assert coach.get(f"/api/clients/{practice.client_id}/sittings").json() == before, "as it was, with what was measured"


def test_the_same_picture_may_come_again_while_its_removed_copy_is_kept(coach, practice, sitting):
    data = shoot(Scene(identity="aster", state="even", seed=1)).jpeg(None)
    one, _ = upload(coach, sitting, data)
    coach.delete(f"/api/photographs/{one}")
    two, answer = upload(coach, sitting, data)
    assert answer.status_code == 202 and photos(coach, practice) == [two]
    refused = coach.post(f"/api/photographs/{one}/bring-back")
    assert refused.status_code == 422 and "added again" in refused.json()["message"]
    coach.delete(f"/api/photographs/{two}")
    assert coach.post(f"/api/photographs/{one}/bring-back").status_code == 204
    assert photos(coach, practice) == [one]


def test_consent_that_is_taken_back_takes_removed_photographs_at_once(coach, client, practice, sitting, owner):
    one, _ = upload(coach, sitting, shoot(Scene(identity="aster", state="even", seed=1)).jpeg(None))
    coach.delete(f"/api/photographs/{one}")
    taken = client.put("/api/my/consents/photographs", json={"given": False, "version": 1})
    assert taken.status_code == 200, taken.text
    assert owner.execute("select count(*) from photographs").fetchone()[0] == 0
    assert coach.post(f"/api/photographs/{one}/bring-back").status_code == 404


def test_after_thirty_days_it_is_gone_for_good_and_not_a_day_before(db, coach, practice, sitting, owner):
    one, _ = upload(coach, sitting, shoot(Scene(identity="aster", state="even", seed=1)).jpeg(None))
    draft = new_program(coach, practice.client_id)
    template = coach.post("/api/templates", json={"program_id": draft, "title": "Ours", "about": ""}).json()["id"]
    for path in (f"photographs/{one}", f"programs/{draft}", f"templates/{template}"):
        assert coach.delete(f"/api/{path}").status_code == 204
    now = datetime.now(UTC)
    assert removing.forget(db, now + timedelta(days=29, hours=23)) == 0
    assert removing.forget(db, now + timedelta(days=30, minutes=1)) == 3
    counts = "select (select count(*) from photographs) + (select count(*) from programs) + (select count(*) from templates)"
    assert owner.execute(counts).fetchone()[0] == 0
    assert owner.execute("select count(*) from program_versions").fetchone()[0] == 0


def test_a_discarded_draft_opens_nowhere_and_comes_back_with_its_versions(coach, practice):
    draft = new_program(coach, practice.client_id)
    start = {"start": coach.get(f"/api/programs/{draft}").json()["client_today"]}
    assert coach.delete(f"/api/programs/{draft}").status_code == 204
    assert coach.get(f"/api/programs/{draft}").status_code == 404
    assert coach.get(f"/api/clients/{practice.client_id}").json()["programs"] == []
    assert coach.post(f"/api/programs/{draft}/assignment", json=start).status_code == 404, "an old tab cannot assign it"
    assert coach.post(f"/api/programs/{draft}/bring-back").status_code == 204
    assert coach.post(f"/api/programs/{draft}/assignment", json=start).status_code == 201
    refused = coach.delete(f"/api/programs/{draft}")
    assert refused.status_code == 422 and "End it instead" in refused.json()["message"]


def test_another_practice_neither_sees_nor_brings_back(db, owner, browser, coach, practice):
    draft = new_program(coach, practice.client_id)
    coach.delete(f"/api/programs/{draft}")
    other = browser(make_practice(db, owner, "island").coach_email)
    assert removed(other, "programs") == []
    assert other.post(f"/api/programs/{draft}/bring-back").status_code == 404
    assert [r["id"] for r in removed(coach, "programs", client_id=practice.client_id)] == [draft]


def planned(owner, assignment):
    return owner.execute(
        "select day, part, week, plan, planned_s from planned_days where assignment_id = %s order by day, part", (assignment,)
    ).fetchall()


def test_an_ended_program_runs_again_with_the_very_days_that_it_had(db, coach, practice, owner):
    past = Past(db, practice, coach, days_ago=9)
    past.practise(9, 8, 7, 5)
    before = planned(owner, past.assignment)
    told = coach.get(f"/api/assignments/{past.assignment}/end").json()
    assert told["sessions"] == sum(d[0] >= past.today for d in before) and told["last_day"] == str(before[-1][0])
    assert coach.post(f"/api/assignments/{past.assignment}/end", json={"follows": ""}).status_code == 422
    assert coach.post(f"/api/assignments/{past.assignment}/end", json={"follows": "next"}).status_code == 204
    assert max(d[0] for d in planned(owner, past.assignment)) < past.today
    assert coach.post(f"/api/assignments/{past.assignment}/end/take-back").status_code == 204
    assert planned(owner, past.assignment) == before
    again = coach.post(f"/api/assignments/{past.assignment}/end/take-back")
    assert again.status_code == 422 and "running" in again.json()["message"]


def test_taking_an_ending_back_passes_no_gate(db, coach, practice):
    past = Past(db, practice, coach, days_ago=2)
    client = past.id
    coach.post(f"/api/assignments/{past.assignment}/end", json={"follows": "rest"})
    today = {"start": str(past.today)}
    assert coach.post(f"/api/programs/{past.program_id}/assignment", json=today).status_code == 201
    refused = coach.post(f"/api/assignments/{past.assignment}/end/take-back")
    assert refused.status_code == 422 and "assigned again" in refused.json()["message"]
    (second,) = [a["id"] for a in coach.get(f"/api/clients/{client}").json()["assignments"] if a["running"]]
    coach.post(f"/api/assignments/{second}/end", json={"follows": "rest"})
    for n in range(2):
        other = new_program(coach, client, title=f"Other {n}", flat_cheeks=(1, 1)) if n else new_program(coach, client, title="Other 0")
        assert coach.post(f"/api/programs/{other}/assignment", json=today).status_code == 201
    refused = coach.post(f"/api/assignments/{past.assignment}/end/take-back")
    assert refused.status_code == 422 and "two at once" in refused.json()["message"]


def test_the_client_reads_what_follows(coach, client, practice):
    program = new_program(coach, practice.client_id)
    start = {"start": coach.get(f"/api/programs/{program}").json()["client_today"]}
    assignment = coach.post(f"/api/programs/{program}/assignment", json=start).json()["id"]
    assert todays(client)["part"]
    coach.post(f"/api/assignments/{assignment}/end", json={"follows": "next"})
    day = todays(client)
    assert day["part"] is None and day["notes"] == ["Your coach is preparing what comes next. Until then nothing is due."]
    coach.post(f"/api/assignments/{assignment}/end/take-back")
    day = todays(client)
    assert day["part"] and day["notes"] == []


def test_an_alarm_that_was_put_aside_by_mistake_speaks_again(db, coach, practice):
    past = Past(db, practice, coach, days_ago=12)
    past.practise(12, 11, 10, 9, 8)

    def missed():
        row = next(r for r in coach.get("/api/desk").json()["clients"] if UUID(r["id"]) == past.id)
        return [a for a in row["alarms"] if a["may_settle"]]

    alarm = missed()[0]
    body = {"client_id": str(past.id), "kind": alarm["kind"], "key": alarm["key"]}
    assert coach.post("/api/desk/settled", json=body).status_code == 204
    assert alarm["kind"] not in [a["kind"] for a in missed()]
    assert coach.post("/api/desk/unsettled", json=body).status_code == 204
    assert alarm in missed()
