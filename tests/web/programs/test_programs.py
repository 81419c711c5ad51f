"""The program sheet over the wire: drafted, checked, remedied, filled, saved without loss, assigned."""

import psycopg
import pytest

from tests.web.conftest import new_program
from tests.web.practising import by_hand, hand_in, log, todays


@pytest.fixture
def program(drafted):
    return drafted()


def save(browser, program, document, base=None, title="Eyes", sheet=None):
    body = {"base_revision": base or program["revision"], "title": title, "document": document, "sheet": sheet}
    return browser.put(f"/api/programs/{program['id']}", json=body)


def ask(coach, path, program, **more):
    body = {"document": program["document"], "client_id": program["client_id"], "program_id": program["id"]} | more
    return coach.post(f"/api/sheet/{path}", json=body)


def rules(sheet, *weights):
    return {n["rule"] for n in sheet["notes"] if not weights or n["weight"] in weights}


def row_of(document, exercise):
    return next(n for n in document["lines"] if n["exercise"] == exercise)


def test_a_draft_fits_its_client_and_has_nothing_to_settle(program):
    sheet = program["sheet"]
    assert sheet["assignable"]
    assert all(w["seconds"] <= 15 * 60 for w in sheet["weeks"])
    assert "bracket-open" in {n["exercise"] for n in sheet["lines"]}
    assert not rules(sheet, "stop", "watch")
    assert sheet["lines"][0]["stage"] == "prepare" and sheet["lines"][-1]["stage"] in ("close", "through the day")
    assert all(n["why"] for n in sheet["lines"])
    assert row_of(program["document"], "bracket-open")["why"].startswith("For one eye less open, more on the right")


@pytest.mark.parametrize("concern", ["eye_less_open", "low_brow", "flat_cheeks", "jowls", "thin_upper_lip", "loose_neck", "jaw_tension"])
def test_drafts_are_deterministic(drafted, concern):
    one, two = (drafted(12, **{concern: (3, 3)}) for _ in range(2))
    assert one["document"] == two["document"]
    assert not rules(one["sheet"], "stop")


def test_a_draft_can_be_looked_at_before_it_is_kept(coach, practice, program, owner):
    found = coach.post(f"/api/clients/{practice.client_id}/programs/draft", json={"source": "intake", "weeks": 6}).json()
    assert found["document"]["weeks"] == 6 and found["title"] == "One eye less open"
    assert owner.execute("select count(*) from programs").fetchone() == (1,)
    nothing = coach.post("/api/clients", json={"name": "Nobody Yet", "birth_year": 1980, "time_zone": "UTC"}).json()["id"]
    refused = coach.post(f"/api/clients/{nothing}/programs/draft", json={"source": "intake"})
    assert refused.status_code == 422 and "rates no concern" in refused.json()["message"]


def drawn(coach, client_id, **wish):
    return coach.post(f"/api/clients/{client_id}/programs/draft", json={"source": "intake", "weeks": 6, **wish})


def test_a_draft_follows_school_minutes_and_what_is_left_out(coach, practice, program):
    plain, drains, short, dry = (
        drawn(coach, practice.client_id, **w).json()
        for w in ({}, {"approach": "drain-and-calm"}, {"minutes": 5}, {"leave_out": ["oil", "bracket-open"]})
    )
    used = [{n["exercise"] for n in d["sheet"]["lines"]} for d in (plain, drains, short, dry)]
    assert "bracket-open" in used[0] and "bracket-open" not in used[1] | used[3]
    assert drains["document"]["approach"] == "drain-and-calm" and "collarbone-pumps" in used[1]
    assert max(w["seconds"] for w in short["sheet"]["weeks"]) <= 300 and short["document"]["minutes"] == 5
    assert ("bracket-open", "you left it out") in {(x["exercise"], x["reason"]) for x in dry["left_out"]}
    assert "approach" in drawn(coach, practice.client_id, approach="nobody").json()["message"]
    assert drawn(coach, practice.client_id, minutes=0).status_code == 422


