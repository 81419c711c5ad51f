"""The client's days, and logs that say exactly what was done, once."""

import random
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.store.practice.practice_logs import hold_client
from tests.web.conftest import new_program
from tests.web.practising import by_hand, course_day, hand_in, log, todays


@pytest.fixture
def today(coach, client, practice):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    found = todays(client)
    assert found["session"] is not None
    return found


def logs_of(client, today):
    return client.get(f"/api/my-logs/{today['day']}").json()


def test_the_phone_gets_the_compiled_sessions_of_a_week(today):
    session = today["session"]
    assert session["items"][0]["exercise"] == "settle-breath"
    assert sum(c["length_s"] for c in session["cues"]) == pytest.approx(session["seconds"], abs=0.5)
    assert {c["side"] for c in session["cues"]} >= {"right", "left", None}
    assert len(today["days"]) == 7
    keys = {p["session"] for d in today["days"] for p in d["parts"]}
    assert keys == set(today["sessions"]) and len(keys) < sum(len(d["parts"]) for d in today["days"])
    assert all(i["first_time"] for i in session["items"]) and session["changed"] == []
    closing = [datetime.fromisoformat(d["closes_at"]) for d in today["days"]]
    opening = [datetime.fromisoformat(d["opens_at"]) for d in today["days"]]
    assert closing[:-1] == opening[1:] and opening[0] <= datetime.now(UTC) < closing[0]


def test_the_coach_sees_exactly_what_was_done(coach, client, practice, today):
    assert course_day(coach, practice.client_id, today["day"])["state"] == "open"
    told = log(today, form="yes", note="Fine.")
    assert hand_in(client, told) == [{"id": told["id"], "state": "kept", "said": []}]
    day = course_day(coach, practice.client_id, today["day"])
    assert day["state"] == "done" and day["logs"][0]["effort"] == 5 and day["logs"][0]["note"] == "Fine."
    (kept,) = coach.get(f"/api/clients/{practice.client_id}/logs/{today['day']}").json()
    assert (kept["source"], kept["form"], kept["pauses"], kept["stands"]) == ("player", "yes", 0, True)
    for item in kept["items"]:
        assert item["outcome"] == "done" and item["done_s"] == item["planned_s"]
        assert all(s["done_sets"] == s["planned_sets"] and s["done_s"] == s["planned_s"] for s in item["sides"])
    lift = next(i for i in kept["items"] if i["name"] == "Finger-bracket wide open")
    assert {s["side"] for s in lift["sides"]} == {"right", "left"}
    after = todays(client)
    assert after["done_at"] and after["done"] == 1
    assert not any(i["first_time"] for i in next(iter(after["sessions"].values()))["items"])


def test_a_log_that_is_sent_many_times_at_once_is_kept_once(client, coach, practice, today):
    told = log(today)
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda _: hand_in(client, told)[0]["state"], range(12)))
    assert sorted(answers) == ["had"] * 11 + ["kept"]
    assert len(course_day(coach, practice.client_id, today["day"])["logs"]) == 1


def test_everything_that_waited_is_taken_in_order_however_often_and_mixed_it_comes(client, coach, practice, today, owner):
    """A phone that never hears the answer sends its queue again, cut anywhere; in the end everything is there once."""
    queue = [log(today)]
    queue += [{"kind": "check-in", "id": str(uuid4()), "soreness": n, "said_at": datetime.now(UTC).isoformat()} for n in (2, 4)]
    queue += [{"kind": "message", "id": str(uuid4()), "text": f"Word {n}", "written_at": datetime.now(UTC).isoformat()} for n in range(5)]
    rng = random.Random(6)
    batches = [queue[: rng.randrange(1, len(queue))] for _ in range(8)] + [queue]
    with ThreadPoolExecutor(6) as pool:
        states = [r["state"] for results in pool.map(lambda b: hand_in(client, *b), batches) for r in results]
    assert states.count("kept") == len(queue) and "refused" not in states
    assert [owner.execute(f"select count(*) from {t}").fetchone()[0] for t in ("practice_logs", "check_ins", "messages")] == [1, 2, 5]
    assert todays(client)["checked_in"]["soreness"] == 4


