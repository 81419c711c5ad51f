"""The desk, reviews in a row and the course, by keyboard alone; one message to a group; a course of a year."""

import re
import time

from playwright.sync_api import expect


def name_of(p):
    return p.person.name


def find(coach, p):
    coach.goto("/desk")
    expect(coach.get_by_text(re.compile("clients need you"))).to_be_visible()
    coach.keyboard.press("f")
    coach.keyboard.type(name_of(p))
    expect(coach.get_by_role("link", name=name_of(p)).first).to_be_visible()


def until(holds):
    """Wait for what a page has shown already and is still telling the server."""
    for _ in range(100):
        if holds():
            return
        time.sleep(0.1)
    raise AssertionError("it never arrived")


def kinds(p):
    return [a["kind"] for a in p.at_desk()["alarms"]]


def decided(p, verdict):
    """The newest review of a client, once it has arrived."""
    until(lambda: p.course()["reviews"])
    review = p.course()["reviews"][0]
    assert review["decided"] == verdict
    return review


def test_one_key_confirms_a_review_and_one_puts_an_alarm_aside(histories):
    coach, past = histories
    good, gone = past("Good"), past("Gone", days_ago=4)
    good.practise(*range(9, -1, -1))
    gone.practise(4)
    find(coach, good)
    line = coach.locator(f"#row-{good.id}")
    expect(line).to_contain_text("7 of 7 sessions, effort 5")
    line.get_by_role("button", name="why").click()
    expect(line).to_contain_text("The rule:")
    line.click()
    coach.keyboard.press("Escape")
    coach.locator("h1").click()
    coach.keyboard.press("Enter")
    expect(line).to_contain_text("advance, confirmed")
    assert good.course()["reviews"] == [], "it can still be taken back"
    coach.keyboard.press("Control+z")
    expect(line.get_by_role("button", name="Confirm: advance")).to_be_visible()
    line.click()
    coach.locator("h1").click()
    coach.keyboard.press("Enter")
    expect(line).to_contain_text("advance, confirmed")

    find(coach, gone)  # leaving the page decides what waits
    decided(good, "advance")
    line = coach.locator(f"#row-{gone.id}")
    expect(line).to_contain_text("3 planned days missed in a row")
    line.click()
    coach.keyboard.press("Escape")
    coach.locator("h1").click()
    coach.keyboard.press("s")
    expect(line).to_contain_text("marked as seen")
    until(lambda: "missed" not in kinds(gone))
    coach.get_by_role("button", name="Undo").click()
    expect(coach.get_by_role("button", name="Undo")).to_have_count(0)
    until(lambda: "missed" in kinds(gone))


def test_a_message_about_missed_days_begins_with_kind_words_and_settles_them(histories):
    coach, past = histories
    p = past("Missing", days_ago=4)
    p.practise(4)
    find(coach, p)
    coach.locator(f"#row-{p.id}").get_by_role("button", name="Write").click()
    words = coach.get_by_label("Message to Missing")
    expect(words).to_have_value(re.compile("nothing is made up"))
    words.press("End")
    words.press("Control+Enter")
    expect(words).not_to_be_visible()
    expect(coach.locator(f"#row-{p.id}")).to_contain_text("marked as seen")
    assert len(coach.request.get(f"/api/clients/{p.id}/messages").json()) == 1


def test_reviews_in_a_row_by_keyboard_alone(histories):
    coach, past = histories
    first, second = past("Row One"), past("Row Two")
    first.practise(*range(9, 2, -1))
    second.practise(9, 8, 7, 6)
    coach.goto(f"/reviews?assignment={first.assignment}")
    expect(coach.get_by_role("heading", name=re.compile("^Row One .*: advance"))).to_be_visible()
    lift = coach.get_by_role("radiogroup", name="Verdict on Long oval cheek lift")
    expect(lift.get_by_role("radio", name="advance")).to_be_checked()
    coach.keyboard.press("h")
    expect(lift.get_by_role("radio", name="hold")).to_be_checked()
    coach.keyboard.press("Enter")  # otherwise than suggested: it asks why first
    why = coach.get_by_label(re.compile("Why otherwise than suggested"))
    expect(why).to_be_focused()
    coach.keyboard.type("She travels.")
    coach.keyboard.press("Enter")
    expect(coach.get_by_role("list", name="Decided just now")).to_contain_text("Row One")
    for _ in range(40):  # others that are due come in their order
        title = coach.get_by_role("heading", level=1)
        expect(title).not_to_contain_text("Row One")
        expect(title).not_to_have_text("Reviews")  # still reading
        if "Row Two" in title.inner_text() or "No review" in title.inner_text():
            break
        before = title.inner_text()
        coach.keyboard.press("n")
        expect(title).not_to_have_text(before)
    expect(coach.get_by_role("heading", level=1)).to_contain_text("hold")
    coach.keyboard.press("Enter")
    expect(coach.get_by_role("list", name="Decided just now")).to_contain_text("Row Two")
    coach.keyboard.press("Control+z")  # back to it, as it was
    expect(coach.get_by_role("heading", level=1)).to_contain_text("Row Two")
    coach.keyboard.press("Enter")
    expect(coach.get_by_role("list", name="Decided just now")).to_contain_text("Row Two")
    coach.goto("/desk")
    assert decided(first, "hold")["reason"] == "She travels."
    decided(second, "hold")


