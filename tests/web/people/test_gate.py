"""The one gate for photographs, tried at every operation that there is, by everybody who could come.

``GATED`` says how each operation that reads or writes sittings, photographs, points, ratings, links or comparisons is asked
rightly; every other operation is in ``ELSEWHERE`` by name, and is asked as well. A new operation fails the test until it is in
one of the two. Whoever has no business there must get nothing of the photographs and change nothing about them.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

import pytest

from dimbo.store.people import accounts, clients
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.web.openapi import schema_text
from dimbo.work.sittings import analysing

from ..conftest import HASH

SECRET = "the note of a sitting that nobody else reads"
PICTURE = shoot(Scene(identity="aster", state="even", seed=9)).jpeg(datetime.fromisoformat("2026-04-20T08:50:00+00:00"))


@dataclass(frozen=True)
class Ask:
    """How an operation is asked rightly; ``own`` and ``link`` are what the client's own coach, or the link, gets."""

    own: int = 0
    link: int = 0
    json: Any = None
    form: dict[str, str] = field(default_factory=dict)
    query: dict[str, Any] = field(default_factory=dict)
    file: bool = False


GATED = {
    "sittings": Ask(200),
    "openSitting": Ask(201, json={"taken_on": "2026-05-01"}),
    "arrangeSitting": Ask(204, json={"note": "changed"}),
    "sendSittingLink": Ask(201),
    "endSittingLink": Ask(204),
    "confirmViews": Ask(200),
    "namePrimary": Ask(204, json={"readings": ["mouth_width"]}),
    "taking": Ask(200),
    "takingByLink": Ask(link=200),
    "ghostByLink": Ask(link=200),
    "healthByLink": Ask(link=204, json={"entry": {"kind": "asked", "id": str(uuid4()), "said_at": "2026-04-20T08:50:00Z"}}),
    "handInSitting": Ask(link=204),
    "uploadPhotograph": Ask(202, form={"photograph_id": "new"}, file=True),
    "sittingUploadState": Ask(200),
    "sittingUploadPiece": Ask(200, query={"starts_at": 0, "total": 9}, file=True),
    "sittingUploadDone": Ask(422, form={"name": "a.jpg", "total": "9"}),
    "linkUploadState": Ask(link=200),
    "linkUploadPiece": Ask(link=200, query={"starts_at": 0, "total": 9}, file=True),
    "linkUploadDone": Ask(link=422, form={"name": "a.jpg", "total": "9"}),
    "answerPhotograph": Ask(204, json={"view": "gentle-smile"}),
    "setPoints": Ask(204, json={"moves": {"ch_left": [5, 5]}}),
    "previewPoints": Ask(200, json={"moves": {"ch_left": [5, 5]}}),
    "photograph": Ask(200),
    "thumbnail": Ask(200),
    "comparisonPicture": Ask(200),
    "readingsCsv": Ask(200),
    "readingsWorkbook": Ask(200),
    "pointsJson": Ask(200),
    "takeOut": Ask(200),
    "writeOwnNote": Ask(json={"words": "mine"}),
    "ownComparison": Ask(),
    "letters": Ask(200),
    "beginLetter": Ask(201, json={"kind": "report"}),
    "letter": Ask(200),
    "keepLetter": Ask(200, json={"first": "2026-03-01", "last": "2026-05-01"}),
    "sendLetter": Ask(204, json={}),
    "letterPaper": Ask(200),
    "dropLetter": Ask(422),
    "openedLetter": Ask(),
    "beginRound": Ask(201, json={"kind": "score", "concern": "eye-less-open", "rater": "coach", "view": "front-neutral"}),
    "previewRound": Ask(200, json={"kind": "score", "concern": "eye-less-open", "rater": "coach", "view": "front-neutral"}),
    "ratingRounds": Ask(200),
    "nextLook": Ask(200),
    "answerLook": Ask(200, json={"place": 0, "value": 2}),
    "blindPicture": Ask(200),
    "remove": Ask(204),
    "bringBack": Ask(204),
    "removed": Ask(200),
    "standInShotOfSitting": Ask(200),
    "standInShotByLink": Ask(link=200),
    "chooseConsent": Ask(200, json={"given": True, "version": 1, "how": "in writing"}),
}
"""In an order in which each finds what it needs: those that take away come late (``AFTER``)."""
AFTER = ("sendLetter", "letterPaper", "dropLetter", "remove", "bringBack", "endSittingLink", "chooseConsent")

