"""The sums that are kept with a log are those of its exercises, whatever was practised."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from hypothesis import HealthCheck, given
from hypothesis import strategies as st

from dimbo.core.anatomy import Side
from dimbo.core.sessions.crediting import SideWork
from dimbo.core.sessions.log_identity import credit_s
from dimbo.store.practice import practice_logs as store
from dimbo.store.practice.practice_logs import Log, LogLine
from tests.examples import examples
from tests.web.histories import Past

seconds = st.integers(0, 9000).map(lambda n: n / 10)
sides = st.lists(st.tuples(st.sampled_from(Side), seconds, seconds), max_size=2, unique_by=lambda s: s[0])


@pytest.fixture
def past(db, practice, coach):
    return Past(db, practice, coach)


@examples(0.4, HealthCheck.function_scoped_fixture)
@given(exercises=st.lists(st.tuples(seconds, seconds, sides), max_size=5))
def test_kept_sums_equal_the_recount(past, owner, db, practice, exercises):
    lines = []
    for n, (planned, done, own) in enumerate(exercises):
        works = tuple(
            SideWork(
                side=s, planned_sets=1, done_sets=1, planned_reps=5, done_reps=5, planned_hold_s=0, done_hold_s=0, planned_s=a, done_s=b
            )
            for s, a, b in own
        )
        above, loads = sum(w.over_s for w in works), n % 2 == 0
        credit = credit_s(planned, done, works)
        lines.append(
            LogLine(
                place=n,
                exercise_id="oval-lift",
                dose="1×5 h3",
                planned_s=planned,
                done_s=done,
                outcome="partly",
                sides=works,
                loads=loads,
                credit_s=credit,
                over_s=above,
            )
        )
    begun = datetime.now(UTC) - timedelta(hours=1)
    log = Log(
        id=uuid4(),
        assignment_id=past.assignment,
        day=past.today,
        started_at=begun,
        ended_at=begun,
        planned_s=0,
        done_s=0,
        effort=None,
        note="",
    )
    with db.practice(practice.id) as conn:
        assert store.add(conn, practice.id, past.id, log, lines)
    kept = owner.execute("select load_planned_s, load_done_s, over_s from practice_logs where id = %s", (log.id,)).fetchone()
    counted = owner.execute(
        "select coalesce(sum(s.planned_s) filter (where n.loads), 0), coalesce(sum(s.done_s) filter (where n.loads), 0), "
        "(select coalesce(sum(over_s), 0) from practice_log_lines where log_id = %(log)s) "
        "from practice_log_lines n join practice_log_sides s using (log_id, place) where n.log_id = %(log)s",
        {"log": log.id},
    ).fetchone()
    assert kept == counted
    (credit,) = owner.execute("select credit_s::float8 from practice_logs where id = %s", (log.id,)).fetchone()
    assert credit == pytest.approx(sum(n.credit_s for n in lines), abs=0.06) and credit <= sum(n.planned_s for n in lines) + 0.06
