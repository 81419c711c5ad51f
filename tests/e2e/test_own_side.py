"""The client's own pages beside the practice: the check-in on the face map, and the course without a connection."""

import re

import pytest
from playwright.sync_api import expect

from ..web.conftest import PASSWORD
from .test_sheet_and_practice import post


@pytest.fixture
def own(histories, visit):
    """A client with a past, and their phone on Today."""
    coach, past = histories

    def begin(*practised):
        p = past("Own Side")
        p.practise(*practised)
        link = post(coach, f"/api/clients/{p.id}/invitation", {"email": f"{str(p.id)[:8]}@mail.example"})["path"]
        phone = visit(link, phone=True)
        phone.get_by_label("Password").fill(PASSWORD)
        phone.get_by_role("button", name="Begin").click()
        expect(phone.get_by_role("link", name="My course")).to_be_visible()
        return p, phone

    return begin


def test_soreness_is_touched_on_the_face_and_on_the_nape(own):
    p, phone = own(3, 2, 1)
    phone.get_by_role("region", name="Check-in").get_by_role("button", name="4", exact=True).click()
    phone.get_by_role("button", name=re.compile("^left zygomaticus major")).press("Enter")
    phone.get_by_role("button", name="Back of head, nape").click()
    expect(phone.get_by_text("right is right")).to_be_visible()
    nape = phone.get_by_role("button", name=re.compile("^right suboccipital"))
    # From behind the client's right stands at the right of the screen.
    middle = phone.locator("section[aria-label=Check-in] svg").bounding_box()
    box = nape.bounding_box()
    assert box["x"] + box["width"] / 2 > middle["x"] + middle["width"] / 2
    nape.press("Enter")
    phone.get_by_role("button", name="Done").click()
    expect(phone.get_by_role("heading", name="Sore today: 4 of 10")).to_be_visible()
    phone.reload()
    expect(phone.get_by_text(re.compile("At left zygomaticus major.*right suboccipital"))).to_be_visible()
    assert p.at_desk()["feel"][-1]["soreness"] == 4


def test_the_course_is_shown_as_it_last_stood_without_a_connection(own):
    _, phone = own(3, 2)
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    phone.context.set_offline(True)
    phone.get_by_role("link", name="My course").click()
    expect(phone.get_by_role("alert")).to_contain_text("Open the course once while you are online")
    phone.context.set_offline(False)
    phone.reload()
    expect(phone.get_by_role("heading", name="Week by week")).to_be_visible()
    said = phone.locator("main li").first.inner_text()
    expect(phone.get_by_text("This is how it stood")).to_have_count(0)
    phone.context.set_offline(True)
    phone.reload()
    expect(phone.get_by_role("status")).to_contain_text("No connection. This is how it stood on")
    assert phone.locator("main li").first.inner_text() == said
