"""Blind rating: order that tells nothing, repeats, and intervals that follow their sources."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.sittings.rating import (
    Item,
    agreement,
    agreement_words,
    pair_round,
    preference,
    rated_change,
    single_round,
    weighted_kappa,
    wilson,
)

SHOTS = [f"p{k}" for k in range(10)]


@given(seed=st.integers(0, 10_000), count=st.integers(1, 24))
def test_every_photograph_comes_once_and_one_in_five_again(seed, count):
    shots = [f"p{k}" for k in range(count)]
    items = single_round(shots, seed)
    first = [i for i in items if i.repeat_of is None]
    again = [i for i in items if i.repeat_of is not None]
    assert sorted(i.photographs[0] for i in first) == sorted(shots)
    assert len(again) == -(-count // 5)
    assert all(items[i.repeat_of].photographs == i.photographs for i in again)


def test_the_order_is_the_seeds_and_not_that_of_time():
    assert single_round(SHOTS, 1) == single_round(SHOTS, 1)
    orders = {tuple(i.photographs[0] for i in single_round(SHOTS, seed)) for seed in range(20)}
    assert len(orders) == 20


def test_pairs_hold_one_of_each_and_repeats_exchange_the_places():
    items = pair_round(["a1", "a2"], ["b1", "b2"], 5)
    assert all({p[0] for p in i.photographs} == {"a", "b"} for i in items)
    again = next(i for i in items if i.repeat_of is not None)
    assert items[again.repeat_of].photographs == again.photographs[::-1]
    firsts = {i.photographs[0][0] for seed in range(20) for i in pair_round(["a1"], ["b1"], seed) if i.repeat_of is None}
    assert firsts == {"a", "b"}, "neither is always shown first"


@pytest.mark.parametrize(
    ("successes", "of", "low", "high"), [(4, 5, 0.376, 0.964), (0, 10, 0.0, 0.278), (10, 10, 0.722, 1.0), (50, 100, 0.404, 0.596)]
)
def test_wilson_as_published(successes, of, low, high):
    assert wilson(successes, of) == (pytest.approx(low, abs=0.001), pytest.approx(high, abs=0.001))


def test_kappa_is_one_in_full_agreement_zero_at_chance_and_weighs_distance():
    assert weighted_kappa([(0, 0), (2, 2), (4, 4)]) == pytest.approx(1)
    assert weighted_kappa([(a, b) for a in range(5) for b in range(5)]) == pytest.approx(0)
    near, far = (weighted_kappa([(0, d), (4, 4), (2, 2), (0, 0)]) for d in (1, 4))
    assert near > far
    assert weighted_kappa([]) is None and weighted_kappa([(2, 2)]) == 1.0


def test_a_rated_change_has_an_interval_and_never_none():
    clear = rated_change([4, 4, 3, 4], [1, 1, 1, 2])
    assert clear.amount == pytest.approx(-2.5) and clear.beyond
    assert rated_change([2, 2, 2], [2, 2, 2]).low < 0 < rated_change([2, 2, 2], [2, 2, 2]).high
    assert not rated_change([2], [1]).beyond, "one look each says nothing"
    assert rated_change([], [1]) is None


def test_preferences_and_own_agreement():
    found = preference([True, True, True, False])
    assert (found.later, found.of) == (3, 4) and found.low < 0.75 < found.high
    assert preference([]) is None
    items = [Item(("a", "b")), Item(("c", "d")), Item(("b", "a"), 0)]
    assert agreement(items, {0: 0, 1: 1, 2: 1}) == [(0, 0)], "the same photograph, though in the other place"
    assert agreement(items, {0: 0, 1: 1}) == []


@pytest.mark.parametrize(
    ("kappa", "words"),
    [(None, "not known"), (1.0, "very good"), (0.8, "good"), (0.61, "good"), (0.6, "fair"), (0.41, "fair"), (0.4, "poor")],
)
def test_agreement_is_said_in_words_above_each_bound(kappa, words):
    assert agreement_words(kappa) == words


def test_picking_the_later_one_is_beyond_chance_only_when_half_lies_outside():
    assert preference([True] * 9 + [False]).beyond and preference([False] * 10).beyond
    assert not preference([True] * 6 + [False] * 4).beyond
