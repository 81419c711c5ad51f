"""Makes the help that the interface opens out of docs/guide, so that both say the same.

A place's section is `## Title`, `Places: /a, /b/[id]`, a paragraph on what it is for, a numbered list of how the work goes, a table of
keys where it has any, and a paragraph that begins with `Example: `. A term of the glossary is `- **Term** (Section): meaning`.
"""

from __future__ import annotations

import json
import re
from dataclasses import asdict, dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
GUIDE = ROOT / "docs" / "guide"
HELP = ROOT / "ui" / "src" / "lib" / "help"
PAGES = {"coach": "coaches.md", "client": "clients.md"}


@dataclass(frozen=True, slots=True)
class Section:
    """A place of the application, as the guide tells of it."""

    title: str
    places: list[str]
    purpose: str
    steps: list[str]
    keys: list[tuple[str, str]]
    example: str


@dataclass(frozen=True, slots=True)
class Term:
    word: str
    section: str
    meaning: str


def _plain(text: str) -> str:
    """Words without marks, on one line."""
    return re.sub(r"\*\*|`|\[([^\]]*)\]\([^)]*\)", lambda m: m.group(1) or "", " ".join(text.split()))


def _section(title: str, text: str) -> Section | None:
    blocks = [b for b in text.strip().split("\n\n") if b]
    if not blocks or not blocks[0].startswith("Places: "):
        return None
    example = next((b for b in blocks if b.startswith("Example: ")), "")
    steps = next((b for b in blocks if b.startswith("1. ")), "")
    table = next((b for b in blocks if b.startswith("| key")), "")
    rows = [[c.strip() for c in line.strip("|").split("|")] for line in table.splitlines()[2:]]
    return Section(
        title=title,
        places=[p.strip() for p in blocks[0].removeprefix("Places: ").split(",")],
        purpose=_plain(blocks[1]),
        steps=[_plain(s) for s in re.split(r"(?m)^\d+\. ", steps) if s.strip()],
        keys=[(key, does) for key, does in rows],
        example=_plain(example.removeprefix("Example: ")),
    )


def sections(page: str) -> list[Section]:
    """The sections of a page of the guide that belong to a place."""
    _, *parts = re.split(r"(?m)^## ", (GUIDE / page).read_text())
    found = (_section(*part.split("\n", 1)) for part in parts)
    return [s for s in found if s is not None]


def glossary() -> list[Term]:
    lines = re.findall(r"(?m)^- \*\*(.+?)\*\* \((.+?)\): (.+)$", (GUIDE / "glossary.md").read_text())
    return [Term(word, section=section, meaning=_plain(meaning)) for word, section, meaning in lines]


def files() -> dict[Path, str]:
    """Every file that is made, with what is to be in it."""
    terms = glossary()
    out = {}
    for whose, page in PAGES.items():
        own = [asdict(s) | {"terms": [[t.word, t.meaning] for t in terms if t.section == s.title]} for s in sections(page)]
        out[HELP / f"guide-{whose}.json"] = json.dumps(own, indent=1, ensure_ascii=False) + "\n"
    # What a client may meet in the middle of a sentence, small enough to come with the page.
    own_titles = {s.title for s in sections(PAGES["client"])}
    words = {t.word: t.meaning for t in terms if t.section in own_titles}
    out[HELP / "words.json"] = json.dumps(words, indent=1, ensure_ascii=False) + "\n"
    return out


if __name__ == "__main__":
    for path, text in files().items():
        path.write_text(text)
