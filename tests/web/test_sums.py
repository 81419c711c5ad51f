"""The sums that are kept with a log are those of its exercises, whatever was practised."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from dimbo.core.anatomy import Side
from dimbo.core.playback import SideWork
from dimbo.store import practice as store
from dimbo.store.practice import Log, LogLine

from .histories import Past

seconds = st.integers(0, 9000).map(lambda n: n / 10)
sides = st.lists(st.tuples(st.sampled_from(Side), seconds, seconds), max_size=2, unique_by=lambda s: s[0])


@pytest.fixture
def past(db, practice, coach):
    return Past(db, practice, coach)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(exercises=st.lists(st.tuples(seconds, seconds, sides), max_size=5))
def test_kept_sums_equal_the_recount(past, owner, db, practice, exercises):
    lines = [
        LogLine(n, "oval-lift", "1×5 h3", planned, done, "partly", sides=tuple(SideWork(s, 1, 1, 5, 5, 0, 0, a, b) for s, a, b in own))
        for n, (planned, done, own) in enumerate(exercises)
    ]
    begun = datetime.now(UTC) - timedelta(hours=1)
    log = Log(uuid4(), past.assignment, past.today, begun, begun, 0, 0, None, "")
    with db.practice(practice.id) as conn:
        assert store.add(conn, practice.id, past.id, log, lines)
    kept = owner.execute("select work_planned_s, work_done_s, over_s from practice_logs where id = %s", (log.id,)).fetchone()
    counted = owner.execute(
        "select coalesce(sum(planned), 0), coalesce(sum(done), 0), coalesce(sum(greatest(done - planned, 0)), 0) from "
        "(select sum(planned_s) as planned, sum(done_s) as done from practice_log_sides where log_id = %s group by place) n",
        (log.id,),
    ).fetchone()
    assert kept == counted
