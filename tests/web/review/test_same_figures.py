"""One figure, whoever is asked: desk, list, course, review, group, the client's phone and the tables say the same."""

import csv
import io
import random
from datetime import UTC, date, datetime
from uuid import uuid4

import pytest
from hypothesis import settings

from dimbo.core.exercises.dose_line import print_line
from dimbo.core.review.adherence import DayState
from dimbo.core.review.apply_review import THE_WEEK
from dimbo.store.plans import assignments
from dimbo.work.practice.days import begin_day
from dimbo.work.practice.own_course import own_course
from tests.web.histories import LINES, Past


def asked(p):
    """What every place says of a client: planned days missed in a row, the last seven days, weeks, photographs due."""
    phone = begin_day(p.db, p.person, datetime.now(UTC))  # first: after a break it is what lays out how it goes on
    desk, course = p.at_desk(), p.course()
    own = own_course(p.db, p.person, datetime.now(UTC))
    table = list(csv.DictReader(io.StringIO(p.coach_page.get("/api/export/adherence.csv", params={"client": str(p.id)}).text)))
    seven = next(w for w in course["patterns"]["windows"] if w["days"] == 7)["sessions"]
    whole = next(w for w in course["patterns"]["windows"] if w["days"] is None)["sessions"]
    states = {d["day"]: d["state"] for d in course["days"]}
    return {
        "missed": {desk["missed"], course["missed"], phone.week.missed, missed_of(table)},
        "seven days": {(round(w["done"], 2), w["planned"]) for w in (desk["week"], seven)},
        "whole course": {(round(whole["done"], 1), whole["planned"]), (round(own.whole.done, 1), own.whole.planned), counted(table)},
        "weeks": {a["weeks"] for a in course["assignments"]} | {x["weeks"] for x in desk["programs"]},
        "states": {tuple((r["day"], r["state"]) for r in table), tuple((r["day"], states[r["day"]]) for r in table)},
        "photographs": {phone.photo_due and phone.photo_due.isoformat(), course["sitting_due"]},
    }


def missed_of(table):
    missed = 0
    for row in table:
        missed = (
            missed + 1 if row["state"] == "skipped" else 0 if row["state"] in ("done", "partly", "extra") or float(row["share"]) else missed
        )
    return missed


def counted(table):
    mine = [float(r["share"]) for r in table if r["counts"] == "true"]
    return round(sum(mine), 1), len(mine)


def agree(p):
    told = asked(p)
    assert all(len(v) == 1 for v in told.values()), {k: v for k, v in told.items() if len(v) > 1}
    return {k: next(iter(v)) for k, v in told.items()}


def at_random(past, seed):
    """Somebody's history: some days whole, some in part, gaps, reviews now and then."""
    rng = random.Random(seed)
    began = rng.choice([0, 3, 9, 16, 23, 31, 40])
    p = past(name=f"Client {seed}", days_ago=began, sessions=rng.choice([3, 5, 7]))
    gap = rng.choice([range(0), range(0), range(rng.randrange(1, 30))])
    for n in range(began, -1, -1):
        if n not in gap and rng.random() < 0.7 and p.planned(n):
            p.practise(n, share=rng.choice([1.0, 1.0, 0.6]), effort=rng.choice([4, 5, 8]))
    if rng.random() < 0.4:
        p.decide()
    return p


@pytest.fixture
def past(db, practice, coach):
    return lambda **how: Past(db, practice, coach, **how)


HISTORIES = 200 if settings.get_current_profile_name() == "searching" else 32
"""Two hundred agree (``--hypothesis-profile=searching``); a run of all tests asks fewer."""


@pytest.mark.parametrize("seed", range(HISTORIES))
def test_every_place_says_the_same_of_a_random_history(past, seed):
    agree(at_random(past, seed))


def test_a_long_silence_is_as_long_everywhere(past):
    p = past(days_ago=40, lines=LINES)
    p.practise(*range(40, 33, -1))
    assert agree(p)["missed"] == 33, "planned and missed until yesterday, or until the program ended"


@pytest.mark.parametrize(
    ("away", "says"), [(5, "goes on where it was"), (8, "one rung lower"), (20, "one rung lower"), (21, "first rungs")]
)
def test_how_it_comes_back_is_said_alike_by_desk_and_course_and_is_so_on_the_phone(past, away, says):
    p = past(days_ago=away + 8)
    p.practise(*range(away + 8, away, -1))
    alarm = next(a for a in p.at_desk()["alarms"] if a["kind"] == "missed")
    assert says in p.course()["returns"] and p.course()["returns"] in alarm["text"]
    p.open_days()
    with p.db.practice(p.practice.id) as conn:
        (running,) = assignments.running_of(conn, p.id)
    back = {"goes on where it was": ("assigned", 0), "one rung lower": ("break", 1), "first rungs": ("break", 0)}[says]
    assert (running.kind, running.steps[0][1]) == back


def test_a_day_that_is_done_in_part_counts_when_it_is_over_or_done(past):
    p = past(days_ago=2)
    p.practise(2, 1)
    p.practise(0, share=0.6)
    assert agree(p)["seven days"] == (2, 2), "today is still open"
    today = next(d for d in p.course()["days"] if d["day"] == p.today.isoformat())
    assert today["state"] == DayState.OPEN and 0.3 < today["share"] < 0.9
    assert p.review()["refused"], "and the week is not over"
    p.practise(0, hour=13)
    assert agree(p)["seven days"] == (3, 3)


def test_of_two_days_of_yesterday_one_half_done_counts_by_its_half(past):
    p = past(days_ago=2)
    p.practise(2)
    p.practise(1, share=0.6)
    done, planned = agree(p)["seven days"]
    assert planned == 2 and 1.3 < done < 1.9


@pytest.mark.parametrize("seed", range(HISTORIES // 2))
def test_what_a_review_announces_is_what_the_phone_plays(past, seed):
    """From any history, after any verdicts: the next week's doses and days as they were shown before confirming."""
    rng = random.Random(1000 + seed)
    away = rng.choice([0, 0, 0, 9, 15, 25])
    began = rng.choice([7, 8, 9, 14, 16, 23]) + away
    p = past(name=f"Told {seed}", days_ago=began, sessions=rng.choice([[3, 4, 4, 5, 5, 5], [5] * 6, [7] * 6]))
    for n in range(began, away, -1):
        if p.planned(n):
            p.practise(n, effort=rng.choice([2, 5, 9]))
    p.open_days()
    seen = p.review()
    if seen["refused"] or not seen["lines"]:
        pytest.skip("nothing to decide")
    choose = lambda: rng.choice(["advance", "hold", "ease back"])  # noqa: E731
    verdicts = {THE_WEEK: choose()} | {n["line_id"]: choose() for n in seen["lines"]}
    body = {"id": str(uuid4()), "first_day": seen["first_day"], "verdicts": verdicts, "reason": "As it came."}
    path = f"/api/assignments/{p.assignment}/review"
    told = p.coach_page.post(f"{path}/check", json=body).json()
    assert told["against"] == []
    assert p.coach_page.post(path, json=body).status_code == 201
    with p.db.practice(p.practice.id) as conn:
        running = assignments.one(conn, p.assignment)
    first = max(running.anchor, p.today) if running.kind == "review" else date.fromisoformat(seen["holds_from"])
    played = {}
    for n in range(7):
        ago = (p.today - first).days - n
        for item in p.items_of(ago) if p.planned(ago) else ():
            played.setdefault(item.line.id, print_line(item.dose, item.card.style))
    assert {k: played[k] for k in told["next"]} == {k: v["line"] for k, v in told["next"].items()}
