"""The program sheet over the wire: checked, filled, saved without loss, assigned."""

from datetime import UTC, datetime, timedelta

import pytest


@pytest.fixture
def program(coach, practice):
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "Eyes", "weeks": 4, "concern": "eye-less-open"})
    return coach.get(f"/api/programs/{made.json()['id']}").json()


def save(browser, program, document, base=None, title="Eyes"):
    body = {"base_version": base or program["version"], "title": title, "document": document}
    return browser.put(f"/api/programs/{program['id']}", json=body)


def test_a_draft_fits_its_client_and_has_nothing_to_settle(program):
    sheet = program["sheet"]
    assert sheet["assignable"]
    assert all(w["seconds"] <= 15 * 60 for w in sheet["weeks"])
    assert "bracket-open" in {n["exercise"] for n in sheet["lines"]}
    assert not [n for n in sheet["notes"] if n["weight"] != "fine"]
    assert sheet["lines"][0]["stage"] == "prepare" and sheet["lines"][-1]["stage"] == "close"


@pytest.mark.parametrize("concern", ["eye-less-open", "low-brow", "flat-cheeks", "jowls", "thin-upper-lip", "loose-neck", "jaw-tension"])
def test_drafts_are_deterministic_and_never_pass_a_ceiling(coach, practice, concern):
    def draft():
        made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"weeks": 12, "concern": concern}).json()["id"]
        return coach.get(f"/api/programs/{made}").json()

    one, two = draft(), draft()
    cells = [[(n["exercise"], n["cells"]) for n in p["document"]["lines"]] for p in (one, two)]
    assert cells[0] == cells[1]
    assert not [n for n in one["sheet"]["notes"] if n["rule"] in ("ceiling", "budget", "unreadable", "foundation", "stage-order")]


def test_a_check_answers_with_seconds_trains_and_the_ceiling(coach, program):
    document = program["document"]
    row = next(i for i, n in enumerate(document["lines"]) if n["exercise"] == "bracket-open")
    document["lines"][row]["cells"][0] = "R3 L2 x 2 h20"
    document["lines"][row]["cells"][1] = "R3 L2 twice"
    sheet = coach.post("/api/sheet/check", json={"document": document}).json()
    first, second = sheet["lines"][row]["cells"][:2]
    assert first["canonical"] == "R3 L2 ×2 h20" and first["over_ceiling"]
    assert first["train"]["runs"] == ["right"] * 3 + ["left"] * 2
    assert second["error"]["start"] == 6 and second["text"] == "R3 L2 twice"
    assert {n["rule"] for n in sheet["notes"]} >= {"ceiling", "unreadable"}
    assert not sheet["assignable"]


def test_fill_right_climbs_the_rungs_and_stops_at_the_target(coach):
    body = {"exercise": "oval-lift", "cells": ["1×5 h3", "", "", ""], "week": 1}
    filled = coach.post("/api/sheet/fill", json=body).json()
    assert filled["cells"] == ["1×5 h3", "1×5 h4", "1×5 h5", "1×5 h7"]
    body["cells"], body["week"] = ["1×5 h3", "2×8 h8", "", ""], 2
    filled = coach.post("/api/sheet/fill", json=body).json()
    assert filled["cells"] == ["1×5 h3", "2×8 h8", "2×8 h8", "2×8 h8"] and filled["remark"]


def test_counts_follow_the_clients_own_pace(coach, practice, owner, program):
    owner.execute("update clients set pace_s = 1.5 where id = %s", (practice.client_id,))
    document = program["document"] | {
        "weeks": 1,
        "sessions": [3],
        "lines": [{"id": "a", "exercise": "oval-lift", "stage": "work", "cells": ["1×5 h10c"]}],
    }
    mine = coach.post("/api/sheet/check", json={"document": document, "client_id": str(practice.client_id)}).json()
    plain = coach.post("/api/sheet/check", json={"document": document}).json()
    assert mine["weeks"][0]["right_s"] == 5 * (1 + 15)
    assert plain["weeks"][0]["right_s"] == 5 * (1 + 10)


def test_two_tabs_never_lose_work_silently(coach, program):
    document = program["document"]
    assert save(coach, program, document | {"minutes": 20}).json()["version"] == 2
    late = save(coach, program, document | {"minutes": 30}, base=1)
    assert late.status_code == 409
    assert "version 2" in late.json()["message"]
    assert coach.get(f"/api/programs/{program['id']}").json()["document"]["minutes"] == 20


def test_every_version_is_kept(coach, program, owner):
    save(coach, program, program["document"] | {"minutes": 20})
    kept = owner.execute("select version, document->>'minutes' from program_versions order by version").fetchall()
    assert kept == [(1, "15"), (2, "20")]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"sessions": [3]}, "sessions"),
        ({"weeks": 99}, "weeks"),
        ({"lines": [{"id": "a", "exercise": "nothing", "stage": "work", "cells": ["", "", "", ""]}]}, "nothing"),
        ({"lines": [{"id": "a", "exercise": "oval-lift", "stage": "work", "cells": [""]}]}, "4 cells"),
        ({"lines": [{"id": "a", "exercise": "oval-lift", "stage": "dance", "cells": ["", "", "", ""]}]}, "stage"),
    ],
)
def test_documents_that_cannot_be_are_refused_whole(coach, program, change, says):
    answer = save(coach, program, program["document"] | change)
    assert answer.status_code == 422
    assert says in answer.json()["message"] + str(answer.json()["field"])
    assert coach.get(f"/api/programs/{program['id']}").json()["version"] == 1


def test_assigning_refuses_what_must_be_settled_first(coach, program):
    document = program["document"]
    document["lines"][0]["cells"][1] = "many"
    assert save(coach, program, document).status_code == 200
    refused = coach.post(f"/api/programs/{program['id']}/assignment", json={"start": "2026-01-05"})
    assert refused.status_code == 422 and "week 2" in refused.json()["message"]


def test_one_program_runs_at_a_time_and_the_plan_is_kept(coach, practice, program, owner):
    start = datetime.now(UTC).date()
    path = f"/api/programs/{program['id']}/assignment"
    made = coach.post(path, json={"start": start.isoformat()})
    assert made.status_code == 201
    assert coach.post(path, json={"start": start.isoformat()}).status_code == 409
    assert owner.execute("select count(*) from planned_days").fetchone() == (3 + 4 + 5 + 6,)
    save(coach, program, program["document"] | {"lines": program["document"]["lines"][:2]})
    course = coach.get(f"/api/clients/{practice.client_id}").json()
    assert course["days"][0]["planned_s"] > 60
    assert coach.post(f"/api/assignments/{made.json()['id']}/end").status_code == 204
    assert coach.get(f"/api/clients/{practice.client_id}").json()["assignment"]["running"] is False
    assert coach.post(path, json={"start": (start + timedelta(days=1)).isoformat()}).status_code == 201


def test_dates_that_are_none_are_refused(coach, program):
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": "2026-02-30"}).json()["field"] == "start"
