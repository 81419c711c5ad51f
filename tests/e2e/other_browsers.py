"""Firefox and WebKit from Debian's packages, each driven by its own standard protocol, behind one small surface.

Playwright drives neither as Debian builds them: Firefox is spoken to by WebDriver BiDi over its own socket, WebKit (the engine of every
iPhone) by WebKitGTK's WebDriver on a virtual screen.
"""

from __future__ import annotations

import itertools
import json
import os
import re
import shutil
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Protocol

from selenium import webdriver
from selenium.webdriver.webkitgtk.options import Options
from selenium.webdriver.webkitgtk.service import Service
from websockets.sync.client import ClientConnection, connect

PATIENCE_S = 45.0
FIREFOX, WEBKIT_DRIVER, XVFB = "/usr/bin/firefox-esr", "/usr/bin/WebKitWebDriver", "/usr/bin/Xvfb"

# What Firefox logs when a page is left while the worker still answers it; a worker that fails says why in other words.
LEFT_BEHIND = "A ServiceWorker intercepted the request and encountered an unexpected error."

FIND_FIELD = """(label => {
  const named = [...document.querySelectorAll('input, textarea, select')]
  return named.find(e => (e.getAttribute('aria-label') || '').startsWith(label) ||
    [...(e.labels || [])].some(l => l.textContent.trim().startsWith(label)))
})"""
FILL = f"""((label, value) => {{
  const field = {FIND_FIELD}(label)
  if (!field) return false
  Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), 'value').set.call(field, value)
  field.dispatchEvent(new Event('input', {{bubbles: true}}))
  field.dispatchEvent(new Event('change', {{bubbles: true}}))
  return true
}})"""
PRESS = """(name => {
  const found = [...document.querySelectorAll('button, a')].find(
    e => (e.getAttribute('aria-label') || e.textContent.trim()).startsWith(name) && !e.disabled && e.offsetParent !== null)
  if (found) found.click()
  return Boolean(found)
})"""
TEXT = "(() => document.body ? document.body.innerText : '')"


class Visitor(Protocol):
    """A browser with one page. ``complaints`` are the errors of scripts, where the browser tells them."""

    complaints: list[str]

    def goto(self, address: str) -> None: ...

    def run(self, function: str, *arguments: object) -> Any: ...


def wait_for(visitor: Visitor, wanted: str | re.Pattern[str]) -> str:
    """The page's text, as soon as it says something."""
    end, text = time.monotonic() + PATIENCE_S, ""
    while time.monotonic() < end:
        text = visitor.run(TEXT) or ""
        if (wanted in text) if isinstance(wanted, str) else wanted.search(text):
            return text
        time.sleep(0.15)
    raise AssertionError(f"never said {wanted!r}; it says: {text[:600]!r}; complaints: {visitor.complaints}")


def until(visitor: Visitor, function: str, *arguments: object) -> None:
    """Ask again until a function of the page answers true."""
    end = time.monotonic() + PATIENCE_S
    while not visitor.run(function, *arguments):
        assert time.monotonic() < end, f"{function[:80]} {arguments} never worked; it says: {(visitor.run(TEXT) or '')[:600]!r}"
        time.sleep(0.15)


def fill(visitor: Visitor, label: str, value: str) -> None:
    until(visitor, FILL, label, value)


def press(visitor: Visitor, name: str) -> None:
    until(visitor, PRESS, name)


class Firefox:
    """A page of headless Firefox by WebDriver BiDi."""

    def __init__(self, socket: ClientConnection) -> None:
        self.socket, self.complaints, self._number = socket, [], itertools.count(1)
        self._ask("session.new", capabilities={})
        self._ask("session.subscribe", events=["log.entryAdded"])
        self.page = self._ask("browsingContext.getTree")["contexts"][0]["context"]

    def _ask(self, method: str, **params: object) -> dict[str, Any]:
        number = next(self._number)
        self.socket.send(json.dumps({"id": number, "method": method, "params": params}))
        while True:
            said = json.loads(self.socket.recv(timeout=PATIENCE_S))
            if said.get("method") == "log.entryAdded":
                entry = said["params"]
                if entry["level"] == "error" and entry["type"] == "javascript" and LEFT_BEHIND not in str(entry["text"]):
                    self.complaints.append(str(entry["text"]))
            if said.get("id") == number:
                assert said["type"] == "success", said
                return said["result"]

    def size(self, width: int, height: int) -> None:
        self._ask("browsingContext.setViewport", context=self.page, viewport={"width": width, "height": height})

    def goto(self, address: str) -> None:
        self._ask("browsingContext.navigate", context=self.page, url=address, wait="complete")

    def run(self, function: str, *arguments: object) -> Any:
        given = [{"type": "string", "value": str(a)} for a in arguments]
        done = self._ask(
            "script.callFunction", functionDeclaration=function, arguments=given, target={"context": self.page}, awaitPromise=True
        )
        assert done["type"] == "success", done
        return done["result"].get("value")


