"""Drafts judged case by case: what a careful colleague of the same school would expect of each made-up client."""

import itertools
from pathlib import Path

import pytest

from dimbo.core.design.checks import Weight
from dimbo.core.design.draft import DraftFrom, draft
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import About
from dimbo.core.exercises.dose_line import parse
from dimbo.core.sittings.bias import Bias

from .draft_cases import CATALOGUE, PLAIN, TABLES, R, cautions, concern
from .draft_clients import CASES, SCHOOLS
from .drafts_page import page

every_case = pytest.mark.parametrize("case", CASES, ids=[f"{c.name}, {c.school}" for c in CASES])
DRAWN = {id(c): c.drawn() for c in CASES}


@every_case
def test_a_draft_is_what_a_careful_colleague_expects(case):
    drawn = DRAWN[id(case)]
    missed = [what for what, holds in case.expects if not holds(drawn)]
    assert missed == [], [(n.card.id, n.when.value, n.cells[0]) for n in drawn.lines]


@every_case
def test_a_draft_fits_the_minutes_and_needs_no_settling(case):
    program = DRAWN[id(case)].draft.program
    about = About(
        cautions=cautions(*case.yes),
        cards=CATALOGUE.cards,
        concerns=case.concerns,
        bias={k: Bias("on", side, "A reading.") for k, side in case.bias},
    )
    sheet = compile_sheet(program, PLAIN, about)
    assert not case.minutes or max(w.seconds for w in sheet.weeks) <= case.minutes * 60
    grave = [
        (n.rule, n.text) for n in sheet.notes if n.weight is Weight.STOP or (n.weight is Weight.WATCH and not n.rule.startswith("caution"))
    ]
    assert grave == []


@every_case
def test_no_half_seconds_and_no_breath_that_rises(case):
    for line in DRAWN[id(case)].lines:
        start = parse(line.card.start_line, line.card.style)
        for text in filter(None, line.cells):
            holds = [p.hold.amount for p in parse(text, line.card.style).phases]
            assert all(h % 1 == 0 for h in holds) or any(p.hold.amount % 1 for p in start.phases), (line.card.name, text)
        if line.card.family.value == "breathe":
            assert len(set(line.cells)) == 1


def test_there_are_forty_clients_and_more_and_every_school_has_its_own():
    assert len(CASES) >= 40
    assert {c.school for c in CASES} == set(SCHOOLS)
    assert {c.minutes for c in CASES} >= {2, 5, 15, 40} and {c.weeks for c in CASES} >= {2, 12, 24}


def test_the_same_client_gets_another_program_in_each_school():
    for name in {c.name for c in CASES if sum(k.name == c.name for k in CASES) == len(SCHOOLS)}:
        sets = [DRAWN[id(c)].ids for c in CASES if c.name == name]
        for a, b in itertools.combinations(sets, 2):
            assert len(a & b) <= 0.66 * len(a | b), (name, a & b)


def test_the_side_that_chews_is_not_guessed():
    view = concern("nasolabial-fold", "chewing-habit", 2, 2)
    made = draft(DraftFrom(concerns=(view,), about=About(cautions=cautions(), cards=CATALOGUE.cards), minutes=15), PLAIN, CATALOGUE.cards)
    assert all("A set more" not in n.why for n in made.program.lines)
    told = draft(
        DraftFrom(concerns=(view,), about=About(cautions=cautions(), cards=CATALOGUE.cards), minutes=15, busy=R), PLAIN, CATALOGUE.cards
    )
    assert any("A set more on the right" in n.why for n in told.program.lines)


def habits_of(*views, agreed=None):
    about = About(cautions=cautions(), cards=CATALOGUE.cards)
    made = draft(DraftFrom(concerns=views, about=about, minutes=15, habits=agreed or {}), PLAIN, CATALOGUE.cards)
    return {n.card.id: n.note for n in made.program.lines if n.card.family.value == "habit"}


def test_a_habit_has_the_words_that_belong_to_it():
    chewing, fluid = concern("nasolabial-fold", "chewing-habit", 3, 1), concern("under-eye-puffiness", "fluid", 2, 2)
    assert habits_of(chewing) == {"habit-other-side": "Chew on the other side at each meal."}
    assert habits_of(fluid) == {}, "no exercise stands for less salt, so none is written with it"
    assert habits_of(chewing, agreed={"habit-other-side": "Chew on the left side"}) == {"habit-other-side": "Chew on the left side"}
    bag = habits_of(chewing, agreed={"habit-bag-side": "Bag on the left shoulder"})
    assert bag == {"habit-bag-side": "Bag on the left shoulder", "habit-other-side": "Chew on the other side at each meal."}
    assert len(habits_of(chewing, concern("jaw-tension", "overworked-chewers", 2, 2), agreed={"habit-bag-side": "Bag"})) == 2


def test_every_habit_that_a_table_names_is_one():
    causes = [c.task for e in TABLES.reasoning.values() for c in e.causes if c.task]
    tests = [t.task.exercise for t in TABLES.tests.values() if t.task and t.task.exercise]
    assert len(causes) > 5 and len(tests) > 5
    assert {CATALOGUE.cards[i].family.value for i in (*causes, *tests)} == {"habit"}


def test_only_what_was_wanted_is_told_as_left_out():
    """A jaw that clenches wants no oval: leaving out a wide open mouth has nothing to tell of it."""
    view = concern("jaw-tension", "overworked-chewers", 3, 3)
    about = About(cautions=cautions(), cards=CATALOGUE.cards)
    source = DraftFrom(concerns=(view,), about=about, minutes=15, leave_out=frozenset({"wide-open", "temple-wide"}))
    left = {x.exercise: x for x in draft(source, PLAIN, CATALOGUE.cards).left_out}
    assert "oval-lift" not in left
    assert left["temple-wide"].reason == "you left it out" and left["temple-wide"].held


def test_the_printed_drafts_are_those_that_are_made():
    assert (Path(__file__).parents[3] / "docs/drafts.md").read_text() == page(), (
        "print them anew: python -m tests.core.design.drafts_page > docs/drafts.md"
    )
