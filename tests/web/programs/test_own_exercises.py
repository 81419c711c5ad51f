"""A practice's own exercises over the wire: written, looked at, with clip and picture, out and in as a file."""

import io
import json
import zipfile
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Family
from dimbo.store.people import accounts
from dimbo.work import removing
from dimbo.work.exercises import media
from tests.clips import film
from tests.web.conftest import HASH, make_practice, new_program
from tests.web.practising import todays

from ..people.test_gate import PICTURE


@pytest.fixture
def program(drafted):
    return drafted(flat_cheeks=(3, 2), jaw_tension=(1, 1))


def written(coach, exercise="lip-seal", **changed):
    found = coach.get(f"/api/exercises/{exercise}/written").json()
    return {"family": found["family"], "entry": found["entry"] | changed}


def test_an_exercise_of_ones_own_is_copied_edited_and_used(coach, practice):
    made = coach.post("/api/exercises", json=written(coach, name="Harbour lip rest", target="1×5 h6")).json()["id"]
    assert made == "own-harbour-lip-rest"
    card = coach.get(f"/api/exercises/{made}").json()
    assert card["own"] and card["rungs"][-1]["line"] == "1×5 h6"
    again = coach.post("/api/exercises", json=written(coach, name="Harbour lip rest"))
    assert again.status_code == 409
    body = written(coach, made, purpose="Rest, and nothing else.") | {"base_version": 1}
    assert coach.put(f"/api/exercises/{made}", json=body).json() == {"version": 2}
    assert coach.put(f"/api/exercises/{made}", json=body).status_code == 409
    assert made in [c["id"] for c in coach.get("/api/catalogue").json()["cards"]]


def test_an_own_exercise_has_an_eased_version_of_its_own_that_asks_for_less(coach):
    easier = {"cues": ["Lips touch.", "Let them rest."], "dose": "1×2 h2"}
    made = coach.post("/api/exercises", json=written(coach, name="Mine", easier=easier)).json()["id"]
    assert coach.get(f"/api/exercises/{made}").json()["easier"] == easier
    more = coach.post("/api/exercises", json=written(coach, name="More", easier=easier | {"dose": "3×9 h9"}))
    assert more.status_code == 422 and more.json()["field"] == "easier"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": "!!"}, "name"),
        ({"start": "many"}, "start"),
        ({"target": "9×20 h9"}, "target"),
        ({"axes": ["reps"]}, "axes"),
        ({"prime_movers": ["smile_muscle"]}, "prime_movers"),
        ({"cues": ["One."]}, "cues"),
        ({"faults": []}, "faults"),
        ({"stop_rule": ""}, "stop_rule"),
        ({"figure": {"mouth": "whistling"}}, "figure"),
        ({"cues": ["Lips soft.", "Press both temples."]}, "regions"),
        ({"cues": ["Lips soft.", "Hold your breath for three."]}, "marks"),
    ],
)
def test_a_card_that_cannot_be_taught_is_refused_with_its_field(coach, change, field):
    answer = coach.post("/api/exercises", json=written(coach, **({"name": "Mine"} | change)))
    assert answer.status_code == 422 and str(answer.json()["field"]).split(".")[0] == field, answer.text


def test_a_caution_holds_an_own_exercise_where_its_words_reach(coach, practice):
    words = ["Lips soft.", "Press both temples."]
    made = coach.post("/api/exercises", json=written(coach, name="Mine", cues=words, regions=["temple"])).json()["id"]
    program = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "Own", "weeks": 1, "source": "empty"}).json()["id"]
    document = coach.get(f"/api/programs/{program}").json()["document"]
    line = coach.post("/api/sheet/line", json={"client_id": str(practice.client_id), "document": document, "exercise": made}).json()
    coach.put(f"/api/programs/{program}", json={"base_revision": 1, "title": "Own", "document": document | {"lines": [line]}})
    value = {"answer": "yes", "regions": ["temple"], "event_on": "2026-01-10"}
    entry = {"id": str(uuid4()), "kind": "caution", "key": "muscle-injection", "value": value}
    assert coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [entry]}).status_code == 200
    seen = coach.get(f"/api/programs/{program}").json()
    refused = coach.post(f"/api/programs/{program}/assignment", json={"start": seen["client_today"]})
    assert refused.status_code == 422 and "Mine" in refused.json()["message"]


