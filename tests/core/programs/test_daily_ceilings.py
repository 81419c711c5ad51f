"""What a day has had and what is left of it: by exercise, by muscle, by side, at the very borders."""

from dataclasses import replace
from datetime import UTC, date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.anatomy import Family, Side, SideSeconds
from dimbo.core.design.checks import Weight, check
from dimbo.core.design.draft import DraftFrom, draft
from dimbo.core.design.weeks import About, Beside, work_out
from dimbo.core.exercises.dose_line import parse
from dimbo.core.intake.conclusions import Intake, Rating, conclude
from dimbo.core.programs.daily_ceilings import NOTHING, TOLERANCE_S, Spent, fits, left, muscle_ceiling_s, passed, practised, spent, takes
from dimbo.core.programs.muscle_ceilings import MUSCLES
from dimbo.core.programs.program import LIMITS, Circuit, Line, Program, Settings, When
from dimbo.core.programs.progression import card_ladder, fill_right
from dimbo.core.safety.cautions import CautionAnswer, stand
from dimbo.core.sessions.merging import Owned, spare, within_ceilings
from dimbo.core.sessions.timeline import Item
from tests.examples import examples

CATALOGUE = shipped_catalogue()
CARDS = CATALOGUE.cards
PLAIN = Settings()
LIFT, LIP, SMOOTH, SQUINT = (CARDS[i] for i in ("oval-lift", "upper-lip-press", "forehead-smooth", "bracket-squint"))


def row(card, *cells, **more):
    return Line(id=more.pop("id", card.id), card=card, stage=card.stage, cells=cells, **more)


def program(*lines, **more):
    return Program(title="Trial", weeks=len(lines[0].cells), sessions=(3,) * len(lines[0].cells), minutes=None, lines=lines, **more)


def told(made, settings=PLAIN, about=None):
    return {n.rule: n for n in check(work_out(made, settings, about or About(cards=CARDS)))}


def owned(card, line, owner=1):
    return Owned(owner, Item(row(card, line), parse(line, card.style)))


# ---------------------------------------------------------------- the clock of lip work
@pytest.mark.parametrize("line", ["60 s h1", "60 s h3"])
def test_lip_work_is_one_minute_a_day_whatever_its_hold(line):
    assert fits(LIP, parse(line, LIP.style), PLAIN)
    assert takes(LIP, parse(line, LIP.style), 1.0).exercises[LIP.id] == SideSeconds(60, 60)


@pytest.mark.parametrize("line", ["2×60 s h1", "120 s h1", "61 s h1"])
def test_more_than_one_minute_of_lip_work_is_stopped(line):
    assert not fits(LIP, parse(line, LIP.style), PLAIN)
    assert told(program(row(LIP, line)))["ceiling"].weight is Weight.STOP


@pytest.mark.parametrize(
    "made",
    [
        program(row(LIP, "60 s h1"), row(LIP, "60 s h1", id="again")),
        program(row(LIP, "60 s h1", when=When.BOTH)),
        program(row(LIP, "60 s h1"), circuits=(Circuit((LIP.id,), 2),)),
    ],
    ids=["two rows", "morning and evening", "rounds"],
)
def test_rows_parts_and_rounds_of_one_day_are_added_up(made):
    assert "2:00" in told(made)["ceiling"].text and "1:00" in told(made)["ceiling"].text


# ---------------------------------------------------------------- borders
CARD = replace(LIFT, ceiling=replace(LIFT.ceiling, seconds=40.0))


BORDERS = [("1×10 h3", True), ("1×10 h3.1", False), ("1×8 h4", True), ("1×1 h39", True), ("1×1 h40", False)]


@pytest.mark.parametrize(("line", "allowed"), BORDERS)
def test_one_second_over_is_over_and_the_ceiling_itself_is_not(line, allowed):
    assert fits(CARD, parse(line, CARD.style), PLAIN) is allowed


def test_a_rounding_of_logs_is_no_second():
    dose = parse("1×10 h3", CARD.style)  # 40 s exactly
    assert fits(CARD, dose, PLAIN, before=Spent({CARD.id: SideSeconds(TOLERANCE_S, 0)}))
    assert not fits(CARD, dose, PLAIN, before=Spent({CARD.id: SideSeconds(TOLERANCE_S + 0.01, 0)}))
    assert TOLERANCE_S < 1


