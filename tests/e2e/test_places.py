"""What every place shares: help that explains it, search from anywhere, what is chosen kept in the address, night, and narrow screens."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from studies.guide_pages import sections

from ..web.conftest import PASSWORD
from .looks import look
from .test_desk import kinds, until
from .test_pages import program
from .test_sheet_and_practice import post

__all__ = ["program"]
TITLES = {place: s for page in ("coaches.md", "clients.md") for s in sections(page) for place in s.places}
CLIENTS_PAGES = (
    "/today",
    "/my-course",
    "/my-photographs",
    "/my-letters",
    "/messages",
    "/my-settings",
    "/my-account",
    "/agreements",
    "/my-record",
)


@pytest.fixture
def own_phone(program, visit):
    """The phone of a client who has a program."""
    coach, client, path = program
    start = coach.request.get(f"/api/programs/{path}").json()["client_today"]
    post(coach, f"/api/programs/{path}/assignment", {"start": start})
    link = post(coach, f"/api/clients/{client}/invitation", {"email": f"{client[:8]}@mail.example"})["path"]
    phone = visit(link, phone=True)
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Begin").click()
    phone.wait_for_url("**/today")
    return phone


def test_the_help_of_each_of_the_coachs_places_explains_it(program):
    coach, client, path = program
    for place, section in TITLES.items():
        if place in {p for s in sections("clients.md") for p in s.places} or "token" in place or "[sitting]" in place:
            continue
        if place.startswith("/groups/"):
            continue
        target = path if place.startswith("/programs/") else "reference-20" if place.startswith("/templates/") else client
        coach.goto(place.replace("[id]", target))
        coach.wait_for_load_state("networkidle")
        coach.get_by_role("button", name="Help for this page").click()
        dialog = coach.get_by_role("dialog")
        expect(dialog.get_by_role("heading", name=section.title)).to_be_visible()
        expect(dialog).to_contain_text("search everything")
        for key, does in section.keys:
            expect(dialog).to_contain_text(re.compile(f"{re.escape(key)}\\s*{re.escape(does)}"))
        coach.keyboard.press("Escape")
        expect(dialog).to_have_count(0)


def test_the_help_of_each_of_the_clients_places_explains_it(own_phone):
    for place in CLIENTS_PAGES:
        own_phone.goto(place)
        own_phone.get_by_role("button", name="Help for this page").click()
        dialog = own_phone.get_by_role("dialog")
        expect(dialog.get_by_role("heading", name=TITLES[place].title)).to_be_visible()
        dialog.get_by_role("button", name="Close").click()
        expect(dialog).to_have_count(0)


def test_the_clients_pages_at_night_on_the_narrowest_phone_and_on_a_tablet(own_phone):
    own_phone.emulate_media(color_scheme="dark", reduced_motion="reduce")
    for place in CLIENTS_PAGES:
        own_phone.goto(place)
        expect(own_phone.get_by_role("heading", level=1)).to_be_visible()
        own_phone.wait_for_load_state("networkidle")
        for width, height in ((320, 640), (390, 844), (820, 1180)):
            own_phone.set_viewport_size({"width": width, "height": height})
            look(own_phone, client=True)
        places = own_phone.get_by_role("navigation", name="Places").get_by_role("link")
        expect(places).to_have_count(4)
    ground = own_phone.evaluate("getComputedStyle(document.documentElement).backgroundColor")
    assert ground == "rgb(27, 20, 32)"


@pytest.mark.parametrize("room", [(820, 1180), (640, 400)], ids=["a tablet", "a laptop at 200 percent"])
def test_the_coachs_pages_run_off_no_side_where_there_is_little_room(program, room):
    coach, client, path = program
    coach.set_viewport_size({"width": room[0], "height": room[1]})
    for place in (
        "/desk",
        "/clients",
        f"/clients/{client}",
        f"/clients/{client}/intake",
        f"/clients/{client}/sittings",
        f"/clients/{client}/letters",
        "/reviews",
        "/templates",
        "/exercises",
        "/settings",
        f"/programs/{path}",
        f"/programs/{path}/assign",
    ):
        coach.goto(place)
        expect(coach.get_by_role("heading", level=1).first).to_be_attached()
        coach.wait_for_load_state("networkidle")
        assert coach.evaluate("document.documentElement.scrollWidth - window.innerWidth") <= 0, place


def test_one_key_searches_everything_from_anywhere(program):
    coach, _, path = program
    title = coach.request.get(f"/api/programs/{path}").json()["title"]
    coach.goto("/settings/records")
    expect(coach.get_by_text("What stays of each")).to_be_visible()
    coach.keyboard.press("/")
    coach.keyboard.type("looked at")
    found = coach.get_by_role("dialog")
    expect(found.get_by_role("option", name="Looked At").first).to_be_visible()
    expect(found.get_by_role("option", name=title).first).to_be_visible()
    look(coach)
    coach.keyboard.press("Enter")
    coach.wait_for_url(re.compile(r"/clients/[\w-]+$"))
    coach.keyboard.press("Control+k")
    coach.keyboard.type("messenger")
    expect(coach.get_by_role("option", name="Settings: messenger")).to_be_visible()
    coach.keyboard.press("Enter")
    coach.wait_for_url("**/settings/messenger")
    coach.get_by_label("Reminder in your own words").focus()
    coach.keyboard.type("/")
    expect(coach.get_by_role("dialog")).to_have_count(0)


def test_what_is_chosen_of_the_clients_stays_in_the_address(program):
    coach, *_ = program
    coach.goto("/clients")
    coach.get_by_label("Find a client").fill("looked")
    coach.get_by_role("button", name=re.compile("^To begin")).click()
    coach.get_by_role("button", name="Practised last").click()
    coach.wait_for_url(re.compile(r"find=looked.*at=beginning|at=beginning.*find=looked"))
    address = coach.url
    coach.get_by_role("link", name="Looked At").first.click()
    coach.wait_for_url(re.compile(r"/clients/[\w-]+$"))
    coach.go_back()
    assert coach.url == address
    expect(coach.get_by_label("Find a client")).to_have_value("looked")
    expect(coach.get_by_role("columnheader", name="Practised last")).to_have_attribute("aria-sort", "ascending")


def test_several_are_put_off_or_reminded_at_once_and_it_can_be_taken_back(histories):
    coach, past = histories
    one, two = past("Several One", days_ago=4), past("Several Two", days_ago=4)
    for p in (one, two):
        p.practise(4)
    coach.goto("/desk")
    for p in (one, two):
        coach.get_by_role("checkbox", name=f"Choose {p.person.name}").check()
    bar = coach.get_by_role("toolbar", name="Those who are chosen")
    expect(bar).to_contain_text("2 chosen")
    bar.get_by_role("button", name="Put off until tomorrow").click()
    until(lambda: "missed" not in kinds(one) and "missed" not in kinds(two))
    coach.get_by_role("button", name="Undo").click()
    until(lambda: "missed" in kinds(one) and "missed" in kinds(two))

    coach.reload()
    for p in (one, two):
        coach.get_by_role("checkbox", name=f"Choose {p.person.name}").check()
    bar.get_by_role("button", name=re.compile("^Remind each")).click()
    dialog = coach.get_by_role("dialog")
    first = dialog.get_by_label(re.compile(f"^{re.escape(one.person.name)}"))
    expect(first).to_have_value(re.compile("^Dear Several, .*nothing is made up"))
    look(coach)
    dialog.get_by_role("button", name="Send 2 messages").click()
    expect(dialog).to_have_count(0)
    for p in (one, two):
        until(lambda p=p: len(coach.request.get(f"/api/clients/{p.id}/messages").json()) == 1)
        until(lambda p=p: "missed" not in kinds(p))


def test_a_day_and_a_time_are_typed_or_chosen_and_both_reach_the_plan(program):
    coach, _, path = program
    coach.goto(f"/programs/{path}/assign")
    first = coach.get_by_label("First day")
    expect(first).to_be_visible()
    first.fill("2031-03-10")
    first.press("Alt+ArrowDown")
    month = coach.get_by_role("application", name="Choose a day March 2031")
    expect(month.get_by_role("button", name="Monday, 10 March 2031")).to_be_focused()
    coach.keyboard.press("ArrowDown")
    coach.keyboard.press("Enter")
    expect(first).to_have_value("2031-03-17")
    expect(first).to_be_focused()
    expect(coach.get_by_text("17 Mar").first).to_be_visible()
    morning = coach.get_by_label("Morning at")
    morning.fill("07:20")
    morning.press("Alt+ArrowDown")
    times = coach.get_by_role("listbox", name="Times")
    expect(times.locator(":focus")).to_have_text("07:15")
    coach.keyboard.press("ArrowDown")
    coach.keyboard.press("Enter")
    expect(morning).to_have_value("07:30")
    look(coach)


def test_a_change_of_the_review_says_what_it_would_do_before_it_is_kept(program):
    coach, *_ = program
    coach.goto("/settings/review")
    beside = coach.get_by_role("complementary", name="What this changes")
    expect(beside).to_contain_text("Nothing is changed yet")
    share = coach.get_by_role("spinbutton").first
    was = share.input_value()
    share.press("ArrowDown")
    expect(beside).to_contain_text("would be judged otherwise")
    look(coach)
    beside.get_by_role("button", name="Leave it").click()
    expect(share).to_have_value(was)
    assert all(t["value"] == t["shipped"] for t in coach.request.get("/api/settings/review").json()["thresholds"])


def test_a_word_on_the_clients_pages_is_explained_where_it_stands(own_phone):
    own_phone.get_by_text("What is in it").click()
    expect(own_phone.get_by_text(re.compile("hold 5 s|times")).first).to_be_visible()
    assert not own_phone.get_by_text(re.compile(r"×\d+ h\d")).count(), "no dose line on the phone"
    own_phone.goto("/by-hand")
    more = own_phone.get_by_label(re.compile("^repetitions on")).first
    was = int(more.input_value())
    own_phone.get_by_role("button", name="+", include_hidden=True).nth(1).click()
    expect(more).to_have_value(str(was + 1))
    look(own_phone, client=True)


def test_help_opens_without_a_connection_too(own_phone):
    """What is fetched when it is first opened was kept with the page, and what that fetches in its turn."""
    own_phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    expect(own_phone.get_by_role("link", name="Start")).to_be_visible()
    own_phone.wait_for_function(
        """async (files) => {
          for (const name of await caches.keys()) if ((await (await caches.open(name)).keys()).length >= files) return true
          return false
        }""",
        arg=90,
    )
    own_phone.context.set_offline(True)
    own_phone.reload()
    expect(own_phone.get_by_text("without a connection")).to_be_visible()
    own_phone.get_by_role("button", name="Help for this page").click()
    expect(own_phone.get_by_role("dialog")).to_contain_text("For example.")
