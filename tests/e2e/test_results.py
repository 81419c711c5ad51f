"""What came of it: the client's photographs on the phone, a letter from writing to reading without a connection, and what helped."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from ..web.conftest import PASSWORD
from .looks import look
from .test_sittings import client, post, two_sittings

__all__ = ["client", "two_sittings"]


def phone_of(coach, visit):
    made = re.search(r"/clients/([\w-]+)/", coach.url).group(1)
    link = post(coach, f"/api/clients/{made}/invitation", {"email": f"{made[:8]}@mail.example"})["path"]
    page = visit(link, phone=True)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Begin").click()
    page.wait_for_url("**/today")
    return made, page


def test_a_client_sees_in_pictures_and_words_what_has_changed(two_sittings, visit):
    coach = two_sittings
    _, phone = phone_of(coach, visit)
    phone.goto("/my-course")
    expect(phone.get_by_text("Your right eye opens more than in the first photographs.")).to_be_visible()
    look(phone, client=True)
    phone.get_by_role("link", name="All my photographs").click()
    expect(phone.get_by_role("heading", name="My photographs")).to_be_visible()
    expect(phone.get_by_role("button", name=re.compile("^Open the .* photograph"))).to_have_count(2)
    expect(phone.get_by_text("Between them you did not practise.")).to_be_visible()
    for width in (320, 390):
        phone.set_viewport_size({"width": width, "height": 844})
        look(phone, client=True)
    phone.get_by_role("button", name=re.compile("Open the later photograph")).click()
    expect(phone.get_by_role("dialog")).to_be_visible()
    phone.keyboard.press("Escape")
    phone.get_by_role("radio", name="With a line").click()
    line = phone.get_by_label("Where the line stands")
    line.fill("20")
    expect(phone.locator("#own-split rect")).to_have_attribute("width", re.compile(r"^63\.6"))
    phone.get_by_role("radio", name="By touch").click()
    touched = phone.get_by_role("button", name=re.compile("Touch the picture"))
    later = touched.text_content()
    touched.click()
    expect(touched).not_to_have_text(later)
    phone.get_by_label("Draw the outlines").check()

    strip = phone.get_by_role("list", name=re.compile("order of time")).get_by_role("button")
    expect(strip).to_have_count(2)
    strip.nth(1).focus()
    phone.keyboard.press("Home")
    expect(strip.nth(0)).to_have_attribute("aria-pressed", "true")
    expect(phone.get_by_text("later ones are held against them")).to_be_visible()
    phone.keyboard.press("ArrowRight")
    expect(strip.nth(1)).to_have_attribute("aria-pressed", "true")

    phone.get_by_label(re.compile("Your coach can read it too")).fill("I slept well.")
    phone.get_by_role("heading", name="My own note").click()
    expect(phone.get_by_text("Kept.")).to_be_visible()
    with phone.expect_download() as picture:
        phone.get_by_role("link", name="Save the picture").click()
    assert picture.value.suggested_filename == "my-photographs.png"
    look(phone, client=True)
    coach.reload()
    expect(coach.get_by_text("“I slept well.”")).to_be_visible()
    coach.get_by_role("button", name=re.compile("Play")).click()
    expect(coach.get_by_role("button", name="Stop")).to_be_visible()


def test_a_letter_is_written_sent_and_read_also_without_a_connection(two_sittings, visit):
    coach = two_sittings
    made, phone = phone_of(coach, visit)
    coach.goto(f"/clients/{made}/letters")
    coach.get_by_role("button", name="To a clinician").click()
    expect(coach.get_by_role("article")).to_contain_text("neither diagnose nor treat")
    coach.get_by_role("button", name="Throw the draft away").click()
    expect(coach.get_by_text("None yet.")).to_be_visible()
    coach.get_by_role("button", name="New letter").click()
    paper = coach.get_by_role("article")
    expect(paper).to_contain_text("Your right eye opens more than in the first photographs.")
    look(coach)
    coach.get_by_label("From you").fill("You kept at it.\nThank you.")
    expect(paper).to_contain_text("You kept at it.")
    coach.get_by_role("checkbox", name=re.compile("^Front, neutral")).first.uncheck()
    expect(paper.get_by_role("img")).to_have_count(0)
    coach.get_by_role("checkbox", name=re.compile("^Front, neutral")).first.check()
    expect(paper.get_by_role("img")).to_have_count(2)
    coach.get_by_role("button", name="Send it").click()
    expect(coach.get_by_text("It stays as it was sent.")).to_be_visible()
    expect(coach.get_by_label("From you")).to_have_count(0)

    phone.goto("/my-letters")
    expect(phone.get_by_role("article")).to_contain_text("You kept at it.")
    look(phone, client=True)
    with phone.expect_download() as file:
        phone.get_by_role("link", name="Save it as a file").click()
    assert file.value.suggested_filename == "letter.pdf"
    coach.reload()
    expect(coach.get_by_text(re.compile("sent .*, read"))).to_be_visible()
    phone.wait_for_function("navigator.serviceWorker.controller !== null")
    phone.context.set_offline(True)
    phone.reload()
    expect(phone.get_by_role("article")).to_contain_text("You kept at it.")
    expect(phone.get_by_text("their photographs are not")).to_be_visible()
    phone.context.set_offline(False)


def test_a_practice_asks_what_helped_and_is_told_that_nothing_can_be_said_yet(visit, site):
    coach = visit("/", site.practice.coach_email)
    coach.get_by_role("link", name="What helped").click()
    expect(coach.get_by_text(re.compile("^Nothing can be said yet")).first).to_be_visible()
    expect(coach.get_by_role("heading", name="Client by client")).to_be_visible()
    look(coach)
    with coach.expect_download() as table:
        coach.get_by_role("link", name="workbook").click()
    assert table.value.suggested_filename == "dimbo-outcomes.xlsx"
