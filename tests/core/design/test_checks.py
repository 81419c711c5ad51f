"""The checks of the margin: each rule speaks when it should, is silent when it should, and its remedy settles it."""

from dataclasses import replace
from pathlib import Path

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.core.anatomy import Side, SideSeconds, Stage
from dimbo.core.design.checks import CHECKS, Weight, check
from dimbo.core.design.checks.body import biased
from dimbo.core.design.checks.client import USUAL_EXPECTATIONS
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import About, Beside, work_out
from dimbo.core.exercises.approach import APPROACHES, WEAK_ONLY
from dimbo.core.programs.daily_ceilings import Spent
from dimbo.core.programs.program import Circuit, Line, Program, Settings, When
from dimbo.core.sittings.bias import Bias

CARDS = shipped_catalogue().cards
KNOWN = About(cards=CARDS)
BIASED = Bias("on", Side.RIGHT, "The right eye opens less: 1.1 mm between the sides, noise ±0.4.")


def line(exercise, *cells, weeks=1, when=When.MORNING, days=None, row=""):
    card = CARDS[exercise]
    own = cells or (card.start_line,) * weeks
    return Line(id=row or exercise, card=card, stage=card.stage, cells=own, when=when, days=days)


def program(*lines, **more):
    weeks = len(lines[0].cells)
    more.setdefault("expectations", USUAL_EXPECTATIONS)
    return Program(
        title="Trial",
        weeks=weeks,
        sessions=more.pop("sessions", (3,) * weeks),
        minutes=more.pop("minutes", None),
        lines=tuple(lines),
        **more,
    )


PLAIN = Settings()


def notes(made, about=KNOWN, settings=PLAIN):
    return {n.rule: n for n in compile_sheet(made, settings, about).notes}


def settled(made, rule, about=KNOWN):
    """The program after the remedy of a rule; the rule is silent then."""
    note = notes(made, about)[rule]
    fixed = note.fix.apply(made)
    assert rule not in notes(fixed, about), note.text
    return fixed


def test_a_line_that_cannot_be_read_is_offered_as_it_was_most_likely_meant():
    made = program(line("oval-lift", "8 h5 R2 L2", "8x h5", "nonsense"))
    note = notes(made)["unreadable"]
    assert note.weight is Weight.STOP and note.fix.label == "Write 2×8 h5" and note.weeks == (1, 2, 3)
    assert note.fix.apply(made).lines[0].cells == ("2×8 h5", "1×8 h5", "nonsense"), "what nobody can guess stays as it was typed"
    assert notes(program(line("oval-lift", "nonsense")))["unreadable"].fix is None


CALM = (line("settle-breath"), line("warm-palms"))


def calm(*work):
    """Work between a beginning and an end that no check complains of."""
    weeks = len(work[0].cells)
    return (
        line("settle-breath", weeks=weeks),
        line("face-rain", weeks=weeks),
        *work,
        line("palm-lean-lift", weeks=weeks),
        line("warm-palms", weeks=weeks),
    )


@pytest.mark.parametrize(("days", "stops"), [(5, False), (6, True), (7, True)])
def test_what_works_against_something_rests_two_days_of_seven(days, stops):
    made = program(*calm(line("oval-lift"), line("cheek-drain")), sessions=(days,))
    found = notes(made).get("strength-days")
    assert (found is not None) is stops
    if found:
        assert found.weight is Weight.STOP and found.line == "oval-lift", "strokes may be done daily"
        fixed = settled(made, "strength-days")
        assert [n.days_in(1, days) for n in fixed.lines if n.id in ("oval-lift", "cheek-drain")] == [5, days]
    assert "strength-days" not in notes(made, settings=replace(PLAIN, strength_days=7))


@pytest.mark.parametrize(("dose", "pace_s", "stops"), [("1×3 h2", 1.0, False), ("1×3 h2.1", 1.0, True), ("1×3 h2c", 1.5, True)])
def test_a_hold_that_its_exercise_forbids_is_stopped_whatever_the_ceiling_leaves(dose, pace_s, stops):
    found = notes(program(*calm(line("swallow-lift", dose))), settings=Settings(pace_s=pace_s)).get("longest-hold")
    assert (found is not None) is stops
    assert not found or (found.weight is Weight.STOP and "2 s is the most" in found.text)


@pytest.mark.parametrize(("dose", "pace_s", "stops"), [("60 s h2", 1.5, False), ("60 c h2", 1.0, False), ("60 c h2", 1.5, True)])
def test_a_window_is_bounded_by_the_clock_at_any_count_pace(dose, pace_s, stops):
    found = notes(program(*calm(line("inner-corner-resist", dose))), settings=Settings(pace_s=pace_s)).get("longest-hold")
    assert (found is not None) is stops
    assert not found or "a window of 90 s; 60 s is the most" in found.text


