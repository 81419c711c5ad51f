"""The house as it is drawn: rooms with one sentence each, and documents that name only what is there."""

import ast
import re
from pathlib import Path

import pytest

import dimbo

ROOT = Path(__file__).parents[2]
SOURCE = Path(dimbo.__file__).parent
ROOMS = sorted(f.parent for f in SOURCE.rglob("__init__.py"))
MOST_MODULES = 16
PAGES = sorted([ROOT / "README.md", ROOT / "CONTRIBUTING.md", *(ROOT / "docs").rglob("*.md")])
FLOORS = ("core", "catalogue", "vision", "printing", "store", "work", "web", "ops")
NAMED = re.compile(r"`((?:src/dimbo/|ui/|tests/|docs/)?[a-z_]+(?:/[\w.\[\]()+-]+)+/?)`")


def where(name: str) -> Path | None:
    """The file or folder that a document names, with or without what is defined in it; None when it is not there."""
    for root in (ROOT, SOURCE):
        path = root / name
        if path.exists():
            return path
        folder, _, last = name.rpartition("/")
        module, _, symbol = last.partition(".")
        file = root / folder / f"{module}.py"
        if file.exists() and (not symbol or defines(file, symbol.split(".")[0])):
            return file
    return None


def defines(file: Path, symbol: str) -> bool:
    tree = ast.parse(file.read_text(encoding="utf-8"))
    named = {n.name for n in tree.body if hasattr(n, "name")}
    set_ = {t.id for n in tree.body if isinstance(n, ast.Assign) for t in n.targets if isinstance(t, ast.Name)}
    typed = {n.target.id for n in tree.body if isinstance(n, ast.AnnAssign) and isinstance(n.target, ast.Name)}
    return symbol in named | set_ | typed


@pytest.mark.parametrize("page", PAGES, ids=lambda p: str(p.relative_to(ROOT)))
def test_documents_name_only_what_is_there(page):
    said = {n for n in NAMED.findall(page.read_text(encoding="utf-8")) if n.split("/")[0] in (*FLOORS, "src", "ui", "tests", "docs")}
    assert {n for n in said if where(n) is None} == set()


def test_the_roads_are_there_to_be_checked():
    """Proof of the proof: a name that is not there is found out."""
    roads = (ROOT / "docs/architecture.md").read_text()
    assert len(NAMED.findall(roads)) > 25
    assert where("core/sessions/timeline.timeline") and where("work/practice/handing_in.hand_in")
    assert where("core/sessions/timeline.nowhere") is None and where("core/session/timeline.py") is None


@pytest.mark.parametrize("room", ROOMS, ids=lambda p: str(p.relative_to(SOURCE)))
def test_a_room_says_in_one_sentence_what_may_be_in_it(room):
    said = ast.get_docstring(ast.parse((room / "__init__.py").read_text(encoding="utf-8"))) or ""
    assert said.split("\n")[0].endswith("."), f"{room} has no sentence"


@pytest.mark.parametrize("room", ROOMS, ids=lambda p: str(p.relative_to(SOURCE)))
def test_a_room_is_small_enough_to_look_through(room):
    assert len([f for f in room.glob("*.py") if f.name != "__init__.py"]) <= MOST_MODULES


def test_every_room_stands_in_the_picture():
    picture = (ROOT / "docs/architecture.md").read_text().split("```")[1]
    rooms = {r.name for floor in ("core", "work") for r in (SOURCE / floor).iterdir() if (r / "__init__.py").exists()}
    rooms |= {f.stem for floor in ("core", "work") for f in (SOURCE / floor).glob("*.py") if f.stem != "__init__"}
    assert {r for r in rooms if not re.search(rf"\b{r}\b", picture)} == set()


def test_letters_heights_and_colours_come_from_the_theme():
    """A size of its own is for a single drawing or column; what is read, touched or coloured is the same everywhere."""
    arbitrary = re.compile(r"\b(?:text|min-h|max-w)-\[[\d.]+px\]|#[0-9a-fA-F]{6}\b|\[#[0-9a-fA-F]{3}\]")
    # The browser's own frame takes no variable; a count and a crop of a photograph are as large as the room they have.
    known = {('<meta name="theme-color"', "#17111c")}
    found = [
        f"{file.relative_to(ROOT)}:{n}: {m.group()}"
        for file in sorted((ROOT / "ui/src").rglob("*.svelte"))
        for n, row in enumerate(file.read_text(encoding="utf-8").splitlines(), start=1)
        for m in arbitrary.finditer(row)
        if not any(where in row and what == m.group() for where, what in known)
    ]
    assert found == []
