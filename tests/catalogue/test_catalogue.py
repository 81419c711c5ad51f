"""The shipped catalogue is whole, and a broken file is refused with file and line."""

import shutil
from dataclasses import replace
from datetime import date

import pytest

from dimbo.catalogue import CatalogueError, load_catalogue, shipped_intake
from dimbo.catalogue.load import SHIPPED
from dimbo.catalogue.templates import load_templates, ramp, shipped_templates
from dimbo.catalogue.whole import gaps
from dimbo.core.anatomy import Family
from dimbo.core.calendar.schedule import plan_days
from dimbo.core.design.checks import Weight
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.design.weeks import About, work_out
from dimbo.core.exercises.approach import APPROACHES, DEFAULT_APPROACH
from dimbo.core.exercises.dose import DEFAULT_PACE_S
from dimbo.core.exercises.dose_line import parse, print_line
from dimbo.core.exercises.ladder import ladder
from dimbo.core.programs.daily_ceilings import fits
from dimbo.core.programs.program import Settings

CATALOGUE = load_catalogue()
every_card = pytest.mark.parametrize("card", CATALOGUE.cards.values(), ids=CATALOGUE.cards)


@every_card
def test_every_card_can_be_taught_and_climbed(card):
    assert len(card.cues) >= 2 and card.faults and card.stop_rule and card.eased
    assert (card.family.contracts and card.prime_movers) or not card.family.contracts
    steps = ladder(
        parse(card.start_line, card.style),
        parse(card.target_line, card.style),
        card.axes,
        pace_s=DEFAULT_PACE_S,
        fits=lambda dose: fits(card, dose, Settings()),
    )
    assert not steps.capped
    assert not any(r.steep for r in steps.rungs)
    for rung in steps.rungs:
        assert parse(print_line(rung.dose, card.style), card.style) == rung.dose
        assert fits(card, rung.dose, Settings())


@every_card
def test_a_ceiling_says_why_a_day_holds_no_more(card):
    assert card.ceiling_why.endswith(".") and len(card.ceiling_why) > 20


def test_work_inside_the_lips_has_a_reason_of_its_own():
    assert "a minute a day for good" in CATALOGUE.cards["upper-lip-press"].ceiling_why


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


def test_the_catalogue_is_whole():
    assert len(CATALOGUE.cards) >= 160
    assert gaps(CATALOGUE.muscles, CATALOGUE.concerns, CATALOGUE.cards.values()) == []


@pytest.mark.parametrize(
    ("without", "says"),
    [
        (
            lambda c: "pterygoids" in c.shares and c.family not in (Family.RELEASE, Family.PRESS, Family.STRETCH),
            "no exercise trains medial and lateral pterygoid",
        ),
        (lambda c: c.family in (Family.RELEASE, Family.PRESS, Family.STRETCH), "no exercise releases masseter"),
        (lambda c: "crows-feet" in c.concerns, "no exercise helps with crow’s feet"),
        (lambda c: "mentalis" in c.shares and c.family.contracts and c.id != "under-chin-push", "only one exercise trains mentalis"),
        (
            lambda c: "crows-feet" in c.concerns and c.family not in (Family.HABIT, Family.RESIST),
            "crow’s feet is helped by habit and resist alone",
        ),
    ],
)
def test_a_gap_of_the_catalogue_is_named(without, says):
    left = [c for c in CATALOGUE.cards.values() if not without(c)]
    assert says in gaps(CATALOGUE.muscles, CATALOGUE.concerns, left)


def test_what_closes_the_eye_is_not_offered_for_opening_it():
    closer = CATALOGUE.cards["lid-resist-close"]
    wrong = replace(closer, concerns=(*closer.concerns, "hooded-lid"))
    cards = [wrong if c.id == closer.id else c for c in CATALOGUE.cards.values()]
    assert gaps(CATALOGUE.muscles, CATALOGUE.concerns, cards) == ["Slow framed closing strengthens what works against hooded lid"]
    released = replace(wrong, family=Family.RELEASE)
    assert not CATALOGUE.concerns["hooded-lid"].contradicted_by(released)
    assert not CATALOGUE.concerns["crows-feet"].contradicted_by(closer)


def test_a_cause_that_few_families_help_says_why():
    told = [(e.concern, c.id, bool(c.few)) for e in shipped_intake().tables.reasoning.values() for c in e.causes if 0 < len(c.families) < 3]
    assert [t[:2] for t in told if not t[2]] == []


def test_every_reasoned_cause_finds_an_exercise():
    """A cause that asks for training or release can be answered by the catalogue."""
    for entry in shipped_intake().tables.reasoning.values():
        for cause in entry.causes:
            for family in cause.families:
                fits = [
                    c
                    for c in CATALOGUE.cards.values()
                    if c.family.value == family and (entry.concern in c.concerns or set(cause.muscles) & set(c.prime_movers))
                ]
                assert fits, (entry.concern, cause.id, family)


@pytest.mark.parametrize("name", sorted(shipped_templates()))
def test_a_shipped_template_shows_no_note_on_its_own_page(name):
    program = shipped_templates()[name].program(Settings(), CATALOGUE.cards)
    found = compile_sheet(program, Settings(), About(cards=CATALOGUE.cards)).notes
    assert [(n.rule, n.text) for n in found if n.weight is not Weight.FINE] == []


def test_the_reference_programme_is_expressed_exactly():
    program = shipped_templates()["reference-20"].program(Settings(), CATALOGUE.cards)
    assert (program.weeks, len({n.card.id for n in program.lines})) == (20, 32)
    assert program.sessions == (7.0,) * 8 + (3.5,) * 12
    weeks = work_out(program, Settings()).weeks
    assert all(28.5 * 60 <= w.seconds <= 31.5 * 60 for w in weeks)
    days = plan_days(date(2026, 3, 2), program.sessions)
    assert len(days) == 56 + 42
    daily, later = weeks[0], weeks[8]
    assert later.total_s == pytest.approx(3.5 * later.seconds)
    strength = sum(i.seconds(Settings()) for n in program.lines if n.card.strength for i in [work_out(program, Settings()).items[n.id][1]])
    assert 5 * daily.seconds < daily.total_s <= 7 * daily.seconds - 2 * strength, "what works against something rests two days of seven"


@pytest.mark.parametrize(
    ("text", "weeks", "says"),
    [
        ("7 x 8, 3.5 x 12", 20, [7] * 8 + [3.5] * 12),
        ("3 > 6", 5, [3, 4, 5, 6, 6]),
        ("3 x 2, 4 > 5", 5, [3, 3, 4, 5, 5]),
        ("5", 3, [5, 5, 5]),
    ],
)
def test_days_of_a_template(text, weeks, says):
    assert list(ramp(text, weeks)) == says


@pytest.mark.parametrize(
    ("find", "put", "says"),
    [
        ("exercise: tall-seat}", "exercise: short-seat}", "short-seat"),
        ('days: "3 x 2, 4 > 6"', 'days: "3 x 9"', "gives 9 weeks, not 4"),
        ("dose: start}", "dose: plenty}", "expected the number"),
        ("concerns: [flat-cheeks", "concerns: [flat-feet", "flat-feet"),
    ],
)
def test_a_fault_in_a_template_is_found_with_file_and_line(tmp_path, find, put, says):
    text = (SHIPPED / "templates/shipped.yaml").read_text()
    (tmp_path / "shipped.yaml").write_text(text.replace(find, put, 1))
    with pytest.raises(CatalogueError, match=r"^shipped.yaml:\d+: ") as found:
        load_templates(CATALOGUE, tmp_path)
    assert says in str(found.value)
