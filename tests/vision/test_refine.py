"""The refinement on drawn eyes, brows and mouths, whose every edge is known to a fraction of a pixel."""

from dataclasses import replace
from itertools import pairwise, product

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.vision import refine
from dimbo.vision.landmarks import follow
from dimbo.vision.refine import _agreement
from dimbo.vision.refine.brow import brow_heights, brow_light
from dimbo.vision.refine.crop import BROW_PX_PER_MM, LIPS_PX_PER_MM, PX_PER_MM, SIDES, Crop, axis_and_scale, by_x, peaks, tukey
from dimbo.vision.refine.iris import Eye, iris_pair
from dimbo.vision.refine.lids import UPPER, eye_maps, lid_height
from dimbo.vision.refine.mouth import INNER, OUTER, _steepest, corner, mouth_map
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene

SKIN, WHITE, IRIS, BROW = (205, 160, 140), (238, 236, 234), (70, 48, 34), (60, 44, 36)
MM = PX_PER_MM
CENTRE = np.array([16.0, 14.0])
"""Middle of the drawn window in millimetres."""


def draw(top_mm=-4.0, bottom_mm=4.5, iris_mm=(0.0, 0.0), noise=1.5, seed=0, iris=IRIS):
    """An eye whose lids pass the iris's middle at the given heights (y down), at the windows' own resolution."""
    big = 8  # drawn large and averaged down, so that edges fall between pixels
    w, h = int(32 * MM) + 1, int(28 * MM) + 1
    yy, xx = (np.mgrid[0 : h * big, 0 : w * big] + 0.5) / big
    x, y = (xx - 0.5) / MM - CENTRE[0], (yy - 0.5) / MM - CENTRE[1]
    opening = np.clip(1 - (x / 13.0) ** 2, 0, None)
    inside = (y > top_mm * opening) & (y < bottom_mm * opening) & (opening > 0)
    picture = np.empty((*x.shape, 3), np.float32)
    picture[:] = SKIN
    picture[inside] = WHITE
    picture[inside & (np.hypot(x - iris_mm[0], y - iris_mm[1]) < 5.85)] = iris
    small = picture.reshape(h, big, w, big, 3).mean((1, 3))
    small += np.random.default_rng(seed).normal(0, noise, (h, w, 1))
    return np.clip(small, 0, 255).astype(np.uint8)


def window(rgb, mm=MM):
    """The drawn picture as a window of its own size, without any turning."""
    crop = object.__new__(Crop)
    crop.mm, crop.width, crop.height = mm, rgb.shape[1], rgb.shape[0]
    crop._to = crop._back = np.array([[1.0, 0, 0], [0, 1.0, 0]])
    crop.lab = cv2.cvtColor(cv2.GaussianBlur(rgb.astype(np.float32) / 255, (0, 0), 0.18 * mm), cv2.COLOR_RGB2LAB)
    return crop


def lids(crop, top_mm, bottom_mm):
    xs = np.linspace(CENTRE[0] - 12, CENTRE[0] + 12, 9) * MM
    bow = 1 - ((xs / MM - CENTRE[0]) / 13) ** 2
    return (xs, (CENTRE[1] + top_mm * bow) * MM), (xs, (CENTRE[1] + bottom_mm * bow) * MM)


def eye(rgb, off=(0.0, 0.0), top=-4.0, bottom=4.5):
    crop = window(rgb)
    upper, lower = lids(crop, top, bottom)
    return Eye(crop=crop, centre=(CENTRE + np.array(off)) * MM, radius=5.6 * MM, upper=upper, lower=lower)


@pytest.mark.parametrize("at", [(0.0, 0.0), (0.6, -0.4), (-0.5, 0.5)])
def test_the_iris_is_found_where_it_is_and_not_where_the_detector_put_it(at):
    eyes = {side: eye(draw(iris_mm=at, seed=k), off=(0.4, 0.9)) for k, side in enumerate(("right", "left"))}
    found, radius = iris_pair(eyes)
    assert radius / MM == pytest.approx(5.85, abs=0.12)
    for centre, trust in found.values():
        assert (centre / MM - CENTRE) == pytest.approx(np.array(at), abs=0.15)
        assert trust > 0.9


