"""How pages are sent: packed, once, by HEAD as well, and to each device what its owner opens."""

import gzip
import json
from pathlib import Path

import pytest
from structlog.testing import capture_logs

UI = Path(__file__).parents[2] / "ui/build"


def script() -> str:
    """The largest script of the built interface, as it is asked for."""
    assert UI.exists(), "npm run build makes the interface"
    return "/" + max((UI / "_app/immutable").rglob("*.js"), key=lambda f: f.stat().st_size).relative_to(UI).as_posix()


@pytest.mark.parametrize(
    ("taken", "coding"), [("gzip, br", "br"), ("gzip", "gzip"), ("br;q=0, gzip;q=0.5", "gzip"), ("identity", None), ("", None)]
)
def test_files_are_packed_as_the_browser_takes_them(browser, taken, coding):
    path = script()
    with browser().stream("GET", path, headers={"accept-encoding": taken}) as answer:
        raw = b"".join(answer.iter_raw())
    assert answer.headers.get("content-encoding") == coding and answer.headers["vary"] == "Accept-Encoding"
    assert answer.headers["content-type"].startswith("text/javascript") and "immutable" in answer.headers["cache-control"]
    whole = (UI / path[1:]).read_bytes()
    assert len(raw) < len(whole) / 2 if coding else raw == whole


@pytest.mark.parametrize("path", ["/", "/desk", "/manifest.webmanifest", script()])
def test_what_a_browser_has_is_not_sent_again(browser, path):
    page = browser()
    first = page.get(path)
    again = page.get(path, headers={"if-none-match": first.headers["etag"]})
    assert (first.status_code, again.status_code, again.content) == (200, 304, b"")
    assert page.get(path, headers={"if-none-match": '"another"'}).status_code == 200


@pytest.mark.parametrize("path", ["/", "/api/health", "/api/me", "/api/catalogue", script()])
def test_head_tells_what_get_would(coach, path):
    got, told = coach.get(path), coach.head(path)
    assert told.status_code == got.status_code and told.content == b""
    kept = ("content-type", "cache-control", "content-encoding", "content-length", "etag")
    assert {k: told.headers.get(k) for k in kept} == {k: got.headers.get(k) for k in kept}


def test_long_answers_are_packed_and_pictures_are_not(coach):
    with coach.stream("GET", "/api/catalogue", headers={"accept-encoding": "gzip"}) as answer:
        raw = b"".join(answer.iter_raw())
    assert answer.headers["content-encoding"] == "gzip" and json.loads(gzip.decompress(raw))
    assert "content-encoding" not in coach.get("/api/me").headers


def test_a_device_keeps_the_clients_pages_and_a_coachs_the_rest():
    kept = json.loads((UI / "_app/kept.json").read_text())
    assert not set(kept["client"]) & set(kept["coach"])
    every = {f"/{f.relative_to(UI).as_posix()}" for f in (UI / "_app/immutable").rglob("*") if f.suffix in (".js", ".css", ".woff2")}
    assert set(kept["client"]) | set(kept["coach"]) <= every
    sizes = [next(f for f in (UI / f"{name[1:]}.gz", UI / name[1:]) if f.exists()).stat().st_size for name in kept["client"]]
    assert sum(sizes) < 510_000


def test_head_is_logged_as_head_and_by_its_operation(coach):
    with capture_logs() as said:
        coach.head("/api/me")
    assert [(x["method"], x["operation"]) for x in said if x["event"] == "request"] == [("HEAD", "me")]


@pytest.mark.parametrize(
    ("path", "data"),
    [
        ("/today", {"/api/me"}),
        ("/desk", {"/api/me", "/api/desk"}),
        ("/clients/0f6a3a52-7c1b-4a51-9d53-0c5a4c1b2d3e/sittings", {"/api/me"}),
        ("/sign-in", set()),
    ],
)
def test_a_page_tells_at_once_what_it_is_going_to_need(browser, path, data):
    page = browser()
    asked = {link.split(">")[0].strip("<") for link in page.get(path).headers["link"].split(", ")}
    assert {a for a in asked if a.startswith("/api")} == data
    scripts = {a for a in asked if not a.startswith("/api")}
    assert scripts and all((UI / a[1:]).is_file() for a in scripts)
    assert page.head(path).headers["link"] == page.get(path).headers["link"]
    for link in page.get(path).headers["link"].split(", "):
        # Fetched as the page will ask for it; told otherwise, a browser fetches it twice.
        kind = "style" if ".css>" in link else "fetch" if "</api" in link else ""
        assert link.endswith(f"rel=preload; as={kind}; crossorigin" if kind else "rel=modulepreload"), link


@pytest.mark.parametrize("path", ["/no-such-page", "/clients/1/2/3/4", "/manifest.webmanifest"])
def test_an_address_of_which_nothing_is_known_tells_nothing(browser, path):
    assert "link" not in browser().get(path).headers
