"""Who may sign in, and what they may see."""

from datetime import UTC, datetime, timedelta

import pytest

from tests.web.conftest import PASSWORD, make_practice


def test_the_cookie_is_out_of_reach_of_scripts_and_other_sites(browser, practice):
    answer = browser().post("/api/sign-in", json={"email": practice.coach_email, "password": PASSWORD})
    cookie = answer.headers["set-cookie"].lower()
    assert "httponly" in cookie and "samesite=strict" in cookie


def test_signing_out_ends_the_session_on_the_server(coach):
    kept = coach.cookies.get("dimbo_sign_in")
    assert coach.get("/api/me").json()["role"] == "coach"
    coach.post("/api/sign-out")
    coach.cookies.set("dimbo_sign_in", kept)
    assert coach.get("/api/me").status_code == 401


def test_wrong_passwords_and_unknown_people_are_told_the_same(browser, practice):
    anyone = browser()
    known = anyone.post("/api/sign-in", json={"email": practice.coach_email, "password": "wrong"})
    unknown = anyone.post("/api/sign-in", json={"email": "nobody@x.example", "password": "wrong"})
    assert known.status_code == unknown.status_code == 422
    assert known.json() == unknown.json()


def test_sign_in_is_throttled_and_the_right_password_waits_too(browser, practice):
    anyone = browser()
    for _ in range(8):
        anyone.post("/api/sign-in", json={"email": practice.coach_email, "password": "wrong"})
    late = anyone.post("/api/sign-in", json={"email": practice.coach_email.upper(), "password": PASSWORD})
    assert late.status_code == 429
    assert "Wait" in late.json()["message"]
    other = anyone.post("/api/sign-in", json={"email": practice.client_email, "password": PASSWORD})
    assert other.status_code == 204


def test_expired_sign_ins_are_nobodys(coach, owner):
    owner.execute("update sign_ins set expires_at = now() - interval '1 minute'")
    assert coach.get("/api/clients").status_code == 401


@pytest.mark.parametrize("headers", [{"x-dimbo": ""}, {"sec-fetch-site": "cross-site"}])
def test_requests_from_other_sites_change_nothing(coach, practice, headers, owner):
    if "x-dimbo" in headers:
        del coach.headers["x-dimbo"]
        headers = {}
    answer = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "x", "source": "empty"}, headers=headers)
    assert answer.status_code == 403
    assert owner.execute("select count(*) from programs").fetchone() == (0,)


def test_practices_never_see_each_other(browser, db, owner, practice, coach):
    other = make_practice(db, owner, "hillside")
    theirs = browser(other.coach_email)
    program = coach.post(f"/api/clients/{practice.client_id}/programs", json={"title": "Ours", "source": "empty"}).json()["id"]
    assert [c["name"] for c in theirs.get("/api/clients").json()] == ["Client of hillside"]
    for path in (f"/api/clients/{practice.client_id}", f"/api/programs/{program}", f"/api/clients/{practice.client_id}/sittings"):
        assert theirs.get(path).status_code == 404
        assert coach.get(path).status_code == 200
    assert theirs.post(f"/api/programs/{program}/assignment", json={"start": "2026-01-01"}).status_code == 404


def test_row_level_security_holds_even_for_a_query_that_forgot_its_practice(db, owner, practice):
    other = make_practice(db, owner, "hillside")
    with db.practice(practice.id) as conn:
        assert conn.execute("select id from clients").fetchall() == [(practice.client_id,)]
        assert conn.execute("update clients set name = 'x' where id = %s", (other.client_id,)).rowcount == 0
    with db.practice(practice.id, other.client_id) as conn:
        assert conn.execute("select id from clients").fetchall() == []
    with db.anyone() as conn:
        assert conn.execute("select id from clients").fetchall() == []


def test_clients_are_kept_out_of_the_coachs_rooms(client, practice):
    for path in ("/api/clients", f"/api/clients/{practice.client_id}"):
        assert client.get(path).status_code == 403


def invited(coach, db, practice, email="new@mail.example"):
    made = coach.post("/api/clients", json={"name": "Newcomer", "time_zone": "Europe/Oslo"}).json()["id"]
    link = coach.post(f"/api/clients/{made}/invitation", json={"email": email})
    assert link.status_code == 201, link.text
    return made, link.json()["path"].rsplit("/", 1)[1]


def test_an_invitation_works_once(coach, browser, db, practice):
    _, token = invited(coach, db, practice)
    guest = browser()
    assert guest.get(f"/api/invitations/{token}").json()["client_name"] == "Newcomer"
    assert guest.post(f"/api/invitations/{token}", json={"password": "short"}).json()["field"] == "password"
    assert guest.post(f"/api/invitations/{token}", json={"password": PASSWORD}).status_code == 204
    assert guest.get("/api/me").json()["role"] == "client"
    again = browser().post(f"/api/invitations/{token}", json={"password": PASSWORD})
    assert again.status_code == 422 and "used" in again.json()["message"]
    assert browser("new@mail.example").get("/api/my-days").status_code == 200


def test_expired_and_unknown_links_say_so(coach, browser, db, practice, owner):
    _, token = invited(coach, db, practice)
    owner.execute("update invitations set expires_at = %s", (datetime.now(UTC) - timedelta(days=1),))
    assert "run out" in browser().get(f"/api/invitations/{token}").json()["message"]
    assert "not known" in browser().get("/api/invitations/nothing").json()["message"]


def test_bad_input_names_the_field_and_the_remedy(coach):
    zone = coach.post("/api/clients", json={"name": "A", "time_zone": "Mars/Olympus"})
    assert zone.status_code == 422 and zone.json()["field"] == "time_zone" and "Europe/Lisbon" in zone.json()["message"]
    year = coach.post("/api/clients", json={"name": "A", "time_zone": "UTC", "birth_year": 18})
    assert year.json()["field"] == "birth_year"
    assert len(coach.get("/api/clients").json()) == 1
