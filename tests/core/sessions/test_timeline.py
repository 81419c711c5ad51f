"""A session to the second: the timeline is the arithmetic, played."""

import itertools
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Family, Side, Stage
from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose import Apart, Dose, Phase, PhaseKind, Span, Together
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.figure import PAIRED, Figure, Hand
from dimbo.core.exercises.pulse_train import pulse_train
from dimbo.core.programs.program import Line, Settings
from dimbo.core.sessions.crediting import credit
from dimbo.core.sessions.cue_words import breath, spot, with_breath, word
from dimbo.core.sessions.muscle_load import muscle_contraction, session_contraction
from dimbo.core.sessions.timeline import Beat, Item, change_over_s, change_overs, flowing, oiled_before, session_s, timeline, to_prepare
from tests.core.builders import THREE_WAYS, card, doses, hold, paces, style, styles

SETTINGS = Settings()


def item(dose, **kw):
    c = card(**kw)
    return Item(Line(id=f"row-{c.id}", card=c, stage=c.stage, cells=("",)), dose)


LIFT = Dose((hold(5, 1, 3, 2),), Together(1))


def test_change_over_grows_with_oil_and_washed_hands():
    dry, oily, mouth = card("dry"), card("oily", needs=("oil",)), card("mouth", needs=("hands inside the mouth",))
    assert change_over_s(dry, dry, SETTINGS) == 8
    assert change_over_s(dry, oily, SETTINGS) == 20
    assert change_over_s(oily, oily, SETTINGS) == 8
    assert change_over_s(oily, mouth, SETTINGS) == 20


def test_oil_stays_until_it_is_washed_off_before_a_grip():
    grip = replace(card("grip", family=Family.RESIST), touches=frozenset({"cheek"}))
    oily, dry = card("oily", needs=("oil",)), card("dry")
    assert change_over_s(oily, grip, SETTINGS) == 20 and change_over_s(dry, grip, SETTINGS) == 8
    assert oiled_before([oily, dry, grip, grip]) == [False, True, True, False]
    items = [Item(Line(id=c.id, card=c, stage=c.stage, cells=("",)), LIFT) for c in (oily, dry, grip, grip)]
    assert change_overs(items, SETTINGS) == [0, 8, 20, 8], "washed once, however long ago it was put on"
    assert "Wash the oil off, so that the fingers hold" in to_prepare(dry, grip, oiled=True)
    assert to_prepare(dry, grip) == ()


def test_what_flows_on_has_no_change_over_unless_there_is_something_to_wash_or_to_take():
    dry, oily, mouth = card("dry"), card("oily", needs=("oil",)), card("mouth", needs=("hands inside the mouth",))
    items = [Item(Line(id=c.id, card=c, stage=c.stage, cells=("",), flows=True), LIFT) for c in (dry, dry, oily, oily, mouth, dry)]
    assert change_overs(items, SETTINGS) == [0, 0, 20, 0, 20, 0]
    assert session_s(items, SETTINGS) == 6 * 30 + 40
    changes = [c.item for c in timeline(items, SETTINGS) if c.beat is Beat.CHANGE]
    assert changes == [2, 4], "nothing is played where nothing is changed"
    stands = [replace(i.line, flows=False) for i in items]
    assert session_s([Item(n, LIFT) for n in stands], SETTINGS) == 6 * 30 + 40 + 3 * 8


def test_what_is_flowed_on_from_does_not_settle():
    stroke, flows = card("stroke", setup_s=4, settle_s=3), {"stage": card("stroke").stage, "cells": ("",)}
    items = flowing([Item(Line(id=str(n), card=stroke, flows=n in (1, 2), **flows), LIFT) for n in range(4)])
    assert [i.goes_on for i in items] == [True, True, False, False]
    assert session_s(items, SETTINGS) == 4 * (4 + 30) + 2 * 3 + 8
    cues = timeline(items, SETTINGS)
    assert [c.item for c in cues if c.beat is Beat.SETTLE] == [2, 3]
    assert [c.item for c in cues if c.beat is Beat.SETUP] == [0, 1, 2, 3], "one hears what comes while the hands slide there"
    assert flowing(()) == ()


def test_a_session_is_its_exercises_and_what_lies_between():
    items = [item(LIFT, setup_s=5, settle_s=3), item(LIFT, card_id="oily", needs=("oil",))]
    assert session_s(items, SETTINGS) == (5 + 30 + 3) + 20 + 30
    assert session_s([], SETTINGS) == 0


