"""Health is asked again: after a pause before anything is practised, by whoever asks, once for each answer."""

from datetime import UTC, datetime
from uuid import uuid4

import pytest

from .conftest import new_program
from .practising import by_hand, hand_in, read, todays


@pytest.fixture
def running(coach, client, practice):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    assert coach.post(f"/api/programs/{made}/assignment", json={"start": start}).status_code == 201
    hand_in(client, by_hand(todays(client)))
    return made


def long_ago(owner, days):
    """As if practice and every answer lay so many days back."""
    owner.execute("alter table facts disable trigger user")
    owner.execute("update facts set at = at - make_interval(days => %s)", (days,))
    owner.execute("alter table facts enable trigger user")
    owner.execute("alter table practice_logs disable trigger user")
    owner.execute("update practice_logs set day = day - %s::int", (days,))
    owner.execute("alter table practice_logs enable trigger user")


def test_within_a_week_nothing_is_asked_and_after_it_a_line_or_a_gate(client, owner, running):
    assert read(client)["ask"] is None
    long_ago(owner, 7)
    assert read(client)["ask"]["first"] is False, "seven days back: asked for the review, and practice goes on"
    long_ago(owner, 1)
    day = read(client)
    assert day["ask"]["first"] is True and day["sessions"] == {}, "seven days without practice: health first"


def test_nothing_has_changed_opens_the_gate_once(client, owner, running):
    long_ago(owner, 9)
    said = {"kind": "asked", "id": str(uuid4()), "said_at": datetime.now(UTC).isoformat()}
    assert [r["state"] for r in hand_in(client, said, said)] == ["kept", "had"]
    day = read(client)
    assert day["ask"] is None and day["sessions"]


def test_the_coach_may_have_asked_and_nobody_else_of_another_practice(coach, client, practice, owner, running):
    long_ago(owner, 9)
    assert coach.post(f"/api/clients/{uuid4()}/asked").status_code == 404
    assert read(client)["ask"]["first"] is True
    assert coach.post(f"/api/clients/{practice.client_id}/asked").status_code == 204
    assert read(client)["ask"] is None
