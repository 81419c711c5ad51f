"""Every page: nothing runs off the side, nothing is too small, everything that can be pressed has a name."""

import re

import pytest
from playwright.sync_api import expect

from ..answered import answer_over_wire
from ..web.conftest import PASSWORD
from .conftest import Wire
from .looks import look
from .test_sheet_and_practice import draft, post


@pytest.fixture
def program(visit, site):
    coach = visit("/", site.practice.coach_email)
    client = post(
        coach, "/api/clients", {"name": "Looked At", "birth_year": 1980, "time_zone": "UTC", "minutes": 15, "concerns": ["low-brow"]}
    )["id"]
    answer_over_wire(Wire(coach), client)
    program = draft(coach, client, "low-brow", weeks=12)
    return coach, client, program


def test_the_coachs_pages_at_laptop_size(program, site):
    coach, client, path = program
    for address, wait in (
        ("/desk", "On track"),
        ("/reviews", re.compile("^(No review waits|Leave it|Next, without deciding)$")),
        ("/settings/review", "Every rule"),
        ("/clients", "Looked At"),
        (f"/clients/{client}", "Concerns, and what they come from"),
        (f"/programs/{path}", "one session to scale"),
        (f"/clients/{client}/sittings", "No sitting yet"),
        (f"/clients/{client}/intake", "Ask these first."),
        ("/clients/import", "From a workbook"),
        ("/settings", "What this changes"),
        ("/settings/reasoning", "What an answer says for it"),
        ("/settings/messenger", "What was sent, by person"),
        ("/settings/people", "Invite a colleague"),
        ("/settings/records", "What stays of each"),
        (f"/clients/{client}/record", "Who looked"),
        (f"/clients/{client}/letters", "None yet"),
        ("/helped", "Client by client"),
        ("/account", "Where you are signed in"),
        ("/templates", "Twenty-week reference"),
        ("/templates/reference-20", "one session to scale"),
        ("/exercises", "Said in this order"),
    ):
        coach.goto(address)
        expect(coach.get_by_text(wait).first).to_be_visible()
        found = look(coach)
        assert found["headings"] == 1 or "/programs/" in address or "/templates/" in address


def test_the_clients_pages_on_a_phone(program, visit, site):
    coach, client, path = program
    start = coach.request.get(f"/api/programs/{path}").json()["client_today"]
    post(coach, f"/api/programs/{path}/assignment", {"start": start})
    link = post(coach, f"/api/clients/{client}/invitation", {"email": f"{client[:8]}@mail.example"})["path"]
    phone = visit(link, phone=True)
    phone.get_by_label("Password").fill(PASSWORD)
    look(phone)
    phone.get_by_role("button", name="Begin").click()
    expect(phone.get_by_text("minutes this morning")).to_be_visible()
    look(phone)
    phone.get_by_role("link", name="My course").click()
    expect(phone.get_by_role("heading", name="Week by week")).to_be_visible()
    look(phone, client=True)
    phone.get_by_role("link", name="Today").click()
    phone.get_by_role("link", name="Start").click()
    expect(phone.get_by_role("button", name="Begin")).to_be_visible()
    look(phone, client=True)
    phone.get_by_role("button", name="Begin").click()
    expect(phone.get_by_role("button", name="It hurts")).to_be_visible()
    look(phone, client=True)
    sizes = phone.evaluate(
        "[...document.querySelectorAll('main *')].filter(e => [...e.childNodes].some(n => n.nodeType === 3 && "
        "n.textContent.trim()) && !e.closest('svg')).map(e => parseFloat(getComputedStyle(e).fontSize))"
    )
    assert min(sizes) >= 20 and max(sizes) >= 100
    phone.get_by_role("button", name="It hurts").click()
    expect(phone.get_by_role("heading", name="What hurts?")).to_be_visible()
    look(phone, client=True)
    phone.get_by_role("button", name="Touch here").click()
    expect(phone.get_by_role("heading", name="Is one of these new?")).to_be_visible()
    look(phone, client=True)


def test_strangers_are_led_to_the_sign_in_and_back(visit, site):
    page = visit("/exercises")
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    page.get_by_label("E-mail").fill(site.practice.coach_email)
    page.get_by_label("Password").fill("not the password")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("is wrong")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("Said in this order")).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    page.goto("/no-such-page")
    expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()


SECTIONS = ("Cautions", "Concerns", "Side tests", "Time", "Consent", "Notes")


def test_every_section_of_the_intake(program):
    coach, client, _ = program
    coach.goto(f"/clients/{client}/intake")
    rating = {"id": "0d4f1c52-4f0e-4a55-a7a1-3c58a8e6f001", "kind": "rating", "key": "low-brow", "value": {"right": 1, "left": 3}}
    yes = {"id": "0d4f1c52-4f0e-4a55-a7a1-3c58a8e6f002", "kind": "caution", "key": "fillers", "value": {"answer": "yes"}}
    post(coach, f"/api/clients/{client}/facts", {"entries": [rating, yes]})
    coach.reload()
    for name in SECTIONS:
        coach.get_by_role("navigation", name="Sections of the intake").get_by_role("button", name=re.compile(f"^{name}")).click()
        expect(coach.locator("main [data-question]").first).to_be_visible()
        found = look(coach)
        assert found["headings"] == 1


def test_the_clients_own_intake_and_agreements_on_a_phone(program, visit, site):
    coach, client, _ = program
    link = post(coach, f"/api/clients/{client}/self-intake", {})["path"]
    phone = visit(link, phone=True)
    for name in ("First of all", "About you", "Your face", "Habits", "Health", "Agreements", "Send it"):
        expect(phone.get_by_role("heading", name=name, level=1)).to_be_visible()
        if name == "Health":
            phone.get_by_role("radiogroup", name="Have you had fillers?").get_by_role("radio", name="yes").click()
            expect(phone.get_by_text("Where?")).to_be_visible()
        look(phone, client=name not in ("Your face",))
        forward = phone.get_by_role("button", name=re.compile("^Next: "))
        if forward.count():
            forward.click()
    own = visit("/agreements", site.practice.client_email, phone=True)
    expect(own.get_by_role("radiogroup").first).to_be_visible()
    look(own, client=True)


def test_without_a_connection_the_coachs_pages_say_so_and_go_on_by_themselves(program):
    coach, client, _ = program
    coach.goto(f"/clients/{client}")
    coach.evaluate("navigator.serviceWorker.ready.then(() => true)")
    coach.wait_for_function("caches.match('/_app/kept-coach').then(Boolean)")
    coach.evaluate("localStorage.setItem('dimbo-program-x', JSON.stringify({title: 'Half written', document: {}}))")
    coach.context.set_offline(True)
    coach.goto(f"/clients/{client}")
    expect(coach.get_by_role("heading", name="Nothing can be read now")).to_be_visible()
    expect(coach.get_by_text("Half written")).to_be_visible()
    coach.context.set_offline(False)
    expect(coach.get_by_role("heading", name="Looked At")).to_be_visible()
    coach.evaluate("localStorage.removeItem('dimbo-program-x')")
