"""The demo's intakes show each effect that cautions, tests and consents can have."""

from datetime import UTC, date, datetime

import psycopg
import pytest

from dimbo.catalogue import shipped_intake
from dimbo.demo import intakes, people, scenario
from dimbo.ops.cluster import OWNER
from dimbo.store.database import Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.work.intake import entering, self_filling

SHOWN = ("Anselm", "Casimir", "Hanne", "Imara", "Mateusz", "Oriane", "Philippa", "Sunniva")


@pytest.fixture(scope="module")
def demo(cluster):
    """The demo's intakes without their photographs and logs: a database, the coach, and everybody's open intake."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
        admin.execute(b"create database demo_intakes template dimbo")
    url, owner_url = cluster.url(database="demo_intakes"), cluster.url(OWNER, "demo_intakes")
    with pytest.MonkeyPatch.context() as patch:
        told = [s for s in people.STORIES if s.name.split()[0] in SHOWN]
        patch.setattr(scenario, "STORIES", told)
        patch.setattr(scenario._Scenario, "_sittings", lambda *_, **__: None)
        patch.setattr(scenario.history, "practise", lambda *_, **__: None)
        scenario.ensure_demo(url, owner_url, lambda _: None)
    db = Database(url, most=2)
    db.open()
    with psycopg.connect(owner_url) as owner:
        practice_id, coach_id = owner.execute("select practice_id, id from accounts where role = 'coach' limit 1").fetchone()
    coach = Person(id=coach_id, practice_id=practice_id, role="coach", client_id=None, name="Coach", practice_name="Demo")
    with db.practice(practice_id) as conn:
        ids = {c.name.split()[0]: c.id for c in clients.every(conn)}
    opened = {name: entering.load(db, coach, i, datetime.now(UTC)) for name, i in ids.items()}
    yield opened
    db.close()
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as admin:
        admin.execute(b"drop database demo_intakes with (force)")


def states(opened):
    return {h.rule.id: h.state.value for h in opened.conclusions.cautions.held}


def test_an_urgent_sign_a_lock_an_ease_and_an_expired_clearance(demo):
    assert demo["Anselm"].conclusions.cautions.urgent
    assert states(demo["Imara"]) == {"muscle-injection": "active"} and demo["Imara"].conclusions.cautions.locks
    assert states(demo["Casimir"]) == {"blood-thinners": "expired"}
    eased = demo["Hanne"].conclusions
    assert [h.rule.id for h in eased.cautions.held] == ["dry-eyes"] and not eased.cautions.locks


def test_tests_that_disagree_and_a_consent_taken_back(demo):
    assert [t.id for t in demo["Philippa"].conclusions.topics if t.conflict] == ["weaker-eye"]
    consents = {c.text.id: c.state.value for c in demo["Mateusz"].consents}
    assert consents["photographs"] == "withdrawn" and consents["practise"] == "given"


def test_an_open_intake_a_finished_one_and_one_that_waits_for_review(demo):
    assert demo["Oriane"].client.intake_opened_at and demo["Oriane"].conclusions.ask_next
    assert demo["Philippa"].client.intake_finished_at
    waiting = demo["Sunniva"]
    assert waiting.self_intake.submitted_at and not waiting.self_intake.reviewed_at
    assert len(self_filling.review(waiting)) > 10


def test_what_the_stories_name_exists():
    tables = shipped_intake().tables
    rules, tests = {r.id for r in tables.cautions}, set(tables.tests)
    asked = {f"{e.concern}.{q.id}" for e in tables.reasoning.values() for q in e.questions}
    known = {"caution": rules, "clearance": rules, "test": tests, "habit": tests, "rating": set(tables.concerns), "answer": asked}
    for story in intakes.intakes(date(2026, 3, 20)).values():
        for kind, key, _ in (*story.said, *(said for _, said in story.later)):
            assert key in known.get(kind, {key}), f"{kind} {key}"
