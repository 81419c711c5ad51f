"""Sittings over the wire: pieces, links, who may see, answers, points by hand, rounds of rating, and what goes out."""

import csv
import io
import json
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from openpyxl import load_workbook
from PIL import Image

from dimbo.core.sittings.reading_table import READINGS
from dimbo.store.people import accounts
from dimbo.store.people.accounts import Person
from dimbo.store.sittings import photographs
from dimbo.vision.stand_in_camera import shoot, true_points
from dimbo.vision.terms import METHOD, Scene
from dimbo.work.intake import consenting
from dimbo.work.shared.queue import READ_AGAIN, defer
from dimbo.work.shared.turns import Turns
from dimbo.work.sittings import analysing, reading_again, taking
from dimbo.work.sittings.reading_again import read_some
from tests.web.conftest import HASH, make_practice, new_program
from tests.web.pairs import MORNING, bench, open_sitting, upload

from .test_sittings import work


def photo_of(view, photo_id):
    return next(p for s in view["sittings"] for p in s["photographs"] if p["id"] == photo_id)


def test_a_real_gain_is_told_with_its_numbers(coach, practice, pair):
    view = bench(coach, practice)
    found = {c["id"]: c for c in view["comparison"]["changes"]}
    eye = found["fissure_height"]
    assert eye["verdict"] == "beyond noise" and eye["direction"] == "toward symmetry"
    assert abs(eye["amount"]) > eye["mdc"] > 0 and 1.5 < eye["before"] < 3
    assert eye["sentence"].startswith("The right eye opens more than at the baseline")
    assert view["sittings"][0]["asymmetry"]["percent"] > view["sittings"][1]["asymmetry"]["percent"]
    assert {n["id"] for n in view["comparison"]["notes"]} >= {"primary", "shots"}
    back = bench(coach, practice, before=pair[1][0], after=pair[0][0])["comparison"]
    assert next(c for c in back["changes"] if c["id"] == "fissure_height")["direction"] == "away from symmetry"
    assert coach.get(f"/api/clients/{practice.client_id}/sittings", params={"before": str(uuid4())}).status_code == 404


def test_a_point_set_by_hand_is_previewed_kept_marked_and_put_back(coach, practice, pair):
    _, photo = pair[1]
    before = bench(coach, practice)
    x, y = photo_of(before, photo)["points"]["ps_right"]
    moves = {"moves": {"ps_right": [x, y + 8]}}
    tried = coach.post(f"/api/photographs/{photo}/points/preview", json=moves).json()
    value = next(r for r in tried["readings"] if r["id"] == "fissure_height")["value"]
    was = next(r for r in before["sittings"][1]["readings"] if r["id"] == "fissure_height")["value"]
    assert value > was + 1.5
    assert photo_of(bench(coach, practice), photo)["hand"] == {}, "a preview keeps nothing"
    assert coach.put(f"/api/photographs/{photo}/points", json=moves).status_code == 204
    kept = photo_of(bench(coach, practice), photo)
    assert list(kept["hand"]) == ["ps_right"] and kept["points"]["ps_right"] == pytest.approx([x, y + 8], abs=0.01)
    assert coach.put(f"/api/photographs/{photo}/points", json={"moves": {"ps_right": None}}).status_code == 204
    again = photo_of(bench(coach, practice), photo)
    assert again["hand"] == {} and again["points"]["ps_right"] == pytest.approx([x, y])


@pytest.mark.parametrize(("moves", "says"), [({"nose": [1, 2]}, "no point of this view"), ({"me": [99999, 2]}, "outside the picture")])
def test_moves_that_cannot_be_are_refused_whole(coach, practice, pair, moves, says):
    _, photo = pair[0]
    answer = coach.put(f"/api/photographs/{photo}/points", json={"moves": {"ch_left": [5, 5]} | moves})
    assert answer.status_code == 422 and says in answer.json()["message"] and answer.json()["field"].startswith("moves.")
    assert photo_of(bench(coach, practice), photo)["hand"] == {}


