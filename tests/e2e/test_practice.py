"""Practice on a phone: every cue at its time, the exact log, no connection, a phone that slept, and what may not be done."""

import json
import re
from datetime import datetime

import pytest
from playwright.sync_api import expect

from ..answered import answer_over_wire
from ..midday import MIDDAY
from ..web.conftest import PASSWORD
from .conftest import Wire, own_clock
from .test_sheet_and_practice import post

EAR = """() => {
  // An ear in place of the loudspeaker: when which tone began, by the page's own clock.
  window.heard = []
  class Ear {
    get currentTime() { return performance.now() / 1000 }
    destination = {}
    resume() { return Promise.resolve() }
    createGain() {
      return { gain: { setValueAtTime() {}, linearRampToValueAtTime() {}, exponentialRampToValueAtTime() {} }, connect: (to) => to }
    }
    createOscillator() {
      return { frequency: {}, connect: (to) => to, start(at) { window.heard.push([performance.now(), this.frequency.value]) }, stop() {} }
    }
  }
  window.AudioContext = Ear
}"""
FEWER_FRAMES = """() => {
  // Half an hour in frames of 30 ms; the clock stays the same.
  window.requestAnimationFrame = (f) => setTimeout(() => f(performance.now()), 30)
  window.cancelAnimationFrame = (id) => clearTimeout(id)
}"""
TONES = {"in": 440, "hold": 587, "out": 349, "side": 392, "next": 523, "rest": 330}


def rows(*lines):
    return [{"id": f"r{n}", "exercise": e, "stage": stage, "cells": [cell] * 4} for n, (e, stage, cell) in enumerate(lines)]


SHORT = (("settle-breath", "prepare", "2 in 4 out 6"), ("bracket-open", "work", "R2 L1 ×2 h6"), ("oval-lift", "work", "1×3 h4"))


@pytest.fixture
def practising(visit, site):
    """A client with an assigned program of their own, opened on their phone; coach, client id, phone and its session."""

    def begin(lines=SHORT, *, source="empty"):
        coach = visit("/", site.practice.coach_email)
        client = post(coach, "/api/clients", {"name": "Ida Practising", "birth_year": 1980, "time_zone": MIDDAY, "minutes": 30})["id"]
        answer_over_wire(Wire(coach), client)
        made = post(coach, f"/api/clients/{client}/programs", {"title": "Own", "weeks": 4, "source": source})["id"]
        program = coach.request.get(f"/api/programs/{made}").json()
        if source == "empty":
            document = program["document"] | {"lines": rows(*lines), "sessions": [7] * 4, "minutes": None}
            body = {"base_revision": 1, "title": "Own", "document": document}
            saved = coach.request.put(f"/api/programs/{made}", data=body, headers={"x-dimbo": "1"})
            assert saved.ok, saved.text()
        assigned = post(coach, f"/api/programs/{made}/assignment", {"start": program["client_today"]})
        assert "id" in assigned, assigned
        email = f"{client[:8]}@mail.example"
        link = post(coach, f"/api/clients/{client}/invitation", {"email": email})["path"]
        page = visit(link, phone=True)
        page.add_init_script(f"({EAR})()")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Begin").click()
        expect(page.get_by_role("link", name="Start")).to_be_visible()
        page.reload()
        expect(page.get_by_role("link", name="Start")).to_be_visible()
        view = page.request.get("/api/my-days").json()
        session = view["sessions"][view["days"][0]["parts"][0]["session"]]
        return coach, client, page, session, email, view["today"]

    return begin


def start(phone):
    own_clock(phone)
    phone.get_by_role("link", name="Start").click()
    phone.get_by_role("button", name="Begin", exact=True).click()


def finish(phone, effort="5"):
    phone.get_by_role("button", name="yes").click()
    phone.get_by_role("button", name=effort, exact=True).click()


def log_of(coach, client, day):
    """The logs of a day that stand, once they have arrived."""
    for _ in range(100):
        logs = [x for x in coach.request.get(f"/api/clients/{client}/logs/{day}").json() if x["stands"]]
        if logs:
            return logs
        coach.wait_for_timeout(100)
    raise AssertionError("no log arrived")


def kind_of(cue, before):
    if before and before["item"] == cue["item"] and cue["side"] and before["side"] and cue["side"] != before["side"]:
        return "side"
    kinds = {"lead": "in", "hold": "hold", "move": "hold", "release": "out", "change": "next", "rest": "rest", "settle": "rest"}
    return kinds.get(cue["beat"], "")