def test_half_a_session_of_today_is_kept_and_the_day_stays_open(client, coach, practice, today):
    hand_in(client, log(today, (0, today["session"]["seconds"] / 2)))
    day = course_day(coach, practice.client_id, today["day"])
    assert day["state"] == "open" and day["share"] == pytest.approx(0.5, abs=0.05)


def test_what_is_repeated_lies_above_plan_and_is_answered_with_a_caution(client, coach, practice, today):
    whole = today["session"]["seconds"]
    (answer,) = hand_in(client, log(today, (0, whole), (60, whole)))
    assert answer["state"] == "kept"
    assert any("more than planned" in s for s in answer["said"]) and not any("well done" in s.lower() for s in answer["said"])
    day = course_day(coach, practice.client_id, today["day"])
    assert day["over_share"] == pytest.approx(1, rel=0.35) and day["share"] == 1


def test_practice_without_the_player_is_told_by_counts(client, coach, practice, today):
    (answer,) = hand_in(client, by_hand(today, 2.0))
    assert "more than planned" in answer["said"][0]
    (kept,) = logs_of(client, today)
    assert kept["source"] == "manual"
    assert all(i["done_s"] == pytest.approx(2 * i["planned_s"], rel=0.1) for i in kept["items"])
    assert course_day(coach, practice.client_id, today["day"])["over_s"] > 45, "as much again as the strength that was planned"


def test_pain_stops_the_exercise_until_the_coach_decides(client, coach, practice, today):
    session = today["session"]
    hurt = next(n for n, i in enumerate(session["items"]) if i["exercise"] == "bracket-open")
    cues = [c for c in session["cues"] if c["item"] == hurt]
    stop, on = cues[3]["start_s"], cues[-1]["start_s"] + cues[-1]["length_s"]
    told = {"hurt": True, "pain_side": "right", "pain_level": 6, "pain_where": "eye"}
    hand_in(client, log(today, (0, stop), (on, session["seconds"]), items={"bracket-open": told}))
    stopped = coach.get(f"/api/clients/{practice.client_id}").json()["stopped"]
    assert [(s["name"], s["side"], s["level"], s["where"]) for s in stopped] == [("Finger-bracket wide open", "right", 6, "eye")]
    assert coach.get("/api/desk").json()["clients"][0]["stopped"] == 1
    (letter,) = [x for x in coach.get("/api/outbox").json() if x["kind"] == "pain"]
    assert letter["to_coach"] and "6 of 10, right side and eye" in letter["body"]
    later = list(todays(client)["sessions"].values())
    assert all(s["left_out"][0] == {"name": "Finger-bracket wide open", "reason": "it hurt, and waits for your coach"} for s in later)
    shares = {x["name"]: x["reason"] for s in later for x in s["left_out"][1:]}
    assert set(shares.values()) <= {"it shares what hurt with Finger-bracket wide open"}
    assert all("bracket-open" not in {i["exercise"] for i in s["items"]} for s in later)
    path = f"/api/clients/{practice.client_id}/stopped/bracket-open/clear"
    assert coach.post(path, json={"note": " "}).status_code == 422
    assert coach.post(path, json={"note": "It was the grip."}).status_code == 204
    assert coach.post(path, json={"note": "It was the grip."}).status_code == 404
    assert all(s["left_out"] == [] for s in todays(client)["sessions"].values())


