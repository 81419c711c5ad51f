"""Frame and readings: signs, sides, symmetry, invariance, and what each is measured between."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.sittings.frame import MissingPoint, mirrored, place_all, ruler_mm, turned_back
from dimbo.core.sittings.points import FRONT_POINTS
from dimbo.core.sittings.profile_view import measure_profile
from dimbo.core.sittings.protocol import VIEWS
from dimbo.core.sittings.reading_table import FOLLOWS, GAP, HEADLINES, PICKED, READINGS, SETTING_MM
from dimbo.core.sittings.readings import Measured, measure, needed
from dimbo.core.sittings.shape import face_ratios, fits_flipped, landmark_asymmetry, unlike
from tests.core.builders_sitting import FACE, IRIS_PX, WIDTH, moved

PLAIN = [r for r in READINGS.values() if not r.against]
readings = pytest.mark.parametrize("reading", PLAIN, ids=[r.id for r in PLAIN])


def read(key, points=FACE, iris=IRIS_PX, neutral=None):
    return measure(READINGS[key], place_all(points, iris), neutral and place_all(neutral, iris))


@pytest.mark.parametrize(
    ("key", "right", "left"),
    [
        ("fissure_height", 8, 10),
        ("upper_lid_margin", 3.5, 5),
        ("brow_height", 17.5, 19.5),
        ("brow_height_inner", 15, 16),
        ("brow_height_outer", 14, 15),
        ("alar_height", 14, 14.5),
        ("commissure_height", -12, -10),
        ("jaw_width", 18, 19),
        ("canthal_tilt", 0, 0),
    ],
)
def test_paired_readings_in_millimetres_with_the_clients_own_sides(key, right, left):
    found = read(key)
    assert (found.right, found.left) == pytest.approx((right, left))
    assert found.value == pytest.approx(left - right)


@pytest.mark.parametrize(
    ("key", "value"),
    [
        ("philtrum_length", math.hypot(0.2, 7)),
        ("lower_vermilion", 5.6),
        ("mouth_width", math.hypot(16, 2)),
        ("midline_me", 0.5),
        ("midline_sn", 0),
    ],
)
def test_single_readings(key, value):
    found = read(key)
    assert found.value == pytest.approx(value) and found.right is None


def test_angles_are_positive_when_the_outer_end_is_up():
    tilted = read("canthal_tilt", moved(ex_left=(0, -20)) | {k: FACE[k] for k in ("pu_right", "pu_left")})
    assert tilted.left == pytest.approx(math.degrees(math.atan2(2, 9))) and tilted.right == pytest.approx(0)
    corner = read("corner_angle")
    assert corner.left == pytest.approx(math.degrees(math.atan2(0.3, 8))) and corner.right < 0


@readings
@given(angle=st.floats(-0.6, 0.6), size=st.floats(0.3, 3), dx=st.floats(-200, 200), dy=st.floats(-200, 200))
def test_turning_moving_and_scaling_a_picture_change_nothing(reading, angle, size, dx, dy):
    c, s = math.cos(angle) * size, math.sin(angle) * size
    there = {n: (c * x - s * y + dx, s * x + c * y + dy) for n, (x, y) in FACE.items()}
    assert read(reading.id, there, IRIS_PX * size).value == pytest.approx(read(reading.id).value, abs=1e-6)


@readings
def test_a_mirrored_picture_exchanges_the_sides(reading):
    here, there = read(reading.id), read(reading.id, mirrored(FACE, WIDTH))
    if reading.paired:
        assert (there.right, there.left) == pytest.approx((here.left, here.right))
        assert there.value == pytest.approx(-here.value)
    elif reading.id.startswith("midline"):
        assert there.value == pytest.approx(-here.value)
    else:
        assert there.value == pytest.approx(here.value)


def test_mirroring_twice_is_nothing():
    assert mirrored(mirrored(FACE, WIDTH), WIDTH) == FACE


@readings
def test_every_reading_names_the_point_that_is_missing(reading):
    for name in needed(reading):
        assert name in FRONT_POINTS
        if name.startswith(("en", "ex")):
            continue  # without them there is no frame at all
        with pytest.raises(MissingPoint, match=name):
            read(reading.id, {k: v for k, v in FACE.items() if k != name})


def test_ways_are_measured_against_the_neutral_view_of_the_sitting():
    smile = moved(ch_right=(-40, -30), ch_left=(30, -10))
    way = read("smile_excursion", smile, neutral=FACE)
    assert (way.right, way.left) == pytest.approx((5, math.hypot(3, 1)))
    assert way.ratio == pytest.approx(math.hypot(3, 1) / 5)
    wide = read("eye_opening", moved(ps_right=(0, -20), ps_left=(0, -10)), neutral=FACE)
    assert (wide.right, wide.left) == pytest.approx((2, 1))
    with pytest.raises(MissingPoint, match="neutral view"):
        read("smile_excursion", smile)


def test_the_level_follows_the_irises_and_without_them_the_eye_corners():
    hanging = moved(ex_right=(0, 20), en_right=(0, 10))
    assert read("brow_height", hanging).value == pytest.approx(2.0), "eye corners that follow a brow do not hide it"
    blind = {k: v for k, v in hanging.items() if not k.startswith("pu")}
    assert read("brow_height", blind).value < 1.5


def test_a_turned_head_is_turned_back_across_the_face_only():
    yaw = math.radians(6)
    depth = dict.fromkeys(FACE, 0.0) | {"ch_right": -80.0, "ch_left": -80.0, "sn": -100.0, "me": -60.0}
    middle = 500.0

    def seen(n, xy):
        x, z = xy[0] - middle, depth[n]
        return (middle + x * math.cos(yaw) - z * math.sin(yaw), xy[1])

    away = {n: z * math.cos(yaw) + (FACE[n][0] - middle) * math.sin(yaw) for n, z in depth.items()}
    back = turned_back({n: seen(n, xy) for n, xy in FACE.items()}, away, 6)
    for n, (x, y) in FACE.items():
        assert back[n] == pytest.approx((x, y), abs=0.6)
    assert turned_back(FACE, {}, 6) == FACE


def test_the_ruler_is_the_median_over_all_shots_and_replaces_the_iris():
    ruler = ruler_mm([1.0, 1.02, 5.0])
    assert ruler == pytest.approx(1.02 * 11.7)
    one, other = (place_all(FACE, iris, ruler) for iris in (IRIS_PX, IRIS_PX * 1.05))
    assert one["ch_left"] == pytest.approx(other["ch_left"]), "a wrong iris in one shot does not pass into lengths"
    with pytest.raises(ValueError):
        ruler_mm([])


def test_index_and_ratio():
    assert Measured.pair(8, 10).index == pytest.approx(100 * 2 / 9)
    assert Measured.pair(-3, 1).index is None and Measured(3).index is None
    assert Measured.pair(2, 4).ratio == 0.5 and Measured.pair(-1, 0).ratio is None


def test_a_symmetric_face_has_no_asymmetry_and_an_uneven_region_takes_its_share():
    even = {n: xy for n, xy in FACE.items() if n.endswith("right") or not n.endswith("left")}
    even |= {n.replace("right", "left"): (1000 - x, y) for n, (x, y) in even.items() if n.endswith("right")}
    even |= {n: (500.0, y) for n, (_, y) in even.items() if ("_r" not in n and "_l" not in n) or n.startswith("sto")}
    assert landmark_asymmetry(even).percent == pytest.approx(0, abs=1e-9)
    uneven = landmark_asymmetry(even | {"ch_left": (even["ch_left"][0], even["ch_left"][1] - 40)})
    assert uneven.percent > 0.3 and max(uneven.shares, key=uneven.shares.get) == "mouth"
    assert sum(uneven.shares.values()) == pytest.approx(1)


@given(angle=st.floats(-3, 3), size=st.floats(0.2, 5))
def test_asymmetry_does_not_depend_on_place_size_or_turn(angle, size):
    c, s = math.cos(angle) * size, math.sin(angle) * size
    turned = {n: (c * x - s * y, s * x + c * y) for n, (x, y) in FACE.items()}
    assert landmark_asymmetry(turned).percent == pytest.approx(landmark_asymmetry(FACE).percent)


def test_another_face_is_unlike_and_the_same_one_is_not():
    own = face_ratios(FACE)
    assert unlike(own, own) == 0
    assert unlike(face_ratios(moved(al_left=(6, 0), me=(0, 12))), own) < 3
    other = moved(al_left=(30, 0), al_right=(-30, 0), me=(0, 120), go_left=(60, 0), ch_left=(40, 0))
    assert unlike(face_ratios(other), own) > 3


def test_flipped_differences_fit_flipped_only_when_the_face_is_uneven():
    own, noise = {"fissure_height": 2.0, "brow_height": 1.5}, {"fissure_height": 0.4, "brow_height": 0.5}
    flipped = {k: -v for k, v in own.items()}
    assert fits_flipped(flipped, own, noise) > 6 > 0 > fits_flipped(own, own, noise)
    assert abs(fits_flipped({"fissure_height": 0.1}, {"fissure_height": 0.05}, noise)) < 1


def test_a_profile_has_the_same_angles_from_either_side():
    side = {
        "sn": (200.0, 400.0),
        "pog": (210.0, 560.0),
        "me": (240.0, 600.0),
        "cp": (360.0, 620.0),
        "tragus": (420.0, 380.0),
        "c7": (560.0, 700.0),
    }
    left, right = measure_profile(side), measure_profile({n: (1000 - x, y) for n, (x, y) in side.items()})
    assert left == pytest.approx(right)
    assert left["craniovertebral_angle"] == pytest.approx(math.degrees(math.atan2(320, 140)))
    assert left["chin_neck_ratio"] == pytest.approx(math.hypot(120, 20) / math.hypot(40, 200))
    assert 90 < left["cervicomental_angle"] < 110
    assert measure_profile({"sn": (1.0, 2.0)}) == {}


def test_the_table_is_whole():
    assert all(r.view in VIEWS for r in READINGS.values())
    assert all(r.less and r.more for r in READINGS.values() if r.paired)
    assert set(PICKED) <= set(READINGS)
    for r in READINGS.values():
        assert 0 < r.noise.shot_sd <= r.noise.sitting_sd or r.by_hand


def test_what_follows_a_change_badly_is_read_by_hand_and_what_follows_it_in_part_says_so():
    by_hand = {r.id for r in READINGS.values() if r.by_hand}
    assert by_hand == {k for k, share in FOLLOWS.items() if share < 0.55} | {GAP, "brow_height_outer"}
    assert not by_hand & {*PICKED, *HEADLINES}, "what every sitting is judged by needs no hand"
    assert "set by hand" in READINGS["alar_height"].care and "7 tenths" in READINGS["upper_vermilion"].care
    assert "28 % larger" in replace(READINGS["fissure_height"], follows=1.28).care
    assert READINGS["fissure_height"].care == ""
    assert READINGS["alar_height"].noise.shot_sd == pytest.approx(SETTING_MM * math.sqrt(2)), "two points, each set with its own error"
