"""Writing programs: drafts, new rows and filling, over the whole catalogue and over random programs."""

import itertools
import random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import STAGE_ORDER, Side
from dimbo.core.checks import Weight
from dimbo.core.dose_line import parse
from dimbo.core.program import Settings
from dimbo.core.rungs import GROWTH_LIMIT, load_s
from dimbo.work.documents import LineDocument, ProgramDocument, empty_document
from dimbo.work.errors import Refused
from dimbo.work.programs import cards, check, draft, fill_right, new_line

CARDS = list(cards().values())
CONCERNS = sorted(shipped_catalogue().concerns)
PLAIN = Settings()
weeks = st.integers(1, 16)
paces = st.sampled_from([0.8, 1.0, 1.3, 1.6])
unhurried = settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow])


def over_ceiling(card, cell, pace_s):
    return max(card.ceiling.used_s(parse(cell, card.style), s, pace_s) for s in Side) > card.ceiling.seconds + 1e-6


@st.composite
def documents(draw: st.DrawFn) -> ProgramDocument:
    """Programs as coaches leave them: any exercises in any order, some weeks of rest, some typing errors."""
    count = draw(weeks)
    rows = []
    for i, card in enumerate(draw(st.lists(st.sampled_from(CARDS), max_size=8))):
        cells = list(new_line(card, count, PLAIN).cells)
        for at in draw(st.lists(st.integers(0, count - 1), max_size=3)):
            cells[at] = draw(st.sampled_from(["", "nonsense", "2×", card.target_line]))
        rows.append(LineDocument(id=f"row{i}", exercise=card.id, stage=card.stage, cells=cells))
    minutes = draw(st.none() | st.integers(1, 60))
    return ProgramDocument(weeks=count, sessions=[draw(st.integers(1, 7))] * count, minutes=minutes, lines=rows)


@unhurried
@given(documents(), paces)
def test_checks_never_crash_and_durations_add_up(document, pace):
    sheet = check("any", document, Settings(pace_s=pace))
    for week in sheet.weeks:
        exercises = sum(item.seconds(Settings(pace_s=pace)) for item in week.items)
        change_overs = week.seconds - exercises
        least, most = 8.0 * max(len(week.items) - 1, 0), 20.0 * max(len(week.items) - 1, 0)
        assert least - 1e-6 <= change_overs <= most + 1e-6
    unread = [n for n in sheet.notes if n.rule == "unreadable"]
    typed = {row.id for row in document.lines for cell in row.cells if cell in ("nonsense", "2×")}
    assert {n.line for n in unread} == typed
    assert sheet.assignable is (not any(n.weight is Weight.STOP for n in sheet.notes) and all(w.items for w in sheet.weeks))


@unhurried
@given(documents(), st.integers(0, 10**6))
def test_moving_rows_keeps_every_load(document, seed):
    moved = list(document.lines)
    random.Random(seed).shuffle(moved)
    here, there = (check("x", document.model_copy(update={"lines": rows}), PLAIN) for rows in (document.lines, moved))
    for a, b in zip(here.weeks, there.weeks, strict=True):
        assert (a.contraction.right, a.contraction.left) == pytest.approx((b.contraction.right, b.contraction.left))
        assert {m: (v.right, v.left) for m, v in a.muscles.items()} == {m: pytest.approx((v.right, v.left)) for m, v in b.muscles.items()}


@given(st.sampled_from(CARDS), weeks, paces)
def test_new_rows_climb_gently_and_stay_under_the_ceiling(card, count, pace):
    try:
        row = new_line(card, count, Settings(pace_s=pace))
    except Refused:
        pytest.fail("every card has rungs at every pace")
    assert len(row.cells) == count and row.cells[0] == card.start_line
    assert not any(over_ceiling(card, cell, pace) for cell in row.cells)
    loads = [load_s(parse(c, card.style), pace) for c in row.cells]
    assert all(b <= a * GROWTH_LIMIT + 1e-6 for a, b in itertools.pairwise(loads))


@given(st.sampled_from(CARDS), weeks, st.data())
def test_filling_right_keeps_what_is_before_and_never_passes_the_ceiling(card, count, data):
    week = data.draw(st.integers(1, count))
    cells = list(new_line(card, count, PLAIN).cells)
    filled = fill_right(card, cells, week, PLAIN)
    assert filled.cells[:week] == cells[:week]
    assert len(filled.cells) == count
    assert not any(over_ceiling(card, cell, 1.0) for cell in filled.cells)


@pytest.mark.parametrize("concern", CONCERNS)
def test_every_concern_gets_a_draft_that_needs_no_settling(concern):
    document = draft(empty_document(4, 15, concern), PLAIN)
    sheet = check("draft", document, PLAIN)
    assert sheet.assignable
    assert {n.rule for n in sheet.notes} <= {"steep-session"}
    assert all(w.seconds <= 15 * 60 for w in sheet.weeks)
    stages = [STAGE_ORDER[row.stage] for row in document.lines]
    assert stages == sorted(stages)
    assert any(concern in cards()[row.exercise].concerns for row in document.lines) or not any(concern in c.concerns for c in CARDS)


def test_a_draft_for_a_client_with_little_time_stays_short():
    short, long = (draft(empty_document(4, minutes, "flat-cheeks"), PLAIN) for minutes in (4, 30))
    assert max(w.seconds for w in check("x", short, PLAIN).weeks) <= 240
    assert len(short.lines) < len(long.lines)


def test_filling_says_what_it_could_not_do():
    lift = cards()["oval-lift"]
    with pytest.raises(Refused, match="Week 1 cannot be read"):
        fill_right(lift, ["??", ""], 1, PLAIN)
    assert fill_right(lift, ["", "1×5 h3"], 1, PLAIN).cells == ["", ""]
    odd = fill_right(lift, ["1×5 h3 r5", ""], 1, PLAIN)
    assert odd.cells == ["1×5 h3 r5", "1×5 h3 r5"] and "stays" in odd.remark
