"""A client takes photographs that are due from their own day on: by the road of a link, behind the same gates."""

from datetime import UTC, datetime

import pytest

from dimbo.catalogue import shipped_intake
from dimbo.store.sittings import sittings
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.intake import consenting
from dimbo.work.intake.looking import PHOTOGRAPHS
from dimbo.work.practice import own_sitting
from dimbo.work.shared.errors import Refused
from tests.web.histories import Past
from tests.web.pairs import upload


@pytest.fixture
def due(db, practice, coach):
    p = Past(db, practice, coach, days_ago=3)
    version = shipped_intake().consents[PHOTOGRAPHS].version
    consenting.choose(db, p.coach, p.id, PHOTOGRAPHS, consenting.Word(given=True, version=version), now=datetime.now(UTC))
    return p


def begin(p, at=None):
    return own_sitting.begin(p.db, p.person, at or datetime.now(UTC))


def sittings_of(p):
    with p.db.practice(p.practice.id) as conn:
        return sittings.of_client(conn, p.id)


def test_the_taking_page_opens_for_photographs_that_are_due_and_is_begun_once(due, browser):
    first, second = begin(due), begin(due)
    (made,) = sittings_of(due)
    assert made.taken_on == due.today, "the second touch opens the same sitting"
    visitor = browser("")
    assert visitor.get(f"/api/taking/{second}").status_code == 200
    assert visitor.get(f"/api/taking/{first}").status_code in (404, 422), "an earlier link has ended"


def test_what_a_coach_has_opened_already_is_gone_on_with(due, coach):
    made = coach.post(f"/api/clients/{due.id}/sittings", json={"taken_on": due.day(1).isoformat()}).json()["id"]
    begin(due)
    assert [str(s.id) for s in sittings_of(due)] == [made]


@pytest.mark.parametrize(("days_ago", "sittings_then"), [(7, 1), (8, 2)])
def test_photographs_of_today_never_go_into_a_sitting_of_long_ago(due, coach, days_ago, sittings_then):
    coach.post(f"/api/clients/{due.id}/sittings", json={"taken_on": due.day(days_ago).isoformat()})
    begin(due)
    assert len(sittings_of(due)) == sittings_then


def test_a_sitting_that_was_only_opened_leaves_the_photographs_due(due):
    begin(due)
    with due.db.practice(due.practice.id) as conn:
        assert sittings.taken_days(conn, due.id) == []
    row = due.at_desk()
    assert row["shots_due"] and due.course()["sitting_due"] == row["shots_due"]


def test_nothing_is_begun_while_none_is_due(due, owner):
    begin(due)
    owner.execute("update sittings set handed_in_at = now() where client_id = %s", (due.id,))
    before = sittings_of(due)
    with pytest.raises(Refused, match="No photographs are due"):
        begin(due)
    assert sittings_of(due) == before


def test_without_a_coach_or_consent_or_a_year_of_birth_nothing_is_begun(due, owner, db, practice, coach):
    unasked = Past(db, practice, coach, "Nobody Asked", days_ago=3)
    with pytest.raises(Refused, match="What you agreed to"):
        begin(unasked)
    owner.execute("update clients set coach_id = null where id = %s", (due.id,))
    with pytest.raises(Refused, match="taken you on"):
        begin(due)
    owner.execute("update clients set coach_id = %s, birth_year = null where id = %s", (due.coach.id, due.id))
    with pytest.raises(Refused, match="year of birth"):
        begin(due)
    assert sittings_of(due) == []


def test_a_colleague_who_sees_no_photographs_sees_the_same_day(due, coach, colleague):
    begin(due)
    (sitting,) = sittings_of(due)
    assert upload(coach, str(sitting.id), shoot(Scene(identity="aster", state="even", seed=3)).jpeg(datetime.now(UTC))).status_code == 202
    seen = [next(r["shots_due"] for r in page.get("/api/desk").json()["clients"] if r["id"] == str(due.id)) for page in (coach, colleague)]
    assert seen[0] == seen[1] and seen[0] > due.today.isoformat()
