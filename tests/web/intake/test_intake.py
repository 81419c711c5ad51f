"""The coach's intake over the wire: entering, concluding, locking, releasing, remembering."""

from datetime import UTC, date, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.core.calendar.schedule import practice_day, zone
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.sittings.analysing import analyse
from tests.midday import MIDDAY
from tests.web.conftest import new_program
from tests.web.practising import hand_in, log, todays

TODAY = practice_day(datetime.now(UTC), zone(MIDDAY))
"""The client's own day, which between midnight and three is still the one before."""


def ago(days):
    return (TODAY - timedelta(days=days)).isoformat()


@pytest.fixture
def enter(coach, practice):
    """Enters one fact for the client; returns the answer."""

    def post(kind, key="", value=None, *, entry_id=None):
        entry = {"id": str(entry_id or uuid4()), "kind": kind, "key": key, "value": value or {}}
        return coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [entry]})

    return post


@pytest.fixture
def intake(coach, practice):
    return lambda: coach.get(f"/api/clients/{practice.client_id}/intake").json()


@pytest.fixture
def timeline(coach, practice):
    return lambda: coach.get(f"/api/clients/{practice.client_id}/timeline").json()


CLEARANCE = {"by_name": "Dr. Ina Quell", "role": "eye doctor", "given_on": ago(0), "says": "Touch at the rim is allowed."}


def refused(answer, field=None):
    assert answer.status_code == 422, answer.text
    assert field is None or answer.json()["field"] == field, answer.json()
    return answer.json()["message"]


def test_ratings_answers_and_tests_come_back_with_their_conclusions(enter, intake):
    enter("rating", "nasolabial-fold", {"right": 1, "left": 3})
    enter("test", "chewing", {"answer": "left"})
    found = enter("answer", "nasolabial-fold.tender-beside-nose", {"answer": "no"}).json()
    (view,) = found["conclusions"]["concerns"]
    assert view["cause"]["id"] == "chewing-habit" and view["derived"] == {"chewing-side": "yes"}
    assert view["ranked"][0]["steps"]
    assert found["conclusions"]["habits"][0]["text"] == "Chew on the right side"
    assert intake()["ratings"]["nasolabial-fold"] == {"right": 1, "left": 3}


def test_every_rating_is_dated_and_kept(enter, timeline):
    enter("rating", "jowls", {"right": 3, "left": 3})
    enter("rating", "jowls", {"right": 2, "left": 3})
    texts = [t["text"] for t in timeline() if t["kind"] == "rating"]
    assert len(texts) == 2 and texts[0].startswith("Jowls and jaw outline: right 2") and "right 3" in texts[1]
    assert all(t["at"] and t["author"] == "Coach of harbour" for t in timeline())


def test_the_clients_concerns_follow_the_ratings(enter, coach, practice):
    enter("rating", "eye-less-open", {"right": 0, "left": 0})
    enter("rating", "jowls", {"right": 1, "left": 2})
    enter("rating", "crows-feet", {"right": 3, "left": 0})
    (row,) = [c for c in coach.get("/api/clients").json() if c["id"] == str(practice.client_id)]
    assert row["concerns"] == ["Crow’s feet", "Jowls and jaw outline"]


def test_sending_an_entry_twice_keeps_it_once(enter, timeline):
    same = uuid4()
    for _ in range(2):
        assert enter("note", "", {"text": "Chews gum."}, entry_id=same).status_code == 200
    assert [t["text"] for t in timeline()].count("Chews gum.") == 1


