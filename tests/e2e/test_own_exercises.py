"""A coach adds an exercise of her own in the browser, with its figure and a clip; a client sees it first, also without a connection."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from ..clips import film
from . import test_practice
from .looks import look

practising = test_practice.practising


def test_an_exercise_is_drawn_said_recorded_and_kept(visit, site, tmp_path):
    page = visit("/exercises", site.practice.coach_email)
    page.get_by_role("button", name="A new one of your own").click()
    todo = page.get_by_text("Still to do:")
    expect(todo).to_be_visible()
    page.get_by_label("Name", exact=True).fill("Quay cheek glide")
    page.get_by_label("What it is for").fill("To let the cheek go before it is lifted.")
    page.get_by_role("button", name="Lay a hand on the face").click()
    for place in ("outside-corner", "cheekbone", "temple"):
        page.locator(f"[data-place={place}]").click()
    page.get_by_label("Hand 1: what it does").select_option("stroke")
    expect(page.locator("svg[aria-label^='The exercise as it is drawn'] [data-path=stroke]")).to_have_count(2)
    page.get_by_role("button", name="done", exact=True).click()
    expect(
        page.get_by_text("Flat fingers from just outside the mouth corner over the cheekbone to the temple; it strokes.")
    ).to_be_visible()
    # From behind none of these places is seen: the hand stays and asks for its place.
    page.get_by_label("from behind").check()
    expect(page.get_by_role("button", name="figure")).to_be_visible()
    page.get_by_label("from the front").check()
    page.get_by_label("Where", exact=True).select_option("outside-corner")
    page.get_by_label("And then to").select_option("temple")
    page.get_by_label(re.compile("^Cues in the order")).fill("Lay flat fingers beside the mouth corners.\nGlide up over the cheek.")
    page.get_by_label(re.compile("^Faults")).fill("The skin is dragged: less pressure")
    page.get_by_label("Where it should be felt").fill("Warmth over the cheekbone.")
    page.get_by_label("Eased, in a sentence").fill("With the backs of the fingers.")
    page.get_by_role("group", name="Helps with").get_by_role("checkbox").first.check()
    expect(page.get_by_text("Everything is there.")).to_be_visible()
    look(page)

    page.get_by_role("button", name="See it as it is played").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("6 strokes")
    dialog.get_by_role("button", name="Close").click()

    page.get_by_role("button", name="Record it here").click()
    page.get_by_role("button", name="Stop, it is all there").click(timeout=60_000)
    ends = page.get_by_label("Ends at")
    expect(ends).to_be_visible()
    page.get_by_role("button", name="Leave it").first.click()
    (tmp_path / "glide.webm").write_bytes(film(4))
    page.locator("input[type=file][accept*=webm]").set_input_files(tmp_path / "glide.webm")
    expect(page.get_by_text("4.0 s are kept of 4.0 s")).to_be_visible()
    ends.fill("1.5")
    expect(page.get_by_text("1.5 s are kept of 4.0 s")).to_be_visible()
    page.get_by_role("button", name="Keep this clip").click()
    expect(page.get_by_text("1.5 s, without sound.")).to_be_visible()
    page.reload()
    page.get_by_role("button", name="A new one of your own").click()
    expect(page.get_by_text("What you had written and not kept is here again.")).to_be_visible()
    expect(page.get_by_text("1.5 s, without sound.")).to_be_visible()
    page.get_by_role("button", name="Keep this exercise").click()
    expect(page.get_by_role("heading", name="Quay cheek glide")).to_be_visible()
    clip = page.get_by_label("Quay cheek glide, shown by your coach")
    clip.evaluate("v => { v.muted = true; return v.play() }")
    page.wait_for_function("() => document.querySelector('video').currentTime > 0.2")

    with page.expect_download() as loading:
        page.get_by_role("link", name="Save as a file").click()
    page.locator("input[type=file][accept*=zip]").set_input_files(loading.value.path())
    expect(page.get_by_role("alert")).to_contain_text("an exercise of that name already")


def test_a_clip_is_seen_before_the_first_time_and_without_a_connection(visit, site, practising):
    coach = visit("/", site.practice.coach_email)
    headers = {"x-dimbo": "1"}
    form = {"kind": "clip", "from_s": "0", "to_s": "2", "file": {"name": "a.webm", "mimeType": "video/webm", "buffer": film(2)}}
    kept = coach.request.post("/api/exercise-media", multipart=form, headers=headers).json()
    body = coach.request.get("/api/exercises/cheek-walk/written").json()
    entry = body["entry"] | {"name": "Walk that is shown", "after": [], "clip": kept}
    made = coach.request.post("/api/exercises", data={"family": body["family"], "entry": entry}, headers=headers).json()["id"]
    phone = practising(((made, "loosen", entry["start"]),))[2]
    phone.wait_for_function(
        """async () => new Promise((done) => {
          const open = indexedDB.open('dimbo')
          open.onsuccess = () => {
            const all = open.result.transaction('shown').objectStore('shown').getAllKeys()
            all.onsuccess = () => { done(all.result.length === 2); open.result.close() }
          }
        })"""
    )
    phone.context.set_offline(True)
    phone.get_by_role("link", name="Start").click()
    expect(phone.get_by_text("New today: see it first")).to_be_visible()
    for width in (390, 320):
        phone.set_viewport_size({"width": width, "height": 844})
        look(phone, client=True)
    phone.get_by_role("button", name=re.compile("Walk that is shown.*clip, 2 s")).click()
    film_here = phone.get_by_role("dialog").locator("video")
    expect(film_here).to_have_attribute("src", re.compile("^blob:"))
    look(phone, client=True)
    film_here.evaluate("v => { v.muted = true; return v.play() }")
    phone.wait_for_function("() => document.querySelector('video').currentTime > 0.2")
    phone.get_by_role("button", name="Back", exact=True).click()
    phone.get_by_role("button", name="Begin", exact=True).click()
    phone.get_by_role("button", name="Pause", exact=True).click()
    expect(phone.get_by_role("button", name=re.compile("Walk that is shown.*clip"))).to_be_visible()
    phone.context.set_offline(False)