def test_a_program_for_another_client_leaves_behind_what_was_written_for_the_first(coach, practice, program, owner):
    document = program["document"]
    row = row_of(document, "bracket-open") | {"note": "As we said on Tuesday.", "cells": ["R2 L1 ×2 h6"] * document["weeks"]}
    lines = [row if n["exercise"] == "bracket-open" else n for n in document["lines"]]
    whose = owner.execute("select name from clients where id = %s", (practice.client_id,)).fetchone()[0]
    kept = save(coach, program, document | {"lines": lines, "expectations": "For your wedding."}, title=f"Eyes for {whose}")
    assert kept.status_code == 200
    new = {"name": "Ilse Baumgart", "birth_year": 1979, "time_zone": "UTC", "minutes": 20}
    other = coach.post("/api/clients", json=new).json()["id"]
    found = drawn(coach, other, source=f"program-{program['id']}").json()
    assert found["title"] == "New program", "a title with the first client's name stays with them"
    row = row_of(found["document"], "bracket-open")
    assert row["note"] == "" and "wedding" not in found["document"]["expectations"] and found["document"]["minutes"] == 20
    assert row["cells"][0] == "R1 L1 ×2 h6", "the side of the first client is not the side of the second"
    made = coach.post(f"/api/clients/{other}/programs", json={"source": f"program-{program['id']}"}).json()["id"]
    assert coach.get(f"/api/programs/{made}").json()["client_id"] == other
    for gone in ("program-x", "program-00000000-0000-0000-0000-000000000000"):
        assert drawn(coach, other, source=gone).status_code == 404


def test_a_check_answers_with_seconds_trains_and_the_ceiling(coach, program):
    document = program["document"]
    row = next(i for i, n in enumerate(document["lines"]) if n["exercise"] == "bracket-open")
    document["lines"][row]["cells"][0] = "R3 L2 x 2 h20"
    document["lines"][row]["cells"][1] = "R3 L2 twice"
    sheet = coach.post("/api/sheet/check", json={"document": document}).json()
    first, second = sheet["lines"][row]["cells"][:2]
    assert first["canonical"] == "R3 L2 ×2 h20" and first["over_ceiling"]
    assert sheet["trains"][first["train"]]["runs"] == ["right"] * 3 + ["left"] * 2
    assert second["error"]["start"] == 6 and second["text"] == "R3 L2 twice"
    assert rules(sheet) >= {"ceiling", "unreadable"}
    assert not sheet["assignable"]


def test_a_remedy_is_one_key_away(coach, program):
    row = row_of(program["document"], "bracket-open")
    row["cells"] = ["R2 L2 ×2 h30"] * 4
    note = next(n for n in ask(coach, "check", program).json()["notes"] if n["rule"] == "ceiling")
    assert note["fix"].startswith("Keep ")
    fixed = ask(coach, "fix", program, rule="ceiling", line=row["id"]).json()
    assert "ceiling" not in rules(fixed["sheet"])
    assert row_of(fixed["document"], "bracket-open")["cells"] != row["cells"]
    program["document"] = fixed["document"]
    settled = ask(coach, "fix", program, rule="ceiling", line=row["id"])
    assert settled.status_code == 422 and "settled" in settled.json()["message"]


def test_fill_right_climbs_the_rungs_and_stops_at_the_target(coach, drafted):
    program = drafted(flat_cheeks=(2, 2))
    row = row_of(program["document"], "oval-lift")
    row["cells"] = ["1×5 h3", "", "", ""]
    filled = ask(coach, "fill", program, line=row["id"], week=1).json()
    assert filled["cells"] == ["1×5 h3", "1×5 h4", "1×5 h5", "1×5 h7"]
    row["cells"] = ["1×5 h3", "2×8 h8", "", ""]
    filled = ask(coach, "fill", program, line=row["id"], week=2).json()
    assert filled["cells"] == ["1×5 h3", "2×8 h8", "2×8 h8", "2×8 h8"] and filled["remark"]
    gone = ask(coach, "fill", program, line="no-such-row", week=1)
    assert gone.status_code == 422 and gone.json()["field"] == "line"


def test_order_sides_and_lighter_weeks_are_worked_out_by_the_core(coach, program):
    lines = program["document"]["lines"]
    program["document"]["lines"] = lines[::-1]
    ordered = ask(coach, "order", program).json()
    stages = [n["stage"] for n in ordered["document"]["lines"]]
    assert stages == [n["stage"] for n in lines]
    assert all(p["reason"] for p in ordered["places"])
    program["document"] = ordered["document"]
    row = row_of(program["document"], "bracket-open")
    sided = ask(coach, "sides", program, line=row["id"], side="right").json()
    assert all(c.startswith(("R2 L1", "R3 L2")) for c in row_of(sided["document"], "bracket-open")["cells"])
    assert "bias-unmeasured" in rules(sided["sheet"], "watch")
    light = ask(coach, "lighter", program, week=3).json()
    assert light["document"]["lighter"] == [3] and light["sheet"]["weeks"][2]["lighter"]
    assert light["sheet"]["weeks"][2]["right_s"] < light["sheet"]["weeks"][1]["right_s"]
    assert ask(coach, "lighter", program, week=1).status_code == 422


