"""The client's own intake on a phone: urgent signs, dropped connections, two windows, plain refusals."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import answer_signs
from .test_sheet_and_practice import post


@pytest.fixture
def link(visit, site):
    coach = visit("/", site.practice.coach_email)
    client = post(coach, "/api/clients", {"name": "Oda Pell", "birth_year": 1980, "time_zone": "UTC"})["id"]
    return coach, client, post(coach, f"/api/clients/{client}/self-intake", {})["path"]


def forward(phone, *names):
    for name in names:
        phone.get_by_role("button", name=f"Next: {name}").click()


def saved(phone):
    expect(phone.get_by_text("Saved", exact=True)).to_be_visible()


def test_an_urgent_sign_is_answered_with_urgent_care_on_every_step(link, visit):
    coach, client, path = link
    phone = visit(path, phone=True)
    phone.get_by_role("radiogroup", name="Has speech become slurred or confused?").get_by_role("radio", name="yes").click()
    alert = phone.get_by_role("alert")
    expect(alert).to_contain_text("Seek urgent medical care now.")
    expect(alert).to_contain_text("call for help first")
    for name in ("About you", "Your face"):
        forward(phone, name)
        expect(alert).to_be_in_viewport()
    coach.goto(f"/clients/{client}")
    expect(coach.get_by_role("alert")).to_contain_text("Slurred or confused speech")


def test_what_is_typed_without_a_connection_is_kept_on_the_phone(link, visit):
    _, _, path = link
    phone = visit(path, phone=True)
    forward(phone, "About you")
    phone.route("**/api/self-intakes/*", lambda route: route.abort() if route.request.method == "PUT" else route.continue_())
    phone.get_by_label("How would you like to be called?").fill("Oda")
    expect(phone.get_by_text("No connection: kept on this phone")).to_be_visible()
    phone.reload()
    forward(phone, "About you")
    expect(phone.get_by_label("How would you like to be called?")).to_have_value("Oda")
    phone.unroute("**/api/self-intakes/*")
    saved(phone)
    other = visit(path, phone=True)
    forward(other, "About you")
    expect(other.get_by_label("How would you like to be called?")).to_have_value("Oda")


def test_two_windows_are_told_apart(link, visit):
    _, _, path = link
    one, two = visit(path, phone=True), visit(path, phone=True)
    for phone in (one, two):
        forward(phone, "About you")
    one.get_by_label("How would you like to be called?").fill("First")
    saved(one)
    two.get_by_label("How would you like to be called?").fill("Second")
    expect(two.get_by_role("alert")).to_contain_text("changed in another window")
    two.get_by_role("button", name="Reload").click()
    forward(two, "About you")
    expect(two.get_by_label("How would you like to be called?")).to_have_value("First")


def test_a_refusal_leads_to_the_step_where_it_stands(link, visit):
    _, _, path = link
    phone = visit(path, phone=True)
    answer_signs(phone)
    forward(phone, "About you")
    phone.get_by_label("How would you like to be called?").fill("Oda")
    phone.get_by_label("Year of birth").fill("19740")
    forward(phone, "Your face", "Habits", "Health", "Agreements", "Send it")
    expect(phone.get_by_role("listitem").filter(has_text="First of all")).to_contain_text(re.compile(r"(\d+) of \1 answered"))
    phone.get_by_role("button", name=re.compile("^Send it in and leave")).click()
    expect(phone.get_by_role("alert")).to_contain_text("cannot be a birth year")
    phone.get_by_role("button", name="Go to “About you”").click()
    phone.get_by_label("Year of birth").fill("1974")
    forward(phone, "Your face", "Habits", "Health", "Agreements", "Send it")
    phone.get_by_role("button", name=re.compile("^Send it in and leave")).click()
    expect(phone.get_by_role("heading", name="Thank you, Oda")).to_be_visible()


def test_the_mirror_is_the_clients_own(link, visit):
    _, _, path = link
    phone = visit(path, phone=True)
    forward(phone, "About you", "Your face")
    face = phone.get_by_role("group", name=re.compile("^your face; as in a mirror"))
    box = face.bounding_box()
    spot = face.get_by_role("button", name="right masseter").bounding_box()
    assert spot["x"] > box["x"] + box["width"] / 2, "in a mirror one's own right is at the right"
    face.get_by_role("button", name="right masseter").dispatch_event("click")
    question = phone.get_by_text(re.compile("What is it here, on your"))
    expect(question).to_contain_text("right")
    phone.get_by_role("button", name=re.compile("^(Jowls|Jaw tension)")).first.click()
    article = phone.get_by_role("article").first
    expect(article.get_by_role("radiogroup", name=re.compile("right, severity")).get_by_role("radio", name="1")).to_be_checked()
    expect(article.get_by_role("radiogroup", name=re.compile("left, severity")).get_by_role("radio", name="0")).to_be_checked()
    article.get_by_role("button", name="Take out").click()
    expect(phone.get_by_role("article")).to_have_count(0)


def test_a_link_that_was_taken_back_says_so(link, visit):
    coach, client, path = link
    coach.goto(f"/clients/{client}/intake")
    coach.get_by_role("button", name="Their intake: link sent").click()
    coach.get_by_role("button", name="Take the link back").click()
    expect(coach.get_by_role("button", name="Send the intake form")).to_be_visible()
    phone = visit(path, phone=True)
    expect(phone.get_by_role("alert")).to_contain_text("taken back")