def test_a_flipped_photograph_is_measured_and_set_the_right_way_round(coach, practice, db):
    sitting, photo = open_sitting(coach, practice), str(uuid4())
    upload(coach, sitting, shoot(Scene(identity="aster", state="uneven", seed=1, flipped=True)).jpeg(MORNING), photograph_id=photo)
    analysing.analyse(db, practice.id, photo)

    def eye():
        return next(r for r in bench(coach, practice)["sittings"][0]["readings"] if r["id"] == "fissure_height")

    assert eye()["smaller_side"] == "left"
    assert coach.patch(f"/api/photographs/{photo}", json={"flipped": True}).status_code == 204
    assert eye()["smaller_side"] == "right"
    shown = photo_of(bench(coach, practice), photo)
    assert shown["points"]["ch_right"][0] < shown["points"]["ch_left"][0]
    place = shown["points"]["ch_left"]
    coach.put(f"/api/photographs/{photo}/points", json={"moves": {"ch_left": [place[0] + 3, place[1]]}})
    assert photo_of(bench(coach, practice), photo)["points"]["ch_left"] == pytest.approx([place[0] + 3, place[1]], abs=0.01)


def test_views_are_suggested_and_confirmed(coach, practice, db):
    sitting = open_sitting(coach, practice)
    for state in ("even", "full", "quarter_right"):
        photo = str(uuid4())
        upload(coach, sitting, shoot(Scene(identity="birch", state=state, seed=1)).jpeg(MORNING), photograph_id=photo, view=None)
        analysing.analyse(db, practice.id, photo)
    shots = bench(coach, practice)["sittings"][0]["photographs"]
    assert {p["view"] for p in shots} == {"front-neutral", "full-smile", "three-quarter-right"}
    assert not any(p["confirmed"] for p in shots) and bench(coach, practice)["sittings"][0]["readings"] == []
    assert coach.post(f"/api/sittings/{sitting}/confirm-views").json() == {"count": 3}
    assert bench(coach, practice)["sittings"][0]["readings"]
    refused = coach.patch(f"/api/photographs/{shots[0]['id']}", json={"view": "from above"})
    assert refused.status_code == 422 and refused.json()["field"] == "view"


def test_a_profile_is_kept_and_its_angles_come_from_points_by_hand(coach, practice, db):
    sitting, photo = open_sitting(coach, practice), str(uuid4())
    upload(
        coach,
        sitting,
        shoot(Scene(identity="elder", state="profile_left", repose=0)).jpeg(MORNING),
        photograph_id=photo,
        view="profile-left",
    )
    analysing.analyse(db, practice.id, photo)
    shot = photo_of(bench(coach, practice), photo)
    assert shot["state"] == "measured" and [r["value"] for r in shot["profile"]] == [None] * 3
    coach.put(f"/api/photographs/{photo}/points", json={"moves": true_points("elder", "profile_left")})
    angles = {r["id"]: r["value"] for r in photo_of(bench(coach, practice), photo)["profile"]}
    assert 80 < angles["cervicomental_angle"] < 140 and 30 < angles["craniovertebral_angle"] < 80


def test_the_first_answer_about_mirroring_is_of_the_whole_sitting_and_later_ones_of_one_photograph(coach, practice, db):
    first = open_sitting(coach, practice)
    shots = [str(uuid4()) for _ in range(3)]
    for seed, photo in enumerate(shots):
        upload(coach, first, shoot(Scene(identity="aster", state="uneven", seed=seed, flipped=True)).jpeg(MORNING), photograph_id=photo)
        analysing.analyse(db, practice.id, photo)
    found = bench(coach, practice)
    assert [p["asks_way"] for p in found["sittings"][0]["photographs"]] == [True, False, False]
    before = next(r for r in found["sittings"][0]["readings"] if r["id"] == "commissure_height")["value"]
    assert coach.patch(f"/api/photographs/{shots[0]}", json={"flipped": True}).status_code == 204
    found = bench(coach, practice)
    assert all(p["flipped"] and not p["asks_way"] for p in found["sittings"][0]["photographs"])
    after = next(r for r in found["sittings"][0]["readings"] if r["id"] == "commissure_height")["value"]
    assert after == pytest.approx(-before, abs=0.3) and abs(before) > 0.5, "every side is the other one"
    coach.patch(f"/api/photographs/{shots[1]}", json={"flipped": False})
    assert [p["flipped"] for p in bench(coach, practice)["sittings"][0]["photographs"]] == [True, False, True]


