"""Writing programs over the whole catalogue and over random programs: checks, rows, filling, drafts, round trips."""

import itertools
import random
from datetime import UTC, date, datetime

import pytest
from hypothesis import HealthCheck, example, given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import STAGE_ORDER, Stage
from dimbo.core.design.checks import Weight
from dimbo.core.design.draft import DraftFrom, draft
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import About
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.exercises.dose_line import parse
from dimbo.core.exercises.dose_tokens import DoseLineError
from dimbo.core.exercises.ladder import GROWTH_LIMIT, load_s
from dimbo.core.intake.conclusions import Intake, Rating, conclude
from dimbo.core.programs.daily_ceilings import fits, passed, planned
from dimbo.core.programs.differences import differences
from dimbo.core.programs.program import Settings, When
from dimbo.core.programs.progression import fill_right, first_cells
from dimbo.core.review.course_end import carried_on
from dimbo.core.safety.cautions import CautionAnswer, Effect, stand
from dimbo.store.people.clients import Ways
from dimbo.work.exercises.shelf import Shelf
from dimbo.work.programs.documents import CircuitDocument, LineDocument, ProgramDocument, from_program, to_program
from dimbo.work.programs.exchange import mapped, read_file, to_file
from dimbo.work.programs.writing import SheetContext
from tests.examples import examples

CATALOGUE = shipped_catalogue()
CARDS = list(CATALOGUE.cards.values())
CONCERNS = sorted(CATALOGUE.concerns)
PLAIN = Settings()
KNOWN = About(cards=CATALOGUE.cards)
TODAY = date(2026, 3, 20)
REGIONS = {m.id: m.region for m in CATALOGUE.muscles.values()}
weeks = st.integers(1, 16)
paces = st.sampled_from([0.8, 1.0, 1.3, 1.6])
unhurried = examples(0.4, HealthCheck.too_slow)


def over_ceiling(card, cell, pace_s):
    return not fits(card, parse(cell, card.style), Settings(pace_s=pace_s))


@st.composite
def documents(draw: st.DrawFn) -> ProgramDocument:
    """Programs as coaches leave them: any exercises in any order, some weeks of rest, some typing errors, circuits, evenings."""
    count = draw(weeks)
    rows = []
    for i, card in enumerate(draw(st.lists(st.sampled_from(CARDS), max_size=8))):
        cells = list(first_cells(card, count, PLAIN))
        for at in draw(st.lists(st.integers(0, count - 1), max_size=3)):
            cells[at] = draw(st.sampled_from(["", "nonsense", "2×", card.target_line]))
        days = draw(st.none() | st.integers(1, 7).map(lambda n: [n] * count))
        when = draw(st.sampled_from(When))
        row = {"when": when, "days": days, "flows": draw(st.booleans())}
        rows.append(LineDocument(id=f"row{i}", exercise=card.id, stage=card.stage, cells=cells, **row))
    circuits = [CircuitDocument(lines=["row0", "row1"], rounds=2)] if len(rows) > 1 and draw(st.booleans()) else []
    minutes = draw(st.none() | st.integers(1, 60))
    sessions = [draw(st.sampled_from([1, 2, 3, 3.5, 5, 7]))] * count
    approach = draw(st.sampled_from(sorted(APPROACHES)))
    return ProgramDocument(weeks=count, sessions=sessions, minutes=minutes, lines=rows, circuits=circuits, approach=approach)


def a_week_of(*exercises):
    cards = [CATALOGUE.cards[e] for e in exercises]
    rows = [LineDocument(id=c.id, exercise=c.id, stage=c.stage, cells=[c.start_line]) for c in cards]
    return ProgramDocument(weeks=1, sessions=[1], minutes=None, lines=rows)


def drafted(ratings, *, minutes=15, weeks=6, approach="balanced", answers=None, days=()):
    tables = shipped_intake().tables
    intake = Intake(ratings=ratings, minutes=minutes)
    found = conclude(tables, intake, CARDS, REGIONS, TODAY)
    no = {r.id: CautionAnswer(caution=r.id, answer="no", at=datetime(2026, 3, 2, 12, tzinfo=UTC)) for r in tables.cautions}
    cautions = stand(tables.cautions, no | (answers or {}), (), TODAY)
    about = About(cautions=cautions, weekdays=tuple(days), cards=CATALOGUE.cards)
    return draft(
        DraftFrom(concerns=found.concerns, about=about, minutes=minutes, weeks=weeks, approach=approach), PLAIN, CATALOGUE.cards
    ), about


