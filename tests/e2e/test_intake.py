"""The coach's intake at the keyboard, and that nothing typed is lost."""

import re

import pytest
from playwright.sync_api import expect

from .conftest import answer_signs
from .test_sheet_and_practice import post


@pytest.fixture
def intake(visit, site):
    """A new client's intake, open at its first question."""
    coach = visit("/", site.practice.coach_email)
    client = post(coach, "/api/clients", {"name": "Nell Quay", "birth_year": 1980, "time_zone": "Europe/Lisbon"})["id"]
    coach.goto(f"/clients/{client}/intake")
    expect(coach.get_by_role("radiogroup").first).to_be_visible()
    return coach, client


def stored(coach, client):
    return coach.request.get(f"/api/clients/{client}/intake").json()


def saved(coach):
    expect(coach.get_by_text("Everything is saved.")).to_be_visible()


def section(coach, name):
    coach.get_by_role("navigation", name="Sections of the intake").get_by_role("button", name=re.compile(f"^{name}")).click()


def test_urgent_signs_are_answered_with_one_key_each_and_lead_on(intake):
    coach, client = intake
    coach.get_by_role("radiogroup").first.focus()
    signs = coach.get_by_role("radiogroup").count()
    for _ in range(signs):
        coach.keyboard.press("n")
    expect(coach.get_by_role("heading", name="The treating clinician’s word comes first")).to_be_visible()
    coach.keyboard.press("y")
    expect(coach.get_by_label("Margin").get_by_text("Facial palsy, past or present", exact=False).first).to_be_visible()
    saved(coach)
    found = stored(coach, client)
    assert sum(c["answer"] == "no" for c in found["cautions"].values()) == signs
    assert found["cautions"]["facial-palsy"]["answer"] == "yes" and found["conclusions"]["held"][0]["locked"]


def test_an_urgent_yes_says_urgent_care_before_anything_else(intake):
    coach, _ = intake
    coach.get_by_role("radiogroup").first.focus()
    coach.keyboard.press("y")
    alert = coach.get_by_role("alert")
    expect(alert).to_contain_text("Seek urgent medical care now.")
    assert alert.bounding_box()["y"] < coach.get_by_role("radiogroup").first.bounding_box()["y"]
    section(coach, "Notes")
    expect(alert).to_be_visible()


def test_a_concern_from_typing_to_its_cause_without_the_pointer(intake):
    coach, client = intake
    section(coach, "Concerns")
    coach.get_by_role("combobox", name="Add a concern").focus()
    coach.keyboard.type("eye bags")
    coach.keyboard.press("Enter")
    coach.keyboard.press("3")
    coach.keyboard.press("1")
    group = coach.get_by_role("article", name="Under-eye puffiness")
    expect(group.get_by_role("radiogroup", name="Is it worse in the morning?")).to_be_visible()
    group.get_by_role("radiogroup", name="Is it worse in the morning?").focus()
    coach.keyboard.press("y")
    coach.keyboard.press("y")
    expect(group.get_by_text("Probably fluid.")).to_be_visible()
    group.get_by_text("why", exact=False).first.click()
    expect(group.get_by_text("Is it worse in the morning? Yes: +2.")).to_be_visible()
    expect(coach.get_by_label("Margin").get_by_text("drain").first).to_be_visible()
    saved(coach)
    assert stored(coach, client)["ratings"]["under-eye-puffiness"] == {"right": 3, "left": 1}


def test_a_muscle_picked_on_the_map_offers_its_concerns_on_that_side(intake):
    coach, client = intake
    map_ = coach.get_by_role("group", name=re.compile("^severity of concerns"))
    map_.get_by_role("button", name="left orbicularis oculi").focus()
    coach.keyboard.press("Enter")
    coach.get_by_role("button", name="Crow’s feet").click()
    coach.keyboard.press("2")
    saved(coach)
    assert stored(coach, client)["ratings"]["crows-feet"] == {"right": 0, "left": 2}
    expect(map_.locator('g[data-side="left"] [data-muscle="orbicularis_oculi"]')).to_be_attached()
    expect(map_.locator('g[data-side="right"] [data-muscle="orbicularis_oculi"]')).not_to_be_attached()