def test_a_whole_session_is_heard_on_time_and_logged_as_compiled(practising):
    """Twenty minutes to the cue: every tone within 50 ms of the compiled timeline, and a log that says all of it."""
    coach, client, phone, session, _, day = practising(source="reference-20")
    assert session["seconds"] > 20 * 60
    start(phone)
    phone.evaluate(FEWER_FRAMES)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    expect(phone.get_by_role("heading", name="That was all")).to_be_visible()
    heard = phone.evaluate("window.heard")
    finish(phone)
    (log,) = log_of(coach, client, day)
    expected = [(c["start_s"], TONES[k]) for c, before in zip(session["cues"], [None, *session["cues"]], strict=False)
                if (k := kind_of(c, before))]  # fmt: skip
    firsts = set(TONES.values())
    begun = heard[0][0] / 1000 - expected[0][0]
    tones = []
    for at, hertz in heard:  # of each little melody the first note
        if hertz in firsts and (not tones or at / 1000 - begun - tones[-1][0] > 0.001):
            tones.append((at / 1000 - begun, hertz))
    assert [h for _, h in tones[: len(expected)]] == [h for _, h in expected]
    drift = [abs(a - b) for (a, _), (b, _) in zip(tones, expected, strict=False)]
    assert max(drift) < 0.05
    assert [i["outcome"] for i in log["items"]] == ["done"] * len(session["items"])
    for item in log["items"]:
        assert item["done_s"] == pytest.approx(item["planned_s"], abs=0.2)
        for side in item["sides"]:
            assert (side["done_sets"], side["done_reps"]) == (side["planned_sets"], side["planned_reps"])
    assert len(log["items"]) == 32
    assert (log["pauses"], log["effort"], log["form"], log["source"]) == (0, 5, "yes", "player")
    span = datetime.fromisoformat(log["ended_at"]) - datetime.fromisoformat(log["started_at"])
    assert span.total_seconds() == pytest.approx(session["seconds"], abs=1)


def at_item(phone, session, number, seconds=0.5):
    """Let the session run until an exercise has begun."""
    first = next(c for c in session["cues"] if c["item"] == number and c["rep"])
    phone.clock.run_for(int(1000 * (first["start_s"] + seconds)))


def test_pause_back_ease_skip_and_the_log_of_it(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 1, 4)
    stage = phone.get_by_role("button", name="Pause")
    expect(stage).to_contain_text("Your right side")
    stage.click()
    phone.clock.run_for(65_000)
    expect(phone.get_by_text("Paused")).to_be_visible()
    phone.get_by_role("button", name="Easier version").click()
    phone.get_by_role("button", name="One back").click()
    phone.get_by_role("button", name="Go on").first.click()
    expect(phone.get_by_role("button", name="Pause")).to_contain_text("Finger-bracket wide open, eased")
    phone.clock.run_for(3_000)
    phone.keyboard.press("ArrowRight")
    phone.get_by_role("button", name="too hard today").click()
    phone.clock.run_for(90_000)
    finish(phone, "8")
    (log,) = log_of(coach, client, day)
    breath, bracket, oval = log["items"]
    assert (breath["outcome"], oval["outcome"]) == ("done", "done")
    assert (bracket["outcome"], bracket["eased"], bracket["skip_reason"]) == ("partly", True, "too hard today")
    right = next(s for s in bracket["sides"] if s["side"] == "right")
    assert right["done_reps"] < right["planned_reps"]
    assert log["pauses"] >= 1 and log["paused_s"] >= 60 and log["effort"] == 8


def test_no_more_than_the_ceiling_however_often_one_goes_back(practising):
    coach, client, phone, session, _, day = practising((("upper-lip-press", "work", "60 s h3"),))
    assert session["items"][0]["spare_s"]["right"] == 0, "lip work stays at one minute a day by the clock, for good"
    start(phone)
    at_item(phone, session, 0, 30)
    phone.keyboard.press("ArrowLeft")
    expect(phone.get_by_text("than is good in one day")).to_be_visible()
    phone.clock.run_for(120_000)
    finish(phone)
    (log,) = log_of(coach, client, day)
    # Of the minute by the clock 45 s are contraction; nothing came on top of it.
    assert all(s["done_s"] == pytest.approx(45, abs=0.2) for s in log["items"][0]["sides"])


