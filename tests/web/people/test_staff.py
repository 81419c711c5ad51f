"""The people of a practice: invited, given a standing, shown some clients, disabled, and handing clients over."""

import pytest

from ..conftest import PASSWORD

WORDS = "seven otters keep lanterns"


@pytest.fixture
def invite(coach, browser):
    """Invites somebody and lets them join; their browser and their account."""

    def made(name, standing="coach"):
        email = f"{name.lower()}@harbour.example"
        answer = coach.post("/api/people/invitations", json={"name": name, "email": email, "standing": standing})
        assert answer.status_code == 201, answer.text
        token, page = answer.json()["path"].rsplit("/", 1)[1], browser()
        assert page.get(f"/api/joining/{token}").json()["name"] == name
        assert page.post(f"/api/joining/{token}", json={"password": WORDS}).status_code == 204
        return page, page.get("/api/me").json()["id"]

    return made


def change(coach, account, **to):
    body = {"standing": "coach", "sees_all": True, "sees": [], "disabled": False} | to
    return coach.put(f"/api/people/{account}", json=body)


def test_a_colleague_joins_once(coach, browser, invite):
    page, _ = invite("Emeric")
    assert page.get("/api/me").json()["standing"] == "coach" and page.get("/api/desk").status_code == 200
    view = coach.get("/api/people").json()
    assert [(p["name"], p["standing"]) for p in view["people"]] == [("Coach of harbour", "owner"), ("Emeric", "coach")]
    assert view["invited"] == []
    assert (
        coach.post("/api/people/invitations", json={"name": "E", "email": "emeric@harbour.example", "standing": "coach"}).json()["field"]
        == "email"
    )


def test_an_invitation_is_listed_and_taken_back(coach, browser):
    body = {"name": "Ines", "email": "ines@harbour.example", "standing": "assistant"}
    first = coach.post("/api/people/invitations", json=body).json()["path"].rsplit("/", 1)[1]
    second = coach.post("/api/people/invitations", json=body).json()["path"].rsplit("/", 1)[1]
    (waits,) = coach.get("/api/people").json()["invited"]
    assert browser().get(f"/api/joining/{first}").status_code == 422, "a newer one ends the earlier"
    assert coach.delete(f"/api/people/invitations/{waits['id']}").status_code == 204
    assert browser().post(f"/api/joining/{second}", json={"password": WORDS}).json()["code"] == "link"


def test_only_an_owner_manages_people(coach, client, invite):
    page, account = invite("Emeric")
    for other in (page, client):
        assert other.get("/api/people").status_code == 403
        assert change(other, account, standing="owner").status_code == 403
    assert change(coach, account, standing="owner").status_code == 204
    assert page.get("/api/people").status_code == 200


def test_somebody_always_owns_the_practice(coach, practice, invite):
    me = str(practice.coach_id)
    assert "only owner" in change(coach, me).json()["message"]
    assert "only owner" in change(coach, me, standing="owner", disabled=True).json()["message"]
    _, account = invite("Emeric", "owner")
    assert coach.post(f"/api/people/{me}/hand-over", json={"to": account}).json() == {"count": 1}
    assert change(coach, me, standing="owner", disabled=True).status_code == 204
    assert coach.get("/api/me").status_code == 401, "signed out at once"


def test_who_is_disabled_cannot_come_in_any_way(coach, browser, invite, owner):
    page, account = invite("Emeric")
    page.post("/api/forgotten", json={"email": "emeric@harbour.example"})
    body = owner.execute("select body from outbox where subject = 'A new password'").fetchone()[0]
    token = next(line.rsplit("/", 1)[1] for line in body.splitlines() if line.startswith("/"))
    assert change(coach, account, disabled=True).status_code == 204
    assert page.get("/api/me").status_code == 401
    assert page.post("/api/sign-in", json={"email": "emeric@harbour.example", "password": WORDS}).status_code == 422
    assert browser().post(f"/api/new-passwords/{token}", json={"password": PASSWORD}).json()["code"] == "link"
    assert change(coach, account, disabled=False).status_code == 204
    assert page.post("/api/sign-in", json={"email": "emeric@harbour.example", "password": WORDS}).status_code == 204


