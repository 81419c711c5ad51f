"""Designing a program in the browser: draft, keyboard, remedies, versions, templates, exercises, settings, files."""

import json
import re

import pypdf
import pytest
from playwright.sync_api import expect

from dimbo.catalogue import shipped_catalogue

from ..answered import answer_over_wire
from .conftest import Wire
from .test_sheet_and_practice import draft, post
from .test_walk import cell


@pytest.fixture
def coach(visit, site):
    return visit("/", site.practice.coach_email)


@pytest.fixture
def client(coach):
    made = post(coach, "/api/clients", {"name": "Design Client", "birth_year": 1980, "time_zone": "UTC", "minutes": 20})["id"]
    answer_over_wire(Wire(coach), made)
    return made


@pytest.fixture
def sheet(coach, client):
    """A drafted program on the sheet; the page, the client and the program."""
    program = draft(coach, client, "flat-cheeks", weeks=6)
    coach.goto(f"/programs/{program}")
    expect(coach.get_by_role("grid")).to_be_visible()
    return coach, client, program


def dose(page, exercise, week):
    """The dose line of a cell as it is named for screen readers."""
    return cell(page, exercise, week).get_attribute("aria-label").split(": ")[1].split(".")[0]


def document(page, program):
    return page.request.get(f"/api/programs/{program}").json()["document"]


def settled(page):
    expect(page.get_by_text(re.compile(r"; saved, version \d+"))).to_be_visible()


def test_from_a_finished_intake_to_a_checked_program_in_a_few_keys(coach, client):
    rating = {"id": "1d4f1c52-4f0e-4a55-a7a1-3c58a8e6f001", "kind": "rating", "key": "jowls", "value": {"right": 3, "left": 3}}
    post(coach, f"/api/clients/{client}/facts", {"entries": [rating]})
    coach.goto(f"/clients/{client}")
    count = 0

    def act(work):
        nonlocal count
        work()
        count += 1

    act(lambda: coach.get_by_role("button", name="New program").click())
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text(re.compile("For jowls and jaw outline: .*Preferred to")).first).to_be_visible()
    act(lambda: coach.get_by_role("button", name="Create program").click())
    expect(coach.get_by_role("grid")).to_be_visible()
    cell(coach, "Long oval cheek lift", 3).wait_for()
    act(lambda: cell(coach, "Long oval cheek lift", 3).click())
    for key in ("1", "x", "6", " ", "h", "5", "Enter", "Control+ArrowRight"):
        act(lambda key=key: coach.keyboard.press(key))
    expect(cell(coach, "Long oval cheek lift", 3)).to_contain_text("1×6 h5")
    expect(cell(coach, "Long oval cheek lift", 4)).to_contain_text("1×6 h7")
    settled(coach)
    assert count < 40
    expect(coach.get_by_role("button", name="Assign")).to_be_enabled()


def test_what_cannot_be_read_is_marked_and_what_is_offered_instead_taken_with_one_sign(sheet):
    coach, _, _ = sheet
    row = coach.get_by_role("row").filter(has=coach.get_by_role("rowheader")).nth(1)
    target = row.get_by_role("gridcell").nth(1)
    target.click()
    coach.keyboard.type("8 h5, 2 sets, 3 sets")
    coach.keyboard.press("Enter")
    expect(target).to_have_attribute("aria-label", re.compile("said twice"))
    expect(target.get_by_role("button")).to_have_count(0)
    coach.keyboard.press("Enter")
    coach.keyboard.press("Control+a")
    coach.keyboard.type("8x h5")
    coach.keyboard.press("Enter")
    expect(target).to_have_attribute("aria-label", re.compile("and the repetitions"))
    coach.keyboard.press("=")
    expect(target).not_to_have_attribute("aria-invalid", "true")
    expect(target).to_contain_text(re.compile("8 h5"))
    settled(coach)


