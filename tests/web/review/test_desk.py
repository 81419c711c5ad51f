"""The desk over the wire: every alarm from what really happened, one key to settle it, groups, exports, and the course."""

import csv
import io
from datetime import UTC, date, datetime, timedelta
from uuid import UUID, uuid4

import pytest
from openpyxl import load_workbook

from dimbo.core.rule_book import EVERY
from dimbo.work.review import desk_rows, tables_out
from tests.web.conftest import make_practice
from tests.web.histories import RISING, Past


@pytest.fixture
def past(db, practice, coach):
    return lambda **how: Past(db, practice, coach, **how)


def kinds(p):
    return [a["kind"] for a in p.at_desk()["alarms"]]


def test_a_client_without_program_is_on_the_desk_and_needs_nobody(coach, practice):
    (row,) = coach.get("/api/desk").json()["clients"]
    assert (row["alarms"], row["programs"], row["days"], row["next_day"]) == ([], [], [], None)


def test_a_program_that_has_not_begun_shows_its_first_day(past, coach):
    p = past(days_ago=0)
    moved = coach.post(f"/api/assignments/{p.assignment}/end", json={"follows": "rest"})
    assert moved.status_code == 204
    later = (p.today + timedelta(days=3)).isoformat()
    assert coach.post(f"/api/programs/{p.program_id}/assignment", json={"start": later}).status_code == 201
    row = p.at_desk()
    assert row["next_day"] == later and row["alarms"] == [] and row["week"] == {"done": 0, "planned": 0}


def test_what_happened_speaks_with_its_numbers_and_the_rule(past):
    p = past()
    p.practise(5, 3, again=1.0)
    p.practise(1, hurt="oval-lift", level=6)
    p.sore(2, 7, "mentalis")
    row = p.at_desk()
    by = {a["kind"]: a for a in row["alarms"]}
    assert [a["kind"] for a in row["alarms"]][:3] == ["pain", "sore", "overdone"]
    assert "6 of 10" in by["pain"]["text"] and by["pain"]["urgency"] == "before anything else" and not by["pain"]["may_settle"]
    assert "left mentalis" in by["sore"]["text"]
    assert all(m.endswith("%") for m in by["overdone"]["marks"]) and len(by["overdone"]["marks"]) == 2
    assert "Extra" in EVERY["adherence-over"].says and "25 %" in p.coach_page.get("/api/desk").json()["rules"]["overdone"]
    assert row["stopped"] == 1 and {f["soreness"] for f in row["feel"]} == {None, 7}


def test_an_alarm_that_was_seen_stays_quiet_until_it_happens_again(past, coach):
    p = past()
    p.practise(9)
    missed = next(a for a in p.at_desk()["alarms"] if a["kind"] == "missed")
    body = {"client_id": str(p.id), "kind": "missed", "key": missed["key"]}
    assert [coach.post("/api/desk/settled", json=body).status_code for _ in range(2)] == [204, 204]
    assert "missed" not in kinds(p)
    p.practise(5)
    assert "missed" in kinds(p), "a new run of missed days speaks"
    refused = coach.post("/api/desk/settled", json=body | {"kind": "pain"})
    assert refused.status_code == 422 and "decided" in refused.json()["message"]
    assert coach.post("/api/desk/settled", json=body | {"client_id": str(uuid4())}).status_code == 404


def test_an_alarm_that_is_put_off_speaks_again_on_the_clients_tomorrow(past, coach, owner):
    p = past()
    p.practise(9)
    missed = next(a for a in p.at_desk()["alarms"] if a["kind"] == "missed")
    body = {"client_id": str(p.id), "kind": "missed", "key": missed["key"], "until_tomorrow": True}
    assert coach.post("/api/desk/settled", json=body).status_code == 204
    assert "missed" not in kinds(p)
    kept = "select until from settled_alarms where client_id = %s"
    assert owner.execute(kept, (p.id,)).fetchone() == (p.today + timedelta(days=1),)
    owner.execute("update settled_alarms set until = %s where client_id = %s", (p.today, p.id))
    assert "missed" in kinds(p), "its day has come"
    assert coach.post("/api/desk/settled", json=body).status_code == 204
    assert "missed" not in kinds(p), "put off once more"
    assert coach.post("/api/desk/settled", json=body | {"until_tomorrow": False}).status_code == 204
    assert coach.post("/api/desk/settled", json=body).status_code == 204
    assert owner.execute(kept, (p.id,)).fetchone() == (None,), "what was seen stays seen"
    urgent = coach.post("/api/desk/settled", json=body | {"kind": "lock"})
    assert urgent.status_code == 422 and "before anything else" in urgent.json()["message"]


