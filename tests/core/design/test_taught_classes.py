"""Classes as they are taught fit whole: every line says what the teacher does, and the time is the true one."""

import pytest

from dimbo.core.design.checks import Weight, check
from dimbo.core.design.weeks import About, work_out
from dimbo.core.exercises.dose import DEFAULT_PACE_S
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.programs.program import Settings

from .taught_classes import CARDS, CLASSES

every_class = pytest.mark.parametrize("taught", CLASSES, ids=[c.name for c in CLASSES])
PLAIN = Settings()


@every_class
def test_every_line_is_read_as_it_is_written(taught):
    for row in taught.rows:
        exercise, dose = (part.strip() for part in row.lstrip("> ").split(":", 1))
        style = CARDS[exercise].style
        assert parse(print_line(parse(dose, style), style), style) == parse(dose, style)


@every_class
def test_a_class_takes_its_true_time_and_nobody_would_stop_it(taught):
    """The time summed here by hand: setup, doses, settle, and a change-over only where something changes."""
    made = taught.program()
    compiled = work_out(made, PLAIN, About(cards=CARDS))
    assert compiled.weeks[0].seconds <= taught.minutes * 60
    assert compiled.weeks[0].seconds >= 0.6 * taught.minutes * 60, "the teacher's minutes are filled"
    found = [n for n in check(compiled) if n.weight in (Weight.STOP, Weight.WATCH) and n.rule != "bias-unmeasured"]
    assert [(n.rule, n.text) for n in found] == []
    once = sum(
        n.card.setup_s + parse(n.cells[0], n.card.style).practice_s(DEFAULT_PACE_S) + n.card.settle_s
        for n in made.lines
        for _ in range(made.rounds_of(n.id))
    )
    unsettled = sum(i.card.settle_s for i in compiled.weeks[0].items if i.goes_on)
    changes = compiled.weeks[0].seconds - once + unsettled
    assert 0 <= changes <= 20 * (len(compiled.weeks[0].items) - 1)


def test_what_flows_spends_little_on_changing_over():
    """Set-up and change-over took a quarter to a third of massage classes before rows could flow on; the rest is hands that slide to
    their next place while the client hears where."""
    massage = next(c for c in CLASSES if c.name == "Whole-face massage that flows")
    week = work_out(massage.program(), PLAIN, About(cards=CARDS)).weeks[0]
    hands_on = sum(i.dose.practice_s(DEFAULT_PACE_S) for i in week.items)
    assert 1 - hands_on / week.seconds < 0.21


def test_there_are_three_classes_of_every_school():
    schools = [c.school for c in CLASSES]
    assert all(schools.count(s) >= 3 for s in set(schools)) and len(set(schools)) == 4
