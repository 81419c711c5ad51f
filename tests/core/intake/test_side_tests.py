"""Side tests: what each says, where they disagree, and that sides never swap."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_intake
from dimbo.core.anatomy import Side
from dimbo.core.intake.side_tests import TestResult, side_of, topics

TESTS = shipped_intake().tables.tests
DAY = date(2026, 3, 20)


def noted(**results):
    return {(t := k.replace("_", "-")): TestResult(t, a, DAY, measured=t.endswith("measured")) for k, a in results.items()}


def found(**results):
    return topics(TESTS.values(), noted(**results))


def test_the_eye_that_leads_is_not_the_weaker_one():
    assert found(dominant_eye="right") == {}, "which eye leads is no proof of which is weaker"
    assert found(wider_eye="right")["weaker-eye"].side is Side.LEFT
    assert found(evening_droop="right")["weaker-eye"].side is Side.RIGHT
    assert found(eye_measured="right")["weaker-eye"].side is Side.RIGHT, "a reading names the side that opens less"


def test_tests_that_disagree_are_named_with_their_sides():
    topic = found(evening_droop="left", wider_eye="left")["weaker-eye"]
    assert topic.side is None
    assert "evening droop says left" in topic.conflict and "wider eye in a photograph says right" in topic.conflict
    assert "next sitting" in topic.conflict
    measured = found(evening_droop="left", eye_measured="right")["weaker-eye"]
    assert "measured photograph decides" in measured.conflict


def test_neither_and_both_say_nothing():
    assert found(wider_eye="neither", brow_alone="both") == {}


@pytest.mark.parametrize(("answer", "task"), [("right", "Chew on the left side"), ("left", "Chew on the right side"), ("both", None)])
def test_a_one_sided_habit_becomes_a_task_for_the_other_side(answer, task):
    assert TESTS["chewing"].task.for_answer(answer) == task


def test_a_habit_without_a_side_becomes_a_task_from_its_own_answers():
    task = TESTS["screen-hours"].task
    assert task.for_answer("over 8") and task.for_answer("under 2") is None


SIDED = {t.id: st.sampled_from(["right", "left", "neither"]) for t in TESTS.values() if t.speaks and "neither" in t.answers}
OTHER = {"right": "left", "left": "right", "neither": "neither"}


@given(st.fixed_dictionaries({}, optional=SIDED))
def test_a_mirrored_client_has_mirrored_topics(answers):
    straight = topics(TESTS.values(), {t: TestResult(t, a, DAY) for t, a in answers.items()})
    mirrored = topics(TESTS.values(), {t: TestResult(t, OTHER[a], DAY) for t, a in answers.items()})
    assert straight.keys() == mirrored.keys()
    for name, topic in straight.items():
        assert mirrored[name].side == (topic.side.other if topic.side else None)
        assert bool(mirrored[name].conflict) == bool(topic.conflict)


def test_a_question_is_answered_by_a_test_or_by_all_tests_of_a_topic():
    results = noted(wider_eye="right", chewing="left")
    known = topics(TESTS.values(), results)
    assert side_of("weaker-eye", TESTS, results, known) is Side.LEFT
    assert side_of("chewing", TESTS, results, known) is Side.LEFT
    assert side_of("brow-alone", TESTS, results, known) is None