def test_the_reason_brings_its_evidence_and_the_days_to_come_are_told(past):
    p = past()
    p.practise(1, hurt="oval-lift", level=6)
    row = p.at_desk()
    assert row["tender"] and all(set(v.values()) == {6, 0} or set(v.values()) == {6} for v in row["tender"].values())
    assert row["alarms"][0]["short"].endswith("left out until you decide.")
    soon = [a for a in p.coach_page.get("/api/desk").json()["ahead"] if a["client_id"] == str(p.id)]
    assert all(row["today"] < a["day"] for a in soon)
    quiet = past()
    assert quiet.at_desk()["tender"] == {} and quiet.at_desk()["holds"] == {}


def test_a_review_that_was_decided_leaves_the_desk(past):
    p = past()
    p.practise(*range(9, 2, -1))
    (due,) = p.at_desk()["reviews"]
    assert due["verdict"] == "advance" and "review" in kinds(p)
    assert next(a["step"] for a in p.at_desk()["alarms"] if a["kind"] == "review") == "Confirm: advance"
    p.decide()
    assert p.at_desk()["reviews"] == [] and "review" not in kinds(p)
    day = p.coach_page.get("/api/desk").json()["day"]
    assert [(a["what"], a["done"]) for a in day if a["client_id"] == str(p.id) and a["what"] == "review"] == [("review", True)]


def test_nobody_sees_the_desk_of_another_practice(past, browser, db, owner):
    p = past()
    other = make_practice(db, owner, "hill")
    desk = browser(other.coach_email).get("/api/desk").json()
    assert str(p.id) not in [c["id"] for c in desk["clients"]]
    assert browser(other.coach_email).get(f"/api/assignments/{p.assignment}/review").status_code == 404
    assert browser(other.client_email).get("/api/desk").status_code == 403


# ---------------------------------------------------------------- the course
def test_the_sums_kept_with_a_log_are_those_of_its_exercises(past, owner):
    p = past()
    p.practise(9, 6, share=0.7)
    p.practise(8, 5, again=1.0)
    p.practise(8)
    p.practise(7, hurt="oval-lift")
    kept = owner.execute("select load_planned_s, load_done_s, over_s from practice_logs l order by id").fetchall()
    counted = owner.execute(
        "select sum(work_planned_s) filter (where loads), sum(work_done_s) filter (where loads), sum(over_s) from practice_log_lines "
        "group by log_id order by log_id"
    ).fetchall()
    assert kept == counted and len(kept) == 6 and any(o for *_, o in kept)


def session_days(p):
    return {d["day"]: d for d in p.course()["days"]}


def test_four_of_nine_done_twice_are_no_whole_session(past):
    """What is done again pays for nothing that was left out, in one log or in two."""
    p = past()
    half = 0.5
    p.practise(9, share=half, again=half)
    p.practise(8, share=half)
    p.practise(8, share=half, hour=12)
    p.practise(7, share=half)
    days = session_days(p)
    once = days[p.day(7).isoformat()]["share"]
    assert 0.2 < once < 0.8
    assert days[p.day(9).isoformat()]["share"] == pytest.approx(once, abs=0.005)
    assert days[p.day(8).isoformat()]["share"] == pytest.approx(once, abs=0.005)
    assert all(days[p.day(n).isoformat()]["state"] == "partly" for n in (9, 8, 7))