def test_who_has_no_program_yet_is_to_begin_and_not_on_track(histories):
    coach, past = histories
    past("Nothing Wrong").practise(0)
    fresh = {"name": "Nothing Yet", "birth_year": 1980, "time_zone": "UTC", "minutes": 15}
    assert coach.request.post("/api/clients", data=fresh, headers={"x-dimbo": "1"}).ok
    coach.goto("/desk")
    coach.get_by_label("Find a client").fill("Nothing ")
    aside = coach.get_by_role("complementary", name="The day, and who is on track")
    expect(aside.get_by_role("list", name="To begin").get_by_role("link")).to_have_text("Nothing Yet")
    expect(aside.get_by_role("list", name="On track").get_by_role("link", name="Nothing Yet")).to_have_count(0)


def test_no_review_is_said_not_to_wait_before_it_is_known(histories):
    coach, past = histories
    past("Still Read").practise(*range(9, 2, -1))
    held = []
    coach.route("**/api/desk", lambda route: held.append(route))
    coach.goto("/reviews")
    expect(coach.get_by_role("status").filter(has_text="Looking for the weeks")).to_be_visible()
    expect(coach.get_by_role("heading", level=1)).to_have_text("Reviews")
    coach.keyboard.press("n")  # goes nowhere: nothing is open yet
    assert held
    held[0].abort()
    expect(coach.get_by_role("alert")).to_be_visible()
    coach.unroute("**/api/desk")
    coach.get_by_role("button", name="Try again").click()
    expect(coach.get_by_role("button", name=re.compile("^Confirm"))).to_be_visible()


def test_the_course_is_walked_by_arrows_down_to_the_log(histories):
    coach, past = histories
    p = past("Walker", days_ago=16)
    p.practise(16, 15, 14)
    p.practise(13, again=0.6)
    p.practise(12, share=0.5, hurt="oval-lift")
    coach.goto(f"/clients/{p.id}")
    ruler = coach.get_by_role("group", name=re.compile("Course on the week ruler; week 3 of 6"))
    ruler.focus()
    ruler.press("ArrowLeft")
    ruler = coach.get_by_role("group", name=re.compile("week 2 of 6"))
    ruler.press("ArrowLeft")
    week = coach.get_by_role("region", name="Week 1")
    expect(week.get_by_role("heading", name=re.compile("^Week 1, "))).to_be_visible()
    expect(week.get_by_role("img", name=re.compile("Long oval cheek lift hurt"))).to_be_visible()
    expect(week).to_contain_text("above plan")
    coach.get_by_role("group", name=re.compile("week 1 of 6")).press("ArrowDown")
    coach.keyboard.press("ArrowDown")
    coach.keyboard.press("Enter")
    expect(week.get_by_text(re.compile("played")).first).to_be_visible()

    numbers = coach.get_by_role("region", name="Adherence")
    numbers.get_by_role("button", name=re.compile("^whole course, above plan")).click()
    expect(numbers).to_contain_text(re.compile(r"\+\d+ %"))
    numbers.get_by_text("how these are counted").click()
    expect(numbers).to_contain_text("Extra load is harm, not credit.")


