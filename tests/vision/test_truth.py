"""Measured against the truth of made-up heads: sides, signs, scale, noise. The same functions as studies/truth.py, on fewer shots."""

import cv2
import numpy as np
import pytest

from dimbo.core.anatomy import Side
from dimbo.core.sittings.reading_table import READINGS
from dimbo.core.sittings.shot import NEEDED_TRUST
from dimbo.vision import landmarks
from dimbo.vision.detector import MIRROR, looking_at
from dimbo.vision.landmarks import PASSES, POINTS, follow, locate
from dimbo.vision.refine import BROW_MM, refine
from dimbo.vision.stand_in_camera import lower_side, shoot
from dimbo.vision.terms import NEUTRAL, PORTRAITS, VIEW_STATES, FaceError, Nudge, Scene, identities
from studies.trials import TRUE, read_marks, sitting_scenes, trials, uneven_scenes
from studies.truth import alarms, slope_table, turned

HEADS = ("aster", "dahlia", "elder", "hazel")


@pytest.fixture(scope="module")
def uneven():
    """Every state of four heads, with lids, brows and corners moved by known amounts."""
    return trials(uneven_scenes(HEADS, [1, 2, 3]), PORTRAITS, workers=1)


@pytest.fixture(scope="module")
def retaken():
    """Two heads, four sittings of two shots each, nothing changed."""
    return {name: [trials(sitting_scenes(name, n, 2), PORTRAITS, workers=1) for n in range(4)] for name in ("aster", "fern")}


@pytest.mark.parametrize("key", TRUE)
def test_differences_follow_the_truth_with_slope_one(uneven, key):
    row = next(r for r in slope_table(uneven) if r[:2] == (key, "all"))
    _, _, count, slope, bias, sd, covered = row
    assert count >= 12
    assert 0.85 < slope < 1.15, "swapped sides would turn the sign, a broken scale the size"
    assert abs(bias) < 0.35 and sd < 0.40
    assert covered >= 0.85, "bands half as wide would leave more outside"


def test_bands_are_not_wider_than_they_need_to_be(uneven):
    for key in TRUE:
        errors = np.array([t.found[key].value - t.true[key] for t in uneven if key in t.found])
        assert READINGS[key].noise.of_one(1) < 5 * errors.std()


def test_the_lower_side_is_found_on_every_head(uneven):
    assert {lower_side(name) for name in HEADS} == set(Side)
    for name in HEADS:
        mine = [t for t in uneven if t.scene.identity == name and t.scene.state == "uneven"]
        assert mine
        for t in mine:
            if abs(t.true["fissure_height"]) > 1 and "fissure_height" in t.found:
                assert np.sign(t.found["fissure_height"].value) == np.sign(t.true["fissure_height"])


def test_retaking_an_unchanged_face_raises_few_alarms(retaken):
    counts = [alarms(sittings) for sittings in retaken.values()]
    wrong = sum(w for c in counts for w, _ in c.values())
    pairs = sum(n for c in counts for _, n in c.values())
    assert pairs > 60 and wrong / pairs <= 0.08, "bands half as wide would alarm in a quarter"


def test_turn_is_estimated_and_turning_back_mends_distances_across_the_face():
    rows = [r for r in turned() if r[0] in ("aster", "birch") and abs(r[1]) == 4]
    assert len(rows) == 4
    for _, true, estimated, _ in rows:
        assert estimated == pytest.approx(true, abs=1.2)

    def error(key, k):
        return np.sqrt(np.mean([(r[3][key][k] - r[3][key][0]) ** 2 for r in rows if key in r[3]]))

    for key in ("jaw_width", "midline_ls"):
        assert error(key, 2) < 0.6 * error(key, 1)


