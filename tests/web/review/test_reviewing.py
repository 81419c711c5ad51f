"""The weekly review over the wire: what it says, what a decision makes of the doses, and what must not happen to them."""

import io
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

import pypdf
import pytest

from dimbo.core.exercises.dose_line import print_line
from dimbo.core.review.apply_review import THE_WEEK
from dimbo.store.plans import assignments
from dimbo.work.plans.assigning import Wish, assign
from dimbo.work.practice.days import begin_day
from tests.web.histories import LINES, RISING, Past

WEEK_ONE = range(9, 2, -1)
"""Days ago of the first week of a program that began nine days ago."""


@pytest.fixture
def past(db, practice, coach):
    return lambda **how: Past(db, practice, coach, **how)


def weekly(p, week):
    """The dose of the lift in a week of the course."""
    doses = p.doses()
    return {doses[d] for d in doses if (d - p.start).days // 7 == week - 1}


def test_a_good_week_advances_along_the_program_and_both_are_kept(past):
    p = past()
    p.practise(*WEEK_ONE)
    p.sore(5, 2)
    seen = p.review()
    assert (seen["suggested"], seen["refused"], seen["week"]) == ("advance", "", 1)
    assert "7 of 7 sessions, effort 5, soreness 2, no pain" in seen["evidence"]
    (line,) = seen["lines"]  # the breath works no muscle and is not judged
    assert (line["now"]["line"], line["next"]["advance"]["line"], line["next"]["hold"]["line"]) == (RISING[0], RISING[1], RISING[0])
    assert line["next"]["stop"]["train"] is None and line["now"]["train"]["total_s"] > 0
    kept = p.decide(words="Good and even. Keep the lips soft.").json()
    assert (kept["decided"], kept["holds_from"], kept["program_version"]) == ("advance", None, None)
    assert weekly(p, 2) == {RISING[1]}
    (review,) = p.course()["reviews"]
    assert (review["suggested"], review["decided"], review["otherwise"]) == ("advance", "advance", [])
    assert [m["text"] for m in p.coach_page.get(f"/api/clients/{p.id}/messages").json()] == ["Good and even. Keep the lips soft."]


def test_overdoing_eases_back_a_rung_from_the_next_day_that_can_change(past):
    p = past(days_ago=16)
    p.practise(*range(16, 2, -1))
    p.practise(7, 5, again=0.6)  # once more, and it lies above plan
    seen = p.review()
    assert (seen["suggested"], seen["rules"][0]["id"]) == ("ease back", "review-overdone")
    decided = p.decide().json()
    assert decided["holds_from"] == p.today.isoformat() and decided["program_version"] == 3
    doses = p.doses()
    assert {doses[p.day(n)] for n in (2, 1)} == {RISING[2]}, "days that are over keep their plan"
    after = [{doses[p.day(-n - 7 * week)] for n in range(7)} for week in range(3)]
    assert after == [{RISING[0]}, {RISING[1]}, {RISING[2]}], "eased within a week it lasts seven days all the same"


def test_what_is_decided_otherwise_needs_a_reason_and_is_kept_with_it(past):
    p = past()
    p.practise(*WEEK_ONE)
    (line,) = p.review()["lines"]
    refused = p.decide(verdicts={line["line_id"]: "hold"})
    assert refused.status_code == 422 and refused.json()["field"] == "reason"
    kept = p.decide(verdicts={line["line_id"]: "hold"}, reason="She travels next week.").json()
    assert kept["decided"] == "hold" and weekly(p, 3) == {RISING[1]}
    (review,) = p.course()["reviews"]
    assert review["otherwise"] == ["Long oval cheek lift: advance became hold"] and review["reason"] == "She travels next week."
    assert p.decide(first_day=review["first_day"], verdicts={"nobody": "hold"}, reason="x").json()["field"] == "verdicts"


def test_a_week_that_is_not_over_can_be_looked_at_but_not_decided(past):
    p = past(days_ago=3)
    p.practise(3, 2)
    seen = p.review()
    assert "not over" in seen["refused"] and seen["sessions"] == {"done": 2, "planned": 3}
    answer = p.decide()
    assert answer.status_code == 422 and "not over" in answer.json()["message"] and p.course()["reviews"] == []
    assert p.at_desk()["reviews"] == []


def test_a_week_is_over_when_its_last_session_is_done(past):
    p = past(days_ago=6)
    p.practise(6, 5, 4, 3, 2, 1, 0)
    assert p.review()["refused"] == ""
    assert p.decide().json()["holds_from"] is None


def test_pain_stops_its_exercise_and_nothing_is_raised(past):
    rows = (*LINES, ("corner-lift-resist", "work", ("R1 L1 ×5 h3", *("R1 L1 ×6 h3",) * 5)))
    p = past(lines=rows)
    p.practise(*range(9, 3, -1))
    p.practise(3, hurt="corner-lift-resist")
    seen = p.review()
    verdicts = {n["exercise_id"]: n for n in seen["lines"]}
    assert (verdicts["corner-lift-resist"]["suggested"], verdicts["oval-lift"]["suggested"]) == ("stop", "hold")
    hurt = verdicts["corner-lift-resist"]["line_id"]
    refused = p.decide(verdicts={hurt: "advance"}, reason="It is fine.")
    assert refused.status_code == 422 and "hurt and is stopped" in refused.json()["message"]
    assert p.decide().status_code == 201
    assert weekly(p, 3) == {RISING[1]}
    p.coach_page.post(f"/api/clients/{p.id}/stopped/corner-lift-resist/clear", json={"note": "It was the grip."})
    assert p.doses("corner-lift-resist")[p.day(-1)] == "R1 L1 ×5 h3", "let go on, it goes on where it was"


def test_soreness_eases_only_what_works_there(past):
    p = past()
    p.practise(*WEEK_ONE)
    p.sore(4, 7, "mentalis")
    seen = p.review()
    assert seen["suggested"] == "ease back" and seen["lines"][0]["suggested"] == "hold"


def test_deciding_twice_by_one_id_changes_nothing_even_at_once(past, owner):
    p = past()
    p.practise(9, 8)
    seen = p.review()
    assert seen["suggested"] == "hold"
    body = {"id": str(uuid4()), "first_day": seen["first_day"]}
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda _: p.coach_page.post(f"/api/assignments/{p.assignment}/review", json=body), range(6)))
    assert {a.status_code for a in answers} == {201} and len({a.text for a in answers}) == 1
    assert owner.execute("select count(*) from reviews").fetchone() == (1,)
    assert owner.execute("select count(*) from plans where kind = 'review'").fetchone() == (1,)


