"""Every client page and the coach's main pages in Firefox and in WebKit, the engine of every iPhone, beside Chromium."""

import re

import pytest

from ..answered import answer_over_wire
from ..web.conftest import PASSWORD
from .conftest import LAPTOP, PHONE, Wire
from .other_browsers import fill, firefox, press, until, wait_for, webkit
from .test_sheet_and_practice import draft, post

BROWSERS = {"firefox": firefox, "webkit": webkit}
WIDE = "(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)"


@pytest.fixture(scope="module", params=BROWSERS)
def browser(request):
    with BROWSERS[request.param]() as opened:
        yield opened


@pytest.fixture
def course(visit, site):
    """A client with an account whose program runs today; the coach's page that made it, ids and the client's address."""
    coach = visit("/", site.practice.coach_email)
    new = {"name": "Fenja Osterlund", "birth_year": 1980, "time_zone": "UTC", "minutes": 15, "concerns": ["low-brow"]}
    client = post(coach, "/api/clients", new)["id"]
    answer_over_wire(Wire(coach), client)
    program = draft(coach, client, "low-brow", weeks=12)
    start = coach.request.get(f"/api/programs/{program}").json()["client_today"]
    post(coach, f"/api/programs/{program}/assignment", {"start": start})
    return coach, client, program


def sign_in(browser, site, email):
    browser.goto(f"{site.address}/sign-in")
    fill(browser, "E-mail", email)
    fill(browser, "Password", PASSWORD)
    press(browser, "Sign in")


def sign_out(browser, site):
    browser.run("(() => fetch('/api/sign-out', {method: 'POST', headers: {'x-dimbo': '1'}}).then(() => true))")


def look(browser, site, address, wanted):
    browser.goto(f"{site.address}{address}")
    wait_for(browser, wanted)
    assert browser.run(WIDE) <= 1, f"{address} runs off the side"


def test_the_coachs_pages(browser, site, course):
    _, client, program = course
    browser.size(**LAPTOP)
    sign_in(browser, site, site.practice.coach_email)
    wait_for(browser, "On track")
    for address, wanted in (
        ("/desk", "Fenja Osterlund"),
        ("/clients", "Fenja Osterlund"),
        (f"/clients/{client}", "Week 1"),
        (f"/clients/{client}/intake", "Intake"),
        (f"/clients/{client}/sittings", "No sitting yet"),
        (f"/clients/{client}/record", "Who looked"),
        (f"/clients/{client}/letters", "New letter"),
        ("/helped", "Client by client"),
        (f"/programs/{program}", "one session to scale"),
        (f"/programs/{program}/assign", "Use version 1 from this day"),
        ("/reviews", re.compile("No review waits|Leave it|Next, without deciding")),
        ("/exercises", "Said in this order"),
        ("/templates", "Twenty-week reference"),
        ("/settings", "What this changes"),
        ("/settings/review", "Export tables"),
        ("/settings/people", "Invite a colleague"),
        ("/account", "Where you are signed in"),
    ):
        look(browser, site, address, wanted)
    sign_out(browser, site)
    assert browser.complaints == []


def test_a_clients_pages_from_the_first_link_to_the_end_of_a_session(browser, site, course):
    coach, client, _ = course
    browser.size(**PHONE)
    link = post(coach, f"/api/clients/{client}/invitation", {"email": f"{client[:8]}@mail.example"})["path"]
    look(browser, site, link, "Fenja")
    fill(browser, "Password", PASSWORD)
    press(browser, "Begin")
    wait_for(browser, "minutes this morning")
    for address, wanted in (
        ("/today", "minutes this morning"),
        ("/my-course", "Week by week"),
        ("/my-photographs", "No photographs yet"),
        ("/my-letters", "No letters yet"),
        ("/my-settings", "Reminders"),
        ("/my-account", "Where you are signed in"),
        ("/my-record", "Your record"),
        ("/agreements", re.compile("agree", re.I)),
        ("/by-hand", re.compile("without|by hand", re.I)),
    ):
        look(browser, site, address, wanted)
    look(browser, site, "/today", "minutes this morning")
    press(browser, "Start")
    wait_for(browser, "Begin")
    press(browser, "Begin")
    wait_for(browser, "It hurts")
    until(browser, "(() => /\\d/.test(document.querySelector('main').innerText))")
    sign_out(browser, site)
    assert browser.complaints == []


def test_what_opens_by_a_link(browser, site, course):
    coach, client, _ = course
    browser.size(**PHONE)
    intake = post(coach, f"/api/clients/{client}/self-intake", {})["path"]
    look(browser, site, intake, "Fenja")
    agreed = coach.request.put(f"/api/clients/{client}/consents/photographs", headers={"x-dimbo": "1"}, data={"given": True, "version": 1})
    assert agreed.ok
    sitting = post(coach, f"/api/clients/{client}/sittings", {"asked_views": ["front-neutral"]})["id"]
    look(browser, site, post(coach, f"/api/sittings/{sitting}/link", {})["path"], "Your photographs, Fenja")
    assert browser.complaints == []
