"""Figures of exercises: every name can be drawn, one side stands for both, and the words say what the picture shows."""

import json
from pathlib import Path

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.figure import BROWS, EYES, HEADS, MOUTHS, PLACES, Figure, Hand, misdrawn, words

CARDS = list(shipped_catalogue().cards.values())
DRAWN = json.loads((Path(__file__).parents[3] / "ui/src/lib/signature/face-figure.json").read_text())


def test_everything_that_a_figure_may_name_is_drawn():
    assert set(DRAWN["mouths"]) == set(MOUTHS)
    assert set(DRAWN["eyes"]) == set(EYES)
    assert set(DRAWN["brows"]) == set(BROWS)
    for view, places in PLACES.items():
        assert set(DRAWN["places"][view]) == set(places)
    assert set(DRAWN["hands"]["heads"]) == set(HEADS)


def test_places_lie_on_their_half_of_the_drawing():
    for view in DRAWN["places"].values():
        for name, (x, y) in view.items():
            assert x >= 0 and -10 <= y <= 446, name
    front = DRAWN["places"]["front"]
    heights = [front[p][1] for p in ("hairline", "brow-middle", "under-eye", "cheek", "corner", "chin-side", "neck-side", "collarbone")]
    assert heights == sorted(heights)


@pytest.mark.parametrize("card", CARDS, ids=lambda c: c.id)
def test_every_card_has_a_figure_that_shows_how_it_is_done(card):
    assert misdrawn(card.figure) is None
    assert words(card.figure), "a figure shows something"
    touches = {"clean hands", "hands inside the mouth"} & set(card.needs)
    if touches and card.pressure != "none":
        assert card.figure.hands, "hands that touch are drawn"
    if card.style.side_rule is not SideRule.TOGETHER:
        assert card.figure.one_side or card.stage.value == "through the day"


@pytest.mark.parametrize(
    ("figure", "says"),
    [
        (Figure(mouth=("whistle",)), "mouth: there is no state “whistle”"),
        (Figure(hands=(Hand("elbow", ("cheek",), "still"),)), "there is no “elbow”"),
        (Figure(hands=(Hand("palm", ("moon",), "still"),)), "no place “moon”"),
        (Figure(hands=(Hand("palm", ("cheek",), "slap"),)), "“slap” is not known"),
        (Figure(hands=(Hand("palm", ("cheek",), "stroke"),)), "needs a path"),
        (Figure(view="behind", moves=(("cheek", "nape"),)), "no place “cheek” seen from behind"),
        (Figure(view="above"), "no view"),
    ],
)
def test_what_cannot_be_drawn_is_said(figure, says):
    assert says in misdrawn(figure)


def test_words_name_tool_place_and_movement():
    figure = Figure(
        mouth=("rest", "open"), hands=(Hand("palm", ("temple-high",), "still", True), Hand("fingers", ("ear-lobe", "collarbone"), "stroke"))
    )
    assert words(figure) == (
        "Palm: rests still, above the temple, on the other side.",
        "Flat fingers: strokes, from the ear lobe to the collarbone.",
        "Lips just touching, then jaw hanging, a little open.",
    )
