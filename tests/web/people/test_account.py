"""Everybody's own account: password, address, where it is signed in, a second factor, and a password that was forgotten."""

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

import pyotp
import pytest

from dimbo.work.people.signing_in import device_words
from dimbo.work.practice.reminding import Carriers

from ...postman import Postman
from ..conftest import PASSWORD

NEW = "otters keep seven lanterns"


def letters(owner, address):
    """What waits to be carried to an address."""
    return [b for (b,) in owner.execute("select body from outbox where kind = 'account' and address = %s order by made_at", (address,))]


def token_in(body):
    return next(line.rsplit("/", 1)[1] for line in body.splitlines() if line.startswith("/"))


def sign_in(page, email, password=PASSWORD, **more):
    return page.post("/api/sign-in", json={"email": email, "password": password} | more)


@pytest.mark.parametrize(
    ("password", "says"),
    [("short", "at least 10"), ("password1234", "easily guessed"), ("qwertyuiop1", "easily guessed"), ("x" * 250, "at most 200")],
)
def test_common_and_short_passwords_are_refused(coach, password, says):
    answer = coach.put("/api/account/password", json={"old": PASSWORD, "new": password})
    assert answer.status_code == 422 and answer.json()["field"] == "password" and says in answer.json()["message"]


def test_the_own_name_is_no_password(coach):
    made = coach.put("/api/account/password", json={"old": PASSWORD, "new": "coachofharbour"})
    assert made.status_code == 422


def test_a_new_password_signs_out_everywhere_else(coach, browser, practice):
    elsewhere = browser(practice.coach_email)
    assert coach.put("/api/account/password", json={"old": "wrong one here", "new": NEW}).json()["field"] == "old"
    assert coach.put("/api/account/password", json={"old": PASSWORD, "new": NEW}).json() == {"count": 1}
    assert coach.get("/api/me").status_code == 200 and elsewhere.get("/api/me").status_code == 401
    assert sign_in(browser(), practice.coach_email).status_code == 422
    assert sign_in(browser(), practice.coach_email, NEW).status_code == 204


def test_one_sees_where_one_is_signed_in_and_ends_it(client, browser, practice):
    phone = browser()
    phone.headers["user-agent"] = "Mozilla/5.0 (iPhone; CPU iPhone OS 17_0) AppleWebKit/605.1 Version/17.0 Safari/604.1"
    sign_in(phone, practice.client_email)
    seen = client.get("/api/account").json()["sign_ins"]
    assert [s["here"] for s in seen].count(True) == 1 and {s["device"] for s in seen} == {"Safari on iPhone", "another program"}
    other = next(s for s in seen if not s["here"])
    assert client.delete(f"/api/account/sign-ins/{other['id']}").status_code == 204
    assert phone.get("/api/me").status_code == 401
    sign_in(phone, practice.client_email)
    assert client.delete("/api/account/sign-ins").json() == {"count": 1}
    assert phone.get("/api/me").status_code == 401 and client.get("/api/me").status_code == 200


def test_nobody_ends_the_sign_ins_of_another(client, coach):
    (theirs,) = coach.get("/api/account").json()["sign_ins"]
    client.delete(f"/api/account/sign-ins/{theirs['id']}")
    assert coach.get("/api/me").status_code == 200


def test_a_device_is_named_in_two_words():
    assert device_words("Mozilla/5.0 (Windows NT 10.0) Gecko/20100101 Firefox/128.0") == "Firefox on Windows"
    assert device_words("curl/8") == "another program"


def test_a_sign_in_that_is_not_used_ends(coach, owner):
    owner.execute("update sign_ins set seen_at = now() - interval '13 days'")
    assert coach.get("/api/me").status_code == 200, "used again, so it lasts"
    assert owner.execute("select now() - seen_at < interval '1 minute' from sign_ins").fetchone() == (True,)
    owner.execute("update sign_ins set seen_at = now() - interval '15 days'")
    assert coach.get("/api/me").status_code == 401


def test_a_forgotten_password_is_told_the_same_for_everybody(browser, practice, owner):
    page = browser()
    known, unknown = (page.post("/api/forgotten", json={"email": e}) for e in (practice.client_email.upper(), "nobody@x.example"))
    assert known.status_code == unknown.status_code == 204 and known.content == unknown.content
    (body,) = letters(owner, practice.client_email)
    assert "30 minutes" in body and letters(owner, "nobody@x.example") == []