def test_an_answer_about_a_later_photograph_turns_that_one_only(coach, practice, pair):
    """Answered before the question about the first: one selfie among others says nothing of their camera."""
    later = pair[1][0]
    other = str(uuid4())
    upload(coach, later, shoot(Scene(identity="aster", state="even", seed=9)).jpeg(MORNING), photograph_id=other)
    assert coach.patch(f"/api/photographs/{pair[1][1]}", json={"flipped": True}).status_code == 204
    found = bench(coach, practice)
    assert photo_of(found, pair[1][1])["flipped"] and not photo_of(found, other)["flipped"]


def _profile(coach, practice, db, day, **scene):
    sitting, photo = open_sitting(coach, practice, day), str(uuid4())
    picture = shoot(Scene(identity="elder", state="profile_left", **scene))
    upload(coach, sitting, picture.jpeg(datetime.fromisoformat(f"{day}T08:40:00+00:00")), photograph_id=photo, view="profile-left")
    analysing.analyse(db, practice.id, photo)
    return photo, picture.points


def test_points_set_twice_tell_the_noise_of_setting_and_no_reading_is_taken_from_the_second(coach, practice, db):
    photo, points = _profile(coach, practice, db, "2026-03-02", repose=0)
    path = f"/api/photographs/{photo}/points"
    answer = coach.put(path, json={"moves": points, "again": True})
    assert answer.status_code == 422 and "first time" in answer.json()["message"], "nothing is set again that was not set"
    assert coach.put(path, json={"moves": points}).status_code == 204
    before = {r["id"]: r for r in photo_of(bench(coach, practice), photo)["profile"]}
    assert all(r["again"] is None and r["pictures"] == 0 for r in before.values())
    second = {n: [x + 2, y - 3] if n == "me" else [x, y] for n, (x, y) in points.items()}
    assert coach.put(path, json={"moves": second, "again": True}).status_code == 204
    after = {r["id"]: r for r in photo_of(bench(coach, practice), photo)["profile"]}
    assert {k: r["value"] for k, r in after.items()} == {k: r["value"] for k, r in before.items()}
    angle = after["cervicomental_angle"]
    assert angle["pictures"] == 1 and angle["again"] != angle["value"] and angle["band"] < before["cervicomental_angle"]["band"]


def test_only_profiles_are_set_again(coach, practice, pair):
    answer = coach.put(f"/api/photographs/{pair[0][1]}/points", json={"moves": {"ch_left": [400, 700]}, "again": True})
    assert answer.status_code == 422 and answer.json()["field"] == "again"


def test_two_profiles_are_compared_against_that_noise_and_the_earlier_suggests_the_laters_points(coach, practice, db):
    first, points = _profile(coach, practice, db, "2026-03-02", repose=0)
    coach.put(f"/api/photographs/{first}/points", json={"moves": points})
    second, there = _profile(coach, practice, db, "2026-04-20", seed=4)
    assert photo_of(bench(coach, practice), second)["suggested_points"] == {}
    coach.put(f"/api/photographs/{second}/points", json={"moves": {n: there[n] for n in ("sn", "c7")}})
    hints = photo_of(bench(coach, practice), second)["suggested_points"]
    assert set(hints) == set(points) - {"sn", "c7"}
    for name, place in hints.items():
        assert place == pytest.approx(there[name], abs=1.0), "the same head, turned and sized otherwise"
    coach.put(f"/api/photographs/{second}/points", json={"moves": {**there, "me": [there["me"][0], there["me"][1] + 60]}})
    ids = [s["id"] for s in bench(coach, practice)["sittings"]]
    changes = {c["id"]: c for c in bench(coach, practice, before=ids[0], after=ids[1])["profile_changes"]}
    assert set(changes) == {"cervicomental_angle", "craniovertebral_angle", "chin_neck_ratio"}
    assert not changes["craniovertebral_angle"]["beyond"] and changes["cervicomental_angle"]["beyond"]