def test_a_covered_iris_has_little_trust_and_borrows_the_common_offset():
    seen, covered = draw(seed=1), draw(top_mm=1.5, seed=2)
    eyes = {"right": eye(covered, off=(0.0, 0.8), top=1.5), "left": eye(seen, off=(0.0, 0.8))}
    found, _ = iris_pair(eyes)
    assert found["left"][1] > found["right"][1]
    assert found["right"][0][1] / MM - CENTRE[1] < 0.8, "the detector's slide is taken back at least in part"


@pytest.mark.parametrize(("top", "bottom"), [(-4.0, 4.5), (-3.2, 4.5), (-4.8, 3.9), (-2.6, 5.0)])
def test_lid_margins_are_found_to_a_tenth_of_a_millimetre(top, bottom):
    crop = window(draw(top, bottom))
    upper, lower = lids(crop, -3.6, 4.3)  # the detector's lids, which follow but half the way
    maps = eye_maps(crop, CENTRE * MM, 5.85 * MM, upper, lower)
    assert maps is not None
    above, sure_above = lid_height(maps[0], CENTRE * MM, 5.85 * MM, upper, upper=True)
    below, sure_below = lid_height(maps[1], CENTRE * MM, 5.85 * MM, lower, upper=False)
    assert above / MM - CENTRE[1] == pytest.approx(top, abs=0.15)
    assert below / MM - CENTRE[1] == pytest.approx(bottom, abs=0.15)
    assert min(sure_above, sure_below) > 0.03


def with_lashes(rgb, top_mm, long_mm, every_mm=1.0, colour=(44, 34, 28)):
    """Dark strokes that stand on the upper margin, with skin to be seen between them unless they stand close."""
    out, rng = rgb.copy(), np.random.default_rng(4)
    for x_mm in np.arange(-11, 11, every_mm):
        y_mm = top_mm * max(1 - (x_mm / 13.0) ** 2, 0)
        foot, tip = (np.array([x_mm, y_mm]), np.array([x_mm * 1.12, y_mm - long_mm * rng.uniform(0.7, 1.1)]))
        ends = [tuple(int(v) for v in (CENTRE + p) * MM) for p in (foot, tip)]
        cv2.line(out, ends[0], ends[1], colour, 2, cv2.LINE_AA)
    return out


@pytest.mark.parametrize("top", [-4.0, -2.8])
@pytest.mark.parametrize("long_mm", [0.6, 1.5, 3.0])
def test_a_margin_is_found_under_its_lashes(top, long_mm):
    crop = window(with_lashes(draw(top, 4.5), top_mm=top, long_mm=long_mm))
    upper, lower = lids(crop, top - 1.4, 4.3)  # the detector's lid lies in the lashes
    above, sure = lid_height(eye_maps(crop, CENTRE * MM, 5.85 * MM, upper, lower)[0], CENTRE * MM, 5.85 * MM, upper, upper=True)
    assert above / MM - CENTRE[1] == pytest.approx(top, abs=0.4), "the detector is off by 1.4"
    assert sure > 0.016


@pytest.mark.parametrize("iris", [(112, 140, 170), (120, 142, 104)])
@pytest.mark.parametrize("top", [-4.0, -2.8])
def test_lashes_that_stand_close_before_a_light_iris_are_told_by_their_colour(iris, top):
    crop = window(with_lashes(draw(top, 4.5, iris=iris), top_mm=top, long_mm=1.8, every_mm=0.4, colour=(112, 78, 54)))
    upper, lower = lids(crop, top - 1.0, 4.3)
    above, sure = lid_height(eye_maps(crop, CENTRE * MM, 5.85 * MM, upper, lower)[0], CENTRE * MM, 5.85 * MM, upper, upper=True)
    assert above / MM - CENTRE[1] == pytest.approx(top, abs=0.4), "they are 1.8 long"
    assert sure > 0.016


