"""A client's record as a whole, on the phone and at the desk."""

from __future__ import annotations

import io
import json
import re
import zipfile
from pathlib import Path

from playwright.sync_api import expect

from .looks import look
from .test_practice import PASSWORD, practising

__all__ = ["practising"]

KEPT = """async () => {
    const asked = indexedDB.open('dimbo')
    const db = await new Promise((done) => (asked.onsuccess = () => done(asked.result)))
    const count = (name) => new Promise((done) => {
        const all = db.transaction(name).objectStore(name).count()
        all.onsuccess = () => done(all.result)
    })
    const kept = {}
    for (const name of db.objectStoreNames) kept[name] = await count(name)
    return kept
}"""


def test_a_client_takes_everything_out_and_erases_themselves(practising, visit):
    coach, client, phone, _, email, _ = practising()
    phone.goto("/my-course")
    phone.goto("/my-settings")
    phone.get_by_role("link", name=re.compile("^What is kept of you")).click()
    expect(phone.get_by_role("region", name="Who looked")).to_contain_text("Nobody else has looked")
    look(phone, client=True)
    with phone.expect_download() as taken:
        phone.get_by_role("link", name="Take everything out").click()
    archive = zipfile.ZipFile(io.BytesIO(Path(taken.value.path()).read_bytes()))
    assert json.loads(archive.read("record.json"))["clients"][0]["name"] == "Ida Practising"
    expect(phone.get_by_role("status")).to_contain_text("being put together")

    phone.get_by_role("button", name="What would be erased").click()
    look(phone, client=True)
    phone.get_by_label("It cannot be undone").check()
    phone.get_by_label("Your password").fill("another one")
    phone.get_by_role("button", name="Erase everything of me").click()
    expect(phone.get_by_role("alert")).to_contain_text("not your password")
    assert sum(phone.evaluate(KEPT).values()) > 0
    phone.get_by_label("Your password").fill(PASSWORD)
    phone.get_by_role("button", name="Erase everything of me").click()
    expect(phone.get_by_role("heading", name="Everything of you is erased")).to_be_visible()
    assert sum(phone.evaluate(KEPT).values()) == 0, "nothing stays on the device"
    assert not [k for k in phone.evaluate("Object.keys(localStorage)") if client in k or k == "dimbo-me"]
    phone.goto("/today")
    expect(phone.get_by_role("button", name="Sign in")).to_be_visible()
    phone.get_by_label("E-mail").fill(email)
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Sign in").click()
    expect(phone.get_by_role("alert")).to_contain_text("wrong")
    assert coach.request.get(f"/api/clients/{client}").status == 404


def test_a_coach_archives_and_brings_back_and_the_owner_erases(visit, site):
    coach = visit("/", site.practice.coach_email)
    made = coach.request.post(
        "/api/clients", data={"name": "Nell Archived", "birth_year": 1980, "time_zone": "UTC", "minutes": 15}, headers={"x-dimbo": "1"}
    ).json()["id"]
    coach.goto(f"/clients/{made}")
    coach.get_by_role("link", name="Record", exact=True).click()
    expect(coach.get_by_role("heading", name="Nell Archived")).to_be_visible()
    expect(coach.get_by_role("button", name="Put into the archive")).to_be_visible()
    look(coach)
    coach.get_by_role("button", name="Put into the archive").click()
    expect(coach.get_by_role("status")).to_contain_text("nothing of the record is gone")
    coach.goto("/clients")
    expect(coach.get_by_role("link", name="Nell Archived")).to_have_count(0)
    coach.get_by_role("button", name=re.compile("^Archived")).click()
    coach.get_by_role("link", name="Nell Archived").click()
    coach.get_by_role("link", name="Record", exact=True).click()
    coach.get_by_role("button", name="Bring back").click()
    expect(coach.get_by_role("status")).to_contain_text("Back from the archive")

    coach.get_by_role("button", name="What would be erased").click()
    look(coach)
    coach.get_by_label("Why").select_option("mistake")
    coach.get_by_label("Write the client’s name").fill("Nell Archived")
    coach.get_by_label("Your own password").fill(PASSWORD)
    coach.get_by_role("button", name="Erase everything").click()
    expect(coach).to_have_url(f"{site.address}/clients")
    expect(coach.get_by_role("link", name="Nell Archived")).to_have_count(0)
    coach.goto("/settings/records")
    expect(coach.get_by_role("region", name="Erased")).to_contain_text(made[:8])
    coach.get_by_label("Photographs are kept").select_option("2 years")
    coach.get_by_role("button", name="Keep these").click()
    expect(coach.get_by_role("status")).to_contain_text("30 days before")
    coach.get_by_label("Photographs are kept").select_option("without end")
    coach.get_by_role("button", name="Keep these").click()
    look(coach)
