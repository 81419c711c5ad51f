"""From answers to causes: every weight counts once and can be read."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dimbo.catalogue import shipped_intake
from dimbo.core.intake.reasoning import CLEAR_LEAD, Cause, Question, Reasoning, suggest

TABLE = shipped_intake().tables.reasoning
PUFFY = TABLE["under-eye-puffiness"]


def cause(name, usual=0, **evidence):
    return Cause(
        id=name,
        name=name,
        usual=usual,
        evidence=evidence,
        because="Because.",
        helps="Helps.",
        families=("release",),
        muscles=(),
        avoid="Avoid.",
    )


@pytest.mark.parametrize(
    ("concern", "answers", "first"),
    [
        ("under-eye-puffiness", {"worse-morning": "yes", "after-salt": "yes", "constant": "no"}, "fluid"),
        ("under-eye-puffiness", {"constant": "yes", "worse-morning": "no", "after-salt": "no"}, "fullness"),
        ("eye-less-open", {"new-or-evening": "yes", "brow-habit": "yes"}, "seen-first"),
        ("hooded-lid", {"new-or-evening": "unsure", "cannot-lift-alone": "no"}, "seen-first"),
        ("eye-less-open", {"new-or-evening": "no", "opens-less": "yes"}, "weaker-side"),
        ("jowls", {"skin-or-bone": "yes"}, "structure"),
        ("nasolabial-fold", {"chewing-side": "yes"}, "chewing-habit"),
        ("nasolabial-fold", {"tender-beside-nose": "yes", "chewing-side": "no"}, "tight-lip-levators"),
        ("mouth-asymmetry", {"sudden": "yes"}, "sudden-onset"),
        ("jaw-tension", {"locks-or-clicks": "yes"}, "joint"),
        ("under-chin", {"head-forward": "yes", "worse-morning": "no"}, "posture"),
    ],
)
def test_answers_move_the_cause(concern, answers, first):
    found = suggest(TABLE[concern], answers)
    assert found.first.cause.id == first
    assert found.clear


def test_opposite_causes_ask_for_opposite_families():
    puffy = suggest(PUFFY, {"worse-morning": "yes"}).first.cause
    hollow = suggest(TABLE["under-eye-hollow"], {"constant": "yes"}).first.cause
    assert "drain" in puffy.families and "drain" not in hollow.families
    assert "contract" in hollow.families and "contract" not in puffy.families


def test_the_line_of_reasoning_adds_up_to_the_score():
    found = suggest(PUFFY, {"worse-morning": "yes", "constant": "yes"}, frozenset({"constant"}))
    for weighed in found.ranked:
        numbers = [int(s.rstrip(".").split()[-1].replace("−", "-").replace("+", "")) for s in weighed.steps]
        assert sum(numbers) == weighed.score
    assert "from elsewhere in the intake" in found.ranked[0].steps[-1]


def test_a_narrow_lead_is_called_open():
    entry = Reasoning("x", (), (cause("a", CLEAR_LEAD - 1), cause("b")))
    assert not suggest(entry, {}).clear and "a and b" in suggest(entry, {}).summary
    wide = Reasoning("x", (), (cause("a", CLEAR_LEAD), cause("b")))
    assert suggest(wide, {}).clear and suggest(wide, {}).summary == "Probably a."


def test_the_next_question_is_the_one_that_tells_the_leaders_apart():
    entry = Reasoning(
        "x",
        (Question("same", "Same?"), Question("apart", "Apart?"), Question("little", "Little?")),
        (
            cause("a", same={"yes": 2}, apart={"yes": 2, "no": -2}, little={"yes": 1}),
            cause("b", same={"yes": 2}, apart={"yes": -2, "no": 2}),
        ),
    )
    assert suggest(entry, {}).ask_next.id == "apart"
    assert suggest(entry, {"apart": "yes"}).ask_next.id == "little"
    assert suggest(entry, {"apart": "unsure"}).ask_next.id == "little", "what is not known is not asked twice in a row"
    assert suggest(entry, {"apart": "yes", "little": "no"}).ask_next is None, "a question that tells nothing apart is not asked"


@given(st.sampled_from(sorted(TABLE)), st.data())
def test_scores_are_the_sum_of_their_weights_in_any_order(concern, data):
    entry = TABLE[concern]
    answers = data.draw(
        st.dictionaries(st.sampled_from([q.id for q in entry.questions] or ["-"]), st.sampled_from(["yes", "no", "unsure"]))
    )
    found = suggest(entry, answers)
    assert found.first.score == max(w.score for w in found.ranked)
    for w in found.ranked:
        assert w.score == w.cause.usual + sum(w.cause.weight(q, a) for q, a in answers.items())
    again = suggest(entry, dict(reversed(list(answers.items()))))
    assert [w.cause.id for w in again.ranked] == [w.cause.id for w in found.ranked]