_ELSEWHERE = """
coaches standInMail beginning settleBeginning
previewImport importClients desk search settleAlarm unsettleAlarm group joinGroup leaveGroup returnToGroup beginMySitting
writeToGroup catalogue exercise saveExercise
writtenExercise createExercise retireExercise blankExercise lookAtExercise importExercise exerciseFile
keepExerciseMedium exerciseClip exerciseStill intakeTables intake beginIntake enterFacts finishIntake timeline myConsents
chooseMyConsent sendSelfIntake revokeSelfIntake reviewSelfIntake acceptSelfIntake closeSelfIntake selfIntake saveSelfIntake
submitSelfIntake reasoning saveReasoning restoreReasoning readMyMessages clientMessages writeToClient readClientMessages
outbox myOutbox myReminders setMyReminders reminding setReminding previewReminding unsubscribe myFeed openMyFeed closeMyFeed myCalendar
clientCalendar calendarFeed signIn signOut me invitation acceptInvitation clients createClient clientNames course invite
previewAssignment assign assignGroup previewChange changeAssignment previewEnd endAssignment takeEndBack prepareNext
pauseClient resumeClient clearStop askedSoreness askedHealth myDays beginDay handIn myLogs clientLogs moveZone templates
keepTemplate template saveTemplate copyTemplate ways saveWays previewWays ownWays saveOwnWays exportProgram
exportProgramSheet exportProgramWorkbook printWeek previewProgramFile importProgramFile createProgram draftProgram program saveProgram
programVersions programDifferences restoreProgram checkSheet takeRemedy lightenWeek orderSheet laySides fillRight newLine
readingsDictionary pointsSchema review decideReview checkReview reviewRules setReviewRules previewReviewRules openWeek exerciseHistory
myCourse myResults myLetters helped helpedTable helpedWorkbook helpedDictionary throwCoin
exportDictionary exportTable exportWorkbook safety setEmergencyNumber confirmStartingValue standInShot health description programSchema
account askForAddress
beginFactor changePassword changePerson confirmAddress confirmFactor endFactor endSignIn forgotPassword handOver handOverAll
inviteColleague join joinLink passwordForPerson passwordLink people renameAccount setPassword signOutElsewhere
takeInvitationBack myRecord takeOwnOut eraseSelf clientRecord eraseClient archiveClient keepLonger keeping setKeeping
erasures undelivered pushKey myDevices addDevice takeDeviceOff standInDevice standInNotices sendDueLink due openDue
"""
ELSEWHERE = frozenset(_ELSEWHERE.split())
ENDS_THE_SIGN_IN = {"signOut"}
GUARDED = (
    "sittings",
    "photographs",
    "analyses",
    "point_moves",
    "upload_pieces",
    "primary_readings",
    "rating_rounds",
    "rating_answers",
    "own_notes",
    "letters",
)


def operations():
    """Name, method and address of every operation, as the API's own description has them."""
    told = json.loads(schema_text())
    return [(o["operationId"], method, path) for path, methods in told["paths"].items() for method, o in methods.items()]


@pytest.fixture
def scene(coach, practice, db, owner):
    """Two measured sittings with a photograph each, a link, a rating round: what there is to get at."""
    made = []
    for day, state, seed in (("2026-03-02", "uneven", 1), ("2026-04-20", "even", 2)):
        sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": day, "note": SECRET}).json()["id"]
        photo = uuid4()
        data = shoot(Scene(identity="aster", state=state, seed=seed)).jpeg(datetime.fromisoformat(f"{day}T08:40:00+00:00"))
        form = {"photograph_id": str(photo), "view": "front-neutral"}
        sent = coach.post(f"/api/sittings/{sitting}/photographs", data=form, files={"file": ("a.jpg", data)})
        assert sent.status_code == 202, sent.text
        analysing.analyse(db, practice.id, photo)
        made.append((sitting, str(photo)))
    coach.put(f"/api/clients/{practice.client_id}/consents/comparison", json={"given": True, "version": 1})
    link = coach.post(f"/api/sittings/{made[1][0]}/link").json()["path"].rsplit("/", 1)[1]
    body = GATED["beginRound"].json | {"before": made[0][0], "after": made[1][0]}
    round_id = coach.post(f"/api/clients/{practice.client_id}/rating-rounds", json=body).json()["id"]
    return {
        "client_id": str(practice.client_id),
        "coach_id": str(practice.coach_id),
        "sitting_id": made[1][0],
        "photograph_id": made[0][1],
        "before": made[0][1],
        "after": made[1][1],
        "baseline": made[0][0],
        "round_id": round_id,
        "letter_id": coach.post(f"/api/clients/{practice.client_id}/letters", json={"kind": "report"}).json()["id"],
        "token": link,
        "pictures": {hashlib.sha256(bytes(x)).digest() for row in owner.execute("select image, thumbnail from photographs") for x in row},
    }