def test_counts_follow_the_clients_own_pace(coach, practice, owner, program):
    owner.execute("update clients set pace_s = 1.5 where id = %s", (practice.client_id,))
    document = program["document"] | {
        "weeks": 1,
        "sessions": [3],
        "circuits": [],
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


ONE, OTHER = "0e1f4f5c-6f0e-4d0c-9a53-0a4c4d6c1c01", "0e1f4f5c-6f0e-4d0c-9a53-0a4c4d6c1c02"


def minutes(program, n):
    return program["document"] | {"minutes": n}


def numbers(coach, program):
    return [v["version"] for v in coach.get(f"/api/programs/{program['id']}/versions").json()]


def test_a_save_answers_the_check_and_keeps_the_canonical_line(coach, program):
    document = program["document"]
    row = row_of(document, "bracket-open")
    row["cells"][0], row["cells"][1] = " r1  l1 x2 H6", "five"
    kept = save(coach, program, document, sheet=ONE).json()
    cells = next(n for n in kept["sheet"]["lines"] if n["id"] == row["id"])["cells"]
    assert cells[0]["canonical"] == "R1 L1 ×2 h6" and cells[1]["error"] and not kept["sheet"]["assignable"]
    stored = coach.get(f"/api/programs/{program['id']}").json()
    assert row_of(stored["document"], "bracket-open")["cells"][:2] == ["R1 L1 ×2 h6", "five"], "and what cannot be read as typed"
    assert stored["sheet"]["notes"] == kept["sheet"]["notes"]


def test_a_mornings_work_on_an_open_sheet_is_one_version(coach, program, owner):
    for n in range(1, 5):
        kept = save(coach, program, minutes(program, 10 + n), base=n, sheet=ONE).json()
        assert (kept["version"], kept["revision"]) == (2, n + 1), "the draft stays as it was drafted"
    assert numbers(coach, program) == [2, 1]
    owner.execute("alter table program_versions disable trigger only_an_open_version_grows")
    owner.execute("update program_versions set open_until = now() - interval '1 second' where version = 2")
    owner.execute("alter table program_versions enable trigger only_an_open_version_grows")
    assert save(coach, program, minutes(program, 30), base=5, sheet=ONE).json()["version"] == 3, "an hour later it is the next one"


def test_a_version_that_is_practised_is_never_written_on(coach, program, owner):
    assert save(coach, program, minutes(program, 20), base=1, sheet=ONE).json()["version"] == 2
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    assert save(coach, program, minutes(program, 30), base=2, sheet=ONE).json()["version"] == 3
    held = owner.execute("select document->>'minutes' from program_versions order by version").fetchall()
    assert held == [(str(program["document"]["minutes"]),), ("20",), ("30",)]
    for version in (1, 2):
        with pytest.raises(psycopg.errors.RaiseException, match=f"version {version} .* is finished"):
            owner.execute("update program_versions set document = '{}' where version = %s", (version,))


def test_a_colleague_begins_a_version_of_their_own(coach, colleague, program):
    assert save(coach, program, minutes(program, 20), base=1, sheet=ONE).json()["version"] == 2
    assert save(colleague, program, minutes(program, 30), base=2, sheet=OTHER).json()["version"] == 3
    late = save(coach, program, minutes(program, 25), base=2, sheet=ONE)
    assert late.status_code == 409 and "version 3" in late.json()["message"]


def test_a_save_whose_answer_was_lost_can_be_sent_again(coach, program):
    assert save(coach, program, minutes(program, 20), base=1, sheet=ONE).json()["revision"] == 2
    again = save(coach, program, minutes(program, 25), base=1, sheet=ONE)
    assert again.status_code == 200 and again.json()["revision"] == 3
    assert save(coach, program, minutes(program, 30), base=1, sheet=OTHER).status_code == 409, "another tab of the same person"
    kept = save(coach, program, minutes(program, 30), base=3, sheet=OTHER).json()
    assert kept["version"] == 3, "which keeps its own over it: the other tab's stays among the versions"


def test_versions_differ_in_words_and_can_be_restored(coach, program):
    path = f"/api/programs/{program['id']}"
    document = coach.get(path).json()["document"]
    row = row_of(document, "bracket-open")
    row["cells"][1] = "R1 L1 ×3 h8"
    assert save(coach, program, document).json()["version"] == 2
    assert [v["version"] for v in coach.get(f"{path}/versions").json()] == [2, 1]
    told = coach.get(f"{path}/differences", params={"before": 1, "after": 2}).json()
    assert any(c["text"].startswith("Week 2, Finger-bracket wide open: ") and "2 to 3 repetitions" in c["text"] for c in told)
    late = coach.post(f"{path}/restore", json={"version": 1, "base_revision": 1})
    assert late.status_code == 409
    assert coach.post(f"{path}/restore", json={"version": 1, "base_revision": 2}).json() == {"version": 3}
    assert coach.get(path).json()["document"] == program["document"]
    assert coach.get(f"{path}/differences", params={"before": 1, "after": 3}).json() == []
    assert coach.get(f"{path}/differences", params={"before": 1, "after": 9}).status_code == 404


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"sessions": [3]}, "sessions"),
        ({"sessions": [3, 3, 3, 2.5]}, "every other day"),
        ({"weeks": 99}, "weeks"),
        ({"approach": "gymnastics"}, "gymnastics"),
        ({"circuits": [{"lines": ["nobody"], "rounds": 2}]}, "circuit"),
        ({"lines": [{"id": "a", "exercise": "nothing", "stage": "work", "cells": ["", "", "", ""]}]}, "nothing"),
        ({"lines": [{"id": "a", "exercise": "oval-lift", "stage": "work", "cells": [""]}]}, "4 cells"),
        ({"lines": [{"id": "a", "exercise": "oval-lift", "stage": "dance", "cells": ["", "", "", ""]}]}, "stage"),
        ({"lines": [{"id": f"r{i}", "exercise": "oval-lift", "stage": "work", "cells": [""] * 4} for i in range(61)]}, "60"),
    ],
)
def test_documents_that_cannot_be_are_refused_whole(coach, program, change, says):
    answer = save(coach, program, program["document"] | {"circuits": []} | change)
    assert answer.status_code == 422
    assert says in answer.json()["message"] + str(answer.json()["field"])
    assert coach.get(f"/api/programs/{program['id']}").json()["version"] == 1


