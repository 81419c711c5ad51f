"""The guide: the interface’s help is made of it, every page has its section, and every word of the glossary stands where it says."""

import re

import pytest

from studies.guide_pages import GUIDE, PAGES, ROOT, files, glossary, sections

ROUTES = ROOT / "ui" / "src" / "routes"
OF_NOBODY = {"/", "/stand-in-mail"}
"""The way in, which leads on, and the stand-in of the mail."""


def every_route():
    found = set()
    for page in ROUTES.rglob("+page.svelte"):
        parts = [p for p in page.parent.relative_to(ROUTES).parts if not p.startswith("(")]
        found.add("/" + "/".join(parts))
    return found - OF_NOBODY


@pytest.mark.parametrize("path", files(), ids=lambda p: p.name)
def test_the_help_of_the_interface_is_what_the_guide_says(path):
    assert path.read_text() == files()[path], "run python -m studies.guide_pages"


def test_every_page_of_the_application_has_its_section():
    told = [place for page in PAGES.values() for s in sections(page) for place in s.places]
    assert sorted(told) == sorted(set(told)), "a page is told of twice"
    assert set(told) == every_route()


@pytest.mark.parametrize("section", [s for page in PAGES.values() for s in sections(page)], ids=lambda s: s.title)
def test_a_section_says_what_for_how_and_gives_an_example(section):
    assert section.purpose.endswith(".") and section.steps and section.example
    assert len(section.purpose) < 260 and len(section.steps) <= 5
    assert all(key and does for key, does in section.keys)


def test_every_term_stands_in_its_section_and_every_marked_word_in_the_glossary():
    pages = {page: (GUIDE / page).read_text() for page in PAGES.values()}
    parts = {title: body for text in pages.values() for title, body in re.findall(r"(?ms)^## (.+?)\n(.*?)(?=^## |\Z)", text)}
    for term in glossary():
        assert f"**{term.word.lower()}**" in parts[term.section].lower(), term.word
    marked = {w.lower() for text in pages.values() for w in re.findall(r"\*\*(.+?)\*\*", text)}
    assert marked - {"bold"} == {t.word.lower() for t in glossary()}


def test_every_picture_and_link_of_the_guide_is_there():
    for page in GUIDE.glob("*.md"):
        for target in re.findall(r"\]\(([^)#]+)", page.read_text()):
            assert (page.parent / target).exists(), f"{page.name}: {target}"
