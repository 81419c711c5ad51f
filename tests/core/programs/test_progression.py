"""Doses moved along their rungs: lighter weeks, smaller doses, relative templates, differences in words."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.exercises.card import Axis
from dimbo.core.exercises.dose_in_words import in_words
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.dose_tokens import DoseLineError
from dimbo.core.exercises.ladder import load_s
from dimbo.core.programs.differences import differences, dose_change
from dimbo.core.programs.program import Line, Mode, Program, Settings, When, checked_settings
from dimbo.core.programs.progression import axes_for, card_ladder, fill_right, first_cells, lighten, lighter_cell, smaller, within
from dimbo.core.programs.relative_doses import relative_cells, resolved_cells

CARDS = shipped_catalogue().cards
LIFT = CARDS["oval-lift"]
PLAIN = Settings()
contracting = [c for c in CARDS.values() if c.family.contracts]


def program(*lines, **more):
    weeks = len(lines[0].cells)
    return Program(title="Trial", weeks=weeks, sessions=(3,) * weeks, minutes=15, lines=tuple(lines), **more)


def line(exercise, *cells):
    return Line(id=exercise, card=CARDS[exercise], stage=CARDS[exercise].stage, cells=cells)


@given(st.sampled_from(contracting), st.integers(2, 12), st.data())
def test_a_lighter_week_is_lighter_and_everything_after_moves_on(card, weeks, data):
    week = data.draw(st.integers(2, weeks))
    made = program(line(card.id, *first_cells(card, weeks, PLAIN)))
    light = lighten(made, week, PLAIN)
    assert light.lighter == {week}
    before, here = (load_s(parse(light.lines[0].cells[w - 1], card.style), 1.0) for w in (week - 1, week))
    assert here <= before
    assert light.lines[0].cells[: week - 1] == made.lines[0].cells[: week - 1]
    assert light.lines[0].cells[week:] == made.lines[0].cells[week - 1 : -1]
    back = lighten(light, week, PLAIN)
    assert back.lighter == frozenset() and back.lines[0].cells[:-1] == made.lines[0].cells[:-1]


def test_lighter_weeks_further_on_move_along():
    made = program(line("oval-lift", *first_cells(LIFT, 8, PLAIN)), lighter=frozenset({5}))
    assert lighten(made, 3, PLAIN).lighter == {3, 6}
    with pytest.raises(ValueError, match="first week"):
        lighten(made, 1, PLAIN)


def test_a_lighter_dose_follows_the_practices_share_and_leaves_release_alone():
    assert load_s(parse(lighter_cell(LIFT, "2×8 h8", PLAIN), LIFT.style), 1) <= 0.6 * 2 * 8 * 9
    gentler = lighter_cell(LIFT, "2×8 h8", Settings(lighter=0.85))
    assert load_s(parse(gentler, LIFT.style), 1) > 0.6 * 2 * 8 * 9
    assert lighter_cell(CARDS["palm-lean-lift"], "1×5 h5", PLAIN) == "1×5 h5"
    assert lighter_cell(LIFT, "nonsense", PLAIN) == "nonsense"


@given(st.sampled_from(contracting))
def test_smaller_doses_are_smaller(card):
    dose = parse(card.target_line, card.style)
    top = load_s(dose, 1.0)
    assert all(load_s(d, 1.0) <= top + 1e-9 for d in smaller(dose))
    half = within(dose, lambda d: load_s(d, 1.0) <= top / 2)
    assert half is None or load_s(half, 1.0) <= top / 2


def test_schools_raise_a_load_along_their_own_axes():
    assert axes_for(LIFT, APPROACHES["balanced"]) == (Axis.HOLD, Axis.REPS, Axis.SETS)
    assert axes_for(LIFT, APPROACHES["strength-first"]) == (Axis.HOLD, Axis.SETS, Axis.REPS)
    assert axes_for(LIFT, APPROACHES["drain-and-calm"]) == ()
    assert len(set(first_cells(LIFT, 6, PLAIN, axes=()))) == 1


@pytest.mark.parametrize("exercise", ["settle-breath", "evening-breath", "warm-palms", "lid-corner-rest"])
def test_breath_and_rest_do_not_rise_for_the_sake_of_it(exercise):
    card = CARDS[exercise]
    assert set(first_cells(card, 12, Settings())) == {card.start_line}
    assert len(set(first_cells(CARDS["oval-lift"], 12, Settings()))) > 3


def test_a_ceiling_shared_by_rounds_ends_the_climb_earlier():
    once, thrice = (card_ladder(LIFT, PLAIN, times_a_day=n) for n in (1, 3))
    assert not once.capped and thrice.capped and len(thrice.rungs) < len(once.rungs)


@given(st.sampled_from(list(CARDS.values())), st.integers(1, 20), st.sampled_from([0.8, 1.0, 1.6]))
def test_a_template_says_doses_by_rungs_and_gives_them_back(card, weeks, pace):
    ways = Settings(pace_s=pace)
    cells = [*first_cells(card, weeks, ways), "", "odd dose"]
    said = relative_cells(card, cells, ways)
    assert all(c.startswith("rung ") for c in said[:weeks]) and said[weeks:] == ["", "odd dose"]
    assert list(resolved_cells(card, said, ways)) == cells


def test_a_rung_of_a_longer_ladder_keeps_its_share_of_the_way():
    rungs = card_ladder(LIFT, PLAIN).rungs
    assert resolved_cells(LIFT, ["rung 1/30", "rung 30/30"], PLAIN) == (LIFT.start_line, LIFT.target_line)
    middle = resolved_cells(LIFT, ["rung 2/3"], PLAIN)[0]
    assert load_s(rungs[0].dose, 1) < load_s(parse(middle, LIFT.style), 1) < load_s(rungs[-1].dose, 1)
    with pytest.raises(ValueError, match="no rung 4 of 3"):
        resolved_cells(LIFT, ["rung 4/3"], PLAIN)


def texts(a, b):
    return [c.text for c in differences(a, b)]


def test_differences_read_as_a_coach_would_say_them():
    a = program(line("brow-hold-down", "R1 L1 ×6 h3", "R1 L1 ×6 h3", "R1 L1 ×6 h4"), line("oval-lift", "1×5 h3", "1×5 h3", "1×5 h3"))
    b = a.with_line("brow-hold-down", cells=("R1 L1 ×5 h3", "R1 L1 ×5 h3", "R2 L1 ×6 h4"))
    assert texts(a, b) == [
        "Weeks 1 and 2, Held-down brow lift: 6 to 5 repetitions",
        "Week 3, Held-down brow lift: right 1, left 1 to right 2, left 1",
    ]
    assert texts(a, a) == []


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"title": "Other"}, "Title: Trial to Other"),
        ({"minutes": None}, "Minutes: 15 to none"),
        ({"mode": Mode.EARNED}, "Mode: calendar to earned"),
        ({"sessions": (3, 5)}, "Week 2: days 3 days to 5 days"),
        ({"lighter": frozenset({2})}, "Lighter weeks: 2"),
        ({"expectations": "Wait."}, "The words on what to expect"),
    ],
)
def test_differences_of_the_frame(change, says):
    a = program(line("oval-lift", "1×5 h3", "1×5 h4"))
    assert texts(a, replace(a, **change)) == [says]


def test_differences_of_rows():
    a = program(line("oval-lift", "1×5 h3"), line("lip-seal", "1×3 h5"))
    swapped = replace(a, lines=a.lines[::-1])
    assert texts(a, swapped)[0].startswith("Order: ")
    gone = replace(a, lines=a.lines[:1])
    assert texts(a, gone) == ["Lip seal hold: taken out"] and texts(gone, a) == ["Lip seal hold: new"]
    rest = a.with_line("lip-seal", cells=("",), when=When.EVENING)
    assert texts(a, a.with_line("lip-seal", flows=True)) == ["Lip seal hold: flows on from the row above"]
    assert texts(a.with_line("lip-seal", flows=True), a) == ["Lip seal hold: has its change-over again"]
    assert texts(a, rest) == ["Lip seal hold: morning to evening", "Week 1, Lip seal hold: 1×3 h5 becomes rest"]


@pytest.mark.parametrize(
    ("exercise", "dose", "says"),
    [
        ("oval-lift", "2×8 h5", "2 sets of 8 times, hold 5 s; rest 10 s between"),
        ("oval-lift", "1×5 h10c", "5 times, hold 10 counts (15 s)"),
        ("bracket-open", "R3 L2 ×2 h6", "right 3× and left 2×: 2 times, hold 6 s; rest 6 s between"),
        ("neck-side-drain", "R1 L1 ×5", "right, then left: 5 strokes; rest 4 s between"),
        ("bracket-open", "R1 L0 ×2 h6", "right side only: 2 times, hold 6 s"),
        ("settle-breath", "5 in 4 out 6", "5 breaths, in 4 s, out 6 s"),
        ("face-rain", "20 s", "for 20 s"),
        ("upper-lip-press", "60 s h2", "for 1 min: hold 2 s, let go, again"),
        ("habit-soft-jaw", "6 a day", "6 times a day"),
    ],
)
def test_a_dose_in_words(exercise, dose, says):
    assert in_words(parse(dose, CARDS[exercise].style), 1.5) == says


def test_settings_are_bounded_and_named():
    assert checked_settings({"pace_s": 1.2, "lighter": 0.5}).pace_s == 1.2
    with pytest.raises(ValueError, match=r"Count pace must be 0.8 to 1.6 s, not 2"):
        checked_settings({"pace_s": 2})
    with pytest.raises(ValueError, match="no setting"):
        checked_settings({"colour": 1})


def test_a_lighter_dose_keeps_what_a_side_has_more_of():
    knead = CARDS["shoulder-knead"]
    for dose in smaller(parse("R1 ×20 / L1 ×30", knead.style)):
        assert dose.left is not None and dose.left[0].reps >= dose.phases[0].reps
    assert differences_of("R1 ×20 / L1 ×30", "R1 ×20 / L1 ×24") == "left: 30 to 24 repetitions"


def differences_of(before, after):
    of = CARDS["shoulder-knead"].style
    return dose_change(parse(before, of), parse(after, of))


def filled(*cells, week=1, **more):
    own = line("oval-lift", *cells)
    return fill_right(program(own, *more.pop("rows", ()), **more), own, week, PLAIN)


def test_filling_says_what_it_could_not_do():
    with pytest.raises(DoseLineError):
        filled("??", "")
    assert filled("", "1×5 h3").cells == ["", ""]
    odd = filled("1×5 h3 r5", "")
    assert odd.cells == ["1×5 h3 r5", "1×5 h3 r5"] and "stays" in odd.remark
    over = filled("2×12 h9", "1×5 h3")
    assert over.cells == ["2×12 h9", "1×5 h3"] and "ceiling" in over.remark


def test_filling_stays_where_the_other_rows_leave_no_room_and_says_from_which_week():
    alone = filled("2×5 h8", "", "", "", "")
    assert alone.cells == ["2×5 h8", "2×6 h8", "2×8 h8", "2×8 h8", "2×8 h8"] and "target" in alone.remark
    busy = line("cheek-pulse", "", "", "3×15 h0.5", "2×20 h4", "")
    held = filled("2×5 h8", "", "", "", "", rows=(busy,))
    assert held.cells == ["2×5 h8", "2×6 h8", "2×8 h8", "2×5 h8", "2×8 h8"] and held.remark.startswith("From week 4 the other rows")


def test_filling_keeps_lighter_weeks_lighter_and_goes_on_after_them():
    light = filled("1×5 h3", "", "", "", lighter=frozenset({3}))
    plain = filled("1×5 h3", "", "").cells
    assert [light.cells[0], light.cells[1], light.cells[3]] == plain
    share = [load_s(parse(cell, LIFT.style), 1) for cell in light.cells[1:3]]
    assert share[1] <= 0.6 * share[0]