def test_reviews_are_never_altered(past, db, practice):
    import psycopg

    p = past()
    p.practise(*WEEK_ONE)
    p.decide()
    for sql in ("update reviews set reason = 'x'", "delete from reviews"):
        with pytest.raises(psycopg.errors.InsufficientPrivilege), db.practice(practice.id) as conn:
            conn.execute(sql)


def test_an_unassigned_draft_stays_the_newest_with_the_reviews_change_in_it(past):
    p = past()
    p.practise(9, 8, 7, 6)
    draft = p.coach_page.get(f"/api/programs/{p.program_id}").json()
    note = draft["document"] | {"expectations": "My next idea."}
    p.coach_page.put(f"/api/programs/{p.program_id}", json={"base_revision": draft["version"], "title": "Lift", "document": note})
    assert p.decide().json()["program_version"] == 4
    newest = p.coach_page.get(f"/api/programs/{p.program_id}").json()
    assert newest["version"] == 5 and newest["document"]["expectations"] == "My next idea."
    assert [r["cells"][2] for r in newest["document"]["lines"] if r["exercise"] == "oval-lift"] == [RISING[1]]
    (running,) = [a for a in p.course()["assignments"] if a["running"]]
    assert (running["version"], running["newest_version"]) == (4, 5)


def test_a_second_look_replaces_the_first_decision_and_does_not_come_on_top(past):
    p = past()
    p.practise(9, 8, 7, 6)
    first_day = p.review()["first_day"]
    for _ in range(2):
        assert p.decide(first_day=first_day).json()["decided"] == "hold"
        assert (weekly(p, 3), weekly(p, 4)) == ({RISING[1]}, {RISING[2]})
    (line,) = p.review(first_day=first_day)["lines"]
    assert line["next"]["advance"]["line"] == RISING[1]
    lifted = p.decide(first_day=first_day, verdicts={line["line_id"]: "advance"}, reason="It was told by hand.")
    assert lifted.json()["holds_from"] == p.today.isoformat()
    assert (weekly(p, 3), weekly(p, 4)) == ({RISING[2]}, {RISING[3]})