def drawn_map(height_mm, tilt_mm=0.0, sag_mm=0.0, upper=True):
    """A map whose eye ends at a lid's curve, tilted and sagged over the iris's radius, drawn to a fraction of a pixel."""
    rows, columns = np.arange(169.0)[:, None], np.arange(193.0)[None]
    x = columns / MM - CENTRE[0]
    t = x / 5.85
    edge = (CENTRE[1] + height_mm * np.clip(1 - (x / 13.0) ** 2, 0, None) + tilt_mm * t + sag_mm * t**2) * MM
    return np.clip((rows - edge if upper else edge - rows) + 0.5, 0, 1).astype(np.float32)


def test_the_dark_rim_of_an_iris_that_stands_clear_of_the_lid_is_not_the_lid():
    """A light iris with a dark rim, nine tenths of a millimetre of white in the lid's shade under it."""
    bottom, radius = 6.75, 5.85
    eye = draw(-4.0, bottom, iris=(120, 150, 175)).astype(float)
    yy, xx = np.mgrid[0 : eye.shape[0], 0 : eye.shape[1]]
    x, y = xx / MM - CENTRE[0], yy / MM - CENTRE[1]
    opening = np.clip(1 - (x / 13.0) ** 2, 0, None)
    inside = (y > -4.0 * opening) & (y < bottom * opening)
    eye[inside & (np.abs(np.hypot(x, y) - radius) < 0.45)] = (48, 44, 42)
    eye *= 1 - np.where(inside, 0.3 * np.clip((y - 2) / (bottom - 2), 0, 1), 0)[..., None]
    crop = window(cv2.GaussianBlur(eye.astype(np.uint8), (0, 0), 1.0))
    upper, lower = lids(crop, -3.6, bottom - 0.6)
    maps = eye_maps(crop, CENTRE * MM, radius * MM, upper, lower)
    below, sure = lid_height(maps[1], CENTRE * MM, radius * MM, lower, upper=False)
    assert below / MM - CENTRE[1] == pytest.approx(bottom, abs=0.15)
    assert sure > 0.03


def test_of_two_edges_alike_neither_is_trusted():
    one, two = drawn_map(-3.0), (drawn_map(-3.0) + drawn_map(-5.0)) / 2
    base = lids(None, -4.0, -4.0)[0]
    sure, unsure = (lid_height(m, CENTRE * MM, 5.85 * MM, base, upper=True)[1] for m in (one, two))
    assert sure > 0.032 > 0.02 > unsure


@pytest.mark.parametrize("upper", [True, False])
@pytest.mark.parametrize(("height", "tilt", "sag"), [(-4.03, 0, 0.2), (-2.47, 0.4, 0.1), (-5.2, -0.4, 0.3), (-3.6, 0, 0)])
def test_a_drawn_margin_is_found_wherever_the_detector_put_it(upper, height, tilt, sag):
    sign = 1 if upper else -1
    of_map = drawn_map(sign * height, tilt_mm=sign * tilt, sag_mm=sign * sag, upper=upper)
    for off in (-1.2, 0.0, 1.2):
        base = lids(None, sign * (height + off), sign * (height + off))[0]
        found, evidence = lid_height(of_map, CENTRE * MM, 5.85 * MM, base, upper=upper)
        # A fifth of what is left between the coarse line and the margin stays, by the belief in the coarse line.
        assert found / MM - CENTRE[1] == pytest.approx(sign * height, abs=0.16)
        assert evidence > 0.032


