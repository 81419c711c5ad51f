"""The shipped catalogue is whole, and a broken file is refused with file and line."""

import shutil

import pytest

from dimbo.catalogue import CatalogueError, load_catalogue
from dimbo.catalogue.load import SHIPPED
from dimbo.core.anatomy import Family, Side
from dimbo.core.approach import APPROACHES, DEFAULT_APPROACH
from dimbo.core.dose import DEFAULT_PACE_S
from dimbo.core.dose_line import parse, print_line
from dimbo.core.rungs import ladder

CATALOGUE = load_catalogue()
every_card = pytest.mark.parametrize("card", CATALOGUE.cards.values(), ids=CATALOGUE.cards)


def test_at_least_twelve_cards_across_six_families():
    assert len(CATALOGUE.cards) >= 12
    assert len({c.family for c in CATALOGUE.cards.values()}) >= 6


@every_card
def test_every_card_can_be_taught_and_climbed(card):
    assert len(card.cues) >= 2 and card.faults and card.stop_rule and card.eased
    assert (card.family.contracts and card.prime_movers) or not card.family.contracts
    steps = ladder(
        parse(card.start_line, card.style), parse(card.target_line, card.style), card.axes, pace_s=DEFAULT_PACE_S, ceiling=card.ceiling
    )
    assert not steps.capped
    assert not any(r.steep for r in steps.rungs)
    for rung in steps.rungs:
        assert parse(print_line(rung.dose, card.style), card.style) == rung.dose
        assert max(card.ceiling.used_s(rung.dose, s, DEFAULT_PACE_S) for s in Side) <= card.ceiling.seconds


@every_card
def test_start_and_target_are_written_canonically(card):
    for line in (card.start_line, card.target_line):
        assert print_line(parse(line, card.style), card.style) == line


def test_what_stretches_the_upper_lip_is_marked_for_the_schools_that_forbid_it():
    stretches = [c for c in CATALOGUE.cards.values() if c.family is Family.STRETCH and "orbicularis_oris" in c.prime_movers]
    assert stretches and all("lip-stretch" in c.marks for c in stretches)
    assert not APPROACHES[DEFAULT_APPROACH].lip_stretch


@pytest.mark.parametrize(
    ("file", "find", "put", "says"),
    [
        ("exercises/contract.yaml", "prime_movers: [zygomaticus_major,", "prime_movers: [smile_muscle,", "smile_muscle"),
        ("exercises/contract.yaml", "concerns: [flat-cheeks,", "concerns: [flat-feet,", "flat-feet"),
        ("exercises/contract.yaml", "start: 1×5 h3", "start: five", "start"),
        ("exercises/contract.yaml", "target: 2×8 h8", "target: 9×20 h8", "ceiling"),
        ("exercises/contract.yaml", "axes: [hold, reps, sets]", "axes: [hold]", "axes"),
        ("exercises/contract.yaml", "id: swallow-lift", "id: oval-lift", "twice"),
        ("exercises/contract.yaml", "foundation: true", "foundations: true", "foundations"),
        ("exercises/contract.yaml", "basis: contraction", "basis: effort", "basis"),
        ("muscles.yaml", "id: risorius", "id: Risorius!", "id"),
        ("muscles.yaml", "against: [frontalis]", "against: [nobody]", "nobody"),
        ("concerns.yaml", "paired: false", "paired: perhaps", "paired"),
        ("exercises/contract.yaml", "  cues:", "  cues: [", "YAML"),
    ],
)
def test_a_broken_file_is_refused_with_its_line(tmp_path, file, find, put, says):
    shutil.copytree(SHIPPED, tmp_path / "data")
    broken = tmp_path / "data" / file
    text = broken.read_text()
    assert find in text
    broken.write_text(text.replace(find, put, 1))
    with pytest.raises(CatalogueError) as caught:
        load_catalogue(tmp_path / "data")
    assert says in str(caught.value)
    assert str(caught.value).startswith(f"{broken.name}:")
    assert 1 < caught.value.line <= len(broken.read_text().splitlines()) + 1
