"""What calendars are told over whole lives of programs: revisions only grow, and nothing that was told is forgotten in silence."""

import random
from datetime import UTC, date, datetime, time, timedelta

import pytest

from dimbo.core.calendar.events import AHEAD_DAYS, BACK_DAYS, CANCELLED_FOR, Session, shown, told

DAY = timedelta(days=1)


def session(rng):
    at = rng.choice([None, time(8), time(20, 30)])
    alarm = rng.choice([None, 10]) if at else None
    return Session(titles=(rng.choice(["Lift", "Rest"]),), minutes=rng.choice([8, 12]), at=at, time_zone="UTC", alarm_min=alarm)


@pytest.mark.parametrize("seed", range(40))
def test_revisions_grow_and_whatever_no_longer_stands_is_said(seed):
    rng = random.Random(seed)
    start = date(2026, 1, 1)
    kept, wanted, practised, calendar = {}, {}, set(), {}
    for n in range(0, 150, rng.choice([1, 3, 11])):
        today, now = start + n * DAY, datetime(2026, 1, 1, 9, tzinfo=UTC) + n * DAY + timedelta(minutes=rng.randint(-90, 90))
        for _ in range(rng.choice([0, 0, 1, 6])):
            key = (today + rng.randint(-2, 20) * DAY, rng.choice(["morning", "evening"]))
            if rng.random() < 0.6:
                wanted[key] = session(rng)
            else:
                wanted.pop(key, None)
        if rng.random() < 0.05:
            wanted.clear()
        if rng.random() < 0.5 and wanted:
            practised |= {k for k in wanted if k[0] == today and k in kept}
        near = {k: s for k, s in wanted.items() if -BACK_DAYS <= (k[0] - today).days <= AHEAD_DAYS}
        done = {k for k in practised if (today - k[0]).days <= BACK_DAYS}
        after = told(kept, near, done, today, now)
        for key, event in kept.items():
            changed = (event.session, event.cancelled) != (after[key].session, after[key].cancelled)
            assert after[key].revision == event.revision + changed and after[key].changed_at >= event.changed_at
            assert changed or after[key] == event
        sent = shown(after, today, now)
        assert list(sent) == sorted(sent, key=lambda k: (k[0], k[1] == "evening"))
        for key, event in sent.items():
            if key in calendar:
                assert event.revision >= calendar[key].revision
            calendar[key] = event
        for key, event in calendar.items():
            if key in practised and not event.cancelled:
                assert not after[key].cancelled, "what was practised stays"
            if key[0] >= today and not event.cancelled:
                assert key in wanted or key in practised, "a calendar shows nothing to come that does not stand"
        for key in near:
            if key[0] >= today:
                assert not sent[key].cancelled and (sent[key].session == wanted[key] or key in practised)
        kept = after
    assert kept


def test_a_cancelled_session_is_sent_for_thirty_days_even_when_its_day_is_over():
    now = datetime(2026, 1, 1, 9, tzinfo=UTC)
    key = (date(2026, 1, 2), "morning")
    first = told({}, {key: session(random.Random(1))}, (), date(2026, 1, 1), now)
    gone = told(first, {}, (), date(2026, 1, 1), now)
    for later, there in ((timedelta(0), True), (CANCELLED_FOR - timedelta(seconds=1), True), (CANCELLED_FOR, False)):
        again = told(gone, {}, (), (now + later).date(), now + later)
        assert again == gone and (key in shown(again, (now + later).date(), now + later)) is there


def test_a_session_that_was_left_out_stays_when_its_program_ends_later():
    """It stood on its day; what is to come is cancelled."""
    now, day = datetime(2026, 1, 5, 9, tzinfo=UTC), date(2026, 1, 5)
    wanted = {(day + n * DAY, "morning"): session(random.Random(n)) for n in (-1, 0, 1)}
    first = told({}, wanted, (), day, now)
    after = told(first, {}, (), day, now)
    assert [after[k].cancelled for k in sorted(wanted)] == [False, True, True]
