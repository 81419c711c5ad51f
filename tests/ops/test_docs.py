"""Docs that must stay true: commands, settings, reading definitions and pictures."""

import json
import re
import subprocess
import sys
from dataclasses import fields
from pathlib import Path

from dimbo.catalogue import intake_schema as s
from dimbo.catalogue import safety_book, schema, shipped_catalogue, shipped_intake
from dimbo.catalogue.templates import RowEntry, TemplateEntry
from dimbo.core import rule_book
from dimbo.core.calendar import schedule, time_zones
from dimbo.core.design.checks import CHECKS
from dimbo.core.exercises.approach import APPROACHES
from dimbo.core.programs.ordering import CONSTRAINTS
from dimbo.core.programs.program import LIMITS
from dimbo.core.programs.program import Settings as PracticeSettings
from dimbo.core.review import breaks
from dimbo.core.sessions import crediting, log_identity, merging
from dimbo.core.sittings.reading_table import READINGS
from dimbo.ops.settings import Settings
from dimbo.work.intake.client_import import FIELDS
from dimbo.work.messages import messenger
from dimbo.work.practice import day_notes
from dimbo.work.programs import exchange

ROOT = Path(__file__).parents[2]


def test_every_setting_is_documented():
    page = (ROOT / "docs/architecture.md").read_text()
    for name in Settings.model_fields:
        assert f"`DIMBO_{name.upper()}`" in page


def test_every_command_is_in_the_readme():
    shown = subprocess.run([sys.executable, str(ROOT / "launch"), "help"], capture_output=True, text=True, check=True).stdout
    readme = (ROOT / "README.md").read_text()
    for command in re.findall(r"^  (\w+) ", shown, re.M):
        assert f"./dimbo {command}" in readme


def test_every_reading_is_documented_with_its_noise():
    page = (ROOT / "docs/measurement.md").read_text()
    for reading in READINGS.values():
        noise = reading.noise
        assert re.search(rf"^\| `{reading.id}` \|.*\| {noise.shot_sd:.2f} \| {noise.sitting_sd:.2f} \|$", page, re.M)


def test_every_key_of_the_intakes_tables_is_documented():
    page = (ROOT / "docs/formats/intake-tables.md").read_text()
    parts = dict(zip(*[iter(re.split(r"^## (\S+\.yaml)$", page, flags=re.M)[1:])] * 2, strict=True))
    schemas = {
        "concerns.yaml": [s.ConcernEntry],
        "reasoning.yaml": [s.ReasoningEntry, s.QuestionEntry, s.CauseEntry],
        "side_tests.yaml": [s.SideTestEntry, s.SpeaksEntry, s.TaskEntry],
        "cautions.yaml": [s.CautionEntry, s.TouchEntry],
        "consents.yaml": [s.ConsentEntry],
    }
    assert set(parts) == set(schemas)
    for name, kinds in schemas.items():
        for kind in kinds:
            for key, field in kind.model_fields.items():
                assert f"`{field.alias or key}`" in parts[name], f"{name}: {key}"


def test_every_field_of_an_import_is_documented():
    page = (ROOT / "docs/formats/intake-tables.md").read_text()
    assert all(f"`{name}`" in page.split("## Clients from a list")[1] for name in FIELDS)


def test_links_of_the_docs_lead_somewhere():
    for page in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]:
        for link in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / link).exists(), f"{page.name}: {link}"


def test_every_rule_of_a_program_is_documented():
    page = (ROOT / "docs/program-design.md").read_text()
    assert all(f"| `{c.id}`, {c.title} | {c.weight.value} | {c.why} |" in page for c in CHECKS)
    assert all(f"| `{c.id}` | {c.says} |" in page for c in CONSTRAINTS)
    assert all(f"| {limit.name} |" in page and f"| {limit.about} |" in page for limit in LIMITS.values())
    assert set(LIMITS) == {f.name for f in fields(PracticeSettings)}, "a setting without limits and words, or the other way round"
    assert all(f"`{a}`" in page for a in APPROACHES)


def test_every_key_of_a_card_a_figure_and_a_template_is_documented():
    page = (ROOT / "docs/formats/catalogue.md").read_text()
    for entry in (schema.ExerciseEntry, schema.FigureEntry, TemplateEntry, RowEntry):
        for key, field in entry.model_fields.items():
            assert f"`{field.alias or key}`" in page, key


def test_the_published_schema_is_the_one_that_reads():
    published = json.loads((ROOT / "docs/formats/program.schema.json").read_text())
    assert published == exchange.schema()
    page = (ROOT / "docs/formats/program.md").read_text()
    assert all(f"`{key}`" in page for key in exchange.ProgramFile.model_fields)


def test_the_numbers_of_practice_are_the_ones_that_hold():
    page = (ROOT / "docs/practice.md").read_text()
    back, first = breaks.BACK_ONE_FROM_DAYS, breaks.FIRST_RUNG_FROM_DAYS
    for said in (
        f"| under {back} | {breaks.AfterBreak.GO_ON} |",
        f"| {back} to {first - 1} | {breaks.AfterBreak.BACK_ONE};",
        f"| {first} and more | {breaks.AfterBreak.FIRST_RUNG} |",
        f"({merging.MOST_AT_ONCE} at most)",
        f"the next days, {day_notes.DAYS_AHEAD} in all",
        f"when {100 * crediting.PLAYED:.0f} % of each of its beats",
        f"is done from {100 * log_identity.WHOLE:.0f} % of its",
        f"skipped under {100 * log_identity.NOTHING:.0f} %",
        f"More than {time_zones.CLOCK_TOLERANCE.seconds // 60} minutes off",
        f"gives up after {messenger.MOST_TRIES} tries",
        f"closes at {schedule.DAY_CLOSES:%H:%M}",
    ):
        assert said in page, said
    slept = re.search(r"SLEPT_S = (\d+)", (ROOT / "ui/src/lib/practice/player.svelte.ts").read_text())
    assert slept and f"more than {slept[1]} s apart" in page


def test_the_page_of_rules_is_printed_from_the_rules():
    kept = (ROOT / "docs/rules.md").read_text()
    assert kept == rule_book.page(), "run: python -m dimbo.core.rule_book > docs/rules.md"
    ids = [r.id for rules in rule_book.BOOK.values() for r in rules]
    assert len(ids) == len(set(ids)) == len(rule_book.EVERY)


def test_the_page_for_clinicians_is_the_one_that_holds():
    printed = safety_book.book(shipped_intake().tables.cautions, shipped_catalogue().cards)
    assert (ROOT / "docs/safety.md").read_text() == printed, "print it anew: python -m dimbo.catalogue.safety_book > docs/safety.md"