def test_adding_an_exercise_begins_in_the_search_and_a_space_only_types(sheet):
    coach, _, program = sheet
    before = len(document(coach, program)["lines"])
    coach.get_by_role("row").nth(3).get_by_role("gridcell").first.click()
    coach.keyboard.press("+")
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_label("Find an exercise").first).to_be_focused()
    coach.keyboard.type("soft eyes")
    expect(dialog.get_by_role("img", name="How Soft eyes is done")).to_be_visible()
    coach.keyboard.press("Enter")
    expect(dialog).to_have_count(0)
    settled(coach)
    assert len(document(coach, program)["lines"]) == before + 1
    coach.keyboard.press("Shift+Enter")
    expect(dialog).to_be_visible()
    coach.keyboard.press("Space")
    expect(dialog).to_be_visible()


def test_ranges_go_out_and_in_as_text_and_undo_takes_all_of_it_back(sheet):
    coach, _, program = sheet
    coach.context.grant_permissions(["clipboard-read", "clipboard-write"])
    before = document(coach, program)
    cell(coach, "Long oval cheek lift", 1).click()
    coach.keyboard.press("Shift+ArrowRight")
    coach.keyboard.press("Shift+ArrowRight")
    coach.keyboard.press("Control+c")
    assert coach.evaluate("navigator.clipboard.readText()") == "\t".join(dose(coach, "Long oval cheek lift", w) for w in (1, 2, 3))
    coach.evaluate("navigator.clipboard.writeText('2x5h3\\t2x6h3\\n1x3\\t')")
    cell(coach, "Long oval cheek lift", 4).click()
    coach.keyboard.press("Control+v")
    expect(cell(coach, "Long oval cheek lift", 4)).to_contain_text("2×5 h3")
    expect(cell(coach, "Long oval cheek lift", 5)).to_contain_text("2×6 h3")
    for _ in range(3):
        coach.keyboard.press("Shift+ArrowRight")
    coach.keyboard.press("Delete")
    expect(cell(coach, "Long oval cheek lift", 6)).to_contain_text("rest")
    for _ in range(2):
        coach.keyboard.press("Control+z")
    settled(coach)
    assert document(coach, program) == before
    coach.keyboard.press("Control+y")
    expect(cell(coach, "Long oval cheek lift", 4)).to_contain_text("2×5 h3")


def test_rows_are_moved_timed_sided_and_made_a_circuit_by_keyboard(sheet):
    coach, _, program = sheet
    cell(coach, "Long oval cheek lift", 2).click()
    coach.keyboard.press("Alt+KeyL")
    expect(coach.get_by_role("columnheader", name="2lighter")).to_be_visible()
    coach.keyboard.press("Alt+KeyR")
    expect(coach.get_by_role("rowheader", name=re.compile("Long oval cheek lift.*2 rounds"))).to_be_visible()
    coach.keyboard.press("Shift+Enter")
    details = coach.get_by_role("dialog")
    expect(details.get_by_text("For flat or sagging cheeks: weak elevators.")).to_be_visible()
    details.get_by_role("button", name="evening").click()
    details.get_by_role("button", name="2 days").click()
    details.get_by_label("Note for the client").fill("Count aloud.")
    coach.keyboard.press("Escape")
    expect(coach.get_by_role("rowheader", name=re.compile("Long oval cheek lift.*evening.*2 days"))).to_be_visible()
    expect(coach.get_by_role("group", name="Sessions of the week")).to_contain_text("evening")
    settled(coach)
    row = next(n for n in document(coach, program)["lines"] if n["exercise"] == "oval-lift")
    assert (row["when"], row["days"][0], row["note"]) == ("evening", 3, "Count aloud.") and row["days"][1] == 2
    assert document(coach, program)["lighter"] == [2]
    expect(cell(coach, "Long oval cheek lift", 2)).to_be_focused()