@pytest.mark.parametrize("side", Side)
def test_each_side_has_its_own_ceiling_and_the_lesser_side_excuses_nothing(side):
    used = SideSeconds(*(85.0 if s is side else 0.0 for s in Side))
    letter = side.value[0].upper()
    dose = parse(f"{letter}1 ×15 h0.5", SQUINT.style)  # 15 s on that side
    assert not fits(SQUINT, dose, Settings(most_eye_s=95), before=Spent({}, {"orbicularis_oculi": used}))
    other = parse(f"{'L' if letter == 'R' else 'R'}1 ×15 h0.5", SQUINT.style)
    assert fits(SQUINT, other, Settings(most_eye_s=95), before=Spent({}, {"orbicularis_oculi": used}))
    (over,) = passed(SQUINT, takes(SQUINT, dose, 1.0).plus(Spent({}, {"orbicularis_oculi": used})), Settings(most_eye_s=95))
    assert (over.muscle, over.side, over.used) == ("orbicularis_oculi", side, 100.0)


def test_directions_load_the_side_that_they_name():
    card = CARDS["cheek-shift"]
    own = takes(card, parse("1×10", card.style), 1.0)
    assert own.exercises[card.id].right == own.exercises[card.id].left > 0


# ---------------------------------------------------------------- muscles
LIP_CARDS = (
    "inner-corner-resist",
    "upper-lip-press",
    "lower-lip-press",
    "lip-roll-blow",
    "lip-seal",
    "tongue-rounds",
    "oval-to-smile",
    "chin-smooth-press",
)


def test_eight_lip_cards_at_their_targets_are_stopped_though_each_is_under_its_own_ceiling():
    made = program(*(row(CARDS[i], CARDS[i].target_line) for i in LIP_CARDS))
    assert "ceiling" not in told(made)
    note = told(made)["muscle-ceiling"]
    assert note.weight is Weight.STOP and note.text.startswith("Orbicularis oris") and "4:00 is the most" in note.text


def test_the_remedy_of_a_muscles_ceiling_settles_it():
    made = program(*(row(CARDS[i], CARDS[i].target_line) for i in LIP_CARDS))
    for _ in range(20):
        note = told(made).get("muscle-ceiling")
        if note is None:
            break
        made = note.fix.apply(made)
    assert "muscle-ceiling" not in told(made)


def test_a_helper_counts_half_toward_its_muscle():
    own = takes(LIFT, parse("1×10 h3", LIFT.style), 1.0)
    assert own.muscles["zygomaticus_major"].right == 40 and own.muscles["orbicularis_oris"].right == 20


def test_what_does_not_contract_takes_nothing_of_a_muscles_ceiling():
    assert takes(SMOOTH, parse("1×10", SMOOTH.style), 1.0).muscles == {}


def test_every_region_has_a_ceiling_with_its_reason_and_a_setting():
    regions = {m.region for m in CATALOGUE.muscles.values()}
    assert set(MUSCLES) == regions
    for m in MUSCLES.values():
        assert m.why.endswith(".") and LIMITS[m.setting].least <= m.seconds <= LIMITS[m.setting].most
        assert getattr(PLAIN, m.setting) == m.seconds


def test_another_program_shares_a_muscles_ceiling_through_other_exercises():
    made = program(row(CARDS["lip-seal"], "2×5 h10"))
    beside = About(cards=CARDS, beside=(Beside("Spring", Spent({}, {"orbicularis_oris": SideSeconds(180, 180)})),))
    note = told(made, about=beside)["ceiling-beside"]
    assert note.text.startswith("Orbicularis oris") and "“Spring”" in note.text
    light = About(cards=CARDS, beside=(Beside("Spring", Spent({}, {"orbicularis_oris": SideSeconds(60, 60)})),))
    assert "ceiling-beside" not in told(made, about=light)


# ---------------------------------------------------------------- everybody asks the same
some_cards = st.sampled_from([c for c in CARDS.values() if c.family is not Family.HABIT])
sides = st.builds(SideSeconds, st.floats(0, 300), st.floats(0, 300))


@given(some_cards, st.integers(1, 3), st.sampled_from([0.8, 1.0, 1.6]))
def test_no_rung_passes_a_ceiling_however_often_it_is_gone_through(card, times, pace):
    ways = Settings(pace_s=pace)
    for rung in card_ladder(card, ways, times_a_day=times).rungs[1:]:
        assert fits(card, rung.dose, ways, times=times)


