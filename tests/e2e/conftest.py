"""A real installation for the browser: cluster, web server and worker as processes, and headless Chromium."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from dimbo.ops.cluster import OWNER, free_port
from dimbo.store.database import Database

from ..midday import MIDDAY
from ..web.conftest import PASSWORD, Practice, make_practice
from ..web.histories import Past

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
]
PATIENCE_MS = 45_000
"""How long a page may take on a busy machine; what is slow is shown by the bench, never by a test that fails."""
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
ROOT = Path(__file__).parents[2]


@dataclass(frozen=True)
class Site:
    address: str
    practice: Practice
    url: str


@pytest.fixture(scope="session")
def site(cluster) -> Iterator[Site]:
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as conn:
        conn.execute(b"create database browser template dimbo")
    url, port = cluster.url(database="browser"), free_port()
    db = Database(url, most=2)
    db.open()
    with psycopg.connect(cluster.url(OWNER, "browser"), autocommit=True) as owner:
        practice = make_practice(db, owner, "harbour")
    db.close()
    environment = {**os.environ, "DIMBO_DATABASE_URL": url, "DIMBO_PORT": str(port), "DIMBO_STAND_IN_CAMERA": "true"}
    children = [subprocess.Popen([sys.executable, "-m", "dimbo.ops.cli", part], env=environment, cwd=ROOT) for part in ("serve", "worker")]
    address = f"http://127.0.0.1:{port}"
    try:
        for _ in range(400):
            try:
                urllib.request.urlopen(f"{address}/api/health", timeout=1).close()
                break
            except (urllib.error.URLError, OSError):
                assert children[0].poll() is None, "the web server stopped"
                time.sleep(0.05)
        yield Site(address, practice, url)
    finally:
        for child in children:
            child.terminate()
        for child in children:
            child.wait(15)


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    expect.set_options(timeout=PATIENCE_MS)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def visit(site: Site, chromium: Browser) -> Iterator[Callable[..., Page]]:
    """Opens a page of its own visitor; anything the page complains of fails the test."""
    contexts: list[BrowserContext] = []
    complaints: list[str] = []

    def go(path: str = "/", email: str | None = None, *, phone: bool = False, context: BrowserContext | None = None) -> Page:
        own = context or chromium.new_context(
            base_url=site.address, viewport=PHONE if phone else LAPTOP, has_touch=phone, timezone_id=MIDDAY, locale="en-GB"
        )
        if context is None:
            contexts.append(own)
        page = own.new_page()
        page.set_default_timeout(PATIENCE_MS)
        page.on("pageerror", lambda error: complaints.append(str(error)))
        if email:
            page.goto("/sign-in")
            page.get_by_label("E-mail").fill(email)
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            page.wait_for_url(lambda u: "sign-in" not in u)
        if path != "/" or not email:
            page.goto(path)
        return page

    yield go
    for context in contexts:
        context.close()
    assert complaints == []


class Wire:
    """The API through the browser's own session, spoken to like a test client."""

    class Answer:
        def __init__(self, answer):
            self.status_code, self.text, self.json = answer.status, answer.text(), answer.json

    def __init__(self, page):
        self.page = page

    def _send(self, how, path, **given):
        send = getattr(self.page.request, how)
        data = {"data": given["json"]} if "json" in given else {}
        return self.Answer(send(path, headers={"x-dimbo": "1"}, params=given.get("params") or {}, **data))

    def get(self, path, **given):
        return self._send("get", path, **given)

    def post(self, path, **given):
        return self._send("post", path, **given)

    def put(self, path, **given):
        return self._send("put", path, **given)


@pytest.fixture
def histories(visit, site):
    """Makes clients with a past, and the coach's page."""
    coach = visit("/", site.practice.coach_email)
    db = Database(site.url, most=2)
    db.open()
    yield coach, lambda name, **how: Past(db, site.practice, Wire(coach), f"{name} {uuid4().hex[:5]}", **how)
    db.close()


def answer_signs(within):
    """A no to each sudden sign of the page or the part of it, one by one, as there is no other way."""
    expect(within.get_by_role("radiogroup").first).to_be_visible()
    for question in within.get_by_role("radiogroup").all():
        question.get_by_role("radio", name="no", exact=True).click()


def own_clock(phone):
    """From here the test moves the page's clock. It reads 1970 for a moment, so the page has come to rest before."""
    phone.wait_for_load_state("networkidle")
    phone.clock.install()