def test_the_link_for_a_new_password_works_once_and_for_half_an_hour(browser, client, practice, owner):
    page = browser()
    page.post("/api/forgotten", json={"email": practice.client_email})
    token = token_in(letters(owner, practice.client_email)[-1])
    assert page.get(f"/api/new-passwords/{token}").json()["practice_name"] == "harbour"
    assert page.post(f"/api/new-passwords/{token}", json={"password": "1234567890"}).json()["field"] == "password"
    assert page.post(f"/api/new-passwords/{token}", json={"password": NEW}).json() == {"signed_in": True}
    assert page.get("/api/me").json()["role"] == "client" and client.get("/api/me").status_code == 401, "signed out elsewhere"
    again = page.post(f"/api/new-passwords/{token}", json={"password": "another four plain words"})
    assert again.status_code == 422 and "used" in again.json()["message"]
    page.post("/api/forgotten", json={"email": practice.client_email})
    late = token_in(letters(owner, practice.client_email)[-1])
    owner.execute("update account_links set expires_at = expires_at - interval '31 minutes'")
    assert "run out" in page.get(f"/api/new-passwords/{late}").json()["message"]


def test_a_newer_link_ends_the_earlier_and_few_are_sent(browser, practice, owner):
    page = browser()
    for _ in range(9):
        assert page.post("/api/forgotten", json={"email": practice.client_email}).status_code == 204
    sent = letters(owner, practice.client_email)
    assert len(sent) == 4
    assert [page.get(f"/api/new-passwords/{token_in(b)}").status_code for b in sent] == [422, 422, 422, 200]


def test_what_opens_an_account_is_in_no_list_and_does_not_stay(coach, client, browser, practice, owner, db):
    from dimbo.work.practice import reminding

    browser().post("/api/forgotten", json={"email": practice.client_email})
    assert coach.get("/api/outbox").json() == client.get("/api/my-outbox").json() == []
    for minute in range(3):
        reminding.carry(db, practice.id, Carriers(messenger=Postman()), datetime.now(UTC) + timedelta(minutes=minute))
    assert owner.execute("select state, body from outbox where kind = 'account'").fetchall() == [("delivered", "")]


def test_a_new_address_holds_once_its_link_was_followed(coach, browser, practice, owner):
    body = {"email": "New.Coach@mail.example", "password": PASSWORD}
    assert coach.post("/api/account/address", json=body | {"password": "not this one"}).json()["field"] == "password"
    assert coach.post("/api/account/address", json=body | {"email": practice.client_email}).json()["field"] == "email"
    assert coach.post("/api/account/address", json=body).status_code == 204
    assert coach.get("/api/account").json() | {"sign_ins": 0} == coach.get("/api/account").json() | {
        "sign_ins": 0,
        "email": practice.coach_email,
        "pending": "New.Coach@mail.example",
    }
    assert "change your password" in letters(owner, practice.coach_email)[0], "the old address is told"
    token = token_in(letters(owner, "New.Coach@mail.example")[0])
    assert browser().post(f"/api/addresses/{token}").json() == {"email": "New.Coach@mail.example"}
    assert browser().post(f"/api/addresses/{token}").status_code == 422
    assert sign_in(browser(), "new.coach@mail.example").status_code == 204
    assert coach.get("/api/account").json()["pending"] == ""


def test_a_new_password_ends_the_links_that_somebody_else_asked_for(coach, browser, practice, owner):
    coach.post("/api/account/address", json={"email": "thief@mail.example", "password": PASSWORD})
    browser().post("/api/forgotten", json={"email": practice.coach_email})
    moved = token_in(letters(owner, "thief@mail.example")[0])
    reset = token_in(letters(owner, practice.coach_email)[-1])
    coach.put("/api/account/password", json={"old": PASSWORD, "new": NEW})
    assert browser().post(f"/api/addresses/{moved}").json()["code"] == "link"
    assert browser().get(f"/api/new-passwords/{reset}").json()["code"] == "link"
    assert coach.get("/api/account").json()["email"] == practice.coach_email


def test_the_name_and_the_zone_of_ones_days(coach, client):
    assert coach.put("/api/account/name", json={"name": "Orla Quist", "time_zone": "Europe/Oslo"}).status_code == 204
    assert coach.get("/api/me").json()["time_zone"] == "Europe/Oslo"
    assert coach.get("/api/me").json()["name"] == "Orla Quist" and coach.get("/api/account").json()["time_zone"] == "Europe/Oslo"
    assert coach.put("/api/account/name", json={"name": " "}).json()["field"] == "name"
    assert coach.put("/api/account/name", json={"name": "Orla", "time_zone": "Mars/Olympus"}).json()["field"] == "time_zone"
    client.put("/api/account/name", json={"name": "Nell"})
    assert client.get("/api/my-days").json()["name"] == "Nell"


# ---------------------------------------------------------------- the second factor
def with_factor(page):
    """Set up a second factor; its secret and recovery codes."""
    begun = page.post("/api/account/factor", json={"password": PASSWORD}).json()
    assert "<svg" in begun["picture"]
    made = page.post("/api/account/factor/confirm", json={"code": pyotp.TOTP(begun["secret"]).now()})
    assert made.status_code == 200, made.text
    return begun["secret"], made.json()["codes"]