def test_a_year_fits_on_the_ruler(histories):
    coach, past = histories
    p = past("Year", days_ago=360)
    p.practise(360, 359)
    coach.request.post(f"/api/assignments/{p.assignment}/end", data={"follows": "rest"}, headers={"x-dimbo": "1"})
    later = coach.request.post(f"/api/programs/{p.program_id}/assignment", headers={"x-dimbo": "1"}, data={"start": p.today.isoformat()})
    assert later.ok, later.text()
    coach.goto(f"/clients/{p.id}")
    ruler = coach.get_by_role("group", name=re.compile("Course on the week ruler; week 52 of 58"))
    expect(ruler).to_be_visible()
    ruler.press("Home")
    expect(coach.get_by_role("heading", name=re.compile("^Week 1, "))).to_be_visible()
    assert coach.evaluate("document.documentElement.scrollWidth - window.innerWidth") <= 0


def test_a_group_is_written_to_at_once(histories):
    coach, past = histories
    people = [past(n, days_ago=0) for n in ("Ada", "Bo")]
    for p in people:
        coach.request.post(f"/api/assignments/{p.assignment}/end", data={"follows": "rest"}, headers={"x-dimbo": "1"})
    body = {"wish": {"start": people[0].day(4).isoformat()}, "clients": [str(p.id) for p in people], "name": "Spring at the pier"}
    made = coach.request.post(f"/api/programs/{people[0].program_id}/group", headers={"x-dimbo": "1"}, data=body).json()
    coach.goto(f"/groups/{made['group_id']}")
    expect(coach.get_by_text("missed 4 planned days in a row").first).to_be_visible()
    coach.get_by_role("button", name="Write to all").click()
    words = coach.get_by_label("Message to all of them")
    words.fill("How did the first days go?")
    words.press("Control+Enter")
    expect(coach.get_by_role("status")).to_contain_text("Written to 2 clients")


def test_no_machine_date_is_read_out_of_a_locale(visit, site):
    """Browsers write a date as their locale wants it; some would have left the desk blank."""
    coach = visit("/", site.practice.coach_email)
    coach.add_init_script("Date.prototype.toLocaleDateString = () => '28/11/2026'")
    coach.goto("/desk")
    expect(coach.get_by_role("heading", level=1)).to_have_text(re.compile(r"^\w+ \d{1,2} \w+$"))


def test_a_program_that_was_ended_by_mistake_runs_again(histories):
    coach, past = histories
    p = past("Ended Early", days_ago=4)
    p.practise(4, 3)
    coach.goto(f"/programs/{p.program_id}/assign")
    coach.get_by_role("button", name="End the program").click()
    dialog = coach.get_by_role("dialog")
    expect(dialog).to_contain_text("are no longer due")
    expect(dialog.get_by_role("button", name="End it today")).to_be_disabled()
    dialog.get_by_label("A rest, until I plan again").check()
    expect(dialog).to_contain_text("Ended reads: Now is a rest.")
    dialog.get_by_role("button", name="End it today").click()
    expect(coach.get_by_text("4 weeks, ended").or_(coach.get_by_text("6 weeks, ended"))).to_be_visible()
    coach.get_by_role("button", name="Undo").click()
    expect(coach.get_by_role("heading", name="Change Lift")).to_be_visible()
    assert [a["running"] for a in p.course()["assignments"]] == [True]


def test_a_draft_and_a_template_that_were_removed_come_back(histories):
    coach, past = histories
    p = past("Drafts", days_ago=1)
    headers = {"x-dimbo": "1"}
    made = {"title": "Second thoughts", "weeks": 4, "source": "empty"}
    coach.request.post(f"/api/clients/{p.id}/programs", data=made, headers=headers)
    keep = {"program_id": str(p.program_id), "title": "Harbour lift", "about": ""}
    coach.request.post("/api/templates", data=keep, headers=headers)
    coach.goto(f"/clients/{p.id}")
    row = coach.get_by_role("listitem").filter(has_text="Second thoughts")
    row.get_by_role("button", name="Discard").click()
    expect(row.get_by_role("button", name="Discard")).to_have_count(0)
    coach.reload()  # the time in which it is undone in place is over; it is kept all the same
    coach.get_by_text("1 removed draft, kept for 30 days").click()
    coach.get_by_role("button", name="Bring it back").click()
    expect(row.get_by_role("button", name="Discard")).to_be_visible()
    coach.goto("/templates")
    template = coach.get_by_role("listitem").filter(has_text="Harbour lift").first
    template.get_by_role("button", name="Remove").click()
    expect(coach.get_by_text("The template is removed")).to_be_visible()
    coach.get_by_role("button", name="Undo").click()
    expect(template.get_by_role("button", name="Remove")).to_be_visible()
