"""What must come before and after hands, and what a cause asks for: each rule speaks when it should and is silent when it should."""

from dataclasses import replace

import pytest

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.design.checks import Weight

from .draft_cases import concern
from .test_checks import CARDS, KNOWN, calm, line, notes, program, settled

CONCERNS = shipped_catalogue().concerns
TABLES = shipped_intake().tables


def knowing(*views):
    return replace(KNOWN, concerns=views)


PUFFY, HOLLOW = (next(c.id for c in TABLES.reasoning[k].causes if wanted in c.families) for k, wanted in (
    ("under-eye-puffiness", "drain"),
    ("under-eye-hollow", "contract"),
))  # fmt: skip


def test_strength_is_not_for_fluid():
    made = program(*calm(line("under-eye-flutter")))
    told = knowing(concern("under-eye-puffiness", PUFFY))
    assert "under-eye-puffiness" not in CARDS["under-eye-flutter"].concerns or "against-cause" in notes(made, told)
    trained = replace(CARDS["under-eye-flutter"], concerns=("under-eye-puffiness",))
    made = program(*calm(replace(line("under-eye-flutter"), card=trained)))
    note = notes(made, told)["against-cause"]
    assert note.weight is Weight.WATCH and "led away and not trained away" in note.text
    assert "under-eye-flutter" not in {n.id for n in settled(made, "against-cause", told).lines}


def test_what_another_concern_asks_for_stays():
    both = replace(CARDS["under-eye-flutter"], concerns=("under-eye-puffiness", "under-eye-hollow"))
    made = program(*calm(replace(line("under-eye-flutter"), card=both)))
    told = knowing(concern("under-eye-puffiness", PUFFY), concern("under-eye-hollow", HOLLOW))
    assert "against-cause" not in notes(made, told)


def test_drainage_is_not_for_what_is_weak():
    taps = replace(CARDS["orbit-taps"], concerns=("under-eye-hollow",))
    made = program(*calm(replace(line("orbit-taps"), card=taps), line("neck-side-drain")))
    note = notes(made, knowing(concern("under-eye-hollow", HOLLOW)))["against-cause"]
    assert note.weight is Weight.REMARK and "What is weak wants work" in note.text


def test_lined_lips_do_not_pucker():
    pouting = replace(CARDS["oval-to-smile"], marks=frozenset({"puckers"}))
    made = program(*calm(replace(line("oval-to-smile"), card=pouting)))
    lined = concern("lip-lines", TABLES.reasoning["lip-lines"].causes[0].id)
    assert "pucker" in notes(made, knowing(lined))["against-cause"].text
    assert "against-cause" not in notes(made, knowing(concern("under-eye-hollow", HOLLOW)))


def test_what_slides_has_oil_before_it():
    dry = replace(CARDS["forehead-smooth"], needs=("clean hands",))
    row = replace(line("forehead-smooth"), card=dry)
    assert "dry skin" in notes(program(*calm(row)))["oil-missing"].text
    assert "oil-missing" not in notes(program(*calm(line("palm-lean-lift"), row)))
    washed = program(*calm(line("palm-lean-lift"), line("bracket-open"), row))
    assert "oil-missing" in notes(washed), "it was washed off for the grip"


@pytest.mark.parametrize(("strokes", "speaks"), [(("R2 L2 ×40 s",), False), (("R4 L4 ×40 s",), True)])
def test_minutes_of_release_in_the_face_are_drained(strokes, speaks):
    made = program(line("elbow-wheels"), line("cheek-walk", *strokes))
    assert ("undrained" in notes(made)) is speaks
    if speaks:
        assert settled(made, "undrained").lines[-1].card.id == "neck-side-drain"
        assert "undrained" not in notes(program(*made.lines, line("cheek-drain"), line("neck-side-drain")))


def test_neck_and_shoulders_come_before_a_face_that_is_loosened():
    face = [line(i) for i in ("brow-roll", "nose-side-knead", "cheek-walk")]
    assert all(n.stage.value == "loosen" for n in face)
    made = program(*face)
    assert "were not loosened before" in notes(made)["neck-first"].text
    assert settled(made, "neck-first").lines[0].card.id == "elbow-wheels"
    assert "neck-first" not in notes(program(*face[:2]))


def test_oil_is_washed_off_before_lids_and_lips():
    oiled, lids, lips = CARDS["palm-lean-lift"], CARDS["lid-corner-rest"], CARDS["mouth-taps"]
    assert lids.wants_clean_hands and lips.wants_clean_hands and not oiled.wants_clean_hands
    assert not CARDS["mouth-ring-glide"].wants_clean_hands, "it is done with oil on the lip"