def test_every_run_is_named_with_its_side_and_set():
    cues = timeline([item(Dose((hold(1, 1, 4, 1),), Apart(2, 1), Span(5)))], SETTINGS)
    holds = [(c.side, c.set_number, c.sets) for c in cues if c.beat is Beat.HOLD]
    assert holds == [(Side.RIGHT, 1, 2), (Side.RIGHT, 2, 2), (Side.LEFT, 1, 1)]


def test_directions_are_said_in_their_order():
    cues = timeline([item(Dose((hold(2, 1, 3, 1, ways=THREE_WAYS),), Together(1)))], SETTINGS)
    assert [c.direction for c in cues if c.beat is Beat.HOLD] == ["front"] * 2 + ["turned left"] * 2 + ["turned right"] * 2


@given(st.lists(styles().flatmap(doses), min_size=1, max_size=4), paces)
def test_the_timeline_has_no_gaps_and_adds_up(of, pace):
    settings = Settings(pace_s=pace)
    items = [item(d, card_id=f"e{i}", setup_s=4, settle_s=2) for i, d in enumerate(of)]
    cues = timeline(items, settings)
    assert sum(c.length_s for c in cues) == pytest.approx(session_s(items, settings), abs=0.001 * len(cues) + 0.01)
    for before, after in itertools.pairwise(cues):
        assert after.start_s == pytest.approx(before.start_s + before.length_s, abs=0.01)


@given(styles().flatmap(doses), paces)
def test_the_pulse_train_lasts_as_long_as_the_dose(dose, pace):
    train = pulse_train(dose, pace)
    assert train.total_s == pytest.approx(dose.practice_s(pace), abs=0.001)
    assert len(train.runs) == dose.runs


def test_helpers_count_half_and_hands_on_work_counts_nothing():
    work = item(LIFT, prime=("zygomaticus_major",), helpers=("orbicularis_oris",))
    knead = item(LIFT, card_id="knead", family=Family.RELEASE, stage=Stage.LOOSEN)
    assert session_contraction([work, knead], 1).right == 20
    loads = muscle_contraction([work, knead], 1)
    assert loads["zygomaticus_major"].left == 20
    assert loads["orbicularis_oris"].left == 10


def spoken(dose, **kw):
    """The cues of an exercise as word, breath and seconds."""
    one = item(dose, **kw)
    return one, [c for c in timeline([one], SETTINGS) if c.phase]


def test_each_side_lasts_as_long_as_it_is_told():
    dose = parse("R2 ×30 s / L1 ×45 s", style(Phase(kind=PhaseKind.PRESS), rest=5, rule=SideRule.EACH))
    one, cues = spoken(dose)
    assert [(c.side, c.length_s) for c in cues] == [(Side.RIGHT, 30), (Side.RIGHT, 30), (Side.LEFT, 45)]
    work = credit([one], timeline([one], SETTINGS), [], SETTINGS)[0]
    assert {w.side: w.planned_s for w in work.sides} == {Side.RIGHT: 60, Side.LEFT: 45}
    assert pulse_train(dose, 1.0).total_s == 30 + 30 + 45 + 10


def test_work_goes_with_the_breath_out_and_lets_go_with_the_breath_in():
    one, cues = spoken(parse("2×2 out 6 in 4", style()))
    assert [(word(one, c), breath(one, c), c.length_s) for c in cues[:2]] == [
        ("Breathe out, hold", "out", 6),
        ("Breathe in, let go", "in", 4),
    ]
    assert all(with_breath(one, c) for c in cues)
    assert one.contraction(1.0).right == 2 * 2 * 6, "breathing in is never contraction"


def test_a_walk_from_spot_to_spot_names_each_place_and_waits_there():
    walked = replace(
        card("walk", family=Family.RELEASE, dose_style=style(Phase(kind=PhaseKind.STROKES, lead=Span(3)), rest=0)),
        figure=Figure(hands=(Hand("fingertips", ("jaw", "cheek", "temple"), "walk"),)),
    )
    one = Item(Line(id="walk", card=walked, stage=walked.stage, cells=("",)), parse("6 spots h10", walked.style))
    cues = [c for c in timeline([one], SETTINGS) if c.phase]
    at = [(word(one, c), spot(one, c), c.length_s) for c in cues if c.beat is Beat.HOLD]
    assert [p for _, p, _ in at] == [PAIRED[p] for p in ("jaw", "jaw", "cheek", "cheek", "temple", "temple")]
    assert {(w, s) for w, _, s in at} == {("Stay", 10)}
    assert one.hands_on(1.0).left == 6 * 11
