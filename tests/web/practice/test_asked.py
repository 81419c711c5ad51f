"""Nobody practises who was not asked about their health and did not agree: every road to a program, and the phone."""

import json
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.catalogue import shipped_intake
from tests.answered import answer_over_wire
from tests.web.conftest import make_practice, new_program
from tests.web.practising import hand_in, log, todays

RULES = shipped_intake().tables.cautions
URGENT = [r for r in RULES if r.group == "urgent"]


@pytest.fixture
def practice(db, owner):
    return make_practice(db, owner, "harbour", asked=False)


def start_of(coach, program):
    return {"start": coach.get(f"/api/programs/{program}").json()["client_today"]}


def said(caution, answer="no", **more):
    return {"kind": "answer", "id": str(uuid4()), "caution": caution, "answer": answer, "said_at": datetime.now(UTC).isoformat()} | more


def agree(given=True):
    version = shipped_intake().consents["practise"].version
    return {"kind": "agree", "id": str(uuid4()), "given": given, "version": version, "said_at": datetime.now(UTC).isoformat()}


def drafted(coach, client_id):
    return new_program(coach, client_id)


def templated(coach, client_id):
    body = {"title": "Made to fit", "weeks": 4, "source": coach.get("/api/templates").json()[0]["id"]}
    return coach.post(f"/api/clients/{client_id}/programs", json=body).json()["id"]


def imported(coach, client_id):
    other = coach.post("/api/clients", json={"name": "Asked Already", "birth_year": 1980, "time_zone": "UTC"}).json()["id"]
    answer_over_wire(coach, other)
    file = coach.get(f"/api/programs/{new_program(coach, other)}/program.json").text
    answer = coach.post(f"/api/clients/{client_id}/programs/import", files={"file": ("p.json", file)}, data={"choices": json.dumps({})})
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


@pytest.mark.parametrize("road", [drafted, templated, imported])
def test_no_road_to_an_assignment_goes_round_the_questions(coach, practice, road):
    program = road(coach, practice.client_id)
    margin = coach.get(f"/api/programs/{program}").json()["sheet"]
    (note,) = [n for n in margin["notes"] if n["rule"] == "unasked"]
    assert note["weight"] == "stop" and note["ways"] == ["answer-health", "send-questions"] and not margin["assignable"]
    wish = start_of(coach, program)
    (seen,) = coach.post(f"/api/programs/{program}/assignment/preview", json={"wish": wish}).json()
    assert seen["unasked"] and "Not asked yet" in seen["refusals"][0]
    refused = coach.post(f"/api/programs/{program}/assignment", json=wish)
    assert refused.status_code == 422 and f"{len(URGENT)} sudden signs" in refused.json()["message"]
    group = coach.post(f"/api/programs/{program}/group", json={"name": "G", "clients": [str(practice.client_id)], "wish": wish})
    assert group.status_code == 422
    paper = coach.get(f"/api/programs/{program}/handout.pdf", params={"week": 1})
    assert paper.status_code == 422 and "Not asked yet" in paper.json()["message"]
    answer_over_wire(coach, practice.client_id)
    assert coach.post(f"/api/programs/{program}/assignment", json=wish).status_code == 201


def test_one_open_sign_is_enough_to_wait_and_what_touches_nothing_is_not_asked(coach, practice):
    program = new_program(coach, practice.client_id)
    answer_over_wire(coach, practice.client_id)
    other = coach.post("/api/clients", json={"name": "Nearly Asked", "birth_year": 1980, "time_zone": "UTC"}).json()["id"]
    mine = new_program(coach, other)
    touching = {r.id for r in RULES} - {"pregnancy"}
    facts = [{"id": str(uuid4()), "kind": "caution", "key": c, "value": {"answer": "no"}} for c in touching - {URGENT[3].id}]
    coach.post(f"/api/clients/{other}/facts", json={"entries": facts})
    version = shipped_intake().consents["practise"].version
    coach.put(f"/api/clients/{other}/consents/practise", json={"given": True, "version": version})
    refused = coach.post(f"/api/programs/{mine}/assignment", json=start_of(coach, mine))
    assert "Not asked yet: 1 sudden sign." in refused.json()["message"]
    assert coach.post(f"/api/programs/{program}/assignment", json=start_of(coach, program)).status_code == 201