def send(page, scene, name, method, path, *, token="", colleague=""):
    """Ask one operation with everything that it needs to go well for those who may."""
    ask = GATED.get(name, Ask(json={} if method in ("post", "put", "patch") else None))
    own = {**scene, "token": token or scene["token"], "key": (token or scene["token"]) if name.startswith("link") else scene["sitting_id"]}
    own |= {
        "account_id": scene["coach_id"],
        "place": "0",
        "which": "0",
        "choice": "second-coach",
        "kind": "photographs",
        "row_id": scene["photograph_id"],
    }
    if "Upload" in name:
        own["photograph_id"] = str(UUID(int=7))
    for key, value in own.items():
        path = path.replace(f"{{{key}}}", str(value))
    while "{" in path:
        path = path[: path.index("{")] + str(uuid4()) + path[path.index("}") + 1 :]
    body = ask.json
    if name in ("beginRound", "previewRound"):
        body = body | {"before": scene["baseline"], "after": scene["sitting_id"]}
    if name in ("handOver", "handOverAll"):
        body = {"to": colleague}
    if name == "chooseConsent":
        body = body | {"account": colleague}
    form = {k: str(uuid4()) if v == "new" else v for k, v in ask.form.items()}
    given = {"data": form or None, "files": {"file" if form else "data": ("a.jpg", PICTURE if form else b"123456789")}} if ask.file else {}
    if not ask.file:
        given = {"data": form} if form else {"json": body} if body is not None else {}
    return page.request(method.upper(), path, params=ask.query, **given)


def kept(owner):
    """A fingerprint of everything behind the gate, and of who may pass it."""
    rows = [owner.execute(f"select md5(string_agg(t::text, '|' order by t::text)) from {t} t".encode()).fetchone()[0] for t in GUARDED]
    named = owner.execute("select count(*) from facts where key = 'second-coach'").fetchone()[0]
    coaches = owner.execute("select md5(string_agg(id::text || coalesce(coach_id::text, ''), '|' order by id)) from clients").fetchone()[0]
    return [*rows, named, coaches]


def leaks(answer, scene) -> str:
    """What of the photographs an answer holds; empty for nothing."""
    if hashlib.sha256(answer.content).digest() in scene["pictures"]:
        return "a picture"
    words = [SECRET, scene["photograph_id"], scene["after"], scene["round_id"]]
    # A refusal may name the field and what was sent; what was asked for is no news to whoever asks.
    return next((w for w in words if answer.status_code < 400 and w in answer.text), "")


def test_every_operation_is_listed():
    names = {name for name, _, _ in operations()}
    assert names == set(GATED) | ELSEWHERE, "a new operation says here whether it is about photographs"
    assert not set(GATED) & ELSEWHERE


def test_those_who_may_get_everything(browser, coach, client, practice, scene, db, colleague):
    """So that the refusals below are refusals, and not slips of the test."""
    with db.practice(practice.id) as conn:
        named = next(i for i, name in accounts.coaches_now(conn).items() if name == "Colleague")
    every = sorted(operations(), key=lambda o: AFTER.index(o[0]) if o[0] in AFTER else -1)
    link = browser()
    for name, method, path in every:
        if name in GATED and (wanted := GATED[name].link):
            answer = send(link, scene, name, method, path)
            assert answer.status_code == wanted, (name, answer.text)
    for name, method, path in every:
        if name in GATED and (wanted := GATED[name].own):
            answer = send(coach, scene, name, method, path, colleague=str(named))
            assert answer.status_code == wanted, (name, answer.text)
    for name in ("photograph", "thumbnail"):
        path = next(p for n, _, p in every if n == name)
        assert send(client, scene, name, "get", path).status_code == 200, "their own"
        assert send(colleague, scene, name, "get", path).status_code == 200, "named by the client just now"


