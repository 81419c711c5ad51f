"""Whatever the dates: programs are assigned, paused, changed, ended and taken up again, and every page and export can be had."""

from datetime import timedelta
from uuid import NAMESPACE_OID, uuid5

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.web.roads import ZONES, Road, clock_of

SEARCHING = settings.default.max_examples > 100
ROADS = settings.default.max_examples if SEARCHING else 16
"""So many roads: few in every run, many with ``--hypothesis-profile=searching``."""

AWAY = st.sampled_from((-366, -365, -200, -60, -30, -18, -8, -7, -1, 0, 1, 6, 7, 8, 18, 30, 180, 364, 366))
LATER = st.one_of(st.none(), st.sampled_from((-1, 0, 1, 6, 7, 13, 20, 21, 60, 365)))
WEEKDAYS = st.lists(st.integers(1, 7), unique=True, max_size=7)

ASSIGN = st.tuples(
    st.just("assign"),
    st.sampled_from((1, 2, 4, 12, 52)),
    st.sampled_from((1, 3.5, 4, 7)),
    st.sampled_from(("calendar", "earned")),
    st.booleans(),
    AWAY,
    LATER,
    WEEKDAYS,
    st.booleans(),
)
ACTS = st.one_of(
    ASSIGN,
    st.tuples(st.just("assign again"), AWAY, LATER, WEEKDAYS, st.booleans()),
    st.tuples(st.just("pause"), AWAY, LATER),
    st.tuples(st.just("resume"), AWAY),
    st.tuples(st.just("change"), AWAY, LATER, WEEKDAYS),
    st.tuples(st.just("end"), st.sampled_from(("next", "rest", "done"))),
    st.tuples(st.just("take back")),
    st.tuples(st.just("practise"), st.sampled_from((0.2, 0.6, 1.0)), st.booleans()),
    st.tuples(st.just("review"), st.one_of(st.none(), AWAY)),
    st.tuples(st.just("move"), st.sampled_from(ZONES)),
    st.tuples(st.just("wait"), st.sampled_from((1, 2, 7, 8, 14, 21, 40, 90, 400))),
)


def act(road: Road, what: str, *given):
    running = road.assignments()
    first = running[0] if running else None
    if what == "assign":
        weeks, sessions, mode, evening, *wish = given
        return road.assign(road.program(weeks, sessions, mode, evening), *wish)
    if what == "assign again":
        return road.assign(road.programs[-1], *given) if road.programs else None
    if what == "pause":
        start, last = given
        body = {"first": road.day(start), "last": None if last is None else road.day(start + last), "reason": "Away."}
        return road.coach.post(f"/api/clients/{road.client_id}/pause", json=body)
    if what == "resume":
        return road.coach.post(f"/api/clients/{road.client_id}/resume", json={"on": road.day(given[0])})
    if what == "change" and first:
        start, end, weekdays = given
        wish = {"start": road.day(start), "end": None if end is None else road.day(start + end), "weekdays": weekdays}
        return road.coach.post(f"/api/assignments/{first}/change", json={"wish": wish, "reason": "Other days."})
    if what == "end" and first:
        return road.coach.post(f"/api/assignments/{first}/end", json={"follows": given[0]})
    if what == "take back":
        ended = road.assignments(running=False)
        return road.coach.post(f"/api/assignments/{ended[0]}/end/take-back") if ended else None
    if what == "practise":
        return road.practise(*given)
    if what == "review" and first:
        day = {} if given[0] is None else {"first_day": road.day(given[0])}
        seen = road.coach.get(f"/api/assignments/{first}/review", params=day)
        if seen.status_code != 200:
            return seen
        body = {"id": str(uuid5(NAMESPACE_OID, road.clock.at.isoformat())), "first_day": seen.json()["first_day"]}
        return road.coach.post(f"/api/assignments/{first}/review", json=body)
    if what == "move":
        road.zone = given[0]
        return road.client.put("/api/my-zone", json={"time_zone": given[0]})
    if what == "wait":
        road.clock.at += timedelta(days=given[0])
    return None


@pytest.fixture
def served(app):
    """The application with its connections open."""
    with TestClient(app):
        yield app


@settings(max_examples=ROADS, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
@given(zone=st.sampled_from(ZONES), first=ASSIGN, rest=st.lists(ACTS, min_size=1, max_size=6))
def test_no_road_of_dates_takes_a_page_down(served, db, owner, zone, first, rest):
    with clock_of() as clock:
        road = Road(served, db, owner, clock, zone)
        for step in (first, *rest):
            answer = act(road, *step)
            assert answer is None or answer.status_code < 500, (step, answer.text[:300])
            road.look()
