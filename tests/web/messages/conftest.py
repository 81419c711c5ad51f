"""A program that is assigned with a clock and a reminder."""

from datetime import date

import pytest

from tests.web.conftest import new_program


@pytest.fixture
def assigned(coach, practice):
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    wish = {"start": start, "times": {"morning": "08:00"}, "remind_min": 20}
    answer = coach.post(f"/api/programs/{made}/assignment", json=wish)
    assert answer.status_code == 201, answer.text
    return date.fromisoformat(start), answer.json()["id"]
