"""Noise, verdicts, Holm, trend and advice: the two bands kept apart, and nothing called a change that is none."""

from datetime import date, timedelta

import numpy as np
import pytest

from dimbo.core.anatomy import Side
from dimbo.core.sittings.bias import ALONE, agreed, bias_advice, newly_sided
from dimbo.core.sittings.comparison import (
    Direction,
    SittingValue,
    Verdict,
    change_sentence,
    compare,
    judge_all,
    not_comparable,
    sentence,
    sitting_value,
    trend,
)
from dimbo.core.sittings.noise import Noise, Spread, median_variance, own_noise, pooled_sd, t95
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.readings import Measured

EYE, MOUTH, LIP = READINGS["fissure_height"], READINGS["mouth_width"], READINGS["upper_vermilion"]
NOISE = Noise(0.2, 0.25)


def pairs(*differences, right=8.0):
    return [Measured.pair(right, right + d) for d in differences]


def test_bands_follow_their_formulas():
    assert NOISE.of_one(1) == pytest.approx(1.96 * (0.25**2 + 0.2**2) ** 0.5)
    assert NOISE.of_one(3) == pytest.approx(1.96 * (0.25**2 + 0.2**2 * 0.4487) ** 0.5), "a median varies more than a mean"
    assert NOISE.band(Spread.of_one(1), method_sd=0.4) == pytest.approx(1.96 * (0.25**2 + 0.2**2 + 0.4**2) ** 0.5)
    assert NOISE.of_change(3, 3) == pytest.approx(2**0.5 * NOISE.of_one(3))
    assert NOISE.of_change(1, 3) == pytest.approx((NOISE.of_one(1) ** 2 + NOISE.of_one(3) ** 2) ** 0.5)
    with pytest.raises(ValueError):
        NOISE.of_one(0)


def test_pooled_sd_counts_only_repeats_within_a_sitting():
    assert pooled_sd([[1.0, 3.0], [10.0, 12.0], [50.0]]) == (pytest.approx(2**0.5), 2)
    assert pooled_sd([[1.0], []]) == (0.0, 0)


def test_own_noise_grows_into_its_place_by_degrees_of_freedom():
    shipped = Noise(0.2, 0.3)
    assert own_noise(shipped, [], None) == Noise(0.2, 0.3, provisional=True)
    five = own_noise(shipped, [[0.0, 1.0]] * 5, None)
    assert five.shot_sd == pytest.approx(((5 * 0.5 + 10 * 0.04) / 15) ** 0.5) and five.provisional
    ten = own_noise(shipped, [[0.0, 1.0]] * 10, ([0.0, 0.0], [0.0, 0.0]))
    assert ten.shot_sd == pytest.approx(((10 * 0.5 + 10 * 0.04) / 20) ** 0.5) and not ten.provisional
    many = own_noise(shipped, [[0.0, 1.0]] * 1000, None)
    assert many.shot_sd == pytest.approx(0.5**0.5, rel=0.01)


def test_a_double_baseline_widens_or_narrows_the_sitting_noise():
    shipped = Noise(0.05, 0.3)
    far, near = (own_noise(shipped, [], ([0.0] * 3, [d] * 3)).sitting_sd for d in (2.0, 0.0))
    assert near < 0.3 < far
    assert far == pytest.approx(((2.0**2 / 2 - 0.05**2 * 0.4487 + 5 * 0.09) / 6) ** 0.5)


def test_a_sittings_value_is_the_median_of_its_shots():
    value = sitting_value(EYE, pairs(1.0, 2.0, 9.0), NOISE)
    assert value.value == 2.0 and value.shots == (1.0, 2.0, 9.0) and value.retaking == NOISE.of_one(3)
    assert value.band == NOISE.band(Spread.of_one(3), method_sd=EYE.method_sd) > value.retaking
    assert value.smaller_side is Side.RIGHT and sentence(EYE, value) == "The right eye opens less, beyond the noise."
    with pytest.raises(ValueError):
        sitting_value(EYE, [])


@pytest.mark.parametrize(("factor", "side"), [(1.01, Side.RIGHT), (-1.01, Side.LEFT), (0.99, None), (-0.99, None)])
def test_a_difference_is_real_only_beyond_its_own_band(factor, side):
    value = sitting_value(EYE, pairs(factor * NOISE.band(Spread.of_one(1), method_sd=EYE.method_sd)), NOISE)
    assert value.smaller_side is side
    if side is None:
        assert sentence(EYE, value) == "Eye opening: no difference beyond the noise."


