"""Clients, their own intakes and a practice's own texts, as the store keeps them."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import psycopg
import pytest

from dimbo.store.database import NotThere
from dimbo.store.intake import intakes, reasoning, self_intakes
from dimbo.store.people import accounts, clients
from dimbo.store.people.clients import PROFILE, NewClient
from dimbo.store.review import desk

NOW = datetime(2026, 3, 20, 12, tzinfo=UTC)


@pytest.fixture
def place(db, owner):
    """A practice, its coach and one client."""
    practice = owner.execute("insert into practices (name) values ('Harbour') returning id").fetchone()[0]
    with db.practice(practice) as conn:
        coach = accounts.create(conn, practice, "coach", None, "Coach", "coach@harbour.example", "x")
        client = clients.create(conn, practice, "Nell", birth_year=1980, time_zone="UTC", minutes=None, concerns=[], goals="")
    return practice, coach, client


VALUES = {
    "name": "Nell Quay",
    "birth_year": 1971,
    "time_zone": "Africa/Lagos",
    "minutes": 12,
    "days": [1, 3],
    "email": "nell@mail.example",
    "phone": "+351 55",
    "goals": "Rested eyes.",
    "agreed": ["eyes", "brows"],
    "status": "paused",
}


@pytest.mark.parametrize("field", PROFILE)
def test_every_field_of_the_profile_is_kept_and_read_back(db, place, field):
    practice, _, client = place
    with db.practice(practice) as conn:
        clients.set_profile(conn, client, field, VALUES[field])
        assert getattr(clients.one(conn, client), field) == VALUES[field]


@pytest.mark.parametrize(("field", "value"), [("status", "gone"), ("minutes", 0), ("agreed", ["a", "b", "c", "d"]), ("name", "")])
def test_the_database_itself_refuses_what_cannot_be(db, place, field, value):
    practice, _, client = place
    with pytest.raises(psycopg.errors.CheckViolation), db.practice(practice) as conn:
        clients.set_profile(conn, client, field, value)


def test_a_client_of_nobody_is_not_there(db, place):
    practice, *_ = place
    with pytest.raises(NotThere), db.practice(practice) as conn:
        clients.set_profile(conn, uuid4(), "name", "x")
    with pytest.raises(NotThere), db.practice(practice) as conn:
        intakes.load(conn, uuid4())


def test_one_intake_is_open_at_a_time(db, place):
    practice, _, client = place
    with db.practice(practice) as conn:
        assert not clients.finish_intake(conn, client, NOW)
        assert clients.open_intake(conn, client, "Coach", NOW)
        assert not clients.open_intake(conn, client, "Other", NOW)
        assert clients.one(conn, client).intake_opened_by == "Coach"
        assert clients.finish_intake(conn, client, NOW)
        assert clients.open_intake(conn, client, "Other", NOW) and clients.one(conn, client).intake_opened_at


def test_many_clients_are_made_at_once_and_known_again(db, place):
    practice, coach, _ = place
    new = [
        NewClient(
            id=uuid4(),
            name=f"N{i}",
            birth_year=1970 + i,
            time_zone="UTC",
            minutes=10,
            concerns=["jowls"],
            goals="",
            email=f"n{i}@mail.example",
            phone="",
            status="enquiry",
        )
        for i in range(3)
    ]
    with db.practice(practice) as conn:
        clients.create_many(conn, practice, new, coach)
        assert ("N2", 1972, "n2@mail.example") in clients.identities(conn)
        assert clients.one(conn, new[0].id).status == "enquiry"
        assert clients.one(conn, new[0].id).coach_id == coach, "photographs are the importing coach's to see"


def test_an_open_link_ends_with_the_next_and_its_draft_goes_on(db, place):
    practice, coach, client = place
    with db.practice(practice) as conn:
        self_intakes.create(conn, practice, client, b"one", coach, NOW, NOW + timedelta(days=14))
        first = self_intakes.newest(conn, client)
        assert self_intakes.save(conn, first.id, {"profile": {"name": "Nell"}}, 0)
        assert not self_intakes.save(conn, first.id, {}, 0), "made from an older revision"
        self_intakes.create(conn, practice, client, b"two", coach, NOW, NOW + timedelta(days=14))
        second = self_intakes.newest(conn, client)
    assert second.id != first.id and second.document == {"profile": {"name": "Nell"}} and second.revision == 1
    with db.anyone() as conn:
        assert self_intakes.by_token(conn, b"one").revoked and not self_intakes.by_token(conn, b"two").revoked
        assert self_intakes.by_token(conn, b"three") is None


def waiting(conn):
    """Clients whose own intake waits, as the desk reads them."""
    return {r.client_id for r in desk.read(conn, desk.window_values(NOW, 16)).own_intakes}


def test_a_draft_is_sent_in_once_and_waits_until_it_is_reviewed(db, place):
    practice, coach, client = place
    with db.practice(practice) as conn:
        self_intakes.create(conn, practice, client, b"one", coach, NOW, NOW + timedelta(days=14))
        mine = self_intakes.newest(conn, client)
        assert waiting(conn) == set()
        assert self_intakes.submit(conn, mine.id, NOW) and not self_intakes.submit(conn, mine.id, NOW)
        assert not self_intakes.save(conn, mine.id, {}, mine.revision), "what was sent in is not written over"
        assert waiting(conn) == {client}
        assert not self_intakes.revoke(conn, client, NOW)
        self_intakes.reviewed(conn, mine.id, NOW)
        assert waiting(conn) == set()


def test_own_texts_are_replaced_and_dropped(db, place):
    practice, *_ = place
    with db.practice(practice) as conn:
        reasoning.keep(conn, practice, "jowls", {"n": 1}, "Coach")
        reasoning.keep(conn, practice, "jowls", {"n": 2}, "Other")
        assert [(o.document, o.edited_by) for o in reasoning.own(conn)] == [({"n": 2}, "Other")]
        assert reasoning.shipped_again(conn, "jowls") and not reasoning.shipped_again(conn, "jowls")
        assert reasoning.own(conn) == []


def test_an_intake_loads_in_one_piece(db, place):
    practice, _, client = place
    with db.practice(practice) as conn:
        found = intakes.load(conn, client)
    assert (found.client.id, found.own_texts, found.standing, found.self_intake, found.photographs) == (client, [], [], None, 0)