def test_the_margin_is_settled_by_number_and_the_order_says_why(sheet):
    coach, _, program = sheet
    margin = coach.get_by_label("Margin")
    cell(coach, "Warm palms close", 1).click()
    for _ in range(3):
        coach.keyboard.press("Alt+ArrowUp")
    expect(margin).to_contain_text("which comes before close")
    settled(coach)  # all three moves are checked
    number = margin.get_by_role("button", name=re.compile("Put all in order")).first.locator("kbd").inner_text().split()[-1]
    coach.keyboard.press(f"Alt+Digit{number}")
    expect(margin).not_to_contain_text("which comes before close")
    coach.keyboard.press("Alt+KeyO")
    reasons = coach.get_by_role("dialog")
    expect(reasons.get_by_text("builds on it", exact=False).first).to_be_visible()
    coach.keyboard.press("Escape")
    settled(coach)
    assert document(coach, program)["lines"][-1]["exercise"] == "warm-palms"


def test_without_a_connection_the_edit_is_kept_said_and_saved_later(sheet):
    coach, _, program = sheet
    cell(coach, "Long oval cheek lift", 1).click()
    coach.context.set_offline(True)
    coach.keyboard.type("1×6 h3")
    coach.keyboard.press("Enter")
    expect(coach.get_by_text("not saved; kept here and tried again")).to_be_visible()
    expect(coach.get_by_role("alert")).to_contain_text("kept in this browser")
    coach.context.set_offline(False)
    settled(coach)
    row = next(n for n in document(coach, program)["lines"] if n["exercise"] == "oval-lift")
    assert row["cells"][0] == "1×6 h3"


def test_versions_tell_what_changed_and_come_back(sheet):
    coach, _, program = sheet
    first = document(coach, program)
    cell(coach, "Long oval cheek lift", 2).click()
    coach.keyboard.type("1×6 h3")
    coach.keyboard.press("Enter")
    settled(coach)
    coach.get_by_role("button", name="More").click()
    coach.get_by_role("menuitem", name="Versions").click()
    dialog = coach.get_by_role("dialog")
    expect(dialog.get_by_text(re.compile("Week 2, Long oval cheek lift: .*repetitions"))).to_be_visible()
    dialog.get_by_role("button", name=re.compile("^version 1")).click()
    dialog.get_by_role("button", name="Make version 1 the newest again").click()
    expect(coach.get_by_text("saved, version 3")).to_be_visible()
    assert document(coach, program) == first


def test_a_week_is_printed_as_it_is_wanted(sheet):
    coach, _, _ = sheet
    coach.get_by_role("button", name="More").click()
    coach.get_by_role("menuitem", name="Hand-out of week 1 …").click()
    dialog = coach.get_by_role("dialog")
    dialog.get_by_label("Letter").check()
    dialog.get_by_label("In large print").check()
    dialog.get_by_label("With a page to tick, day by day").check()
    dialog.get_by_text("All exercises; choose").click()
    dialog.get_by_label("Long oval cheek lift").uncheck()
    with coach.expect_download() as loading:
        dialog.get_by_role("button", name="Make the PDF").click()
    assert loading.value.suggested_filename.endswith("week 1.pdf")
    pages = pypdf.PdfReader(loading.value.path()).pages
    assert [round(float(x)) for x in pages[0].mediabox[2:]] == [612, 792] and "To tick" in pages[-1].extract_text()
    assert not any("Long oval cheek lift" in p.extract_text() for p in pages)
    expect(dialog).not_to_be_visible()


def test_a_program_becomes_a_template_and_a_template_a_program(sheet):
    coach, client, _ = sheet
    coach.get_by_role("button", name="More").click()
    coach.get_by_role("menuitem", name="Save as a template").click()
    expect(coach.get_by_role("link", name="Template", exact=True)).to_be_visible()
    coach.get_by_label("Name").fill("Harbour cheeks")
    coach.keyboard.press("Enter")
    settled(coach)
    coach.goto("/templates")
    expect(coach.get_by_role("link", name="Harbour cheeks")).to_be_visible()
    coach.get_by_role("link", name="Twenty-week reference").click()
    expect(coach.get_by_role("button", name="Copy to change it")).to_be_visible()
    cell(coach, "Long oval cheek lift", 1).click()
    coach.keyboard.press("Delete")
    expect(coach.get_by_text("Copy it to change it")).to_be_visible()
    coach.goto(f"/clients/{client}")
    coach.get_by_role("button", name="New program").click()
    coach.get_by_label("Begin from").select_option(label="Twenty-week reference, 20 weeks")
    expect(coach.get_by_role("dialog").get_by_text("did not fit the 20 minutes", exact=False)).to_be_visible()
    coach.get_by_role("button", name="Create program").click()
    expect(coach.get_by_label("Name")).to_have_value("Twenty-week reference")
    expect(coach.get_by_label("Days in week 9")).to_have_value("3.5")


