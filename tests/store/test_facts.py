"""Facts are added to and never changed, by nobody; and each practice and client sees its own."""

from datetime import UTC, datetime
from uuid import uuid4

import psycopg
import pytest

from dimbo.store.database import Conflict
from dimbo.store.intake import facts
from dimbo.store.intake.facts import NewFact
from dimbo.store.people import clients
from dimbo.store.review import desk
from dimbo.work.intake.entering import caution_state

NOW = datetime(2026, 3, 20, 12, tzinfo=UTC)


@pytest.fixture
def place(db, owner):
    """A practice with two clients."""
    practice = owner.execute("insert into practices (name) values ('Harbour') returning id").fetchone()[0]
    with db.practice(practice) as conn:
        made = [
            clients.create(conn, practice, name, birth_year=1980, time_zone="UTC", minutes=None, concerns=[], goals="")
            for name in ("One", "Two")
        ]
    return practice, *made


def fact(kind="note", key="", value=None, fact_id=None):
    return NewFact(
        id=fact_id or uuid4(), kind=kind, key=key, value=value or {"text": "x"}, at=NOW, author="Coach", author_id=None, source="coach"
    )


def keep(db, practice, client, *new):
    with db.practice(practice) as conn:
        facts.add(conn, practice, client, new)


def test_not_even_the_owner_changes_or_removes_a_fact(db, owner, place):
    practice, client, _ = place
    keep(db, practice, client, fact("lock", "glaucoma", {"reason": "r"}))
    for statement in ("update facts set value = '{}'", "delete from facts", "truncate facts"):
        with pytest.raises(psycopg.Error, match="only ever added to"):
            owner.execute(statement.encode())
    with pytest.raises(psycopg.errors.InsufficientPrivilege), db.practice(practice) as conn:
        conn.execute("delete from facts")
    assert owner.execute("select count(*) from facts").fetchone() == (1,)


def test_the_same_fact_sent_twice_is_kept_once(db, place):
    practice, client, other = place
    first = fact(value={"text": "first"})
    keep(db, practice, client, first)
    keep(db, practice, client, fact(value={"text": "again"}, fact_id=first.id))
    with db.practice(practice) as conn:
        assert [f.value for f in facts.history(conn, client)] == [{"text": "first"}]
    with pytest.raises(Conflict):
        keep(db, practice, other, fact(fact_id=first.id))


def test_the_newest_of_a_kind_and_key_stands_and_all_clearances_do(db, place):
    practice, client, _ = place
    keep(db, practice, client, fact("rating", "jowls", {"right": 1, "left": 1}))
    keep(db, practice, client, fact("rating", "jowls", {"right": 2, "left": 2}), fact("rating", "crows-feet", {"right": 1, "left": 0}))
    keep(db, practice, client, fact("clearance", "glaucoma", {"n": 1}), fact("clearance", "glaucoma", {"n": 2}), fact())
    with db.practice(practice) as conn:
        found = facts.standing(conn, client)
    assert [(f.kind, f.key, f.value.get("right", f.value.get("n"))) for f in found] == [
        ("rating", "jowls", 2),
        ("rating", "crows-feet", 1),
        ("clearance", "glaucoma", 1),
        ("clearance", "glaucoma", 2),
    ]


def test_lists_see_every_answer_to_a_caution_in_its_order(db, place):
    """The newest holds; one that is told again is another event than the one before it."""
    practice, one, two = place
    keep(db, practice, one, fact("caution", "sunburn", {"answer": "yes"}), fact("caution", "sunburn", {"answer": "no"}))
    keep(db, practice, two, fact("caution", "sunburn", {"answer": "no"}), fact("caution", "sunburn", {"answer": "yes"}))
    with db.practice(practice) as conn:
        told = desk.read(conn, desk.window_values(datetime.now(UTC), 16)).facts
    assert [(f.client_id, f.value["answer"]) for f in told] == [(one, "yes"), (one, "no"), (two, "no"), (two, "yes")]
    assert caution_state([f for f in told if f.client_id == one])[0]["sunburn"].answer == "no"
    assert caution_state([f for f in told if f.client_id == two])[0]["sunburn"].answer == "yes"


def test_a_client_sees_only_their_own(db, place):
    practice, one, two = place
    keep(db, practice, one, fact())
    with db.practice(practice, two) as conn:
        assert facts.history(conn, one) == []
    with db.practice(uuid4()) as conn:
        assert facts.history(conn, one) == []
