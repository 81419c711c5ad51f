"""The dose line: what is printed reads back the same, and what people type is understood or placed."""

import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.exercises.card import SideRule
from dimbo.core.exercises.dose import Apart, Phase, PhaseKind, Span, Together, Unit
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.exercises.dose_tokens import DoseLineError
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
        ("8 reps 2 sets", BOTH, "2×8"),
        ("8 h5 x2", BOTH, "2×8 h5"),
        ("8 h5 × 2 rest 5", BOTH, "2×8 h5 rest 5"),
        ("8 h5, 2 sets", EACH, "R2 L2 ×8 h5"),
        ("2 sets of 8, hold 5", BOTH, "2×8 h5"),
        ("2 sets of 8 (hold 5 s)", BOTH, "2×8 h5"),
        ("hold 5 s, 8 reps", BOTH, "1×8 h5"),
        ("h5 x 8", BOTH, "1×8 h5"),
        ("2 x h5 x 8", BOTH, "2×8 h5"),
        ("8 h5 each side", EACH, "R1 L1 ×8 h5"),
        ("8 h5 both sides", EACH, "R1 L1 ×8 h5"),
        ("1:30", TAPS, "90 s"),
        ("1:30 h2 rest 0:20", BOTH, "90 s h2 rest 20"),
        ("1 min 30 s", TAPS, "90 s"),
        ("1,5 min", TAPS, "90 s"),
        ("3 min", TAPS, "180 s"),
        ("٢×٨ h٥", BOTH, "2×8 h5"),
        ("२×८ h५", BOTH, "2×8 h5"),
        ("２×８ h５", BOTH, "2×8 h5"),
        ("٨ h٢٫٥", BOTH, "1×8 h2.5"),
        ("R 30 s, L 45 s", EACH, "R1 ×30 s / L1 ×45 s"),
        ("left 1:30 right 1 min", EACH, "R1 ×60 s / L1 ×90 s"),
        ("right 30 s", EACH, "R1 ×30 s"),
        ("R 30 s L 30 s", EACH, "R1 L1 ×30 s"),
        ("L2 ×8 h6 / R3 ×8 h5 rest 4 alt", EACH, "R3 ×8 h5 / L2 ×8 h6 rest 4 alt"),
        ("R1 ×5 h5 + 20 / L1 ×5 h8 + 30", EACH, "R1 ×5 h5 + 20 / L1 ×5 h8 + 30"),
        ("2x8 out 6 in 4", BOTH, "2×8 out 6 in 4"),
        ("8 breaths out 6 s in 4 s", BOTH, "1×8 out 6 in 4"),
        ("R2 L2 x5 out 5 in 5", EACH, "R2 L2 ×5 out 5 in 5"),
        ("2×(8 h5 + 20 h1)", BOTH, "2×8 h5 + 20 h1"),
        ("10 + 8 + 6 h5", BOTH, "1×10 + 8 + 6 h5"),
        ("6 spots h10", TAPS, "6 spots h10"),
        ("6 spots 10 s", TAPS, "6 spots h10"),
        ("4 spots 1:00", TAPS, "4 spots h60"),
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
        ("2×8 in 4 out 6", BOTH, 4, "goes with the breath out"),
        ("8 out 6", BOTH, 7, "breath in"),
        ("8 out 0 in 4", BOTH, 2, "at least a moment"),
        ("20 out 6 in 4", TAPS, 3, "held or repeated"),
        ("8 spots h5", BOTH, 2, "spot by spot"),
        ("6 spots", TAPS, 7, "time at each spot"),
        ("2×8 h5 / 9 h5", BOTH, 7, "stands between"),
        ("R1 L1 ×8 h5 / L1 ×9 h5", EACH, 12, "stands between"),
        ("R1 ×8 h5 / R1 ×9 h5", EACH, 11, "left side"),
        ("R1 ×8 h5 / L1 ×8 h5 + 9", EACH, 9, "same parts"),
        ("R 30 s L 45 s", BOTH, 0, "together"),
        ("2×8 d4", BOTH, 4, "one direction"),
        ("2×8 h5 alt", BOTH, 7, "apart"),
        ("0 s", TAPS, 2, "nothing"),
        ("8 h5 R2 L2", BOTH, 5, "stands in front"),
        ("8 h5 R2 L2", EACH, 5, "right side"),
        ("R2 ×2 h6 L3", EACH, 9, "left side"),
        ("8 h5; h9", BOTH, 6, "twice"),
        ("8 h5 r2 r3", BOTH, 8, "twice"),
        ("8 h5 rest 5 rest 9", BOTH, 12, "twice"),
        ("2×8 h5 x2", BOTH, 7, "twice"),
        ("1,000", BOTH, 0, "could be 1000"),
        ("2×8 h1.000", BOTH, 5, "could be 1000"),
        ("8 h1.2.3", BOTH, 3, "no number"),
        ("8 h,5", BOTH, 3, "expected the hold"),
        ("8, 5", BOTH, 1, "expected a hold"),
        ("30 s", BREATH, 0, "counted, not timed"),
        ("60 s h61", BOTH, 0, "not one repetition"),
        ("20", TAPS, 0, "no time"),
        ("2×8 h5 + 5", TAPS, 9, "no time"),
        ("pause 0", BOTH, 0, "a pause of nothing"),
        ("8x h5", BOTH, 5, "number of repetitions"),
        ("8 h5 each side", BOTH, 5, "together"),
        ("R2 L2 ×8 each side", EACH, 9, "named already"),
        ("8 h5²", BOTH, 4, "expected a hold"),
        ("8 – h5", BOTH, 2, "no meaning"),
    ],
)
def test_errors_point_at_the_place_and_say_what_was_expected(typed, of, at, says):
    with pytest.raises(DoseLineError) as caught:
        parse(typed, of)
    assert says in caught.value.message
    assert caught.value.start == at
    assert caught.value.end > caught.value.start


