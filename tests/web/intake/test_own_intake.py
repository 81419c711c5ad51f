"""The intake that a client fills in alone: single-use link, draft, sending in, and the coach's review."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.catalogue import shipped_intake
from dimbo.store.people.accounts import Person
from dimbo.work.intake import self_filling
from tests.web.conftest import make_practice

URGENT = [r.id for r in shipped_intake().tables.cautions if r.group == "urgent"]
OTHERS = [r.id for r in shipped_intake().tables.cautions if r.group != "urgent"]
CALM = {u: {"answer": "no"} for u in URGENT}


@pytest.fixture
def practice(db, owner):
    return make_practice(db, owner, "harbour", asked=False)


@pytest.fixture
def send(coach, practice):
    """Makes a link; returns its token."""
    path = f"/api/clients/{practice.client_id}/self-intake"
    return lambda: coach.post(path).json()["path"].rsplit("/", 1)[1]


@pytest.fixture
def anyone(browser):
    return browser()


@pytest.fixture
def fill(anyone, send):
    """A link with a draft; returns its token and the revision."""

    def make(**document):
        token = send()
        base = anyone.get(f"/api/self-intakes/{token}").json()["revision"]
        answer = anyone.put(f"/api/self-intakes/{token}", json={"document": document, "base": base})
        assert answer.status_code == 200, answer.text
        return token, answer.json()["revision"]

    return make


@pytest.fixture
def intake(coach, practice):
    return lambda: coach.get(f"/api/clients/{practice.client_id}/intake").json()


def submit(anyone, token, leaves=OTHERS):
    return anyone.post(f"/api/self-intakes/{token}/submit", json={"leaves": leaves})


FULL = {
    "profile": {"name": "Nell", "minutes": 12, "days": [1, 3, 5], "goals": "Rested eyes."},
    "ratings": {"jowls": {"right": 1, "left": 2}},
    "answers": {"jowls.smile-lifts": {"answer": "no"}},
    "tests": {"chewing": {"answer": "left"}},
    "cautions": CALM | {"fillers": {"answer": "yes", "regions": ["cheek"], "event_on": "2026-01-05"}},
    "consents": {"practise": {"given": True, "version": 1}},
}


def test_a_draft_comes_back_as_it_was_left(anyone, fill):
    token, revision = fill(**FULL)
    found = anyone.get(f"/api/self-intakes/{token}").json()
    assert found["document"]["profile"] == FULL["profile"] and found["document"]["cautions"] == FULL["cautions"]
    assert found["revision"] == revision and found["tables"]["concerns"]


def test_a_link_works_once_and_says_why_not_again(anyone, fill):
    token, _ = fill(**FULL)
    assert submit(anyone, token).status_code == 204
    for answer in (submit(anyone, token), anyone.get(f"/api/self-intakes/{token}")):
        assert answer.status_code == 422 and "sent in already" in answer.json()["message"]
    late = anyone.put(f"/api/self-intakes/{token}", json={"document": {}, "base": 1})
    assert late.status_code == 422


def test_a_revoked_and_an_unknown_link(anyone, coach, practice, fill):
    token, _ = fill(**FULL)
    path = f"/api/clients/{practice.client_id}/self-intake"
    assert coach.delete(path).status_code == 204
    assert "taken back" in anyone.get(f"/api/self-intakes/{token}").json()["message"]
    assert "taken back" in submit(anyone, token).json()["message"]
    assert coach.delete(path).status_code == 404
    assert anyone.get("/api/self-intakes/no-such-token").status_code == 404


def test_a_link_ends_after_its_days(db, anyone, practice):
    long_ago = datetime.now(UTC) - timedelta(days=self_filling.LINK_DAYS, minutes=1)
    person = Person(id=practice.coach_id, practice_id=practice.id, role="coach", client_id=None, name="Coach", practice_name="harbour")
    token = self_filling.send(db, person, practice.client_id, long_ago)
    answer = anyone.get(f"/api/self-intakes/{token}")
    assert answer.status_code == 422 and "ended on" in answer.json()["message"]


def test_a_new_link_ends_the_old_one_and_keeps_what_was_written(anyone, fill, send):
    old, _ = fill(**FULL)
    new = send()
    assert "taken back" in anyone.get(f"/api/self-intakes/{old}").json()["message"]
    assert anyone.get(f"/api/self-intakes/{new}").json()["document"]["profile"]["name"] == "Nell"


def test_two_windows_do_not_overwrite_each_other(anyone, fill):
    token, revision = fill(profile={"name": "One"})
    stale = anyone.put(f"/api/self-intakes/{token}", json={"document": {"profile": {"name": "Two"}}, "base": revision - 1})
    assert stale.status_code == 409 and "another window" in stale.json()["message"]
    assert anyone.get(f"/api/self-intakes/{token}").json()["document"]["profile"]["name"] == "One"


@pytest.mark.parametrize("answer", ["yes", "unsure"])
def test_an_urgent_sign_locks_before_anything_is_sent_in(anyone, coach, practice, fill, intake, answer):
    token, revision = fill(cautions={"dropped-lid": {"answer": answer}})
    assert intake()["conclusions"]["urgent"].startswith("Seek urgent medical care now.")
    saved = anyone.put(
        f"/api/self-intakes/{token}", json={"document": {"cautions": {"dropped-lid": {"answer": answer}}}, "base": revision}
    ).json()
    assert "An eyelid that has just dropped" in saved["urgent"]
    taken_back = anyone.put(
        f"/api/self-intakes/{token}", json={"document": {"cautions": {"dropped-lid": {"answer": "no"}}}, "base": saved["revision"]}
    )
    assert taken_back.status_code == 200
    assert intake()["conclusions"]["urgent"], "only a clearance releases it"
    trail = [t for t in coach.get(f"/api/clients/{practice.client_id}/timeline").json() if t["kind"] == "lock"]
    assert len(trail) == 1 and trail[0]["source"] == "self-intake"


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"profile": {"name": " "}}, "profile.name", "how you would like to be called"),
        ({"profile": {"name": "Nell", "birth_year": 2090}}, "profile.birth_year", "birth year"),
        ({"profile": {"name": "Nell", "status": "finished"}}, "profile.status", "not asked here"),
        ({"ratings": {"jowls": {"right": 7, "left": 0}}}, "ratings.jowls", "between 0"),
        ({"cautions": CALM | {"fillers": {"answer": "yes", "event_on": "2999-01-01"}}}, "cautions.fillers", "in the future"),
        ({"cautions": {}}, f"cautions.{URGENT[0]}", "Please answer"),
        ({"consents": {"second-coach": {"given": True, "version": 1}}}, "consents.second-coach", "no other coach"),
    ],
)
def test_what_cannot_be_is_named_and_the_draft_stays(anyone, fill, change, field, says):
    token, _ = fill(**(FULL | change))
    answer = submit(anyone, token)
    assert answer.status_code == 422 and answer.json()["field"] == field and says in answer.json()["message"]
    assert anyone.get(f"/api/self-intakes/{token}").status_code == 200, "the link is still open"


def test_nothing_holds_until_the_coach_accepts_it_but_consents(anyone, coach, practice, fill, intake):
    token, _ = fill(**FULL)
    submit(anyone, token)
    found = intake()
    assert found["ratings"] == {} and found["profile"]["minutes"] == 15 and "fillers" not in found["cautions"]
    assert next(c for c in found["consents"] if c["id"] == "practise")["state"] == "given"
    assert found["self_intake"]["state"] == "sent in"
    path = f"/api/clients/{practice.client_id}/self-intake"
    items = {i["id"]: i for i in coach.get(path).json()}
    assert items["profile.minutes"]["theirs"] == "12" and items["profile.minutes"]["current"] == "15"
    assert items["cautions.fillers"]["theirs"] == "yes; cheek; 5 January 2026"
    after = coach.post(f"{path}/accept", json={"ids": ["profile.minutes", "cautions.fillers", "ratings.jowls"]}).json()["intake"]
    assert after["profile"]["minutes"] == 12 and after["ratings"]["jowls"]["left"] == 2
    assert after["conclusions"]["held"][0]["locked"] and after["profile"]["name"] == "Client of harbour"
    same = {i["id"] for i in coach.get(path).json() if i["same"]}
    assert {"profile.minutes", "cautions.fillers", "ratings.jowls"} <= same and "profile.name" not in same
    assert coach.post(f"{path}/close").json()["self_intake"]["state"] == "reviewed"


def test_accepting_cannot_silence_a_lock(anyone, coach, practice, fill, intake):
    coach.post(
        f"/api/clients/{practice.client_id}/facts",
        json={
            "entries": [{"id": "5a3c0c8e-8d0b-4a49-9d0a-2b8f0d9a1c11", "kind": "caution", "key": "glaucoma", "value": {"answer": "yes"}}]
        },
    )
    token, _ = fill(**(FULL | {"cautions": CALM | {"glaucoma": {"answer": "no"}}}))
    submit(anyone, token)
    path = f"/api/clients/{practice.client_id}/self-intake"
    done = coach.post(f"{path}/accept", json={"ids": ["cautions.glaucoma", "profile.minutes"]}).json()
    assert [r["id"] for r in done["refused"]] == ["cautions.glaucoma"] and "Only a recorded clearance" in done["refused"][0]["message"]
    assert intake()["profile"]["minutes"] == 12, "what can be taken is taken"
    assert intake()["cautions"]["glaucoma"]["answer"] == "yes"
    assert coach.post(f"{path}/accept", json={"ids": ["profile.shoe_size"]}).status_code == 422


def test_a_draft_may_not_grow_without_end(anyone, send):
    token = send()
    answer = anyone.put(f"/api/self-intakes/{token}", json={"document": {"profile": {"goals": "x" * 70_000}}, "base": 0})
    assert answer.status_code == 422 and "Shorten" in answer.json()["message"]


def test_health_that_is_left_open_is_said_and_seen(anyone, coach, practice, fill):
    token, _ = fill(**(FULL | {"cautions": CALM | {"fillers": {"answer": "no"}}}))
    forgotten = submit(anyone, token, [c for c in OTHERS if c != "glaucoma"])
    assert forgotten.status_code == 422 and forgotten.json()["field"] == "cautions.glaucoma"
    assert "glaucoma" in forgotten.json()["message"] and "fillers" not in forgotten.json()["message"]
    assert submit(anyone, token).status_code == 204
    items = {i["id"]: i for i in coach.get(f"/api/clients/{practice.client_id}/self-intake").json()}
    assert items["cautions.glaucoma"]["open"] and items["cautions.glaucoma"]["theirs"] == "not answered"
    assert not items["cautions.fillers"]["open"]


def test_a_sudden_sign_is_never_left_open(anyone, fill):
    token, _ = fill(**(FULL | {"cautions": {u: v for u, v in CALM.items() if u != URGENT[-1]}}))
    assert submit(anyone, token, [*OTHERS, *URGENT]).json()["field"] == f"cautions.{URGENT[-1]}"


@pytest.mark.parametrize(
    ("wrote", "told", "stays"),
    [
        ("Philippa Marsh", "Philippa", True),
        ("Philippa Marsh", "Phil", True),
        ("Philippa Marsh", "Philippa Marsh-Lee", False),
        ("Philippa", "Philippa Marsh", False),
        ("Philippa Marsh", "Greta", False),
    ],
)
def test_accepting_never_shortens_a_name_that_was_written_in_full(anyone, coach, practice, fill, intake, wrote, told, stays):
    entry = {"id": str(uuid4()), "kind": "profile", "key": "name", "value": {"value": wrote}}
    assert coach.post(f"/api/clients/{practice.client_id}/facts", json={"entries": [entry]}).status_code == 200
    token, _ = fill(**(FULL | {"profile": {"name": told}}))
    submit(anyone, token)
    done = coach.post(f"/api/clients/{practice.client_id}/self-intake/accept", json={"ids": ["profile.name"]}).json()
    assert done["refused"] == [] and intake()["profile"]["name"] == (wrote if stays else told)
    texts = [t["text"] for t in coach.get(f"/api/clients/{practice.client_id}/timeline").json()]
    assert any(f"called {told}" in t for t in texts) is stays
