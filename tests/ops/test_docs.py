"""Docs that must stay true: commands, settings, reading definitions and pictures."""

import re
import subprocess
import sys
from pathlib import Path

from dimbo.core.readings import READINGS
from dimbo.ops.settings import Settings

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
        noise = reading.difference_noise
        assert re.search(rf"^\| `{reading.id}` \|.*\| {noise.shot_sd:.2f} \| {noise.sitting_sd:.2f} \|$", page, re.M)


def test_links_of_the_docs_lead_somewhere():
    for page in [ROOT / "README.md", *(ROOT / "docs").glob("*.md")]:
        for link in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / link).exists(), f"{page.name}: {link}"
