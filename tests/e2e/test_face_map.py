"""The client's left stays the client's left, whichever way the face map is turned."""

import re
from uuid import uuid4

import pytest
from playwright.sync_api import expect

from .test_sheet_and_practice import post


def middle(locator):
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2


def test_turning_the_map_turns_sides_labels_and_hatch_together(visit, site):
    page = visit("/exercises", site.practice.coach_email)
    page.get_by_role("button", name=re.compile("^Long oval cheek lift")).click()
    face = page.get_by_role("img", name=re.compile("^muscles of Long oval cheek lift"))
    for view, right_is_left_of_centre in (("facing you", True), ("as in a mirror", False)):
        expect(face).to_have_attribute("aria-label", re.compile(view))
        centre = middle(face)
        for side in ("right", "left"):
            region = face.locator(f'g[data-side="{side}"] [data-muscle="zygomaticus_major"]')
            on_the_left = (side == "right") == right_is_left_of_centre
            assert (middle(region) < centre) == on_the_left
            assert (middle(face.locator("text", has_text=side)) < centre) == on_the_left
        # The hatch of a side keeps its own slope: the pattern undoes the mirroring of its half.
        for side, angle in (("right", "-45"), ("left", "45")):
            half = face.locator(f'g[data-side="{side}"]').get_attribute("transform")
            pattern = face.locator(f'pattern[id$="-{side}"]').get_attribute("patternTransform")
            assert pattern == f"{half} rotate({angle})"
        page.get_by_role("button", name=re.compile("; turn$")).last.click()


VIEWS = (
    # view, a muscle that it shows, whether the client's left is at the viewer's right
    ("facing you", "zygomaticus major", True),
    ("as in a mirror", "zygomaticus major", False),
    ("from behind", "suboccipitals", False),
)


@pytest.fixture
def picker(visit, site):
    coach = visit("/", site.practice.coach_email)
    client = post(coach, "/api/clients", {"name": "Map Reader", "birth_year": 1980, "time_zone": "UTC"})["id"]
    coach.goto(f"/clients/{client}/intake")
    return coach, coach.get_by_role("group", name=re.compile("^severity of concerns"))


def test_the_clients_left_is_picked_as_left_in_every_view(picker):
    page, face = picker
    for view, muscle, left_at_right in VIEWS:
        expect(face).to_have_attribute("aria-label", re.compile(view))
        centre = middle(face)
        for side in ("right", "left"):
            region = face.get_by_role("button", name=f"{side} {muscle}")
            assert (middle(region) > centre) == ((side == "left") == left_at_right)
            assert (middle(face.locator("text", has_text=side)) > centre) == ((side == "left") == left_at_right)
            region.focus()
            expect(page.get_by_text(f"{side} {muscle}", exact=True)).to_be_visible()
            page.keyboard.press("Enter")
            expect(page.get_by_role("group", name="Concerns at this muscle")).to_contain_text(f"{side} {muscle}")
        page.get_by_role("button", name=re.compile("; turn$")).click()


def test_arrow_keys_walk_over_the_face_as_it_stands_on_the_screen(picker):
    page, face = picker
    face.get_by_role("button", name="right masseter").focus()
    page.keyboard.press("ArrowRight")
    here = page.evaluate("document.activeElement.getBoundingClientRect().x")
    assert here > face.get_by_role("button", name="right masseter").bounding_box()["x"]
    face.get_by_role("button", name="left trapezius").focus()
    page.keyboard.press("ArrowUp")
    assert page.evaluate("document.activeElement.getAttribute('aria-label')").split()[0] == "left"


@pytest.mark.parametrize("size", [60, 600])
def test_a_touch_finds_its_muscle_at_any_size(picker, size):
    page, face = picker
    face.evaluate("(e, size) => { e.style.width = size + 'px'; e.style.height = size + 'px'; e.style.maxWidth = 'none' }", size)
    box = face.bounding_box()
    assert abs(box["height"] - size) < 2
    region = face.get_by_role("button", name="left masseter").bounding_box()
    assert region["width"] > size * 0.02 and box["y"] <= region["y"] < box["y"] + size
    page.mouse.move(region["x"] + region["width"] / 2, region["y"] + region["height"] / 2)
    expect(page.get_by_text(re.compile("^left (masseter|buccinator|zygomaticus|risorius|pterygoid|medial)"))).to_be_visible()


def test_what_the_map_shows_stands_beside_it_as_a_list(picker):
    page, face = picker
    client = page.url.split("/")[4]
    entries = [
        {"id": str(uuid4()), "kind": "rating", "key": "crows-feet", "value": {"right": 0, "left": 3}},
        {"id": str(uuid4()), "kind": "caution", "key": "jaw-joint", "value": {"answer": "yes"}},
    ]
    post(page, f"/api/clients/{client}/facts", {"entries": entries})
    page.reload()
    listed = page.get_by_role("list", name=re.compile("as a list$"))
    expect(listed).to_contain_text("left orbicularis oculi, crow’s feet 3 of 4")
    expect(listed).to_contain_text("right masseter, locked")
    expect(listed).not_to_contain_text("right orbicularis oculi")
    expect(face.locator('[data-hold="lock"]')).to_have_count(6)


def test_every_muscle_is_drawn_somewhere(picker):
    page, face = picker
    tables = page.request.get("/api/intake-tables").json()
    drawn = set()
    for _ in range(3):
        drawn |= set(face.locator("[data-pick]").evaluate_all("list => list.map(e => e.dataset.pick)"))
        page.get_by_role("button", name=re.compile("; turn$")).click()
    assert drawn == {m["id"] for m in tables["muscles"]}