def test_a_draft_is_drawn_anew_with_every_choice_and_goes_to_another_client(sheet, site):
    coach, client, program = sheet
    coach.goto(f"/clients/{client}")
    coach.get_by_role("button", name="New program").click()
    found = coach.get_by_role("dialog")
    expect(found.get_by_text("exercises, 12 weeks", exact=False)).to_be_visible()
    coach.get_by_label("Approach").select_option(label="Drain and calm")
    expect(found.get_by_text("New: Collarbone pumps", exact=False)).to_be_visible()
    found.get_by_role("button", name="Leave out Collarbone pumps").click()
    expect(found.get_by_text("Gone: Collarbone pumps", exact=False)).to_be_visible()
    found.get_by_role("button", name="Take back the exercise left out").click()
    expect(found.get_by_text("New: Collarbone pumps", exact=False)).to_be_visible()
    found.get_by_role("button", name="The four approaches side by side").click()
    strength = found.get_by_role("region", name="Strength first")
    expect(strength.get_by_text("Tall seat")).to_be_visible()
    strength.get_by_role("button", name="Take this").click()
    expect(coach.get_by_label("Approach")).to_have_value("strength-first")
    coach.keyboard.press("Escape")
    other = post(coach, "/api/clients", {"name": "Radomira Ness", "birth_year": 1975, "time_zone": "UTC", "minutes": 20})["id"]
    coach.goto(f"/programs/{program}")
    coach.get_by_role("button", name="For another client").click()
    coach.get_by_label("Name", exact=True).last.fill("rado")
    coach.get_by_role("dialog").get_by_role("button", name="Radomira Ness").click()
    coach.wait_for_url(lambda url: "/programs/" in url and program not in url)
    expect(coach.get_by_role("link", name="Radomira Ness")).to_have_attribute("href", f"/clients/{other}")


def test_a_program_comes_in_from_a_file_with_unknown_exercises_mapped(sheet, tmp_path):
    coach, client, program = sheet
    file = coach.request.get(f"/api/programs/{program}/program.json").json()
    next(n for n in file["program"]["lines"] if n["exercise"] == "oval-lift")["exercise"] = "own-lift"
    next(e for e in file["exercises"] if e["id"] == "oval-lift").update(id="own-lift", name="Oval lift of theirs")
    (tmp_path / "theirs.json").write_text(json.dumps(file))
    (tmp_path / "broken.json").write_text("{")
    coach.goto(f"/clients/{client}")
    coach.get_by_role("button", name="New program").click()
    coach.get_by_label("Begin from").select_option("file")
    coach.get_by_label("Program as JSON").set_input_files(str(tmp_path / "broken.json"))
    expect(coach.get_by_role("alert")).to_contain_text("broken at line 1")
    coach.get_by_label("Program as JSON").set_input_files(str(tmp_path / "theirs.json"))
    coach.get_by_label("“Oval lift of theirs” is not known here").select_option("oval-lift")
    coach.get_by_role("button", name="Make this program").click()
    expect(cell(coach, "Long oval cheek lift", 1)).to_be_visible()
    assert f"/programs/{program}" not in coach.url


