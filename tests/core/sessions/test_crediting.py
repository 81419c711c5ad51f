"""What was really done, from played stretches of the timeline and from counts."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.anatomy import Family, Side
from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose import Phase, PhaseKind, Span
from dimbo.core.exercises.dose_line import parse
from dimbo.core.programs.program import Line, Settings
from dimbo.core.sessions.crediting import Stretch, counted, credit, pauses, planned_counts
from dimbo.core.sessions.timeline import Item, session_s, timeline
from tests.core.builders import THREE_WAYS, card, hold, style

SETTINGS = Settings(change_over_s=8)
T0 = datetime(2026, 11, 25, 7, tzinfo=UTC)


def item(text, rule=SideRule.TOGETHER, **options):
    if text.startswith("R"):
        rule = SideRule.WEAK
    c = card(**{"dose_style": style(rule=rule)} | options)
    return Item(Line(id=f"row-{c.id}", card=c, stage=c.stage, cells=(text,)), parse(text, c.style))


def played(items, *spans):
    """Stretches back to back, as if there were no pause."""
    now, out = T0, []
    for a, b in spans:
        out.append(Stretch(a, b, now))
        now += timedelta(seconds=b - a)
    return credit(items, timeline(items, SETTINGS), out, SETTINGS)


def both():
    lift = item("R3 L2 ×1 h10", card_id="lift", dose_style=style(hold(1, 1, 0, 4), rest=5, rule=SideRule.WEAK), setup_s=5)
    press = item("2×8 h3", card_id="press", family=Family.RESIST, setup_s=4, settle_s=2)
    return [lift, press]


@given(
    st.sampled_from(["1×5 h3", "2×8 h3, rest 10 s", "R2 L1 ×4 h2", "R1 L1 ×3 h2"]), st.sampled_from(list(Family)[:3]), st.floats(0.8, 1.6)
)
def test_a_session_played_whole_is_the_dose_that_was_planned(text, family, pace):
    settings = Settings(pace_s=round(pace, 1))
    one = item(text, family=family)
    whole = session_s([one], settings)
    work = credit([one], timeline([one], settings), [Stretch(0, whole, T0)], settings)[0]
    assert work.done_s == pytest.approx(work.planned_s, abs=0.2)
    for side in work.sides:
        expected = one.dose.loaded_s(side.side, settings.pace_s) if family.contracts else one.dose.hands_on_s(side.side, settings.pace_s)
        assert side.done_s == side.planned_s == pytest.approx(expected, abs=0.2)
        assert side.done_sets == side.planned_sets == one.dose.runs_of(side.side)
        assert side.done_reps == side.planned_reps


def test_sides_are_credited_apart():
    right, left = played(both(), (0, session_s(both(), SETTINGS)))[0].sides
    assert (right.side, right.done_sets, right.done_s, right.done_hold_s) == (Side.RIGHT, 3, 33, 30)
    assert (left.side, left.done_sets, left.done_s, left.done_hold_s) == (Side.LEFT, 2, 22, 20)


def test_stopping_in_the_middle_counts_whole_repetitions_only():
    lift, press = played(both(), (0, 5 + 15 + 5 + 15 + 5 + 6))
    assert [(s.done_sets, s.done_reps) for s in lift.sides] == [(2, 2), (0, 0)]
    assert lift.sides[0].done_s == pytest.approx(22 + 6)
    assert press.done_s == 0 and all(s.done_reps == 0 for s in press.sides)


def test_a_repeated_repetition_counts_twice_and_lies_above_plan():
    cues = timeline(both(), SETTINGS)
    first = next(c for c in cues if c.rep == 1 and c.side is Side.RIGHT)
    again = (first.start_s, first.start_s + 15)
    work = played(both(), (0, session_s(both(), SETTINGS)), again)[0]
    assert work.sides[0].done_reps == 4
    assert work.sides[0].over_s == pytest.approx(11)
    assert work.sides[1].over_s == 0


def test_a_turned_head_credits_the_side_that_it_loads():
    neck = item("1×5 h10", dose_style=style(hold(1, 1, 0, 3, ways=THREE_WAYS)))
    cues = timeline([neck], SETTINGS)
    turned_left = [c for c in cues if c.direction == "turned left"]
    spans = (turned_left[0].start_s, turned_left[-1].start_s + turned_left[-1].length_s)
    right, left = played([neck], spans)[0].sides
    assert (right.done_reps, left.done_reps) == (5, 0)
    assert right.planned_reps == left.planned_reps == 10
    counts = planned_counts(neck, cues)
    assert counts == {Side.RIGHT: (1, 10), Side.LEFT: (1, 10)}
    assert all(w.over_s == 0 and w.done_s == w.planned_s for w in counted(neck, cues, counts, SETTINGS).sides), "told as planned"


def test_changing_over_is_nobodys_practice():
    items = both()
    change = next(c for c in timeline(items, SETTINGS) if c.beat == "change")
    assert all(w.done_s == 0 for w in played(items, (change.start_s, change.start_s + change.length_s)))


@given(st.lists(st.floats(0, 230), min_size=2, max_size=8).map(sorted))
def test_however_it_is_cut_the_pieces_add_up(marks):
    items = both()
    whole = session_s(items, SETTINGS)
    spans = list(zip([0.0, *marks], [*marks, whole], strict=True))
    spans = [(a, min(b, whole)) for a, b in spans if min(b, whole) > a]
    once, cut = played(items, (0, whole)), played(items, *spans)
    assert [w.done_s for w in cut] == pytest.approx([w.done_s for w in once], abs=0.5)


def test_pauses_are_the_time_between_stretches():
    a = Stretch(0, 60, T0)
    b = Stretch(60, 90, T0 + timedelta(seconds=75))
    c = Stretch(90, 100, b.ended + timedelta(seconds=0.2))
    assert pauses([a, b, c]) == (1, 15)
    assert pauses([]) == (0, 0)


def test_a_pause_belongs_to_the_exercise_in_which_it_was_made():
    items = both()
    cues = timeline(items, SETTINGS)
    at = next(c.start_s for c in cues if c.item == 1 and c.rep == 2)
    whole = session_s(items, SETTINGS)
    first = Stretch(0, at, T0)
    works = credit(items, cues, [first, Stretch(at, whole, first.ended + timedelta(seconds=40))], SETTINGS)
    assert [(w.pauses, w.paused_s) for w in works] == [(0, 0), (1, 40)]
    assert [w.done_s for w in works] == [w.planned_s for w in works]


def test_counts_told_afterwards_become_seconds_by_the_planned_repetition():
    lift = both()[0]
    cues = timeline([lift], SETTINGS)
    work = counted(lift, cues, {Side.RIGHT: (4, 1), Side.LEFT: (1, 1)}, SETTINGS)
    right, left = work.sides
    assert (right.done_sets, right.done_s, right.over_s) == (4, 44, 11)
    assert (left.done_s, left.done_reps) == (11, 1)
    assert work.done_s == pytest.approx(work.planned_s)
    assert counted(lift, cues, {}, SETTINGS).done_s == 0


@pytest.mark.parametrize("told", [(20, 500), (-1, 5), (100, 100)])
def test_counts_that_cannot_be_are_named(told):
    lift = both()[0]
    with pytest.raises(ValueError, match="Lift, right"):
        counted(lift, timeline([lift], SETTINGS), {Side.RIGHT: told}, SETTINGS)


def test_breaths_and_timed_strokes_have_hands_on_time():
    drain = item(
        "60 s",
        card_id="drain",
        family=Family.DRAIN,
        dose_style=style(Phase(kind=PhaseKind.STROKES, reps=1, hold=Span(60))),
    )
    right, left = played([drain], (0, 30))[0].sides
    assert right.planned_s == left.planned_s == 60
    assert right.done_s == left.done_s == 30
