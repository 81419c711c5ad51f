"""Letters over the wire: composed from records, sent once, kept as sent, and gone with the photographs only where they show them."""

import io
from datetime import UTC, datetime

import psycopg
import pytest
from pypdf import PdfReader

from dimbo.core.results.plain_words import NO_CHANGE
from dimbo.work.messages.messenger import NoMail
from dimbo.work.practice import reminding


def agree(coach, practice):
    coach.put(f"/api/clients/{practice.client_id}/consents/comparison", json={"given": True, "version": 1})


def begin(coach, practice, kind="report"):
    made = coach.post(f"/api/clients/{practice.client_id}/letters", json={"kind": kind})
    assert made.status_code == 201, made.text
    return made.json()["id"]


def said(letter):
    return [p for passage in letter["passages"] for p in passage["paragraphs"]]


@pytest.fixture
def letter(coach, practice, pair):
    agree(coach, practice)
    return begin(coach, practice)


def test_a_letter_is_begun_with_the_newest_pair_and_says_what_the_readings_say(coach, client, practice, pair, letter):
    found = coach.get(f"/api/letters/{letter}").json()
    shown = [p for passage in found["letter"]["passages"] for p in passage["pairs"]]
    assert [(p["before"]["id"], p["after"]["id"]) for p in shown] == [(pair[0][1], pair[1][1])]
    own = client.get("/api/my-results").json()["sittings"][1]["said"]
    assert shown[0]["sentences"] == [s["sentence"] for s in own if s["view"] == "front-neutral"], "the same as on the client's own page"
    assert "In this time no session was practised." in said(found["letter"])
    assert any("no diagnosis" in p for p in said(found["letter"]))
    assert client.get("/api/my-letters").json() == [], "a draft is nobody else's"


def test_own_words_are_kept_and_measured_ones_cannot_be_sent(coach, letter):
    draft = coach.get(f"/api/letters/{letter}").json()["draft"]
    draft["words"]["adds"] = "Well done.\nAnd thank you."
    answer = coach.put(f"/api/letters/{letter}", json=draft | {"letter": {"title": "A miracle"}})
    assert answer.status_code == 200
    assert "Well done." in said(answer.json()["letter"]) and "miracle" not in answer.text
    backwards = coach.put(f"/api/letters/{letter}", json=draft | {"first": "2026-05-01", "last": "2026-04-01"})
    assert backwards.status_code == 422 and backwards.json()["field"] == "last"
    assert coach.put(f"/api/letters/{letter}", json=draft | {"words": {"adds": "x" * 4001}}).json()["field"] == "adds"
    assert coach.put(f"/api/letters/{letter}", json=draft | {"last": "9999-12-31"}).json()["field"] == "last"
    assert coach.put(f"/api/letters/{letter}", json=draft | {"first": "0001-01-01"}).status_code == 200


def test_a_letter_is_sent_once_and_stays_as_it_was(coach, client, practice, owner, letter, pair):
    assert coach.post(f"/api/letters/{letter}/sent", json={"by_mail": True}).status_code == 204
    assert coach.post(f"/api/letters/{letter}/sent", json={"by_mail": True}).status_code == 204
    posted = owner.execute("select kind, letter_id is not null, body from outbox where kind in ('letter', 'message')").fetchall()
    assert [(kind, file) for kind, file, _ in posted] == [("letter", True)] and "/my-letters" in posted[0][2]
    mine = client.get("/api/my-letters").json()
    assert len(mine) == 1 and not mine[0]["opened"]
    before = mine[0]["letter"]
    assert client.post(f"/api/my-letters/{letter}/opened").status_code == 204
    draft = {"first": "2026-03-01", "last": "2026-05-01", "words": {"adds": "More."}}
    assert coach.put(f"/api/letters/{letter}", json=draft).status_code == 422
    assert coach.delete(f"/api/letters/{letter}/draft").status_code == 422
    coach.put(f"/api/photographs/{pair[1][1]}/points", json={"moves": {"ps_right": [5, 5]}})
    again = client.get("/api/my-letters").json()[0]
    assert again["letter"] == before and again["opened"]
    for change in ("content = '{}'", "sent_at = now()", "draft = '{}'"):
        with pytest.raises(psycopg.Error), owner.transaction():
            owner.execute(f"update letters set {change}".encode())
    with pytest.raises(psycopg.Error), owner.transaction():
        owner.execute("delete from letters")


def test_the_paper_is_whole_tagged_and_speaks(client, coach, letter):
    coach.post(f"/api/letters/{letter}/sent", json={})
    paper = client.get(f"/api/letters/{letter}.pdf")
    assert paper.status_code == 200 and paper.headers["content-type"] == "application/pdf"
    read = PdfReader(io.BytesIO(paper.content))
    assert read.trailer["/Root"]["/MarkInfo"]["/Marked"] and read.metadata.title.startswith("Your practice, ")
    text = " ".join(page.extract_text() for page in read.pages)
    assert "What the photographs show" in text and "What this letter does not say" in text
    assert sum(len(page.images) for page in read.pages) == 1


def test_without_the_clients_word_no_photographs_are_sent(coach, practice, pair):
    made = begin(coach, practice)
    refused = coach.post(f"/api/letters/{made}/sent", json={})
    assert refused.status_code == 422 and refused.json()["code"] == "not-agreed"
    draft = coach.get(f"/api/letters/{made}").json()["draft"] | {"pairs": []}
    coach.put(f"/api/letters/{made}", json=draft)
    assert coach.post(f"/api/letters/{made}/sent", json={}).status_code == 204