def test_logs_that_come_in_after_a_review_are_said(past):
    p = past()
    p.practise(9, 8, 7, 6)
    p.decide()
    assert p.course()["reviews"][0]["differs"] == "" and "corrected" not in [a["kind"] for a in p.at_desk()["alarms"]]
    p.practise(5)
    assert p.course()["reviews"][0]["differs"] == "4 of 7 sessions then, 5 of 7 now"
    assert "5 of 7 now" in next(a["text"] for a in p.at_desk()["alarms"] if a["kind"] == "corrected")
    again = p.decide(first_day=p.course()["reviews"][0]["first_day"])
    assert again.status_code == 201 and p.course()["reviews"][-1]["differs"] == ""
    assert "corrected" not in [a["kind"] for a in p.at_desk()["alarms"]]


def test_thresholds_of_the_practice_and_of_a_program_are_those_that_judge(past, coach):
    p = past(review={"advance_share": 0.6})
    p.practise(9, 8, 7, 6, 5)
    assert p.review()["suggested"] == "advance"
    q = past(name="Quinn")
    q.practise(9, 8, 7, 6, 5)
    assert q.review()["suggested"] == "hold"
    assert coach.put("/api/settings/review", json={"values": {"advance_share": 0.7}}).status_code == 204
    assert q.review()["suggested"] == "advance" and "70 %" in q.review()["rules"][0]["says"]
    bad = coach.put("/api/settings/review", json={"values": {"advance_share": 0.3}})
    assert bad.status_code == 422 and bad.json()["field"] == "advance_share"
    known = {t["key"]: t for t in coach.get("/api/settings/review").json()["thresholds"]}
    assert (known["advance_share"]["value"], known["advance_share"]["shipped"]) == (0.7, 0.8)


# ---------------------------------------------------------------- earned programs
def opened(p, days_from_now=0):
    """The client opens their day."""
    return begin_day(p.db, p.person, datetime.now(UTC) + timedelta(days=days_from_now))


def test_an_earned_program_repeats_its_week_until_the_review(past):
    p = past(days_ago=5, mode="earned")
    opened(p)
    assert weekly(p, 2) == {RISING[0]} and weekly(p, 3) == {RISING[1]}
    opened(p, 4)  # the second week has begun and nobody looked at the first
    assert weekly(p, 2) == {RISING[0]} and weekly(p, 3) == {RISING[0]}, "it waits on, and there is a plan every week"


def test_an_earned_week_that_was_reviewed_in_time_moves_up(past):
    p = past(days_ago=6, mode="earned")
    opened(p)
    p.practise(6, 5, 4, 3, 2, 1, 0)
    seen = p.review()
    assert seen["earned"] and seen["waiting"] and seen["suggested"] == "advance"
    assert p.decide().json()["holds_from"] == p.day(-1).isoformat()
    assert weekly(p, 2) == {RISING[1]}
    opened(p, 1)
    assert weekly(p, 2) == {RISING[1]} and weekly(p, 3) == {RISING[1]}, "the next week waits for its own review"


def test_a_late_review_lifts_the_week_that_has_begun_from_the_next_free_day(past):
    p = past(days_ago=9, mode="earned")
    opened(p, -4)
    p.practise(*WEEK_ONE)
    opened(p)
    p.practise(0)
    assert weekly(p, 2) == {RISING[0]}
    assert p.decide().json()["holds_from"] == p.day(-1).isoformat()
    doses = p.doses()
    assert doses[p.today] == RISING[0] and doses[p.day(-1)] == RISING[1]


def test_an_earned_week_that_holds_comes_again_as_it_is(past):
    p = past(days_ago=9, mode="earned")
    opened(p, -4)
    p.practise(9, 8, 7, 6)
    opened(p)
    assert p.decide().json()["holds_from"] is None
    assert weekly(p, 2) == {RISING[0]}
    assert weekly(p, 3) in ({RISING[0]}, {RISING[1]})
    opened(p)
    assert weekly(p, 3) == {RISING[0]}, "the repeated week waits for a review of its own"