def test_a_profile_among_front_views_and_a_front_among_profiles_are_said(coach, practice, db):
    sitting = open_sitting(coach, practice)
    for view, state in (("front-neutral", "profile_left"), ("front-neutral", "quarter_left")):
        photo = str(uuid4())
        upload(coach, sitting, shoot(Scene(identity="elder", state=state, seed=1)).jpeg(MORNING), photograph_id=photo, view=view)
        analysing.analyse(db, practice.id, photo)
    shots = bench(coach, practice)["sittings"][0]["photographs"]
    assert {p["state"] for p in shots} == {"refused", "measured"}
    turned = next(p for p in shots if p["state"] == "measured")
    assert turned["standing"] == "to be retaken" and "turned" in turned["quality"][0]["found"]


def test_a_profile_among_uploads_is_kept_once_it_is_called_one(coach, practice, db, cluster, database_name):
    sitting, photo = open_sitting(coach, practice), str(uuid4())
    upload(coach, sitting, shoot(Scene(identity="elder", state="profile_left", seed=1)).jpeg(MORNING), photograph_id=photo, view=None)
    work(cluster, database_name)
    assert photo_of(bench(coach, practice), photo)["state"] == "refused"
    assert coach.patch(f"/api/photographs/{photo}", json={"view": "profile-left"}).status_code == 204
    work(cluster, database_name)
    shot = photo_of(bench(coach, practice), photo)
    assert (shot["state"], shot["refusal"], shot["view"]) == ("measured", "", "profile-left")


def test_a_time_that_nobody_told_is_asked_and_a_future_one_refused(coach, practice, db):
    sitting = open_sitting(coach, practice)
    for taken in (None, datetime.now(UTC) + timedelta(days=400)):
        photo = str(uuid4())
        upload(coach, sitting, shoot(Scene(identity="fern", state="even", seed=taken is None)).jpeg(taken), photograph_id=photo)
        analysing.analyse(db, practice.id, photo)
        shot = photo_of(bench(coach, practice), photo)
        assert shot["taken_at"] is None and shot["taken_told"] == "nobody"
    late = (datetime.now(UTC) + timedelta(days=1)).isoformat()
    assert coach.patch(f"/api/photographs/{photo}", json={"taken_at": late}).json()["field"] == "taken_at"
    assert coach.patch(f"/api/photographs/{photo}", json={"taken_at": "2026-03-02T07:10"}).status_code == 204
    assert photo_of(bench(coach, practice), photo)["taken_at"].startswith("2026-03-02T07:10"), "on the client's own clock"


def pieces(client, base, data, photo, size=60_000, upto=None, view="front-neutral", name="front.jpg"):
    total = len(data)
    for at in range(0, total if upto is None else upto, size):
        answer = client.put(f"{base}/uploads/{photo}", params={"starts_at": at, "total": total}, files={"data": data[at : at + size]})
        assert answer.status_code == 200, answer.text
    if upto is None:
        return client.post(f"{base}/uploads/{photo}/done", data={"name": name, "total": total, "view": view})
    return client.get(f"{base}/uploads/{photo}").json()["received"]


def test_an_upload_goes_on_where_it_stopped_and_arrives_once(coach, practice, owner):
    sitting, photo, data = open_sitting(coach, practice), str(uuid4()), shoot(Scene(identity="cedar")).jpeg(MORNING)
    base = f"/api/sittings/{sitting}"
    assert pieces(coach, base, data, photo, upto=120_000) == 120_000
    early = coach.post(f"{base}/uploads/{photo}/done", data={"name": "front.jpg", "total": len(data)})
    assert early.status_code == 422 and "Send the rest" in early.json()["message"]
    assert pieces(coach, base, data, photo).status_code == 202
    assert pieces(coach, base, data, photo).status_code == 202, "sent again it is the same photograph"
    assert len(bench(coach, practice)["sittings"][0]["photographs"]) == 1
    assert owner.execute("select count(distinct photograph_id) from upload_pieces").fetchone()[0] <= 1


