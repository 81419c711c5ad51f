"""Every client of the demo has the same figures on the desk, on the course, in the group and on the phone."""

from datetime import UTC, datetime

import psycopg
import pytest

from dimbo.demo import people, scenario
from dimbo.ops.cluster import OWNER
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.work.practice import days, own_course
from dimbo.work.review import course, desk, groups


@pytest.fixture(scope="module")
def demo(cluster):
    """The whole demo without its photographs: a database, the coach, and how many clients there are."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
        admin.execute(b"create database demo_figures template dimbo")
    url, owner_url = cluster.url(database="demo_figures"), cluster.url(OWNER, "demo_figures")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(scenario._Scenario, "_sittings", lambda *_, **__: None)
        scenario.ensure_demo(url, owner_url, lambda _: None)
    db = Database(url, most=2)
    db.open()
    with psycopg.connect(owner_url) as owner:
        practice_id, coach_id = owner.execute("select practice_id, id from accounts where role = 'coach' limit 1").fetchone()
    yield db, Person(id=coach_id, practice_id=practice_id, role="coach", client_id=None, name="Coach", practice_name="Demo")
    db.close()
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
        admin.execute(b"drop database demo_figures with (force)")


def test_every_place_says_the_same_of_every_client_of_the_demo(demo):
    db, coach = demo
    now = datetime.now(UTC)
    ids = [n.client.id for n in desk.desk(db, coach, now).lines]
    phones = {}
    for i in ids:  # the phones first: after a break they lay out how it goes on
        who = Person(id=coach.id, practice_id=coach.practice_id, role="client", client_id=i, name="Client", practice_name="Demo")
        phones[i] = days.begin_day(db, who, now), own_course.own_course(db, who, now)
    seen = desk.desk(db, coach, now)
    assert len(seen.lines) == len(people.STORIES)
    members = {m.member.client_id: m for g, _, _ in seen.groups for m in groups.group(db, coach, g, now).members}
    for line in seen.lines:
        page = course.course(db, coach, line.client.id, now)
        phone, own = phones[line.client.id]
        who = line.client.name
        assert line.missed == page.missed, who
        if phone.titles:
            assert phone.week.missed == page.missed, who
        assert own.whole == page.patterns.windows["whole course"].sessions, who
        assert line.week == page.patterns.windows["7 days"].sessions, who
        assert phone.photo_due == page.sitting_due, who
        assert {d.day: (d.state, round(d.share, 3)) for d in line.days} == {
            d.day: (d.state, round(d.share, 3)) for d in page.days if line.days and line.days[0].day <= d.day <= line.today
        }, who
        if line.client.id in members and len(page.assignments) == 1:
            assert members[line.client.id].missed == page.missed, who