@pytest.fixture
def running_unasked(coach, client, practice, owner):
    """As in the first release: a program runs, and nobody ever asked."""
    program = new_program(coach, practice.client_id)
    answer_over_wire(coach, practice.client_id)
    assert coach.post(f"/api/programs/{program}/assignment", json=start_of(coach, program)).status_code == 201
    owner.execute("alter table facts disable trigger facts_stay")
    owner.execute("delete from facts where kind in ('caution', 'consent')")
    owner.execute("alter table facts enable trigger facts_stay")
    return program


def test_the_phone_of_a_running_client_asks_first_and_then_starts(client, running_unasked):
    day = client.get("/api/my-days").json()
    assert day["sessions"] == {} and all(p["session"] is None for d in day["days"] for p in d["parts"])
    asked = [q["id"] for q in day["questions"]]
    assert asked[: len(URGENT)] == [r.id for r in URGENT] and day["to_agree"]["id"] == "practise"
    results = hand_in(client, *(said(q) for q in asked))
    assert {r["state"] for r in results} == {"kept"}
    assert client.get("/api/my-days").json()["sessions"] == {}, "and agreeing"
    assert hand_in(client, agree())[0]["state"] == "kept"
    today = todays(client)
    assert today["questions"] == [] and today["to_agree"] is None and today["session"]["items"]
    assert hand_in(client, log(today))[0]["state"] == "kept"


def test_answers_arrive_once_however_often_they_are_sent(client, coach, practice, running_unasked):
    entry = said("eye-surgery", "yes", event_on="2025-01-01")
    assert [hand_in(client, entry)[0]["state"] for _ in range(3)] == ["kept", "had", "had"]
    trail = [t for t in coach.get(f"/api/clients/{practice.client_id}/timeline").json() if t["kind"] == "caution"]
    assert len(trail) == 1 and trail[0]["source"] == "client"


def test_not_sure_holds_what_a_yes_would_hold(client, running_unasked):
    asked = [q["id"] for q in client.get("/api/my-days").json()["questions"]]
    hand_in(client, *(said(q, "unsure" if q == "eye-surgery" else "no") for q in asked), agree())
    left = {x["name"] for s in client.get("/api/my-days").json()["sessions"].values() for x in s["left_out"]}
    sure = {x for x in left if "eye" in x.lower() or "lid" in x.lower()}
    assert sure, "eye work waits for a clearance"


TODAY = {"blisters", "spreading-swelling", "temple-ache", "jaw-stuck"}
"""Sudden signs that a doctor must see on the same day; all others are for the emergency number."""


@pytest.mark.parametrize("sign", [r.id for r in URGENT])
def test_a_sudden_sign_from_the_phone_stops_everything_at_once(client, coach, practice, running_unasked, sign):
    asked = [q["id"] for q in client.get("/api/my-days").json()["questions"]]
    hand_in(client, *(said(q) for q in asked), agree())
    assert todays(client)["session"]
    (told,) = hand_in(client, said(sign, "yes"))
    first = "See a doctor today." if sign in TODAY else "Seek urgent medical care now."
    assert told["said"][0].startswith(first) and "local emergency number" in told["said"][0]
    day = client.get("/api/my-days").json()
    assert day["sessions"] == {} and day["halt"] == told["said"][0] and day["days"][0]["habits"] == []
    (row,) = [c for c in coach.get("/api/desk").json()["clients"] if c["id"] == str(practice.client_id)]
    assert row["alarms"][0]["kind"] == "urgent"
    letters = coach.get("/api/outbox").json()
    assert [x["kind"] for x in letters if x["to_coach"]].count("urgent") == 1
    (refused,) = hand_in(client, said(sign, "no"))
    assert refused["state"] == "refused" and "clearance" in refused["said"][0], "it is not talked away"


def test_what_was_practised_before_a_sign_is_kept(client, running_unasked):
    asked = [q["id"] for q in client.get("/api/my-days").json()["questions"]]
    hand_in(client, *(said(q) for q in asked), agree())
    today = todays(client)
    half = log(today, (0, today["session"]["seconds"] / 2), started=datetime.now(UTC) - timedelta(minutes=20))
    first, second = hand_in(client, said("sudden-face", "yes"), half)
    assert (first["state"], second["state"]) == ("kept", "kept")


def test_refusing_to_agree_shows_nothing_and_says_how_to_change_it(client, running_unasked):
    asked = [q["id"] for q in client.get("/api/my-days").json()["questions"]]
    hand_in(client, *(said(q) for q in asked), agree(False))
    day = client.get("/api/my-days").json()
    assert day["sessions"] == {} and "agreements" in day["halt"] and day["to_agree"] is None