def test_an_exercise_made_easier_is_played_logged_and_counted_in_its_eased_version(client, coach, practice, today):
    session = today["session"]
    track = session["tracks"][0]
    n = track["item"]
    full = session["items"][n]
    assert track["in_eased_version"] and track["cues"] != full["cues"] and track["dose"] != full["dose"]
    mine = [c for c in session["eased_cues"] if c["item"] == n]
    first = next(c["start_s"] for c in session["cues"] if c["item"] == n)
    after = next((c["start_s"] for c in session["cues"] if c["item"] > n), session["seconds"])
    whole = mine[-1]["start_s"] + mine[-1]["length_s"]
    spans = [(0, first + 5), (track["start_s"], whole)] + ([(after, session["seconds"])] if after < session["seconds"] else [])
    hand_in(client, log(today, *spans, items={full["exercise"]: {"eased": True}}))
    (kept,) = logs_of(client, today)
    line = kept["items"][n]
    assert line["eased"] and line["outcome"] == "done"
    assert (line["dose"], track["dose"]) == ("3 in 3 out 4", "3 breaths, in 3 s, out 4 s"), "the coach reads the line, the client words"
    assert line["done_s"] <= line["planned_s"] + 0.2 < full["seconds"]
    assert todays(client)["done_at"] is not None


def test_skipped_and_eased_exercises_say_so(client, today):
    session = today["session"]
    last = len(session["items"]) - 1
    cut = next(c["start_s"] for c in session["cues"] if c["item"] == last and c["beat"] != "change")
    items = {
        session["items"][0]["exercise"]: {"eased": True},
        session["items"][last]["exercise"]: {"skip_reason": "no time"},
    }
    hand_in(client, log(today, (0, cut), items=items))
    (kept,) = logs_of(client, today)
    assert kept["items"][0]["eased"] and not kept["items"][1]["eased"]
    assert (kept["items"][last]["outcome"], kept["items"][last]["skip_reason"]) == ("skipped", "no time")


def test_the_same_session_from_two_devices_counts_once_and_the_player_stands(client, coach, practice, today):
    (first,) = hand_in(client, by_hand(today))
    (second,) = hand_in(client, log(today))
    assert first["state"] == second["state"] == "kept"
    assert any("counts once" in s for s in second["said"])
    day = course_day(coach, practice.client_id, today["day"])
    assert [x["source"] for x in day["logs"]] == ["player"] and day["over_s"] == 0
    assert [(x["source"], x["stands"]) for x in sorted(logs_of(client, today), key=lambda x: x["source"])] == [
        ("manual", False),
        ("player", True),
    ]
    hand_in(client, by_hand(today))
    assert [x["source"] for x in course_day(coach, practice.client_id, today["day"])["logs"]] == ["player"]


def test_devices_that_come_back_at_the_same_moment_wait_for_each_other(client, coach, practice, today, db, owner):
    """While one device hands in, another of the same client waits, so that neither overlooks the other."""
    waiting = "select count(*) from pg_locks where locktype = 'advisory' and not granted"
    with ThreadPoolExecutor(1) as pool:
        with db.practice(practice.id, practice.client_id) as conn:
            hold_client(conn, practice.client_id)
            late = pool.submit(hand_in, client, log(today))
            while not late.done() and owner.execute(waiting).fetchone() == (0,):
                pass
            assert not late.done()
        assert late.result()[0]["state"] == "kept"
    with ThreadPoolExecutor(8) as pool:
        states = list(pool.map(lambda entry: hand_in(client, entry)[0]["state"], [log(today) for _ in range(8)]))
    assert states == ["kept"] * 8
    day = course_day(coach, practice.client_id, today["day"])
    assert len(day["logs"]) == 1 and day["over_s"] == 0


def test_practised_twice_counts_twice(client, coach, practice, today):
    whole = today["session"]["seconds"]
    hand_in(client, log(today, started=datetime.now(UTC) - timedelta(seconds=2 * whole + 300)))
    hand_in(client, log(today))
    day = course_day(coach, practice.client_id, today["day"])
    assert len(day["logs"]) == 2 and day["over_share"] == pytest.approx(1, rel=0.02)


def test_a_correction_is_a_new_log_and_the_old_one_is_kept(client, coach, practice, today, owner):
    told = log(today)
    hand_in(client, told)
    hand_in(client, by_hand(today, 0.5, replaces=told["id"]))
    day = course_day(coach, practice.client_id, today["day"])
    assert day["state"] == "open" and len(day["logs"]) == 1
    assert owner.execute("select count(*) from practice_logs").fetchone() == (2,)
    assert hand_in(client, by_hand(today, replaces=str(uuid4())))[0]["state"] == "refused"


