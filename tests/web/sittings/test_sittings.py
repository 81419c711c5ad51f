"""Photographs in, refusals in plain words, and readings out of the real worker."""

import asyncio
import io
from datetime import UTC, datetime
from uuid import uuid4

import numpy as np
import pytest
from PIL import Image

from dimbo.ops.settings import Settings
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.worker import run
from tests.web.pairs import upload


def jpeg(image: Image.Image, form="JPEG", **kw) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **kw)
    return out.getvalue()


@pytest.fixture
def sitting(coach, practice):
    return coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": "2026-03-02"}).json()["id"]


def work(cluster, database_name):
    asyncio.run(run(Settings(database_url=cluster.url(database=database_name)), wait=False))


def seen(coach, practice):
    return coach.get(f"/api/clients/{practice.client_id}/sittings").json()["sittings"][0]


def test_two_portraits_become_a_reading_with_its_noise(coach, practice, sitting, cluster, database_name):
    for seed in (1, 2):
        taken = datetime(2026, 3, 2, 8, 40 + seed, tzinfo=UTC)
        assert upload(coach, sitting, shoot(Scene(identity="aster", state="uneven", seed=seed)).jpeg(taken)).status_code == 202
    assert [p["state"] for p in seen(coach, practice)["photographs"]] == ["waiting", "waiting"]
    work(cluster, database_name)
    found = seen(coach, practice)
    assert [p["state"] for p in found["photographs"]] == ["measured", "measured"]
    assert datetime.fromisoformat(found["photographs"][0]["taken_at"]) == datetime(2026, 3, 2, 8, 41, tzinfo=UTC)
    eye = next(r for r in found["readings"] if r["id"] == "fissure_height")
    assert len(eye["shots"]) == 2 and eye["smaller_side"] == "right" and eye["real"]
    assert eye["value"] > eye["band"] > 0 and eye["provisional"]
    assert {q["id"] for q in found["photographs"][0]["quality"]} >= {"turn", "light", "size"}
    assert all(q["why"] for q in found["photographs"][0]["quality"] if q["id"] == "turn")


def test_pictures_without_one_face_are_refused_and_kept_apart(coach, practice, sitting, cluster, database_name):
    grey = Image.fromarray(np.full((900, 700, 3), 128, np.uint8))
    one, two = shoot(Scene(identity="aster")).rgb, shoot(Scene(identity="birch")).rgb
    both = Image.fromarray(np.hstack([one, two]))
    upload(coach, sitting, jpeg(grey), "nobody.jpg")
    upload(coach, sitting, jpeg(both), "both.jpg")
    work(cluster, database_name)
    nobody, pair = seen(coach, practice)["photographs"]
    assert nobody["state"] == pair["state"] == "refused"
    assert "No face" in nobody["refusal"] and "two faces" in pair["refusal"]
    assert seen(coach, practice)["readings"] == []


@pytest.mark.parametrize(
    ("name", "make", "says"),
    [
        ("notes.jpg", lambda: b"Dear coach, here is my photograph.", "not a photograph"),
        ("empty.jpg", lambda: b"", "empty"),
        ("cut.jpg", lambda: shoot(Scene(identity="aster")).jpeg()[:40_000], "damaged"),
        ("small.png", lambda: jpeg(Image.new("RGB", (300, 300)), "PNG"), "300 by 300"),
        ("huge.png", lambda: jpeg(Image.new("L", (11_000, 9_200)), "PNG", compress_level=1), "101 megapixels"),
        (
            "moving.webp",
            lambda: jpeg(Image.new("RGB", (600, 600)), "WEBP", save_all=True, append_images=[Image.new("RGB", (600, 600), "red")]),
            "animated",
        ),
        ("anim.gif", lambda: jpeg(Image.new("P", (600, 600)), "GIF"), "not a photograph"),
    ],
)
def test_files_that_cannot_be_used_say_why_and_nothing_is_kept(coach, practice, sitting, name, make, says):
    answer = upload(coach, sitting, make(), name)
    assert answer.status_code == 422
    assert says in answer.json()["message"] and name in answer.json()["message"]
    assert seen(coach, practice)["photographs"] == []


def test_sent_twice_is_kept_once_and_the_same_file_is_noticed(coach, practice, sitting):
    data, again = shoot(Scene(identity="cedar")).jpeg(), str(uuid4())
    assert upload(coach, sitting, data, photograph_id=again).status_code == 202
    assert upload(coach, sitting, data, photograph_id=again).status_code == 202
    twice = upload(coach, sitting, data)
    assert twice.status_code == 422 and "already" in twice.json()["message"]
    assert len(seen(coach, practice)["photographs"]) == 1


def test_photographs_are_served_only_to_their_practice(coach, browser, db, owner, practice, sitting):
    from tests.web.conftest import make_practice

    photo = str(uuid4())
    upload(coach, sitting, shoot(Scene(identity="fern")).jpeg(), photograph_id=photo)
    mine = coach.get(f"/api/photographs/{photo}.jpg")
    assert mine.headers["content-type"] == "image/jpeg" and mine.headers["cache-control"] == "no-store"
    assert Image.open(io.BytesIO(coach.get(f"/api/photographs/{photo}/small.jpg").content)).height <= 320
    assert not Image.open(io.BytesIO(mine.content)).getexif()
    stranger = browser(make_practice(db, owner, "hillside").coach_email)
    assert stranger.get(f"/api/photographs/{photo}.jpg").status_code == 404
    assert browser().get(f"/api/photographs/{photo}.jpg").status_code == 401


def test_the_stand_in_camera_takes_the_clients_own_face(coach, practice):
    one = coach.get(f"/api/clients/{practice.client_id}/stand-in-shot.jpg?seed=1")
    two = coach.get(f"/api/clients/{practice.client_id}/stand-in-shot.jpg?seed=2")
    assert one.headers["content-type"] == "image/jpeg" and one.content != two.content


def test_a_photograph_deleted_while_it_waits_is_left_alone(coach, practice, sitting, owner, cluster, database_name):
    upload(coach, sitting, shoot(Scene(identity="aster", state="even", seed=1)).jpeg(datetime.now(UTC)))
    withdrawn = {"given": False, "version": 1, "deletes": 1}
    assert coach.put(f"/api/clients/{practice.client_id}/consents/photographs", json=withdrawn).status_code == 200
    work(cluster, database_name)
    assert owner.execute("select status from procrastinate_jobs").fetchall() == [], "a failed job would stay"
