"""The whole way: program, assignment, practice on the phone, what the coach sees, and two portraits to a reading."""

import re
from datetime import UTC, datetime

from playwright.sync_api import expect

from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene

from ..answered import answer_over_wire
from ..midday import MIDDAY
from ..web.conftest import PASSWORD
from .conftest import Wire, answer_signs, own_clock
from .looks import look


def cell(page, exercise, week):
    return page.get_by_role("gridcell", name=re.compile(f"^{exercise}, week {week}:"))


def play_through(page, seconds):
    """The session in leaps that are still short enough to be followed."""
    for _ in range(int(seconds // 4) + 2):
        page.clock.fast_forward(4_000)
        page.clock.run_for(40)


def test_from_the_first_program_to_a_reading_with_its_noise(visit, site, tmp_path):
    coach = visit("/", site.practice.coach_email)
    coach.get_by_role("button", name="New client").click()
    coach.get_by_label("Name, as they like it").fill("Wilhelmina Oort")
    coach.get_by_label("Year of birth").fill("1979")
    coach.get_by_label("Time zone").fill(MIDDAY)
    coach.get_by_label("First concern").select_option("eye-less-open")
    coach.get_by_role("button", name="Add client").click()

    # The intake opens first; what she came with waits to be rated.
    expect(coach.get_by_role("region", name="Sudden signs")).to_be_visible()
    answer_signs(coach.get_by_role("region", name="Sudden signs"))
    expect(coach.get_by_role("region", name="Sudden signs")).to_contain_text(re.compile(r"all \d+ answered"))
    coach.get_by_role("navigation", name="Sections of the intake").get_by_role("button", name=re.compile("^Concerns")).click()
    coach.get_by_role("radiogroup", name="One eye less open, right, severity 0 to 4").get_by_role("radio", name="3").click()
    expect(coach.get_by_text("Everything is saved.")).to_be_visible()
    coach.get_by_label("Client", exact=True).get_by_role("link", name="Course").click()

    # A four-week program, drafted for the concern and changed by keyboard.
    coach.get_by_role("button", name="New program").click()
    coach.get_by_role("spinbutton", name="Weeks").fill("4")
    expect(coach.get_by_text("4 weeks, the longest session")).to_be_visible()
    coach.get_by_role("button", name="Create program").click()
    expect(coach.get_by_role("grid")).to_be_visible()
    first = cell(coach, "Finger-bracket wide open", 1)
    first.click()
    coach.keyboard.type("r3 l2 x 2 hold 40")
    coach.keyboard.press("Enter")
    expect(first).to_contain_text("R3 L2 ×2 h40")
    margin = coach.get_by_label("Margin")
    expect(margin).to_contain_text("the ceiling is 1:30")
    expect(coach.get_by_role("button", name=re.compile("Assign: 3 to settle"))).to_be_disabled()  # a muscle's ceiling, too
    coach.keyboard.press("Control+z")
    expect(margin).not_to_contain_text("the ceiling is")
    coach.keyboard.type("R2 L1 x2 h6")
    coach.keyboard.press("Enter")
    coach.keyboard.press("Control+ArrowRight")
    expect(cell(coach, "Finger-bracket wide open", 2)).to_contain_text("R2 L1 ×2 h8")
    expect(coach.get_by_text(re.compile("saved, version [2-9]"))).to_be_visible()

    # Nothing is assigned before the rest of the health questions is answered, and practising agreed to.
    expect(margin).to_contain_text("Not asked yet")
    expect(coach.get_by_role("button", name=re.compile("Assign: 1"))).to_be_disabled()
    client = coach.request.get(f"/api/programs/{coach.url.split('/')[-1]}").json()["client_id"]
    answer_over_wire(Wire(coach), client)
    coach.reload()
    expect(coach.get_by_label("Margin")).not_to_contain_text("Not asked yet")
    coach.get_by_role("button", name="Assign").click()
    expect(coach.get_by_label("Margin")).to_contain_text("No conflicts")
    coach.get_by_role("button", name="Assign", exact=True).click()
    expect(coach.get_by_role("heading", name="Wilhelmina Oort")).to_be_visible()
    expect(coach.get_by_role("row", name=re.compile("due, until 03:00"))).to_be_visible()

    # The client comes by her link, on a phone, and practises.
    coach.get_by_role("button", name="Send one link for all that is due").click()
    coach.get_by_label("Their e-mail").fill("mina@mail.example")
    coach.get_by_role("button", name="Make the link").click()
    link = coach.get_by_label("Invitation link").input_value()
    phone = visit(link.removeprefix(site.address), phone=True)
    expect(phone.get_by_role("heading", name="Welcome, Wilhelmina Oort")).to_be_visible()
    look(phone, client=True)
    phone.get_by_role("listitem").filter(has_text="Choose a password").get_by_role("button", name="Open").click()
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Begin").click()
    expect(phone.get_by_role("heading", name=re.compile("minutes this morning"))).to_be_visible()
    own_clock(phone)
    phone.get_by_role("link", name="Start").click()
    phone.get_by_role("button", name="Begin").click()
    phone.clock.run_for(7_000)
    expect(phone.get_by_role("button", name="Pause")).to_contain_text("Settling breath")
    expect(phone.get_by_text("Breathe in")).to_be_visible()
    phone.get_by_role("button", name="Pause").click()
    phone.clock.run_for(60_000)
    expect(phone.get_by_text(re.compile(r"^1 of \d+$")).first).to_be_visible()
    phone.keyboard.press("Space")
    play_through(phone, 14 * 60)
    phone.get_by_role("button", name="5", exact=True).click()
    expect(phone.get_by_text("The clock of your phone is off")).to_be_visible()  # the test's own clock ran ahead
    phone.get_by_role("link", name="Back to today").click()
    expect(phone.get_by_role("heading", name="Done for today")).to_be_visible()

    # The coach sees it, then two portraits become a reading.
    coach.reload()
    row = coach.get_by_role("row", name=re.compile(r"^\w{3} \d+, done .*\d:\d\d of \d+:\d\d 5"))
    expect(row).to_have_count(1)
    done, planned = re.search(r"(\d+:\d\d) of (\d+:\d\d)", row.inner_text()).groups()
    assert done == planned
    coach.get_by_label("Client", exact=True).get_by_role("link", name="Sittings").click()
    coach.get_by_role("button", name="New photo session").click()
    expect(coach.get_by_role("button", name=re.compile("Take or upload"))).to_be_disabled()
    coach.get_by_role("button", name="Close").click()
    coach.get_by_role("link", name="Ask for it").click()
    coach.get_by_role("radiogroup", name="Keep photographs").get_by_role("radio", name="agrees").click()
    coach.get_by_label("Client", exact=True).get_by_role("link", name="Sittings").click()
    coach.get_by_role("button", name="New photo session").click()
    coach.get_by_label("Neutral only, 3 shots").check()
    coach.get_by_role("button", name="Take or upload 3 shots here").click()
    for seed in (1, 2):
        (tmp_path / f"front {seed}.jpg").write_bytes(shoot(Scene(identity="aster", state="uneven", seed=seed)).jpeg(datetime.now(UTC)))
    coach.get_by_label("Photographs").set_input_files([str(f) for f in sorted(tmp_path.glob("*.jpg"))])
    expect(coach.get_by_text("2 uploaded photographs without a view yet")).to_be_visible(timeout=60_000)
    coach.get_by_role("button", name="Look at them").click()
    coach.get_by_role("button", name="Confirm 2 suggested views").click(timeout=60_000)
    told = coach.get_by_label("What the sittings tell")
    expect(told.get_by_text("The right eye opens less, beyond the noise.")).to_be_visible(timeout=60_000)
    expect(told.get_by_role("row", name=re.compile(r"2 shots.*\+\d\.\d ±0\.\d"))).to_be_visible()
    expect(coach.get_by_label("Wilhelmina Oort, Front, neutral", exact=False)).to_be_visible()
