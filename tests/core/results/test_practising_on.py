"""Who stopped, from whole lives of practice."""

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from dimbo.core.results.helped import NOTHING, practising_on
from dimbo.core.results.practising_on import STOPPED_DAYS, Followed, by_first_weeks, followed

START = date(2026, 1, 5)


def on(*days):
    return [START + timedelta(days=d) for d in days]


def never(_):
    return False


def test_a_stop_is_dated_at_the_last_practice_before_three_weeks_of_none():
    assert followed(on(0, 2, 5, 9), START + timedelta(days=60), never, ended=None) == Followed(9, stopped=True)
    assert followed(on(0, 2, 40), START + timedelta(days=90), never, ended=None) == Followed(2, stopped=True), (
        "coming back later is no survival"
    )
    assert followed(on(0, 10, 20), START + timedelta(days=30), never, ended=None) == Followed(9, stopped=False), (
        "only to 21 days before today"
    )
    assert followed(on(0, 10), START + timedelta(days=15), never, ended=None) is None
    assert followed([], START, never, ended=None) is None


def test_a_pause_and_the_end_of_a_program_are_no_stop():
    paused = lambda d: 10 < (d - START).days < 60  # noqa: E731
    found = followed(on(0, 5, 10, 61, 70), START + timedelta(days=100), paused, ended=None)
    assert found == Followed(70 - 49, stopped=True), "the 49 paused days are left out"
    assert followed(on(0, 5, 10), START + timedelta(days=200), never, ended=START + timedelta(days=14)) == Followed(14, stopped=False)


lives = st.lists(st.integers(0, 300), min_size=1, max_size=60, unique=True).map(sorted)


@given(lives, st.integers(0, 400))
def test_nobody_is_both_a_survivor_and_followed_past_what_can_be_known(days, later):
    today = START + timedelta(days=days[-1] + later)
    found = followed(on(*days), today, never, ended=None)
    if found is None:
        return
    assert 0 <= found.days <= (today - on(days[0])[0]).days - (0 if found.stopped else STOPPED_DAYS)
    gaps = [b - a for a, b in zip(days, [*days[1:], days[-1] + later], strict=True)]
    first = next((i for i, g in enumerate(gaps) if g - 1 >= STOPPED_DAYS), None)
    assert found.stopped is (first is not None)
    if found.stopped:
        assert found.days == days[first] - days[0]


def test_who_had_stopped_by_day_14_says_nothing_of_the_first_two_weeks():
    people = [(Followed(10, True), 0.2), (Followed(14, True), 1.0), (Followed(30, True), 0.9), (Followed(90, False), 0.5)]
    found = by_first_weeks(people)
    assert (len(found.many), len(found.few), found.gate) == (1, 1, False)
    enough = [(Followed(90 - k, k % 2 == 0), 0.9 if k < 10 else 0.3) for k in range(20)]
    assert by_first_weeks(enough).gate


def test_below_ten_nothing_is_drawn_or_said():
    few = practising_on([Followed(90, False)] * 9, by_first_weeks([]))
    assert few.finding.sentence.startswith(NOTHING) and not few.course
    ten = practising_on([Followed(90, False)] * 9 + [Followed(30, True)], by_first_weeks([]))
    assert ten.finding.sentence == "After 12 weeks 90 in a hundred still practised (47 to 99); 9 were followed so far."
