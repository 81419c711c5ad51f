"""The other sections of the coach's intake: side tests, habits, time and goals, notes, what to ask next."""

import re

import pytest
from playwright.sync_api import expect

from .test_intake import saved, section, stored
from .test_sheet_and_practice import post


@pytest.fixture
def intake(visit, site):
    coach = visit("/", site.practice.coach_email)
    client = post(coach, "/api/clients", {"name": "Ferdie Holm", "birth_year": 1980, "time_zone": "UTC"})["id"]
    coach.goto(f"/clients/{client}/intake")
    expect(coach.get_by_role("radiogroup").first).to_be_visible()
    return coach, client


def test_a_side_test_says_how_and_what_to_say_and_can_be_taken_back(intake):
    coach, client = intake
    section(coach, "Side tests")
    coach.get_by_role("button", name="How to do it, and what to say: Pointing test").click()
    expect(coach.get_by_text("With which eye does your finger stay on the lamp?", exact=False)).to_be_visible()
    leads = coach.get_by_role("radiogroup", name="Which eye leads?")
    leads.focus()
    coach.keyboard.press("r")
    saved(coach)
    assert stored(coach, client)["results"]["dominant-eye"]["answer"] == "right"
    leads.get_by_role("radio", name="right").click()
    saved(coach)
    assert "dominant-eye" not in stored(coach, client)["results"]


def test_tests_that_disagree_are_named_in_the_margin(intake):
    coach, _ = intake
    section(coach, "Side tests")
    coach.get_by_role("radiogroup", name="Which lid comes down first in the evening?").get_by_role("radio", name="left").click()
    coach.get_by_role("radiogroup", name="Which eye is wider in a neutral photograph?").get_by_role("radio", name="left").click()
    margin = coach.get_by_label("Margin")
    expect(margin.get_by_text("the tests disagree", exact=False)).to_be_visible()
    coach.get_by_role("radiogroup", name="Which lid comes down first in the evening?").get_by_role("radio", name="right").click()
    expect(margin.get_by_text("the tests disagree", exact=False)).not_to_be_visible()


def test_a_one_sided_habit_becomes_a_task(intake):
    coach, client = intake
    section(coach, "Side tests")
    coach.get_by_role("radiogroup", name="On which side do you chew?").get_by_role("radio", name="left").click()
    coach.get_by_label("Make it a habit task: Chew on the right side, 3 a day").check()
    saved(coach)
    assert stored(coach, client)["conclusions"]["habits"] == [
        {"test": "chewing", "text": "Chew on the right side", "times": 3, "agreed": True}
    ]


def test_time_goals_and_who_they_are(intake):
    coach, client = intake
    section(coach, "Time")
    coach.get_by_label("Minutes a day").fill("14")
    for day in ("Mon", "Thu", "Sat"):
        coach.get_by_role("button", name=day).click()
    coach.get_by_role("button", name="Thu").click()
    coach.get_by_label("Agreed goal 2").fill("even brows")
    coach.get_by_role("radiogroup", name="Status").get_by_role("radio", name="paused").click()
    coach.get_by_label("E-mail").fill("ferdie at mail")
    expect(coach.get_by_role("alert")).to_contain_text("name@example.org")
    expect(coach.get_by_label("Minutes a day")).to_have_value("14")
    coach.get_by_label("E-mail").fill("ferdie@mail.example")
    saved(coach)
    profile = stored(coach, client)["profile"]
    assert (profile["minutes"], profile["days"], profile["agreed"]) == (14, [1, 6], ["even brows"])
    assert (profile["status"], profile["email"]) == ("paused", "ferdie@mail.example")


def test_notes_and_everything_that_changed(intake):
    coach, client = intake
    section(coach, "Notes")
    coach.get_by_label("New note").fill("Prefers mornings.")
    coach.reload()
    section(coach, "Notes")
    expect(coach.get_by_label("New note")).to_have_value("Prefers mornings.")
    coach.get_by_role("button", name="Keep the note").click()
    entry = coach.get_by_role("listitem").filter(has_text="Prefers mornings.")
    expect(entry).to_contain_text("Coach of harbour")
    fact = {"id": "7f0c7d1e-31d5-4b02-bb5e-5a7a5a6a9001", "kind": "caution", "key": "glaucoma", "value": {"answer": "yes"}}
    post(coach, f"/api/clients/{client}/facts", {"entries": [fact]})
    coach.reload()
    section(coach, "Notes")
    coach.get_by_label("Show").select_option("locks and clearances")
    expect(coach.get_by_text("Locked: Glaucoma.", exact=False)).to_be_visible()
    expect(entry).to_have_count(0)


def test_what_to_ask_next_leads_there(intake):
    coach, client = intake
    ask = coach.get_by_label("Margin").get_by_role("button").first
    first = ask.inner_text().split("\n")[0]
    section(coach, "Consent")
    coach.keyboard.press("Alt+Enter")
    expect(coach.get_by_role("radiogroup", name=first)).to_be_focused()
    coach.keyboard.press("n")
    expect(ask).not_to_contain_text(first)
    coach.keyboard.press("Alt+PageDown")
    expect(coach.get_by_role("navigation", name="Sections of the intake").locator("[aria-current=step]")).to_contain_text("Cautions")
    assert len(stored(coach, client)["conclusions"]["ask_next"]) > 5


def test_no_to_the_rest_answers_only_what_is_open(intake):
    coach, client = intake
    section(coach, "Cautions")
    coach.get_by_role("radiogroup", name="Is the face or neck sunburnt?").get_by_role("radio", name="yes").click()
    skin = coach.get_by_role("region", name="Skin now")
    skin.get_by_role("button", name="No to the other 3").click()
    expect(skin.get_by_text("all 4 answered")).to_be_visible()
    skin.get_by_label("cheek", exact=True).check()
    saved(coach)
    cautions = stored(coach, client)["cautions"]
    assert {k: v["answer"] for k, v in cautions.items()} == {"sunburn": "yes", "skin-flare": "no", "cold-sore": "no", "skin-disease": "no"}
    assert cautions["sunburn"]["regions"] == ["cheek"]


def test_an_intake_is_begun_once_and_finished(intake):
    coach, _ = intake
    coach.get_by_role("button", name="Begin the intake").click()
    expect(coach.get_by_text(re.compile("^Intake begun .* by Coach of harbour"))).to_be_visible()
    coach.get_by_role("button", name="Finish the intake").click()
    expect(coach.get_by_text(re.compile("^Intake finished"))).to_be_visible()
    expect(coach.get_by_role("button", name="Begin a new intake")).to_be_visible()


def test_the_coach_overrules_the_suggested_cause_and_takes_it_back(intake):
    coach, client = intake
    fact = {"id": "7f0c7d1e-31d5-4b02-bb5e-5a7a5a6a9002", "kind": "rating", "key": "jowls", "value": {"right": 2, "left": 2}}
    post(coach, f"/api/clients/{client}/facts", {"entries": [fact]})
    coach.goto("/clients")
    coach.goto(f"/clients/{client}/intake#concerns")
    concern = coach.get_by_role("article", name="Jowls and jaw outline")
    expect(concern).to_be_visible()
    concern.get_by_role("radio", name=re.compile("^platysma pull")).check()
    expect(concern.get_by_text("You chose platysma pull.")).to_be_visible()
    expect(coach.get_by_label("Margin").get_by_text("Platysma pull, as you chose.", exact=False)).to_be_visible()
    concern.get_by_role("button", name="Leave it to the answers").click()
    expect(concern.get_by_text("You chose platysma pull.")).not_to_be_visible()
    assert stored(coach, client)["causes"] == {}
