"""The player says what is done: over the whole catalogue figure, side, word and cue agree at every moment."""

import re

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Family, Side, Stage
from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose import PhaseKind
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.figure import PLACES, hands_at_length, hands_in_short
from dimbo.core.programs.program import Line, Settings
from dimbo.core.sessions.cue_words import breath, rhythm, word, works
from dimbo.core.sessions.timeline import Beat, Item, timeline

CARDS = [c for c in shipped_catalogue().cards.values() if c.stage is not Stage.DAY]
VERSIONS = [v for c in CARDS for v in (c, c.easier) if v is not None]
every_version = pytest.mark.parametrize("card", VERSIONS, ids=[c.name for c in VERSIONS])
ONE_SIDE = re.compile(r"\b(one|other|this|each) (side|cheek|eye|ear|brow|corner)\b", re.IGNORECASE)


def moments(card):
    """Every moment of an exercise at its start and its target, with its item."""
    for line in dict.fromkeys((card.start_line, card.target_line)):
        item = Item(Line(id="a", card=card, stage=card.stage, cells=(line,)), parse(line, card.style))
        for cue in timeline([item], Settings()):
            yield item, cue


@every_version
def test_figure_and_side_agree_at_every_moment(card):
    for _, cue in moments(card):
        if cue.side is not None:
            assert card.figure.one_side, "a side has its turn, and the figure shows both"
    if card.style.side_rule is SideRule.TOGETHER:
        assert not card.figure.one_side, "both sides work, and the figure shows one"


@every_version
def test_words_speak_of_one_side_only_where_one_side_works(card):
    alone = {works(item, cue) for item, cue in moments(card) if cue.rep} - {None}
    if not alone and card.id not in SPEAK_OF_EVENNESS:
        assert not [cue for cue in card.cues if ONE_SIDE.search(cue)]
    if card.style.side_rule is not SideRule.TOGETHER:
        assert alone == set(Side)


SPEAK_OF_EVENNESS = {"smile-mirror", "orbit-taps", "nape-knead", "under-chin-taps"}
"""They compare both sides, or go from one place to another."""


@every_version
def test_only_what_is_held_still_is_called_a_hold(card):
    for item, cue in moments(card):
        said = word(item, cue)
        assert said
        kind = item.dose.phases[cue.phase - 1].kind if cue.phase else None
        if said == "Hold":
            assert kind is PhaseKind.HOLD and cue.beat is Beat.HOLD
        if cue.beat is Beat.MOVE:
            assert said not in ("Hold", "Keep going")
        if kind is PhaseKind.BREATHS:
            assert said == {Beat.LEAD: "Breathe in", Beat.RELEASE: "Breathe out"}.get(cue.beat, "Wait")
            assert breath(item, cue) == {Beat.LEAD: "in", Beat.RELEASE: "out"}.get(cue.beat)


@pytest.mark.parametrize(
    ("card", "says", "every"),
    [
        ("under-eye-flutter", "Flutter", 0.5),
        ("wink-warm", "Wink", 1),
        ("lip-flutter", "Flutter", 0.5),
        ("chewer-circles", "Circle", 2),
        ("orbit-taps", "Tap", 0.5),
        ("under-chin-glide", "Stroke", 2),
        ("brow-centre-press", "Press", 0),
    ],
)
def test_each_kind_of_movement_has_its_own_word_and_beat(card, says, every):
    found = shipped_catalogue().cards[card]
    item, moving = next((i, c) for i, c in moments(found) if c.rep)
    assert (word(item, moving), rhythm(item).every_s) == (says, every)


def test_winks_dosed_in_time_are_a_movement_of_the_side_whose_turn_it_is():
    found = [c for _, c in moments(shipped_catalogue().cards["wink-warm"]) if c.rep]
    assert {c.beat for c in found} == {Beat.MOVE} and [c.side for c in found[:2]] == [Side.RIGHT, Side.LEFT]


@every_version
def test_a_direction_that_loads_one_side_names_and_shows_it(card):
    for item, cue in moments(card):
        if cue.direction and card.style.side_rule is SideRule.TOGETHER:
            way = next(w for w in item.dose.phases[cue.phase - 1].directions if w.name == cue.direction)
            assert works(item, cue) == (next(iter(way.loads)) if len(way.loads) == 1 else None)


@every_version
def test_where_the_hands_go_is_said_in_few_words_and_in_more_the_first_time(card):
    short, long = hands_in_short(card.figure), hands_at_length(card.figure)
    assert bool(short) is bool(card.figure.hands) is bool(long)
    for hand in card.figure.hands:
        assert PLACES[card.figure.view][hand.path[0]].removeprefix("the ") in short
    if card.figure.hands:
        assert len(short) <= 140 and len(long) > len(short)


def test_whatever_hands_the_words_ask_for_are_on_the_figure():
    asks = re.compile(r"\b(thumbs?|index fingers?|knuckles|palms?)\b", re.IGNORECASE)
    bare = [c.name for c in VERSIONS if c.family is not Family.BREATHE and not c.figure.hands and any(asks.search(x) for x in c.cues)]
    assert bare == []
