"""A technique family is known wherever families are told apart: none is forgotten when another comes."""

from pathlib import Path

import pytest
import yaml

from dimbo.catalogue import shipped_catalogue
from dimbo.catalogue.load import SHIPPED
from dimbo.catalogue.whole import RELEASES, TRAINS
from dimbo.core.anatomy import Family
from dimbo.core.design.checks.session import _LETS_GO, _LOOSENS
from dimbo.core.exercises.approach import APPROACHES

ROOT = Path(__file__).parents[2]
SAID = TRAINS | RELEASES | set(_LOOSENS) | set(_LETS_GO) | {f for a in APPROACHES.values() for f in a.first}
NEITHER = {Family.HABIT: "a task through the day, in no session"}
"""Families that do nothing of this on purpose."""


@pytest.mark.parametrize("family", Family)
def test_it_has_a_file_with_exercises(family):
    entries = yaml.safe_load((SHIPPED / "exercises" / f"{family.value}.yaml").read_text())
    assert entries and any(c.family is family for c in shipped_catalogue().cards.values())


@pytest.mark.parametrize("family", Family)
def test_it_is_said_what_it_does_for_a_muscle_or_that_it_does_nothing(family):
    assert (family in SAID) != (family in NEITHER)


@pytest.mark.parametrize("family", Family)
def test_it_is_in_the_document_of_the_catalogue(family):
    assert f"`{family.value}`" in (ROOT / "docs/formats/catalogue.md").read_text()