# ---------------------------------------------------------------- edges
def test_two_programs_are_reviewed_each_on_its_own(past, db, practice, coach):
    p = past()
    p.practise(*WEEK_ONE)
    made = coach.post(f"/api/clients/{p.id}/programs", json={"title": "Calm", "weeks": 4, "source": "empty"}).json()["id"]
    document = coach.get(f"/api/programs/{made}").json()["document"]
    row = {"id": "c", "exercise": "lip-seal", "stage": "work", "cells": ["1×3 h3"] * 4}
    body = {"base_revision": 1, "title": "Calm", "document": document | {"lines": [row], "sessions": [7] * 4, "minutes": None}}
    assert coach.put(f"/api/programs/{made}", json=body).status_code == 200
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": p.day(8).isoformat()}).status_code == 201
    due = p.at_desk()["reviews"]
    assert {d["title"]: d["verdict"] for d in due} == {"Lift": "advance", "Calm": "hold"}


def test_a_week_of_pauses_has_nothing_to_decide(past, coach):
    p = past()
    pause = {"first": p.day(9).isoformat(), "last": p.day(1).isoformat(), "reason": "Away"}
    assert coach.post(f"/api/clients/{p.id}/pause", json=pause).status_code in (200, 201, 204)
    assert p.at_desk()["reviews"] == []


def test_a_move_to_another_zone_in_the_middle_of_a_week_keeps_its_numbers(past, coach):
    p = past()
    p.practise(*WEEK_ONE)
    fact = {"id": str(uuid4()), "kind": "profile", "key": "time_zone", "value": {"value": "Pacific/Auckland"}}
    assert coach.post(f"/api/clients/{p.id}/facts", json={"entries": [fact]}).status_code == 200
    assert p.review(first_day=p.start.isoformat())["sessions"] == {"done": 7, "planned": 7}


def test_what_does_not_exist_cannot_be_reviewed(coach, past):
    assert coach.get(f"/api/assignments/{uuid4()}/review").status_code == 404
    p = past()
    wrong = coach.get(f"/api/assignments/{p.assignment}/review", params={"first_day": "2020-01-01"})
    assert wrong.status_code == 422 and wrong.json()["field"] == "first_day"


def test_what_a_ceiling_does_not_bear_waits_and_that_is_said_before_it_is_confirmed(db, practice, coach):
    """One exercise comes down in the program as another goes up; keeping the first and raising the second is too much."""
    ways = coach.get("/api/settings/ways").json()
    values = {x["key"]: x["value"] for x in ways["limits"]} | {"most_cheek_s": 120}
    assert coach.put("/api/settings/ways", json={"approach": ways["approach"], "values": values}).status_code == 204
    down, up = ("1×12 h6", "1×3 h6"), ("1×3 h6", "1×12 h6")
    lines = (
        ("settle-breath", "prepare", ("2 in 4 out 6",) * 6),
        ("oval-lift", "work", (down[0], *[down[1]] * 5)),
        ("smile-mirror", "work", (up[0], *[up[1]] * 5)),
    )
    p = Past(db, practice, coach, days_ago=9, lines=lines)
    p.practise(*range(9, 2, -1))
    seen = p.review()
    row = {n["name"]: n["line_id"] for n in seen["lines"]}
    falling, rising = row["Long oval cheek lift"], next(v for k, v in row.items() if k != "Long oval cheek lift")
    body = {"id": str(uuid4()), "first_day": seen["first_day"], "verdicts": {falling: "hold", rising: "advance"}, "reason": "She likes it."}
    path = f"/api/assignments/{p.assignment}/review"
    seen = coach.post(f"{path}/check", json=body).json()
    assert seen["against"] == [] and {i: d["line"] for i, d in seen["next"].items()} == {falling: down[0], rising: up[0]}
    assert p.review()["kept"] == [], "asking keeps nothing"
    assert coach.post(path, json=body).status_code == 201
    played = {i.line.id: print_line(i.dose, i.card.style) for i in p.items_of(0)}
    assert (played[falling], played[rising]) == (down[0], up[0]), "the phone plays what was said"


@pytest.mark.parametrize("away", [8, 13, 36])
def test_a_review_after_a_break_leaves_what_the_break_lays_out(past, away):
    """Practised for a week, then nothing: the phone goes back, and confirming what is suggested does not take that away."""
    p = past(days_ago=7 + away)
    p.practise(*range(7 + away, away, -1))
    laid = p.open_days()
    first = {d: x for d, x in p.doses().items() if d >= p.today}
    seen = p.review()
    decided = p.decide().json()
    after = {d: x for d, x in p.doses().items() if d >= p.today}
    assert (seen["suggested"], decided["decided"]) == ("hold", "hold") and after == first
    (line,) = seen["lines"]
    assert {line["next"][v]["line"] for v in ("advance", "hold", "ease back")} == {first[p.today]}, "and it announces what is played"
    assert p.open_days() == laid