def test_breath_once_more_is_no_overdoing_and_load_is_over_two_logs_too(past):
    p = past()
    breath = 22 / p.planned(9).seconds  # the breath comes first
    p.practise(9, again=breath)
    p.practise(8)
    p.practise(8, hour=12)
    days = session_days(p)
    assert days[p.day(9).isoformat()]["over_s"] == 0
    assert days[p.day(8).isoformat()]["over_s"] > 10 and days[p.day(8).isoformat()]["share"] == 1
    row = p.course()["patterns"]["windows"]
    assert all(w["contraction"]["done_s"] <= w["contraction"]["planned_s"] for w in row)


def test_dose_adherence_on_the_course_is_what_the_exercises_say(past):
    p = past()
    p.practise(*range(9, 4, -1))
    p.practise(4, share=0.5)
    p.practise(3, again=1.0)
    page = p.course()
    whole = next(w for w in page["patterns"]["windows"] if w["days"] is None)
    assert whole["sessions"]["planned"] == 9 and 6 < whole["sessions"]["done"] < 7
    assert 0 < whole["contraction"]["done_s"] < whole["contraction"]["planned_s"]
    assert whole["work"]["planned_s"] == pytest.approx(whole["contraction"]["planned_s"] + whole["hands_on"]["planned_s"])
    assert whole["work"]["over_s"] == pytest.approx(next(d["over_s"] for d in page["days"] if d["day"] == p.day(3).isoformat()))
    assert page["patterns"]["took"]["sessions"] >= 5 and page["patterns"]["took"]["planned_s"] > 0
    assert sum(a["planned"] for a in page["patterns"]["weekdays"].values()) == 9
    (seven,) = [w for w in page["patterns"]["windows"] if w["days"] == 7]
    assert seven["sessions"]["planned"] == 6  # today is still open


def test_an_opened_week_shows_every_session_to_scale_and_what_was_done_of_it(past, coach):
    p = past()
    p.practise(9)
    p.practise(8, share=0.4)
    seen = coach.get(f"/api/clients/{p.id}/weeks/{p.start}").json()
    assert len(seen["sessions"]) == 7 and seen["moves"] == []
    whole, part, missed = seen["sessions"][:3]
    assert [i["outcome"] for i in whole["items"]] == ["done", "done"] and all(i["done"] == 1 for i in whole["items"])
    assert {i["outcome"] for i in part["items"]} != {"done"} and {i["outcome"] for i in missed["items"]} == {"planned"}
    last = whole["items"][-1]
    assert last["start_s"] + last["length_s"] == pytest.approx(whole["seconds"], abs=0.2)
    assert all(i["train"] < len(seen["trains"]) for s in seen["sessions"] for i in s["items"])
    (move,) = coach.get(f"/api/clients/{p.id}/weeks/{p.day(2)}").json()["moves"]
    assert (move["before"]["line"], move["after"]["line"]) == (RISING[0], RISING[1])


def test_an_exercise_can_be_opened_to_the_days_behind_its_number(past, coach):
    p = past()
    p.practise(9, 8)
    rows = coach.get(f"/api/clients/{p.id}/exercises/oval-lift").json()
    assert [r["day"] for r in rows] == [p.day(9).isoformat(), p.day(8).isoformat()] and all(r["done_s"] > 0 for r in rows)


def test_blocks_that_ended_stay_on_the_course(past, coach):
    p = past(days_ago=20)
    p.practise(20, 19)
    coach.post(f"/api/assignments/{p.assignment}/end", json={"follows": "rest"})
    assert coach.post(f"/api/programs/{p.program_id}/assignment", json={"start": p.today.isoformat()}).status_code == 201
    page = p.course()
    assert [a["running"] for a in page["assignments"]] == [False, True]
    assert page["start_date"] == p.day(20).isoformat() and page["weeks"] == 9
    assert {d["state"] for d in page["days"]} >= {"done", "skipped", "open"}