def test_a_phone_that_slept_goes_on_where_it_was_and_credits_nothing(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 1, 2)
    left = phone.get_by_text(re.compile(r"^\d+:\d\d left$")).first.inner_text()
    phone.clock.fast_forward(300_000)
    phone.clock.run_for(300)
    expect(phone.get_by_role("status")).to_contain_text("The phone slept")
    assert phone.get_by_text(re.compile(r"^\d+:\d\d left$")).first.inner_text() in (left, _less(left))
    phone.clock.run_for(1000 * int(session["seconds"]))
    finish(phone)
    (log,) = log_of(coach, client, day)
    assert log["pauses"] == 1 and log["paused_s"] == pytest.approx(300, abs=2)
    assert all(i["outcome"] == "done" and i["done_s"] <= i["planned_s"] + 0.2 for i in log["items"])


def _less(text):
    minutes, seconds = map(int, text.split()[0].split(":"))
    whole = minutes * 60 + seconds - 1
    return f"{whole // 60}:{whole % 60:02d} left"


def test_the_camera_is_a_mirror_and_the_map_beside_it_too(practising):
    *_, phone, session, _, _ = practising()
    own_clock(phone)
    phone.get_by_role("link", name="Start").click()
    phone.get_by_role("button", name="Camera as a mirror").click()
    phone.get_by_role("button", name="Begin", exact=True).click()
    mirror = phone.get_by_label("You, as in a mirror")
    expect(mirror).to_be_visible()
    assert mirror.evaluate("v => getComputedStyle(v).scale").startswith("-1")
    at_item(phone, session, 1, 1)
    worked = phone.locator("[data-side=right]").first.bounding_box()
    other = phone.locator("[data-side=left]").first.bounding_box()
    assert worked["x"] + worked["width"] / 2 > other["x"], "in a mirror your right is at the right"
    assert phone.evaluate("localStorage.getItem('dimbo-practice-helps')") and not phone.evaluate("'recorder' in window")


def test_the_session_begins_by_itself_after_one_tap(practising):
    *_, phone, session, _, _ = practising()
    own_clock(phone)
    phone.get_by_role("link", name="Start").click()
    expect(phone.get_by_role("timer")).to_contain_text("Begins in")
    phone.clock.run_for(11_000)
    expect(phone.get_by_role("button", name="Pause")).to_contain_text(session["items"][0]["name"])


def test_it_opens_and_plays_without_a_connection_and_hands_in_once_in_order(practising, site):
    coach, client, phone, session, email, day = practising()
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    phone.context.set_offline(True)
    phone.reload()
    expect(phone.get_by_text("without a connection")).to_be_visible()
    phone.get_by_role("link", name="Messages").click()
    phone.get_by_label("Write to your coach").fill("I practise in the cabin.")
    phone.get_by_role("button", name="Send").click()
    expect(phone.get_by_role("status").first).to_contain_text("1 message kept on this phone")
    phone.get_by_role("link", name="Today").click()
    start(phone)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    finish(phone)
    expect(phone.get_by_role("status")).to_contain_text("kept on this phone and handed in later, once")
    phone.get_by_role("link", name="Back to today").click()
    expect(phone.get_by_role("heading", name="Done for today")).to_be_visible()
    expect(phone.get_by_role("status").first).to_contain_text("1 message, 1 session")
    assert coach.request.get(f"/api/clients/{client}/logs/{day}").json() == []

    # The session at the server has ended meanwhile: everything waits until the client has signed in again.
    phone.context.clear_cookies()
    phone.context.set_offline(False)
    phone.reload()
    expect(phone.get_by_role("button", name="Sign in")).to_be_visible()
    phone.get_by_label("E-mail").fill(email)
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Sign in").click()
    expect(phone.get_by_role("heading", name="Done for today")).to_be_visible()
    expect(phone.get_by_text("kept on this phone")).to_have_count(0)
    (log,) = log_of(coach, client, day)
    assert [i["outcome"] for i in log["items"]] == ["done"] * 3
    (word,) = coach.request.get(f"/api/clients/{client}/messages").json()
    assert word["text"] == "I practise in the cabin."
    phone.reload()
    expect(phone.get_by_role("heading", name="Done for today")).to_be_visible()
    assert len(coach.request.get(f"/api/clients/{client}/logs/{day}").json()) == 1