@pytest.mark.parametrize(
    ("kind", "key", "value", "field", "says"),
    [
        ("rating", "jowls", {"right": 5, "left": 0}, "right", "between 0 (none) and 4 (marked), not 5"),
        ("rating", "jowls", {"right": 2}, "left", "required"),
        ("rating", "smirk", {"right": 2, "left": 2}, "key", "no concern “smirk”"),
        ("rating", "loose-neck", {"right": 2, "left": 1}, "left", "has no sides"),
        ("answer", "jowls.nope", {"answer": "yes"}, "key", "no question"),
        ("answer", "jowls.smile-lifts", {"answer": "perhaps"}, "answer", ""),
        ("cause", "jowls", {"cause": "fate"}, "cause", "no cause “fate”"),
        ("test", "chewing", {"answer": "neither"}, "answer", "right, left or both"),
        ("test", "eye-measured", {"answer": "right"}, "key", "no side test"),
        ("caution", "fillers", {"answer": "yes", "event_on": ago(-2)}, "event_on", "in the future"),
        ("caution", "fillers", {"answer": "yes", "event_on": "2026-02-31"}, "event_on", "is not a day"),
        ("caution", "fillers", {"answer": "yes", "event_on": "0203-01-01"}, "event_on", "too long ago"),
        ("caution", "fillers", {"answer": "yes", "regions": ["elbow"]}, "regions", "no region “elbow”"),
        ("caution", "glaucoma", {"answer": "yes", "regions": ["eye"]}, "regions", "always means the same"),
        ("caution", "glaucoma", {"answer": "yes", "event_on": ago(3)}, "event_on", "has no date"),
        ("profile", "birth_year", {"value": 1874}, "birth_year", "cannot be a birth year"),
        ("profile", "minutes", {"value": 500}, "minutes", "between 1 and 120"),
        ("profile", "email", {"value": "me at home"}, "email", "name@example.org"),
        ("profile", "phone", {"value": "ring me"}, "phone", "not a phone number"),
        ("profile", "time_zone", {"value": "Mars/Olympus"}, "time_zone", "Mars/Olympus"),
        ("profile", "name", {"value": "  "}, "name", "Write the client's name"),
        ("profile", "status", {"value": "gone"}, "status", "enquiry, active, paused or finished"),
        ("profile", "days", {"value": [0, 9]}, "days", "weekdays"),
        ("profile", "agreed", {"value": ["a", "b", "c", "d"]}, "agreed", "at most 3"),
        ("profile", "practice_id", {"value": "x"}, "key", "no field"),
        ("note", "", {"text": ""}, "text", ""),
    ],
)
def test_what_cannot_be_is_refused_by_name_and_nothing_is_saved(enter, timeline, kind, key, value, field, says):
    before = timeline()
    assert says in refused(enter(kind, key, value), field)
    assert timeline() == before


def test_one_wrong_entry_saves_none_of_its_batch(coach, practice, timeline):
    entries = [
        {"id": str(uuid4()), "kind": "profile", "key": "minutes", "value": {"value": 25}},
        {"id": str(uuid4()), "kind": "rating", "key": "jowls", "value": {"right": 9, "left": 0}},
    ]
    refused(coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": entries}))
    assert coach.get(f"/api/clients/{practice.client_id}/intake").json()["profile"]["minutes"] == 15
    assert not [t for t in timeline() if t["kind"] == "profile"]


def test_a_lock_holds_until_a_clearance_and_the_trail_tells_both(enter, intake, timeline):
    enter("caution", "glaucoma", {"answer": "yes"})
    assert "eye" in [r["region"] for r in intake()["conclusions"]["regions"]]
    assert "Only a recorded clearance" in refused(enter("caution", "glaucoma", {"answer": "no"}), "answer")
    assert enter("clearance", "glaucoma", CLEARANCE).status_code == 200
    (held,) = intake()["conclusions"]["held"]
    assert held["state"] == "cleared" and not held["locked"]
    assert [t["kind"] for t in timeline() if t["kind"] in ("lock", "release")] == ["release", "lock"]
    assert "Dr. Ina Quell, eye doctor" in timeline()[0]["text"] + timeline()[1]["text"]


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"given_on": ago(40)}, "given_on", "older than the event"),
        ({"given_on": ago(-1)}, "given_on", "in the future"),
        ({"by_name": " "}, "by_name", "name of the person"),
        ({"role": "coach"}, "role", "released by the word of treating practitioner"),
        ({"role": "owner"}, "role", "released by the word of treating practitioner"),
        ({"says": ""}, "says", "Write what was said"),
        ({"until": ago(5)}, "until", "ends before it begins"),
        ({"valid_from": ago(9)}, "valid_from", "before the day it was given"),
        ({"regions": ["jaw"]}, "regions", "cheek"),
    ],
)
def test_a_clearance_names_who_when_and_for_what(enter, intake, change, field, says):
    enter("caution", "fillers", {"answer": "yes", "regions": ["cheek"], "event_on": ago(30)})
    assert says in refused(enter("clearance", "fillers", CLEARANCE | {"role": "treating practitioner"} | change), field)
    assert intake()["clearances"] == [] and intake()["conclusions"]["held"][0]["locked"]


def test_the_day_of_an_event_comes_before_its_clearance(enter, intake):
    enter("caution", "fillers", {"answer": "yes", "regions": ["cheek"]})
    word = CLEARANCE | {"role": "treating practitioner"}
    assert "note the day when it was" in refused(enter("clearance", "fillers", word), "event_on")
    enter("caution", "fillers", {"answer": "yes", "regions": ["cheek"], "event_on": ago(30)})
    enter("clearance", "fillers", word)
    assert intake()["conclusions"]["held"][0]["state"] == "cleared"


def test_what_was_never_answered_yes_needs_no_clearance(enter):
    assert "nothing to release" in refused(enter("clearance", "glaucoma", CLEARANCE), "key")
    enter("caution", "dry-eyes", {"answer": "yes"})
    assert "locks nothing" in refused(enter("clearance", "dry-eyes", CLEARANCE), "key")