@pytest.mark.parametrize(
    ("before", "after", "direction"),
    [
        (2.0, 1.0, Direction.TOWARD),
        (-2.0, -1.0, Direction.TOWARD),
        (0.6, -1.5, Direction.OPEN),
        (-0.9, 0.9, Direction.OPEN),
        (0.3, -2.5, Direction.AWAY),
        (2.0, 3.2, Direction.AWAY),
        (2.0, 1.5, None),
    ],
)
def test_a_change_counts_beyond_the_minimal_detectable_one(before, after, direction):
    change = compare(EYE, sitting_value(EYE, pairs(*[before] * 3), NOISE), sitting_value(EYE, pairs(*[after] * 3), NOISE), NOISE)
    assert change.direction is direction
    assert change.verdict is (Verdict.BEYOND if direction else Verdict.WITHIN)
    assert change.mdc == pytest.approx(NOISE.of_change(3, 3))


def test_the_bar_of_a_change_is_higher_than_that_of_a_reading():
    just = NOISE.of_one(3) * 1.3
    value, zero = sitting_value(EYE, pairs(*[just] * 3), NOISE), sitting_value(EYE, pairs(0, 0, 0), NOISE)
    assert value.real and compare(EYE, zero, value, NOISE).verdict is Verdict.WITHIN


@pytest.mark.parametrize("sign", [1, -1])
@pytest.mark.parametrize(("share", "verdict"), [(0.995, Verdict.WITHIN), (1.005, Verdict.BEYOND)])
def test_a_change_just_under_its_bar_is_none_on_the_whole_and_on_each_side(share, verdict, sign):
    before = sitting_value(EYE, [Measured.pair(8, 8)] * 3)
    sides = compare(EYE, before, before).sides
    lifted = sitting_value(EYE, [Measured.pair(8 + sign * share * sides[0].mdc, 8)] * 3)
    right, left = compare(EYE, before, lifted).sides
    assert right.beyond is (verdict is Verdict.BEYOND) and not left.beyond
    bar = compare(EYE, before, before).mdc
    moved = sitting_value(EYE, [Measured.pair(8 + sign * share * bar, 8)] * 3)
    assert compare(EYE, before, moved).verdict is verdict


def test_the_side_that_moved_is_named():
    before = sitting_value(EYE, [Measured.pair(8, 10)] * 3)
    after = sitting_value(EYE, [Measured.pair(9.4, 10.05)] * 3)
    change = compare(EYE, before, after)
    assert [s.beyond for s in change.sides] == [True, False]
    said = change_sentence(EYE, change, "at the baseline")
    assert said == "The right eye opens more than at the baseline; left and right are more alike."
    assert change_sentence(EYE, compare(EYE, before, before), "at the baseline") == "Eye opening: no change beyond the noise."


def test_single_readings_go_up_or_down():
    wide, narrow = sitting_value(MOUTH, [Measured(52.0)] * 3), sitting_value(MOUTH, [Measured(48.0)] * 3)
    change = compare(MOUTH, narrow, wide)
    assert change.direction is Direction.UP and "larger than on 1 May" in change_sentence(MOUTH, change, "on 1 May")
    assert compare(MOUTH, wide, narrow).direction is Direction.DOWN


def changes(sizes):
    """Changes of several readings, each given in units of its MDC."""
    out = []
    for key, size in sizes.items():
        r = READINGS[key]
        zero, there = Measured.pair(5, 5) if r.paired else Measured(5.0), None
        mdc = r.noise.of_change(1, 1)
        there = Measured.pair(5, 5 + size * mdc) if r.paired else Measured(5 + size * mdc)
        out.append(compare(r, sitting_value(r, [zero]), sitting_value(r, [there])))
    return out


def test_primary_readings_keep_their_own_bar_and_the_others_are_corrected():
    sizes = {"fissure_height": 1.1, "upper_vermilion": 1.1, "mouth_width": 0.2, "philtrum_length": 0.1, "corner_angle": 0.3}
    judged = {c.reading: c for c in judge_all(READINGS, changes(sizes), ["fissure_height"])}
    assert judged["fissure_height"].verdict is Verdict.BEYOND and judged["fissure_height"].primary
    assert judged["upper_vermilion"].verdict is Verdict.WITHIN, "one of four others needs more than its own MDC"
    assert judged["upper_vermilion"].holm_mdc > judged["upper_vermilion"].mdc


