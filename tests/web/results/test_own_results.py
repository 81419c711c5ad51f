"""A client's own photographs over the wire: what they say, the client's note, and a picture to keep."""

import io
from uuid import uuid4

import pytest
from PIL import Image


def test_a_client_sees_first_and_latest_with_what_the_readings_say(client, practice, pair):
    found = client.get("/api/my-results").json()
    assert [s["first"] for s in found["sittings"]] == [True, False]
    first, later = found["sittings"]
    shown = [s["photographs"]["front-neutral"] for s in (first, later)]
    assert [p["id"] for p in shown] == [photo for _, photo in pair]
    assert all("ex_right" in p["points"] for p in shown), "they can be laid level and to one size"
    assert first["said"] == [] and first["practised"] is None
    assert later["said"][0]["sentence"].startswith("Your ") or "no change" in later["said"][0]["sentence"]
    assert later["practised"]["sessions"] == 0
    eye = next(r for r in found["rows"] if r["id"] == "fissure_height")
    assert [p["sitting"] for p in eye["points"]] == [s for s, _ in pair]
    assert all(p["band"] > 0 for p in eye["points"])


def test_words_beside_a_sitting_are_the_clients_and_the_coach_reads_them(client, coach, practice, pair):
    sitting = pair[1][0]
    assert client.put(f"/api/my-results/{sitting}/note", json={"words": "  I slept badly.  "}).status_code == 204
    assert client.get("/api/my-results").json()["sittings"][1]["note"] == "I slept badly."
    row = coach.get(f"/api/clients/{practice.client_id}/sittings").json()["sittings"][1]
    assert row["own_note"] == "I slept badly."
    assert client.put(f"/api/my-results/{sitting}/note", json={"words": ""}).status_code == 204
    assert client.get("/api/my-results").json()["sittings"][1]["note"] == ""
    assert client.put(f"/api/my-results/{uuid4()}/note", json={"words": "x"}).status_code == 404
    assert client.put(f"/api/my-results/{sitting}/note", json={"words": "x" * 2001}).status_code == 422


def test_a_picture_to_keep_is_made_of_own_photographs_of_one_view(client, coach, practice, pair):
    (_, first), (_, later) = pair
    answer = client.get(f"/api/my-results/{first}/{later}.png")
    assert answer.status_code == 200 and Image.open(io.BytesIO(answer.content)).size[0] > 1000
    assert client.get(f"/api/my-results/{first}/{uuid4()}.png").status_code == 404
    assert coach.get(f"/api/my-results/{first}/{later}.png").status_code == 403


@pytest.mark.parametrize("where", ["/api/my-results"])
def test_a_coach_has_no_results_of_their_own(coach, where):
    assert coach.get(where).status_code == 403
