"""Assigning to one or many, the real calendar first, changes from a day on, pauses, breaks, and two programs at once."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.work.practice import day_notes
from tests.answered import answer_over_wire
from tests.midday import MIDDAY
from tests.web.conftest import new_program
from tests.web.practising import course_day, hand_in, log, todays


@pytest.fixture
def program(coach, practice):
    return coach.get(f"/api/programs/{new_program(coach, practice.client_id)}").json()


def plus(day, days):
    return (date.fromisoformat(day) + timedelta(days=days)).isoformat()


def assign(coach, program, **wish):
    answer = coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]} | wish)
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def move_back(owner, days):
    """As if everything had been assigned so many days earlier."""
    for sql in (
        "update assignments set start_date = start_date - {0}",
        "update plans set from_day = from_day - {0}, anchor = anchor - {0}",
        "update planned_days set day = day - {0}",
        "update practice_logs set day = day - {0}, started_at = started_at - interval '{0} days'",
        "update pauses set first_day = first_day - {0}, last_day = last_day - {0}",
    ):
        if "planned_days" in sql:  # the key must not clash on the way
            owner.execute(b"alter table planned_days drop constraint planned_days_pkey")
        owner.execute(sql.format(days).encode())
        if "planned_days" in sql:
            owner.execute(b"alter table planned_days add primary key (assignment_id, day, part)")


def test_the_real_calendar_is_seen_before_anything_is_kept(coach, practice, program, owner):
    wish = {
        "start": program["client_today"],
        "weekdays": [1, 3, 5, 7],
        "times": {"morning": "07:30"},
        "end": plus(program["client_today"], 16),
    }
    (seen,) = coach.post(f"/api/programs/{program['id']}/assignment/preview", json={"wish": wish}).json()
    assert seen["refusals"] == [] and seen["time_zone"] == MIDDAY
    assert len(seen["weeks"]) == 3 and all(len(w["days"]) == 7 for w in seen["weeks"])
    on = [d for w in seen["weeks"] for d in w["days"] if d["morning_s"]]
    assert {date.fromisoformat(d["day"]).isoweekday() for d in on} <= {1, 3, 5, 7}
    assert max(d["day"] for d in on) == seen["last_day"] <= wish["end"]
    assert seen["weeks"][0]["total_s"] == pytest.approx(sum(d["morning_s"] for d in seen["weeks"][0]["days"]), abs=0.2)
    assert owner.execute("select count(*) from assignments").fetchone() == (0,)
    assign(coach, program, **{k: v for k, v in wish.items() if k != "start"})
    kept = [r[0].isoformat() for r in owner.execute("select day from planned_days order by day").fetchall()]
    assert kept == [d["day"] for d in on]


@pytest.mark.parametrize(
    ("wish", "field"),
    [
        ({"start": "1999-01-01"}, "start"),
        ({"end": "2020-01-01"}, "end"),
        ({"weekdays": [8]}, "wish.weekdays.0"),
        ({"times": {"morning": "25:00"}}, "wish.times.morning"),
        ({"remind_min": 900}, "wish.remind_min"),
    ],
)
def test_what_cannot_be_wished_is_named(coach, program, wish, field):
    body = {"wish": {"start": program["client_today"]} | wish}
    answer = coach.post(f"/api/programs/{program['id']}/assignment/preview", json=body)
    assert answer.status_code == 422 and answer.json()["field"] == field


def test_a_program_can_be_put_into_the_evening(coach, client, program):
    assign(coach, program, as_part="evening", times={"evening": "20:30"})
    today = todays(client)
    assert (today["part"]["part"], today["part"]["at"]) == ("evening", "20:30")
    assert today["session"]["part"] == "evening" and today["session"]["items"]
    assert hand_in(client, log(today))[0]["state"] == "kept"


def test_a_group_starts_together_and_who_cannot_is_named(coach, practice, program, owner):
    others = [
        coach.post("/api/clients", json={"name": name, "birth_year": 1980, "time_zone": zone, "minutes": 20}).json()["id"]
        for name, zone in (("Bea", "Asia/Seoul"), ("Cyd", "UTC"))
    ]
    for other in others:
        answer_over_wire(coach, other)
    facts = [{"id": "6f1b3c9e-0f6c-4d1c-8f1e-0c9a3b1d2e4f", "kind": "caution", "key": "eye-surgery", "value": {"answer": "yes"}}]
    assert coach.post(f"/api/clients/{others[1]}/facts", json={"entries": facts}).status_code == 200
    body = {"name": "Winter eyes", "clients": [str(practice.client_id), *others], "wish": {"start": program["client_today"]}}
    got = coach.post(f"/api/programs/{program['id']}/group", json=body).json()
    assert [s["name"] for s in got["started"]] == ["Client of harbour", "Bea"]
    assert [r["name"] for r in got["refused"]] == ["Cyd"] and "Eye surgery" in got["refused"][0]["reason"]
    page = coach.get(f"/api/clients/{others[0]}").json()
    assert page["assignments"][0]["group"] == "Winter eyes" and page["days"]
    assert coach.get(f"/api/clients/{others[1]}").json()["assignments"] == []
    zones = owner.execute("select count(distinct client_id) from planned_days").fetchone()
    assert zones == (2,)


def test_a_change_holds_from_its_day_and_never_touches_what_was_done(coach, client, practice, program, owner):
    assignment = assign(coach, program)
    today = todays(client)
    assert hand_in(client, log(today))[0]["state"] == "kept"
    before = course_day(coach, practice.client_id, today["day"])
    rows = program["document"]["lines"]
    shorter = program["document"] | {"lines": rows[:3]}
    body = {"base_revision": 1, "title": "Eyes", "document": shorter}
    assert coach.put(f"/api/programs/{program['id']}", json=body).status_code == 200
    wish = {"start": plus(program["client_today"], 7)}
    seen = coach.post(f"/api/assignments/{assignment}/change/preview", json=wish)
    assert seen.status_code == 200 and seen.json()["weeks"][0]["days"][0]["day"] == wish["start"]
    changed = coach.post(f"/api/assignments/{assignment}/change", json={"wish": wish, "reason": "Shorter, as you asked."})
    assert changed.json() == {"plan": 2}
    assert course_day(coach, practice.client_id, today["day"]) == before
    plans = dict(owner.execute("select plan, count(*) from planned_days group by plan").fetchall())
    first_week = owner.execute("select count(*) from planned_days where day < %s and plan = 2", (wish["start"],)).fetchone()
    assert plans[2] > 0 and first_week == (0,)
    late = coach.post(f"/api/assignments/{assignment}/change", json={"wish": {"start": plus(program["client_today"], -1)}})
    assert late.status_code == 422 and "never rewritten" in late.json()["message"]


def test_a_session_played_by_the_old_plan_is_kept_by_the_old_plan(coach, client, practice, program):
    """The phone was offline while the coach changed the plan."""
    assignment = assign(coach, program)
    offline = todays(client)
    shorter = program["document"] | {"lines": program["document"]["lines"][:3]}
    coach.put(f"/api/programs/{program['id']}", json={"base_revision": 1, "title": "Eyes", "document": shorter})
    coach.post(f"/api/assignments/{assignment}/change", json={"wish": {"start": program["client_today"]}})
    assert len(todays(client)["session"]["items"]) == 3
    (answer,) = hand_in(client, log(offline))
    assert answer["state"] == "kept" and any("changed the plan meanwhile" in s for s in answer["said"])
    (kept,) = client.get(f"/api/my-logs/{offline['day']}").json()
    assert len(kept["items"]) == len(offline["session"]["items"])
    assert course_day(coach, practice.client_id, offline["day"])["state"] == "done"


def daily(coach, practice, title="Daily", weeks=6):
    """A program of one exercise that climbs, every day."""
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": title, "weeks": weeks, "source": "empty"}).json()["id"]
    program = coach.get(f"/api/programs/{made}").json()
    row = {"id": "row", "exercise": "bracket-open", "stage": "work", "cells": [f"R1 L1 ×{3 + w} h3" for w in range(weeks)]}
    document = program["document"] | {"lines": [row], "sessions": [7] * weeks}
    assert coach.put(f"/api/programs/{made}", json={"base_revision": 1, "title": title, "document": document}).status_code == 200
    return coach.get(f"/api/programs/{made}").json()


def reps(today, index=0):
    return today["session"]["items"][index]["train"]["phases"][0]["reps"]


@pytest.mark.parametrize(("gap", "doses"), [(6, 5), (7, 4), (20, 4), (21, 3), (40, 3)])
def test_after_a_break_practice_goes_on_by_its_length(coach, client, practice, owner, gap, doses):
    """Practice stopped in the third week, whose dose has five repetitions; the calendar went on by itself."""
    program = daily(coach, practice)
    assign(coach, program)
    hand_in(client, log(todays(client)))
    owner.execute(b"update planned_days set week = 3 where day = (select min(day) from planned_days)")
    move_back(owner, gap + 1)
    shift = gap + 1
    owner.execute(f"update plans set anchor = anchor - {14}, steps = '[[1,0],[2,0],[3,0],[3,0],[4,0],[5,0],[6,0]]'".encode())
    owner.execute(f"delete from planned_days where day > current_date - {shift} and week < 3".encode())
    today = todays(client)
    if gap == 6:  # goes on by its calendar
        assert (today["notes"] == [] and today["session"] is None) or reps(today) >= doses
        return
    assert reps(today) == doses
    assert any("days without practice" in n or "long break" in n for n in today["notes"])
    plans = [p for p in coach.get(f"/api/clients/{practice.client_id}").json()["plans"] if p["kind"] == "break"]
    assert len(plans) == 1 and plans[0]["reason"].startswith(f"{gap} days without practice")
    assert todays(client)["session"]["items"] == today["session"]["items"]
    assert len([p for p in coach.get(f"/api/clients/{practice.client_id}").json()["plans"] if p["kind"] == "break"]) == 1


def test_what_is_new_is_told_against_the_last_session_of_the_same_part_of_the_day(coach, client, practice, owner):
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "Two", "weeks": 4, "source": "empty"}).json()["id"]
    program = coach.get(f"/api/programs/{made}").json()
    rows = [
        {"id": "m", "exercise": "bracket-open", "stage": "work", "cells": ["R1 L1 ×3 h3", "R1 L1 ×3 h4"] * 2, "when": "morning"},
        {"id": "e", "exercise": "settle-breath", "stage": "close", "cells": ["5 in 4 out 6"] * 4, "when": "evening"},
    ]
    document = program["document"] | {"lines": rows, "sessions": [7] * 4}
    assert coach.put(f"/api/programs/{made}", json={"base_revision": 1, "title": "Two", "document": document}).status_code == 200
    assign(coach, program)
    for _ in range(2):
        assert hand_in(client, log(todays(client)))[0]["state"] == "kept"
    move_back(owner, 1)
    assert {k: s["changed"] for k, s in todays(client)["sessions"].items() if s["seconds"]} and all(
        s["changed"] in ([], ["Finger-bracket wide open now holds 4 seconds."]) for s in todays(client)["sessions"].values()
    )


def test_a_program_that_was_practised_to_its_end_stays_ended(coach, client, practice, owner):
    assign(coach, daily(coach, practice, weeks=1))
    hand_in(client, log(todays(client)))
    move_back(owner, 30)
    owner.execute("update practice_logs set day = (select max(day) from planned_days)")
    ended = todays(client)
    assert ended["session"] is None and ended["next_day"] is None and ended["titles"] == ["Daily"]
    owner.execute("update practice_logs set day = (select min(day) from planned_days) - 10")
    assert todays(client)["session"], "who stopped long before the end begins again"


def test_two_pages_that_open_at_once_settle_a_break_once(coach, client, practice, owner):
    assign(coach, daily(coach, practice))
    hand_in(client, log(todays(client)))
    move_back(owner, 9)
    with ThreadPoolExecutor(6) as pool:
        assert {r.status_code for r in pool.map(lambda _: client.post("/api/my-days"), range(8))} == {200}
    assert owner.execute("select count(*) from plans where kind = 'break'").fetchone() == (1,)


def test_a_holiday_is_not_missed_and_lays_out_what_follows(coach, client, practice, owner):
    program = daily(coach, practice)
    assign(coach, program)
    start = program["client_today"]
    path = f"/api/clients/{practice.client_id}"
    first, last = plus(start, 10), plus(start, 19)
    assert coach.post(f"{path}/pause", json={"first": first, "last": last, "reason": "Fjord"}).status_code == 204
    page = coach.get(path).json()
    states = {d["day"]: d["state"] for d in page["days"]}
    assert all(states[plus(start, n)] == "paused" for n in range(10, 20))
    week = {d["day"]: d["week"] for d in page["days"]}
    assert week[last] == 3  # weeks of the course go on; the doses do not
    rows = owner.execute("select week, back from planned_days where day >= %s order by day", (plus(start, 20),)).fetchall()
    assert rows[0] == (2, 1) and rows[7] == (2, 0) and rows[14] == (3, 0)
    overlap = coach.post(f"{path}/pause", json={"first": plus(start, 15), "last": plus(start, 30)})
    assert overlap.status_code == 422 and "covers some of these days" in overlap.json()["message"]
    assert coach.post(f"{path}/pause", json={"first": last, "last": first}).json()["field"] == "last"


def test_a_pause_without_end_pauses_today_until_it_is_ended(coach, client, practice, program):
    assign(coach, program)
    path = f"/api/clients/{practice.client_id}"
    assert coach.post(f"{path}/pause", json={"first": program["client_today"]}).status_code == 204
    paused = todays(client)
    assert paused["paused"] and paused["session"] is None and "on a pause" in paused["notes"][0]
    assert coach.post(f"{path}/resume", json={"on": program["client_today"]}).json() == {"rule": "go on"}
    assert todays(client)["session"] and not todays(client)["paused"]
    assert coach.post(f"{path}/resume", json={"on": program["client_today"]}).status_code == 422


def test_two_programs_are_one_session_in_sequence_order_and_one_log_each(coach, client, practice, program, owner):
    assign(coach, program)
    second = coach.get(f"/api/programs/{new_program(coach, practice.client_id, title='Cheeks', flat_cheeks=(2, 2))}").json()
    rows = [n for n in second["document"]["lines"] if n["stage"] == "work" and n["exercise"] not in _exercises(program)]
    document = second["document"] | {"lines": rows}
    assert coach.put(f"/api/programs/{second['id']}", json={"base_revision": 1, "title": "Cheeks", "document": document}).status_code == 200
    other = assign(coach, second)
    today = todays(client)
    owners = [i["assignment_id"] for i in today["session"]["items"]]
    assert len(set(owners)) == 2 and today["titles"] == ["Eyes", "Cheeks"]
    stages = ["prepare", "loosen", "wake", "work", "release", "drain", "close"]
    ranks = [stages.index(i["stage"]) for i in today["session"]["items"]]
    assert ranks == sorted(ranks)
    told = log(today)
    assert hand_in(client, told, told)[0]["state"] == "kept"
    logs = owner.execute("select assignment_id::text, session_id::text, planned_s = done_s from practice_logs").fetchall()
    assert {r[0] for r in logs} == set(owners) and {r[1:] for r in logs} == {(told["id"], True)}
    assert course_day(coach, practice.client_id, today["day"])["state"] == "done"
    third = daily(coach, practice)
    refused = coach.post(f"/api/programs/{third['id']}/assignment", json={"start": third["client_today"]})
    assert refused.status_code == 422 and "two programs at once are the most" in refused.json()["message"]
    assert coach.post(f"/api/assignments/{other}/end", json={"follows": "rest"}).status_code == 204


def _exercises(program):
    return {n["exercise"] for n in program["document"]["lines"]}


def test_two_programs_may_not_pass_a_ceiling_together(coach, client, practice):
    first = daily(coach, practice, "First")
    assign(coach, first)
    second = daily(coach, practice, "Second")
    most = shipped_catalogue().cards["bracket-open"].ceiling.seconds
    cells = [f"R2 L2 ×{int(most // 8)} h3"] * 6  # alone just below it: a repetition is four seconds of contraction
    document = second["document"] | {"lines": [second["document"]["lines"][0] | {"cells": cells}]}
    coach.put(f"/api/programs/{second['id']}", json={"base_revision": 2, "title": "Second", "document": document})
    answer = coach.post(f"/api/programs/{second['id']}/assignment", json={"start": second["client_today"]})
    assert answer.status_code == 422 and "“First”, which runs now" in answer.json()["message"]


def test_moving_to_another_zone_keeps_every_planned_date(coach, client, practice, program, owner):
    assign(coach, program)
    before = owner.execute("select day from planned_days order by day").fetchall()
    assert client.put("/api/my-zone", json={"time_zone": "Pacific/Auckland"}).status_code == 204
    assert owner.execute("select day from planned_days order by day").fetchall() == before
    stays = owner.execute("select time_zone from stays where client_id = %s order by since", (practice.client_id,)).fetchall()
    assert [s[0] for s in stays] == [MIDDAY, "Pacific/Auckland"]
    assert todays(client)["time_zone"] == "Pacific/Auckland"
    assert client.put("/api/my-zone", json={"time_zone": "Moon/Base"}).json()["field"] == "time_zone"


def test_days_ahead_cover_a_week_without_a_connection(client, program, coach):
    assign(coach, program)
    assert len(todays(client)["days"]) == day_notes.DAYS_AHEAD == 7
    opening = datetime.fromisoformat(todays(client)["days"][1]["opens_at"])
    assert opening > datetime.now(UTC)


def test_one_weekday_for_several_sessions_a_week_is_remarked(coach, program):
    def remarks(**wish):
        body = {"clients": [], "wish": {"start": program["client_today"]} | wish}
        return coach.post(f"/api/programs/{program['id']}/assignment/preview", json=body).json()[0]["remarks"]

    most = max(program["document"]["sessions"])
    (said,) = remarks(weekdays=[3])
    assert said == f"The program asks for {most:g} sessions a week, and one day is chosen: the others are not planned. Choose more days."
    assert remarks(weekdays=[1, 2, 3, 4, 5, 6, 7]) == []


def test_a_program_of_a_whole_year_can_be_assigned(coach, practice):
    made = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "A year", "weeks": 52, "source": "empty"}).json()["id"]
    open_ = coach.get(f"/api/programs/{made}").json()
    row = {"id": "r0", "exercise": "oval-lift", "stage": "work", "cells": ["1×5 h3"] * 52}
    body = open_["document"] | {"lines": [row], "sessions": [3] * 52, "minutes": None}
    assert coach.put(f"/api/programs/{made}", json={"base_revision": 1, "title": "A year", "document": body}).status_code == 200
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": open_["client_today"]}).status_code == 201
    course = coach.get(f"/api/clients/{practice.client_id}").json()
    assert course["assignments"][0]["weeks"] == 52
    too_long = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "More", "weeks": 53, "source": "empty"})
    assert too_long.status_code == 422 and "52" in too_long.text