def test_assigning_refuses_what_must_be_settled_first(coach, program):
    document = program["document"]
    document["lines"][0]["cells"][1] = "many"
    assert save(coach, program, document).status_code == 200
    refused = coach.post(f"/api/programs/{program['id']}/assignment", json={"start": "2026-01-05"})
    assert refused.status_code == 422 and "week 2" in refused.json()["message"]


def test_an_assignment_keeps_its_plan_whatever_is_edited_after(coach, practice, program, owner):
    start = program["client_today"]
    path = f"/api/programs/{program['id']}/assignment"
    made = coach.post(path, json={"start": start})
    assert made.status_code == 201
    again = coach.post(path, json={"start": start})
    assert again.status_code == 422 and "runs already" in again.json()["message"]
    assert owner.execute("select count(*) from planned_days").fetchone() == (sum(program["document"]["sessions"]),)
    save(coach, program, program["document"] | {"lines": program["document"]["lines"][:2]})
    course = coach.get(f"/api/clients/{practice.client_id}").json()
    assert course["days"][0]["planned_s"] > 60
    assert (course["assignments"][0]["version"], course["assignments"][0]["newest_version"]) == (1, 2)
    assert coach.post(f"/api/assignments/{made.json()['id']}/end", json={"follows": "rest"}).status_code == 204
    assert coach.get(f"/api/clients/{practice.client_id}").json()["assignments"][0]["running"] is False
    assert coach.post(path, json={"start": start}).status_code == 201


def test_the_next_program_knows_what_the_running_one_takes(coach, practice, program, drafted):
    start = program["client_today"]
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": start}).status_code == 201
    second = drafted(title="Next")
    row_of(second["document"], "bracket-open")["cells"] = ["R2 L2 ×4 h10"] * 4
    sheet = ask(coach, "check", second).json()
    note = next(n for n in sheet["notes"] if n["rule"] == "ceiling-beside" and "Finger-bracket" in n["text"])
    assert "“Eyes”, which runs now" in note["text"] and note["weight"] == "watch"
    assert "ceiling-beside" not in rules(ask(coach, "check", program).json())


def test_days_that_the_client_has_decide_the_plan(coach, practice, program, owner):
    owner.execute("update clients set days = '{1,4}' where id = %s", (practice.client_id,))
    sheet = ask(coach, "check", program).json()
    assert "days" in rules(sheet, "watch")
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    weekdays = {d.isoweekday() for (d,) in owner.execute("select day from planned_days").fetchall()}
    assert weekdays == {1, 4}