# ---------------------------------------------------------------- the client's own
def test_the_client_reads_their_course_in_plain_words(client, coach, practice, db):
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "Lift", "weeks": 4, "source": "empty"}).json()["id"]
    document = coach.get(f"/api/programs/{made}").json()["document"]
    row = {"id": "r", "exercise": "oval-lift", "stage": "work", "cells": list(RISING[:4])}
    coach.put(f"/api/programs/{made}", json={"base_revision": 1, "title": "Lift", "document": document | {"lines": [row], "minutes": None}})
    begun = date.fromisoformat(coach.get(f"/api/programs/{made}").json()["client_today"]) - timedelta(days=8)
    (assigned,) = [coach.post(f"/api/programs/{made}/assignment", json={"start": begun.isoformat()}).json()]
    decision = {"id": str(uuid4()), "first_day": begun.isoformat(), "words": "Begin whenever you can."}
    assert coach.post(f"/api/assignments/{assigned['id']}/review", json=decision).status_code == 201
    own = client.get("/api/my-course").json()
    assert own["titles"] == ["Lift"] and [w["number"] for w in own["weeks"]] == [2, 1]
    assert own["weeks"][1]["words"] == ["Begin whenever you can."] and own["weeks"][1]["sessions"]["done"] == 0
    assert coach.get("/api/my-course").status_code == 403


# ---------------------------------------------------------------- groups
@pytest.fixture
def trio(past, coach):
    people = [past(name=n, days_ago=0) for n in ("Ada", "Bo", "Cy")]
    for p in people:
        coach.post(f"/api/assignments/{p.assignment}/end", json={"follows": "rest"})
    wish = {"start": people[0].day(6).isoformat()}
    body = {"wish": wish, "clients": [str(p.id) for p in people], "name": "Harbour spring"}
    made = coach.post(f"/api/programs/{people[0].program_id}/group", json=body)
    assert made.status_code == 201, made.text
    for p in people:
        p.assignment = next(a["id"] for a in p.course()["assignments"] if a["running"])
    return made.json()["group_id"], people


def test_a_group_is_seen_together_and_who_is_behind_with_the_reason(trio, coach):
    group, (ada, bo, _) = trio
    ada.practise(6, 5, 4, 3, 2, 1)
    bo.practise(6, 5, 2, 1)
    seen = coach.get(f"/api/groups/{group}").json()
    told = {m["name"]: m for m in seen["members"]}
    assert told["Ada"]["behind"] == told["Bo"]["behind"] == "" and "missed 6 planned days" in told["Cy"]["behind"]
    assert seen["middle"] == pytest.approx(4 / 6, abs=0.01) and seen["weeks"] == 6
    assert coach.get(f"/api/groups/{uuid4()}").status_code == 404
    assert [g["name"] for g in coach.get("/api/desk").json()["groups"]] == ["Harbour spring"]


def test_a_group_shows_dose_and_feel_by_week_and_what_the_next_class_is_for(trio, coach):
    group, (ada, bo, cy) = trio
    ada.practise(6, effort=8)
    bo.practise(6, effort=9, hurt="oval-lift")
    cy.practise(5, 4, again=1.0, effort=8)
    seen = coach.get(f"/api/groups/{group}").json()
    told = {m["name"]: m for m in seen["members"]}
    assert told["Ada"]["weeks"][0]["effort"] == 8 and told["Ada"]["weeks"][0]["right_s"] > 0
    assert len(told["Ada"]["weeks"]) == 6 and told["Ada"]["week"] == 1 and told["Ada"]["program_weeks"] == 6
    assert told["Cy"]["ahead"].startswith("more than planned on 2") and told["Ada"]["ahead"] == ""
    assert told["Ada"]["photographs"] is not None
    first, *rest = seen["next_class"]
    assert first.startswith("Long oval cheek lift hurt Bo") and any("8 of 10" in line for line in rest)
    assert any("Photographs of Ada, Bo and Cy" in line for line in rest)


