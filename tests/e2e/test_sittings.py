"""Taking, measuring, correcting and comparing photographs in the real interface."""

import re
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from playwright.sync_api import expect

from dimbo.core.calendar.schedule import practice_day
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene

LONG = 90_000


def post(page, path, data):
    answer = page.request.post(path, headers={"x-dimbo": "1"}, data=data)
    assert answer.ok, answer.text()
    return answer.json()


def days_before(days):
    """A day of practice of this client before today's, which between midnight and three is still the evening's."""
    return (practice_day(datetime.now(UTC), UTC) - timedelta(days=days)).isoformat()


def send(page, sitting, scene, hour=8, view="front-neutral", days_ago=0):
    at = datetime.now(UTC).replace(hour=hour, minute=30) - timedelta(days=days_ago + 1)
    photo = {"name": f"{uuid4().hex[:6]}.jpg", "mimeType": "image/jpeg", "buffer": shoot(scene).jpeg(at)}
    form = {"photograph_id": str(uuid4()), "file": photo, "view": view}
    assert page.request.post(f"/api/sittings/{sitting}/photographs", headers={"x-dimbo": "1"}, multipart=form).ok


@pytest.fixture
def client(visit, site):
    """A new client who agrees that photographs are kept, and the coach's page."""
    coach = visit("/", site.practice.coach_email)
    made = post(
        coach,
        "/api/clients",
        {"name": "Quilla Marchetti", "birth_year": 1980, "time_zone": "UTC", "minutes": 15, "concerns": ["eye-less-open"]},
    )["id"]
    for choice in ("photographs", "comparison"):
        agreed = coach.request.put(f"/api/clients/{made}/consents/{choice}", headers={"x-dimbo": "1"}, data={"given": True, "version": 1})
        assert agreed.ok, agreed.text()
    return coach, made


@pytest.fixture
def two_sittings(client):
    coach, made = client
    for days, kind, state in ((45, "baseline", "uneven"), (1, "follow-up", "even")):
        sitting = post(coach, f"/api/clients/{made}/sittings", {"taken_on": days_before(days), "kind": kind})["id"]
        for seed in (1, 2):
            send(coach, sitting, Scene(identity="aster", state=state, seed=10 * days + seed), days_ago=days)
    coach.goto(f"/clients/{made}/sittings")
    expect(
        coach.get_by_role("heading", name="The right eye opens more than at the baseline; left and right are more alike.")
    ).to_be_visible(timeout=LONG)
    return coach


def test_two_sittings_tell_a_real_change_and_why(two_sittings):
    coach = two_sittings
    why = coach.get_by_label("Eye opening, numbers")
    expect(why.get_by_role("row", name=re.compile(r"^change"))).to_contain_text("mm")
    expect(coach.get_by_text(re.compile(r"\d\.\d\d is more than \d\.\d\d\. Not a promise of more"))).to_be_visible()
    expect(coach.get_by_text("client’s right").first).to_be_visible()
    coach.get_by_text(re.compile("Also looked at")).click()
    expect(coach.get_by_role("row", name=re.compile("Philtrum .* within noise"))).to_be_visible()


def test_a_point_moved_by_arrows_updates_the_numbers_and_is_undone(two_sittings):
    coach = two_sittings
    numbers = coach.get_by_label("Eye opening, numbers").get_by_role("row").nth(2)
    expect(numbers).to_contain_text("2 shots", timeout=LONG)
    before = numbers.text_content() or ""
    stage = coach.get_by_role("application").nth(1)
    stage.focus()
    for _ in range(5):
        coach.keyboard.press("n")
    expect(coach.get_by_text("right upper lid margin")).to_be_visible()
    for _ in range(14):
        coach.keyboard.press("ArrowDown")
    coach.keyboard.press("Shift+ArrowDown")
    expect(coach.get_by_text(re.compile(r"Right upper lid margin: 14\.1 px down, by you"))).to_be_visible()
    expect(numbers).not_to_have_text(before)
    expect(stage.locator("title", has_text="set by hand")).to_have_count(1)
    for _ in range(15):
        coach.keyboard.press("Control+z")
    expect(numbers).to_have_text(before)
    expect(stage.locator("title", has_text="set by hand")).to_have_count(0)


def test_the_ways_to_compare_name_sides_and_dates(two_sittings):
    coach = two_sittings
    coach.get_by_role("radio", name="Split line").click()
    coach.get_by_label("Where the line stands").fill("30")
    coach.get_by_role("radio", name="Flip").click()
    expect(coach.get_by_text(re.compile("follow-up, shot 1 of 2"))).to_be_visible()
    coach.keyboard.down("f")
    expect(coach.get_by_text(re.compile("baseline, shot 1 of 2"))).to_be_visible()
    coach.keyboard.up("f")
    expect(coach.get_by_text(re.compile("follow-up, shot 1 of 2"))).to_be_visible()
    coach.get_by_role("radio", name="Halves mirrored").click()
    expect(coach.get_by_text("the right side twice").first).to_be_visible()
    coach.get_by_role("radio", name="Outlines").click()
    expect(coach.get_by_text("aligned on eye corners and nose")).to_be_visible()
    with coach.expect_download() as download:
        coach.get_by_role("link", name="Comparison picture").click()
    assert download.value.suggested_filename == "comparison.png"