def test_the_other_lids_edge_and_an_edge_out_of_reach_are_no_margin():
    of_map, base = drawn_map(-4.0), lids(None, -4.0, -4.0)[0]
    assert lid_height(of_map, CENTRE * MM, 5.85 * MM, base, upper=False)[1] == 0
    far = lids(None, 5.5, 5.5)[0]
    assert lid_height(of_map, CENTRE * MM, 5.85 * MM, far, upper=True)[1] < 0.012
    near_sighted = replace(UPPER, reach_mm=0.2, fit_mm=0.2, slopes_mm=(0, 0.3), bends_mm=(0, 0.35), arches_mm=(0.0, 0.0, 0.2))
    off = (base[0], base[1] + 1.4 * MM)
    assert lid_height(of_map, CENTRE * MM, 5.85 * MM, off, upper=True, tuning=near_sighted)[1] < 0.012


def test_of_an_eye_that_is_turned_away_nothing_is_read():
    of_map = drawn_map(-4.0)
    xs = np.linspace(CENTRE[0] - 3, CENTRE[0] + 3, 9) * MM
    narrow = (xs, np.full(9, (CENTRE[1] - 4.0) * MM))
    beside = (xs + 8 * MM, narrow[1])
    for base in (narrow, beside):
        height, evidence = lid_height(of_map, CENTRE * MM, 5.85 * MM, base, upper=True)
        assert evidence == 0 and np.isfinite(height)


def test_without_any_edge_there_is_no_evidence():
    flat = np.full((169, 193, 3), SKIN, np.uint8)
    crop = window(flat)
    upper, lower = lids(crop, -4.0, 4.5)
    assert eye_maps(crop, CENTRE * MM, 5.85 * MM, upper, lower) is None


@pytest.mark.parametrize(("thick", "up"), [(3.0, 0.0), (5.0, 0.7), (4.0, -0.6)])
def test_the_middle_of_a_brow_is_read_whatever_its_thickness_and_at_every_place(thick, up):
    mm = BROW_PX_PER_MM
    rgb = np.full((round(40 * mm), round(42 * mm), 3), SKIN, np.uint8)
    middle = (12 - up) * mm
    first, last = round(middle - thick * mm / 2), round(middle + thick * mm / 2)
    rgb[first:last, round(7 * mm) :] = BROW
    mesh = np.zeros((478, 3))
    for ids, y in ((SIDES["left"].brow_top, 9.7), (SIDES["left"].brow_bottom, 13.7)):
        mesh[list(ids), 0], mesh[list(ids), 1] = np.linspace(10, 40, 5) * mm, y * mm
    ids = list(SIDES["left"].upper_lid)
    mesh[ids, 0], mesh[ids, 1] = np.linspace(10, 40, len(ids)) * mm, 33.3 * mm
    crop = window(rgb, mm)
    heights, dark = brow_heights(crop, brow_light(crop), SIDES["left"], mesh, np.array([13.3, 30.0]) * mm, [4.0, 9.3, 15.0])
    assert heights / mm == pytest.approx((first + last - 1) / 2 / mm, abs=0.12)
    assert (dark > 10).all()


def test_places_of_a_brow_are_read_as_if_each_stood_alone():
    rng = np.random.default_rng(5)
    rgb = cv2.GaussianBlur(rng.integers(0, 255, (120, 126, 3)).astype(np.uint8), (0, 0), 4)
    mesh = np.zeros((478, 3))
    for ids, y in ((SIDES["left"].brow_top, 29), (SIDES["left"].brow_bottom, 41), (SIDES["left"].upper_lid, 100)):
        mesh[list(ids), 0], mesh[list(ids), 1] = np.linspace(30, 120, len(ids)), y
    crop = window(rgb, BROW_PX_PER_MM)
    where = [-6.0, 9.3, 17.0]
    together = brow_heights(crop, brow_light(crop), SIDES["left"], mesh, np.array([40.0, 90.0]), where)
    for n, place in enumerate(where):
        alone = brow_heights(crop, brow_light(crop), SIDES["left"], mesh, np.array([40.0, 90.0]), [place])
        assert [alone[0][0], alone[1][0]] == pytest.approx([together[0][n], together[1][n]])


