"""Quality of a shot: each threshold speaks, in plain words, with what to change; and which view a shot shows."""

from dataclasses import asdict, replace
from datetime import datetime

import pytest

from dimbo.core.sittings.protocol import VIEWS, Face, Pose, suggest_view
from dimbo.core.sittings.quality import THRESHOLDS, Seen, Standing, judge, minutes_apart, standing, wrong_face
from tests.core.builders_sitting import MORNING, SEEN


def check(key, seen=SEEN, view="front-neutral", **what):
    return next(c for c in judge(seen, view, taken_at=MORNING, **what) if c.id == key)


def test_a_good_shot_is_fine_in_everything():
    checks = judge(SEEN, "front-neutral", own=SEEN, taken_at=MORNING, baseline_at=MORNING)
    assert {c.weight for c in checks} == {"fine"} and standing(checks) == Standing.ACCEPTED
    assert all(c.found and not c.change for c in checks)


@pytest.mark.parametrize(
    ("key", "what", "weight"),
    [
        ("turn", {"yaw_deg": 1.9}, "fine"),
        ("turn", {"yaw_deg": -2.1}, "watch"),
        ("turn", {"yaw_deg": 5.1}, "stop"),
        ("tilt", {"roll_deg": -5.1}, "watch"),
        ("size", {"iris_px": 20.5}, "fine"),
        ("size", {"iris_px": 19.0}, "watch"),
        ("size", {"iris_px": 11.9}, "stop"),
        ("sharp", {"sharp": 0.5}, "watch"),
        ("sharp", {"sharp": 0.2}, "stop"),
        ("highlights", {"highlights": 0.03}, "watch"),
        ("shadows", {"shadows": 0.12}, "stop"),
        ("light", {"light": -0.13}, "watch"),
        ("eyes", {"eye_trust": {"right": 0.2, "left": 0.9}}, "watch"),
        ("eyes", {"eye_trust": {"right": 0.2, "left": 0.1}}, "stop"),
        ("expression", {"lip_gap": 0.08}, "watch"),
        ("edge", {"cut": True}, "stop"),
        ("colour", {"colour": 0.3}, "stop"),
        ("colour", {"colour": 3.0}, "watch"),
        ("dark", {"white": 55.0}, "watch"),
        ("dark", {"white": 33.0}, "stop"),
    ],
)
def test_thresholds(key, what, weight):
    found = check(key, replace(SEEN, **what))
    assert found.weight == weight
    assert bool(found.change) is (weight != "fine")


def test_closed_eyes_show_no_white_and_are_not_called_dark():
    """Between closed lids lies skin: on dark skin it would be taken for too little light."""
    skin = replace(SEEN, white=33.0)
    assert "dark" not in {c.id for c in judge(skin, "eyes-closed", taken_at=MORNING)}
    blinked = replace(skin, eye_trust={"right": 0.1, "left": 0.1})
    assert "dark" not in {c.id for c in judge(blinked, "front-neutral", taken_at=MORNING)}
    assert check("dark", skin).weight == "stop"


@pytest.mark.parametrize(
    ("key", "what"),
    [
        ("nod", {"pitch_deg": SEEN.pitch_deg + 3.5}),
        ("distance", {"temples": SEEN.temples * 0.97}),
        ("expression", {"mouth": SEEN.mouth * 1.1}),
        ("expression", {"brow": SEEN.brow * 1.1}),
    ],
)
def test_some_things_show_only_against_the_clients_own_baseline(key, what):
    seen = replace(SEEN, **what)
    assert check(key, seen, own=SEEN).weight == "watch"
    assert all(c.id != key or c.weight == "fine" for c in judge(seen, "front-neutral", taken_at=MORNING))


def test_a_lifted_chin_is_no_fault_where_it_is_asked_for():
    lifted = replace(SEEN, pitch_deg=SEEN.pitch_deg - 20)
    assert check("nod", lifted, own=SEEN).weight == "stop"
    assert all(c.id != "nod" for c in judge(lifted, "chin-up", own=SEEN, taken_at=MORNING))


def test_sides_are_named():
    assert "client's right" in check("turn", replace(SEEN, yaw_deg=-3)).found
    assert check("light", replace(SEEN, light=0.3)).found.startswith("left cheek")
    assert "right eye" in check("eyes", replace(SEEN, eye_trust={"right": 0.1, "left": 1})).found
    assert "closer" in check("distance", replace(SEEN, temples=SEEN.temples * 0.95), own=SEEN).found


