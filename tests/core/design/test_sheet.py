"""The sheet: every week timed and loaded, and the margin says what is wrong."""

from dimbo.core.anatomy import Family, Stage
from dimbo.core.design.checks import Weight
from dimbo.core.design.sheet import compile_sheet
from dimbo.core.programs.program import Settings
from tests.core.builders import card, program

SETTINGS = Settings()


def rules(*rows, **kw):
    return {n.rule: n for n in compile_sheet(program(*rows, **kw), SETTINGS).notes}


CALM = card("palms", family=Family.BREATHE, stage=Stage.CLOSE)


def test_a_sound_program_can_be_assigned():
    sheet = compile_sheet(program((card(), ("1×5 h3", "1×5 h4")), (CALM, ("20 s", "20 s"))), SETTINGS)
    assert sheet.assignable
    assert sheet.weeks[0].seconds == 30 + 8 + 20
    assert (sheet.weeks[0].contraction.right, sheet.weeks[1].contraction.left) == (20, 25)


def test_the_daily_ceiling_stops_and_names_the_weeks():
    note = rules((card(ceiling_s=30), ("1×5 h3", "1×8 h3", "1×9 h3")))["ceiling"]
    assert note.weight is Weight.STOP
    assert note.weeks == (2, 3)
    assert "0:36" in note.text and "0:30" in note.text


def test_a_dose_exactly_at_the_ceiling_is_allowed():
    assert "ceiling" not in rules((card(ceiling_s=32), ("1×8 h3",)))


def test_what_cannot_be_read_is_kept_and_stops():
    sheet = compile_sheet(program((card(), ("1×5 h3", "five times"))), SETTINGS)
    assert sheet.cells["line0"][1].error is not None
    assert sheet.program.lines[0].cells[1] == "five times"
    assert not sheet.assignable


def test_a_week_without_practice_cannot_be_assigned():
    assert not compile_sheet(program((card(), ("1×5 h3", ""))), SETTINGS).assignable


def test_growth_of_a_line_and_of_the_session():
    found = rules((card(), ("2×10 h4", "2×15 h4")))
    assert found["steep-line"].weeks == (2,)
    assert found["steep-session"].weeks == (2,)
    assert "steep-line" not in rules((card(), ("1×6 h3", "1×8 h3")))


def test_minutes_that_the_client_does_not_have():
    assert rules((card(), ("2×30 h5",)), minutes=5)["budget"].weeks == (1,)
    assert "budget" not in rules((card(), ("1×5 h3",)), minutes=5)


def test_foundations_order_and_the_calm_end():
    pulse = card("pulse", after=(("lift", "Long lift"),))
    left_out = rules((pulse, ("1×5 h3",)))["foundation"]
    assert "builds on Long lift" in left_out.text and "Add Long lift" in left_out.remedy
    assert "before its foundation" in rules((pulse, ("1×5 h3",)), (card(), ("1×5 h3",)))["foundation"].text
    assert "foundation" not in rules((card(), ("1×5 h3",)), (pulse, ("1×5 h3",)))
    assert "stage-order" in rules((CALM, ("20 s",)), (card(), ("1×5 h3",)))
    assert "ends-calm" in rules((card(), ("1×5 h3",)))