@pytest.mark.parametrize(
    ("typed", "of", "instead"),
    [
        ("8 h5 R2 L2", BOTH, "2×8 h5"),
        ("8 h5 R2 L1", BOTH, ""),
        ("8 h5 R2 L2", EACH, "R2 L2 ×8 h5"),
        ("R2 ×2 h6 L3", EACH, "R2 L3 ×2 h6"),
        ("2×8 h5", EACH, "R2 L2 ×8 h5"),
        ("2 sets of 8 h5", EACH, "R2 L2 ×8 h5"),
        ("R2 L2 ×8 h5", BOTH, "2×8 h5"),
        ("R3 L2 ×8 h5", BOTH, ""),
        ("8x h5", BOTH, "1×8 h5"),
        ("8x h5", EACH, "R1 L1 ×8 h5"),
        ("20", TAPS, "20 s"),
        ("30 s", BREATH, "3 in 4 out 6"),
        ("8 h5 each side", BOTH, "1×8 h5"),
        ("2×8 in 4 out 6", BOTH, "2×8 out 6 in 4"),
        ("8 out 6", BOTH, "1×8 out 6 in 4"),
        ("6 spots", TAPS, "6 spots h10"),
        ("8 h5; h9", BOTH, ""),
        ("1,000", BOTH, ""),
    ],
)
def test_what_is_refused_offers_what_was_most_likely_meant_or_nothing(typed, of, instead):
    with pytest.raises(DoseLineError) as caught:
        parse(typed, of)
    assert caught.value.instead == instead
    if instead:
        assert print_line(parse(instead, of), of) == instead


def _number(text):
    return list(re.finditer(r"\d+(?:\.\d+)?", text))


PARTS = [
    "2×",
    "8",
    " h5",
    " r3",
    " l2",
    "R2 ",
    "L1 ",
    "×4",
    " x3",
    " rest 7",
    " + ",
    "30 s",
    " h2",
    " alt",
    ", ",
    "; ",
    " 2 sets",
    "1:20",
    " out 6 in 4",
    " spots",
    " / ",
]


@examples(4)
@given(st.lists(st.sampled_from(PARTS), min_size=1, max_size=6).map("".join), st.sampled_from([BOTH, EACH, TAPS, WAYS, BREATH]))
def test_no_number_of_a_line_is_dropped_in_silence(typed, of):
    """Whatever is understood: with any one of its numbers changed it is another dose, or none."""
    try:
        dose = parse(typed, of)
    except DoseLineError:
        return
    for m in _number(typed):
        other = typed[: m.start()] + str(int(m.group()) + 1) + typed[m.end() :]
        try:
            changed = parse(other, of)
        except DoseLineError:
            continue
        assert changed != dose, (typed, other)


@examples(2)
@given(st.data())
def test_a_capital_letter_never_makes_another_dose(data):
    of = data.draw(styles())
    line = print_line(data.draw(doses(of)), of)
    at = data.draw(st.integers(0, len(line) - 1))
    try:
        assert parse(line[:at] + line[at].swapcase() + line[at + 1 :], of) == parse(line, of)
    except DoseLineError as error:
        assert line[at] in "rl", error


@examples(2)
@given(st.data())
def test_a_sign_more_is_refused_or_shown_and_never_lasts_nothing(data):
    """A sign put into a line gives a refusal, the same dose, or one whose numbers are those of the new text."""
    of = data.draw(styles())
    line = print_line(data.draw(doses(of)), of)
    at, sign = data.draw(st.integers(0, len(line))), data.draw(st.sampled_from(list(",;.:()+×xhrlRLscd 0/")))
    try:
        dose = parse(line[:at] + sign + line[at:], of)
    except DoseLineError:
        return
    assert dose.practice_s(1.0) > 0
    assert parse(print_line(dose, of), of) == dose


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