def test_holm_steps_down_and_stops_at_the_first_failure():
    found = judge_all(READINGS, changes({"fissure_height": 2.0, "brow_height": 1.18, "mouth_width": 0.1}), [])
    verdicts = {c.reading: c.verdict for c in found}
    assert verdicts == {"fissure_height": Verdict.BEYOND, "brow_height": Verdict.BEYOND, "mouth_width": Verdict.WITHIN}
    alone = judge_all(READINGS, changes({"fissure_height": 0.1, "brow_height": 1.18, "mouth_width": 0.1}), [])
    assert all(c.verdict is Verdict.WITHIN for c in alone), "the same size fails when it must pass first"


def test_what_cannot_be_compared_takes_no_part():
    out = judge_all(READINGS, [not_comparable(LIP, 5, 9, 1.0, "Taken at another time."), *changes({"mouth_width": 1.05})], [])
    assert out[-1].reading == "mouth_width" or out[0].reading == "upper_vermilion"
    by = {c.reading: c for c in out}
    assert by["upper_vermilion"].verdict is Verdict.NOT_COMPARABLE and by["mouth_width"].verdict is Verdict.BEYOND


def test_few_false_alarms_when_nothing_changed():
    """1,000 unchanged pairs with exactly the noise that is assumed: about one in twenty beyond the MDC, not more."""
    rng = np.random.default_rng(3)

    def sitting():
        b = rng.normal(0, NOISE.sitting_sd)
        return sitting_value(EYE, pairs(*(b + rng.normal(0, NOISE.shot_sd, 3))), NOISE)

    wrong = sum(compare(EYE, sitting(), sitting(), NOISE).verdict is Verdict.BEYOND for _ in range(1000))
    assert 20 < wrong < 75  # the median of three is a little noisier than their mean


def days(*numbers):
    return [date(2026, 1, 1) + timedelta(days=n) for n in numbers]


def test_a_trend_is_a_slope_per_four_weeks_with_its_interval():
    found = trend(days(0, 28, 56, 84, 112), [5.0, 4.0, 3.0, 2.0, 1.0], [0.5] * 5)
    assert found.per_four_weeks == pytest.approx(-1.0) and found.low < -1 < found.high < 0 and found.verdict is Verdict.BEYOND
    flat = trend(days(0, 28, 56, 84), [5.0, 5.3, 4.9, 5.1], [0.6] * 4)
    assert flat.low < 0 < flat.high and flat.verdict is Verdict.WITHIN


def test_a_trend_needs_four_sittings_on_different_days():
    assert trend(days(0, 28, 56), [1, 2, 3], [0.1] * 3) is None
    assert trend(days(5, 5, 5, 5), [1, 2, 3, 4], [0.1] * 4) is None


def test_one_wild_sitting_does_not_carry_a_trend():
    values = [5.0, 4.8, 4.6, 9.0, 4.2, 4.0]
    found = trend(days(0, 28, 56, 84, 112, 140), values, [0.2] * 6)
    assert found.per_four_weeks == pytest.approx(-0.2, abs=0.1)
    assert found == trend(days(0, 28, 56, 84, 112, 140), values, [0.2] * 6), "the same sittings always say the same"


def test_bias_is_advised_only_for_a_real_difference_and_taken_off_again():
    real, none = sitting_value(EYE, pairs(2.0, 2.0, 2.0), NOISE), sitting_value(EYE, pairs(0.2), NOISE)
    assert (bias_advice(EYE, real, None).take, bias_advice(EYE, real, None).side) == ("on", Side.RIGHT)
    assert bias_advice(EYE, real, Side.RIGHT).take == "keep"
    off = bias_advice(EYE, none, Side.RIGHT)
    assert off.take == "off" and "back inside the noise" in off.because
    assert bias_advice(EYE, none, None).side is None


def sided(difference, band=0.5):
    return SittingValue(
        value=difference,
        right=10 - difference,
        left=10,
        shots=(difference,),
        band=band,
        provisional=False,
        retaking=band,
        spread=Spread.of_one(1),
    )


def test_a_side_that_is_new_is_asked_about_before_it_is_given_more():
    value = sided
    assert newly_sided(None, value(2)) is None, "the first sitting shows what was there already"
    assert newly_sided(value(0.2), value(2)) is value(2).smaller_side
    assert newly_sided(value(-2), value(2)) is value(2).smaller_side
    assert newly_sided(value(1.9), value(2)) is None and newly_sided(value(2), value(0.1)) is None


