"""The dose line: what is printed reads back the same, and what people type is understood or placed."""

import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose import Apart, Phase, PhaseKind, Span, Together, Unit
from dimbo.core.exercises.dose_line import DoseLineError, parse, print_line
from tests.core.builders import THREE_WAYS, doses, hold, style, styles
from tests.examples import examples

BOTH = style()
EACH = style(rule=SideRule.WEAK)
BREATH = style(Phase(kind=PhaseKind.BREATHS, lead=Span(4), release=Span(6)), rest=0)
TAPS = style(Phase(kind=PhaseKind.TAP), rest=0)
WAYS = style(hold(1, 1, 0, 3, ways=THREE_WAYS))


@examples(3)
@given(st.data())
def test_what_is_printed_reads_back_the_same(data):
    of = data.draw(styles())
    dose = data.draw(doses(of))
    assert parse(print_line(dose, of), of) == dose


@given(st.data())
def test_printing_is_canonical(data):
    of = data.draw(styles())
    line = print_line(data.draw(doses(of)), of)
    assert print_line(parse(line, of), of) == line


@pytest.mark.parametrize(
    "typed",
    ["2×8 h5", "2x8h5", "2 X 8 H 5", "2 sets of 8 reps hold 5 s", "2*8 hold 5 seconds", " 2 x8  h5s ", "2×8, h5"],
)
def test_people_type_the_same_thing_in_many_ways(typed):
    assert print_line(parse(typed, BOTH), BOTH) == "2×8 h5"


@pytest.mark.parametrize(
    ("typed", "of", "printed"),
    [
        ("8 h5", BOTH, "1×8 h5"),
        ("1x5 h10c l1 r3 rest 4", BOTH, "1×5 h10c r3 rest 4"),
        ("5 hold 10 counts", BOTH, "1×5 h10c"),
        ("1×10 h2,5", BOTH, "1×10 h2.5"),
        ("1 min", TAPS, "60 s"),
        ("60s h1", BOTH, "60 s h1"),
        ("6 breaths in 4 out 6", BREATH, "6 in 4 out 6"),
        ("6", BREATH, "6 in 4 out 6"),
        ("R3L2x2h10", EACH, "R3 L2 ×2 h10"),
        ("right 3 left 2 x 2 hold 10", EACH, "R3 L2 ×2 h10"),
        ("L2 R3 x2 h10 alternating", EACH, "R3 L2 ×2 h10 alt"),
        ("R1 ×10", EACH, "R1 ×10"),
        ("2×1 h10 l2 r0 + 20 l2 + pause 5 rest 8", BOTH, "2×1 h10 l2 r0 + 20 l2 + pause 5 rest 8"),
        ("1×5 h5 d2", WAYS, "1×5 h5 d2"),
    ],
)
def test_forgiving_reading_and_canonical_printing(typed, of, printed):
    assert print_line(parse(typed, of), of) == printed


def test_what_the_line_leaves_unsaid_comes_from_the_card():
    dose = parse("2×8 h5", BOTH)
    assert dose.phases[0].lead == Span(1)
    assert dose.phases[0].release == Span(2)
    assert dose.rest == Span(10)
    assert dose.sides == Together(2)
    assert parse("8 h5", EACH).sides == Apart(1, 1)
    assert parse("5 h10c", BOTH).phases[0].hold == Span(10, Unit.COUNTS)


@pytest.mark.parametrize(
    ("typed", "of", "at", "says"),
    [
        ("", BOTH, 0, "expected a dose"),
        ("2×8 h", BOTH, 5, "hold"),
        ("2×8 q5", BOTH, 4, "expected"),
        ("2×8 h5 %", BOTH, 7, "no meaning"),
        ("99×8 h5", BOTH, 0, "1 to 12"),
        ("2×999 h5", BOTH, 2, "1 to 120"),
        ("2×8 h9999", BOTH, 5, "at most"),
        ("2×8 h5.25", BOTH, 5, "tenth"),
        ("2.5×8", BOTH, 0, "whole"),
        ("R3 L2 ×8 h5", BOTH, 0, "together"),
        ("2×8 h5", EACH, 0, "R2 L2"),
        ("R3 R2 ×8", EACH, 3, "twice"),
        ("R0 L0 ×8", EACH, 0, "needs a set"),
        ("R3 L2", EACH, 5, "expected ×"),
        ("2×8 in 4 out 6", BOTH, 4, "breathing"),
        ("2×8 d4", BOTH, 4, "one direction"),
        ("2×8 h5 alt", BOTH, 7, "apart"),
        ("0 s", TAPS, 2, "nothing"),
    ],
)
def test_errors_point_at_the_place_and_say_what_was_expected(typed, of, at, says):
    with pytest.raises(DoseLineError) as caught:
        parse(typed, of)
    assert says in caught.value.message
    assert caught.value.start == at
    assert caught.value.end > caught.value.start


@given(st.text(max_size=40))
def test_no_text_makes_the_reader_crash(text):
    try:
        parse(text, BOTH)
    except DoseLineError as error:
        assert 0 <= error.start < error.end


def test_every_example_of_the_documentation_is_true():
    page = (Path(__file__).parents[3] / "docs/dose-line.md").read_text()
    examples = re.findall(r"^\| `([^`]+)` \| (both|each|breath|taps|ways) \| `([^`]+)` \|", page, re.M)
    assert len(examples) >= 8
    named = {"both": BOTH, "each": EACH, "breath": BREATH, "taps": TAPS, "ways": WAYS}
    for typed, of, printed in examples:
        assert print_line(parse(typed, named[of]), named[of]) == printed
