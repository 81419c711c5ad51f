"""Frame, readings and noise: signs, symmetry, invariance, and the two bands kept apart."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.frame import IRIS_MM, MissingPoint, head_frame, mirrored
from dimbo.core.readings import (
    COMMISSURE_HEIGHT,
    FISSURE_HEIGHT,
    READINGS,
    Judgement,
    Noise,
    Pair,
    compare,
    measure,
    sitting_value,
)

WIDTH = 1000
FACE = {  # the client's right is at the viewer's left; 10 px are a millimetre
    "ex_right": (350.0, 400.0),
    "en_right": (440.0, 400.0),
    "en_left": (560.0, 400.0),
    "ex_left": (650.0, 400.0),
    "ps_right": (395.0, 365.0),
    "pi_right": (395.0, 445.0),
    "ps_left": (605.0, 350.0),
    "pi_left": (605.0, 450.0),
    "sn": (500.0, 560.0),
    "ch_right": (420.0, 680.0),
    "ch_left": (580.0, 660.0),
}
IRIS_PX = IRIS_MM * 10
readings = pytest.mark.parametrize("reading", READINGS.values(), ids=READINGS)


def read(reading, points, iris=IRIS_PX):
    return measure(reading, points, head_frame(points, iris))


def test_heights_in_millimetres_with_the_clients_own_sides():
    eye, mouth = read(FISSURE_HEIGHT, FACE), read(COMMISSURE_HEIGHT, FACE)
    assert (eye.right, eye.left) == pytest.approx((8, 10))
    assert (mouth.right, mouth.left) == pytest.approx((-12, -10))
    assert (eye.difference, mouth.difference) == pytest.approx((2, 2))
    assert eye.index == pytest.approx(100 * 2 / 9)


@readings
@given(angle=st.floats(-0.6, 0.6), size=st.floats(0.3, 3), dx=st.floats(-200, 200), dy=st.floats(-200, 200))
def test_turning_moving_and_scaling_a_picture_change_nothing(reading, angle, size, dx, dy):
    c, s = math.cos(angle) * size, math.sin(angle) * size
    moved = {n: (c * x - s * y + dx, s * x + c * y + dy) for n, (x, y) in FACE.items()}
    here, there = read(reading, FACE), read(reading, moved, IRIS_PX * size)
    assert (there.right, there.left) == pytest.approx((here.right, here.left), abs=1e-6)


@readings
def test_a_mirrored_picture_exchanges_the_sides(reading):
    here, there = read(reading, FACE), read(reading, mirrored(FACE, WIDTH))
    assert (there.right, there.left) == pytest.approx((here.left, here.right))
    assert there.difference == pytest.approx(-here.difference)


def test_mirroring_twice_is_nothing():
    assert mirrored(mirrored(FACE, WIDTH), WIDTH) == FACE


def test_missing_points_are_named():
    with pytest.raises(MissingPoint, match="ps_left"):
        read(FISSURE_HEIGHT, {k: v for k, v in FACE.items() if k != "ps_left"})
    with pytest.raises(ValueError):
        head_frame(FACE, 0)


def test_bands_follow_their_formulas():
    noise = Noise(shot_sd=0.2, sitting_sd=0.25)
    assert noise.of_one(1) == pytest.approx(1.96 * math.sqrt(0.25**2 + 0.2**2))
    assert noise.of_one(3) == pytest.approx(1.96 * math.sqrt(0.25**2 + 0.2**2 / 3))
    assert noise.of_change(3, 3) == pytest.approx(math.sqrt(2) * noise.of_one(3))
    assert noise.of_one(3) < noise.of_one(1)


def shots(*differences):
    return [Pair(right=10, left=10 + d) for d in differences]


def test_a_sitting_is_the_median_of_its_shots():
    value = sitting_value(FISSURE_HEIGHT, shots(0.8, 3.0, 1.0))
    assert value.difference == pytest.approx(1.0)
    assert value.shots == 3
    with pytest.raises(ValueError):
        sitting_value(FISSURE_HEIGHT, [])


def test_a_difference_is_real_only_beyond_its_band():
    band = FISSURE_HEIGHT.difference_noise.of_one(1)
    within, beyond = (sitting_value(FISSURE_HEIGHT, shots(band + e)) for e in (-0.01, 0.01))
    assert (within.judgement, beyond.judgement) == (Judgement.WITHIN, Judgement.BEYOND)
    assert within.lower_side is None and beyond.lower_side == "right"
    assert sitting_value(FISSURE_HEIGHT, shots(-band - 0.01)).lower_side == "left"


def test_a_change_needs_more_than_a_difference():
    before, after = sitting_value(FISSURE_HEIGHT, shots(1.6)), sitting_value(FISSURE_HEIGHT, shots(0.9))
    change = compare(FISSURE_HEIGHT, before, after)
    assert change.amount == pytest.approx(-0.7)
    assert before.band < abs(change.amount) < change.mdc
    assert change.judgement is Judgement.WITHIN and change.toward_symmetry is None
    real = compare(FISSURE_HEIGHT, before, sitting_value(FISSURE_HEIGHT, shots(0.2)))
    assert real.judgement is Judgement.BEYOND and real.toward_symmetry
