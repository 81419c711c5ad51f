"""A bounded campaign of faults and attacks on a whole installation; ``./dimbo bench faults`` is its long form, which also holds how
fast all is well again."""

from __future__ import annotations

import pytest

from dimbo.bench import faults


@pytest.fixture(scope="module")
def outcome():
    return faults.run(seconds=45, seed=1)


def test_what_was_acknowledged_is_there_once(outcome):
    assert outcome.acknowledged > 20 and outcome.photographs > 0, "people went on writing all the while"
    assert (outcome.lost, outcome.doubled) == ([], [])


def test_every_kind_of_fault_happened_and_all_was_well_again_by_itself(outcome):
    assert {"web killed", "worker killed", "a backend killed", "postmaster killed", "supervisor killed"} <= set(outcome.faults)
    assert [(what, s) for what, s in outcome.back_s if s >= faults.CALM_S] == []


def test_no_photograph_says_for_ever_that_it_is_being_measured(outcome):
    assert outcome.unjudged == 0


def test_hostile_requests_get_words_and_little_memory(outcome):
    assert outcome.attacks > 100 and outcome.wordless == []
    assert 0 < outcome.memory < faults.MOST_MEMORY
