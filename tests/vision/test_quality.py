"""Quality of a shot: each threshold speaks, in plain words, with what to change."""

import cv2
import numpy as np
import pytest

from dimbo.vision.landmarks import Landmarks, locate
from dimbo.vision.quality import accepted, assess
from dimbo.vision.stand_in_camera import Scene, shoot


@pytest.fixture(scope="module")
def good():
    shot = shoot(Scene("aster", "even", seed=2, repose=0))
    return shot.rgb, locate(shot.rgb)


def check(rgb, marks, name):
    return next(c for c in assess(rgb, marks) if c.name == name)


def changed(marks, **change):
    return Landmarks(**{"points": marks.points, "iris_px": marks.iris_px, "yaw_deg": marks.yaw_deg} | change)


def test_a_good_shot_is_fine_in_everything(good):
    checks = assess(*good)
    assert {c.weight for c in checks} == {"fine"}
    assert accepted(checks)
    assert all(c.found and not c.change for c in checks)


@pytest.mark.parametrize(("degrees", "weight"), [(1.9, "fine"), (2.1, "watch"), (-4.9, "watch"), (5.1, "stop"), (-7, "stop")])
def test_turn_is_noted_beyond_two_degrees_and_refused_beyond_five(good, degrees, weight):
    rgb, marks = good
    turned = changed(marks, yaw_deg=degrees)
    found = check(rgb, turned, "turn")
    assert found.weight == weight
    assert ("left" if degrees > 0 else "right") in found.found
    assert accepted(assess(rgb, turned)) is (weight != "stop")
    assert bool(found.change) is (weight != "fine")


def test_an_iris_under_twelve_pixels_cannot_be_measured(good):
    rgb, marks = good
    assert check(rgb, changed(marks, iris_px=11.9), "size").weight == "stop"
    assert check(rgb, changed(marks, iris_px=12.1), "size").weight == "fine"


def test_blur_is_called_soft(good):
    rgb, marks = good
    assert check(cv2.GaussianBlur(rgb, (0, 0), 6), marks, "sharp").weight == "watch"


def test_light_names_the_brighter_cheek(good):
    rgb, marks = good
    across = np.linspace(1.35, 0.65, rgb.shape[1])[None, :, None]
    brighter_right = np.clip(rgb * across, 0, 255).astype(np.uint8)  # the client's right is at the picture's left
    found = check(brighter_right, marks, "light")
    assert found.weight == "watch" and found.found.startswith("right cheek")


def test_parted_lips_are_no_neutral_face(good):
    rgb, marks = good
    x, y = marks.points["sto_lower"]
    parted = changed(marks, points=marks.points | {"sto_lower": (x, y + 20)})
    assert check(rgb, parted, "lips").weight == "watch"


def test_what_stops_comes_first(good):
    rgb, marks = good
    weights = [c.weight for c in assess(rgb, changed(marks, yaw_deg=9, iris_px=8))]
    assert weights[:2] == ["stop", "stop"]
