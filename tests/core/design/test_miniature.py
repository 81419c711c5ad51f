"""A program at a glance says what the sheet says."""

from dataclasses import replace

import pytest

from dimbo.catalogue import shipped_catalogue
from dimbo.catalogue.templates import shipped_templates
from dimbo.core.design.miniature import miniature
from dimbo.core.design.weeks import work_out
from dimbo.core.programs.program import Settings


def of(template):
    program = shipped_templates()[template].program(Settings(), shipped_catalogue().cards)
    return program, work_out(program, Settings())


@pytest.mark.parametrize("template", sorted(shipped_templates()))
def test_every_shipped_template_is_as_long_and_as_full_as_its_sheet(template):
    program, sheet = of(template)
    small = miniature(sheet)
    assert len(small.minutes) == len(small.days) == program.weeks and len(small.rows) == len(program.lines)
    assert small.minutes == tuple(w.seconds / 60 for w in sheet.weeks)
    for row, line in zip(small.rows, program.lines, strict=True):
        assert [share > 0 for share in row.shares] == [n in sheet.items[line.id] for n in range(1, program.weeks + 1)]
        assert max(row.shares) == 1 and min(row.shares) >= 0
    strongest = max(max(x.right, x.left) for x in small.regions.values())
    assert strongest == pytest.approx(1)


def test_what_works_shows_by_side_and_where_nothing_contracts_the_hands_show():
    assert miniature(of("lift-and-level")[1]).regions["frontalis"].right > 0
    _, sheet = of("lift-and-level")
    by_hand = replace(sheet, weeks=tuple(replace(w, muscles={}) for w in sheet.weeks))
    assert miniature(by_hand).regions.keys() == {m for w in sheet.weeks for m, x in w.hands_on.items() if x.right or x.left}
