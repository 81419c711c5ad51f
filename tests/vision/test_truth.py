"""Measured against the truth of made-up heads: sides, signs, scale and noise. docs/measurement.md has the larger study."""

import cv2
import numpy as np
import pytest

from dimbo.core.anatomy import Side
from dimbo.core.frame import head_frame
from dimbo.core.readings import COMMISSURE_HEIGHT, FISSURE_HEIGHT, measure
from dimbo.vision.detector import MIRROR
from dimbo.vision.landmarks import POINTS, FaceError, locate
from dimbo.vision.quality import assess
from dimbo.vision.stand_in_camera import Scene, identities, lower_side, shoot


def read(rgb):
    marks = locate(rgb)
    frame = head_frame(marks.points, marks.iris_px)
    return marks, measure(FISSURE_HEIGHT, marks.points, frame), measure(COMMISSURE_HEIGHT, marks.points, frame)


def true_fissure(shot):
    return {s: shot.height_mm(f"ps_{s}", f"pi_{s}") for s in Side}


@pytest.fixture(scope="module")
def uneven():
    return {name: (shot, *read(shot.rgb)) for name in identities()[:4] for shot in [shoot(Scene(name, "uneven", seed=3))]}


def test_the_lower_side_is_found_on_every_head(uneven):
    assert {lower_side(name) for name in uneven} == set(Side)
    for name, (_, _, eye, mouth) in uneven.items():
        low = lower_side(name)
        assert getattr(eye, low) < getattr(eye, low.other), name
        assert getattr(mouth, low) < getattr(mouth, low.other), name


def test_differences_follow_the_truth(uneven):
    truth, found = [], []
    for name in uneven:
        for state, seed in (("even", 5), ("uneven", 3)):
            shot = shoot(Scene(name, state, seed))
            eye = uneven[name][2] if state == "uneven" else read(shot.rgb)[1]
            truth.append(true_fissure(shot)[Side.LEFT] - true_fissure(shot)[Side.RIGHT])
            found.append(eye.difference)
    slope = np.polyfit(truth, found, 1)[0]
    assert 0.5 < slope < 1.1
    assert np.corrcoef(truth, found)[0, 1] > 0.9


def test_the_scale_is_that_of_the_head(uneven):
    for shot, marks, _, _ in uneven.values():
        assert marks.iris_px / 11.7 == pytest.approx(shot.pixels_per_mm, rel=0.07)


def test_the_mirrored_photograph_reads_the_mirrored_face(uneven):
    shot, _, eye, mouth = uneven["aster"]
    _, eye2, mouth2 = read(np.ascontiguousarray(shot.rgb[:, ::-1]))
    assert eye2.difference == pytest.approx(-eye.difference, abs=0.15)
    assert mouth2.difference == pytest.approx(-mouth.difference, abs=0.15)


def test_the_same_picture_always_reads_the_same(uneven):
    shot, marks, _, _ = uneven["birch"]
    assert locate(shot.rgb).points == marks.points


def test_an_even_face_retaken_stays_within_the_shipped_noise():
    shots = [read(shoot(Scene("hazel", "even", seed)).rgb)[1].difference for seed in range(4)]
    assert max(shots) - min(shots) < FISSURE_HEIGHT.difference_noise.of_change(1, 1)


def test_turn_is_estimated_with_its_direction_and_refused_when_large():
    for degrees in (-8, 8):
        shot = shoot(Scene("aster", "even", seed=1, yaw_deg=degrees, repose=0))
        marks = locate(shot.rgb)
        assert marks.yaw_deg == pytest.approx(degrees, abs=4)
        turn = next(c for c in assess(shot.rgb, marks) if c.name == "turn")
        assert turn.weight != "fine"
        assert ("left" if degrees > 0 else "right") in turn.found


def test_side_light_is_seen():
    shot = shoot(Scene("aster", "even", seed=1, light=0.5))
    light = next(c for c in assess(shot.rgb, locate(shot.rgb)) if c.name == "light")
    assert light.weight == "watch" and "left cheek" in light.found and light.change


def test_expressions_move_what_they_should():
    still, smile, raised = (shoot(Scene("hazel", state, repose=0)) for state in ("even", "smile", "raised"))
    width = lambda shot: (shot.points["ch_left"][0] - shot.points["ch_right"][0]) / shot.pixels_per_mm  # noqa: E731
    assert width(smile) > width(still) + 3
    for side in Side:
        assert raised.height_mm(f"bp_{side}", f"en_{side}") > still.height_mm(f"bp_{side}", f"en_{side}") + 2
    found = [locate(shot.rgb).points for shot in (still, smile)]
    assert found[1]["ch_left"][0] - found[1]["ch_right"][0] > found[0]["ch_left"][0] - found[0]["ch_right"][0]


def test_no_face_is_said():
    with pytest.raises(FaceError, match="No face"):
        locate(np.full((600, 500, 3), 90, np.uint8))


def test_sides_of_the_points_are_each_others_partners():
    for name, index in POINTS.items():
        if name.endswith("_right"):
            assert MIRROR[index] == POINTS[name.replace("_right", "_left")]
    assert (MIRROR[MIRROR] == np.arange(len(MIRROR))).all()


@pytest.mark.parametrize("part", ["lid_mm", "brow_mm", "corner_mm"])
def test_the_cameras_warps_move_the_pixels_as_its_truth_says(part):
    point = {"lid_mm": "ps_left", "brow_mm": "bp_left", "corner_mm": "ch_left"}[part]
    still = shoot(Scene("fern", "even", repose=0, grain=0))
    moved = shoot(Scene("fern", "even", repose=0, grain=0, **{part: (0, -1.5)}))
    x, y = still.points[point]
    dy = moved.points[point][1] - y
    assert dy == pytest.approx(1.5 * still.pixels_per_mm, rel=0.05)
    patch = still.rgb[int(y) - 6 : int(y) + 7, int(x) - 14 : int(x) + 15]
    search = moved.rgb[int(y) - 25 : int(y) + 26, int(x) - 18 : int(x) + 19]
    best = cv2.minMaxLoc(cv2.matchTemplate(search, patch, cv2.TM_CCOEFF_NORMED))[3]
    assert best[1] - 19 == pytest.approx(dy, abs=2.0)
    assert moved.points["ps_right"] == pytest.approx(still.points["ps_right"], abs=0.1)