@unhurried
@given(documents(), paces)
def test_checks_never_crash_and_durations_add_up(document, pace):
    ways = Settings(pace_s=pace)
    sheet = compile_sheet(to_program("any", document, CATALOGUE.cards), ways, KNOWN)
    for week in sheet.weeks:
        for plan in week.plans:
            exercises = sum(item.seconds(ways) for item in plan.items)
            gaps = max(len(plan.items) - 1, 0)
            flowing = sum(item.line.flows for item in plan.items)
            assert 8.0 * max(gaps - flowing, 0) - 1e-6 <= plan.seconds - exercises <= 20.0 * gaps + 1e-6
        assert week.seconds == max((p.seconds for p in week.plans), default=0)
    unread = [n for n in sheet.notes if n.rule == "unreadable"]
    typed = {row.id for row in document.lines for cell in row.cells if cell in ("nonsense", "2×")}
    assert {n.line for n in unread} == typed
    assert sheet.assignable is (not any(n.weight is Weight.STOP for n in sheet.notes) and all(w.plans for w in sheet.weeks))


@unhurried
@given(documents())
@example(a_week_of("forehead-smooth", "inner-corner-resist"))  # oil that loosens before work inside the mouth
def test_every_remedy_gives_a_program_that_can_be_kept(document):
    program = to_program("any", document, CATALOGUE.cards)
    for note in compile_sheet(program, PLAIN, KNOWN).notes:
        if note.fix:
            fixed = note.fix.apply(program)
            assert to_program("any", from_program(fixed), CATALOGUE.cards) == fixed
            if note.rule.startswith("steep"):  # one line waits; a session may need several to
                assert fixed != program
                continue
            again = [n for n in compile_sheet(fixed, PLAIN, KNOWN).notes if n == note]
            assert not again, note.text


@unhurried
@given(documents(), st.integers(0, 10**6))
def test_moving_rows_keeps_every_load(document, seed):
    document = document.model_copy(update={"circuits": []})
    moved = list(document.lines)
    random.Random(seed).shuffle(moved)
    here, there = (
        compile_sheet(to_program("x", document.model_copy(update={"lines": rows}), CATALOGUE.cards), PLAIN)
        for rows in (document.lines, moved)
    )
    for a, b in zip(here.weeks, there.weeks, strict=True):
        assert (a.contraction.right, a.contraction.left) == pytest.approx((b.contraction.right, b.contraction.left))
        for one, two in ((a.muscles, b.muscles), (a.hands_on, b.hands_on)):
            assert {m: (v.right, v.left) for m, v in one.items()} == {m: pytest.approx((v.right, v.left)) for m, v in two.items()}


@given(st.sampled_from(CARDS), weeks, paces)
def test_new_rows_climb_gently_and_stay_under_the_ceiling(card, count, pace):
    cells = first_cells(card, count, Settings(pace_s=pace))
    assert len(cells) == count and cells[0] == card.start_line
    assert not any(over_ceiling(card, cell, pace) for cell in cells)
    loads = [load_s(parse(c, card.style), pace) for c in cells]
    assert all(b <= a * GROWTH_LIMIT + 1e-6 for a, b in itertools.pairwise(loads))


@unhurried
@given(documents(), st.data())
def test_filling_right_never_takes_a_day_past_a_ceiling_whatever_its_other_rows_are(document, data):
    program = to_program("x", document, CATALOGUE.cards)
    if not program.lines:
        return
    line = data.draw(st.sampled_from(program.lines))
    week = data.draw(st.integers(1, program.weeks))
    try:
        filled = fill_right(program, line, week, PLAIN)
    except DoseLineError:
        return
    after = program.with_line(line.id, cells=tuple(filled.cells))
    assert filled.cells[: week - 1] == list(line.cells[: week - 1]) and len(filled.cells) == program.weeks
    if filled.cells[week:] == list(line.cells[week:]):
        return
    for later in range(week + 1, program.weeks + 1):
        if filled.cells[later - 1] not in ("", filled.cells[week - 1]):
            assert not passed(line.card, planned(after, later, PLAIN), PLAIN)


