"""The player with its figure on a slow phone: frames of practice against empty frames, and the script time of each."""

from __future__ import annotations

from collections.abc import Callable

from dimbo.demo.people import PASSWORD

from .installation import Installation

FRAMES, SLOWER = 120, 4
"""Frames of a round; how many times slower than this machine the phone is."""
CLIENT = "philippa@mail.example"
_FRAMES = """(n) => new Promise((done) => {
  const step = () => (n-- > 0 ? requestAnimationFrame(step) : done())
  requestAnimationFrame(step)
})"""
_SCRIPT = "ScriptDuration"

_script_ms: dict[str, list[float]] = {}


def told() -> str:
    """Script time of a frame, of practice and of an empty one."""
    mean = {name: sum(ms) / len(ms) for name, ms in _script_ms.items()}
    return f"script of a frame {mean['practice']:.2f} ms, of an empty one {mean['empty']:.2f} ms, {SLOWER} times slowed"


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """Frames of a practice that plays, and of an empty page in the same browser."""
    from playwright.sync_api import Page, sync_playwright  # for those who change it; an installation has none

    site, play = Installation(), sync_playwright().start()
    browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
    phone = browser.new_page(base_url=f"http://127.0.0.1:{site.port}", viewport={"width": 390, "height": 844}, has_touch=True)
    phone.goto("/sign-in")
    phone.get_by_label("E-mail").fill(CLIENT)
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Sign in").click()
    phone.wait_for_url("**/today")
    phone.get_by_role("link", name="Start").click()
    phone.get_by_role("button", name="Begin", exact=True).click()
    phone.locator("[data-hand]").first.wait_for()
    empty = browser.new_page()
    empty.goto("about:blank")

    def frames(name: str, page: Page) -> Callable[[], object]:
        told = page.context.new_cdp_session(page)
        told.send("Performance.enable")
        told.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})

        def spent() -> float:
            return float(next(m["value"] for m in told.send("Performance.getMetrics")["metrics"] if m["name"] == _SCRIPT))

        def work() -> None:
            before = spent()
            page.evaluate(_FRAMES, FRAMES)
            _script_ms.setdefault(name, []).append(1000 * (spent() - before) / FRAMES)

        return work

    def close() -> None:
        browser.close()
        play.stop()
        site.close()

    return frames("practice", phone), frames("empty", empty), close