def test_skin_is_released_by_the_coach_who_looked(enter, intake):
    enter("caution", "cold-sore", {"answer": "yes"})
    enter("clearance", "cold-sore", {"by_name": "Coach", "role": "coach", "given_on": ago(0), "says": "Healed, looked at it."})
    assert intake()["conclusions"]["held"][0]["state"] == "cleared"


def test_two_open_intakes_are_refused_and_a_finished_one_makes_room(coach, practice, intake):
    path = f"/api/clients/{practice.client_id}/intake"
    assert coach.post(path).status_code == 201
    second = coach.post(path)
    assert second.status_code == 409 and "begun by Coach of harbour" in second.json()["message"]
    assert coach.post(f"{path}/finish").json()["finished_at"]
    assert coach.post(f"{path}/finish").status_code == 409
    assert coach.post(path).status_code == 201
    assert intake()["finished_at"] is None


def test_an_imported_note_and_own_answers_stay_apart_by_practice(browser, db, owner, practice, enter):
    from tests.web.conftest import make_practice

    enter("note", "", {"text": "ours"})
    stranger = browser(make_practice(db, owner, "elsewhere").coach_email)
    for path in ("intake", "timeline", "self-intake"):
        assert stranger.get(f"/api/clients/{practice.client_id}/{path}").status_code == 404
    entry = {"id": str(uuid4()), "kind": "note", "key": "", "value": {"text": "theirs"}}
    assert stranger.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [entry]}).status_code == 404


def test_a_client_cannot_read_or_write_the_coachs_intake(client, practice):
    assert client.get(f"/api/clients/{practice.client_id}/intake").status_code == 403
    assert client.get(f"/api/clients/{practice.client_id}/timeline").status_code == 403


def test_an_invisible_sign_is_refused_in_words(enter):
    assert "invisible sign" in refused(enter("note", "", {"text": "a\0b"}))


def test_the_newest_measured_sitting_answers_its_side_test(coach, db, practice, intake):
    """With the very values that the bench shows, the client's own ruler and noise among them, and points set by hand."""
    sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": "2026-03-20"}).json()["id"]
    for shot in range(3):
        photograph, picture = uuid4(), shoot(Scene(identity="aster", state="uneven", seed=shot)).jpeg(None)
        data = {"photograph_id": str(photograph), "view": "front-neutral"}
        coach.post(f"/api/sittings/{sitting}/photographs", data=data, files={"file": (f"{shot}.jpg", picture, "image/jpeg")})
        analyse(db, practice.id, photograph)

    def said():
        (row,) = coach.get(f"/api/clients/{practice.client_id}/sittings").json()["sittings"]
        sides = {r["id"]: r["smaller_side"] or "neither" for r in row["readings"]}
        results = intake()["results"]
        assert results["eye-measured"] == {"answer": sides["fissure_height"], "noted_on": "2026-03-20", "measured": True}
        assert results["corner-measured"]["answer"] == sides["commissure_height"]
        return row["photographs"], sides["fissure_height"]

    shots, before = said()
    assert before == "right", "the portrait's right eye is less open"
    for p in shots:  # the upper lid of the right eye is set by hand, well higher
        x, y = p["points"]["ps_right"]
        assert coach.put(f"/api/photographs/{p['id']}/points", json={"moves": {"ps_right": [x, y - 30]}}).status_code == 204
    _, after = said()
    assert after != "right"


# What stands over a client reaches the program, the assignment and the day.


@pytest.fixture
def program(coach, practice):
    return new_program(coach, practice.client_id)


def stops(coach, program):
    return [n for n in coach.get(f"/api/programs/{program}").json()["sheet"]["notes"] if n["weight"] == "stop"]


def start(coach, program):
    today = coach.get(f"/api/programs/{program}").json()["client_today"]
    return coach.post(f"/api/programs/{program}/assignment", json={"start": today})


def test_a_lock_stands_in_the_margin_and_refuses_assignment(coach, enter, program):
    assert stops(coach, program) == []
    enter("caution", "eye-surgery", {"answer": "yes", "event_on": ago(90)})
    (note,) = stops(coach, program)
    assert note["rule"] == "caution-lock" and "Eye surgery" in note["text"] and "Locked: 5 exercises" in note["text"]
    assert note["fix"] == "Take the 5 out"
    assert "eye surgeon" in refused(start(coach, program)) or "Eye surgery" in refused(start(coach, program))
    enter("clearance", "eye-surgery", CLEARANCE)
    assert stops(coach, program) == []
    assert start(coach, program).status_code == 201


