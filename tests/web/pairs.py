"""Two measured sittings of a client with a gain between them."""

from datetime import UTC, datetime
from uuid import uuid4

import pytest

from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.sittings import analysing

MORNING = datetime(2026, 3, 2, 8, 40, tzinfo=UTC)


def upload(coach, sitting, data, name="front.jpg", photograph_id=None, view="front-neutral"):
    form = {"photograph_id": photograph_id or str(uuid4())} | ({"view": view} if view else {})
    return coach.post(f"/api/sittings/{sitting}/photographs", data=form, files={"file": (name, data)})


def open_sitting(coach, practice, day="2026-03-02", **what):
    answer = coach.post(f"/api/clients/{practice.client_id}/sittings", json={"taken_on": day} | what)
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def bench(coach, practice, **query):
    answer = coach.get(f"/api/clients/{practice.client_id}/sittings", params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


@pytest.fixture
def pair(coach, practice, db, cluster, database_name):
    """A baseline and a follow-up with a real gain, one measured shot each."""
    made = []
    for day, state, seed in (("2026-03-02", "uneven", 1), ("2026-04-20", "even", 2)):
        sitting, photo = open_sitting(coach, practice, day), str(uuid4())
        at = datetime.fromisoformat(f"{day}T08:40:00+00:00")
        assert (
            upload(coach, sitting, shoot(Scene(identity="aster", state=state, seed=seed)).jpeg(at), photograph_id=photo).status_code == 202
        )
        analysing.analyse(db, practice.id, photo)
        made.append((sitting, photo))
    return made