def test_a_window_is_upright_and_maps_there_and_back():
    mesh = np.zeros((478, 3))
    for name, side in SIDES.items():
        x = 400 if name == "left" else 200
        mesh[side.ring[0], :2], mesh[side.ring[1], :2] = (x - 20, 300), (x + 20, 300)
    mesh[33, :2], mesh[133, :2], mesh[362, :2], mesh[263, :2] = (150, 310), (250, 302), (350, 298), (450, 290)
    axis, mm_per_px = axis_and_scale(mesh)
    assert np.linalg.norm(axis) == pytest.approx(1) and axis[1] < 0, "the client's left eye is higher in the picture"
    assert mm_per_px == pytest.approx(11.7 / 40)
    crop = Crop(np.zeros((600, 600, 3), np.uint8), np.array([300.0, 300.0]), axis, mm_per_px, (16.0, 14.0))
    points = np.array([[310.5, 280.25], [290.0, 333.0]])
    assert crop.back(crop.to(points)) == pytest.approx(points)
    level = crop.to(np.array([[300.0, 300.0], [300.0 + 50 * axis[0], 300.0 + 50 * axis[1]]]))
    assert level[1, 1] == pytest.approx(level[0, 1], abs=1e-6)
    assert level[1, 0] - level[0, 0] == pytest.approx(50 * mm_per_px * PX_PER_MM)


def test_small_tools():
    at, top = peaks(np.array([[0.0, 1.0, 3.0, 2.0, 0.0], [5.0, 1.0, 0.0, 0.0, 0.0]]))
    assert at[0] == pytest.approx(2 + 1 / 6) and at[1] == 0 and top.tolist() == [3.0, 5.0]
    assert tukey(np.array([0.0, 1.0, 2.0]), 2.0).tolist() == [1.0, 0.5625, 0.0]
    xs, ys = by_x(np.array([[3.0, 1.0], [1.0, 2.0]]))
    assert xs.tolist() == [1.0, 3.0] and ys.tolist() == [2.0, 1.0]


@pytest.mark.parametrize(("seen_mm", "mesh_mm", "share"), [(0.0, 0.0, 1.0), (0.8, 0.5, 1.0), (1.2, 0.0, 0.0), (0.6, 0.0, None)])
def test_a_difference_of_the_sides_that_the_mesh_knows_nothing_of_takes_trust(seen_mm, mesh_mm, share):
    """The mesh shows half of a true difference of the corners: 0.8 mm with 0.5 mm there is one, 1.2 mm with nothing is shade."""
    mesh = np.zeros((478, 3))
    mesh[61], mesh[291] = (40.0, 80.0, 0), (60.0, 80.0 - mesh_mm, 0)
    points = {"ch_right": (40.0, 80.0), "ch_left": (60.0, 80.0 - seen_mm)}
    found = _agreement("ch", points=points, mesh=mesh, up=np.array([0.0, -1.0]))
    assert 0 < found < 1 if share is None else found == share


def test_that_trust_is_taken_of_both_sides(monkeypatch):
    rgb = shoot(Scene(identity="aster", seed=1)).rgb
    mesh = follow(rgb)
    before = refine.refine(rgb, mesh).trust
    monkeypatch.setattr(refine, "_agreement", lambda name, **_: 0.25 if name == "ch" else 1.0)
    after = refine.refine(rgb, mesh).trust
    for side in ("right", "left"):
        assert before[f"ch_{side}"] > 0.5 and after[f"ch_{side}"] <= 0.25 and after[f"ps_{side}"] >= before[f"ps_{side}"]


# ---------------------------------------------------------------- the mouth
LIP, UPPER_LIP, WIDE_MM, LIPS = (176, 104, 100), (132, 74, 72), 25.0, LIPS_PX_PER_MM


