"""The benchmarks measure what they say; how fast is told by ./dimbo bench, never by a test."""

import pytest

from dimbo.bench import intake, photo, sheet
from dimbo.bench.run import ROWS, run_bench
from dimbo.catalogue import shipped_intake
from dimbo.core.anatomy import Family
from dimbo.core.sittings.protocol import NEUTRAL
from dimbo.core.sittings.shot import measured_on


def test_the_sheet_row_compiles_the_size_that_it_names():
    work, baseline, close = sheet.make()
    compiled = work()
    close()
    assert (compiled.program.weeks, len(compiled.program.lines)) == (12, 40)
    assert "12 weeks by 40 lines" in next(r for r in ROWS if r.name == "sheet").what
    assert all(len(w.items) == 40 for w in compiled.weeks)
    assert baseline() > 0


def test_the_bench_program_has_a_row_that_can_be_typed_into():
    program = sheet.bench_program()
    assert len({n.card.id for n in program.lines}) == 40
    assert any(n.card.family is Family.CONTRACT and n.cells[0].startswith("1×") for n in program.lines)


def test_the_photo_row_reads_a_real_photograph():
    work, baseline, close = photo.make()
    assert {"fissure_height", "brow_height"} <= set(measured_on(work().shot(NEUTRAL), None)[1])
    baseline()
    close()


def test_the_conclude_row_has_everything_filled_in():
    work, baseline, close = intake.core()
    found = work()
    tables = shipped_intake().tables
    assert len(found.cautions.held) == len(tables.cautions) and not found.cautions.unasked
    assert len(found.concerns) == len(tables.concerns)
    assert baseline() > 0
    close()


def test_a_row_that_is_none_is_named(capsys):
    assert run_bench(["speed"]) == 2
    assert "There is no row speed" in capsys.readouterr().out


@pytest.mark.parametrize("row", ROWS, ids=lambda r: r.name)
def test_every_row_names_its_baseline_and_its_aim(row):
    assert row.baseline and row.aim and row.rounds >= 4, "one round at least in each of the four turns"