def test_a_morning_and_an_evening_session_are_two_sessions_of_one_day(coach, client, practice, program):
    document = program["document"]
    for line in document["lines"]:
        if line["stage"] in ("release", "close"):
            line["when"] = "both"
    assert save(coach, program, document).status_code == 200
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    morning = todays(client)["session"]
    assert morning["part"] == "morning"
    assert hand_in(client, log(todays(client)))[0]["state"] == "kept"
    half = coach.get(f"/api/clients/{practice.client_id}").json()["days"][0]
    assert half["state"] == "open"
    evening = todays(client)
    assert evening["session"]["part"] == "evening" and evening["done_at"] is None
    assert {i["stage"] for i in evening["session"]["items"]} <= {"release", "close"}
    assert hand_in(client, log(evening))[0]["state"] == "kept"
    assert todays(client)["done_at"]
    assert coach.get(f"/api/clients/{practice.client_id}").json()["days"][0]["state"] == "done"


def test_what_the_morning_has_had_is_missing_in_the_evening(coach, client, practice, program):
    lip = [("m", "morning"), ("e", "evening")]
    rows = [{"id": part, "exercise": "upper-lip-press", "stage": "work", "cells": ["30 s h1"] * 4, "when": when} for part, when in lip]
    rows += [{"id": "b", "exercise": "settle-breath", "stage": "prepare", "cells": ["2 in 4 out 6"] * 4, "when": "both"}]
    assert save(coach, program, program["document"] | {"lines": rows, "sessions": [7] * 4}).status_code == 200
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    hand_in(client, by_hand(todays(client), share=2))  # more than planned: it has used up the minute of the day
    evening = todays(client)["session"]
    assert evening["part"] == "evening"
    assert "upper-lip-press" not in [i["exercise"] for i in evening["items"]]
    assert [x["name"] for x in evening["left_out"]] == ["Upper-lip press"]


def test_a_circuit_is_played_as_often_as_it_is_repeated(coach, client, program):
    document = program["document"]
    work = [n["id"] for n in document["lines"] if n["stage"] == "work"]
    before = program["sheet"]["weeks"][0]["seconds"]
    document["circuits"] = [{"lines": work, "rounds": 2}]
    for line in document["lines"]:
        line["days"] = None
    document["sessions"] = [2, 2, 2, 2]
    assert save(coach, program, document).status_code == 200
    sheet = coach.get(f"/api/programs/{program['id']}").json()["sheet"]
    assert sheet["weeks"][0]["seconds"] > before
    assert {n["rounds"] for n in sheet["lines"]} == {1, 2}
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    items = [i["line_id"] for i in todays(client)["session"]["items"]]
    assert [i for i in items if i in work] == work * 2


def test_dates_that_are_none_are_refused(coach, program):
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": "2026-02-30"}).json()["field"] == "start"


def test_an_empty_sheet_is_an_empty_sheet(coach, practice):
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"source": "empty", "weeks": 3, "title": "Blank"}).json()["id"]
    found = coach.get(f"/api/programs/{made}").json()
    assert found["document"]["lines"] == [] and not found["sheet"]["assignable"]
    line = ask(coach, "line", found, exercise="oval-lift").json()
    assert line["cells"][0] == "1×5 h3" and len(line["cells"]) == 3
    assert ask(coach, "line", found, exercise="somersault").json()["field"] == "exercise"


def test_habit_tasks_stand_under_the_day_and_take_no_time(coach, client, drafted):
    program = drafted(jaw_tension=(2, 2))
    line = next(n for n in program["document"]["lines"] if n["stage"] == "through the day")
    line["note"] = "At every traffic light."
    assert save(coach, program, program["document"]).status_code == 200
    coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]})
    today = todays(client)
    assert line["id"] not in [i["line_id"] for i in today["session"]["items"]]
    (habit,) = today["habits"]
    assert (habit["name"], habit["often"], habit["times"]) == ("Soft jaw on the hour", "6 times a day", 6)
    assert habit["say"] == "At every traffic light." and habit["count"] == 0


def test_what_a_client_sees_of_a_session_names_hands_and_sides(coach, client, practice):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    coach.post(f"/api/programs/{made}/assignment", json={"start": start})
    item = next(i for i in todays(client)["session"]["items"] if i["exercise"] == "bracket-open")
    assert item["figure"]["one_side"] and any("Index finger" in w for w in item["figure"]["words"])