def test_a_running_program_keeps_the_card_it_was_assigned_with(coach, client, practice, program):
    made = coach.post("/api/exercises", json=written(coach, name="Mine", after=[])).json()["id"]
    body = {"client_id": program["client_id"], "document": program["document"], "exercise": made}
    line = coach.post("/api/sheet/line", json=body).json()
    document = program["document"] | {"lines": [*program["document"]["lines"][:1], line]}
    coach.put(f"/api/programs/{program['id']}", json={"base_revision": 1, "title": "Eyes", "document": document})
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    body = written(coach, made, cues=["Quite other words.", "And again."]) | {"base_version": 1}
    assert coach.put(f"/api/exercises/{made}", json=body).status_code == 200
    assert coach.post(f"/api/exercises/{made}/retire", json={"retired": True}).status_code == 204

    def cues(answer):
        return next(i["cues"] for i in answer["session"]["items"] if i["exercise"] == made)

    assert cues(todays(client))[0] == "Lips together, flat and long."
    assert "Quite other words." in coach.get(f"/api/exercises/{made}").json()["cues"]
    sheet = coach.get(f"/api/programs/{program['id']}").json()["sheet"]
    assert made in [n["exercise"] for n in sheet["lines"]], "a retired exercise stays in old programs"
    assert next(c for c in coach.get("/api/catalogue").json()["cards"] if c["id"] == made)["retired"]


def test_shipped_cards_cannot_be_changed_and_own_ones_stay_in_the_house(coach, practice, db, owner, browser):
    assert coach.put("/api/exercises/oval-lift", json=written(coach) | {"base_version": 1}).status_code == 404
    made = coach.post("/api/exercises", json=written(coach, name="Ours alone")).json()["id"]
    kept = coach.post("/api/templates", json={"program_id": new_program(coach, practice.client_id)}).json()["id"]
    other = browser(make_practice(db, owner, "quarry").coach_email)
    assert other.get(f"/api/exercises/{made}").status_code == 404
    assert other.get(f"/api/templates/{kept}").status_code == 404
    assert not any(r["own"] for r in other.get("/api/templates").json())


def test_every_figure_goes_over_the_wire_as_the_card_has_it(coach):
    for card in shipped_catalogue().cards.values():
        if card.figure.view == "front" and card.id not in ("oval-lift", "wink-warm"):
            continue
        figure = coach.get(f"/api/exercises/{card.id}").json()["figure"]
        for key in ("view", "mouth", "eyes", "brows", "head", "moves", "one_side"):
            own = getattr(card.figure, key)
            assert figure[key] == json.loads(json.dumps(own)), (card.id, key)


def test_a_card_tells_its_cautions_from_the_one_table(coach):
    card = coach.get("/api/exercises/bracket-open").json()
    told = {c["about"]: c["effect"] for c in card["cautions"]}
    assert told["Glaucoma"] == "lock" and told["Dry eyes"] == "ease" and told["Contact lenses"] == "remind"
    assert card["figure"]["words"][0].startswith("Index finger: rests still, the middle of the brow")
    lip = next(c for c in coach.get("/api/catalogue").json()["cards"] if c["id"] == "upper-lip-lengthen")
    assert set(lip["forbidden_by"]) == {"balanced", "strength-first"}


# While it is written


def looked(coach, body, exercise="new"):
    return coach.post(f"/api/exercises/{exercise}/look", json=body).json()


def test_everything_that_is_missing_is_said_at_once(coach):
    blank = coach.get("/api/exercises/blank", params={"family": "release"}).json()
    seen = looked(coach, {"family": "release", "entry": blank["entry"]})
    faults = {f["field"]: f["words"] for f in seen["faults"]}
    assert set(faults) == {"name", "purpose", "concerns", "cues", "felt_at", "faults", "eased"}
    assert set(faults.values()) == {"Nothing stands here yet."}
    assert seen["card"] is None and seen["played"] is None and seen["figure"]["view"] == "front"


@pytest.mark.parametrize("family", list(Family))
def test_a_blank_of_every_family_only_wants_words(coach, family):
    entry = coach.get("/api/exercises/blank", params={"family": family}).json()["entry"]
    words = {"name": "Slow own way", "purpose": "To find out.", "concerns": ["jaw-tension"], "felt_at": "The cheek.", "eased": "Do less."}
    more = {"cues": ["Sit tall.", "Let go."], "faults": [{"fault": "Too fast", "remedy": "Slower"}], "prime_movers": ["masseter"]}
    hand = {"figure": {"hands": [{"with": "fingers", "at": "cheek", "do": "press"}]}} if entry["pressure"] != "none" else {}
    seen = looked(coach, {"family": family, "entry": entry | words | more | hand})
    assert seen["faults"] == []
    assert seen["card"]["name"] == "Slow own way"
    if family is Family.HABIT:
        assert seen["played"] is None, "a habit is ticked and not played"
    else:
        assert sum(c["length_s"] for c in seen["played"]["cues"]) == pytest.approx(seen["played"]["item"]["seconds"], abs=0.2)