def test_a_second_factor_is_asked_for_after_the_right_password_only(coach, browser, practice):
    secret, codes = with_factor(coach)
    assert len(set(codes)) == 8
    page = browser()
    assert sign_in(page, practice.coach_email, "wrong words entirely").json()["field"] is None
    asked = sign_in(page, practice.coach_email)
    assert (asked.json()["code"], asked.json()["field"]) == ("needed", "code") and page.get("/api/me").status_code == 401
    assert sign_in(page, practice.coach_email, code="000000").json()["field"] == "code"
    coming = pyotp.TOTP(secret).at(datetime.now(UTC) + timedelta(seconds=30))  # the code of now was taken by setting it up
    assert sign_in(page, practice.coach_email, code=coming).status_code == 204
    assert sign_in(browser(), practice.coach_email, code=coming).status_code == 422, "each code once"


def test_a_recovery_code_works_once_however_it_is_typed(coach, browser, practice):
    _, codes = with_factor(coach)
    assert sign_in(browser(), practice.coach_email, code=codes[0].upper().replace("-", " ")).status_code == 204
    assert sign_in(browser(), practice.coach_email, code=codes[0]).status_code == 422
    assert coach.get("/api/account").json()["recovery_codes"] == 7


def test_a_new_password_by_link_does_not_go_round_the_second_factor(coach, browser, practice, owner):
    with_factor(coach)
    page = browser()
    page.post("/api/forgotten", json={"email": practice.coach_email})
    token = token_in(letters(owner, practice.coach_email)[-1])
    assert page.post(f"/api/new-passwords/{token}", json={"password": NEW}).json() == {"signed_in": False}
    assert page.get("/api/me").status_code == 401
    assert sign_in(page, practice.coach_email, NEW).json()["field"] == "code"


def test_the_factor_is_switched_off_with_the_password(coach, browser, practice):
    with_factor(coach)
    assert coach.post("/api/account/factor", json={"password": PASSWORD}).json()["code"] == "already"
    assert coach.post("/api/account/factor/off", json={"password": "not this one"}).status_code == 422
    assert coach.post("/api/account/factor/off", json={"password": PASSWORD}).status_code == 204
    assert sign_in(browser(), practice.coach_email).status_code == 204


def test_a_factor_that_was_only_begun_is_not_asked_for(coach, browser, practice):
    coach.post("/api/account/factor", json={"password": PASSWORD})
    assert sign_in(browser(), practice.coach_email).status_code == 204
    assert coach.post("/api/account/factor/confirm", json={"code": "123456"}).json()["field"] == "code"


# ---------------------------------------------------------------- tries
def test_tries_are_counted_before_the_password_is_looked_at(browser, practice):
    """Many at once get no more tries than one after the other."""
    pages = [browser() for _ in range(24)]
    with ThreadPoolExecutor(12) as together:
        answers = list(together.map(lambda p: sign_in(p, practice.coach_email, "wrong words entirely").json()["code"], pages))
    assert answers.count("not-yours") <= 8 and answers.count("too-many") >= 16


def test_nobody_locks_out_a_device_where_the_account_was_signed_in(coach, browser, practice):
    coach.post("/api/sign-out")
    stranger = browser()
    for _ in range(12):
        sign_in(stranger, practice.coach_email, "wrong words entirely")
    assert sign_in(stranger, practice.coach_email).status_code == 429
    assert sign_in(coach, practice.coach_email).status_code == 204


def test_an_address_is_held_off_by_the_day_as_well(browser, practice, owner):
    address = "from:testclient"
    owner.execute("insert into failed_sign_ins (key, at) select %s, now() - interval '3 hours' from generate_series(1, 200)", (address,))
    assert sign_in(browser(), practice.coach_email).status_code == 429
    owner.execute("update failed_sign_ins set at = now() - interval '25 hours'")
    assert sign_in(browser(), practice.coach_email).status_code == 204


def test_over_https_the_cookies_are_bound_to_the_host(cluster, database_name, practice):
    from fastapi.testclient import TestClient

    from dimbo.ops.settings import Settings
    from dimbo.web.app import build_app

    settings = Settings(database_url=cluster.url(database=database_name), base_url="https://practice.example")
    with TestClient(build_app(settings), base_url="https://practice.example", headers={"x-dimbo": "1"}) as page:
        answer = sign_in(page, practice.coach_email)
        cookies = answer.headers.get_list("set-cookie")
        assert len(cookies) == 2 and all(c.startswith("__Host-") and "Secure" in c and "HttpOnly" in c for c in cookies)
        assert page.get("/api/me").status_code == 200
        assert page.get("/api/me").headers["strict-transport-security"].startswith("max-age=")


@pytest.mark.parametrize(
    ("given", "secure"),
    [
        ({}, False),
        ({"host": "0.0.0.0"}, True),
        ({"base_url": "https://a.example"}, True),
        ({"host": "0.0.0.0", "secure_cookie": False}, False),
    ],
)
def test_cookies_are_secure_unless_everything_stays_on_this_machine(given, secure):
    from dimbo.ops.settings import Settings

    assert Settings(**given).secure is secure