def test_a_nudged_place_lands_where_it_is_moved_to_and_what_is_read_by_hand_would_not_have_seen_it():
    plain = shoot(Scene(identity="aster", repose=0, grain=0))
    before = locate(plain.rgb)
    wing, lip = (before.points[n] for n in ("al_left", "ls"))
    nudges = tuple(Nudge(at=at, by_mm=(0.0, up), size_mm=(9.0, tall)) for at, up, tall in ((wing, -1.5, 9.0), (lip, 1.0, 4.0)))
    moved = trials([Scene(identity="aster", repose=0, grain=0, nudges=nudges)], PORTRAITS, workers=1)[0]
    still = trials([Scene(identity="aster", repose=0, grain=0)], PORTRAITS, workers=1)[0]
    assert moved.found["upper_vermilion"].value - still.found["upper_vermilion"].value > 0.5, (
        "a millimetre of lip is seen for the most part"
    )
    assert abs(moved.alone["alar_height"].value - still.alone["alar_height"].value) < 0.5, "a wing that sinks by 1.5 mm is not"
    assert "alar_height" not in moved.found, "so nothing is said of it"


@pytest.mark.parametrize("name", identities())
def test_an_even_mouth_is_read_as_even_on_every_skin_and_in_every_light(name):
    scenes = [Scene(identity=name, state="even", seed=n, light=light) for n, light in enumerate((0.0, 0.6, -0.6))]
    found = [t.found["commissure_height"].value for t in trials(scenes, PORTRAITS, workers=1)]
    assert max(map(abs, found)) < 0.25


def test_a_smile_is_read_on_every_skin():
    for name in identities():
        trust = locate(shoot(Scene(identity=name, state="smile", seed=1)).rgb).trust
        assert min(trust["ch_right"], trust["ch_left"]) >= NEEDED_TRUST["ch"]


@pytest.mark.parametrize("name", identities())
def test_of_pressed_lips_a_corner_far_out_in_the_fold_beside_them_is_not_believed(name):
    for seed in (1, 2):
        picture = shoot(Scene(identity=name, state="pressed", seed=seed))
        marks = locate(picture.rgb)
        for side, out in (("right", -1), ("left", 1)):
            beyond = out * (marks.points[f"ch_{side}"][0] - picture.points[f"ch_{side}"][0]) / picture.pixels_per_mm
            assert beyond < 2.0 or marks.trust[f"ch_{side}"] < NEEDED_TRUST["ch"]


def test_the_scale_is_that_of_the_head():
    for name in HEADS:
        shot = shoot(Scene(identity=name, state="even", seed=3))
        assert locate(shot.rgb).iris_px / 11.7 == pytest.approx(shot.pixels_per_mm, rel=0.05)


def test_the_mirrored_photograph_reads_the_mirrored_face():
    rgb = shoot(Scene(identity="aster", state="uneven", seed=3)).rgb
    here = read_marks(locate(rgb), rgb)
    mirror = np.ascontiguousarray(rgb[:, ::-1])
    there = read_marks(locate(mirror), mirror)
    for key in TRUE:
        assert there[key].value == pytest.approx(-here[key].value, abs=0.15)
        assert there[key].left == pytest.approx(here[key].right, abs=0.2)


def test_the_same_picture_always_reads_the_same():
    rgb = shoot(Scene(identity="birch", state="uneven", seed=3)).rgb
    assert locate(rgb) == locate(rgb)


def test_refined_points_say_how_far_to_trust_them():
    open_eyes, closed = (shoot(Scene(identity="gorse", state=state, seed=1, repose=0)).rgb for state in ("even", "closed"))
    sure, unsure = (refine(rgb, follow(rgb)).trust for rgb in (open_eyes, closed))
    for side in Side:
        assert sure[f"pu_{side}"] > 0.9 > 0.3 > unsure[f"pu_{side}"]
        assert all(sure[f"{p}_{side}"] > 0.5 for p in ("ps", "pi", *BROW_MM))
    grey = np.full((900, 700, 3), 128, np.uint8)
    nothing = refine(grey, follow(open_eyes) * np.array([700 / 900, 900 / 1200, 1.0]))
    assert max(nothing.trust[p] for p in ("ps_right", "bp_left", "ch_left")) < 0.5, "no evidence, no trust"


def test_every_view_of_every_head_can_be_photographed():
    for name in identities():
        for state in (*NEUTRAL, *VIEW_STATES.values()):
            assert shoot(Scene(identity=name, state=state)).rgb.std() > 10