def test_what_is_entered_without_a_connection_survives_a_reload_and_arrives_once(intake):
    coach, client = intake
    coach.route("**/facts", lambda route: route.abort())
    coach.get_by_role("radiogroup").first.focus()
    coach.keyboard.press("n")
    section(coach, "Time")
    coach.get_by_label("In their own words").fill("Rested eyes.")
    expect(coach.get_by_text(re.compile("No connection: 2 entries"))).to_be_visible()
    coach.reload()
    expect(coach.get_by_text(re.compile("No connection: 2 entries"))).to_be_visible()
    section(coach, "Time")
    expect(coach.get_by_label("In their own words")).to_have_value("Rested eyes.")
    coach.unroute("**/facts")
    saved(coach)
    assert stored(coach, client)["profile"]["goals"] == "Rested eyes."
    told = coach.request.get(f"/api/clients/{client}/timeline").json()
    assert sum(t["text"] == "Goals: Rested eyes." for t in told) == 1


def test_an_answer_that_would_silence_a_lock_is_refused_beside_it(intake):
    coach, client = intake
    section(coach, "Cautions")
    question = coach.get_by_role("radiogroup", name="Do you have glaucoma, or raised pressure in the eye?")
    question.get_by_role("radio", name="yes").click()
    saved(coach)
    question.get_by_role("radio", name="no", exact=True).click()
    expect(coach.get_by_role("alert").get_by_text("Only a recorded clearance releases it")).to_be_visible()
    expect(question.get_by_role("radio", name="yes")).to_be_checked()
    coach.get_by_role("button", name="Record a clearance").click()
    sheet = coach.get_by_role("dialog")
    sheet.get_by_label("Name").fill("Dr. Ina Quell")
    sheet.get_by_label("Role").select_option("eye doctor")
    sheet.get_by_label("Given on").fill("2026-01-15")
    sheet.get_by_label("What was said").fill("Lid work is allowed.")
    sheet.get_by_role("button", name="Record the clearance").click()
    expect(sheet).not_to_be_visible()
    expect(coach.get_by_text("released by Dr. Ina Quell, eye doctor").first).to_be_visible()
    assert stored(coach, client)["conclusions"]["held"][0]["state"] == "cleared"


def test_the_client_fills_it_in_alone_and_the_coach_accepts_field_by_field(intake, visit):
    coach, client = intake
    coach.get_by_role("button", name="Send the intake form").click()
    link = coach.get_by_label("Intake link").input_value()
    phone = visit(link, phone=True)
    expect(phone.get_by_role("heading", name="First of all")).to_be_visible()
    answer_signs(phone)
    phone.get_by_role("button", name="Next: About you").click()
    phone.get_by_label("How would you like to be called?").fill("Nellie")
    phone.get_by_label("Minutes a day").fill("12")
    phone.get_by_role("button", name="Next: Your face").click()
    phone.get_by_role("combobox").fill("double chin")
    phone.keyboard.press("Enter")
    expect(phone.get_by_role("article", name="Fullness under the chin")).to_be_visible()
    expect(phone.get_by_text("Saved", exact=True)).to_be_visible()
    phone.reload()
    phone.get_by_role("button", name="Next: About you").click()
    expect(phone.get_by_label("How would you like to be called?")).to_have_value("Nellie")
    for name in ("Your face", "Habits", "Health", "Agreements"):
        phone.get_by_role("button", name=f"Next: {name}").click()
    phone.get_by_role("radiogroup", name="Keep photographs").get_by_role("radio", name="I agree").click()
    phone.get_by_role("button", name="Next: Send it").click()
    expect(phone.get_by_role("main")).to_contain_text("health questions are not answered")
    phone.get_by_role("button", name=re.compile(r"^Send it in and leave these \d+ open")).click()
    expect(phone.get_by_role("heading", name="Thank you, Nellie")).to_be_visible()
    phone.goto(link)
    expect(phone.get_by_role("alert")).to_contain_text("sent in already")
    coach.reload()
    coach.get_by_role("button", name=re.compile("^Review what")).click()
    row = coach.get_by_role("row", name=re.compile("^minutes", re.IGNORECASE))
    expect(row).to_contain_text("nothing")
    row.get_by_role("button", name="Accept").click()
    expect(row.get_by_text("accepted")).to_be_visible()
    found = stored(coach, client)
    assert found["profile"]["minutes"] == 12 and found["profile"]["name"] == "Nell Quay"
    assert next(c for c in found["consents"] if c["id"] == "photographs")["state"] == "given"