def test_an_urgent_sign_refuses_every_assignment_and_stops_the_day(coach, client, enter, program):
    assert start(coach, program).status_code == 201
    assert todays(client)["session"]
    enter("caution", "sudden-face", {"answer": "yes"})
    assert refused(start(coach, program)).startswith("Seek urgent medical care now.")
    day = todays(client)
    assert day["session"] is None and day["halt"].startswith("Seek urgent medical care now.")


def test_a_lock_that_comes_later_leaves_its_exercises_out_of_the_day(coach, client, enter, program):
    start(coach, program)
    names = [i["name"] for i in todays(client)["session"]["items"]]
    assert "Finger-bracket wide open" in names
    enter("caution", "eye-surgery", {"answer": "yes"})
    session = todays(client)["session"]
    assert {"name": "Finger-bracket wide open", "reason": "a clearance is missing"} in session["left_out"]
    assert "Finger-bracket wide open" not in [i["name"] for i in session["items"]]


def test_an_ease_shows_the_eased_version(coach, client, enter, program):
    start(coach, program)
    enter("caution", "dry-eyes", {"answer": "yes"})
    items = todays(client)["session"]["items"]
    assert {i["name"]: i["eased_for"] for i in items}["Finger-bracket wide open, eased"] == "Dry eyes"
    notes = coach.get(f"/api/programs/{program}").json()["sheet"]["notes"]
    assert [n["rule"] for n in notes if n["rule"].startswith("caution")] == ["caution-ease"]


def test_a_draft_leaves_out_what_is_locked(coach, practice, enter):
    enter("caution", "eye-surgery", {"answer": "yes"})
    made = new_program(coach, practice.client_id)
    found = coach.get(f"/api/programs/{made}").json()
    assert "bracket-open" not in [n["exercise"] for n in found["document"]["lines"]]
    assert stops(coach, made) == []


def test_those_with_an_urgent_sign_lead_the_list(coach, practice, enter):
    coach.post("/api/clients", json={"name": "Aaron First", "birth_year": 1980, "time_zone": "UTC"})
    enter("caution", "unequal-pupils", {"answer": "yes"})
    first = coach.get("/api/desk").json()["clients"][0]
    assert first["id"] == str(practice.client_id) and first["urgent"]
    sign = first["alarms"][0]
    assert sign["kind"] == "urgent" and "pupil" in sign["text"], "a sudden sign is no plain lock"
    assert [(c["name"], c["urgent"]) for c in coach.get("/api/clients").json()] == [("Aaron First", False), (first["name"], True)]


def test_a_plain_lock_is_no_sudden_sign(coach, practice, enter):
    enter("caution", "glaucoma", {"answer": "yes"})
    (row,) = coach.get("/api/desk").json()["clients"]
    assert [a["kind"] for a in row["alarms"] if a["kind"] in ("urgent", "lock")] == ["lock"] and not row["urgent"]


def test_an_expired_clearance_locks_again_without_anybody_doing_anything(coach, db, practice, enter, program):
    from dimbo.store.intake import facts
    from dimbo.store.intake.facts import NewFact

    word = CLEARANCE | {"given_on": ago(60), "until": ago(1), "regions": [], "valid_from": None}
    yes = {"answer": "yes", "regions": [], "event_on": ago(90)}
    past = datetime.now(UTC) - timedelta(days=60)
    with db.practice(practice.id) as conn:
        facts.add(
            conn,
            practice.id,
            practice.client_id,
            [
                NewFact(
                    id=uuid4(),
                    kind=kind,
                    key="eye-surgery",
                    value=value,
                    at=past,
                    author="Coach",
                    author_id=practice.coach_id,
                    source="coach",
                )
                for kind, value in (("caution", yes), ("clearance", word))
            ],
        )
    assert "ended on" in stops(coach, program)[0]["text"]
    assert start(coach, program).status_code == 422
    assert date.fromisoformat(word["until"]) < TODAY


def test_where_an_exercise_hurt_shows_on_its_muscles_and_side(coach, client, practice):
    made = new_program(coach, practice.client_id, mouth_asymmetry=(2, 1))
    assert start(coach, made).status_code == 201
    told = {"hurt": True, "pain_side": "left", "pain_level": 4}
    assert hand_in(client, log(todays(client), (0, 5), items={"smile-mirror": told}))[0]["state"] == "kept"
    tender = coach.get(f"/api/clients/{practice.client_id}").json()["tender"]
    assert tender == {m: {"right": 0, "left": 4} for m in ("levator_anguli_oris", "zygomaticus_major")}


def test_what_the_client_came_with_waits_to_be_rated(enter, intake):
    assert intake()["concerns"] == ["eye-less-open"] and intake()["ratings"] == {}
    enter("rating", "jowls", {"right": 1, "left": 1})
    assert intake()["concerns"] == ["jowls", "eye-less-open"]
