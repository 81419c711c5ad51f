"""The intake's tables: whole, without dangling names, and refused with file and line when they are not."""

import shutil
from typing import get_args

import pytest

from dimbo.catalogue import CatalogueError, load_intake_tables, shipped_catalogue, shipped_intake
from dimbo.catalogue.load import SHIPPED
from dimbo.catalogue.schema import Mark
from dimbo.core.anatomy import Family
from dimbo.core.exercises.card import MARKS
from dimbo.core.intake.side_tests import TOPICS
from dimbo.core.safety.cautions import URGENT, Effect

TABLES = shipped_intake().tables


def test_every_concern_has_words_for_each_level_and_a_way_to_reason():
    for concern in TABLES.concerns.values():
        assert len(concern.levels) == len(set(concern.levels)) == 4
        assert TABLES.reasoning[concern.id].causes


def test_every_question_moves_some_cause():
    for entry in TABLES.reasoning.values():
        for q in entry.questions:
            assert any(any(c.evidence.get(q.id, {}).values()) for c in entry.causes), (entry.concern, q.id)


def test_every_cause_can_come_out_first():
    from itertools import product

    from dimbo.core.intake.reasoning import suggest

    for entry in TABLES.reasoning.values():
        asked = [q.id for q in entry.questions]
        ways = product(("yes", "no"), repeat=len(asked))
        first = {suggest(entry, dict(zip(asked, way, strict=True))).first.cause.id for way in ways}
        assert first == {c.id for c in entry.causes}, entry.concern


def test_every_lock_says_who_releases_it_and_what_must_be_said():
    for rule in TABLES.cautions:
        if rule.locks:
            assert rule.cleared_by in ("clinician", "coach") and rule.says
        if rule.group == URGENT:
            assert rule.cleared_by == "clinician"
            assert [t for t in rule.touches if t.effect is Effect.LOCK and not t.by_region and not t.narrowed], "reaches everything"


def test_the_words_of_the_schema_are_those_of_the_core():
    assert set(get_args(Mark)) == set(MARKS)
    assert {t.topic for t in TABLES.tests.values() if t.topic} == set(TOPICS)
    assert all(f in set(Family) for e in TABLES.reasoning.values() for c in e.causes for f in c.families)


def test_nothing_promises_or_diagnoses():
    text = " ".join(
        [c.helps + c.because for e in TABLES.reasoning.values() for c in e.causes] + [r.text + r.says for r in TABLES.cautions]
    ).lower()
    for word in ("guarantee", "cure", "you have ", "diagnos", "will disappear"):
        assert word not in text


@pytest.fixture
def folder(tmp_path):
    shutil.copytree(SHIPPED, tmp_path / "data")
    return tmp_path / "data"


@pytest.mark.parametrize(
    ("file", "old", "new", "says"),
    [
        ("reasoning.yaml", "families: [drain, tap]", "families: [drain, sing]", "families"),
        ("reasoning.yaml", "muscles: [corrugator, procerus]", "muscles: [corrugator, elbow]", "no muscle “elbow”"),
        ("reasoning.yaml", "from: chewing}", "from: humming}", "no caution, side test or topic “humming”"),
        ("reasoning.yaml", "evidence: {smile-lifts: {yes: -1", "evidence: {smile-sinks: {yes: -1", "no question “smile-sinks”"),
        ("reasoning.yaml", "{yes: 5, no: -2}", "{yes: 50, no: -2}", "less than or equal to 9"),
        ("cautions.yaml", "regions: [eye, brow], effect", "regions: [eye, brwo], effect", "“brwo” among the regions"),
        ("cautions.yaml", "  says: Whether press points are allowed, and which.\n", "", "a lock needs cleared_by"),
        ("cautions.yaml", "marks: [wide-open, jaw-forward], effect", "marks: [headstand], effect", "marks"),
        ("side_tests.yaml", "topic: weaker-brow, right: left", "topic: weaker-ear, right: left", "topic"),
        ("side_tests.yaml", "reading: fissure_height", "reading: fissure", "no reading “fissure”"),
        ("consents.yaml", "months: 6", "months: 0", "months"),
    ],
)
def test_a_fault_is_refused_with_its_file_and_line(folder, file, old, new, says):
    path = folder / file
    text = path.read_text(encoding="utf-8")
    assert old in text
    line = text[: text.index(old)].count("\n") + 1
    path.write_text(text.replace(old, new, 1), encoding="utf-8")
    with pytest.raises(CatalogueError, match=says) as refused:
        load_intake_tables(shipped_catalogue(), folder)
    assert refused.value.file.name == file
    assert abs(refused.value.line - line) <= 24, "near enough to find it"