def test_a_phone_with_a_wrong_clock_is_set_right_and_marked(client, coach, practice, today):
    ahead = timedelta(days=3, hours=5)
    told = log(today, started=datetime.now(UTC) + ahead - timedelta(seconds=today["session"]["seconds"] + 60))
    (answer,) = hand_in(client, told, sent_at=datetime.now(UTC) + ahead)
    assert answer["state"] == "kept" and any("clock" in s for s in answer["said"])
    (kept,) = logs_of(client, today)
    assert kept["clock_off_s"] == pytest.approx(-ahead.total_seconds(), abs=30)
    assert datetime.fromisoformat(kept["started_at"]) < datetime.now(UTC)


def test_a_clock_that_was_set_right_before_the_hand_in_loses_nothing(client, today):
    """Practised by a clock that was two days ahead, handed in by one that is right."""
    (answer,) = hand_in(client, log(today, started=datetime.now(UTC) + timedelta(days=2)))
    assert answer["state"] == "kept" and any("clock" in s for s in answer["said"])
    (kept,) = logs_of(client, today)
    assert datetime.fromisoformat(kept["ended_at"]) <= datetime.now(UTC)
    assert kept["clock_off_s"] < -100_000


def test_the_servers_rule_decides_on_the_day(client, coach, practice, today, owner):
    """Practised at four in the morning after: it counts for the new day, and both days are kept with it."""
    yesterday = (date.fromisoformat(today["day"]) - timedelta(days=1)).isoformat()
    owner.execute("update assignments set start_date = start_date - 1")
    owner.execute("update plans set from_day = from_day - 1, anchor = anchor - 1")
    owner.execute("update planned_days set day = day - 1")
    (answer,) = hand_in(client, log(today) | {"day": yesterday})
    assert answer["state"] == "kept" and any("closes at 3" in s for s in answer["said"])
    (kept,) = logs_of(client, today)
    assert (kept["day"], kept["named_day"]) == (today["day"], yesterday)


def far(days):
    return (datetime.now(UTC) + timedelta(days=days)).isoformat()


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"day": "2031-01-01"}, "No session"),
        ({"ended_at": "2020-01-01T10:00:00Z"}, "before it starts"),
        ({"items": [{"assignment_id": str(uuid4()), "line_id": "unknown"}]}, "not part of this session"),
        ({"stretches": [{"from_s": 0, "to_s": 13000, "at": "2026-01-01T10:00:00Z"}]}, "More was played"),
        ({"stretches": [{"from_s": 30, "to_s": 10, "at": "2026-01-01T10:00:00Z"}]}, "ends before it begins"),
        ({"parts": [{"assignment_id": str(uuid4()), "plan": 1, "week": 1, "place": 0}]}, "no such assignment"),
    ],
)
def test_logs_that_cannot_be_are_refused_whole_and_the_rest_goes_on(client, today, owner, change, says):
    wrong, right = log(today) | change, log(today)
    first, second = hand_in(client, wrong, right)
    assert first["state"] == "refused" and says in first["said"][0]
    assert second["state"] == "kept"
    assert owner.execute("select count(*) from practice_logs").fetchone() == (1,)


def test_a_planned_day_that_has_not_begun_is_refused(client, today):
    coming = next(d for d in today["days"][1:] if d["parts"])
    session = today["sessions"][coming["parts"][0]["session"]]
    (answer,) = hand_in(client, log({"session": session, "day": coming["day"], "part": coming["parts"][0]}))
    assert answer["state"] == "refused" and "has not begun yet" in answer["said"][0]


@pytest.mark.parametrize(
    ("counts", "field"),
    [({"sets": 1, "reps": 10_000}, "reps"), ({"sets": -1, "reps": 5}, "sets"), ({"sets": 500, "reps": 5}, "sets")],
)
def test_ten_thousand_repetitions_are_refused_with_the_field(client, today, counts, field):
    told = by_hand(today)
    told["items"][0]["counts"] = {"right": counts}
    answer = client.post("/api/hand-in", json={"sent_at": far(0), "entries": [told]})
    assert answer.status_code == 422 and answer.json()["field"].endswith(field)
    told["items"][0]["counts"] = {"right": {"sets": 20, "reps": 100}}
    assert "2000" not in str(hand_in(client, told)) and hand_in(client, told | {"id": str(uuid4())})[0]["state"] == "refused"