def test_an_answer_that_is_lost_on_the_way_doubles_nothing(practising):
    coach, client, phone, session, _, day = practising()
    lost = []

    def lose(route):
        if lost:
            return route.continue_()
        lost.append(json.loads(route.request.post_data or "{}"))
        route.fetch()  # it arrives, but the phone never hears of it
        return route.abort()

    phone.context.route("**/api/hand-in", lose)
    start(phone)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    finish(phone)
    expect(phone.get_by_role("status")).to_contain_text("handed in later")
    phone.get_by_role("link", name="Back to today").click()
    expect(phone.get_by_role("heading", name="Done for today")).to_be_visible()
    assert lost and len(log_of(coach, client, day)) == 1


def test_practice_by_hand_is_cautioned_above_plan_and_never_praised(practising):
    coach, client, phone, _, _, day = practising()
    phone.get_by_role("link", name="Practised without the phone?").click()
    rights = phone.get_by_label("repetitions on your right")
    rights.first.fill("9")
    expect(phone.get_by_role("status")).to_contain_text("More than planned: Finger-bracket wide open")
    phone.get_by_role("button", name="5", exact=True).click()
    phone.get_by_role("button", name="Keep it").click()
    expect(phone.get_by_role("status").first).to_contain_text("more than planned, and it is kept as such")
    (log,) = log_of(coach, client, day)
    assert log["source"] == "manual" and log["items"][1]["done_s"] > log["items"][1]["planned_s"]


def test_the_day_besides_practice(practising):
    _, _, phone, *_ = practising()
    phone.get_by_role("link", name="Settings").click()
    phone.get_by_role("button", name="Make an address").click()
    address = phone.get_by_text(re.compile(r"http://.*/calendar/.*\.ics")).inner_text()
    assert "BEGIN:VCALENDAR" in phone.request.get(address).text()
    phone.get_by_role("button", name="Close it").click()
    expect(phone.get_by_role("button", name="Make an address")).to_be_visible()
    assert phone.request.get(address).status == 410
    phone.get_by_role("button", name="No reminders").click()
    expect(phone.get_by_text("You get no reminders.")).to_be_visible()


def test_soreness_takes_two_taps_and_a_place(practising, site):
    import psycopg

    coach, client, phone, session, _, day = practising()
    start(phone)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    finish(phone)
    log_of(coach, client, day)
    owner = site.url.replace("dimbo_app", "dimbo_owner")
    with psycopg.connect(owner, autocommit=True) as conn:  # as if it had been yesterday
        conn.execute("update practice_logs set day = day - 1 where client_id = %s", (client,))
    again = phone.context.new_page()
    again.goto("/today")
    region = again.get_by_role("region", name="Check-in")
    region.get_by_role("button", name="4", exact=True).click()
    region.get_by_role("button", name="left frontalis").click()
    region.get_by_role("button", name="Done").click()
    expect(region.get_by_role("heading", name="Sore today: 4 of 10")).to_be_visible()
    expect(region).to_contain_text("left frontalis")
    again.wait_for_function("async () => (await (await fetch('/api/my-days')).json()).checked_in?.places.length === 1")


def test_the_coach_pauses_writes_and_reads_the_log_to_the_side(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    finish(phone)
    log_of(coach, client, day)
    coach.goto(f"/clients/{client}")
    week = coach.get_by_role("region", name="Week 1")
    week.get_by_role("button").first.click()
    expect(week).to_contain_text("right 2 of 2 sets")
    expect(week).to_contain_text("played, felt in the right place: yes")
    coach.get_by_label("Write to Ida Practising").fill("Half as wide is enough.")
    coach.get_by_label("What it is about").select_option("bracket-open")
    coach.get_by_role("button", name="Send").click()
    expect(coach.get_by_role("region", name="Messages with Ida Practising")).to_contain_text("Finger-bracket wide open: Half as wide")
    coach.get_by_role("button", name="Pause").click()
    dialog = coach.get_by_role("dialog")
    dialog.get_by_label("Why").fill("Travelling")
    dialog.get_by_role("button", name="Pause").click()
    expect(coach.get_by_label("Margin")).to_contain_text("Travelling")
    phone.goto("/today")
    expect(phone.get_by_text("You are on a pause until your coach ends it")).to_be_visible()
    expect(phone.get_by_text("Half as wide is enough.").first).to_be_visible()
    coach.get_by_role("button", name="End the pause").click()
    coach.get_by_role("dialog").get_by_role("button", name="Let it go on").click()
    expect(coach.get_by_label("Margin")).not_to_contain_text("Travelling")