@pytest.fixture
def intruders(browser, practice, db, owner, colleague):
    """Everybody who has no business with this client's photographs, signed in or with some link."""
    from ..conftest import make_practice

    other = make_practice(db, owner, "elsewhere")
    with db.practice(practice.id) as conn:
        second = clients.create(
            conn, practice.id, "Neighbour", birth_year=1980, time_zone="UTC", minutes=15, concerns=[], goals="", coach_id=practice.coach_id
        )
        accounts.create(conn, practice.id, "client", second, "Neighbour", "neighbour@harbour.example", HASH)
        accounts.create(conn, practice.id, "coach", None, "Helper", "helper@harbour.example", HASH, standing="assistant")
        accounts.create(conn, practice.id, "coach", None, "Owner", "owner@harbour.example", HASH, standing="owner")
    return {
        "a coach of another practice": browser(other.coach_email),
        "a client of another practice": browser(other.client_email),
        "another client of the practice": browser("neighbour@harbour.example"),
        "a colleague whom nobody named": colleague,
        "an assistant": browser("helper@harbour.example"),
        "an owner who is not the coach": browser("owner@harbour.example"),
        "nobody": browser(),
    }


def test_nobody_else_gets_or_changes_anything(intruders, scene, owner):
    before, tried = kept(owner), 0
    named = str(owner.execute("select id from accounts where email = 'colleague@harbour.example'").fetchone()[0])
    for who, page in intruders.items():
        for name, method, path in operations():
            if name in ENDS_THE_SIGN_IN or (name in GATED and GATED[name].link):
                continue
            if who.startswith("an owner") and name.startswith("handOver"):
                continue  # theirs to do, and told to the client
            answer = send(page, scene, name, method, path, colleague=named)
            tried += 1
            assert not (found := leaks(answer, scene)), (who, name, found, answer.status_code)
            if name in GATED and name != "removed":
                assert answer.status_code in (401, 403, 404), (who, name, answer.status_code, answer.text[:200])
        assert kept(owner) == before, who
    assert tried > 1000


def link_kinds(coach, practice, scene, owner):
    """A token of every kind of link but the one that may."""
    c = practice.client_id
    coach.post(f"/api/clients/{c}/self-intake")
    tail = lambda answer: answer.json()["path"].rsplit("/", 1)[1].removesuffix(".ics")  # noqa: E731
    invited = coach.post("/api/clients", json={"name": "New", "time_zone": "UTC"}).json()["id"]
    own = {
        "an intake": tail(coach.post(f"/api/clients/{c}/self-intake")),
        "an invitation": tail(coach.post(f"/api/clients/{invited}/invitation", json={"email": "new@mail.example"})),
        "one for all that is due": tail(coach.post(f"/api/clients/{c}/due-link", json={})),
        "a made-up one": "A" * 32,
    }
    expired = coach.post(f"/api/sittings/{scene['baseline']}/link")
    owner.execute("update sittings set link_expires_at = now() - interval '1 minute' where id = %s", (scene["baseline"],))
    own["one that has run out"] = tail(expired)
    return own


def test_no_other_link_opens_them(browser, coach, client, practice, scene, owner):
    tokens = link_kinds(coach, practice, scene, owner)
    tokens["a calendar feed"] = client.post("/api/my-feed").json()["path"].rsplit("/", 1)[1].removesuffix(".ics")
    taken_back = coach.post(f"/api/sittings/{scene['sitting_id']}/link").json()["path"].rsplit("/", 1)[1]
    coach.delete(f"/api/sittings/{scene['sitting_id']}/link")
    tokens |= {"one that was taken back": taken_back, "one that a newer one ended": scene["token"]}
    before, page = kept(owner), browser()
    for kind, token in tokens.items():
        for name, method, path in operations():
            if name in GATED and "{token}" not in path and not name.startswith("link"):
                continue
            if name in ("acceptInvitation", "submitSelfIntake"):
                continue
            answer = send(page, scene, name, method, path, token=token)
            assert not leaks(answer, scene), (kind, name)
            if name in GATED:
                assert answer.status_code in (404, 422), (kind, name, answer.status_code)
    assert kept(owner) == before