def test_nobody_logs_for_somebody_else(browser, db, owner, today):
    from tests.web.conftest import make_practice

    stranger = browser(make_practice(db, owner, "hillside").client_email)
    (answer,) = hand_in(stranger, log(today))
    assert answer["state"] == "refused" and "no such assignment" in answer["said"][0]
    assert stranger.get(f"/api/my-logs/{today['day']}").json() == []


def test_an_ended_session_keeps_nothing_and_says_what_to_do(app, today):
    from fastapi.testclient import TestClient

    anonymous = TestClient(app, headers={"x-dimbo": "1"})
    answer = anonymous.post("/api/hand-in", json={"sent_at": far(0), "entries": [log(today)]})
    assert answer.status_code == 401 and answer.json()["message"] == "Sign in first."


def test_soreness_has_a_place_and_habits_are_counted(coach, client, practice, today):
    sore = {"kind": "check-in", "id": str(uuid4()), "soreness": 6, "places": [{"muscle": "masseter", "side": "left"}], "said_at": far(0)}
    assert hand_in(client, sore)[0]["state"] == "kept"
    assert todays(client)["checked_in"] == {"soreness": 6, "places": [{"muscle": "masseter", "side": "left"}]}
    assert course_day(coach, practice.client_id, today["day"])["soreness"] == 6
    bad = sore | {"id": str(uuid4()), "places": [{"muscle": "biceps", "side": "left"}]}
    assert "biceps" in hand_in(client, bad)[0]["said"][0]


def test_a_habit_is_ticked_and_a_tick_taken_back(coach, client, practice):
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "", "weeks": 8, "source": "quiet-jaw"}).json()["id"]
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    habit = todays(client)["habits"][0]
    assert habit["count"] == 0 and habit["times"] >= 1

    def tick(amount):
        whose = {"assignment_id": habit["assignment_id"], "exercise_id": habit["exercise_id"]}
        return hand_in(client, {"kind": "habit", "id": str(uuid4()), "amount": amount, "said_at": far(0)} | whose)[0]["state"]

    assert [tick(1), tick(1), tick(-1), tick(-1), tick(-1), tick(1)] == ["kept"] * 6
    assert todays(client)["habits"][0]["count"] == 0
    assert tick(1) == "kept" and todays(client)["habits"][0]["count"] == 1
    wrong = {"kind": "habit", "id": str(uuid4()), "amount": 1, "said_at": far(0), "exercise_id": "bracket-open"}
    assert hand_in(client, wrong | {"assignment_id": habit["assignment_id"]})[0]["state"] == "refused"


def test_soreness_that_stops_strength_goes_on_once_the_coach_has_noted_what_it_was(coach, client, practice, today):
    sore = {"kind": "check-in", "id": str(uuid4()), "soreness": 8, "said_at": datetime.now(UTC).isoformat()}
    assert hand_in(client, sore)[0]["state"] == "kept"
    out = [x["name"] for x in todays(client)["session"]["left_out"]]
    page = coach.get(f"/api/clients/{practice.client_id}").json()
    assert out and page["sore_stops"] and "Soreness 8 of 10" in page["sore"]
    path = f"/api/clients/{practice.client_id}/soreness/asked"
    assert coach.post(path, json={"note": "  "}).json()["field"] == "note"
    assert [x["name"] for x in todays(client)["session"]["left_out"]] == out
    assert coach.post(path, json={"note": "Slept on a new pillow; both sides alike, no sign."}).status_code == 204
    page = coach.get(f"/api/clients/{practice.client_id}").json()
    assert not page["sore_stops"], "the stop ends; what is above the day's bound still rests today"
    assert client.post(path, json={"note": "No."}).status_code == 403
