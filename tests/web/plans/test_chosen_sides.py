"""A plan that gives one side more keeps which sittings said so, and changes are held against another start."""

from datetime import date, datetime, timedelta
from uuid import uuid4

import pytest

from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.sittings import analysing
from tests.web.conftest import new_program
from tests.web.pairs import upload
from tests.web.sittings.test_measuring import bench, open_sitting


def sitting(coach, practice, db, day, seed, **scene):
    """A baseline of three shots of a face whose right side hangs."""
    made = open_sitting(coach, practice, f"{day:%Y-%m-%d}", kind="baseline")
    for k in range(3):
        photo = str(uuid4())
        at = datetime.fromisoformat(f"{day:%Y-%m-%d}T08:4{k}:00+00:00")
        picture = shoot(Scene(identity="aster", state="uneven", seed=seed + k, **scene)).jpeg(at)
        assert upload(coach, made, picture, photograph_id=photo).status_code == 202
        analysing.analyse(db, practice.id, photo)
    return made, photo


@pytest.fixture
def two(coach, practice, db):
    """Two baselines that agree on the weaker side, the right way round, with nothing left to ask."""
    today = date.today()
    (first, photo), (second, _) = (sitting(coach, practice, db, today - timedelta(days=d), seed) for d, seed in ((6, 10), (3, 20)))
    assert coach.patch(f"/api/photographs/{photo}", json={"flipped": False}).status_code == 204
    assert coach.post(f"/api/clients/{practice.client_id}/asked").status_code in (200, 204)
    return first, second


def test_the_sittings_that_chose_a_side_are_kept_with_the_plan_and_a_later_start_is_asked_for_and_used(coach, practice, owner, db, two):
    (bias,) = [b for b in bench(coach, practice)["comparison"]["bias"] if b["reading"] == "fissure_height"]
    assert bias["take"] == "on"
    program = coach.get(f"/api/programs/{new_program(coach, practice.client_id, eye_less_open=(2, 1))}").json()
    answer = coach.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]})
    assert answer.status_code == 201, answer.text
    (sides,) = owner.execute("select sides from plans").fetchone()
    (entry,) = [s for s in sides if s["reading"] == "fissure_height"]
    assert entry["side"] == bias["side"] and sorted(entry["sittings"]) == sorted(two) and entry["clean_start"] is False
    assert abs(entry["value"]) > entry["band"] > 0
    notes = {n["id"] for n in bench(coach, practice)["comparison"]["notes"]}
    assert "clean-start" in notes

    sitting(coach, practice, db, date.today() - timedelta(days=1), 30)
    found = bench(coach, practice)
    assert "clean-start" not in {n["id"] for n in found["comparison"]["notes"]}
    sitting(coach, practice, db, date.today(), 40)
    found = bench(coach, practice, before=two[0])
    (change,) = [c for c in found["comparison"]["changes"] if c["id"] == "fissure_height"]
    third = next(r for r in found["sittings"][2]["readings"] if r["id"] == "fissure_height")
    assert change["before"] == pytest.approx(third["value"])


def test_of_a_colleague_who_sees_no_photographs_every_sitting_counts_as_having_led_to_the_side(coach, colleague, practice, owner, two):
    program = colleague.get(f"/api/programs/{new_program(coach, practice.client_id, eye_less_open=(2, 1))}").json()
    answer = colleague.post(f"/api/programs/{program['id']}/assignment", json={"start": program["client_today"]})
    assert answer.status_code == 201, answer.text
    (sides,) = owner.execute("select sides from plans").fetchone()
    assert sides and all(sorted(s["sittings"]) == sorted(two) and not s["clean_start"] for s in sides)
    assert "clean-start" in {n["id"] for n in bench(coach, practice)["comparison"]["notes"]}