def test_sides_that_differ_in_time_are_levelled_and_given_to_one():
    row = replace(line("brow-hold-down"), cells=("R1 ×5 h3 / L1 ×5 h5",))
    assert biased(row, row.cells[0], None, WEAK_ONLY) == "R1 L1 ×5 h3"
    assert biased(row, row.cells[0], Side.LEFT, WEAK_ONLY) == "L1 ×5 h5"


def test_every_check_says_its_rule_and_has_an_id_of_its_own():
    assert len({c.id for c in CHECKS}) == len(CHECKS)
    assert all(c.title and c.why.endswith(".") for c in CHECKS)


def test_no_check_goes_untested():
    """A check that is added without a case of its own is found here."""
    cases = "".join(f.read_text(encoding="utf-8") for f in Path(__file__).parents[2].rglob("test_*.py"))
    assert [c.id for c in CHECKS if f'"{c.id}"' not in cases] == []


def test_a_sound_program_has_nothing_in_the_margin():
    assert notes(program(*calm(line("oval-lift")))) == {}


def test_rounds_and_evenings_share_the_daily_ceiling():
    lift = line("oval-lift", "2×8 h6")  # 112 s of 180 s
    assert "ceiling" not in notes(program(*calm(lift)))
    twice = program(*calm(replace(lift, when=When.BOTH)))
    note = notes(twice)["ceiling"]
    assert note.weight is Weight.STOP and "3:44 a day" in note.text
    assert settled(twice, "ceiling").lines[2].cells != lift.cells
    circuit = program(*calm(lift), circuits=(Circuit(("oval-lift",), 2),))
    assert "ceiling" in notes(circuit)
    rows = program(*calm(lift, replace(lift, id="again")))
    assert "ceiling" in notes(rows) and notes(rows)["ceiling"].fix is None


def test_programs_of_one_client_share_the_ceilings():
    made = program(*calm(line("oval-lift", "2×8 h6")))
    beside = replace(KNOWN, beside=(Beside("Spring", Spent({"oval-lift": SideSeconds(100, 100)})),))
    note = notes(made, beside)["ceiling-beside"]
    assert "“Spring”" in note.text and note.weight is Weight.WATCH
    assert "ceiling-beside" not in notes(made, replace(KNOWN, beside=(Beside("Spring", Spent({"oval-lift": SideSeconds(60, 60)})),)))


def test_a_lighter_week_is_passed_over_when_the_rise_is_judged():
    cells = ("1×6 h4", "1×6 h5", "1×4 h3", "1×6 h6")
    plain = program(*calm(line("oval-lift", *cells)))
    assert notes(plain)["steep-line"].weeks == (4,)
    assert "steep-line" not in notes(replace(plain, lighter=frozenset({3})))


def test_the_smallest_step_of_a_short_hold_is_no_steep_rise():
    assert "steep-line" not in notes(program(*calm(line("corner-squint", "1×8 h1", "1×8 h2"))))
    assert "steep-line" in notes(program(*calm(line("corner-squint", "1×8 h1", "1×8 h4"))))


def test_a_line_that_rises_too_fast_waits():
    made = program(*calm(line("oval-lift", "1×5 h3", "1×5 h7", "1×5 h8")))
    fixed = made
    while (note := notes(fixed).get("steep-line")) and note.weeks:
        before, fixed = fixed, note.fix.apply(fixed)
        assert fixed != before
    assert fixed.lines[2].cells == ("1×5 h3", "1×5 h3", "1×5 h3")


def test_one_axis_moves_at_a_time():
    made = program(*calm(line("oval-lift", "1×6 h4", "1×7 h5")))
    assert notes(made)["one-axis"].weeks == (2,)
    assert "one-axis" not in notes(program(*calm(line("oval-lift", "1×6 h4", "1×7 h4"))))
    assert "one-axis" not in notes(program(*calm(line("oval-lift", "1×8 h4", "2×5 h4")))), "a set comes in, repetitions drop"


def test_minutes_name_what_could_go_best():
    made = program(*calm(line("oval-lift"), line("cheek-pulse")), minutes=3)
    fixed = settled(replace(made, minutes=5), "budget") if "budget" in notes(replace(made, minutes=5)) else None
    assert "budget" in notes(made)
    assert fixed is None or "" in [c for n in fixed.lines for c in n.cells]
    assert "budget" not in notes(made, settings=Settings(budget_slack_s=300))