def test_a_look_keeps_nothing_and_shows_the_figure_whatever_else_is_missing(coach):
    figure = {"hands": [{"with": "index", "path": ["temple", "ear-front"], "do": "stroke"}], "mouth": "rest > smile"}
    seen = looked(coach, written(coach, name="", figure=figure))
    assert "stroke" in seen["hands"] or "strokes" in seen["hands"]
    assert seen["figure"]["mouth"] == ["rest", "smile"] and [f["field"] for f in seen["faults"]] == ["name"]
    assert not [c for c in coach.get("/api/catalogue").json()["cards"] if c["own"]]
    assert coach.get("/api/exercises/blank", params={"family": "magic"}).status_code == 422


@pytest.mark.parametrize("moves", [[[]], [["cheek"]]])
def test_a_way_without_its_two_places_is_a_fault_and_no_failure(coach, moves):
    body = written(coach, name="Mine", figure={"moves": moves})
    (fault,) = looked(coach, body)["faults"]
    assert fault["field"] == "figure" and "choose both" in fault["words"]
    assert coach.post("/api/exercises", json=body).json()["field"] == "figure"


@pytest.mark.parametrize(("name", "made"), [("Wange à la mer", "own-wange-la-mer"), ("頬を上げる", "own-")])
def test_names_of_any_script_and_directions_of_any_length(coach, name, made):
    body = written(coach, "cheek-pulse", name=name)
    ways = ["up", "outward, toward the upper rim of the ear and no farther than the skin goes by itself"]
    body["entry"]["phases"][0]["directions"] = ways
    body["entry"] |= {"start": "1×2 h0.5", "target": "1×4 h0.5", "easier": None, "axes": ["reps"]}
    answer = coach.post("/api/exercises", json=body)
    assert answer.status_code == 201 and answer.json()["id"].startswith(made), answer.text
    assert len(answer.json()["id"]) > 5


# Clips and pictures


def kept(coach, data, kind="clip", name="lift.webm", **form):
    return coach.post("/api/exercise-media", files={"file": (name, data, "application/octet-stream")}, data={"kind": kind, **form})


@pytest.fixture
def clip(coach):
    return kept(coach, film(3), from_s="0.5", to_s="2.5").json()


def with_clip(coach, clip, name="Shown", **changed):
    body = written(coach, name=name, after=[], clip=clip, **changed)
    return coach.post("/api/exercises", json=body)


def test_a_clip_is_cut_made_small_and_served_by_range(coach, clip):
    assert clip["seconds"] == pytest.approx(2.0, abs=0.1) and clip["sound"] is False
    path = f"/api/exercise-media/{clip['hash']}/clip.mp4"
    whole = coach.get(path)
    size = len(whole.content)
    assert (whole.status_code, whole.headers["content-type"], whole.headers["accept-ranges"]) == (200, "video/mp4", "bytes")
    assert whole.headers.get("content-encoding") is None and int(whole.headers["content-length"]) == size
    parts = {"bytes=0-99": (0, 100), "bytes=100-": (100, size), "bytes=-50": (size - 50, size), f"bytes=5-{size * 2}": (5, size)}
    for asked, want in parts.items():
        part = coach.get(path, headers={"range": asked})
        assert part.status_code == 206 and part.content == whole.content[slice(*want)], asked
        assert part.headers["content-range"] == f"bytes {want[0]}-{want[1] - 1}/{size}"
    for beyond in (f"bytes={size}-", "bytes=9-5", "bytes=-0"):
        answer = coach.get(path, headers={"range": beyond})
        assert (answer.status_code, answer.headers["content-range"]) == (416, f"bytes */{size}"), beyond
    for other in ("bytes=0-1,4-5", "lines=1-2", "bytes=x"):
        assert coach.get(path, headers={"range": other}).content == whole.content
    assert coach.get(path, headers={"range": "bytes=0-9", "if-range": '"another"'}).status_code == 200
    assert coach.get(path, headers={"if-none-match": whole.headers["etag"]}).status_code == 304
    still = coach.get(f"/api/exercise-media/{clip['hash']}/still.jpg")
    assert still.headers["content-type"] == "image/jpeg" and still.content[:2] == b"\xff\xd8"


