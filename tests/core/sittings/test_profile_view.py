"""Profiles: noise of setting the points, what changed, and where missing points may be."""

import math

import pytest

from dimbo.core.sittings.profile_view import (
    SETTING_DF,
    SETTING_SD,
    measure_profile,
    profile_changes,
    setting_noise,
    suggested,
)

LEFT = {
    "sn": (300.0, 500.0),
    "pog": (280.0, 700.0),
    "me": (310.0, 760.0),
    "cp": (480.0, 790.0),
    "tragus": (560.0, 470.0),
    "lobe": (555.0, 540.0),
    "c7": (760.0, 900.0),
}


def shifted(**moves):
    return {n: (x + moves.get(n, (0, 0))[0], y + moves.get(n, (0, 0))[1]) for n, (x, y) in LEFT.items()}


def test_without_a_second_setting_the_shipped_noise_counts():
    noise = setting_noise([])
    assert {k: n.sd for k, n in noise.items()} == pytest.approx(SETTING_SD)
    assert all(n.pictures == 0 and n.df == SETTING_DF for n in noise.values())
    assert noise["cervicomental_angle"].band > 1.96 * SETTING_SD["cervicomental_angle"], "few degrees of freedom widen it"


def test_a_careful_hand_earns_a_narrower_band_and_a_careless_one_a_wider():
    careful = setting_noise([(LEFT, shifted(me=(0.5, 0.5)))] * 20)["cervicomental_angle"]
    careless = setting_noise([(LEFT, shifted(me=(18, -14), cp=(-10, 16)))] * 20)["cervicomental_angle"]
    assert careful.pictures == 20 and careful.sd < 0.6 * SETTING_SD["cervicomental_angle"] < careless.sd
    assert careful.of_change == pytest.approx(careful.band * math.sqrt(2))


def test_a_picture_set_again_in_part_tells_of_the_readings_that_it_has_twice():
    noise = setting_noise([(LEFT, {n: LEFT[n] for n in ("c7", "tragus")})])
    assert noise["craniovertebral_angle"].pictures == 1 and noise["cervicomental_angle"].pictures == 0


def test_a_change_is_one_only_beyond_the_noise_of_setting():
    noise = setting_noise([])
    little, much = (profile_changes(LEFT, shifted(c7=(0, dy)), noise) for dy in (4, 60))
    by_id = {c.reading.id: c for c in little}
    assert not by_id["craniovertebral_angle"].beyond and "no change beyond the noise" in by_id["craniovertebral_angle"].sentence
    by_id = {c.reading.id: c for c in much}
    assert by_id["craniovertebral_angle"].beyond
    assert by_id["craniovertebral_angle"].sentence.startswith("Head-neck angle: larger, beyond the noise")
    assert "promise" not in by_id["craniovertebral_angle"].sentence and "held" in by_id["craniovertebral_angle"].sentence
    assert profile_changes({}, LEFT, noise) == []


def test_missing_points_are_suggested_by_an_earlier_picture_however_it_was_taken():
    """Turned, smaller and moved as a whole: two set points tell where the rest lies."""
    turn, size, move = math.radians(7), 0.8, (40.0, -25.0)

    def there(p):
        x, y = p
        return (
            size * (x * math.cos(turn) - y * math.sin(turn)) + move[0],
            size * (x * math.sin(turn) + y * math.cos(turn)) + move[1],
        )

    earlier = {n: there(p) for n, p in LEFT.items()}
    found = suggested({n: LEFT[n] for n in ("sn", "me")}, earlier)
    assert set(found) == set(LEFT) - {"sn", "me"}
    for name, place in found.items():
        assert place == pytest.approx(LEFT[name], abs=1e-6)
    assert suggested({"sn": LEFT["sn"]}, earlier) == {}, "one point tells neither size nor turn"
    assert suggested({"sn": (1.0, 1.0), "me": (2.0, 2.0)}, {"sn": (5.0, 5.0), "me": (5.0, 5.0), "c7": (9.0, 9.0)}) == {}
    assert measure_profile(found | {n: LEFT[n] for n in ("sn", "me")}) == pytest.approx(measure_profile(LEFT))
