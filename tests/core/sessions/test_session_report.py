"""What a session can have been, and two parts of one session put together."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import pytest

from dimbo.core.sessions.crediting import Stay, Stretch
from dimbo.core.sessions.session_report import ItemReport, PartReport, Report, impossible, joined

BEGUN = datetime(2026, 3, 2, 7, 30, tzinfo=UTC)
PLAN = UUID(int=1)


def stretch(from_s, to_s, after_s=0.0):
    return Stretch(from_s, to_s=to_s, at=BEGUN + timedelta(seconds=after_s))


def report(lasted_s=300.0, stretches=(), **more):
    items = more.pop("items", [ItemReport(assignment_id=PLAN, line_id="lift")])
    return Report(
        id=UUID(int=more.pop("id", 7)),
        day=date(2026, 3, 2),
        part="morning",
        source="player",
        parts=[PartReport(assignment_id=PLAN, plan=1, week=1, place=0)],
        items=items,
        stretches=list(stretches) or [stretch(0, 300)],
        started_at=BEGUN,
        ended_at=BEGUN + timedelta(seconds=lasted_s),
        sent_at=BEGUN + timedelta(seconds=lasted_s),
        **more,
    )


def held(*seconds, at_s=10.0):
    stays = tuple(Stay(at_s, seconds=s, side=None) for s in seconds)
    return [ItemReport(assignment_id=PLAN, line_id="lift", stays=stays)]


@pytest.mark.parametrize(
    ("told", "fields"),
    [
        (report(), []),
        (report(0.0, [stretch(0, 0)]), []),
        (report(-1.0, [stretch(0, 0)]), ["ended_at", "stretches"][:1]),
        (report(6 * 3600.0), []),
        (report(6 * 3600.0 + 1), ["ended_at"]),
        (report(295.0), []),
        (report(294.9), ["stretches"]),
        (report(300.0, [stretch(0, 200), stretch(100, 206)]), ["stretches"]),
        (report(300.0, [stretch(5, 4)]), ["stretches"]),
        (report(300.0, [stretch(-1, 4)]), ["stretches"]),
        (report(6000.0, [stretch(0, 1)] * 400), []),
        (report(6000.0, [stretch(0, 1)] * 401), ["stretches"]),
        (report(items=held(300.0, 300.0)), []),
        (report(items=held(300.0, 300.1)), ["stays"]),
        (report(items=held(0.0)), ["stays"]),
        (report(items=held(5.0, at_s=-0.1)), ["stays"]),
    ],
)
def test_what_nobody_can_have_done_is_named_by_its_field(told, fields):
    found = list(impossible(told))
    assert [f.field for f in found] == fields
    assert all(f.says.endswith(".") for f in found)


def test_two_parts_of_a_session_become_one_in_the_order_in_which_they_were_played():
    first = report(100, [stretch(0, 90)], effort=4, form="yes", note="The phone rang.", items=held(20.0))
    now = report(400, [stretch(90, 300, 150)], id=8, note=" Better after. ", continues=UUID(int=7), items=held(5.0))
    now = replace(now, started_at=BEGUN + timedelta(seconds=140))
    both = joined(first, now)
    assert both.stretches == [*first.stretches, *now.stretches] and both.started_at == BEGUN and both.ended_at == now.ended_at
    assert [s.seconds for s in both.stays] == [20.0, 5.0]
    assert (both.id, both.replaces) == (now.id, UUID(int=7)), "it takes the place of the first"
    assert (both.effort, both.form, both.note) == (4, "yes", "The phone rang. Better after.")
    assert joined(first, replace(now, effort=6, form="no")).effort == 6, "what is told last holds"


@pytest.mark.parametrize(("then", "now"), [(True, False), (False, True), (True, True), (False, False)])
def test_pain_stays_told_and_is_told_once(then, now):
    hurt = {"hurt": True, "pain_side": "left", "pain_level": 4, "pain_where": "cheek", "pain_since": "today"}

    def told(hurts, level):
        return [replace(ItemReport(assignment_id=PLAN, line_id="lift"), **(hurt | {"pain_level": level} if hurts else {}))]

    (item,) = joined(report(items=told(then, 4)), report(items=told(now, 6))).items
    assert item.hurt == (then or now)
    assert item.known_pain == (then and not now), "news is what was not told before"
    assert item.pain_level == (6 if now else 4 if then else None)
    assert item.pain_where == ("cheek" if then or now else "")


def test_easing_and_leaving_out_are_kept_from_either_part():
    first = report(items=[ItemReport(assignment_id=PLAN, line_id="lift", eased=True, skip_reason="no time")])
    (item,) = joined(first, report()).items
    assert item.eased and item.skip_reason == "no time"
    (item,) = joined(report(), first).items
    assert item.eased and item.skip_reason == "no time"
