"""The margin of a sitting: each rule speaks when its case is there and is silent otherwise."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from dimbo.core.sittings.sitting import SittingFacts, read
from dimbo.core.sittings.sitting_notes import RULES, Look, sitting_notes
from tests.core.builders_sitting import FACE, MORNING, SEEN, moved, shot

DAY = date(2026, 3, 2)


def facts(days=42, kind="follow-up"):
    return (SittingFacts("a", DAY, "baseline"), SittingFacts("b", DAY + timedelta(days=days), kind))


def look(later=FACE, days=42, practised=True, primary=("fissure_height",), kind="follow-up", shots=3, **what):
    both = [shot(f"a{k}", "a") for k in range(3)] + [shot(f"b{k}", "b", later, **what) for k in range(shots)]
    m = read(facts(days, kind), both, primary)
    return Look(all=m, before=m.sittings[0], after=m.sittings[1], changes=m.changes(*m.sittings), practised=practised)


def said(found):
    return {n.id: n for n in sitting_notes(found)}


def test_a_quiet_comparison_has_nothing_to_say():
    assert said(look()) == {}


@pytest.mark.parametrize(
    ("key", "what"),
    [
        ("shots", {"shots": 2}),
        ("soon", {"days": 6}),
        ("light", {"seen": replace(SEEN, light=-0.3)}),
        ("not-comparable", {"taken_at": MORNING.replace(hour=18)}),
        ("retake", {"seen": replace(SEEN, iris_px=8)}),
        ("unmeasured", {"trust": {"ch_right": 0.1}}),
        ("view", {"confirmed": False}),
        ("primary", {"primary": (), "practised": False}),
    ],
)
def test_each_case_is_said_once(key, what):
    notes = sitting_notes(look(**what))
    assert [n.id for n in notes].count(key) == 1
    assert all(n.text.endswith((".", "?")) for n in notes)


def test_light_names_the_side_it_comes_from():
    assert "from the left" in said(look(seen=replace(SEEN, light=0.4)))["light"].text
    assert "from the right" in said(look(seen=replace(SEEN, light=-0.4)))["light"].text


def test_reasons_are_gathered_and_long_lists_shortened():
    note = said(look(seen=replace(SEEN, lip_gap=0.2)))["not-comparable"]
    assert "not at rest" in note.text and " more. " in note.text


def test_a_second_baseline_is_asked_for_only_before_practice():
    alone = read(facts()[:1], [shot("a0"), shot("a1"), shot("a2")], ["fissure_height"])
    before = sitting_notes(Look(all=alone, before=None, after=alone.sittings[0], changes=[], practised=False))
    after = sitting_notes(Look(all=alone, before=None, after=alone.sittings[0], changes=[], practised=True))
    assert [n.action for n in before if n.id == "double"] == ["double"]
    assert not any(n.id == "double" for n in after)
    assert said(look(days=4, kind="baseline"))["double"].weight == "fine"


def test_the_most_pressing_comes_first_and_questions_one_at_a_time():
    other = moved(al_left=(30, 0), al_right=(-30, 0), me=(0, 120), go_left=(60, 0), ch_left=(40, 0))
    notes = sitting_notes(look(other, taken_at=MORNING.replace(hour=18)))
    assert notes[0].id == "person" and notes[0].weight == "stop"
    assert [n.id for n in notes].count("person") == 1, "three shots ask, one question stands"
    weights = [n.weight for n in notes]
    assert weights == sorted(weights, key=["stop", "watch", "remark", "fine"].index)


def test_every_rule_can_be_silent():
    assert all(list(rule(look())) == [] for rule in RULES)
