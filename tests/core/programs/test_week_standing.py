"""Where each week of a program stands, through a whole course day by day."""

from datetime import date, timedelta

from dimbo.core.programs.week_standing import PlannedWeek, WeekState, standings

START = date(2026, 3, 2)


def week(n, *, practised=True, back=0, version=2):
    first = START + timedelta(days=7 * (n - 1))
    return PlannedWeek(week=n, first=first, last=first + timedelta(days=4), back=back, practised=practised, version=version)


def states(planned, today, weeks=4, version=2):
    return [s.state for s in standings(planned, weeks, version, today)]


def test_a_program_that_nobody_practises_has_no_standing():
    assert standings([], 12, 1, START) == []


def test_a_course_goes_from_ahead_over_now_to_practised_and_never_back():
    order = [WeekState.AHEAD, WeekState.NOW, WeekState.PRACTISED]
    seen = [order.index(states([week(1), week(2)], START + timedelta(days=d), weeks=2)[1]) for d in range(-3, 20)]
    assert seen == sorted(seen) and set(seen) == {0, 1, 2}


def test_what_was_eased_missed_or_is_not_laid_out_is_told_apart():
    planned = [week(1, back=1), week(2, practised=False), week(3)]
    assert states(planned, START + timedelta(days=15)) == [WeekState.EASED, WeekState.MISSED, WeekState.NOW, WeekState.DRAFT]


def test_a_newer_version_is_a_draft_only_where_nothing_has_begun():
    planned = [week(1, version=1), week(2, version=1), week(3, version=1)]
    assert states(planned, START + timedelta(days=8), weeks=3, version=2) == [WeekState.PRACTISED, WeekState.NOW, WeekState.DRAFT]
