"""Weeks worked out: sessions that are alike, circuits, evenings, days of a line, loads of week and session."""

import pytest

from dimbo.core.anatomy import Family, Stage
from dimbo.core.design.weeks import items_of_day, passes_minutes, work_out
from dimbo.core.programs.program import Circuit, Line, Program, Settings, When
from dimbo.core.sessions.timeline import session_s
from tests.core.builders import card

PLAIN = Settings()
LIFT, KNEAD = card("lift"), card("knead", family=Family.RELEASE, stage=Stage.LOOSEN, prime=("masseter",))
DAILY = card("habit", family=Family.HABIT, stage=Stage.DAY)


def line(own, *cells, row="", **more):
    return Line(id=row or own.id, card=own, stage=own.stage, cells=cells, **more)


def week(*lines, sessions=6, **more):
    return work_out(Program(title="Trial", weeks=1, sessions=(sessions,), minutes=None, lines=lines, **more), PLAIN).weeks[0]


def test_one_session_for_all_days_when_every_line_is_practised_daily():
    found = week(line(KNEAD, "1×4 h3"), line(LIFT, "1×5 h3"))
    (plan,) = found.plans
    assert plan.on == (0, 1, 2, 3, 4, 5) and found.total_s == 6 * plan.seconds


def test_a_line_of_fewer_days_makes_days_differ():
    found = week(line(KNEAD, "1×4 h3"), line(LIFT, "1×5 h3", days=(3,)))
    assert {tuple(i.card.id for i in p.items): len(p.on) for p in found.plans} == {("knead", "lift"): 3, ("knead",): 3}
    assert found.seconds == max(p.seconds for p in found.plans)
    assert found.muscles["zygomaticus_major"].right == 3 * 5 * 4


def test_morning_and_evening_are_sessions_of_their_own():
    found = week(line(KNEAD, "1×4 h3", when=When.BOTH), line(LIFT, "1×5 h3"))
    assert {p.when: [i.card.id for i in p.items] for p in found.plans} == {When.MORNING: ["knead", "lift"], When.EVENING: ["knead"]}
    assert found.hands_on["masseter"].right == pytest.approx(2 * found.session_hands_on["masseter"].right * 6)


def test_a_circuit_is_gone_through_as_often_as_it_says():
    lines = (line(KNEAD, "1×4 h3"), line(LIFT, "1×5 h3"), line(LIFT, "1×6 h3", row="more"))
    found = week(*lines, circuits=(Circuit(("lift", "more"), 3),))
    assert [i.line.id for i in found.items] == ["knead", *["lift", "more"] * 3]
    assert found.contraction.right == 3 * (5 + 6) * 4
    assert found.seconds == session_s(found.items, PLAIN)


def test_an_empty_cell_leaves_a_gap_that_a_circuit_closes():
    lines = (line(LIFT, "1×5 h3"), line(LIFT, "", row="rests"))
    assert [i.line.id for i in week(*lines, circuits=(Circuit(("lift", "rests"), 2),)).items] == ["lift", "lift"]


def test_habit_tasks_take_no_time():
    found = week(line(LIFT, "1×5 h3"), line(DAILY, "4"))
    assert [i.card.id for i in found.items] == ["lift"]


def test_every_other_day_counts_three_and_a_half_sessions():
    found = week(line(LIFT, "1×5 h3"), sessions=3.5)
    assert found.total_s == 3.5 * found.seconds
    assert found.muscles["zygomaticus_major"].left == 3.5 * found.session_muscles["zygomaticus_major"].left


def test_the_items_of_a_day_are_those_of_its_place_and_part():
    program = Program(
        title="Trial", weeks=1, sessions=(6,), minutes=None, lines=(line(KNEAD, "1×4 h3", when=When.BOTH), line(LIFT, "1×5 h3", days=(2,)))
    )
    of = [[i.card.id for i in items_of_day(program, PLAIN, 1, place)] for place in range(6)]
    assert sum("lift" in ids for ids in of) == 2 and all("knead" in ids for ids in of)
    assert [i.card.id for i in items_of_day(program, PLAIN, 1, 0, When.EVENING)] == ["knead"]
    assert items_of_day(program, PLAIN, 1, 6) == ()


@pytest.mark.parametrize(
    ("circuits", "says"),
    [
        ((Circuit(("lift",), 1),), "2 to 4 rounds"),
        ((Circuit(("gone",), 2),), "not there"),
        ((Circuit(("knead", "more"), 2),), "stand together"),
    ],
)
def test_circuits_that_cannot_be_are_refused(circuits, says):
    lines = (line(KNEAD, "1×4 h3"), line(LIFT, "1×5 h3"), line(LIFT, "1×5 h3", row="more"))
    with pytest.raises(ValueError, match=says):
        week(*lines, circuits=circuits)


@pytest.mark.parametrize(("seconds", "over"), [(600, False), (660.5, False), (660.6, True)])
def test_a_session_is_too_long_beyond_the_minutes_and_the_practices_slack(seconds, over):
    assert passes_minutes(seconds, 10, Settings(budget_slack_s=60)) is over
    assert not passes_minutes(seconds, None, Settings())