def test_exercises_are_found_by_touch_and_made_ones_own(visit, site):
    page = visit("/exercises", site.practice.coach_email)
    expect(page.get_by_role("heading", name="Tall seat")).to_be_visible()
    page.get_by_label("Concern").select_option("jaw-tension")
    page.get_by_role("group", name="Families").get_by_role("button", name="mobilise").click()
    expect(page.get_by_role("button", name=re.compile("^Side glide of the jaw"))).to_be_visible()
    page.get_by_role("button", name="show all again").click()
    page.get_by_role("button", name="right masseter").press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Chewing-muscle circles"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Tall seat"))).not_to_be_visible()
    page.get_by_role("button", name="show all again").click()
    page.get_by_label("Find an exercise").fill("lip seal")
    page.get_by_role("button", name=re.compile("^Lip seal hold")).click()
    expect(page.get_by_role("heading", name="Lip seal hold")).to_be_visible()
    page.get_by_role("button", name="Copy as your own").click()
    page.get_by_label("Name").fill("Quiet lip rest")
    page.get_by_label("Target dose").fill("9×99 h9")
    page.get_by_role("button", name="Keep this exercise").click()
    expect(page.get_by_role("alert")).to_contain_text("passes the ceiling")
    page.get_by_label("Target dose").fill("1×5 h6")
    page.get_by_role("button", name="Keep this exercise").click()
    expect(page.get_by_role("heading", name="Quiet lip rest")).to_be_visible()
    page.get_by_role("button", name="Retire").click()
    expect(page.get_by_text("; retired")).to_be_visible()


def test_a_figure_moves_gently_and_stands_still_when_asked(visit, site):
    page = visit("/exercises#neck-side-drain", site.practice.coach_email)
    hand = page.locator("svg[aria-label^='How Side-of-neck drain'] [data-hand]")
    expect(hand).to_have_count(1)
    assert page.locator("svg[aria-label^='How'] g[data-side=right] [data-hand]").count() == 1
    first = hand.get_attribute("transform")
    page.wait_for_function("t => document.querySelector('[data-hand]').getAttribute('transform') !== t", arg=first)
    page.emulate_media(reduced_motion="reduce")
    page.reload()
    expect(hand).to_have_count(1)
    still = hand.get_attribute("transform")
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    assert hand.get_attribute("transform") == still
    page.get_by_role("button", name="right side; the other").click()
    expect(page.locator("svg[aria-label^='How'] g[data-side=left] [data-hand]")).to_have_count(1)


def test_what_a_setting_changes_is_shown_before_it_is_kept(sheet):
    coach, *_ = sheet
    coach.goto("/settings")
    beside = coach.get_by_label("What this changes")
    expect(beside).to_contain_text("Nothing is changed yet")
    coach.get_by_label("Change-over", exact=True).fill("15")
    expect(beside).to_contain_text(re.compile(r"the longest session from \d+:\d\d to \d+:\d\d"))
    coach.get_by_label("Count pace").fill("7")
    expect(beside.get_by_role("alert")).to_contain_text("Count pace must be 0.8 to 1.6 s")
    expect(beside.get_by_role("button", name="Keep it")).to_be_disabled()
    beside.get_by_role("button", name="Leave it").click()
    expect(coach.get_by_label("Change-over", exact=True)).to_have_value("8")


def test_sixty_lines_by_twenty_six_weeks_stay_within_the_page(coach, client):
    made = post(coach, f"/api/clients/{client}/programs", {"title": "Large", "weeks": 26, "source": "empty"})["id"]
    found = coach.request.get(f"/api/programs/{made}").json()
    cards = [c for c in shipped_catalogue().cards.values() if c.stage.value != "through the day"][:60]
    lines = [{"id": f"r{i}", "exercise": c.id, "stage": c.stage.value, "cells": [c.start_line] * 26} for i, c in enumerate(cards)]
    body = {"base_revision": 1, "title": "Large", "document": found["document"] | {"lines": lines}}
    assert coach.request.put(f"/api/programs/{made}", data=body, headers={"x-dimbo": "1"}).ok
    coach.goto(f"/programs/{made}")
    expect(coach.get_by_role("gridcell")).to_have_count(60 * 26)
    last = cell(coach, cards[-1].name, 26)
    cell(coach, cards[0].name, 1).click()
    coach.keyboard.press("End")
    for _ in range(8):
        coach.keyboard.press("PageDown")
    expect(last).to_be_focused()
    box, name = last.bounding_box(), coach.get_by_role("rowheader", name=re.compile(cards[-1].name)).bounding_box()
    assert box["x"] > name["x"] + name["width"] - 1, "the name of the row stays in view and covers no cell"
    assert coach.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
