"""Changing over to the eased version of an exercise: nothing that was done is lost, and no more is planned than was meant."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Side, Stage
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.program import Line, Settings
from dimbo.core.sessions.crediting import Stretch, credit
from dimbo.core.sessions.eased_tracks import credit_eased, progress_eased, tracks
from dimbo.core.sessions.eased_version import eased_item
from dimbo.core.sessions.timeline import Item, timeline

CARDS = shipped_catalogue().cards
TIMED = sorted(i for i, c in CARDS.items() if c.stage is not Stage.DAY and not c.withdrawn)
PLAIN = Settings()
T0 = datetime(2026, 11, 29, 7, tzinfo=UTC)


def item(card_id, text=""):
    card = CARDS[card_id]
    return Item(Line(id=card_id, card=card, stage=card.stage, cells=(text or card.start_line,)), parse(text or card.start_line, card.style))


def laid_out(*ids):
    items = [item(i) for i in ids]
    cues = timeline(items, PLAIN)
    return items, cues, tracks(items, cues, PLAIN)


def stretches(*spans):
    out, now = [], T0
    for a, b in spans:
        out.append(Stretch(a, b, now))
        now += timedelta(seconds=b - a)
    return out


@pytest.mark.parametrize("card_id", TIMED)
def test_every_exercise_has_an_eased_version_that_asks_less(card_id):
    full = item(card_id)
    eased = eased_item(full)
    assert eased.card is CARDS[card_id].easier and eased.card.cues != full.card.cues
    for side in Side:
        was, now = full.card.works_s(full.dose, side, 1.5), eased.card.works_s(eased.dose, side, 1.5)
        assert now <= was and eased.card.ceiling == full.card.ceiling


@given(st.sampled_from(TIMED), st.floats(0, 1), st.floats(0, 1))
def test_what_was_done_before_the_change_counts_and_the_rest_is_the_eased_plan(card_id, before, after):
    items, cues, laid = laid_out("settle-breath", card_id)
    track = next(t for t in laid if t.item == 1)
    first = next(c for c in cues if c.item == 1)
    end = cues[-1].start_s + cues[-1].length_s
    left = first.start_s + before * (end - first.start_s)
    spans = stretches((0, left), (track.start_s, track.start_s + after * (track.end_s - track.start_s)))
    plain = credit(items, cues, spans[:1], PLAIN)
    works, played = credit_eased(items, cues, laid, spans, PLAIN)
    assert works[0] == plain[0], "the other exercise is untouched"
    if 1 not in played:
        assert works[1] == plain[1]
        return
    assert works[1].planned_s <= plain[1].done_s + track.eased.seconds(PLAIN) + 0.2
    assert works[1].done_s >= plain[1].done_s
    done = {w.side: w.done_s for w in plain[1].sides}
    for side in works[1].sides:
        assert done[side.side] <= side.done_s <= side.planned_s + 0.15, "made easier, a day is never overdone"
    if after == 1:
        assert works[1].done_s == pytest.approx(works[1].planned_s, abs=0.2)


def test_a_session_goes_on_inside_the_eased_version_and_passes_it_over_once_done():
    items, cues, laid = laid_out("oval-lift", "lip-seal")
    track = laid[0]
    half = (track.start_s + track.end_s) / 2
    begun = progress_eased(items, cues, laid, stretches((0, 12), (track.start_s, half)), PLAIN)
    assert (begun.at_s, begun.done) == (half, ())
    second = next(c.start_s for c in cues if c.item == 1)
    ended = progress_eased(items, cues, laid, stretches((0, 12), (track.start_s, track.end_s)), PLAIN)
    assert (ended.at_s, ended.done) == (second, (0,))
    whole = progress_eased(items, cues, laid, stretches((0, 12), (track.start_s, track.end_s), (second, cues[-1].start_s + 60)), PLAIN)
    assert whole.done == (0, 1)


def test_no_more_is_eased_than_was_planned():
    little = item("oval-lift", "1×1 h2")
    assert eased_item(little).dose.phases[0].reps == 1
    card = CARDS["cheek-walk"]
    assert eased_item(item("cheek-walk", "R1 L1 ×30 s")).card is card.easier
