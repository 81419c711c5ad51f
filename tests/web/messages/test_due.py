"""One link for all that is due, and who cannot be reached is said once."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from dimbo.work.practice import reminding
from dimbo.work.practice.reminding import Carriers
from tests.postman import Postman

from ..conftest import PASSWORD


@pytest.fixture
def new(coach):
    """A client without an account."""
    return coach.post("/api/clients", json={"name": "Ida New", "time_zone": "UTC", "birth_year": 1980}).json()["id"]


def due(coach, client, email="ida@mail.example"):
    made = coach.post(f"/api/clients/{client}/due-link", json={"email": email})
    assert made.status_code == 201, made.text
    return made.json()["path"].rsplit("/", 1)[1]


def test_it_opens_account_intake_and_photographs_in_their_turn(coach, browser, new, owner):
    page, token = browser(), due(coach, new)
    assert page.get(f"/api/due/{token}").json() == {
        "client_name": "Ida New",
        "practice_name": "harbour",
        "account": "due",
        "intake": "due",
        "photographs": "not yet",
    }
    invitation = page.post(f"/api/due/{token}/account").json()["path"]
    assert page.post(f"/api/due/{token}/account").json()["path"] == invitation, "opened again it is the same"
    assert page.post(f"/api/invitations/{invitation.rsplit('/', 1)[1]}", json={"password": PASSWORD}).status_code == 204
    assert page.get("/api/me").json()["name"] == "Ida New"
    intake = page.post(f"/api/due/{token}/intake").json()["path"]
    assert page.post(f"/api/due/{token}/intake").json()["path"] == intake
    assert page.get(f"/api/self-intakes/{intake.rsplit('/', 1)[1]}").status_code == 200
    assert page.get(f"/api/due/{token}").json()["account"] == "done"
    assert page.post(f"/api/due/{token}/photographs").json()["code"] == "not-now"

    coach.put(f"/api/clients/{new}/consents/photographs", json={"given": True, "version": 1})
    coach.post(f"/api/clients/{new}/sittings", json={})
    assert page.get(f"/api/due/{token}").json()["photographs"] == "due"
    shots = page.post(f"/api/due/{token}/photographs").json()["path"]
    assert page.get(f"/api/taking/{shots.rsplit('/', 1)[1]}").status_code == 200


def test_a_newer_link_ends_it_and_so_does_the_end_of_whoever_sent_it(coach, browser, new, owner):
    page, first, second = browser(), due(coach, new), due(coach, new)
    assert page.get(f"/api/due/{first}").json()["code"] == "link"
    owner.execute("update accounts set disabled_at = now() where role = 'coach'")
    assert page.post(f"/api/due/{second}/account").json()["code"] == "link"
    owner.execute("update accounts set disabled_at = null")
    owner.execute("update due_links set expires_at = now()")
    assert page.get(f"/api/due/{second}").json()["code"] == "link"


def test_a_client_handed_over_meanwhile_is_invited_by_nobody_else(coach, colleague, browser, new, owner):
    token = due(coach, new)
    owner.execute("update clients set coach_id = (select id from accounts where name = 'Colleague') where id = %s", (new,))
    assert browser().post(f"/api/due/{token}/account").json()["code"] == "not-yours"
    assert coach.post(f"/api/clients/{new}/due-link", json={}).json()["code"] == "not-yours"


def test_it_needs_an_address_that_nobody_has(coach, practice, new, owner):
    for email in ("", "no address", practice.client_email):
        answer = coach.post(f"/api/clients/{new}/due-link", json={"email": email})
        assert (answer.status_code, answer.json()["field"]) == (422, "email"), email
    assert coach.post(f"/api/clients/{practice.client_id}/due-link", json={}).status_code == 201, "with an account it is known"


def test_it_goes_by_mail_and_no_colleague_reads_it(coach, colleague, new, owner):
    """Whoever holds it opens the client's account, and with it the photographs."""
    token = due(coach, new)
    for page in (coach, colleague):
        assert token not in page.get("/api/outbox").text
    ((address, body),) = owner.execute("select address, body from outbox").fetchall()
    assert address == "ida@mail.example" and "\n\n/due/" in body


def test_whom_letters_do_not_reach_is_said_once_a_person(coach, practice, db, owner):
    owner.execute("update accounts set email = 'client@x.unreachable.example' where role = 'client'")
    for n in range(3):
        said = {"id": f"00000000-0000-0000-0000-00000000000{n}", "text": "Hello", "written_at": datetime.now(UTC).isoformat()}
        coach.post(f"/api/clients/{practice.client_id}/messages", json=said)
    now = datetime.now(UTC)
    for hours in range(12):
        reminding.carry(db, practice.id, Carriers(messenger=Postman()), now + timedelta(hours=hours))
    (one,) = coach.get("/api/undelivered").json()
    assert (one["name"], one["letters"], one["to_coach"]) == ("Client of harbour", 3, False) and "Given up" in one["problem"]
    owner.execute("update accounts set email = 'client@harbour.example' where role = 'client'")
    said = {"id": "00000000-0000-0000-0000-000000000009", "text": "Again", "written_at": now.isoformat()}
    coach.post(f"/api/clients/{practice.client_id}/messages", json=said)
    reminding.carry(db, practice.id, Carriers(messenger=Postman()), now + timedelta(hours=13))
    assert coach.get("/api/undelivered").json() == [], "what arrives ends it"
