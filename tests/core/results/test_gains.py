"""The arithmetic of what helped, to the digits of worked cases, and its gates on made-up practices."""

import math

import numpy as np
import pytest

from dimbo.core.results.gains import (
    by_approach,
    clients_needed,
    gain_by_dose,
    mean_gain,
    returns_by_itself,
    told,
)
from dimbo.core.results.practising_on import Followed, still_practising
from dimbo.core.results.student import sign_test, student_cdf, student_quantile

SITTING, SHOT, SHOTS = 0.20, 0.10, 3
S = math.sqrt(SITTING**2 + SHOT**2 / SHOTS)
D = S * math.sqrt(2)
G = [0.30, 0.05, 0.42, -0.10, 0.25, 0.18, 0.51, 0.02]
X = [0.40, 0.25, 0.70, 0.30, 0.55, 0.20, 0.90, 0.35]
START = [0.8, 0.6, 1.0, 0.9, 0.7, 0.5, 0.7, 0.9, 0.6, 0.8]
END = [0.6, 0.5, 0.7, 0.6, 0.4, 0.5, 0.5, 0.8, 0.5, 0.6]


def four(*values):
    return tuple(round(v, 4) for v in values)


def test_student_as_in_the_tables():
    table = {(0.975, 1): 12.706, (0.975, 2): 4.303, (0.975, 7): 2.365, (0.995, 10): 3.169, (0.975, 30): 2.042, (0.995, 120): 2.617}
    assert {k: round(student_quantile(*k), 3) for k in table} == table
    assert student_cdf(0, 5) == 0.5 and round(student_cdf(-2.571, 5), 3) == 0.025


def test_a_mean_gain():
    found = mean_gain(G, D)
    assert four(found.mean, found.low, found.high, found.least) == (0.2037, -0.0424, 0.4499, 0.4518)
    assert not found.gate
    other = mean_gain([0.02, -0.10, 0.15, 0.05, -0.08, 0.11], 0.05)
    assert four(other.mean, other.low, other.high) == (0.025, -0.0801, 0.1301)


def test_gain_against_dose_with_alike_clients():
    found = gain_by_dose(G, X, [0.02, -0.10, 0.15, 0.05], D)
    assert four(found.slope, found.se, found.low, found.high, found.at_zero) == (0.5207, 0.2993, -0.1462, 1.1877, -0.0126)
    assert not found.gate, "four alike clients are too few"


@pytest.mark.parametrize(("difference", "spread", "back"), [(0.6, 0.5, 0.0886), (0.6, 0.3, 0.1950), (1.0, 0.5, 0.1477)])
def test_what_looked_weak_by_chance_comes_back_by_itself(difference, spread, back):
    assert round(returns_by_itself(difference, spread, noise_sd=S), 4) == back


def test_two_approaches_at_equal_starts():
    found = by_approach(START, END, [True] * 5 + [False] * 5)
    assert four(found.difference, found.se, found.low, found.high) == (-0.0850, 0.0713, -0.2536, 0.0836)


def test_the_share_that_still_practises():
    days = [(10, 1), (25, 1), (25, 0), (40, 1), (60, 0), (84, 0), (90, 1), (100, 0), (100, 0), (120, 0)]
    found = still_practising([Followed(d, bool(s)) for d, s in days], 84)
    assert (*four(found.share, found.low, found.high), found.at_risk) == (0.6857, 0.3046, 0.8872, 5)
    nobody = still_practising([Followed(d, False) for d in (30, 90, 95, 100)], 84)
    assert (nobody.share, round(nobody.low, 4), nobody.high) == (1.0, round(0.025 ** (1 / 3), 4), 1.0)


@pytest.mark.parametrize(("ups", "of", "p"), [(5, 5, 0.0625), (6, 6, 0.0312), (9, 11, 0.0654), (8, 11, 0.2266)])
def test_a_sign_test_over_those_that_moved(ups, of, p):
    assert round(sign_test(ups, of), 4) == pytest.approx(p, abs=1e-4)
    assert sign_test(of - ups, of) == sign_test(ups, of)


def test_how_many_clients_each_reading_needs():
    assert [clients_needed(sd) for sd in (0.2993, 0.3669, 0.4354)] == [20, 29, 39]


def test_of_several_readings_each_is_held_against_its_share():
    assert told([0.004, 0.009, 0.001]) == [True, True, True]
    assert told([0.006, 0.009, 0.001]) == [False, False, True], "0.006 is above 0.01 / 2"
    assert told([]) == []


def practice(rng, clients, effect=0.0, recovers=0.0, alike=0.25, second=1.0):
    """Gains from clean starts of a made-up practice: uneven clients with their extra dose, and alike ones. Sides are chosen by a look."""
    true = rng.normal(0, 0.5, clients)
    looks = true[:, None] + rng.normal(0, S, (clients, 2))
    chosen, band = looks[:, 1], 1.96 * S
    dose = rng.uniform(0.2, 1.0, clients) * rng.beta(6, 3, clients)
    out = ([], [], [])
    for i in range(clients):
        if abs(chosen[i]) <= band or rng.random() > second or rng.random() < 0.4:  # even, no second start, or lost on the way
            continue
        x = 0.0 if rng.random() < alike else dose[i]
        side = -math.copysign(1, chosen[i])
        end = true[i] + side * (effect * x + recovers) + rng.normal(0, S)
        gain = side * (end - looks[i, 0])
        if x:
            out[0].append(gain)
            out[1].append(x)
        else:
            out[2].append(gain)
    return out


RUNS = 120


@pytest.mark.parametrize(
    ("clients", "effect", "recovers", "says_gain", "says_dose"),
    [
        (40, 0.0, 0.0, (0, 0), (0, 0)),
        (150, 0.0, 0.0, (0, 0.03), (0, 0.03)),
        (400, 0.0, 0.1, (0.4, 1), (0, 0.03)),
        (150, 0.6, 0.0, (0.6, 1), (0, 1)),
        (400, 0.6, 0.0, (0.9, 1), (0.6, 1)),
    ],
    ids=["few", "nothing moves", "recovers by itself", "an effect", "an effect and many clients"],
)
def test_the_gates_from_end_to_end(clients, effect, recovers, says_gain, says_dose):
    """With nothing moving nothing is told; where smaller sides recover by themselves the gain is there and the dose is not to thank."""
    rng = np.random.default_rng(11)
    gains = doses = 0
    for _ in range(RUNS):
        g, x, alike = practice(rng, clients, effect, recovers)
        if len(g) > 1 and (found := mean_gain(g, D)).gate:
            gains += told([found.p])[0] and found.mean > 0
        if len(g) + len(alike) > 2 and (line := gain_by_dose(g, x, alike, D)).gate:
            doses += told([line.p])[0] and line.slope > 0
    assert says_gain[0] <= gains / RUNS <= says_gain[1]
    assert says_dose[0] <= doses / RUNS <= says_dose[1]
