"""Looking for anything by words: within one practice, however a word is written, and never in what is hidden."""

from uuid import uuid4

import pytest

from dimbo.work.review.search import MOST
from tests.web.conftest import make_practice
from tests.web.histories import Past


@pytest.fixture
def past(db, practice, coach):
    return lambda name="Édith Navarre-Öz": Past(db, practice, coach, name)


def found(coach, words):
    answer = coach.get("/api/search", params={"words": words})
    assert answer.status_code == 200, answer.text
    return answer.json()


def names(coach, words, kind):
    return [h["name"] for h in found(coach, words)["hits"] if h["kind"] == kind]


def test_a_client_is_found_without_accents_by_any_part_and_all_words_must_fit(past, coach):
    past()
    for words in ("edith", "NAVARRE", "oz edith", "varre"):
        assert names(coach, words, "client") == ["Édith Navarre-Öz"], words
    assert names(coach, "edith berg", "client") == []
    assert found(coach, "   ")["hits"] == []


def test_everything_that_has_a_name_or_words_is_found_and_says_whose_it_is(past, coach):
    p = past()
    said = {"id": str(uuid4()), "text": "The long hold of the heron, on Tuesday.", "about_day": None, "exercise_id": None}
    coach.post(f"/api/clients/{p.id}/messages", json=said)
    note = {"id": str(uuid4()), "kind": "note", "key": "", "value": {"text": "Sings in a choir; heron pose is easy."}}
    assert coach.post(f"/api/clients/{p.id}/facts", json={"entries": [note]}).status_code == 200
    hits = {h["kind"]: h for h in found(coach, "heron")["hits"]}
    assert hits["message"]["id"] == hits["note"]["id"] == str(p.id) and "hold of the heron" in hits["message"]["beside"]
    note |= {"id": str(uuid4()), "value": {"text": "Müde nach dem Café, naïve Frage."}}
    assert coach.post(f"/api/clients/{p.id}/facts", json={"entries": [note]}).status_code == 200
    for words in ("müde café", "mude", "NAIVE"):
        assert names(coach, words, "note") == [p.person.name], words
    assert found(coach, "lift")["hits"][0]["kind"] == "program" and names(coach, "lift level", "template") == ["Lift and level"]
    (program,) = [h for h in found(coach, "lift navarre")["hits"] if h["kind"] == "program"]
    assert program["beside"] == p.person.name
    assert "Long oval cheek lift" in names(coach, "oval lift", "exercise")


def test_the_nearest_come_first_and_the_rest_are_counted(past, coach):
    for name in ("Bo Annis", "Anna Berg", "Susanna Holm"):
        past(name)
    assert names(coach, "ann", "client") == ["Anna Berg", "Bo Annis", "Susanna Holm"]
    answer = found(coach, "a")
    shown = [h for h in answer["hits"] if h["kind"] == "exercise"]
    assert len(shown) == MOST and answer["more"]["exercise"] > 0


def test_nobody_finds_anything_of_another_practice_or_of_a_photo_session(past, coach, browser, db, owner):
    p = past()
    sitting = coach.post(f"/api/clients/{p.id}/sittings", json={"taken_on": p.today.isoformat(), "note": "quince light"})
    assert sitting.status_code == 201
    assert found(coach, "quince")["hits"] == [], "notes of sittings are seen with the photographs"
    other = make_practice(db, owner, "hill")
    assert found(browser(other.coach_email), "edith")["hits"] == []
    assert browser(p.practice.client_email).get("/api/search", params={"words": "edith"}).status_code == 403
    assert coach.get("/api/search", params={"words": "a" * 101}).status_code == 422
