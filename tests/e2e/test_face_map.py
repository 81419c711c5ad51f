"""The client's left stays the client's left, whichever way the face map is turned."""

import re

from playwright.sync_api import expect


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
        page.get_by_role("button", name=re.compile("turn to")).click()
