"""Docs that must stay true: commands, settings, reading definitions and pictures."""

import re
import subprocess
import sys
from pathlib import Path

from dimbo.catalogue import intake_schema as s
from dimbo.core.reading_table import READINGS
from dimbo.ops.settings import Settings
from dimbo.work.importing import FIELDS

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
    assert all(f"`{name}`" in page.split("## Clients from a CSV file")[1] for name in FIELDS)


def test_links_of_the_docs_lead_somewhere():
    for page in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]:
        for link in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / link).exists(), f"{page.name}: {link}"