@pytest.mark.parametrize(("hour", "minute", "weight"), [(10, 40, "fine"), (10, 41, "watch"), (6, 30, "watch"), (7, 0, "fine")])
def test_two_hours_of_clock_time(hour, minute, weight):
    at = datetime(2026, 5, 1, hour, minute)
    found = next(c for c in judge(SEEN, "front-neutral", own=SEEN, taken_at=at, baseline_at=MORNING) if c.id == "clock")
    assert found.weight == weight


def test_clock_times_wrap_around_midnight():
    assert minutes_apart(datetime(2026, 1, 1, 23, 50), datetime(2026, 5, 1, 0, 20)) == 30


def test_an_untold_time_is_asked_for():
    found = next(c for c in judge(SEEN, "front-neutral") if c.id == "untimed")
    assert found.weight == "watch" and "Say when" in found.change


def test_the_most_useful_instruction_comes_first():
    checks = judge(replace(SEEN, yaw_deg=9, iris_px=8, light=0.2), "front-neutral", taken_at=MORNING)
    assert [c.id for c in checks[:3]] == ["turn", "size", "light"]
    assert standing(checks) == Standing.RETAKE
    assert standing(checks[2:]) == Standing.NOTED


def test_every_threshold_has_its_reason():
    assert all(len(t.reason) > 20 and t.unit for t in THRESHOLDS.values())


@pytest.mark.parametrize(
    ("view", "yaw", "stops"),
    [
        ("front-neutral", 3, False),
        ("front-neutral", 50, True),
        ("three-quarter-left", -45, False),
        ("three-quarter-left", 45, True),
        ("three-quarter-right", 2, True),
    ],
)
def test_a_view_from_the_wrong_side_is_said(view, yaw, stops):
    assert (wrong_face(replace(SEEN, yaw_deg=yaw), view) is not None) is stops


def test_a_profile_needs_no_face_and_a_front_view_does():
    assert wrong_face(None, "profile-left") is None
    assert "profile" in wrong_face(None, "front-neutral").change
    assert VIEWS["profile-left"].face is Face.PROFILE_LEFT


OWN = Pose(yaw_deg=0, eye_open=0.8, smile=1.55, brow=0.9, lips=0.6, lip_gap=0.0, pitch_deg=5.0)


@pytest.mark.parametrize(
    ("view", "what"),
    [
        ("front-neutral", {}),
        ("gentle-smile", {"smile": 1.85, "lips": 0.48, "eye_open": 0.72}),
        ("full-smile", {"smile": 2.1, "lips": 0.45, "eye_open": 0.62}),
        ("brows-raised", {"brow": 1.03}),
        ("eyes-wide", {"eye_open": 1.0}),
        ("lips-pressed", {"lips": 0.35, "smile": 1.9}),
        ("three-quarter-left", {"yaw_deg": -44}),
        ("three-quarter-right", {"yaw_deg": 44}),
        ("chin-up", {"pitch_deg": -15}),
    ],
)
def test_views_are_told_by_expression_and_turn(view, what):
    shown = Pose(**{f: getattr(OWN, f) for f in Pose.__slots__} | what)
    assert suggest_view(shown, OWN) == view


def test_closed_eyes_and_no_face():
    assert suggest_view(OWN, OWN, eyes_seen=False) == "eyes-closed"
    assert suggest_view(None) == "profile-left"


def test_numbers_that_an_earlier_method_kept_are_read_without_what_nobody_asks_for_any_more():
    assert Seen.kept(asdict(SEEN)) == SEEN
    older = {k: v for k, v in asdict(SEEN).items() if k != "temples"} | {"nose": 0.75}
    assert Seen.kept(older) == replace(SEEN, temples=None)
    assert all(c.id != "distance" for c in judge(Seen.kept(older), "front-neutral", own=SEEN)), "unknown is not another distance"


@pytest.mark.parametrize("view", ["eyes-closed", "chin-up"])
def test_views_that_move_the_outline_themselves_ask_for_no_distance(view):
    near = replace(SEEN, temples=SEEN.temples * 0.95)
    assert standing(judge(near, "front-neutral", own=SEEN)) == Standing.RETAKE
    assert all(c.id != "distance" for c in judge(near, view, own=SEEN))


def test_a_lens_further_away_is_said_but_is_no_reason_to_take_it_again():
    found = check("distance", replace(SEEN, temples=SEEN.temples * 1.06), own=SEEN)
    assert found.weight == "watch" and "further away" in found.found and "60 cm" in found.change
