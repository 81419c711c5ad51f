"""Makes the pictures in docs/screenshots from a running demo: ./dimbo demo --fresh, then python -m studies.pictures [name ...]

The demo's data are worked with on the way (a link, a few answers of an intake, a round of rating is looked at), so make it anew after.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page, sync_playwright

ADDRESS = os.environ.get("DIMBO_DEMO", "http://127.0.0.1:8420")
FOLDER = Path(__file__).parents[1] / "docs/screenshots"
PASSWORD = "harbour-lantern-24"
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
REST_MS = 900
"""Until what comes after the page has come as well."""


def signed_in(browser: Browser, mail: str, *, phone: bool = False) -> Page:
    page = browser.new_context(viewport=PHONE if phone else LAPTOP, has_touch=phone, timezone_id="Europe/Oslo", locale="en-GB").new_page()
    page.goto(f"{ADDRESS}/sign-in")
    page.get_by_label("E-mail").fill(mail)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url(lambda url: "sign-in" not in url)
    return page


class Demo:
    """The demo's coach, and where things are."""

    def __init__(self, browser: Browser) -> None:
        self.browser = browser
        self.coach = signed_in(browser, "ottoline@quayside.example")
        self.clients = {c["name"].split()[0]: c["id"] for c in self.ask("/api/clients")}

    def ask(self, path: str) -> Any:
        return self.coach.request.get(f"{ADDRESS}{path}").json()

    def send(self, path: str) -> Any:
        answer = self.coach.request.post(f"{ADDRESS}{path}", headers={"x-dimbo": "1"}, data={})
        assert answer.ok, answer.text()
        return answer.json()

    def at(self, path: str, wanted: str) -> Page:
        self.coach.goto(f"{ADDRESS}{path}")
        self.coach.get_by_text(wanted).first.wait_for()
        return self.coach

    def of(self, name: str, rest: str, wanted: str) -> Page:
        return self.at(f"/clients/{self.clients[name]}{rest}", wanted)

    def by_link(self, path: str, wanted: str) -> Page:
        page = self.browser.new_context(viewport=PHONE, has_touch=True).new_page()
        page.goto(f"{ADDRESS}{path}")
        page.get_by_text(wanted).first.wait_for()
        return page

    def program(self, rest: str, wanted: str) -> Page:
        page = self.of("Philippa", "", "One eye less open")
        href = page.locator("a[href^='/programs/']").first.get_attribute("href") or ""
        return self.at("/".join(href.split("/")[:3]) + rest, wanted)

    def review(self) -> Page:
        page = self.at("/reviews", "one by one")
        page.get_by_role("button", name="Next, without deciding").wait_for()
        return page

    def group(self) -> Page:
        return self.at(f"/groups/{self.ask('/api/desk')['groups'][0]['id']}", "Write to all")

    def draft(self) -> Page:
        page = self.of("Hanne", "", "New program")
        page.get_by_role("button", name="New program").click()
        page.get_by_text("exercises, 12 weeks").wait_for()
        return page

    def letter(self) -> Page:
        page = self.of("Philippa", "/letters", "New letter")
        page.get_by_role("button", name="New letter").click()
        page.get_by_text("What the photographs show").wait_for()
        return page

    def photographs(self) -> Page:
        page = signed_in(self.browser, "philippa@mail.example", phone=True)
        page.goto(f"{ADDRESS}/my-photographs")
        page.get_by_text("Between them you practised").wait_for()
        return page

    def own_intake(self) -> Page:
        page = self.by_link(self.send(f"/api/clients/{self.clients['Leocadia']}/self-intake")["path"], "Leocadia")
        page.get_by_role("button", name="Begin").or_(page.get_by_role("button", name="Next")).first.click()
        return page

    def taking(self) -> Page:
        sitting = self.send(f"/api/clients/{self.clients['Philippa']}/sittings")["id"]
        page = self.by_link(self.send(f"/api/sittings/{sitting}/link")["path"], "Your photographs")
        asked = page.get_by_role("button", name="Nothing has changed")
        camera = page.get_by_role("button", name="Use the stand-in camera")
        asked.or_(camera).first.wait_for()
        if asked.count():  # once a day
            asked.click()
        camera.click()
        page.get_by_label("Right now").get_by_role("listitem").first.wait_for()  # the first frame was looked at
        return page

    def client(self, path: str, wanted: str) -> Page:
        page = signed_in(self.browser, "hanne@mail.example", phone=True)
        page.goto(f"{ADDRESS}{path}")
        page.get_by_text(wanted).first.wait_for()
        return page

    def practice(self) -> Page:
        page = self.client("/today", "minutes this")
        page.get_by_role("link", name="Start").click()
        page.get_by_role("button", name="Begin").click()
        page.get_by_role("button", name="It hurts").wait_for()
        page.wait_for_timeout(6000)
        return page


VIEWS: dict[str, Callable[[Demo], Page]] = {
    "desk": lambda d: d.at("/desk", "On track"),
    "course": lambda d: d.of("Philippa", "", "One eye less open"),
    "review": Demo.review,
    "group": Demo.group,
    "intake": lambda d: d.of("Philippa", "/intake", "Intake"),
    "program": lambda d: d.program("", "one session to scale"),
    "assign": lambda d: d.program("/assign", "minutes a week"),
    "draft": Demo.draft,
    "templates": lambda d: d.at("/templates", "Twenty-week reference"),
    "sitting": lambda d: d.of("Philippa", "/sittings", "why this is called"),
    "letter": Demo.letter,
    "helped": lambda d: d.at("/helped", "Client by client"),
    "exercises": lambda d: d.at("/exercises", "Said in this order"),
    "settings": lambda d: d.at("/settings", "What this changes"),
    "today": lambda d: d.client("/today", "minutes this"),
    "my-photographs": Demo.photographs,
    "practice": Demo.practice,
    "own-intake": Demo.own_intake,
    "taking": Demo.taking,
}


def main(names: list[str]) -> None:
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        demo = Demo(browser)
        for name in names or VIEWS:
            page = VIEWS[name](demo)
            page.wait_for_timeout(REST_MS)
            page.screenshot(path=FOLDER / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1:])