def test_one_sitting_alone_decides_no_side():
    weak = sided(2).smaller_side
    alone = agreed(EYE, sided(2), None, None)
    assert (alone.take, alone.side) == ("off", weak) and alone.because.endswith(ALONE)
    assert agreed(EYE, sided(2), sided(1.5), None).take == "on", "the sitting before says the same"
    assert agreed(EYE, sided(2), sided(0.2), None).take == "off" and agreed(EYE, sided(2), sided(-2), None).take == "off"
    assert agreed(EYE, sided(2), None, weak).take == "on", "the side test says the same"
    assert agreed(EYE, sided(2), None, sided(-2).smaller_side).take == "off"
    assert agreed(EYE, sided(0.1), sided(2), weak) == bias_advice(EYE, sided(0.1), None)


# What is said, held against simulated faces whose truth is known


@pytest.mark.parametrize(
    ("shots", "share"), [(1, 1.0), (2, 0.5), (3, 0.449), (4, 0.298), (5, 0.287), (8, 0.168), (12, 0.1175), (31, 0.0492)]
)
def test_the_variance_of_a_median_is_that_of_a_median(shots, share):
    assert median_variance(shots) == pytest.approx(share, rel=0.02)
    drawn = np.median(np.random.default_rng(shots).normal(0, 1, (60_000, shots)), axis=1)
    assert drawn.var() == pytest.approx(median_variance(shots), rel=0.03)


@pytest.mark.parametrize(("df", "quantile"), [(3, 3.182), (5, 2.571), (10, 2.228), (11, 2.201), (30, 2.042), (1e9, 1.96)])
def test_the_quantile_is_students(df, quantile):
    assert t95(df) == pytest.approx(quantile, rel=0.01)


@pytest.mark.parametrize("repeats", [0, 2, 5, 6, 10, 30])
@pytest.mark.parametrize("true", [0.12, 0.2, 0.3])
def test_unchanged_faces_stay_within_the_bar_however_much_is_known_of_them(repeats, true):
    """The shipped noise is an upper bound of most faces; a client's own takes over without a jump (at 11 degrees of freedom too)."""
    rng, shipped, inside, tries = np.random.default_rng([repeats, int(true * 100)]), Noise(0.2, 0.25), 0, 4000
    for _ in range(tries):
        noise = own_noise(shipped, rng.normal(0, true, (repeats, 2)).tolist(), None)
        before, after = (np.median(rng.normal(rng.normal(0, 0.25), true, 3)) for _ in range(2))
        inside += abs(after - before) <= noise.of_change(3, 3)
    least = 0.935 if true <= 0.2 else 0.925 if repeats >= 10 else 0.87  # that a face is noisier is seen by its own repeats only
    assert inside / tries >= least


def test_nearer_and_further_apart_are_said_only_when_they_are_so():
    """Changed faces of every asymmetry; the method is off by the same on both days, as on the study's heads."""
    rng, said, wrong, told = np.random.default_rng(5), 0, 0, 0
    for _ in range(6000):
        true = rng.normal(0, 1.0)
        after_true, bias = true + rng.normal(0, 1.2), rng.normal(0, EYE.method_sd)
        one, two = (sitting_value(EYE, pairs(*rng.normal(t + bias + rng.normal(0, 0.25), 0.2, 3)), NOISE) for t in (true, after_true))
        change = compare(EYE, one, two, NOISE)
        told += change.verdict is Verdict.BEYOND
        if change.direction in (Direction.TOWARD, Direction.AWAY):
            said += 1
            wrong += (abs(after_true) < abs(true)) is not (change.direction is Direction.TOWARD)
    assert said > 1500 and said > 0.5 * told, "most changes have a direction"
    assert wrong / said < 0.02


def test_a_side_is_named_falsely_in_few_faces_and_in_next_to_none_by_two_sittings():
    rng, falsely, twice, tries = np.random.default_rng(6), 0, 0, 8000
    for _ in range(tries):
        bias = rng.normal(0, EYE.method_sd)
        values = [sitting_value(EYE, pairs(*rng.normal(bias + rng.normal(0, 0.25), 0.2, 3)), NOISE) for _ in range(2)]
        falsely += values[1].real
        twice += agreed(EYE, values[1], before=values[0], told=None).take == "on"
    assert falsely / tries < 0.055
    assert twice / tries < 0.02
