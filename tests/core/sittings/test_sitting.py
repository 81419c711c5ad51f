"""A client's sittings as a whole: what counts, what is asked, what is compared and what is not."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from dimbo.core.sittings.bias import sides_of
from dimbo.core.sittings.compared import compare, since
from dimbo.core.sittings.comparison import Verdict, sitting_value
from dimbo.core.sittings.comparison import compare as compare_values
from dimbo.core.sittings.frame import mirrored
from dimbo.core.sittings.reading_table import GAP, READINGS
from dimbo.core.sittings.readings import Measured
from dimbo.core.sittings.sitting import SittingFacts, read
from dimbo.core.sittings.sitting_notes import Look, sitting_notes
from tests.core.builders_sitting import FACE, MORNING, SEEN, WIDTH, moved, shot

DAY = date(2026, 3, 2)
TWO = (SittingFacts("a", DAY, "baseline"), SittingFacts("b", DAY + timedelta(days=42), "follow-up"))


def three(sitting, points=FACE, **what):
    return [shot(f"{sitting}{k}", sitting, points, **what) for k in range(3)]


def change(m, key="fissure_height"):
    return next(c for c in m.changes(m.sittings[0], m.sittings[1]) if c.reading == key)


OPENED = moved(ps_right=(0, -18))
"""The right lid 1.8 mm higher: the difference goes from 2.0 to 0.2 mm."""


def test_a_real_gain_is_beyond_noise_and_toward_symmetry():
    m = read(TWO, [*three("a"), *three("b", OPENED)], ["fissure_height"])
    assert m.sittings[0].values["fissure_height"].value == pytest.approx(2.0)
    found = change(m)
    assert found.verdict is Verdict.BEYOND and found.direction == "toward symmetry" and found.primary
    assert [s.beyond for s in found.sides] == [True, False]


def test_unchanged_is_within_noise():
    m = read(TWO, [*three("a"), *three("b")], ["fissure_height"])
    assert {c.verdict for c in m.changes(*m.sittings)} == {Verdict.WITHIN}


@pytest.mark.parametrize(
    ("what", "reason"),
    [
        ({"taken_at": MORNING.replace(hour=16)}, "another time of day"),
        ({"seen": replace(SEEN, lip_gap=0.1)}, "not at rest"),
        ({"seen": replace(SEEN, sharp=0.5)}, "softer"),
        ({"method": "n"}, "different versions"),
        ({"taken_at": None}, "time of day is not known"),
        ({"seen": replace(SEEN, white=50.0)}, "darker"),
    ],
)
def test_conditions_that_imitate_a_change_are_not_compared(what, reason):
    m = read(TWO, [*three("a"), *three("b", OPENED, **what)])
    found = change(m)
    assert found.verdict is Verdict.NOT_COMPARABLE and reason in found.reason
    assert "fissure_height" in m.sittings[1].values, "the value is shown all the same"


def test_another_hour_does_not_touch_the_brows_and_uneven_light_touches_nothing():
    late = read(TWO, [*three("a"), *three("b", OPENED, taken_at=MORNING.replace(hour=16))])
    assert change(late, "brow_height").verdict is Verdict.WITHIN
    lit = read(TWO, [*three("a"), *three("b", OPENED, seen=replace(SEEN, light=0.3))])
    assert change(lit).verdict is Verdict.BEYOND
    notes = sitting_notes(Look(all=lit, before=lit.sittings[0], after=lit.sittings[1], changes=[], practised=True))
    assert any(n.id == "light" and "Folds and shadows are not compared" in n.text for n in notes)


def test_one_clean_shot_is_enough_to_compare_by():
    late = three("b", OPENED, taken_at=MORNING.replace(hour=16))
    m = read(TWO, [*three("a"), *late[:2], shot("b9", "b", OPENED)])
    assert change(m).verdict is Verdict.BEYOND and len(m.sittings[1].values["fissure_height"].shots) == 1


def test_shots_to_be_retaken_and_unconfirmed_views_do_not_count():
    turned = three("b", OPENED, seen=replace(SEEN, yaw_deg=8))
    assert "fissure_height" not in read(TWO, [*three("a"), *turned]).sittings[1].values
    assert "fissure_height" not in read(TWO, [*three("a"), *three("b", OPENED, confirmed=False)]).sittings[1].values


def test_a_point_without_evidence_is_not_measured_until_it_is_set_by_hand():
    weak = {"ch_left": 0.2}
    m = read(TWO, [*three("a"), *three("b", trust=weak)])
    assert "commissure_height" not in m.sittings[1].values
    assert "cannot be measured here" in m.sittings[1].shots[0].unmeasured["commissure_height"].why
    by_hand = read(TWO, [*three("a"), *three("b", trust=weak, hand={"ch_left": FACE["ch_left"]})])
    assert by_hand.sittings[1].values["commissure_height"].value == pytest.approx(2.0)


def test_where_the_method_follows_an_average_face_only_set_points_are_read():
    m = read(TWO[:1], three("a"))
    assert "alar_height" not in m.sittings[0].values
    assert "set by hand" in m.sittings[0].shots[0].unmeasured["alar_height"].why
    one = read(TWO[:1], three("a", hand={"al_left": FACE["al_left"]}))
    assert "alar_height" not in one.sittings[0].values, "a difference between a hand and an average face is neither"
    both = {n: FACE[n] for n in ("al_left", "al_right")}
    m = read(TWO[:1], three("a", hand=both))
    assert m.sittings[0].values["alar_height"].value == pytest.approx(0.5)


def test_the_gap_of_closed_eyes_is_read_between_set_points_however_small():
    lids = {n: FACE[n] for n in ("ps_left", "pi_left", "ps_right")}
    nearly = lids | {"pi_right": (FACE["ps_right"][0], FACE["ps_right"][1] + 10)}
    closed = [shot("c1", "a", view="eyes-closed", hand=nearly, trust={"ps_left": 0.0, "pu_left": 0.0, "pu_right": 0.0})]
    m = read(TWO[:1], [*three("a"), *closed])
    assert m.sittings[0].values[GAP].right == pytest.approx(1.0, abs=0.01)
    m = read(TWO[:1], [*three("a"), shot("c1", "a", view="eyes-closed")])
    assert GAP not in m.sittings[0].values


def test_an_eye_set_by_hand_may_be_nearly_closed():
    narrow = {n: FACE[n] for n in ("ps_left", "pi_left", "ps_right")} | {"pi_right": (FACE["ps_right"][0], FACE["ps_right"][1] + 40)}
    assert "fissure_height" in read(TWO[:1], three("a", hand=narrow)).sittings[0].values
    alone = three("a", moved(pi_right=(0, FACE["ps_right"][1] + 40 - FACE["pi_right"][1])))
    assert "nearly closed" in read(TWO[:1], alone).sittings[0].shots[0].unmeasured["fissure_height"].why


def test_without_an_iris_what_needs_the_heads_level_is_not_measured():
    covered = read(TWO[:1], three("a", trust={"pu_left": 0.3}))
    why = covered.sittings[0].shots[0].unmeasured
    assert {"brow_height", "commissure_height", "corner_angle"} <= set(why)
    assert "both irises" in why["brow_height"].why and "fissure_height" in covered.sittings[0].values
    by_hand = read(TWO[:1], three("a", trust={"pu_left": 0.3}, hand={"pu_left": FACE["pu_left"]}))
    assert "brow_height" in by_hand.sittings[0].values


def test_a_change_after_a_double_baseline_is_held_against_both():
    """Two starts that differ by a millimetre, and a third sitting half way: against the first alone it would be half a millimetre off."""
    second, later = (SittingFacts(i, DAY + timedelta(days=d), kind) for i, d, kind in (("c", 5, "baseline"), ("b", 42, "follow-up")))
    sittings = (TWO[0], second, later)
    m = read(sittings, [*three("a"), *three("c", moved(ps_right=(0, -10))), *three("b", moved(ps_right=(0, -5)))], ["fissure_height"])
    pooled, alone = change_of(m, 0, 2), change_of(m, 0, 1)
    assert pooled.before == pytest.approx(1.5) and pooled.amount == pytest.approx(0.0, abs=0.01)
    assert change_of(m, 1, 2).before == pytest.approx(1.5), "whichever of the two is chosen"
    assert pooled.mdc < alone.mdc, "two starts know more than one"
    assert pooled.start.both and not alone.start.both
    said = compare(m, before=m.sittings[0], after=m.sittings[2], practised=True, asked_on=None)
    assert since(m.sittings[0], pooled) == "at both baselines together" and since(m.sittings[0], alone) == "at the baseline"
    assert said.changes


def test_a_start_never_mixes_two_versions_of_the_analysis():
    """One baseline was read again, the other not yet: a change is held against the one that was read as the later sitting was."""
    second, later = (SittingFacts(i, DAY + timedelta(days=d), kind) for i, d, kind in (("c", 5, "baseline"), ("b", 42, "follow-up")))
    old = three("c", moved(ps_right=(0, -10)), method="older")
    m = read((TWO[0], second, later), [*three("a"), *old, *three("b", moved(ps_right=(0, -5)))], ["fissure_height"])
    assert change_of(m, 0, 2).before == pytest.approx(2.0) and not change_of(m, 0, 2).start.both
    assert change_of(m, 1, 2).verdict is Verdict.NOT_COMPARABLE


def test_a_side_that_is_new_is_asked_about_whatever_kept_the_sitting_before_from_being_compared():
    """Photographs without a time bear no side out; that it was not there then is still a reason to ask about sudden signs."""
    even = three("a", moved(ps_right=(0, -20)), taken_at=None)
    m = read(TWO, [*even, *three("b")], ["fissure_height"])
    found = sides_of(m, ["fissure_height"])
    assert set(found.new) == {"fissure_height"} and found.told(None)["fissure_height"].take == "off"
    twice = read(TWO, [*three("a", taken_at=None), *three("b")], ["fissure_height"])
    assert sides_of(twice, ["fissure_height"]).bias["fissure_height"].take == "off", "a witness must be comparable"
    clean = read(TWO, [*three("a"), *three("b")], ["fissure_height"])
    assert sides_of(clean, ["fissure_height"]).bias["fissure_height"].take == "on"


def change_of(m, before, after):
    return next(c for c in m.changes(m.sittings[before], m.sittings[after]) if c.reading == "fissure_height")


def test_a_nearly_closed_eye_is_not_given_a_number():
    m = read(TWO[:1], three("a", moved(ps_right=(0, 40))))
    assert "fissure_height" not in m.sittings[0].values
    assert "nearly closed" in m.sittings[0].shots[0].unmeasured["fissure_height"].why


def test_a_point_set_by_hand_wins_and_leaves_the_automatic_place():
    s = shot("x", hand={"ps_right": (395.0, 350.0)})
    m = read(TWO[:1], [s])
    assert m.sittings[0].values["fissure_height"].value == pytest.approx(0.5)
    assert s.points["ps_right"] == FACE["ps_right"]


def flip(points):
    return mirrored(points, WIDTH)


def test_a_mirrored_selfie_is_asked_about_and_not_compared_until_answered():
    shots = [*three("a"), *three("b", flip(FACE))]
    m = read(TWO, shots, alike={f"b{k}": (0.90, 0.99) for k in range(3)})
    assert all(j.asks_flip for j in m.sittings[1].shots)
    assert change(m).verdict is Verdict.NOT_COMPARABLE and "mirrored" in change(m).reason
    answered = read(TWO, [replace(s, flipped=s.sitting == "b", settled_flip=True) for s in shots])
    assert not any(j.asks_flip for j in answered.sittings[1].shots)
    assert change(answered).verdict is Verdict.WITHIN, "turned round, it is the same face"
    told = read(TWO, [replace(s, settled_flip=True) for s in shots])
    assert change(told).verdict is Verdict.BEYOND, "said to be right, the sides did change"


def test_no_side_is_trained_before_somebody_has_said_which_way_round_the_first_photograph_is():
    told = [three(k, settled_flip=False) for k in "ab"]
    m = read(TWO, [*told[0], *told[1]])
    assert [j.shot.id for s in m.sittings for j in s.shots if j.asks_way] == ["a0"], "one question for the whole series"
    (note,) = [
        n for n in sitting_notes(Look(all=m, before=m.sittings[0], after=m.sittings[1], changes=[], practised=False)) if n.id == "way"
    ]
    assert note.weight == "stop" and note.photograph == "a0"
    bias = sides_of(m, ["fissure_height"]).bias["fissure_height"]
    assert bias.take == "off" and "right way round" in bias.because
    known = read(TWO, [*told[0], *[replace(s, settled_flip=s.id == "b1") for s in told[1]]])
    assert known.way_known and not any(j.asks_way for s in known.sittings for j in s.shots), "said of any, all are held against it"
    assert sides_of(known, ["fissure_height"]).bias["fissure_height"].take == "on"


def test_a_change_is_held_against_a_start_that_took_no_part_in_choosing_the_side():
    """The sitting that chose shows 2.0 mm; a baseline taken after that 1.5, and so does the one after practice."""
    second, later = (SittingFacts(i, DAY + timedelta(days=d), kind) for i, d, kind in (("c", 20, "baseline"), ("b", 42, "follow-up")))
    sittings, less = (TWO[0], second, later), moved(ps_right=(0, -5))
    shots = [*three("a"), *three("c", less), *three("b", less)]
    chosen = read(sittings, shots, ["fissure_height"], chosen_by={"fissure_height": frozenset({"a"})})
    against = change_of(chosen, 0, 2)
    assert against.before == pytest.approx(1.5) and against.amount == pytest.approx(0.0, abs=0.01)
    assert since(chosen.sittings[0], against) == "at the baseline of 22 March, which took no part in choosing the side"
    assert change_of(read(sittings, shots, ["fissure_height"]), 0, 2).before == pytest.approx(2.0)
    other = read(sittings, shots, ["fissure_height"], chosen_by={"brow_height": frozenset({"a"})})
    assert change_of(other, 0, 2).before == pytest.approx(2.0), "chosen by another reading"
    all_took = read(sittings, shots, ["fissure_height"], chosen_by={"fissure_height": frozenset("ac")})
    assert change_of(all_took, 0, 2).before == pytest.approx(2.0), "where there is no other start, the one compared stands"


def test_a_chosen_side_asks_for_one_more_baseline_before_practice_and_says_why():
    def notes(chosen, practised=False, sittings=TWO[:1]):
        m = read(sittings, [s for f in sittings for s in three(f.id)], chosen_by={"fissure_height": frozenset(chosen)} if chosen else None)
        return {n.id: n for n in sitting_notes(Look(all=m, before=None, after=m.sittings[-1], changes=[], practised=practised))}

    assert "chose the side" in notes("a")["clean-start"].text and notes("a")["clean-start"].action == "double"
    assert "clean-start" not in notes("") and "double" in notes("")
    assert "clean-start" not in notes("a", practised=True)
    both = (TWO[0], SittingFacts("c", DAY + timedelta(days=5), "baseline"))
    assert "clean-start" not in notes("a", sittings=both) and "clean-start" in notes("ac", sittings=both)


def test_chosen_for_looking_weak_a_face_seems_to_gain_and_against_a_clean_start_it_does_not():
    """Sides that differ by less than can be told, chosen where one sitting happened to show more; nothing changes afterwards."""
    rng = np.random.default_rng(5)
    reading = READINGS["fissure_height"]
    sd = reading.noise.of_one(3) / 1.96

    def value(of):
        return sitting_value(reading, [Measured(of, right=10.0, left=10.0 + of)] * 3)

    gains = {"chosen": 0, "clean": 0}
    tried = 0
    while tried < 1500:
        true = float(rng.normal(0, 0.5))
        first, clean, later = (true + float(rng.normal(0, sd)) for _ in range(3))
        if not value(first).real:
            continue
        tried += 1
        for name, start in (("chosen", first), ("clean", clean)):
            found = compare_values(reading, value(start), value(later))
            gains[name] += found.verdict is Verdict.BEYOND and abs(later) < abs(start)
    assert gains["clean"] / tried < 0.035
    assert gains["chosen"] > 1.3 * gains["clean"], "luck that chose the side is gone at the next sitting"


def test_differences_alone_do_not_ask_about_mirroring():
    m = read(TWO, [*three("a"), *three("b", flip(FACE))], alike={f"b{k}": (0.95, 0.95) for k in range(3)})
    assert not any(j.asks_flip for j in m.sittings[1].shots)


def test_turning_a_shot_round_exchanges_everything_that_has_a_side():
    s = shot("x", points=flip(FACE), depth={"ch_right": 1.0, "ch_left": 2.0}, trust={"ps_right": 0.4}, flipped=True)
    s = replace(s, seen=replace(SEEN, yaw_deg=3, light=0.25, eye_trust={"right": 0.3, "left": 1.0}))
    right = s.right_way
    assert right.points == FACE and right.trust == {"ps_left": 0.4}
    assert right.depth == {"ch_left": 1.0, "ch_right": 2.0}
    assert right.seen.yaw_deg == -3 and right.seen.light == pytest.approx(-0.2) and right.seen.eye_trust == {"right": 1.0, "left": 0.3}


def test_another_persons_photograph_is_asked_about():
    other = moved(al_left=(30, 0), al_right=(-30, 0), me=(0, 120), go_left=(60, 0), ch_left=(40, 0))
    m = read(TWO, [*three("a"), *three("b", other)])
    assert all(j.asks_person for j in m.sittings[1].shots)
    assert change(m).verdict is Verdict.NOT_COMPARABLE and "somebody else" in change(m).reason
    notes = sitting_notes(Look(all=m, before=m.sittings[0], after=m.sittings[1], changes=[], practised=True))
    assert notes[0].id == "person" and notes[0].photograph == "b0"
    refused = read(TWO, [*three("a"), *three("b", other, same_person=False)])
    assert not refused.sittings[1].values


def test_the_ruler_is_shared_by_all_sittings():
    near = three("b", iris_px=117 * 1.03)
    m = read(TWO, [*three("a"), *near])
    lengths = [s.values["mouth_width"].value for s in m.sittings]
    assert lengths[0] == pytest.approx(lengths[1])


def test_neither_the_ruler_nor_the_resting_face_comes_from_a_foreign_or_refused_shot():
    smile = moved(ch_right=(-40, -30), ch_left=(40, -30))
    shots = [*three("a"), shot("s", "a", smile, view="gentle-smile")]
    clean = read(TWO[:1], shots)
    foreign = [shot(f"f{k}", "a", moved(ch_left=(90, 60)), iris_px=60, same_person=False) for k in range(5)]
    turned = [shot(f"t{k}", "a", moved(ch_left=(90, 60)), iris_px=60, seen=replace(SEEN, yaw_deg=9)) for k in range(5)]
    mixed = read(TWO[:1], [*shots, *foreign, *turned])
    assert mixed.ruler == clean.ruler
    assert mixed.sittings[0].values["smile_excursion"].value == clean.sittings[0].values["smile_excursion"].value


def test_a_double_baseline_is_found_and_used():
    facts = (SittingFacts("a", DAY, "baseline"), SittingFacts("b", DAY + timedelta(days=4), "baseline"))
    m = read(facts, [*three("a"), *three("b", moved(ps_right=(0, -8)))])
    assert m.double_baseline == ("a", "b")
    one = read(facts[:1], three("a"))
    assert m.noise["fissure_height"].sitting_sd != one.noise["fissure_height"].sitting_sd
    late = (facts[0], SittingFacts("b", DAY + timedelta(days=8), "baseline"))
    assert read(late, [*three("a"), *three("b")]).double_baseline is None


def test_four_sittings_have_a_trend():
    facts = [SittingFacts(k, DAY + timedelta(days=28 * i), "follow-up") for i, k in enumerate("abcd")]
    shots = [s for i, k in enumerate("abcd") for s in three(k, moved(ps_right=(0, -5 * i)))]
    m = read(facts, shots)
    assert m.trends["fissure_height"].per_four_weeks == pytest.approx(-0.5) and m.trends["fissure_height"].verdict is Verdict.BEYOND
    assert read(facts[:3], shots[:9]).trends == {}


def test_the_margin_asks_for_what_is_missing():
    m = read(TWO[:1], [shot("a0")])
    notes = {n.id: n for n in sitting_notes(Look(all=m, before=None, after=m.sittings[0], changes=[], practised=False))}
    assert {"shots", "double", "primary"} <= set(notes)
    practised = {n.id for n in sitting_notes(Look(all=m, before=None, after=m.sittings[0], changes=[], practised=True))}
    assert "primary" not in practised and "double" not in practised
    bad = read(TWO[:1], [shot("a0", seen=replace(SEEN, yaw_deg=9))])
    first = sitting_notes(Look(all=bad, before=None, after=bad.sittings[0], changes=[], practised=True))[0]
    assert first.id == "retake" and "9.0°" in first.text and "nose" in first.text
