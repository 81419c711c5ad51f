"""Two tabs on one program; pain; and a session that ends without a connection."""

import re
from uuid import uuid4

import pytest
from playwright.sync_api import expect

from ..answered import answer_over_wire
from ..midday import MIDDAY
from ..web.conftest import PASSWORD
from .conftest import Wire, own_clock
from .test_walk import cell, play_through


def post(page, path, body):
    return page.request.post(path, data=body, headers={"x-dimbo": "1"}).json()


def draft(coach, client, concern, *, weeks=4, right=2, left=2):
    """A program drafted from one rated concern; its id."""
    rating = {"id": str(uuid4()), "kind": "rating", "key": concern, "value": {"right": right, "left": left}}
    post(coach, f"/api/clients/{client}/facts", {"entries": [rating]})
    return post(coach, f"/api/clients/{client}/programs", {"title": "Drafted", "weeks": weeks, "source": "intake"})["id"]


@pytest.fixture
def program(visit, site):
    """A fresh client's fresh program, opened by the coach."""
    coach = visit("/", site.practice.coach_email)
    made = post(coach, "/api/clients", {"name": "Fresh Client", "birth_year": 1980, "time_zone": MIDDAY, "minutes": 15})["id"]
    answer_over_wire(Wire(coach), made)
    program = draft(coach, made, "flat-cheeks")
    coach.goto(f"/programs/{program}")
    expect(coach.get_by_role("grid")).to_be_visible()
    return coach, made, program


def test_two_tabs_on_one_program_never_lose_work(visit, site, program):
    one, _, path = program
    two = visit(f"/programs/{path}", context=one.context)
    expect(two.get_by_role("grid")).to_be_visible()
    for tab, dose in ((one, "1×6 h4"), (two, "1×7 h4")):
        cell(tab, "Long oval cheek lift", 1).click()
        tab.keyboard.type(dose)
        tab.keyboard.press("Enter")
    expect(one.get_by_text("saved, version 2")).to_be_visible()
    asked = two.get_by_role("alertdialog")
    expect(asked).to_contain_text("Nothing of yours is lost")
    asked.get_by_role("button", name="Keep mine").click()
    expect(two.get_by_text("saved, version 3")).to_be_visible()
    one.reload()
    expect(cell(one, "Long oval cheek lift", 1)).to_contain_text("1×7 h4")


def test_enter_before_the_exercises_have_arrived_still_adds_one(program):
    coach, *_ = program
    held = []
    coach.route("**/api/catalogue", lambda route: held.append(route))
    cell(coach, "Settling breath", 1).click()
    coach.keyboard.press("+")
    coach.get_by_label("Find an exercise").fill("upper-lip press")
    coach.keyboard.press("Enter")
    held[0].continue_()
    expect(cell(coach, "Upper-lip press", 1)).to_contain_text("60 s h1")


def test_the_sheet_by_keyboard_alone(program):
    coach, *_ = program
    cell(coach, "Settling breath", 1).click()
    names = lambda: coach.locator("tbody th[scope=row] span:first-child").all_inner_texts()[:20]  # noqa: E731
    before = names()
    coach.keyboard.press("ArrowDown")
    coach.keyboard.press("Alt+ArrowDown")
    expect(coach.locator("tbody th[scope=row] span:first-child").nth(2)).to_have_text(before[1])
    coach.keyboard.press("Control+z")
    expect(coach.locator("tbody th[scope=row] span:first-child").nth(1)).to_have_text(before[1])
    coach.keyboard.press("+")
    coach.get_by_label("Find an exercise").fill("upper-lip press")
    coach.keyboard.press("Enter")
    expect(cell(coach, "Upper-lip press", 1)).to_contain_text("60 s h1")
    cell(coach, "Upper-lip press", 2).click()
    coach.keyboard.type("60 seconds hold")
    coach.keyboard.press("Enter")
    bad = cell(coach, "Upper-lip press", 2)
    expect(bad).to_contain_text("60 seconds hold")
    expect(bad).to_have_attribute("aria-invalid", "true")
    expect(coach.get_by_label("Margin")).to_contain_text("What you typed is kept")
    coach.keyboard.press("?")
    expect(coach.get_by_role("dialog")).to_contain_text("fill right along the rungs")


def test_pain_is_told_and_a_lost_connection_loses_nothing(visit, program):
    coach, client, _ = program
    coach.get_by_role("button", name="Assign").click()
    expect(coach.get_by_label("Margin")).to_contain_text("No conflicts")
    coach.get_by_role("button", name="Assign", exact=True).click()
    expect(coach.get_by_role("button", name="Send one link for all that is due")).to_be_visible()
    link = post(coach, f"/api/clients/{client}/invitation", {"email": f"{client[:8]}@mail.example"})["path"]
    phone = visit(link, phone=True)
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Begin").click()
    expect(phone.get_by_role("link", name="Start")).to_be_visible()
    own_clock(phone)
    phone.get_by_role("link", name="Start").click()
    phone.get_by_role("button", name="Begin").click()
    phone.clock.run_for(9_000)
    while "Long oval cheek lift" not in phone.get_by_role("button", name="Pause").inner_text():
        phone.keyboard.press("ArrowRight")
        phone.get_by_role("button", name="not now").click()
        phone.clock.run_for(300)
    phone.clock.run_for(20_000)
    phone.get_by_role("button", name="It hurts").click()
    expect(phone.get_by_role("heading", name="What hurts?")).to_be_visible()
    expect(phone.get_by_role("button", name="Say how much first")).to_be_disabled()
    for answer in ("left", "cheek", "6", "yesterday"):
        phone.get_by_role("button", name=answer, exact=True).click()
    phone.get_by_role("button", name="Stop it, and go on with what is safe").click()
    expect(phone.get_by_role("button", name="Take it back")).to_be_visible()
    phone.context.set_offline(True)
    play_through(phone, 14 * 60)
    phone.get_by_role("button", name="4", exact=True).click()
    expect(phone.get_by_text("No connection. The session is kept")).to_be_visible()
    coach.goto(f"/clients/{client}")
    expect(coach.get_by_role("row", name=re.compile("due, until"))).to_be_visible()

    phone.context.set_offline(False)
    for _ in range(2):  # coming back twice hands it in once
        phone.goto("/today")
        expect(phone.get_by_text("Long oval cheek lift is left out: it hurt")).to_be_visible()
        expect(phone.get_by_text("kept on this phone")).to_have_count(0)
    coach.reload()
    expect(coach.get_by_role("row", name=re.compile("partly done"))).to_have_count(1)
    margin = coach.get_by_label("Margin")
    expect(margin).to_contain_text("Long oval cheek lift hurt")
    expect(margin).to_contain_text("left side, 6 of 10: cheek, since yesterday")
    margin.get_by_role("button", name="Let it go on").click()
    margin.get_by_label("What did you find, or agree?", exact=False).fill("The grip was too firm.")
    margin.get_by_role("button", name="Let it go on, one rung lower").click()
    expect(margin).not_to_contain_text("Long oval cheek lift hurt")