def test_holding_keeps_the_days_of_the_week_and_what_is_new_waits(past):
    lines = (*LINES, ("smile-mirror", "work", ("", *("1×3 h3",) * 5)))
    p = past(days_ago=7, lines=lines, sessions=[3, 4, 4, 5, 5, 5])
    p.practise(*[n for n in range(7, 0, -1) if p.planned(n)], effort=9)
    seen = p.review()
    assert seen["of_week"] == {
        "suggested": "hold",
        "because": seen["because"],
        "now": "3 days",
        "next": {"advance": "4 days", "hold": "3 days", "ease back": "3 days", "stop": "3 days"},
        "entering": ["Level smile in the mirror"],
    }
    assert p.decide().status_code == 201
    coming = [p.planned(-n) for n in range(7)]
    assert sum(x is not None for x in coming) == 3
    assert {i.item.card.id for x in coming if x for i in x.items} == {"settle-breath", "oval-lift"}


def test_what_is_decided_reaches_today_whatever_becomes_of_the_plan(past):
    p = past()
    p.practise(*WEEK_ONE, effort=9)
    assert p.decide(words="We keep it small.").json()["decided"] == "hold"
    assert opened(p).notes[0] == "Your coach looked at your week: the same once more, because it was hard. “We keep it small.”"
    q = past(name="Ines Past")
    q.practise(*WEEK_ONE)
    assert q.decide().json()["program_version"] is None, "advancing changes nothing of the plan"
    assert opened(q).notes[0] == "Your coach looked at your week: it goes on as planned."


def test_an_exercise_in_two_programs_has_one_verdict(past, coach):
    p = past()
    body = {"title": "Beside", "weeks": 6, "source": "empty"}
    made = coach.post(f"/api/clients/{p.id}/programs", json=body).json()["id"]
    rows = [{"id": "x0", "exercise": "oval-lift", "stage": "work", "cells": list(RISING)}]
    document = coach.get(f"/api/programs/{made}").json()["document"] | {"lines": rows, "sessions": [7] * 6, "minutes": None}
    assert coach.put(f"/api/programs/{made}", json={"base_revision": 1, "title": "Beside", "document": document}).status_code == 200
    then = datetime.now(UTC) - timedelta(days=9)
    other = assign(p.db, p.coach, UUID(made), Wish(start=p.start, as_part="evening"), then)
    p.practise(*WEEK_ONE)  # the mornings only
    seen = {a: coach.get(f"/api/assignments/{a}/review").json() for a in (p.assignment, other)}
    assert (seen[p.assignment]["suggested"], seen[other]["suggested"]) == ("advance", "hold")
    lines = {a: next(n for n in v["lines"] if n["exercise_id"] == "oval-lift") for a, v in seen.items()}
    assert {n["suggested"] for n in lines.values()} == {"hold"}, "one verdict for an exercise that stands in both"
    assert lines[p.assignment]["because"].startswith("In Beside: 0 of 7 sessions")


def test_the_hand_out_of_the_week_after_a_break_has_the_doses_that_the_phone_plays(past, coach):
    p = past(days_ago=24)
    p.practise(*range(24, 10, -1))  # two weeks, then ten days away
    p.open_days()
    with p.db.practice(p.practice.id) as conn:
        (running,) = assignments.running_of(conn, p.id)
    week, back = running.steps[0]
    assert (week, back) == (2, 1) and p.doses()[p.today] == RISING[0]

    def paper(of):
        pdf = coach.get(f"/api/programs/{p.program_id}/handout.pdf", params={"week": of}).content
        return " ".join(" ".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(pdf)).pages).split())

    first, second = paper(1), paper(week)
    assert "5 times" in first and "5 times" in second and "6 times" not in second, "one rung back, as it is played this week"


def test_no_row_however_it_is_called_is_taken_for_the_week(past):
    """An imported program may call a row anything that a row can be called."""
    p = past(rows={1: "week"})
    p.practise(*WEEK_ONE)
    refused = p.decide(verdicts={THE_WEEK: "stop"}, reason="No.")
    assert refused.status_code == 422 and refused.json()["field"] == "verdicts"
    assert p.decide(verdicts={"week": "hold"}, reason="This row only.").status_code == 201
    (kept,) = p.course()["reviews"]
    assert kept["otherwise"] == ["Long oval cheek lift: advance became hold"]
