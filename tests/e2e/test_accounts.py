"""A colleague is invited and joins; the second factor is set up and asked for; a page of one's own for everybody."""

import re
from datetime import UTC, datetime, timedelta

import pyotp
from playwright.sync_api import expect

from .looks import look
from .test_practice import practising

__all__ = ["practising"]

WORDS = "seven otters keep lanterns"


def test_a_colleague_is_invited_joins_and_is_shown_some_clients_only(visit, site):
    owner = visit("/settings/people", site.practice.coach_email)
    expect(owner.get_by_role("article", name="Coach of harbour")).to_contain_text("owner, you")
    aside = owner.get_by_role("complementary")
    aside.get_by_label("Name").fill("Ines Adler-Roux")
    aside.get_by_label("E-mail").fill("ines@harbour.example")
    aside.get_by_label(re.compile("^Assistant")).check()
    aside.get_by_role("button", name="Invite", exact=True).click()
    link = owner.get_by_role("dialog").get_by_text("/join/").inner_text()
    owner.get_by_role("button", name="Close").click()
    expect(aside).to_contain_text("the link waits to be followed")

    page = visit(link)
    expect(page.get_by_role("heading", name="Welcome, Ines Adler-Roux")).to_be_visible()
    look(page)
    page.get_by_label("Password").fill("password1234")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("alert")).to_contain_text("easily guessed")
    page.get_by_label("Password").fill(WORDS)
    page.get_by_role("button", name="Begin").click()
    expect(page).to_have_url(re.compile("/desk$"))
    page.goto("/settings/people")
    expect(page.get_by_text("by an owner of the practice")).to_be_visible()

    owner.reload()
    ines = owner.get_by_role("article", name="Ines Adler-Roux")
    ines.get_by_role("button", name="Change").click()
    ines.get_by_label("Sees every client of the practice").uncheck()
    expect(ines).to_contain_text("sees own clients only")
    look(owner)
    page.goto("/clients")
    expect(page.get_by_role("link", name="Client of harbour")).to_have_count(0)

    ines.get_by_role("button", name="Has left").click()
    expect(owner.get_by_role("heading", name="Have left")).to_be_visible()
    page.goto("/clients")
    expect(page).to_have_url(re.compile("sign-in"))


def test_a_second_factor_is_set_up_and_asked_for(visit, site, practising):
    *_, phone, _, email, _ = practising()
    phone.goto("/my-account")
    look(phone, client=True)
    phone.get_by_role("button", name="Set it up").click()
    phone.get_by_label("Your password").fill("four plain words here")
    phone.get_by_role("button", name="Set it up").click()
    secret = phone.get_by_role("region", name="Second factor").locator("code").inner_text()
    phone.get_by_label("Code").fill(pyotp.TOTP(secret).now())
    phone.get_by_role("button", name="Switch it on").click()
    expect(phone.get_by_role("status").filter(has_text="recovery codes")).to_contain_text("shown this once")

    other = visit("/sign-in", phone=True)
    other.get_by_label("E-mail").fill(email)
    other.get_by_label("Password").fill("four plain words here")
    other.get_by_role("button", name="Sign in").click()
    other.get_by_label("Code of your second factor").fill(pyotp.TOTP(secret).at(datetime.now(UTC) + timedelta(seconds=30)))
    other.get_by_role("button", name="Sign in").click()
    expect(other).to_have_url(re.compile("/today$"))

    phone.reload()
    places = phone.get_by_role("region", name="Where you are signed in")
    places.get_by_role("button", name="Sign out everywhere else").click()
    expect(phone.get_by_text("Signed out in one other place.")).to_be_visible()
    other.goto("/my-account")
    expect(other).to_have_url(re.compile("sign-in"))