@given(some_cards, st.integers(2, 8), st.integers(1, 4), st.sampled_from([0.8, 1.0, 1.6]))
def test_no_filled_cell_passes_a_ceiling(card, weeks, times, pace):
    ways = Settings(pace_s=pace)
    own = row(card, *[card.start_line] * weeks)
    filled = fill_right(program(own, circuits=(Circuit((card.id,), rounds=times),) if times > 1 else ()), own, 1, ways)
    if fits(card, parse(card.start_line, card.style), ways, times=times):
        assert all(fits(card, parse(c, card.style), ways, times=times) for c in filled.cells if c)


@given(
    st.lists(st.tuples(some_cards, st.integers(1, 2)), min_size=1, max_size=12),
    st.dictionaries(st.sampled_from(sorted(CATALOGUE.muscles)), sides),
)
def test_a_compiled_day_passes_no_ceiling_whatever_was_done_before(rows, before):
    entries = [owned(card, card.target_line, owner) for card, owner in rows]
    used = Spent({}, before)
    kept, beyond = within_ceilings(entries, PLAIN, used)
    assert len(kept) + len(beyond) == len(entries)
    day = used.plus(spent(((e.item.card, e.item.dose, 1) for e in kept), PLAIN))
    for entry in kept:
        for over in passed(entry.item.card, day, PLAIN):
            assert over.muscle is not None and max(before[over.muscle].right, before[over.muscle].left) > 0


@given(st.lists(some_cards, min_size=1, max_size=6, unique=True))
def test_what_is_left_and_what_is_had_make_the_ceiling(cards):
    items = [owned(c, c.start_line).item for c in cards]
    kept = [e.item for e in within_ceilings([Owned(1, i) for i in items], PLAIN)[0]]
    rest = spare(kept, PLAIN)
    day = spent(((i.card, i.dose, 1) for i in kept), PLAIN)
    for item in kept:
        own = rest[item.card.id]
        for side in Side:
            assert own.exercise.of(side) + day.exercises[item.card.id].of(side) == pytest.approx(item.card.ceiling.seconds)
            for muscle, seconds in own.muscles.items():
                most = muscle_ceiling_s(item.card, muscle, PLAIN)
                assert seconds.of(side) + day.muscles[muscle].of(side) == pytest.approx(most)


def test_practice_takes_what_was_done_of_it_by_the_clock_of_its_card():
    dose = parse("60 s h1", LIP.style)
    half = practised(LIP, dose, {Side.RIGHT: 0.5, Side.LEFT: 1.0}, 1.0)
    assert half.exercises[LIP.id] == SideSeconds(30, 60) and half.muscles["orbicularis_oris"] == SideSeconds(15, 30)
    assert left(LIP, half, PLAIN).exercise == SideSeconds(30, 0)
    assert NOTHING.plus(half).exercises == half.exercises


ratings = st.dictionaries(
    st.sampled_from(sorted(CATALOGUE.concerns)), st.integers(1, 4).map(lambda n: Rating(n, n)), min_size=1, max_size=6
)


@examples(0.6)
@given(ratings, st.sampled_from([8, 15, 30, None]), st.integers(2, 12))
def test_no_draft_passes_a_ceiling_in_any_week(rated, minutes, weeks):
    tables = shipped_intake().tables
    regions = {m.id: m.region for m in CATALOGUE.muscles.values()}
    found = conclude(tables, Intake(ratings=rated, minutes=minutes), CARDS.values(), regions, date(2026, 3, 20))
    no = {r.id: CautionAnswer(caution=r.id, answer="no", at=datetime(2026, 3, 2, 12, tzinfo=UTC)) for r in tables.cautions}
    about = About(cautions=stand(tables.cautions, no, (), date(2026, 3, 20)), cards=CARDS)
    made = draft(DraftFrom(concerns=found.concerns, about=about, minutes=minutes, weeks=weeks, approach="balanced"), PLAIN, CARDS).program
    compiled = work_out(made, PLAIN)
    for week in range(1, weeks + 1):
        assert not [p for n in made.lines for p in passed(n.card, compiled.day(week), PLAIN)]


def test_rounds_count_on_each_side():
    card = CARDS["bracket-open"]
    dose = parse("R2 L1 ×2 h6", card.style)
    once, thrice = takes(card, dose, PLAIN.pace_s), spent([(card, dose, 3)], PLAIN)
    assert once.exercises[card.id].right > once.exercises[card.id].left > 0
    for one, three in ((once.exercises, thrice.exercises), (once.muscles, thrice.muscles)):
        for key, side in one.items():
            assert (three[key].right, three[key].left) == (pytest.approx(3 * side.right), pytest.approx(3 * side.left))
