"""Figures on paper are those of the screen: the same parts, the same places, both sides exact mirrors."""

import json
import re
from dataclasses import replace
from xml.etree import ElementTree

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Side
from dimbo.core.exercises.figure import HEADS, TOOLS, Figure, Hand
from dimbo.printing import side_drawing
from dimbo.printing.figure_drawing import INKS, figure_svg, moves
from studies.face_map import draw

CARDS = shipped_catalogue().cards
SVG = "{http://www.w3.org/2000/svg}"


def groups(svg):
    """What is drawn of each half, without what names a side, in the order in which it is drawn."""
    halves = {1: [], -1: []}
    for g in ElementTree.fromstring(svg).iter(f"{SVG}g"):
        if found := re.fullmatch(r"scale\((-?1) 1\)", g.get("transform", "")):
            text = re.sub(r"eye-\w+", "eye", ElementTree.tostring(g, encoding="unicode"))
            halves[int(found[1])].append(text)
    return halves


def alike(text):
    for ink in INKS.values():
        text = text.replace(ink, "ink")
    return re.sub(r"scale\(-?1 1\)", "scale", text)


def test_paper_and_screen_are_drawn_from_the_same_parts():
    made = draw.for_paper(draw.drawing(), draw.figure())
    assert json.loads(draw.PAPER.read_text()) == json.loads(draw.text(made)), "draw anew: python -m studies.face_map.draw"
    assert json.loads((draw.OUT / "face-figure.json").read_text()) == json.loads(draw.text(draw.figure()))
    assert set(made["hands"]["heads"]) == set(HEADS)
    assert set(made["hands"]["fingers"]) == set(TOOLS)


@pytest.mark.parametrize("card", [c for c in CARDS.values() if c.figure.hands or c.figure.moves], ids=lambda c: c.id)
def test_every_exercise_can_be_drawn_at_its_start_and_its_end(card):
    start, end = (figure_svg(card.figure, end=e) for e in (False, True))
    assert (start != end) is moves(card.figure)
    for svg in (start, end):
        drawn = ElementTree.fromstring(svg)
        assert "NaN" not in svg and "nan" not in svg and drawn.get("viewBox")


@pytest.mark.parametrize("end", [False, True])
def test_both_sides_are_exact_mirrors(end):
    """What lies on the midline is drawn once, with the right half."""
    for card in CARDS.values():
        if card.figure.view != "side" and not card.figure.one_side:
            halves = groups(figure_svg(replace(card.figure, moves=()), end=end))
            assert [alike(t) for t in halves[1]] == [alike(t) for t in halves[-1]], card.id


def test_one_side_works_and_the_other_rests():
    figure = Figure(hands=(Hand("index", ("temple",), "press"),), one_side=True, eyes=("rest", "closed"))
    right, left = (groups(figure_svg(figure, end=True, works=side)) for side in Side)
    assert alike(right[1][-1]) == alike(left[-1][-1]) != alike(right[-1][-1])
    assert INKS[Side.RIGHT] in right[1][-1], "as in a mirror the client's right is at the right"
    assert INKS[Side.LEFT] in left[-1][-1]


def test_the_hand_on_the_side_that_does_not_work_lies_there():
    figure = Figure(hands=(Hand("palm", ("lid-upper",), "still", True),), one_side=True)
    drawn = groups(figure_svg(figure, end=False))
    assert INKS[Side.LEFT] in drawn[-1][-1] and INKS[Side.RIGHT] not in drawn[1][-1]


def test_a_hand_that_travels_begins_at_one_end_of_its_way_and_ends_at_the_other():
    figure = Figure(hands=(Hand("fingers", ("chin-side", "temple"), "stroke"),))
    places = json.loads(draw.PAPER.read_text())["places"]["front"]
    for end, name in ((False, "chin-side"), (True, "temple")):
        x, y = places[name]
        assert f'translate({x:.1f} {y:.1f})"' in figure_svg(figure, end=end)


def test_from_the_side_the_chin_goes_with_jaw_and_head():
    art = json.loads(draw.PAPER.read_text())["side"]
    chin, notch = (234.0, 281.0), (160.0, 404.0)
    at = {
        state: side_drawing.profile(art, head=state[0], mouth=state[1]).at
        for state in (("level", "rest"), ("back", "rest"), ("level", "lower-forward"))
    }
    level, back, forward = at.values()
    assert level(chin) == chin
    assert back(chin)[1] < chin[1] - 20, "the chin goes up"
    assert forward(chin)[0] > chin[0] + 8, "the jaw goes forward"
    assert all(where(notch) == notch for where in at.values()), "the collarbones stay"


def test_the_breath_is_drawn_where_breathing_is_what_is_done():
    assert "stroke-dasharray" in figure_svg(Figure(breath=True), end=True)
    assert "stroke-dasharray" not in figure_svg(Figure(), end=True)
