"""Cautions in the margin of a program: named, weighed, and never silenced by the program itself."""

from datetime import UTC, date, datetime

import pytest

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.design.checks import Weight
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import About
from dimbo.core.programs.program import Line, Program, Settings
from dimbo.core.safety.cautions import CautionAnswer, Clearance, stand

NOON = datetime(2026, 3, 20, 12, tzinfo=UTC)
TODAY = date(2026, 3, 20)
RULES = shipped_intake().tables.cautions
CARDS = shipped_catalogue().cards


def program(*names):
    lines = tuple(Line(id=f"line{i}", card=CARDS[n], stage=CARDS[n].stage, cells=(CARDS[n].start_line,)) for i, n in enumerate(names))
    return Program(title="Trial", weeks=1, sessions=(3,), minutes=None, lines=lines)


def sheet(*names, clearances=(), **answers):
    given = {r.id: CautionAnswer(caution=r.id, answer="no", at=NOON) for r in RULES}
    given |= {(c := k.replace("_", "-")): CautionAnswer(caution=c, answer=a, at=NOON) for k, a in answers.items()}
    return compile_sheet(program(*names), Settings(), About(cautions=stand(RULES, given, clearances, TODAY)))


def notes(*names, **answers):
    return [n for n in sheet(*names, **answers).notes if n.rule.startswith("caution")]


def test_without_cautions_the_margin_is_as_it_was():
    assert notes("bracket-open", "oval-lift") == []


@pytest.mark.parametrize(
    ("caution", "rule", "weight", "verb"),
    [
        ("eye_surgery", "caution-lock", Weight.STOP, "Locked"),
        ("dry_eyes", "caution-ease", Weight.WATCH, "Eased"),
        ("contact_lenses", "caution-remind", Weight.REMARK, "Remember for"),
    ],
)
def test_each_effect_has_its_weight_and_names_its_exercise(caution, rule, weight, verb):
    (note,) = notes("bracket-open", "oval-lift", **{caution: "yes"})
    assert (note.rule, note.weight, note.line) == (rule, weight, "line0")
    assert f"{verb}: Finger-bracket wide open." in note.text


def test_only_a_lock_refuses_assignment():
    assert not sheet("bracket-open", "warm-palms", eye_surgery="yes").assignable
    assert sheet("bracket-open", "warm-palms", dry_eyes="yes", contact_lenses="yes").assignable


def test_one_caution_with_two_effects_is_two_notes():
    found = notes("jaw-lift-series", "oval-lift", jaw_joint="yes")
    assert [(n.rule, n.line) for n in found] == [("caution-lock", "line0"), ("caution-ease", "line1")]


def test_many_exercises_are_counted_instead_of_listed():
    found = notes(*list(CARDS)[:6], sudden_face="yes")
    assert len(found) == 1 and "6 exercises" in found[0].text and found[0].line is None


def test_a_lock_tells_what_releases_it():
    (note,) = notes("bracket-open", glaucoma="yes")
    assert "treating clinician" in note.remedy and "bony rim" in note.remedy


def test_a_clearance_takes_the_note_away():
    word = Clearance(caution="glaucoma", by_name="Dr. Ina Quell", role="eye doctor", given_on=TODAY, at=NOON, says="Allowed.")
    assert not [n for n in sheet("bracket-open", glaucoma="yes", clearances=[word]).notes if n.rule.startswith("caution")]


def test_cautions_stand_before_everything_else_in_the_margin():
    found = sheet("oval-lift", "settle-breath", facial_palsy="yes").notes
    assert found[0].rule == "caution-lock" and len(found) > 1