def test_taking_photographs_back_asks_for_their_number(visit, site):
    from uuid import uuid4

    from dimbo.vision.stand_in_camera import shoot
    from dimbo.vision.terms import Scene

    coach = visit("/", site.practice.coach_email)
    client = site.practice.client_id
    sitting = post(coach, f"/api/clients/{client}/sittings", {"taken_on": "2026-01-20"})["id"]
    picture = {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": shoot(Scene(identity="aster", state="even", seed=7)).jpeg(None)}
    before = coach.request.get(f"/api/clients/{client}/intake").json()["photographs"]
    form = {"photograph_id": str(uuid4()), "file": picture}
    assert coach.request.post(f"/api/sittings/{sitting}/photographs", headers={"x-dimbo": "1"}, multipart=form).ok
    phone = visit("/agreements", site.practice.client_email, phone=True)
    keep = phone.get_by_role("radiogroup", name="Keep photographs")
    keep.get_by_role("radio", name="I do not").click()
    sheet = phone.get_by_role("dialog")
    confirm = sheet.get_by_role("button", name=re.compile("^Take back"))
    expect(confirm).to_be_disabled()
    sheet.get_by_label("Number of photographs").fill(str(before + 1))
    confirm.click()
    expect(keep.get_by_role("radio", name="I do not")).to_be_checked()
    assert coach.request.get(f"/api/clients/{client}/intake").json()["photographs"] == 0
    keep.get_by_role("radio", name="I agree").click()
    expect(keep.get_by_role("radio", name="I agree")).to_be_checked()


def test_importing_clients_shows_every_fate_before_it_does_anything(visit, site):
    coach = visit("/clients/import", site.practice.coach_email)
    table = "Name;E-mail\nIlse Vorland;ilse@mail.example\nNo Mail;nowhere\n"
    coach.get_by_label("The file").set_input_files({"name": "c.csv", "mimeType": "text/csv", "buffer": table.encode("utf-16")})
    expect(coach.get_by_text("Read as UTF-16, separated by semicolon.")).to_be_visible()
    expect(coach.get_by_role("list", name="Rows that are left out")).to_contain_text("Line 3, E-mail")
    coach.get_by_role("button", name="Leave this cell out").click()
    expect(coach.get_by_role("button", name="Import 2 clients")).to_be_enabled()
    table += "Ilse  Vorland;other@mail.example\n"
    coach.get_by_label("The file").set_input_files({"name": "c.csv", "mimeType": "text/csv", "buffer": table.encode()})
    asked = coach.get_by_role("list", name="Rows that are asked about")
    expect(asked).to_contain_text("may be Ilse Vorland, line 2")
    expect(coach.get_by_role("button", name="Import 1 client")).to_be_disabled()
    asked.get_by_role("button", name="Leave it out").click()
    coach.get_by_role("button", name="Import 1 client").click()
    expect(coach.get_by_role("status")).to_contain_text("1 client imported")
    coach.goto("/clients")
    expect(coach.get_by_text("Ilse Vorland")).to_be_visible()


def test_an_own_reasoning_text_is_kept_and_taken_back(visit, site):
    coach = visit("/settings/reasoning", site.practice.coach_email)
    coach.get_by_role("navigation", name="Concerns").get_by_role("button", name="Loose neck").click()
    entry = coach.get_by_role("region", name="Loose neck")
    entry.get_by_label("Cause").first.fill("too little neck work")
    entry.get_by_role("button", name="Keep as our own").click()
    expect(entry.get_by_text("your own text, Coach of harbour")).to_be_visible()
    coach.reload()
    coach.get_by_role("navigation", name="Concerns").get_by_role("button", name=re.compile("^Loose neck")).click()
    expect(entry.get_by_label("Cause").first).to_have_value("too little neck work")
    entry.get_by_role("button", name="Back to the shipped text").click()
    expect(entry.get_by_label("Cause").first).to_have_value("weak platysma and infrahyoids")