def test_days_that_the_client_does_not_have():
    made = program(*calm(line("oval-lift")), sessions=(6,))
    assert settled(made, "days", replace(KNOWN, weekdays=(1, 3, 5))).sessions == (3,)
    assert "days" not in notes(made, KNOWN)


def test_a_muscle_rests_a_day_in_the_early_weeks():
    hard = line("oval-lift", *["3×6 h5"] * 3)
    made = program(*calm(hard), sessions=(6, 6, 6))
    note = notes(made)["rest-days"]
    assert note.weeks == (1, 2), "the third week is no early week any more"
    fixed = settled(made, "rest-days")
    assert fixed.lines[2].days == (3, 3, 6)
    assert "rest-days" not in notes(made, settings=Settings(early_weeks=0))
    assert "rest-days" not in notes(program(*calm(hard), sessions=(3, 3, 3)))
    small = line("oval-lift", *["1×5 h5"] * 3)
    assert "rest-days" not in notes(program(*calm(small), sessions=(6, 6, 6))), "half a minute of work needs no rest day"
    assert "rest-days" in notes(program(*calm(replace(hard, cells=("2×7 h6",) * 3)), sessions=(6, 6, 6)))
    twice = replace(hard, cells=("1×7 h6",) * 3, when=When.BOTH)
    assert "rest-days" in notes(program(*calm(twice), sessions=(6, 6, 6))), "morning and evening add up"
    level = line("smile-mirror", *["3×6 h6"] * 3)
    assert "rest-days" not in notes(program(*calm(level), sessions=(6, 6, 6))), "finding level is no strength"


def test_what_an_exercise_builds_on_comes_in_above_it():
    fixed = settled(program(*calm(line("cheek-pulse"))), "foundation")
    order = [n.card.id for n in fixed.lines]
    assert order.index("oval-lift") < order.index("cheek-pulse")
    turned = settled(program(*calm(line("cheek-pulse"), line("oval-lift"))), "foundation")
    assert [n.card.id for n in turned.lines][2:4] == ["oval-lift", "cheek-pulse"]


@pytest.mark.parametrize(
    ("rows", "rule"),
    [
        (("warm-palms", "settle-breath"), "stage-order"),
        (("settle-breath", "tall-seat"), "posture-first"),
        (("settle-breath", "chewer-circles", "elbow-wheels"), "upward"),
        (("settle-breath", "corner-lift-resist", "lip-seal"), "foundation-first"),
        (("settle-breath", "bracket-open", "under-chin-push"), "large-first"),
        (("settle-breath", "neck-side-drain", "cheek-drain"), "outward"),
    ],
)
def test_the_order_of_a_session_and_its_remedy(rows, rule):
    made = program(*(line(r) for r in rows))
    assert rule in notes(made)
    assert rule not in notes(notes(made)[rule].fix.apply(made))


def test_oil_before_the_mouth_is_put_in_order_only_where_that_helps():
    loosened = program(line("settle-breath"), line("forehead-smooth"), line("upper-lip-press"))
    note = notes(loosened)["mouth-before-oil"]
    assert note.fix is None, "loosening comes before the work, so the hands are washed"
    assert "20 s" in note.text
    oily = replace(line("forehead-smooth"), stage=Stage.WORK)
    fixed = settled(program(line("settle-breath"), oily, line("upper-lip-press")), "mouth-before-oil")
    assert [n.card.id for n in fixed.lines] == ["settle-breath", "upper-lip-press", "forehead-smooth"]


def test_work_is_prepared_loosened_and_let_go_of():
    bare = program(line("oval-lift"))
    assert {"prepared", "loosened", "released", "ends-calm"} <= set(notes(bare))
    for rule in ("prepared", "loosened", "released"):
        settled(bare, rule)
    assert "loosened" not in notes(replace(bare, approach="strength-first")), "this approach does not ask for it"
    assert "released" not in notes(program(line("oval-lift"), line("palm-lean-lift")))


def test_a_locked_exercise_is_no_remedy():
    few = replace(KNOWN, cards={"palm-lean-lift": CARDS["palm-lean-lift"]})
    assert notes(program(line("oval-lift")), few)["released"].fix.label == "Add Palm lean"
    assert notes(program(line("oval-lift")), replace(KNOWN, cards={}))["released"].fix is None


def test_an_evening_ends_calm():
    evening = ("jaw-soften", "temple-wide", "oval-lift", "thumb-hook-smile", "evening-breath")
    made = program(*CALM[:1], *(line(e, when=When.EVENING) for e in evening))
    made = made.with_line("thumb-hook-smile", cells=("1×5 h1 + 3 h5",))
    note = notes(made)["ends-calm"]
    assert "second half of the evening" in note.text
    moved = note.fix.apply(made)
    assert [n.when for n in moved.lines if n.card.id == "oval-lift"] == [When.MORNING]