def test_a_link_opens_its_own_sitting_only_and_ends_with_its_makers_right(browser, coach, colleague, practice, scene, owner):
    page = browser()
    view = page.get(f"/api/taking/{scene['token']}").json()
    assert [x["id"] for x in view["shots"]] == [scene["after"]]
    assert page.get(f"/api/taking/{scene['token']}/ghost/{scene['after']}.jpg").status_code == 404, "not of an earlier sitting"
    named = str(owner.execute("select id from accounts where email = 'colleague@harbour.example'").fetchone()[0])
    path = f"/api/clients/{practice.client_id}/consents/second-coach"
    coach.put(path, json={"given": True, "version": 1, "account": named, "how": "in person"})
    link = colleague.post(f"/api/sittings/{scene['baseline']}/link").json()["path"].rsplit("/", 1)[1]
    assert page.get(f"/api/taking/{link}").status_code == 200
    coach.put(path, json={"given": False, "version": 1})
    assert page.get(f"/api/taking/{link}").json()["code"] == "link"
    assert colleague.get(f"/api/photographs/{scene['after']}.jpg").status_code == 404


def test_the_database_holds_it_without_python(db, practice, scene, owner, colleague):
    """Row-level security by itself, for every guarded table, read and write."""
    with db.practice(practice.id) as conn:
        stranger = next(accounts.at_work(conn, i) for i, name in accounts.coaches_now(conn).items() if name == "Colleague")
    counts = {t: owner.execute(f"select count(*) from {t}".encode()).fetchone()[0] for t in GUARDED}
    assert all(counts[t] for t in ("sittings", "photographs", "analyses", "rating_rounds"))
    for t in GUARDED:
        with db.of(stranger) as conn:
            seen = conn.execute(f"select count(*) from {t}".encode()).fetchone()[0]
            assert seen == (counts[t] if t == "sittings" else 0), t
    with db.of(stranger) as conn:
        assert conn.execute("update sittings set note = 'changed'").rowcount == 0
        assert conn.execute("update photographs set view = 'gentle-smile'").rowcount == 0
        assert conn.execute("delete from photographs").rowcount == 0


def token_of(answer):
    return answer.json()["path"].rsplit("/", 1)[1]


def test_a_colleague_does_not_let_themselves_in_by_the_clients_own_intake(browser, coach, colleague, practice, owner):
    """Whoever sends a link can follow it: what decides on photographs is neither asked nor taken there."""
    named = str(owner.execute("select id from accounts where email = 'colleague@harbour.example'").fetchone()[0])
    page, path = browser(), f"/api/clients/{practice.client_id}/self-intake"
    told = {"second-coach": {"given": True, "version": 1, "account": named}}
    for sender, may in ((colleague, False), (coach, True)):
        token = token_of(sender.post(path))
        view = page.get(f"/api/self-intakes/{token}").json()
        assert ("second-coach" in {c["id"] for c in view["tables"]["consents"]}) is may
        assert "practise" in {c["id"] for c in view["tables"]["consents"]}
        cautions = {c["id"]: {"answer": "no"} for c in view["tables"]["cautions"]}
        document = view["document"] | {"profile": {"name": "Nell"}, "cautions": cautions, "consents": told}
        page.put(f"/api/self-intakes/{token}", json={"document": document, "base": view["revision"]})
        sent = page.post(f"/api/self-intakes/{token}/submit", json={"leaves": []})
        assert (sent.status_code == 204) is may, sent.text
        assert owner.execute("select count(*) from facts where key = 'second-coach'").fetchone() == (int(may),)


def test_nobody_gets_a_clients_account_to_look_through(coach, colleague, practice, owner, db):
    """An invitation, or a link for a new password, opens the client's account and all that it may see."""
    with db.practice(practice.id) as conn:
        accounts.create(conn, practice.id, "coach", None, "Owner", "owner@harbour.example", HASH, standing="owner")
    made = coach.post("/api/clients", json={"name": "New", "time_zone": "UTC"}).json()["id"]
    invitation = {"email": "mine@mail.example"}
    refused = colleague.post(f"/api/clients/{made}/invitation", json=invitation)
    assert (refused.status_code, refused.json()["code"]) == (422, "not-yours")
    theirs = str(owner.execute("select id from accounts where role = 'client'").fetchone()[0])
    assert coach.post(f"/api/people/{theirs}/new-password").json()["code"] == "not-yours"
    assert owner.execute("select (select count(*) from invitations) + (select count(*) from account_links)").fetchone() == (0,)
    assert coach.post(f"/api/clients/{made}/invitation", json=invitation).status_code == 201