@pytest.mark.parametrize("concern", CONCERNS)
@pytest.mark.parametrize("severity", [2, 4])
def test_every_concern_gets_a_draft_that_needs_no_settling(concern, severity):
    made, about = drafted({concern: Rating(severity, severity)})
    sheet = compile_sheet(made.program, PLAIN, about)
    assert sheet.assignable
    assert not [n.text for n in sheet.notes if n.weight in (Weight.STOP, Weight.WATCH)]
    assert all(w.seconds <= 15 * 60 for w in sheet.weeks)
    stages = [STAGE_ORDER[line.stage] for line in made.program.lines]
    assert stages == sorted(stages)
    assert any(concern in line.card.concerns for line in made.program.lines)
    assert all(line.why for line in made.program.lines)


def test_a_draft_for_a_client_with_little_time_stays_short_and_says_what_it_left_out():
    ratings = {"flat-cheeks": Rating(3, 3), "lip-lines": Rating(1, 1), "loose-neck": Rating(2, 2)}
    (short, about), (long, _) = (drafted(ratings, minutes=m) for m in (6, 30))
    assert max(w.seconds for w in compile_sheet(short.program, PLAIN, about).weeks) <= 360
    assert len(short.program.lines) < len(long.program.lines)
    assert any("did not fit the 6 minutes" in x.reason for x in short.left_out)
    assert any(n.card.id == "oval-lift" for n in short.program.lines), "the gravest concern keeps its work"


@pytest.mark.parametrize("concern", CONCERNS)
def test_a_course_that_is_carried_on_again_and_again_needs_no_settling(concern):
    made, about = drafted({concern: Rating(3, 3)}, weeks=12)
    now = made.program
    for _ in range(3):
        now = carried_on(now, PLAIN, 8)
        assert now.lines and [n.text for n in compile_sheet(now, PLAIN, about).notes if n.weight is Weight.STOP] == []


answers = st.dictionaries(st.sampled_from([c.id for c in shipped_intake().tables.cautions]), st.just("yes"), max_size=4)
rated = st.dictionaries(st.sampled_from(CONCERNS), st.tuples(st.integers(0, 4), st.integers(0, 4)).map(lambda p: Rating(*p)), max_size=5)


@unhurried
@given(rated, answers, st.sampled_from(sorted(APPROACHES)), st.integers(5, 30), st.integers(1, 12))
def test_nothing_locked_is_ever_drafted_and_no_ceiling_passed(ratings, yes, approach, minutes, count):
    given_answers = {c: CautionAnswer(caution=c, answer=a, at=datetime(2026, 3, 19, tzinfo=UTC)) for c, a in yes.items()}
    made, about = drafted(ratings, minutes=minutes, weeks=count, approach=approach, answers=given_answers)
    again, _ = drafted(ratings, minutes=minutes, weeks=count, approach=approach, answers=given_answers)
    assert made == again
    here = [line.card for line in made.program.lines]
    assert not [c.id for c in here if about.cautions.of(c).effect is Effect.LOCK]
    assert not [c.id for c in here if "lip-stretch" in c.marks and not APPROACHES[approach].lip_stretch]
    rules = {n.rule for n in compile_sheet(made.program, PLAIN, about).notes}
    assert not rules & {"ceiling", "caution-lock", "school", "unreadable", "foundation"}
    for line in made.program.lines:
        if not APPROACHES[approach].axes and line.stage is Stage.WORK:
            assert len(set(line.cells)) == 1, "drain and calm does not raise the load"


@unhurried
@given(documents())
def test_export_then_import_gives_an_equal_program(document):
    file = to_file("Any", document, CATALOGUE.cards, pace_s=1.0, entries={})
    back = read_file(file.model_dump_json().encode())
    at = SheetContext(Ways("balanced", PLAIN), Shelf(CATALOGUE.cards, frozenset()), KNOWN)
    assert mapped(back, at, {}) == document.model_copy(update={"concern": None})
    one, two = (to_program("Any", d, CATALOGUE.cards) for d in (document, back.program))
    assert one == two and differences(one, two) == []