@pytest.mark.parametrize(
    ("data", "form", "says"),
    [
        (b"not a film", {}, "no clip that can be read"),
        (None, {"from_s": "2", "to_s": "1"}, "must end after it begins"),
        (None, {"from_s": "0", "to_s": "61"}, "at most 60 seconds"),
        (None, {"from_s": "30", "to_s": "40"}, "Nothing is seen in this part"),
    ],
)
def test_what_is_no_clip_is_refused_in_words(coach, data, form, says):
    answer = kept(coach, data or film(1), **form)
    assert answer.status_code == 422 and says in answer.json()["message"], answer.text


def test_a_picture_is_kept_without_what_its_file_tells(coach):
    made = kept(coach, PICTURE, kind="picture", name="me.jpg").json()
    assert made["seconds"] == 0
    body = written(coach, name="Pictured", picture={"hash": made["hash"]})
    assert coach.get(f"/api/exercises/{coach.post('/api/exercises', json=body).json()['id']}").json()["picture"] == made["hash"]
    seen = coach.get(f"/api/exercise-media/{made['hash']}/still.jpg").content
    assert b"Exif" not in seen and seen[:2] == b"\xff\xd8"


def test_only_who_has_the_exercise_sees_its_clip(coach, client, browser, practice, program, clip, db, owner):
    path = f"/api/exercise-media/{clip['hash']}"
    made = with_clip(coach, {k: clip[k] for k in ("hash", "seconds", "sound")}).json()["id"]
    assert client.get(f"{path}/clip.mp4").status_code == client.get(f"{path}/still.jpg").status_code == 404, "not assigned yet"
    body = {"client_id": program["client_id"], "document": program["document"], "exercise": made}
    line = coach.post("/api/sheet/line", json=body).json()
    document = program["document"] | {"lines": [line]}
    coach.put(f"/api/programs/{program['id']}", json={"base_revision": 1, "title": "Eyes", "document": document})
    assert coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]}).status_code == 201
    (item,) = todays(client)["session"]["items"]
    assert item["clip"]["hash"] == clip["hash"] and item["first_time"]
    assert client.get(f"{path}/clip.mp4", headers={"range": "bytes=0-9"}).status_code == 206
    other = make_practice(db, owner, "quarry")
    for stranger in (browser(other.coach_email), browser(other.client_email)):
        assert stranger.get(f"{path}/clip.mp4").status_code == stranger.get(f"{path}/still.jpg").status_code == 404
    assert browser().get(f"{path}/clip.mp4").status_code == 401
    # A clip that is taken off the exercise stays with the program that was assigned with it.
    coach.put(f"/api/exercises/{made}", json=written(coach, made, clip=None) | {"base_version": 1})
    removing.forget(db, datetime.now(UTC) + timedelta(days=9))
    assert client.get(f"{path}/clip.mp4").status_code == 200


def test_a_clip_that_no_exercise_names_goes_and_one_that_is_gone_is_said(coach, clip, db):
    used = kept(coach, film(1, shade=90)).json()
    assert with_clip(coach, {k: used[k] for k in ("hash", "seconds", "sound")}).status_code == 201
    removing.forget(db, datetime.now(UTC))
    assert coach.get(f"/api/exercise-media/{clip['hash']}/still.jpg").status_code == 200, "just kept, and perhaps being written about"
    removing.forget(db, datetime.now(UTC) + timedelta(days=9))
    assert coach.get(f"/api/exercise-media/{clip['hash']}/still.jpg").status_code == 404
    assert coach.get(f"/api/exercise-media/{used['hash']}/still.jpg").status_code == 200
    answer = with_clip(coach, {k: clip[k] for k in ("hash", "seconds", "sound")}, name="Late")
    assert (answer.status_code, answer.json()["field"]) == (422, "clip")


def test_clips_of_a_practice_take_a_bounded_room(coach, clip, monkeypatch):
    monkeypatch.setattr(media, "MOST_ROOM", 5_000)
    answer = kept(coach, film(3, size=(640, 480), shade=20))
    assert (answer.status_code, answer.json()["code"], answer.json()["field"]) == (422, "bounds", "file"), answer.text


# One file