def test_a_reading_that_finds_nothing_costs_its_partner_and_not_the_photograph(monkeypatch):
    rgb, looks, lost = shoot(Scene(identity="aster", state="even", seed=1)).rgb, [], []

    def blinking(picture, side):
        look = looking_at(picture, side)

        def sometimes(passes):
            first = len(looks)
            looks.extend(passes)
            return [None if first + n in lost else mesh for n, mesh in enumerate(look(passes))]

        return sometimes

    whole = follow(rgb)
    monkeypatch.setattr(landmarks, "looking_at", blinking)
    for place in (3, 0, 1):  # one of a square's, and either of the two that find the face
        looks.clear()
        lost[:] = [place]
        assert np.abs(follow(rgb) - whole).mean() < 0.5
        assert len(looks) == PASSES
    only_first = iter([True, False])
    monkeypatch.setattr(
        landmarks,
        "looking_at",
        lambda picture, side: looking_at(picture, side) if next(only_first) else lambda passes: [None] * len(passes),
    )
    with pytest.raises(FaceError, match="could not be followed"):
        follow(rgb)
    monkeypatch.setattr(landmarks, "looking_at", lambda picture, side: lambda passes: [None] * len(passes))
    with pytest.raises(FaceError, match="No face"):
        follow(rgb)


def test_no_face_is_said():
    with pytest.raises(FaceError, match="No face"):
        locate(np.full((600, 500, 3), 90, np.uint8))
    with pytest.raises(FaceError, match="nearly black") as found:
        locate(np.full((600, 500, 3), 3, np.uint8))
    assert not found.value.nobody, "a black picture is no profile"


def test_sides_of_the_points_are_each_others_partners():
    for name, index in POINTS.items():
        if name.endswith("_right"):
            assert MIRROR[index] == POINTS[name.replace("_right", "_left")]
    assert (MIRROR[MIRROR] == np.arange(len(MIRROR))).all()


@pytest.mark.parametrize("part", ["lid_mm", "brow_mm", "corner_mm"])
def test_the_cameras_warps_move_the_pixels_as_its_truth_says(part):
    point = {"lid_mm": "ps_left", "brow_mm": "bp_left", "corner_mm": "ch_left"}[part]
    still = shoot(Scene(identity="fern", state="even", repose=0, grain=0))
    moved = shoot(Scene(identity="fern", state="even", repose=0, grain=0, **{part: (0, -1.5)}))
    x, y = still.points[point]
    dy = moved.points[point][1] - y
    assert dy == pytest.approx(1.5 * still.pixels_per_mm, rel=0.05)
    patch = still.rgb[int(y) - 6 : int(y) + 7, int(x) - 14 : int(x) + 15]
    search = moved.rgb[int(y) - 25 : int(y) + 26, int(x) - 18 : int(x) + 19]
    best = cv2.minMaxLoc(cv2.matchTemplate(search, patch, cv2.TM_CCOEFF_NORMED))[3]
    assert best[1] - 19 == pytest.approx(dy, abs=2.0)
    assert moved.points["ps_right"] == pytest.approx(still.points["ps_right"], abs=0.1)


@pytest.mark.parametrize("turn", [-4.0, 4.0])
def test_when_a_head_turns_its_irises_stay_round_and_neither_tilts_the_level(turn):
    """Eyes look into the lens whichever way the head stands. Irises that were drawn out with the face tilted the level that all is
    measured from."""
    still = shoot(Scene(identity="cedar", state="even", repose=0, grain=0))
    turned = shoot(Scene(identity="cedar", state="even", repose=0, grain=0, yaw_deg=turn))
    for side in ("right", "left"):
        (x, y), (at, level) = still.points[f"pu_{side}"], turned.points[f"pu_{side}"]
        assert abs(at - x) > 3 * still.pixels_per_mm, "the head did turn"
        assert level == pytest.approx(y, abs=1e-6)
        half = round(4 * still.pixels_per_mm)
        before, after = (rgb[int(y) - half : int(y) + half, int(c) - half : int(c) + half] for rgb, c in ((still.rgb, x), (turned.rgb, at)))
        assert cv2.matchTemplate(after, before[2:-2, 2:-2], cv2.TM_CCOEFF_NORMED).max() > 0.99
    scenes = [Scene(identity="cedar", state="uneven", yaw_deg=t) for t in (0.0, turn)]
    level, other = (t.found["brow_height"].value for t in trials(scenes, PORTRAITS, workers=1))
    assert other == pytest.approx(level, abs=0.3)