def test_somebody_joins_later_and_leaves_and_keeps_the_own_program(trio, coach, past, browser, db, owner):
    group, _ = trio
    late = past(name="Late", days_ago=0)
    coach.post(f"/api/assignments/{late.assignment}/end", json={"follows": "rest"})
    body = {"client_id": str(late.id), "start": late.today.isoformat()}
    joined = coach.post(f"/api/groups/{group}/members", json=body)
    assert joined.status_code == 201, joined.text
    path = f"/api/groups/{group}/members/{joined.json()['id']}"
    members = {m["name"]: m for m in coach.get(f"/api/groups/{group}").json()["members"]}
    assert members["Late"]["week"] == 1 and members["Late"]["title"] == members["Ada"]["title"]
    again = coach.post(f"/api/groups/{group}/members", json=body)
    assert again.status_code == 422 and "already" in again.json()["message"]
    other = browser(make_practice(db, owner, "hill").coach_email)
    assert [other.delete(path).status_code, other.put(path).status_code] == [404, 404]
    assert [coach.delete(path).status_code for _ in range(2)] == [204, 404]
    assert "Late" not in {m["name"] for m in coach.get(f"/api/groups/{group}").json()["members"]}
    assert [a["running"] for a in late.course()["assignments"]] == [False, True], "the own program goes on"
    assert [coach.put(path).status_code for _ in range(2)] == [204, 404]
    assert "Late" in {m["name"] for m in coach.get(f"/api/groups/{group}").json()["members"]}
    alone = past(name="Never there", days_ago=0)
    assert coach.put(f"/api/groups/{group}/members/{alone.assignment}").status_code == 404, "only who was taken out is put back"
    lone = coach.post(f"/api/groups/{uuid4()}/members", json=body)
    assert lone.status_code == 404


def test_one_message_goes_to_all_or_to_some_and_never_twice(trio, coach, practice):
    group, people = trio
    body = {
        "id": str(uuid4()),
        "clients": [str(people[0].id), str(people[2].id)],
        "text": "How is week one?",
        "written_at": datetime.now(UTC).isoformat(),
    }
    assert [coach.post(f"/api/groups/{group}/messages", json=body).json() for _ in range(2)] == [{"count": 2}] * 2
    counts = [len(coach.get(f"/api/clients/{p.id}/messages").json()) for p in people]
    assert counts == [1, 0, 1]
    stranger = coach.post(f"/api/groups/{group}/messages", json=body | {"clients": [str(practice.client_id)]})
    assert stranger.status_code == 422 and stranger.json()["field"] == "clients"


# ---------------------------------------------------------------- tables
def read(coach, table, **query):
    answer = coach.get(f"/api/export/{table}.csv", params=query)
    assert answer.status_code == 200, answer.text
    return list(csv.DictReader(io.StringIO(answer.text)))


def test_logs_adherence_and_reviews_are_carried_out_as_tables(past, coach):
    p = past(name="=Edda")
    p.practise(*range(9, 2, -1))
    p.practise(2, again=1.0)
    p.decide()
    logs = read(coach, "logs", client=str(p.id))
    assert len({r["log"] for r in logs}) == 8 and {r["side"] for r in logs if r["exercise"] == "oval-lift"} == {"left", "right"}
    assert {r["client"] for r in logs} == {"'=Edda"}, "a name never begins like a formula"
    days = read(coach, "adherence", client=str(p.id))
    assert [r["state"] for r in days] == ["done"] * 8 + ["skipped", "open"] and float(days[7]["over_s"]) > 0
    assert days[-1]["counts"] == "false"
    (review,) = read(coach, "reviews")
    assert (review["suggested"], review["decided"], review["sessions_done"], review["by"]) == (
        "advance",
        "advance",
        "7",
        "Coach of harbour",
    )
    assert {r["client_id"] for r in (*logs, *days, review)} == {str(p.id)} and {r["assignment"] for r in logs} == {review["assignment"]}
    assert read(coach, "logs", first=p.today.isoformat()) == []


def test_one_workbook_holds_every_table_and_the_dictionary(past, coach):
    p = past(name="=Edda")
    p.practise(*range(9, 2, -1))
    p.decide()
    book = load_workbook(io.BytesIO(coach.get("/api/export/tables.xlsx", params={"client": str(p.id)}).content))
    assert book.sheetnames == [*tables_out.TABLES, "dictionary"]
    for name, columns in tables_out.TABLES.items():
        rows = [dict(zip(columns, (c.value for c in row), strict=True)) for row in book[name].iter_rows(min_row=2)]
        assert len(rows) == len(read(coach, name, client=str(p.id))) > 0
        assert {(r["client_id"], r["client"]) for r in rows} == {(str(p.id), "=Edda")}
    assert book["logs"].cell(2, 1 + list(tables_out.LOGS).index("day")).is_date