def test_a_whole_file_that_has_to_wait_loses_nothing(coach, practice, monkeypatch):
    sitting, photo, data = open_sitting(coach, practice), str(uuid4()), shoot(Scene(identity="cedar")).jpeg(MORNING)
    with monkeypatch.context() as full:
        full.setattr(taking, "READING", Turns(0, waiting=0, words="Wait a little."))
        assert pieces(coach, f"/api/sittings/{sitting}", data, photo).status_code == 429
    here = coach.get(f"/api/sittings/{sitting}/uploads/{photo}").json()["received"]
    assert here == len(data)
    done = coach.post(f"/api/sittings/{sitting}/uploads/{photo}/done", data={"name": "front.jpg", "total": len(data)})
    assert done.status_code == 202


def test_pieces_out_of_bounds_are_refused(coach, practice):
    base = f"/api/sittings/{open_sitting(coach, practice)}/uploads/{uuid4()}"
    assert coach.put(base, params={"starts_at": 0, "total": 10}, files={"data": b"x" * 11}).status_code == 422
    assert coach.put(base, params={"starts_at": 0, "total": 10**9}, files={"data": b"x"}).json()["field"] == "total"


def test_the_same_file_is_noticed_in_another_sitting_too(coach, practice):
    data = shoot(Scene(identity="cedar")).jpeg(MORNING)
    upload(coach, open_sitting(coach, practice), data)
    twice = upload(coach, open_sitting(coach, practice, "2026-04-02"), data)
    assert twice.status_code == 422 and "sent before" in twice.json()["message"]


def test_a_link_lets_the_client_take_one_sitting_and_nothing_else(coach, browser, practice, db):
    sitting = open_sitting(coach, practice, asked_views=["gentle-smile", "front-neutral"])
    path = coach.post(f"/api/sittings/{sitting}/link").json()["path"]
    token, nobody = path.rsplit("/", 1)[1], browser()
    view = nobody.get(f"/api/taking/{token}").json()
    assert [v["id"] for v in view["views"]] == ["front-neutral", "gentle-smile"] and view["may_keep"]
    photo = str(uuid4())
    assert (
        pieces(nobody, f"/api/taking/{token}", shoot(Scene(identity="aster", state="even", seed=3)).jpeg(MORNING), photo).status_code == 202
    )
    analysing.analyse(db, practice.id, photo)
    shot = nobody.get(f"/api/taking/{token}").json()["shots"][0]
    assert shot["state"] == "measured" and shot["standing"].startswith("accepted")
    assert nobody.get(f"/api/photographs/{photo}.jpg").status_code == 401
    assert nobody.get(f"/api/clients/{practice.client_id}/sittings").status_code == 401
    assert nobody.post(f"/api/taking/{token}/done").status_code == 204
    assert bench(coach, practice)["sittings"][0]["handed_in_at"]
    coach.delete(f"/api/sittings/{sitting}/link")
    assert nobody.get(f"/api/taking/{token}").status_code == 404


def test_a_link_runs_out(coach, browser, practice, owner):
    sitting = open_sitting(coach, practice)
    token = coach.post(f"/api/sittings/{sitting}/link").json()["path"].rsplit("/", 1)[1]
    owner.execute("update sittings set link_expires_at = now() - interval '1 minute'")
    answer = browser().get(f"/api/taking/{token}")
    assert answer.status_code == 422 and "run out" in answer.json()["message"]


def test_without_consent_there_is_neither_link_nor_photograph(coach, practice):
    sitting = open_sitting(coach, practice)
    coach.put(f"/api/clients/{practice.client_id}/consents/photographs", json={"given": False, "version": 1})
    assert coach.post(f"/api/sittings/{sitting}/link").json()["field"] == "consent"
    assert upload(coach, sitting, shoot(Scene(identity="aster")).jpeg()).json()["field"] == "consent"