def test_an_exercise_goes_out_and_in_with_clip_and_picture(coach, browser, clip, db, owner):
    picture = {"hash": kept(coach, PICTURE, kind="picture", name="me.jpg").json()["hash"]}
    made = with_clip(coach, {k: clip[k] for k in ("hash", "seconds", "sound")}, name="Travels", picture=picture).json()["id"]
    file = coach.get(f"/api/exercises/{made}/file.zip")
    assert "Travels.exercise.zip" in file.headers["content-disposition"]
    assert file.content == coach.get(f"/api/exercises/{made}/file.zip").content
    other = browser(make_practice(db, owner, "quarry").coach_email)
    there = other.post("/api/exercises/import", files={"file": ("a.zip", file.content, "application/zip")})
    assert there.status_code == 201, there.text
    card = other.get(f"/api/exercises/{there.json()['id']}").json()
    assert (card["name"], card["own"]) == ("Travels", True) and card["picture"]
    assert card["clip"]["seconds"] == pytest.approx(clip["seconds"], abs=0.1)
    assert other.get(f"/api/exercise-media/{card['clip']['hash']}/clip.mp4").status_code == 200
    again = other.post("/api/exercises/import", files={"file": ("a.zip", file.content, "application/zip")})
    assert again.status_code == 409


def packed(**files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        for name, data in files.items():
            z.writestr(name.replace("_", "."), data)
    return out.getvalue()


ENTRY = {"format": "dimbo-exercise", "version": 1, "family": "release", "exercise": {}}


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"PK no", "not a ZIP archive"),
        (packed(other_txt="x"), "no exercise.json"),
        (packed(exercise_json="{"), "is broken"),
        (packed(exercise_json="[]"), "does not say “format”"),
        (packed(exercise_json=json.dumps(ENTRY | {"version": 7})), "version 7"),
        (packed(exercise_json=json.dumps(ENTRY)), "name"),
        (packed(exercise_json=" " * 300_000), "larger than an exercise can have"),
        (packed(exercise_json=json.dumps(ENTRY), clip_mp4=b"\0" * 1000), "no clip that can be read"),
    ],
)
def test_a_file_that_is_no_exercise_is_refused_in_words(coach, data, says):
    answer = coach.post("/api/exercises/import", files={"file": ("a.zip", data, "application/zip")})
    assert answer.status_code == 422 and says in answer.json()["message"], answer.text
    assert not [c for c in coach.get("/api/catalogue").json()["cards"] if c["own"]]


def test_an_assistant_uses_own_exercises_and_does_not_write_them(coach, browser, practice, db):
    with db.practice(practice.id) as conn:
        accounts.create(conn, practice.id, "coach", None, "Help", "help@harbour.example", HASH, standing="assistant")
    helper = browser("help@harbour.example")
    assert kept(helper, film(1)).status_code == 403
    assert helper.post("/api/exercises/import", files={"file": ("a.zip", b"x", "application/zip")}).status_code == 403


def test_a_program_carries_the_exercises_that_are_ones_own(coach, practice, program, browser, db, owner, clip):
    made = with_clip(coach, {k: clip[k] for k in ("hash", "seconds", "sound")}, name="Carried along").json()["id"]
    body = {"client_id": program["client_id"], "document": program["document"], "exercise": made}
    document = program["document"] | {"lines": [coach.post("/api/sheet/line", json=body).json()]}
    coach.put(f"/api/programs/{program['id']}", json={"base_revision": 1, "title": "Eyes", "document": document})
    text = coach.get(f"/api/programs/{program['id']}/program.json").text
    there = make_practice(db, owner, "quarry")
    other, path = browser(there.coach_email), f"/api/clients/{there.client_id}/programs/import"
    file = {"file": ("program.json", text, "application/json")}
    (unknown,) = other.post(f"{path}/preview", files=file).json()["unknown"]
    assert (unknown["name"], unknown["comes"]) == ("Carried along", True)
    arrived = other.post(path, files=file, data={"choices": json.dumps({made: "bring"})})
    assert arrived.status_code == 201, arrived.text
    (line,) = other.get(f"/api/programs/{arrived.json()['id']}").json()["document"]["lines"]
    card = other.get(f"/api/exercises/{line['exercise']}").json()
    assert (card["name"], card["own"], card["clip"]) == ("Carried along", True, None), "clips travel with the exercise's own file"
    assert other.post(f"{path}/preview", files=file).json()["unknown"] == []
    changed = text.replace(made, "own-elsewhere")
    clash = other.post(path, files={"file": ("p.json", changed, "application/json")}, data={"choices": '{"own-elsewhere": "bring"}'})
    assert clash.status_code == 409 and "of that name already" in clash.json()["message"]
    bare = json.loads(changed)
    bare["exercises"][0]["written"] = None
    refused = other.post(path, files={"file": ("p.json", json.dumps(bare), "x")}, data={"choices": '{"own-elsewhere": "bring"}'})
    assert refused.status_code == 422 and "does not say how" in refused.json()["message"]
