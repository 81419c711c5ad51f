"""A started session survives whatever ends the page; a sudden sign stops it at once; health is asked before anything is played."""

import json
import re
from uuid import uuid4

import pytest
from playwright.sync_api import TimeoutError, expect

from .conftest import own_clock
from .test_practice import at_item, finish, log_of, practising, start

__all__ = ["practising"]
SORE = (("settle-breath", "prepare", "2 in 4 out 6"), ("temple-rounds", "release", "40 s"))
CLOCK = re.compile(r"^Go on at (\d+ min ?)?(\d+ s)?$")


def share_of(log):
    return sum(i["done_s"] for i in log["items"]) / sum(i["planned_s"] for i in log["items"])


def later_page(phone):
    """The client comes back in a new page of the same phone, with an ordinary clock."""
    phone.close()
    page = phone.context.new_page()
    page.goto("/today")
    return page


def test_a_reload_in_the_middle_goes_on_where_it_was_and_counts_once(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 1, 5)
    again = later_page(phone)
    expect(again.get_by_role("heading", name="You were in the middle")).to_be_visible()
    own_clock(again)
    again.get_by_role("link", name=CLOCK).click()
    again.get_by_role("button", name=re.compile("^(Begin|Go on)")).first.click()
    expect(again.get_by_role("button", name="Pause")).to_contain_text("Finger-bracket wide open")
    again.clock.run_for(1000 * int(session["seconds"]))
    finish(again)
    (log,) = log_of(coach, client, day)
    assert [i["outcome"] for i in log["items"]] == ["done"] * 3
    for item in log["items"]:
        assert item["done_s"] == pytest.approx(item["planned_s"], abs=1.5), "nothing is lost, nothing counts twice"


def test_ended_for_today_with_one_touch_is_kept_and_can_be_gone_on_with(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 1, 4)
    phone.get_by_role("button", name="End for today").click()
    expect(phone.get_by_role("heading", name="Ended for today")).to_be_visible()
    phone.get_by_role("button", name="Go on instead").click()
    expect(phone.get_by_role("button", name="Go on").first).to_be_visible()
    phone.get_by_role("button", name="End for today").click()
    phone.get_by_role("button", name="5", exact=True).click()
    (first,) = log_of(coach, client, day)
    assert 0 < share_of(first) < 0.6
    again = later_page(phone)
    own_clock(again)
    again.get_by_role("link", name=CLOCK).click()
    again.get_by_role("button", name="Begin", exact=True).click()
    again.clock.run_for(1000 * int(session["seconds"]))
    finish(again)
    again.get_by_role("link", name="Back to today").click()
    expect(again.get_by_role("heading", name="Done for today")).to_be_visible()
    (log,) = log_of(coach, client, day)
    assert [i["outcome"] for i in log["items"]] == ["done"] * 3