def test_what_drains_in_the_face_is_led_down_the_neck():
    made = program(line("settle-breath"), line("orbit-taps"))
    assert settled(made, "drained").lines[-1].card.id == "neck-side-drain"
    assert "drained" not in notes(program(line("orbit-taps"), line("neck-side-drain")))


def test_what_pulls_down_does_not_work_alone():
    hard = line("under-chin-push", "3×5 h10")
    made = program(*calm(hard), sessions=(5,))
    assert "nothing lifts them" in notes(made)["balance"].text
    fixed = (
        settled(made, "balance")
        if "balance" not in notes(notes(made)["balance"].fix.apply(made))
        else notes(made)["balance"].fix.apply(made)
    )
    assert "oval-lift" in {n.card.id for n in fixed.lines}
    assert "balance" not in notes(replace(made, approach="release-first"))


def test_one_side_gets_more_only_while_a_reading_says_so():
    told = replace(KNOWN, bias={"fissure_height": BIASED})
    level = program(*calm(line("bracket-open", "R2 L2 ×2 h6")))
    biased = settled(level, "bias-missing", told)
    assert biased.lines[2].cells == ("R3 L2 ×2 h6",)
    assert not {r for r in notes(biased, told) if r.startswith("bias")}
    assert notes(biased, KNOWN)["bias-unmeasured"].weight is Weight.WATCH
    over = replace(KNOWN, bias={"fissure_height": Bias("off", None, "Eye opening shows no side.")})
    assert settled(biased, "bias-unfounded", over).lines[2].cells == ("R2 L2 ×2 h6",)
    wrong = program(*calm(line("bracket-open", "R1 L2 ×2 h6")))
    assert settled(wrong, "bias-unfounded", told).lines[2].cells == ("R2 L1 ×2 h6",)


def test_schools_lay_uneven_sides_out_in_their_own_way():
    told = replace(KNOWN, bias={"fissure_height": BIASED})
    level = program(*calm(line("bracket-open", "R2 L2 ×2 h6")), approach="strength-first")
    assert settled(level, "bias-missing", told).lines[2].cells == ("R2 ×2 h6",)
    mirror = replace(level, approach="drain-and-calm")
    assert "bias-missing" not in notes(mirror, told)
    more = program(*calm(line("bracket-open", "R3 L2 ×2 h6")), approach="drain-and-calm")
    assert notes(more, told)["bias-school"].fix.label == "Both sides alike"


def test_a_school_forbids_what_it_holds_harmful():
    made = program(line("settle-breath"), line("upper-lip-lengthen"), line("warm-palms"))
    note = notes(made)["school"]
    assert note.weight is Weight.STOP and "forbids" in note.text
    assert [n.card.id for n in settled(made, "school").lines] == ["settle-breath", "warm-palms"]
    assert "school" not in notes(replace(made, approach="release-first"))


def test_the_client_is_told_what_to_expect_and_nothing_is_promised():
    made = program(*CALM, expectations="  ")
    assert settled(made, "expectations").expectations == USUAL_EXPECTATIONS
    assert not any(word in USUAL_EXPECTATIONS.lower() for word in ("guarantee", "promise", "will see"))


def test_a_week_of_nothing_stops():
    made = program(line("settle-breath", "5 in 4 out 6", ""))
    assert notes(made)["empty-week"].weeks == (2,)


def test_strength_twice_a_day_is_remarked():
    made = program(*calm(line("oval-lift", when=When.BOTH)))
    assert settled(made, "twice-a-day").lines[2].when is When.MORNING


@pytest.mark.parametrize("approach", sorted(APPROACHES))
def test_an_approach_decides_which_checks_are_silent(approach):
    made = program(line("oval-lift"), approach=approach)
    found = {n.rule for n in check(work_out(made, Settings(), KNOWN))}
    assert not found & APPROACHES[approach].silent


def test_stops_stand_before_what_asks_for_a_look():
    weights = [n.weight for n in compile_sheet(program(line("upper-lip-lengthen"), line("oval-lift")), Settings(), KNOWN).notes]
    assert weights == sorted(weights, key=list(Weight).index)


def test_no_approach_silences_a_check_that_refuses_a_program():
    stops = {c.id for c in CHECKS if c.weight is Weight.STOP}
    assert stops and all(not a.silent & stops for a in APPROACHES.values())