def mouth(bow_mm=0.0, shade=0.0, seed=0):
    """A window with a drawn mouth, its upper lip in shade and no darker line between the lips; the mesh that lies on it; where its
    corners are, millimetres from the middle. ``bow_mm``: how far the middle of the line hangs below its ends."""
    w, h = int(68 * LIPS) + 1, int(38 * LIPS) + 1
    yy, xx = np.mgrid[0 : h * 4, 0 : w * 4] / 4.0
    x, y = xx / LIPS - 34.0, yy / LIPS - 19.0
    arch = np.clip(1 - (x / WIDE_MM) ** 2, 0, None)
    line = bow_mm * arch
    picture = np.empty((*x.shape, 3), np.float32)
    picture[:] = SKIN
    picture[(y > line - 6 * arch) & (y <= line) & (arch > 0)] = UPPER_LIP
    picture[(y > line) & (y < line + 9 * arch) & (arch > 0)] = LIP
    small = picture.reshape(h, 4, w, 4, 3).mean((1, 3))
    small *= 1 + shade / 2 * np.linspace(-1, 1, w)[None, :, None]
    small += np.random.default_rng(seed).normal(0, 1.5, (h, w, 1))
    mesh = np.zeros((478, 3))
    for ring, up, down in ((OUTER, 6.0, 9.0), (INNER, 0.2, 0.2)):
        for n, point in enumerate(ring):  # from the right corner over the lower lip, or the upper, to the left one and back
            share = -1 + 2 * n / 10 if n <= 10 else 1 - 2 * (n - 10) / 10
            edge = (1 - share**2) * (bow_mm + (down if n > 10 else -up))
            mesh[point, :2] = [(34.0 + share * WIDE_MM) * LIPS + 0.5, (19.0 + edge) * LIPS + 0.5]
    return window(np.clip(small, 0, 255).astype(np.uint8), LIPS), mesh


@pytest.mark.parametrize("bow_mm", [-1.5, 0.0, 2.5])
@pytest.mark.parametrize("shade", [0.0, 0.6, -0.6])
@pytest.mark.parametrize("off_mm", [(0.0, 0.0), (1.5, -1.5)])
def test_a_mouth_corner_is_where_the_line_between_the_lips_ends(bow_mm, shade, off_mm):
    crop, mesh = mouth(bow_mm, shade)
    found = mouth_map(crop, mesh)
    for side in SIDES.values():
        mesh[side.corner, :2] += np.array(off_mm) * LIPS
        at, trust = corner(crop, found, mesh, side)
        assert trust > 0.9
        assert at / LIPS - [34.0, 19.0] == pytest.approx([side.lateral * WIDE_MM, 0.0], abs=1.0)
        assert at[1] / LIPS - 19.0 == pytest.approx(0.0, abs=0.35), "neither the edge of the dark upper lip nor that of the lower one"


def test_both_corners_of_an_even_mouth_stand_level_in_light_from_one_side():
    for shade in (0.6, -0.6):
        crop, mesh = mouth(1.0, shade)
        found = mouth_map(crop, mesh)
        heights = [corner(crop, found, mesh, side)[0][1] / LIPS for side in SIDES.values()]
        assert abs(heights[0] - heights[1]) < 0.15


def test_without_lips_there_is_no_corner():
    crop, mesh = mouth()
    found = mouth_map(crop, mesh)
    bare = replace(found, lip=np.zeros_like(found.lip), even=np.zeros_like(found.even))
    assert corner(crop, bare, mesh, SIDES["left"]) is None


@given(st.integers(2, 5), st.integers(2, 6), st.integers(0, 10**6), st.sampled_from([0.0, 0.25, 1.0]))
def test_the_steepest_path_is_the_best_of_all_paths(rows, columns, seed, steady):
    gain = np.random.default_rng(seed).uniform(0, 3, (rows, columns))

    def worth(path):
        return sum(gain[r, n] for n, r in enumerate(path)) - steady * sum(a != b for a, b in pairwise(path))

    every = [p for p in product(range(rows), repeat=columns) if all(abs(a - b) <= 1 for a, b in pairwise(p))]
    assert worth(_steepest(gain, steady)) == pytest.approx(max(map(worth, every)))
