"""The numbers of a shot, from pixels and points."""

from dataclasses import replace

import cv2
import numpy as np
import pytest

from dimbo.core.sittings.protocol import NEUTRAL, VIEWS, Face
from dimbo.core.sittings.quality import THRESHOLDS, Standing, judge, standing
from dimbo.core.sittings.shape import PRINT_EDGE, alike
from dimbo.vision.landmarks import locate
from dimbo.vision.quality import face_print, look_at
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import PORTRAITS, VIEW_STATES, Scene, identities
from studies.trials import TRUE
from studies.variants import VARIANTS, Variant, nodded, taken, taken_from


@pytest.fixture(scope="module")
def good():
    shot = shoot(Scene(identity="aster", state="even", seed=2, repose=0))
    return shot.rgb, locate(shot.rgb)


def test_a_good_shot(good):
    seen = look_at(*good)
    assert abs(seen.yaw_deg) < 1 and abs(seen.roll_deg) < 1 and seen.iris_px > 35
    assert seen.sharp > 0.6 and seen.highlights < 0.001 and seen.lip_gap < 0.02
    assert min(seen.eye_trust.values()) > 0.9


@pytest.mark.parametrize(("sigma", "below"), [(3, 0.55), (7, 0.30)])
def test_blur_lowers_sharpness(good, sigma, below):
    rgb, marks = good
    assert look_at(cv2.GaussianBlur(rgb, (0, 0), sigma), marks).sharp < below


def test_light_from_a_side_is_signed_by_the_clients_left(good):
    rgb, marks = good
    across = np.linspace(1.7, 0.3, rgb.shape[1])[None, :, None]
    brighter_right = np.clip(rgb * across, 0, 255).astype(np.uint8)  # the client's right is at the picture's left
    assert look_at(brighter_right, marks).light < look_at(rgb, marks).light - 0.1


def test_clipped_light_and_black_are_counted_on_the_face(good):
    rgb, marks = good
    assert look_at(np.clip(rgb * 2.2, 0, 255).astype(np.uint8), marks).highlights > 0.1
    assert look_at((rgb * 0.03).astype(np.uint8), marks).shadows > 0.9


def test_covered_eyes_are_known():
    seen = look_at(*(lambda rgb: (rgb, locate(rgb)))(shoot(Scene(identity="birch", state="closed", seed=1)).rgb))
    assert max(seen.eye_trust.values()) < 0.3
    shot = shoot(Scene(identity="birch", state="even", seed=1))
    rgb = shot.rgb.copy()
    x, y = (int(v) for v in shot.points["pu_left"])
    cv2.circle(rgb, (x, y), 75, (18, 18, 20), -1)  # one dark glass
    trust = look_at(rgb, locate(rgb)).eye_trust
    assert trust["left"] < 0.55 < trust["right"]


def test_prints_know_the_same_face_and_which_way_round_it_is(good):
    again = shoot(Scene(identity="aster", state="even", seed=9))
    one, two = face_print(*good), face_print(again.rgb, locate(again.rgb))
    assert len(one) == PRINT_EDGE**2
    as_is, flipped = alike(two, one)
    assert as_is > 0.97 and flipped < as_is - 0.05
    mirror = np.ascontiguousarray(again.rgb[:, ::-1])
    as_is, flipped = alike(face_print(mirror, locate(mirror)), one)
    assert flipped > 0.97 and as_is < flipped - 0.05


def test_the_lips_gap_follows_the_points(good):
    rgb, marks = good
    x, y = marks.points["sto_lower"]
    parted = replace(marks, points=marks.points | {"sto_lower": (x, y + 20)})
    assert look_at(rgb, parted).lip_gap > look_at(rgb, marks).lip_gap + 0.05


@pytest.mark.parametrize("identity", ["aster", "dahlia"])
def test_what_light_there_was_is_told_by_the_whites_on_any_skin(identity):
    seen = {
        exposure: (lambda rgb: look_at(rgb, locate(rgb)))(shoot(Scene(identity=identity, exposure=exposure, seed=1)).rgb)
        for exposure in (1.0, 0.4)
    }
    assert seen[1.0].white > THRESHOLDS["dark"].note and seen[0.4].white < THRESHOLDS["dark"].stop


def test_a_grey_picture_and_a_face_over_the_edge_are_known(good):
    rgb, marks = good
    grey = np.repeat(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)[..., None], 3, 2)
    assert look_at(grey, marks).colour < THRESHOLDS["colour"].stop < THRESHOLDS["colour"].note < look_at(rgb, marks).colour
    assert not look_at(rgb, marks).cut
    cropped = np.ascontiguousarray(rgb[:, : int(marks.points["ex_left"][0]) + 4])
    assert look_at(cropped, locate(cropped)).cut


def distance(own, seen):
    return next(c for c in judge(seen, NEUTRAL, own=own) if c.id == "distance")


@pytest.mark.parametrize("name", ["aster", "fern", "gorse"])
def test_a_near_lens_is_noticed_and_nothing_else_is_taken_for_one(name):
    """From 30 cm the outline of a face is narrower against its eyes. A turn, a nod, light from one side or another tint do not make it so,
    and a lens further away than before is said too."""
    scene = Scene(identity=name, state="even", seed=2)
    before, near = (taken(scene, Variant(pixels=pixels), PORTRAITS)[1] for pixels in (lambda p: p.rgb, taken_from(300)))
    assert distance(before, near).weight != "fine" and "closer" in distance(before, near).found
    assert "further away" in distance(near, before).found
    for other in (Variant({"yaw_deg": 4.0}), Variant({"light": 0.45}), Variant(pixels=nodded(4)), VARIANTS["warm and dim"]):
        assert distance(before, taken(scene, other, PORTRAITS)[1]).weight == "fine"


@pytest.mark.parametrize("name", ["under-exposed, × 0.15", "grey", "a third outside", "one eye covered"])
def test_what_would_not_be_true_is_refused_or_not_read(name):
    found = taken(Scene(identity="birch", state="uneven", seed=1), VARIANTS[name], PORTRAITS)
    assert found is None or not found[0].keys() & set(TRUE) or standing(list(judge(found[1], NEUTRAL))) == Standing.RETAKE


@pytest.mark.parametrize("name", identities())
def test_no_view_of_the_protocol_is_taken_for_a_near_lens(name):
    """Each view of a sitting from one distance, held against its neutral one. Closed eyes and a lifted chin did move the outline so far."""
    own = look(Scene(identity=name, state="even", seed=2))
    for view, state in VIEW_STATES.items():
        if VIEWS[view].face is Face.FRONT:
            said = judge(look(Scene(identity=name, state=state, seed=3)), view, own=own)
            assert [c.found for c in said if c.id == "distance" and c.weight != "fine"] == []


def look(scene):
    rgb = shoot(scene).rgb
    return look_at(rgb, locate(rgb))
