"""Quiet alarms: each speaks at its threshold with its reason, the most urgent first, and again after it was put aside."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import pytest

from dimbo.core.review.adherence import Day, DayState
from dimbo.core.review.alarm_kinds import KINDS, Does, Opens, Urgency
from dimbo.core.review.alarms import Aside, Corrected, DueReview, Known, Locked, ReviewWeek, alarms, rank
from dimbo.core.review.course_weeks import CourseWeek, course_weeks, is_over, review_due
from dimbo.core.review.thresholds import ReviewRules
from dimbo.core.review.weekly import Pain, WeekFacts, judge

TODAY = date(2026, 3, 18)
QUIET = Known(today=TODAY)
OTHER = UUID(int=2)


def ago(days):
    return TODAY - timedelta(days=days)


def day(days_ago, share=1.0, over=0.0):
    state = DayState.DONE if share == 1 else DayState.PARTLY if share else DayState.SKIPPED
    return Day(day=ago(days_ago), state=state, share=share, over_s=over, load_s=100.0)


def kinds(known, settled=()):
    return [a.kind.id for a in alarms(known, settled)]


WEEK = CourseWeek(first=ago(9), last=ago(3), week=2, back=0, plan=1, days=(ago(9), ago(5)))
FACTS = WeekFacts(days=(day(9), day(5)), efforts=(4, 5), soreness=((ago(4), 2),))
DUE = DueReview(assignment=UUID(int=1), title="Lift", week=WEEK, facts=FACTS, judgement=judge(FACTS, ReviewRules()))

NECK = Locked("Neck disc trouble: locked.", "Neck disc trouble. The neck is locked until a clinician says more.")

SPEAKS = {
    "urgent": (Known(today=TODAY, urgent=["The right mouth corner dropped."]), QUIET),
    "record": (Known(today=TODAY, unread_record=True), QUIET),
    "pain": (Known(today=TODAY, hurts=[Pain(exercise_id="circles", name="Circles", day=ago(0), side="left", level=4)]), QUIET),
    "lock": (Known(today=TODAY, locks=[NECK]), QUIET),
    "sore": (Known(today=TODAY, soreness=[(ago(6), 6, "under the chin")]), Known(today=TODAY, soreness=[(ago(7), 9, ""), (TODAY, 5, "")])),
    "overdone": (
        Known(today=TODAY, days=[day(6, over=26), day(1, over=62)]),
        Known(today=TODAY, days=[day(7, over=26), day(6, over=25), day(1, over=62)]),
    ),
    "missed": (
        Known(today=TODAY, days=[day(5), day(3, 0), day(2, 0), day(1, 0)]),
        Known(today=TODAY, days=[day(3, 0), day(2, 0.4), day(1, 0)]),
    ),
    "words": (Known(today=TODAY, unread=2), QUIET),
    "intake": (Known(today=TODAY, own_intake=True), QUIET),
    "review": (Known(today=TODAY, reviews=[DUE]), QUIET),
    "corrected": (Known(today=TODAY, corrected=[Corrected(ReviewWeek(OTHER, ago(9)), "3 of 4 sessions then, 4 of 4 now")]), QUIET),
    "sitting": (Known(today=TODAY, sitting_due=TODAY), Known(today=TODAY, sitting_due=ago(-1))),
    "consent": (
        Known(today=TODAY, consents=[("keep photographs", ago(-21))]),
        Known(today=TODAY, consents=[("keep photographs", ago(-22))]),
    ),
    "over": (Known(today=TODAY, ended=ago(1)), Known(today=TODAY, ended=TODAY)),
}


@pytest.mark.parametrize("kind", KINDS)
def test_every_alarm_speaks_at_its_threshold_with_reason_and_step(kind):
    speaks, silent = SPEAKS[kind]
    (alarm,) = alarms(speaks)
    assert alarm.kind.id == kind and alarm.text and alarm.step and alarm.key
    assert kind not in kinds(silent)


def test_every_step_leads_where_its_matter_is_decided():
    said = {k: alarms(known)[0] for k, (known, _) in SPEAKS.items()}
    leads = {k: (a.does or a.kind.does, a.kind.opens) for k, a in said.items()}
    assert {k for k, (does, _) in leads.items() if does is Does.WRITE} == {"missed", "sitting", "consent", "sore", "overdone"}
    assert leads["urgent"][1] is leads["lock"][1] is leads["intake"][1] is Opens.INTAKE
    assert (leads["pain"][1], leads["words"][1], leads["record"][1]) == (Opens.DECIDE, Opens.WORDS, Opens.CLIENT)
    assert leads["review"][0] is Does.CONFIRM and said["review"].week == ReviewWeek(DUE.assignment, WEEK.first)
    assert leads["corrected"][0] is Does.OPEN and said["corrected"].week == ReviewWeek(OTHER, ago(9)), "of its own program, not the first"


@pytest.mark.parametrize("kind", ["sore", "overdone"])
def test_what_asks_for_an_easier_week_leads_to_its_review_or_begins_a_message(kind):
    known = SPEAKS[kind][0]
    (alone,) = alarms(known)
    assert (alone.step, alone.does, alone.week) == ("Write", Does.WRITE, None)
    due = next(a for a in alarms(replace(known, reviews=[DUE])) if a.kind.id == kind)
    assert (due.step, due.does, due.week) == ("Ease back", None, ReviewWeek(DUE.assignment, WEEK.first))


@pytest.mark.parametrize("kind", [k for k in KINDS.values() if k.does is Does.WRITE or (k.opens is Opens.REVIEW and k.id != "review")])
def test_whatever_may_begin_a_message_has_its_first_words(kind):
    words = kind.first_words.format(name="Ada") if kind.id != "corrected" else "Dear Ada, "
    assert words.startswith("Dear Ada, ") and "promise" not in words and "{" not in words


def test_the_numbers_that_decided_are_in_the_reason():
    said = {k: alarms(known)[0] for k, (known, _) in SPEAKS.items()}
    assert "6 of 10" in said["sore"].text and "under the chin" in said["sore"].text
    assert said["overdone"].marks == ("Thu +26 %", "Tue +62 %")
    assert said["missed"].marks[1].startswith("last done Fri")
    assert "2 of 2 sessions, effort 4.5, soreness 2, no pain" in said["review"].text and said["review"].step == "Confirm: advance"
    assert "21 days" in said["consent"].text


def test_the_most_urgent_comes_first_and_says_all_the_rest_after_it():
    everything = Known(
        today=TODAY,
        urgent=(),
        locks=[NECK],
        hurts=[Pain(exercise_id="c", name="C", day=TODAY, side=None, level=None)],
        days=[day(1, over=90), day(2, over=90)],
        soreness=[(TODAY, 8, "")],
        unread=1,
        own_intake=True,
        reviews=[DUE],
        corrected=(),
        sitting_due=TODAY,
        consents=(),
        ended=None,
    )
    found = alarms(everything)
    assert [a.kind.id for a in found] == ["pain", "lock", "sore", "overdone", "words", "intake", "review", "sitting"]
    order = list(Urgency)
    assert [order.index(a.kind.urgency) for a in found] == sorted(order.index(a.kind.urgency) for a in found)
    assert rank(found) < rank(alarms(SPEAKS["overdone"][0])) < rank(alarms(SPEAKS["consent"][0])) < rank([])


def test_a_sudden_sign_leaves_no_room_for_anything_else():
    assert kinds(replace(SPEAKS["overdone"][0], urgent=["Droop."], locks=[NECK])) == ["urgent", "lock"]


def test_what_was_put_aside_stays_quiet_until_it_happens_again():
    known = SPEAKS["overdone"][0]
    (alarm,) = alarms(known)
    aside = [Aside("overdone", alarm.key)]
    assert kinds(known, aside) == []
    assert kinds(replace(known, days=[*known.days, Day(day=TODAY, state=DayState.DONE, share=1, over_s=80, load_s=100)]), aside) == [
        "overdone"
    ]
    pain = SPEAKS["pain"][0]
    assert kinds(pain, [Aside("pain", alarms(pain)[0].key)]) == ["pain"]


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_put_off_speaks_again_on_its_day_and_nothing_urgent_can_be(kind):
    known = SPEAKS[kind][0]
    (alarm,) = alarms(known)
    tomorrow = TODAY + timedelta(days=1)
    first = alarm.kind.urgency is Urgency.FIRST
    assert kinds(known, [Aside(kind, alarm.key, until=tomorrow)]) == ([kind] if first else [])
    assert kinds(known, [Aside(kind, alarm.key, until=TODAY)]) == [kind]


def test_a_new_message_speaks_although_an_older_one_was_put_off():
    at = datetime(2026, 3, 18, 9, tzinfo=UTC)
    (alarm,) = alarms(Known(today=TODAY, unread=1, newest_unread=at))
    aside = [Aside("words", alarm.key, until=TODAY + timedelta(days=1))]
    assert kinds(Known(today=TODAY, unread=1, newest_unread=at), aside) == []
    assert kinds(Known(today=TODAY, unread=2, newest_unread=at + timedelta(minutes=1)), aside) == ["words"]


def test_the_reason_in_one_line_keeps_what_decides():
    said = {k: alarms(known)[0] for k, (known, _) in SPEAKS.items()}
    assert said["pain"].short == "Circles hurt, left side, 4 of 10: left out until you decide."
    assert said["lock"].short == NECK.short and said["lock"].text == NECK.reason
    assert (
        said["missed"].short == f"3 planned days missed in a row, last done {ago(5):%a} {ago(5).day}."
        and said["missed"].also == "3 days missed"
    )
    assert all(len(a.short or a.text) <= 110 for a in said.values() if a.kind.id not in ("record", "urgent"))


def test_a_gap_that_becomes_a_week_speaks_again_and_says_that_practice_goes_on_lower():
    days = [day(6), *(day(n, 0) for n in (5, 4, 3))]
    (short,) = alarms(Known(today=TODAY, days=days))
    later = Known(today=TODAY + timedelta(days=3), days=days)
    (long,) = alarms(later, [Aside("missed", short.key)])
    assert "goes on where it was" in short.text and "rung lower" in long.text


def planned(*offsets, plan=1, week=1, back=0):
    return [(TODAY + timedelta(days=o), week, back, plan) for o in offsets]


def test_weeks_are_counted_from_the_plan_and_end_where_the_next_begins():
    rows = planned(0, 2, 4) + planned(7, 9, week=2) + planned(10, 12, plan=2, week=2, back=1)
    first, second, third = course_weeks(rows, {1: TODAY, 2: TODAY + timedelta(days=10)})
    assert (first.first, first.last, len(first.days)) == (TODAY, TODAY + timedelta(days=6), 3)
    assert (second.last, third.first, third.back) == (TODAY + timedelta(days=9), TODAY + timedelta(days=10), 1)


def test_a_changed_plan_on_the_same_grid_is_one_week():
    (whole,) = course_weeks(planned(0, 1) + planned(3, plan=2), {1: TODAY, 2: TODAY})
    assert whole.days == (TODAY, TODAY + timedelta(days=1), TODAY + timedelta(days=3)) and whole.plan == 2


def states(*rows):
    return {d.day: d for d in rows}


def test_a_week_is_due_once_nothing_of_it_can_be_practised_any_more():
    weeks = course_weeks([(ago(9), 1, 0, 1), (ago(7), 1, 0, 1), (ago(2), 2, 0, 1), (TODAY, 2, 0, 1)], {1: ago(9)})
    past = states(day(9), day(7, 0), day(2), Day(day=TODAY, state=DayState.OPEN))
    assert review_due(weeks, past, []) == weeks[0]
    assert review_due(weeks, past, [ago(9)]) is None
    done = past | states(Day(day=TODAY, state=DayState.DONE, share=1.0))
    assert is_over(weeks[1], done) and review_due(weeks, done, [ago(9)]) == weeks[1]


def test_a_week_of_pauses_is_never_due():
    weeks = course_weeks([(ago(9), 1, 0, 1)], {1: ago(9)})
    assert review_due(weeks, states(Day(day=ago(9), state=DayState.PAUSED)), []) is None
    assert review_due([], {}, []) is None


def test_the_days_between_a_reviewed_week_and_what_its_review_began_are_not_due():
    """Eased back on the Wednesday after: the Monday and Tuesday before belong to no week of their own."""
    rows = [(ago(12), 1, 0, 1), (ago(5), 2, 0, 1), (ago(4), 2, 0, 1), (ago(3), 2, 0, 2), (TODAY, 2, 0, 2)]
    weeks = course_weeks(rows, {1: ago(12), 2: ago(3)})
    assert [(w.first, w.last) for w in weeks] == [(ago(12), ago(6)), (ago(5), ago(4)), (ago(3), ago(-3))]
    over = states(day(12), day(5), day(4), day(3), Day(day=TODAY, state=DayState.OPEN))
    assert review_due(weeks, over, [ago(12)]) is None
    assert review_due(weeks, over, []) == weeks[1], "nobody has reviewed the week before"
