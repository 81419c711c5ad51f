"""Two photographs laid alike: aligned, labelled, and never retouched unless the picture says so."""

import io

import numpy as np
import pytest
from PIL import Image

from dimbo.vision.comparison import SIZE, compare_pictures, similarity
from dimbo.vision.landmarks import locate
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Half, Scene


def test_a_similarity_is_recovered_from_its_points():
    rng = np.random.default_rng(1)
    source = rng.normal(0, 50, (5, 2))
    angle, scale, shift = 0.3, 1.7, np.array([40.0, -12.0])
    turn = scale * np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    found = similarity(source, source @ turn.T + shift)
    assert found[:, :2] == pytest.approx(turn) and found[:, 2] == pytest.approx(shift)


def test_a_mirror_image_is_never_matched_by_reflecting():
    source = np.array([[0.0, 0], [10, 0], [10, 5], [0, 5], [3, 9]])
    found = similarity(source, source * [-1, 1])
    assert np.linalg.det(found[:, :2]) > 0


@pytest.fixture(scope="module")
def half():
    shot = shoot(Scene(identity="fern", state="uneven", seed=4))
    return Half(jpeg=shot.jpeg(), points=locate(shot.rgb).points, flipped=False, when="2 March 2026, 08:40", light="light even")


def pixels(png):
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGB")).astype(int)


def test_both_halves_of_the_same_photograph_are_the_same(half):
    picture = pixels(compare_pictures(half, half, "Front, neutral"))
    assert picture.shape[1] == SIZE[0] * 2 + 12
    left, right = picture[: SIZE[1], : SIZE[0]], picture[: SIZE[1], SIZE[0] + 12 :]
    assert np.abs(left - right).mean() < 0.5


def test_a_mirrored_file_is_shown_the_right_way_round(half):
    shot = shoot(Scene(identity="fern", state="uneven", seed=4))
    flipped = Image.fromarray(shot.rgb[:, ::-1])
    out = io.BytesIO()
    flipped.save(out, "JPEG", quality=92)
    other = Half(jpeg=out.getvalue(), points=half.points, flipped=True, when=half.when, light=half.light)
    picture = pixels(compare_pictures(half, other, "Front, neutral"))
    left, right = picture[: SIZE[1], : SIZE[0]], picture[: SIZE[1], SIZE[0] + 12 :]
    assert np.abs(left - right).mean() < 4


def test_lightness_is_matched_only_when_asked_and_the_picture_then_says_so(half):
    dark_shot = shoot(Scene(identity="fern", state="uneven", seed=4, exposure=0.6))
    dark = Half(jpeg=dark_shot.jpeg(), points=half.points, flipped=False, when="20 April 2026", light="darker")
    plain, alike = (pixels(compare_pictures(half, dark, "Front, neutral", match_light=m)) for m in (False, True))

    def apart(picture):
        return picture[: SIZE[1], : SIZE[0]].mean() - picture[: SIZE[1], SIZE[0] + 12 :].mean()

    assert apart(plain) > 20 > abs(apart(alike))
    foot = (plain[SIZE[1] + 60 :] != alike[SIZE[1] + 60 :]).any()
    assert foot, "the sentence under the picture is another one"


def test_a_note_has_a_line_of_its_own_and_nothing_runs_over_the_edge(half):
    plain = pixels(compare_pictures(half, half, "Front, neutral"))
    noted = pixels(compare_pictures(half, half, "Front, neutral", note="Not taken alike, or not known to be: light and turn of the head."))
    assert noted.shape[0] > plain.shape[0]
    edge = noted[SIZE[1] :, -6:]
    assert (edge == edge[0, 0]).all(), "words are cut off at the right"
    small = Image.open(io.BytesIO(compare_pictures(half, half, "Front, neutral", reduced=True)))
    assert small.format == "JPEG" and small.width < plain.shape[1] and not small.getexif()