def test_nobody_leaves_with_clients(coach, practice, invite, owner):
    page, account = invite("Emeric")
    made = page.post("/api/clients", json={"name": "Nell", "time_zone": "UTC"}).json()["id"]
    assert change(coach, account, disabled=True).json()["field"] == "disabled"
    assert "1 client" in change(coach, account, standing="assistant").json()["message"]
    assert page.post(f"/api/clients/{practice.client_id}/hand-over", json={"to": account}).json()["code"] == "not-yours", "not theirs"
    assert page.post(f"/api/people/{practice.coach_id}/hand-over", json={"to": account}).json()["code"] == "not-yours"
    assert page.post(f"/api/clients/{made}/hand-over", json={"to": str(practice.coach_id)}).status_code == 204
    assert change(coach, account, disabled=True).status_code == 204
    assert coach.post(f"/api/clients/{made}/hand-over", json={"to": account}).json()["field"] == "to"


def test_assistants_do_the_days_work_and_nothing_for_the_whole_practice(coach, practice, invite):
    page, account = invite("Ines", "assistant")
    assert page.get(f"/api/clients/{practice.client_id}").status_code == 200
    said = {"id": "0b0e6f0c-9a55-4d38-9a8b-7c8f0a2d7d11", "text": "Well done."}
    assert page.post(f"/api/clients/{practice.client_id}/messages", json=said).status_code == 204
    refused = [
        page.post("/api/clients", json={"name": "X", "time_zone": "UTC"}),
        page.put("/api/settings/safety/number", json={"number": "1"}),
        page.put("/api/settings/review", json={}),
        page.get("/api/export/logs.csv"),
        page.post("/api/exercises", json={}),
        page.post(f"/api/clients/{practice.client_id}/hand-over", json={"to": account}),
        page.get("/api/people"),
    ]
    assert {r.status_code for r in refused} == {403}
    assert coach.post(f"/api/clients/{practice.client_id}/hand-over", json={"to": account}).json()["field"] == "to"


def test_whose_clients_are_seen(coach, practice, invite):
    page, account = invite("Emeric")
    own = page.post("/api/clients", json={"name": "Nell", "time_zone": "UTC"}).json()["id"]
    assert len(page.get("/api/clients").json()) == 2
    assert change(coach, account, sees_all=False).status_code == 204
    assert [c["id"] for c in page.get("/api/clients").json()] == [own]
    theirs = f"/api/clients/{practice.client_id}"
    for path in (theirs, f"{theirs}/intake", f"{theirs}/messages", f"{theirs}/timeline", f"{theirs}/sittings"):
        assert page.get(path).status_code == 404, path
    rows = page.get("/api/export/logs.csv").text.splitlines()
    assert not any("Client of harbour" in row for row in rows)
    assert page.get("/api/desk").status_code == 200
    assert change(coach, account, sees_all=False, sees=[str(practice.coach_id)]).status_code == 204
    assert page.get(theirs).status_code == 200


def test_who_sees_some_clients_is_held_in_the_database(db, coach, practice, invite):
    from dimbo.store.people import accounts

    _, account = invite("Emeric")
    change(coach, account, sees_all=False)
    with db.practice(practice.id) as conn:
        person = accounts.at_work(conn, account)
        tables = conn.execute(
            "select c.relname from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'client_id' "
            "where c.relkind = 'r' and c.relrowsecurity and c.relname <> 'accounts'"
        ).fetchall()
    assert len(tables) > 20 and not person.sees_all
    with db.of(person) as conn:
        for (table,) in tables:
            seen = conn.execute(f"select count(*) from {table} where client_id = %s".encode(), (practice.client_id,)).fetchone()
            assert seen == (0,), table
        assert conn.execute("select count(*) from clients").fetchone() == (0,)


def test_an_owner_hands_over_a_link_for_a_new_password(coach, browser, invite):
    _, account = invite("Emeric")
    link = coach.post(f"/api/people/{account}/new-password").json()["path"].rsplit("/", 1)[1]
    assert browser().post(f"/api/new-passwords/{link}", json={"password": PASSWORD}).json() == {"signed_in": True}
    assert browser().post("/api/sign-in", json={"email": "emeric@harbour.example", "password": WORDS}).status_code == 422