def test_closing_on_the_last_page_loses_nothing(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    expect(phone.get_by_role("heading", name="That was all")).to_be_visible()
    again = later_page(phone)
    expect(again.get_by_role("heading", name="Done for today")).to_be_visible()
    (log,) = log_of(coach, client, day)
    assert [i["outcome"] for i in log["items"]] == ["done"] * 3 and log["effort"] is None


def test_what_was_done_can_be_handed_in_instead_of_gone_on_with(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 2, 2)
    again = later_page(phone)
    again.get_by_role("button", name="Hand in what was done").click()
    (log,) = log_of(coach, client, day)
    assert log["items"][1]["outcome"] == "done" and log["items"][2]["outcome"] != "done"


def test_a_second_tab_says_why_it_does_not_play(practising):
    *_, phone, session, _, _ = practising()
    start(phone)
    at_item(phone, session, 1, 2)
    second = phone.context.new_page()
    second.goto("/practice?part=morning")
    expect(second.get_by_role("heading", name="It runs in another window")).to_be_visible()
    expect(second.get_by_role("button", name="Begin", exact=True)).to_have_count(0)


def test_pain_is_told_in_full_and_taken_back(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 1, 3)
    phone.get_by_role("button", name="It hurts").click()
    phone.get_by_role("button", name="It does not hurt; go back").click()
    expect(phone.get_by_role("button", name="Pause")).to_be_visible()
    phone.get_by_role("button", name="It hurts").click()
    for answer in ("right", "temple", "3", "some days"):
        phone.get_by_role("button", name=answer, exact=True).click()
    phone.get_by_role("button", name="Stop it, and go on with what is safe").click()
    phone.get_by_role("button", name="Take it back").click()
    expect(phone.get_by_role("button", name="Take it back")).to_have_count(0)
    phone.clock.run_for(1000 * int(session["seconds"]))
    finish(phone)
    (log,) = log_of(coach, client, day)
    assert "hurt" not in [i["outcome"] for i in log["items"]]
    assert coach.request.get(f"/api/clients/{client}").json()["stopped"] == []


def test_grave_pain_ends_the_session_and_asks_the_signs(practising):
    coach, client, phone, session, _, day = practising()
    start(phone)
    at_item(phone, session, 1, 3)
    phone.get_by_role("button", name="It hurts").click()
    phone.get_by_role("button", name="3", exact=True).click()
    expect(phone.get_by_role("button", name="Stop it, and go on with what is safe")).to_be_visible()
    phone.get_by_role("button", name="eye", exact=True).click()
    phone.get_by_role("button", name="Stop it, and end the session").click()
    expect(phone.get_by_role("heading", name="The session ends here")).to_be_visible()
    phone.get_by_role("button", name="None of these; end the session").click()
    finish(phone)
    (log,) = log_of(coach, client, day)
    assert "hurt" in [i["outcome"] for i in log["items"]]


def test_something_has_changed_holds_on_the_phone_at_once_and_the_coach_is_told_later(practising):
    coach, client, phone, *_ = practising()
    phone.context.set_offline(True)
    phone.get_by_role("button", name="Something has changed in my health").click()
    phone.get_by_role("button", name="None of these; ask on").click()
    phone.get_by_text("An illness, an injury, an operation").click()
    phone.get_by_role("button", name="Glaucoma", exact=True).click()
    phone.get_by_role("button", name="Yes. Tell my coach").click()
    phone.get_by_role("button", name="No, that is all").click()
    expect(phone.get_by_text("Finger-bracket wide open is left out: you told of glaucoma")).to_be_visible()
    phone.context.set_offline(False)
    phone.goto("/today")
    expect(phone.get_by_text("Finger-bracket wide open is left out: a clearance is missing")).to_be_visible()
    assert [x["kind"] for x in coach.request.get("/api/outbox").json()].count("health") == 1
    coach.goto(f"/clients/{client}")
    expect(coach.get_by_label("Margin")).to_contain_text("Glaucoma")


def test_a_release_is_stayed_at_within_its_ceiling_and_the_log_knows_where(practising):
    coach, client, phone, session, _, day = practising(SORE)
    start(phone)
    at_item(phone, session, 1, 6)
    phone.get_by_role("button", name="Tender? Stay here, 10 s longer").click()
    left = phone.get_by_text(re.compile(r"^\d+:\d\d left$")).first.inner_text()
    phone.clock.run_for(6_000)
    expect(phone.get_by_role("button", name="Pause")).to_contain_text("seconds longer here")
    assert phone.get_by_text(re.compile(r"^\d+:\d\d left$")).first.inner_text() == left, "the timeline stands meanwhile"
    phone.clock.run_for(1000 * int(session["seconds"]))
    finish(phone)
    (log,) = log_of(coach, client, day)
    (stay,) = log["items"][1]["stays"]
    assert stay["seconds"] == pytest.approx(10, abs=0.5) and stay["where"]


def test_a_sudden_sign_stops_this_device_at_once_without_a_connection(practising):
    coach, client, phone, session, _, day = practising()
    phone.evaluate("navigator.serviceWorker.ready.then(() => true)")
    start(phone)
    at_item(phone, session, 1, 3)
    phone.context.set_offline(True)
    phone.get_by_role("button", name="It hurts").click()
    phone.get_by_role("button", name=re.compile("Touch here$")).click()
    phone.get_by_role("button", name=re.compile("droop|uneven|face", re.IGNORECASE)).first.click()
    phone.get_by_role("button", name="Yes. Stop everything").click()
    expect(phone.get_by_role("alert").first).to_contain_text("Seek urgent medical care now")
    expect(phone.get_by_role("link", name="Start")).to_have_count(0)
    phone.reload()
    expect(phone.get_by_role("alert").first).to_contain_text("Seek urgent medical care now")
    phone.goto("/practice?part=morning")
    expect(phone.get_by_role("alert").first).to_contain_text("Seek urgent medical care now")
    phone.context.set_offline(False)
    phone.reload()
    coach.goto(f"/clients/{client}")
    expect(coach.get_by_role("alert")).to_contain_text("urgent")
    (log,) = log_of(coach, client, day)
    assert 0 < share_of(log) < 1, "what was done until then is kept"


def test_who_runs_without_answers_is_asked_first_sign_by_sign(visit, site, practising):
    import psycopg

    _, client, phone, *_ = practising()
    owner = site.url.replace("dimbo_app", "dimbo_owner")
    with psycopg.connect(owner, autocommit=True) as conn:  # as somebody who was assigned before questions were asked
        conn.execute("alter table facts disable trigger user")
        conn.execute("delete from facts where client_id = %s", (client,))
        conn.execute("alter table facts enable trigger user")
    phone.reload()
    region = phone.get_by_role("region", name="Before you practise")
    expect(region).to_be_visible()
    expect(phone.get_by_role("link", name="Start")).to_have_count(0)
    signs = len(phone.request.get("/api/my-days").json()["signs"])
    for n in range(signs):
        expect(region).to_contain_text(f"{n + 1} of ")
        expect(region.get_by_role("button", name=re.compile("^No to all"))).to_have_count(0)
        region.get_by_role("button", name="No", exact=True).click()
    agree = region.get_by_role("button", name="I agree")
    no = region.get_by_role("button", name=re.compile("^(No to all .*|No)$"))
    for _ in range(60):
        expect(agree.or_(no).first).to_be_visible()
        if agree.is_visible():
            break
        try:
            no.click(timeout=3_000)
        except TimeoutError:  # a block is answered one by one, and the last of them had gone already
            continue
    agree.click()
    expect(phone.get_by_role("link", name="Start")).to_be_visible()


def test_a_server_that_fails_shows_the_kept_day_and_takes_everything_later(practising):
    coach, client, phone, session, _, day = practising()
    phone.context.route("**/api/my-days", lambda route: route.fulfill(status=500, body="{}"))
    phone.context.route("**/api/hand-in", lambda route: route.fulfill(status=503, body="{}"))
    phone.reload()
    expect(phone.get_by_text("without a connection")).to_be_visible()
    expect(phone.get_by_role("link", name="Start")).to_be_visible()
    start(phone)
    phone.clock.run_for(1000 * (int(session["seconds"]) + 2))
    finish(phone)
    expect(phone.get_by_role("status").first).to_contain_text("kept on this phone")
    phone.context.unroute("**/api/my-days")
    phone.context.unroute("**/api/hand-in")
    phone.goto("/today")
    expect(phone.get_by_role("heading", name="Done for today")).to_be_visible()
    assert len(log_of(coach, client, day)) == 1


def test_a_page_left_open_overnight_shows_the_day_that_it_is(practising):
    _, _, phone, *_ = practising()
    phone.context.route("**/api/my-days", lambda route: route.abort())
    phone.reload()
    shown = phone.get_by_text(", without a connection")
    expect(shown).to_be_visible()
    before = shown.inner_text()
    own_clock(phone)
    phone.clock.fast_forward("24:00:00")
    expect(shown).not_to_have_text(before)
    assert "without a connection" in shown.inner_text()
    phone.clock.fast_forward(1000 * 3600 * 24 * 60)
    expect(phone.get_by_role("heading", name="Connect once")).to_be_visible()


def test_one_bad_entry_never_holds_up_the_others(practising):
    coach, client, phone, *_ = practising()
    bad = str(uuid4())

    def trip(route):
        """The server stumbles over whatever holds one entry."""
        ids = [e["id"] for e in json.loads(route.request.post_data or "{}")["entries"]]
        return route.fulfill(status=500, body="{}") if bad in ids else route.continue_()

    phone.evaluate(
        """([id, account]) => new Promise((done) => {
          const open = indexedDB.open('dimbo')
          open.onsuccess = () => {
            const put = open.result.transaction('queue', 'readwrite').objectStore('queue')
            put.add({ account, entry: { kind: 'message', id, text: 'poison', written_at: new Date().toISOString() } })
            put.transaction.oncomplete = () => { open.result.close(); done() }
          }
        })""",
        [bad, client],
    )
    phone.context.route("**/api/hand-in", trip)
    phone.get_by_role("link", name="Messages").click()
    phone.get_by_label("Write to your coach").fill("This one is fine.")
    phone.get_by_role("button", name="Send").click()
    expect(phone.get_by_text("1 message kept on this phone")).to_be_visible()
    for _ in range(50):
        texts = [m["text"] for m in coach.request.get(f"/api/clients/{client}/messages").json()]
        if texts:
            break
        coach.wait_for_timeout(100)
    assert texts == ["This one is fine."]


def test_a_sign_is_told_from_today_with_one_touch(practising):
    *_, phone, _, _, _ = practising()
    phone.get_by_role("button", name=re.compile("^Something sudden")).first.click()
    expect(phone.get_by_role("heading", name="Is one of these new?")).to_be_visible()
    phone.get_by_role("button", name="None of these; go back").click()
    expect(phone.get_by_role("link", name="Start")).to_be_visible()
