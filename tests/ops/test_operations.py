"""Every operation of the server is used by a page, or said in the documents for whom it is; every refusal is described."""

import json
import re
from pathlib import Path

from dimbo.work.shared.errors import Why

ROOT = Path(__file__).parents[2]
API = json.loads((ROOT / "docs/formats/openapi.json").read_text(encoding="utf-8"))
PAGE = (ROOT / "docs/formats/api.md").read_text(encoding="utf-8")
UI = "\n".join(
    f.read_text(encoding="utf-8")
    for f in (ROOT / "ui/src").rglob("*")
    if f.suffix in (".ts", ".svelte") and f.name != "schema.d.ts" and not f.name.endswith(".test.ts")
)
TAILS = ("stand-in-shot.jpg", "uploads/", "handout.pdf", "program.json", "program.csv", "program.xlsx")
"""What pages put behind an address that they were handed."""


def asked_by_a_page(method: str, path: str) -> bool:
    if re.search(rf"api\s*\.\s*{method}\(\s*'{re.escape(path)}'", UI):
        return True
    if tail := next((t for t in TAILS if f"/{t}" in path), None):
        return f"/{tail}" in UI
    filled = re.sub(r"\\\{\w+\\\}", r"(\\$\\{[^}]*\\}|[^/`'\"]+)", re.escape(path))
    return re.search(filled + r"(?=[`'\"?$])", UI) is not None


def operations():
    return {f"{m.upper()} {p}" for p, of in API["paths"].items() for m in of}


def test_what_no_page_asks_for_is_documented_and_nothing_else():
    unused = {o for o in operations() if not asked_by_a_page(*o.split(" "))}
    # The calendar's address is handed to calendar programs whole; the server makes it.
    unused -= {"GET /calendar/{token}.ics"}
    documented = set(re.findall(r"^\| `([A-Z]+ /\S+)` \|", PAGE, re.M))
    assert documented == unused


def test_every_code_of_a_refusal_is_described():
    described = dict(re.findall(r"^\| `([a-z-]+)` \| \d+ \| (.+) \|$", PAGE, re.M))
    kinds = {w.value for w in Why}
    assert kinds <= set(described)
    assert set(described) - kinds == {"signed-out", "not-allowed", "not-there", "conflict", "away"}