def test_tables_are_written_as_the_reader_wants_them(past, coach):
    p = past()
    p.practise(9)
    answer = coach.get("/api/export/adherence.csv", params={"separator": "semicolon", "decimal": "comma", "mark": "true"})
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig")), delimiter=";"))
    assert answer.content.startswith(b"\xef\xbb\xbf") and {r["client_id"] for r in rows} == {str(p.id)}
    wrong = coach.get("/api/export/adherence.csv", params={"decimal": "comma"})
    assert wrong.status_code == 422 and wrong.json()["field"] == "separator"


def test_every_column_is_in_the_dictionary_and_bad_questions_are_refused(coach, past):
    rows = list(csv.DictReader(io.StringIO(coach.get("/api/export/dictionary.csv").text)))
    assert {(r["table"], r["column"]) for r in rows} == {(t, c) for t, columns in tables_out.TABLES.items() for c in columns}
    assert all(r["meaning"] for r in rows)
    assert coach.get("/api/export/moods.csv").status_code == 422
    wrong = coach.get("/api/export/logs.csv", params={"first": "2026-02-02", "last": "2026-02-01"})
    assert wrong.status_code == 422 and wrong.json()["field"] == "last"


def test_the_desk_finds_logs_by_index(past, owner, db, practice):
    from dimbo.store.review import desk

    p = past()
    p.practise(9)
    with db.practice(practice.id) as conn:
        conn.execute("set local enable_seqscan = off")  # a small table is read whole unless that is forbidden
        plan = "\n".join(
            r[0]
            for r in conn.execute(
                f"explain {desk.STATEMENTS['sessions'].sql}".encode(), desk.window_values(datetime.now(UTC), 28)
            ).fetchall()
        )
    assert "Seq Scan on practice_logs" not in plan


@pytest.mark.parametrize("days_ago", [-8, -40, -366, 60, 200])
def test_a_program_far_ahead_or_long_past_never_takes_the_desk_down(past, coach, days_ago):
    p = past(days_ago=0)
    assert coach.post(f"/api/assignments/{p.assignment}/end", json={"follows": "rest"}).status_code == 204
    start = (p.today - timedelta(days=days_ago)).isoformat()
    assert coach.post(f"/api/programs/{p.program_id}/assignment", json={"start": start}).status_code == 201
    assert coach.get("/api/clients").status_code == 200
    assert "record" not in kinds(p)


def test_a_record_that_cannot_be_worked_out_is_a_line_and_everybody_else_stays(past, coach, monkeypatch):
    whole, broken = past(name="Whole"), past(name="Broken")
    real = desk_rows._line
    monkeypatch.setattr(desk_rows, "_line", lambda own, *rest: 1 / 0 if own.client.id == broken.id else real(own, *rest))
    desk_rows._worked.clear()
    (alarm,) = broken.at_desk()["alarms"]
    assert (alarm["kind"], alarm["may_settle"]) == ("record", False) and "ask them" in alarm["text"]
    assert whole.at_desk()["programs"][0]["title"] == "Lift"
    assert coach.get("/api/clients").status_code == 200


def test_an_empty_cell_of_a_table_is_empty(past, coach):
    p = past(name="Plain")
    p.practise(9)
    rows = read(coach, "logs", client=str(p.id))
    assert {r["pain_where"] for r in rows} == {r["note"] for r in rows} == {""}


def test_a_sudden_sign_that_cannot_be_read_stands_in_the_list_and_takes_nobody_down(past, coach, owner, practice):
    p = past()
    owner.execute(
        "insert into facts (id, practice_id, client_id, kind, key, value, at, author, source) "
        "values (gen_random_uuid(), %s, %s, 'caution', 'sudden-face', '{}', now(), 'A Coach', 'coach')",
        (practice.id, p.id),
    )
    answer = coach.get("/api/clients")
    assert answer.status_code == 200
    assert {UUID(c["id"]): c["urgent"] for c in answer.json()}[p.id]