def test_a_second_coach_sees_photographs_only_with_the_clients_consent(coach, browser, practice, db, owner, pair):
    with db.practice(practice.id) as conn:
        named = accounts.create(conn, practice.id, "coach", None, "Second Coach", "second@harbour.example", HASH)
    second, _photo = browser("second@harbour.example"), pair[0][1]
    assert second.get(f"/api/photographs/{_photo}/small.jpg").status_code == 404
    assert second.get(f"/api/clients/{practice.client_id}/sittings").status_code == 404
    assert second.get(f"/api/clients/{practice.client_id}").json()["sittings"][0]["photographs"] == []
    said = {"given": True, "version": 1, "account": str(named), "how": "in writing"}
    assert coach.put(f"/api/clients/{practice.client_id}/consents/second-coach", json=said | {"how": ""}).json()["field"] == "how"
    assert second.put(f"/api/clients/{practice.client_id}/consents/second-coach", json=said).status_code == 404, "nobody lets themselves in"
    assert coach.put(f"/api/clients/{practice.client_id}/consents/second-coach", json=said).status_code == 200
    assert second.get(f"/api/photographs/{_photo}/small.jpg").status_code == 200
    assert bench(second, practice)["comparison"]["changes"]


def test_primary_readings_are_few_and_locked_once_practice_begins(coach, client, practice, pair):
    path = f"/api/clients/{practice.client_id}/primary-readings"
    assert coach.put(path, json={"readings": list(READINGS)[:4]}).json()["field"] == "readings"
    assert coach.put(path, json={"readings": ["shine"]}).status_code == 422
    assert coach.put(path, json={"readings": ["mouth_width"]}).status_code == 204
    changes = bench(coach, practice)["comparison"]["changes"]
    assert [c["id"] for c in changes if c["primary"]] == ["mouth_width"]
    assert next(c for c in changes if c["id"] == "brow_height")["holm_mdc"] >= next(c for c in changes if c["id"] == "brow_height")["mdc"]


def test_practice_locks_the_primary_readings(coach, practice, owner):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    path = f"/api/clients/{practice.client_id}/primary-readings"
    assert coach.put(path, json={"readings": ["mouth_width"]}).status_code == 204, "assigned, but nothing was practised yet"
    owner.execute(
        "insert into practice_logs (id, practice_id, client_id, assignment_id, day, started_at, ended_at, planned_s, done_s) "
        "select gen_random_uuid(), practice_id, client_id, id, current_date, now(), now(), 60, 60 from assignments"
    )
    answer = coach.put(path, json={"readings": ["jaw_width"]})
    assert answer.status_code == 422 and "locked" in answer.json()["message"]


def test_old_analyses_are_read_again_in_the_background_and_both_are_kept(coach, practice, owner, pair, db):
    owner.execute("update analyses set method = 'mesh-0'")
    assert bench(coach, practice)["outdated"] == 2
    assert read_some(db, most=1) == 1
    found = bench(coach, practice)
    assert found["outdated"] == 1
    assert {p["state"] for s in found["sittings"] for p in s["photographs"]} == {"measured"}, "nobody is told to wait"
    changes = found["comparison"]["changes"]
    assert {c["verdict"] for c in changes} == {"not comparable"} and "still being read" in changes[0]["reason"]
    assert (read_some(db), read_some(db)) == (1, 0)
    found = bench(coach, practice)
    assert found["outdated"] == 0 and {c["verdict"] for c in found["comparison"]["changes"]} != {"not comparable"}
    methods = owner.execute("select method, count(*) from analyses group by 1 order by 1").fetchall()
    assert methods == [("mesh-0", 2), (METHOD, 2)]


def test_what_the_new_version_cannot_read_keeps_its_older_result_and_is_not_tried_for_ever(coach, practice, owner, pair, db):
    owner.execute("update analyses set method = 'mesh-0'")
    first = bench(coach, practice)["sittings"][0]["photographs"][0]["id"]
    blank = io.BytesIO()
    Image.new("RGB", (900, 1200), (128, 128, 128)).save(blank, "JPEG")
    owner.execute("update photographs set image = %s where id = %s", (blank.getvalue(), first))
    assert (read_some(db), read_some(db)) == (2, 0)
    found = bench(coach, practice)
    assert found["outdated"] == 0 and photo_of(found, first)["state"] == "measured"
    assert found["sittings"][0]["readings"], "what the earlier version read is still shown"


def test_the_worker_reads_older_photographs_until_none_is_left(coach, practice, owner, pair, cluster, database_name, monkeypatch):
    monkeypatch.setattr(reading_again, "MOST_AT_ONCE", 1)
    owner.execute("update analyses set method = 'mesh-0'")
    with owner.transaction():
        defer(owner, READ_AGAIN)
    work(cluster, database_name)
    assert bench(coach, practice)["outdated"] == 0