def test_a_mirrored_selfie_is_asked_about_and_turned_round(client):
    coach, made = client
    for days, flipped in ((30, False), (1, True)):
        sitting = post(coach, f"/api/clients/{made}/sittings", {"taken_on": days_before(days)})["id"]
        send(coach, sitting, Scene(identity="birch", state="uneven", seed=days, flipped=flipped), days_ago=days)
    coach.goto(f"/clients/{made}/sittings")
    expect(coach.get_by_text("It may be mirrored.").first).to_be_visible(timeout=LONG)
    expect(coach.get_by_role("heading", name=re.compile("not comparable"), level=2)).to_be_visible()
    coach.get_by_role("button", name="Mirrored, turn it").click()
    expect(coach.get_by_text("Mirrored file, shown and measured the right way round.")).to_be_visible()
    expect(coach.get_by_role("heading", name=re.compile("no change beyond the noise"))).to_be_visible()


def test_the_client_takes_a_sitting_alone_by_a_link(client, visit):
    coach, made = client
    sitting = post(coach, f"/api/clients/{made}/sittings", {"asked_views": ["front-neutral", "gentle-smile"]})["id"]
    path = post(coach, f"/api/sittings/{sitting}/link", {})["path"]
    phone = visit(path, None, phone=True)
    expect(phone.get_by_role("heading", name="Your photographs, Quilla")).to_be_visible()
    expect(phone.get_by_role("heading", name="Has something changed in your health?")).to_be_visible()
    expect(phone.get_by_role("button", name="Use the stand-in camera")).to_have_count(0)
    phone.get_by_role("button", name="Nothing has changed").click()
    expect(phone.get_by_text("0 of 4 shots")).to_be_visible()
    phone.get_by_role("button", name="Use the stand-in camera").click()
    take = phone.get_by_role("button", name="Take it")
    for taken in range(1, 4):
        take.click()
        expect(phone.get_by_text(f"{taken} of 4 shots")).to_be_visible(timeout=LONG)
    expect(phone.get_by_role("heading", name="Smile gently, lips together.")).to_be_visible()
    take.click()
    expect(phone.get_by_text("4 of 4 shots")).to_be_visible(timeout=LONG)
    phone.get_by_role("button", name="All taken").click()
    expect(phone.get_by_role("heading", name="Thank you. Your coach has them.")).to_be_visible()
    coach.goto(f"/clients/{made}/sittings")
    expect(coach.get_by_role("button", name="Gentle smile")).to_be_visible(timeout=LONG)


def test_a_sudden_sign_told_before_photographs_stops_them_and_reaches_the_coach(client, visit):
    coach, made = client
    sitting = post(coach, f"/api/clients/{made}/sittings", {})["id"]
    phone = visit(post(coach, f"/api/sittings/{sitting}/link", {})["path"], None, phone=True)
    phone.get_by_role("button", name="Something has changed").click()
    phone.get_by_role("dialog").get_by_role("button", name="Face drooping or uneven on one side", exact=True).first.click()
    phone.get_by_role("button", name="Yes. Stop everything").click()
    expect(phone.get_by_role("alert")).to_contain_text("emergency number")
    expect(phone.get_by_role("button", name="Use the stand-in camera")).to_have_count(0)
    coach.goto(f"/clients/{made}")
    expect(coach.get_by_role("alert")).to_contain_text("Reported: Face drooping or uneven on one side")


def test_one_bad_file_does_not_stop_the_others_and_a_broken_connection_goes_on(client, tmp_path):
    coach, made = client
    sitting = post(coach, f"/api/clients/{made}/sittings", {})["id"]
    (tmp_path / "a letter.jpg").write_text("Dear coach")
    (tmp_path / "front.jpg").write_bytes(shoot(Scene(identity="birch", state="even", seed=4)).jpeg())
    coach.goto(f"/clients/{made}/sittings/{sitting}")
    broken = []

    def cut(route):
        if not broken and "starts_at" in route.request.url:
            broken.append(route.request.url)
            route.abort()
        else:
            route.continue_()

    coach.route("**/uploads/**", cut)
    coach.get_by_role("button", name="Nothing has changed").click()
    coach.get_by_label("Photographs").set_input_files([str(tmp_path / "a letter.jpg"), str(tmp_path / "front.jpg")])
    expect(coach.get_by_text("a letter.jpg is not a photograph")).to_be_visible(timeout=LONG)
    expect(coach.get_by_text("1 uploaded photograph without a view yet")).to_be_visible(timeout=LONG)
    assert broken


def test_a_blind_round_hides_dates_and_opens_at_its_end(two_sittings):
    coach = two_sittings
    coach.get_by_role("link", name="Blind rating").click()
    coach.get_by_role("button", name="Begin").click()
    expect(coach.get_by_text("look 1 of 5")).to_be_visible()
    assert not re.search(r"\b\d{1,2} (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)", coach.locator("main").inner_text())
    for n in range(5):
        coach.keyboard.press("2")
        if n < 4:
            expect(coach.get_by_text(f"look {n + 2} of 5")).to_be_visible()
    expect(coach.get_by_text(re.compile(r"2\.0 → 2\.0: no change that a rating could show"))).to_be_visible()
    expect(coach.get_by_text(re.compile("weighted kappa 1.00"))).to_be_visible()


def test_primary_readings_are_named_from_the_margin(client):
    coach, made = client
    sitting = post(coach, f"/api/clients/{made}/sittings", {"taken_on": days_before(1)})["id"]
    send(coach, sitting, Scene(identity="aster", state="uneven", seed=3))
    coach.goto(f"/clients/{made}/sittings")
    coach.get_by_role("button", name="Name them").click(timeout=LONG)
    for name in ("Mouth corner", "Brow peak", "Eye opening"):
        coach.get_by_label(name, exact=True).check()
    expect(coach.get_by_label("Philtrum")).to_be_disabled()
    coach.get_by_role("button", name="Keep 3 of 3").click()
    expect(coach.get_by_role("button", name="Name them")).to_have_count(0)
