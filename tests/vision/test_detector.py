"""The networks as they are run here, against what their publisher's own runtime answered on the same pictures (``published.npz``)."""

from pathlib import Path

import cv2
import numpy as np
import pytest

from dimbo.vision import detector
from dimbo.vision.detector import MESH_SIDE, Square, around, looking_at, squares
from dimbo.vision.landmarks import JITTERS
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import PORTRAITS, Scene

PUBLISHED = np.load(Path(__file__).parent / "published.npz")
WHOLE = Square(centre=np.array([MESH_SIDE / 2, MESH_SIDE / 2]), side=float(MESH_SIDE), turn=0.0)


def look(rgb, square, *, mirrored=False):
    return looking_at(rgb, square.side)([(square, mirrored)])[0]


def portrait(name):
    return np.ascontiguousarray(cv2.imread(str(PORTRAITS / f"{name}-uneven.jpg"))[:, :, ::-1])


@pytest.mark.parametrize("place", range(len(PUBLISHED["names"])))
def test_landmarks_are_those_of_the_published_network_to_a_hundredth_of_a_pixel(place):
    mesh = look(PUBLISHED["pictures"][place], WHOLE)
    assert np.abs(mesh - PUBLISHED["landmarks"][place]).max() < 0.01


@pytest.mark.parametrize("place", range(len(PUBLISHED["names"])))
def test_the_face_is_found_where_the_published_network_finds_it(place):
    x, y, side = PUBLISHED["boxes"][place]
    (found,) = squares(portrait(str(PUBLISHED["names"][place])))
    assert np.abs(found.centre - [x, y]).max() < 0.02 * side
    assert found.side / detector.ENLARGED == pytest.approx(side, rel=0.05)


def test_a_read_face_lies_where_it_is_however_the_square_is_laid():
    shot = shoot(Scene(identity="birch", state="even", seed=2))
    square = around(look(shot.rgb, squares(shot.rgb)[0]))
    moved = Square(centre=square.centre + np.array([3.0, -2.0]), side=square.side * 1.04, turn=square.turn + 0.05)
    here, there, mirror = look(shot.rgb, square), look(shot.rgb, moved), look(shot.rgb, square, mirrored=True)
    for other in (there, mirror):
        assert np.abs((here - other)[:, :2].mean(0)).max() < 0.01 * square.side
    eyes = np.array([shot.points["pu_right"], shot.points["pu_left"]])
    assert np.abs(here[[468, 473], :2] - eyes).max() < 0.01 * square.side


def test_the_whole_picture_mirrored_reads_mirrored():
    rgb = shoot(Scene(identity="fern", state="uneven", seed=2)).rgb
    square = around(look(rgb, squares(rgb)[0]))
    other = Square(centre=np.array([rgb.shape[1] - square.centre[0], square.centre[1]]), side=square.side, turn=-square.turn)
    here, there = look(rgb, square, mirrored=True), look(np.ascontiguousarray(rgb[:, ::-1]), other)
    there = there[detector.MIRROR]
    there[:, 0] = rgb.shape[1] - there[:, 0]
    assert np.abs(here - there).max() < 0.05 * square.side / MESH_SIDE


def test_two_faces_are_two_and_an_empty_wall_is_none():
    one, two = shoot(Scene(identity="aster")).rgb, shoot(Scene(identity="birch")).rgb
    both = np.hstack([one, two])
    assert sorted(int(s.centre[0] > one.shape[1]) for s in squares(both)) == [0, 1]
    assert squares(np.full((600, 800, 3), 128, np.uint8)) == []
    assert look(np.full((600, 800, 3), 128, np.uint8), Square(centre=np.array([400.0, 300.0]), side=300.0, turn=0.0)) is None


def test_the_moved_squares_are_their_own_mirror_image():
    assert {(-turn, scale, -dx, dy) for turn, scale, dx, dy in JITTERS} == set(JITTERS)
