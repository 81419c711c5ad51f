"""The list of clients and the client page: who needs the coach, and why."""

from datetime import UTC, date, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.core.sessions.crediting import Stretch
from dimbo.core.sessions.session_report import ItemReport, PartReport, Report
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.work.intake.entering import Entry, record
from dimbo.work.plans.assigning import Wish, assign
from dimbo.work.practice.client_sessions import compile_session, parts_on, standing
from dimbo.work.practice.handing_in import hand_in
from dimbo.work.programs.drafting import Wish as Draft
from dimbo.work.programs.drafting import create
from tests.answered import answer_all
from tests.web.histories import RISING, Past


@pytest.fixture
def run(db, practice):
    """Starts a program some days ago and practises the planned days whose distance from today is named."""
    coach = Person(id=practice.coach_id, practice_id=practice.id, role="coach", client_id=None, name="Coach", practice_name="harbour")

    def started(client_id, days_ago, practised):
        now = datetime.now(UTC)
        day_now = practice_day(now, zone("UTC"))
        start = day_now - timedelta(days=days_ago)
        rating = Entry(uuid4(), "rating", "eye-less-open", {"right": 2, "left": 1})
        record(db, coach, client_id, [rating], now)
        answer_all(db, coach, client_id)
        program = create(db, coach, client_id, now, Draft(weeks=4))
        assign(db, coach, program, Wish(start=start), now)
        client = Person(
            id=practice.coach_id, practice_id=practice.id, role="client", client_id=client_id, name="Client", practice_name="harbour"
        )
        with db.practice(practice.id) as conn:
            at = standing(conn, practice.id, clients.one(conn, client_id), now)
            planned = {day: parts for (day, _), parts in parts_on(conn, at, start, day_now).items()}
        for ago in practised:
            day = day_now - timedelta(days=ago)
            session = compile_session(at, planned[day])
            begun = datetime.combine(day, datetime.min.time(), UTC) + timedelta(hours=8)
            ended = begun + timedelta(seconds=session.seconds)
            parts = [
                PartReport(assignment_id=p.assignment.id, plan=p.planned.plan, week=p.planned.week, place=p.planned.place)
                for p in session.parts
            ]
            items = [ItemReport(assignment_id=o.owner, line_id=o.item.line.id) for o in session.items]
            stretches = [Stretch(0, session.seconds, begun)]
            report = Report(
                id=uuid4(),
                day=day,
                part="morning",
                source="player",
                parts=parts,
                items=items,
                stretches=stretches,
                started_at=begun,
                ended_at=ended,
                sent_at=ended,
            )
            assert hand_in(db, client, report, ended).new
        return sorted((day_now - d).days for d in planned if d < day_now)

    return started


def new_client(db, practice, name):
    with db.practice(practice.id) as conn:
        return clients.create(conn, practice.id, name, birth_year=1980, time_zone="UTC", minutes=15, concerns=[], goals="")


def test_those_who_missed_three_days_come_first(db, coach, practice, run):
    steady, silent = new_client(db, practice, "Steady"), new_client(db, practice, "Aaron Silent")
    run(steady, 7, [7, 5, 3])
    run(silent, 7, [])
    rows = coach.get("/api/desk").json()["clients"]
    assert next(r["name"] for r in rows) == "Aaron Silent"
    by_name = {r["name"]: r for r in rows}
    assert by_name["Aaron Silent"]["missed"] >= 3
    assert by_name["Steady"]["missed"] == 0
    assert by_name["Client of harbour"]["days"] == []


def test_the_last_week_counts_seven_days(db, coach, practice, run):
    client = new_client(db, practice, "Counted")
    past = run(client, 13, [])
    page = coach.get(f"/api/clients/{client}").json()
    assert past
    today = date.fromisoformat(page["today"])
    closed = [date.fromisoformat(d["day"]) for d in page["days"] if d["state"] == "skipped"]
    assert all(d < today for d in closed)
    seven, _, whole = (w["sessions"] for w in page["patterns"]["windows"])
    assert seven == {"done": 0, "planned": len([d for d in closed if (today - d).days <= 6])}
    assert whole["planned"] == len(closed)
    states = {d["day"]: d["state"] for d in page["days"]}
    assert set(states.values()) <= {"skipped", "open", "future"}
    assert next(d for d, s in sorted(states.items()) if s == "future") > page["today"]


def test_a_page_without_program_says_what_is_there(coach, practice):
    page = coach.get(f"/api/clients/{practice.client_id}").json()
    assert page["assignments"] == [] and page["start_date"] is None and page["days"] == [] and page["sittings"] == []
    assert all(w["sessions"] == {"done": 0, "planned": 0} for w in page["patterns"]["windows"])
    assert page["has_account"] and page["age"] > 40
    assert [c["name"] for c in page["concerns"]] == ["One eye less open"]


def test_the_list_of_a_large_practice_is_one_page_with_few_statements(db, coach, practice, owner):
    for i in range(40):
        new_client(db, practice, f"Client {i:02d}")
    assert len(coach.get("/api/clients").json()) == 41


def test_a_lost_database_is_said_and_nothing_is_pretended(coach, practice, owner, database_name):
    owner.execute("select pg_terminate_backend(pid) from pg_stat_activity where datname = %s and pid <> pg_backend_pid()", (database_name,))
    answers = {coach.get(f"/api/clients/{practice.client_id}").status_code for _ in range(6)}
    assert answers <= {200, 503} and 200 in answers


def end_of(p, which=0):
    return p.course()["assignments"][which]["end"]


def test_a_course_says_early_where_it_will_end(db, practice, coach):
    p = Past(db, practice, coach, days_ago=9)
    assert end_of(p)["sentence"] == "" and not end_of(p)["near"] and end_of(p)["ways"] == []
    p.practise(*range(9, 2, -1), effort=9)
    assert p.decide().status_code == 201
    assert (
        end_of(p)["sentence"] == f"At this pace the course ends below its plan: Long oval cheek lift at {RISING[4]} instead of {RISING[5]}."
    )
    assert end_of(p)["sentence"] in p.review()["remarks"]
    early = coach.post(f"/api/assignments/{p.assignment}/next", json={"way": "on"})
    assert early.status_code == 422 and early.json()["field"] == "way"


def test_at_its_end_it_says_what_was_reached_and_prepares_three_ways_on(db, practice, coach):
    p = Past(db, practice, coach, days_ago=36)
    end = end_of(p)
    assert end["near"] and [w["id"] for w in end["ways"]] == ["on", "again", "new"]
    assert end["lines"] == [{"name": "Long oval cheek lift", "planned": RISING[5], "reached": RISING[5], "short": False}]
    path = f"/api/assignments/{p.assignment}/next"

    def prepared(way):
        made = coach.post(path, json={"way": way})
        assert made.status_code == 201, made.text
        return coach.get(f"/api/programs/{made.json()['id']}").json()["document"]

    on, again = prepared("on"), prepared("again")
    lift = next(n for n in on["lines"] if n["exercise"] == "oval-lift")
    assert lift["cells"][0] == RISING[5] and len(lift["cells"]) == 6 and lift["cells"][1] != RISING[5], "from the last rung on"
    assert next(n for n in again["lines"] if n["exercise"] == "oval-lift")["cells"] == list(RISING[2:])
    assert coach.post(path, json={"way": "new"}).json()["field"] == "concerns", "nothing is rated that could be drafted from"
    assert coach.post(path, json={"way": "sideways"}).status_code == 422