def test_a_blind_round_tells_nothing_until_it_is_finished_and_is_never_edited(coach, practice, pair):
    body = {"kind": "score", "concern": "eye-less-open", "rater": "coach", "before": pair[0][0], "after": pair[1][0]}
    ahead = coach.post(f"/api/clients/{practice.client_id}/rating-rounds/preview", json=body).json()
    assert coach.get(f"/api/clients/{practice.client_id}/rating-rounds").json() == [], "nothing is kept of a preview"
    made = coach.post(f"/api/clients/{practice.client_id}/rating-rounds", json=body)
    assert made.status_code == 201, made.text
    round_id = made.json()["id"]
    look = coach.get(f"/api/rating-rounds/{round_id}/look").json()
    assert (ahead["looks"], ahead["earlier"] + ahead["later"] + ahead["repeats"]) == (look["of"], look["of"])
    assert look["of"] == 3 and set(look) == {"round_id", "kind", "concern", "place", "of", "flipped"}
    assert Image.open(io.BytesIO(coach.get(f"/api/rating-rounds/{round_id}/looks/0/0.jpg").content)).height > 900
    assert coach.post(f"/api/rating-rounds/{round_id}/answers", json={"place": 0, "value": 5}).json()["field"] == "value"
    while look:
        answer = {"place": look["place"], "value": 2}
        look = coach.post(f"/api/rating-rounds/{round_id}/answers", json=answer).json()
        if look:
            unfinished = coach.get(f"/api/clients/{practice.client_id}/rating-rounds").json()[0]
            assert unfinished["change"] is None and unfinished["finished_at"] is None
    done = coach.get(f"/api/clients/{practice.client_id}/rating-rounds").json()[0]
    assert done["change"]["amount"] == 0 and not done["change"]["beyond"] and done["kappa"] == 1
    changed = coach.post(f"/api/rating-rounds/{round_id}/answers", json={"place": 0, "value": 4})
    assert changed.status_code == 422 and "never edited" in changed.json()["message"]


def test_the_better_of_two_counts_the_later_one(coach, practice, pair, owner):
    body = {"kind": "better of two", "concern": "eye-less-open", "rater": "client", "before": pair[0][0], "after": pair[1][0]}
    round_id = coach.post(f"/api/clients/{practice.client_id}/rating-rounds", json=body).json()["id"]
    items = owner.execute("select items from rating_rounds").fetchone()[0]
    for place, item in enumerate(items):
        value = item["photographs"].index(pair[1][1])
        coach.post(f"/api/rating-rounds/{round_id}/answers", json={"place": place, "value": value})
    found = coach.get(f"/api/clients/{practice.client_id}/rating-rounds").json()[0]
    assert (found["preference"]["later"], found["preference"]["of"]) == (1, 1) and found["kappa"] == 1
    assert found["preference"]["low"] < 0.5


def test_readings_go_out_as_csv_with_a_dictionary(coach, practice, pair):
    rows = list(csv.DictReader(io.StringIO(coach.get(f"/api/clients/{practice.client_id}/readings.csv").text)))
    eye = [r for r in rows if r["reading"] == "fissure_height"]
    assert [r["sitting"] for r in eye] == ["2026-03-02", "2026-04-20"]
    assert float(eye[0]["value"]) == pytest.approx(float(eye[0]["left"]) - float(eye[0]["right"]), abs=0.002)
    points = coach.get(f"/api/clients/{practice.client_id}/points.json").json()
    assert {r["client_id"] for r in rows} == {points["client"]} == {str(practice.client_id)}
    assert {r["sitting_id"] for r in rows} == {p["sitting_id"] for p in points["photographs"]}
    answer = coach.get(f"/api/clients/{practice.client_id}/readings.xlsx")
    assert str(practice.client_id) in answer.headers["content-disposition"]
    book = load_workbook(io.BytesIO(answer.content))
    typed = [dict(zip(rows[0], (c.value for c in row), strict=True)) for row in book["readings"].iter_rows(min_row=2)]
    assert [r["value"] for r in typed] == [float(r["value"]) for r in rows] and book["readings dictionary"].max_row > len(READINGS)
    words = list(csv.DictReader(io.StringIO(coach.get("/api/readings-dictionary.csv").text)))
    assert {w["name"] for w in words if w["kind"] == "column"} == set(rows[0])
    assert {w["name"] for w in words if w["kind"] == "reading"} == set(READINGS)