def test_taking_back_photographs_takes_the_paper_that_shows_them_and_leaves_the_words(coach, client, practice, letter):
    coach.post(f"/api/letters/{letter}/sent", json={})
    plain = begin(coach, practice)
    draft = coach.get(f"/api/letters/{plain}").json()["draft"] | {"pairs": []}
    coach.put(f"/api/letters/{plain}", json=draft)
    coach.post(f"/api/letters/{plain}/sent", json={})
    taken = client.put("/api/my/consents/photographs", json={"given": False, "version": 1, "deletes": 2})
    assert taken.status_code in (200, 204), taken.text
    known = {x["id"]: x["has_pdf"] for x in client.get("/api/my-letters").json()}
    assert known == {letter: False, plain: True}
    assert client.get(f"/api/letters/{letter}.pdf").status_code == 404
    assert client.get(f"/api/letters/{plain}.pdf").status_code == 200


def test_a_letter_to_a_clinician_tells_what_was_told_with_its_day_and_nothing_more(coach, client, practice, pair):
    entry = {
        "id": "0b0f1c9a-0000-4000-8000-000000000001",
        "kind": "caution",
        "key": "numbness",
        "value": {"answer": "yes", "note": "left cheek"},
    }
    tables = coach.get("/api/intake-tables").json()
    known = next(c for c in tables["cautions"] if c["group"] != "urgent")
    value = {"answer": "yes", "note": "left cheek"}
    entry = {"id": "0b0f1c9a-0000-4000-8000-000000000001", "kind": "caution", "key": known["id"], "value": value}
    answer = coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [entry]})
    assert answer.status_code == 200, answer.text
    found = coach.get(f"/api/letters/{begin(coach, practice, 'clinician')}").json()
    text = " ".join(said(found["letter"]))
    assert known["name"] in text and "left cheek" in text and str(datetime.now(UTC).year) in text
    assert "neither diagnose nor treat" in text and NO_CHANGE not in text and found["offered"] == []


def test_nobody_elses_letters(browser, coach, letter):
    assert browser().get(f"/api/letters/{letter}").status_code == 401
    assert coach.get("/api/letters/00000000-0000-4000-8000-000000000000").status_code == 404


def test_pairs_that_are_not_there_or_cannot_be_compared_never_get_into_a_letter(coach, practice, pair, letter):
    found = coach.get(f"/api/letters/{letter}").json()
    assert [o["choice"]["view"] for o in found["offered"]] == ["front-neutral"]
    strange = [
        {"view": "front-neutral", "before": letter, "after": pair[1][0]},
        {"view": "no-view", "before": pair[0][0], "after": pair[1][0]},
    ]
    answer = coach.put(f"/api/letters/{letter}", json=found["draft"] | {"pairs": strange})
    assert answer.status_code == 200 and not [p for passage in answer.json()["letter"]["passages"] for p in passage["pairs"]]
    coach.patch(f"/api/photographs/{pair[1][1]}", json={"same_person": False})
    later = coach.get(f"/api/letters/{letter}").json()
    assert later["offered"] == []
    coach.put(f"/api/letters/{letter}", json=found["draft"])
    assert coach.post(f"/api/letters/{letter}/sent", json={}).status_code == 204
    sent = coach.get(f"/api/letters/{letter}").json()["letter"]
    assert not [p for passage in sent["passages"] for p in passage["pairs"]], "another person's photograph is in nobody's letter"


def test_a_draft_is_thrown_away_and_another_begun(coach, practice, letter):
    assert coach.delete(f"/api/letters/{letter}/draft").status_code == 204
    assert coach.get(f"/api/letters/{letter}").status_code == 404
    assert coach.get(f"/api/clients/{practice.client_id}/letters").json()["letters"] == []


def test_a_letter_goes_on_when_consent_to_keep_photographs_has_run_out(coach, client, practice, owner, letter):
    assert coach.post(f"/api/letters/{letter}/sent", json={"by_mail": True}).status_code == 204
    owner.execute("alter table facts disable trigger user")
    owner.execute("update facts set value = value || '{\"on\": \"2020-01-01\"}' where kind = 'consent' and key = 'photographs'")
    owner.execute("alter table facts enable trigger user")
    sent = coach.get(f"/api/letters/{letter}").json()
    assert sent["row"]["sent_at"] and any(p["pairs"] for p in sent["letter"]["passages"]), "what was sent is read as it was sent"
    new = coach.get(f"/api/letters/{begin(coach, practice, 'clinician')}").json()
    assert "neither diagnose nor treat" in " ".join(said(new["letter"]))
    assert coach.get(f"/api/letters/{begin(coach, practice)}").json()["offered"] == []


def test_a_letter_whose_photographs_went_before_it_was_carried_is_withheld(coach, client, practice, db, letter):
    coach.post(f"/api/letters/{letter}/sent", json={"by_mail": True})
    client.put("/api/my/consents/photographs", json={"given": False, "version": 1, "deletes": 2})
    reminding.carry(db, practice.id, reminding.Carriers(messenger=NoMail()), datetime.now(UTC))
    with db.practice(practice.id) as conn:
        row = conn.execute("select state, problem from outbox where kind = 'letter'").fetchone()
    assert row[0] == "withheld" and "no longer kept" in row[1]