@contextmanager
def firefox() -> Iterator[Firefox]:
    assert Path(FIREFOX).exists(), "Firefox is missing: apt-get install firefox-esr"
    profile = Path(tempfile.mkdtemp(prefix="dimbo-firefox-"))
    quiet = ["browser.shell.checkDefaultBrowser", "datareporting.policy.dataSubmissionEnabled", "app.update.enabled"]
    quiet += ["network.captive-portal-service.enabled", "network.connectivity-service.enabled", "services.settings.server.enabled"]
    (profile / "user.js").write_text("".join(f'user_pref("{name}", false);\n' for name in quiet))
    command = [FIREFOX, "--headless", "--no-remote", "--profile", str(profile), "--remote-debugging-port=0", "about:blank"]
    with (profile / "said").open("wb") as out:
        child = subprocess.Popen(command, stdout=out, stderr=out, start_new_session=True)
    try:
        end, address = time.monotonic() + PATIENCE_S, None
        while not address:
            assert child.poll() is None and time.monotonic() < end, (profile / "said").read_text(errors="replace")[-800:]
            address = re.search(r"WebDriver BiDi listening on (ws://\S+)", (profile / "said").read_text(errors="replace"))
            time.sleep(0.1)
        with connect(f"{address[1]}/session", max_size=None) as socket:
            yield Firefox(socket)
    finally:
        child.terminate()
        child.wait(20)
        shutil.rmtree(profile, ignore_errors=True)


class WebKit:
    """A page of WebKitGTK's own small browser by WebDriver; it does not tell the errors of scripts."""

    def __init__(self, driver: webdriver.WebKitGTK) -> None:
        self.driver, self.complaints = driver, []

    def size(self, width: int, height: int) -> None:
        self.driver.set_window_size(width, height)

    def goto(self, address: str) -> None:
        self.driver.get(address)

    def run(self, function: str, *arguments: object) -> Any:
        return self.driver.execute_script(f"return ({function})(...arguments)", *map(str, arguments))


@contextmanager
def webkit() -> Iterator[WebKit]:
    program = next(iter(sorted(Path("/usr/lib").glob("*/webkit2gtk-4.*/MiniBrowser"))), None)
    for needed, package in ((WEBKIT_DRIVER, "webkit2gtk-driver"), (program, "libwebkit2gtk-4.1-0"), (XVFB, "xvfb")):
        assert needed and Path(needed).exists(), f"WebKit's tests need: apt-get install {package}"
    read, write = os.pipe()
    command = [XVFB, "-displayfd", str(write), "-screen", "0", "1400x1000x24", "-nolisten", "tcp"]
    screen = subprocess.Popen(command, pass_fds=[write], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    os.close(write)
    try:
        with os.fdopen(read) as told:
            display = told.readline().strip()
        with _driven(str(program), display) as driver:
            yield WebKit(driver)
    finally:
        screen.terminate()
        screen.wait(20)


@contextmanager
def _driven(program: str, display: str) -> Iterator[webdriver.WebKitGTK]:
    options = Options()
    options.binary_location = program
    options.add_argument("--automation")
    plain = {"WEBKIT_DISABLE_COMPOSITING_MODE": "1", "WEBKIT_DISABLE_DMABUF_RENDERER": "1", "NO_AT_BRIDGE": "1"}
    driver = webdriver.WebKitGTK(options=options, service=Service(WEBKIT_DRIVER, env={**os.environ, "DISPLAY": f":{display}", **plain}))
    try:
        driver.set_script_timeout(PATIENCE_S)
        yield driver
    finally:
        driver.quit()