def test_points_go_out_as_json_that_fits_its_schema(coach, practice, pair):
    points = json.loads(coach.get(f"/api/clients/{practice.client_id}/points.json").text)
    schema = coach.get("/api/points.schema.json").json()
    shot = points["photographs"][0]
    wanted = schema["properties"]["photographs"]["items"]
    assert set(wanted["required"]) <= set(shot) <= set(wanted["properties"])
    assert shot["points"]["ch_left"].keys() == {"x", "y", "by_hand"} and not shot["points"]["ch_left"]["by_hand"]


def test_a_comparison_picture_needs_its_own_consent_and_carries_no_metadata(coach, practice, pair):
    path = f"/api/comparisons/{pair[0][1]}/{pair[1][1]}.png"
    refused = coach.get(path)
    assert refused.status_code == 422 and refused.json()["field"] == "consent"
    coach.put(f"/api/clients/{practice.client_id}/consents/comparison", json={"given": True, "version": 1})
    answer = coach.get(path)
    picture = Image.open(io.BytesIO(answer.content))
    assert picture.format == "PNG" and picture.width > 1400 and not picture.getexif() and not picture.info
    assert coach.get(path, params={"match_light": True}).content != answer.content


def test_nobody_elses_photographs_can_be_touched(browser, db, owner, practice, pair):
    stranger = browser(make_practice(db, owner, "hillside").coach_email)
    sitting, photo = pair[0]
    for call in (
        lambda: stranger.patch(f"/api/photographs/{photo}", json={"flipped": True}),
        lambda: stranger.put(f"/api/photographs/{photo}/points", json={"moves": {}}),
        lambda: stranger.post(f"/api/photographs/{photo}/points/preview", json={"moves": {}}),
        lambda: stranger.post(f"/api/sittings/{sitting}/link"),
        lambda: stranger.get(f"/api/sittings/{sitting}/taking"),
        lambda: stranger.get(f"/api/comparisons/{photo}/{photo}.png"),
        lambda: stranger.get(f"/api/clients/{practice.client_id}/readings.csv"),
        lambda: stranger.put(f"/api/sittings/{sitting}/uploads/{uuid4()}", params={"starts_at": 0, "total": 1}, files={"data": b"x"}),
    ):
        assert call().status_code == 404


def test_withdrawing_consent_deletes_pieces_and_points_too(coach, practice, db, owner, pair):
    coach.put(f"/api/photographs/{pair[0][1]}/points", json={"moves": {"me": [10, 10]}})
    sitting = open_sitting(coach, practice, "2026-05-01")
    pieces(coach, f"/api/sittings/{sitting}", shoot(Scene(identity="fern")).jpeg(MORNING), str(uuid4()), upto=60_000)
    person = Person(id=practice.coach_id, practice_id=practice.id, role="coach", client_id=None, name="Coach", practice_name="harbour")
    consenting.choose(
        db, person, practice.client_id, "photographs", consenting.Word(given=False, version=1, deletes=2), now=datetime.now(UTC)
    )
    for table in ("photographs", "analyses", "point_moves", "upload_pieces"):
        assert owner.execute(f"select count(*) from {table}").fetchone()[0] == 0, table
    with db.practice(practice.id) as conn:
        assert photographs.count(conn, practice.client_id) == 0


def test_a_shot_to_be_retaken_says_nothing_to_the_intake(coach, practice, db):
    sitting, photo = open_sitting(coach, practice), str(uuid4())
    upload(coach, sitting, shoot(Scene(identity="elder", state="quarter_left", seed=1)).jpeg(MORNING), photograph_id=photo)
    analysing.analyse(db, practice.id, photo)
    results = coach.get(f"/api/clients/{practice.client_id}/intake").json()["results"]
    assert not any(r.get("measured") for r in results.values())
