"""Files in pieces, points that are moved and put back, and answers that stay."""

from datetime import UTC, date, datetime
from uuid import uuid4

import pytest

from dimbo.store import removed
from dimbo.store.database import NotThere
from dimbo.store.people import accounts, clients
from dimbo.store.sittings import photographs, sittings

NOW = datetime(2026, 3, 20, 12, tzinfo=UTC)


@pytest.fixture
def place(db, owner):
    """A practice, its coach, a client, and one photograph in a sitting."""
    practice = owner.execute("insert into practices (name) values ('Harbour') returning id").fetchone()[0]
    photo = uuid4()
    with db.practice(practice) as conn:
        coach = accounts.create(conn, practice, "coach", None, "Coach", "coach@harbour.example", "x")
        client = clients.create(conn, practice, "Nell", birth_year=1980, time_zone="UTC", minutes=None, concerns=[], goals="")
        sitting = sittings.create(conn, practice, client, date(2026, 3, 20), kind="baseline", asked_views=["front-neutral"])
        file = {"source_name": "a.jpg", "source_hash": b"h", "image": b"jpeg", "thumbnail": b"small", "size": (900, 1200)}
        added = photographs.add(conn, practice, client, sitting, photo, taken_at=NOW, taken_told="file", view="front-neutral", **file)
        assert added == "added"
    return practice, coach, client, sitting, photo


def test_pieces_count_without_a_gap_and_make_the_file_whole_in_any_order(db, place):
    practice, _, client, _, _ = place
    key = uuid4()
    with db.practice(practice) as conn:
        photographs.add_piece(conn, practice, client, key, 6, b"wor")
        assert photographs.received(conn, key) == 0
        photographs.add_piece(conn, practice, client, key, 0, b"hello ")
        photographs.add_piece(conn, practice, client, key, 0, b"again!")
        assert photographs.received(conn, key) == 9
        photographs.add_piece(conn, practice, client, key, 9, b"ld")
        assert photographs.take_pieces(conn, key) == b"hello world"
        assert photographs.received(conn, key) == 0


def test_the_same_file_is_known_across_sittings(db, place):
    practice, _, client, _, photo = place
    with db.practice(practice) as conn:
        assert photographs.same_file(conn, client, b"h", uuid4())
        assert not photographs.same_file(conn, client, b"h", photo) and not photographs.same_file(conn, client, b"i", uuid4())


def test_the_newest_move_holds_and_every_one_is_kept(db, owner, place):
    practice, coach, _, _, photo = place
    with db.practice(practice) as conn:
        p = photographs.one(conn, photo)
        assert p.hand == {}
        for moves in ({"ch_left": (5.0, 6.0), "me": (1.0, 2.0)}, {"ch_left": (7.5, 8.25)}, {"me": None}):
            photographs.move_points(conn, practice, p, moves, by=coach, at=NOW)
        assert photographs.one(conn, photo).hand == {"ch_left": [7.5, 8.25]}
    assert owner.execute("select count(*) from point_moves").fetchone()[0] == 4


def test_answers_stay_until_they_are_given_anew(db, place):
    practice, _, _, _, photo = place
    with db.practice(practice) as conn:
        photographs.answer(conn, photo, flipped=True)
        photographs.answer(conn, photo, view="gentle-smile")
        p = photographs.one(conn, photo)
        assert (p.flipped, p.view, p.view_confirmed, p.same_person, p.taken_told) == (True, "gentle-smile", True, None, "file")
        photographs.suggest_view(conn, photo, "chin-up")
        assert photographs.one(conn, photo).view == "gentle-smile", "a confirmed view is not suggested away"


def test_moves_and_answers_of_rounds_cannot_be_changed_by_the_application(db, place):
    import psycopg

    for statement in ("update point_moves set x = 1", "delete from rating_answers", "update rating_rounds set items = '[]'"):
        with pytest.raises(psycopg.errors.InsufficientPrivilege), db.anyone() as conn:
            conn.execute(statement.encode())


def test_a_link_is_one_per_sitting_and_ends_with_the_next(db, place):
    practice, coach, client, sitting, _ = place
    with db.practice(practice) as conn:
        for token in (b"one", b"two"):
            sittings.set_link(conn, sitting, token, by=coach, expires_at=NOW.replace(year=2099))
    with db.anyone() as conn:
        assert sittings.by_link(conn, b"one") is None
        found = sittings.by_link(conn, b"two")
    assert (found.sitting_id, found.client_id, found.expired, found.made_by) == (sitting, client, False, coach)


def test_what_is_not_there_is_said(db, place):
    practice, *_ = place
    with db.practice(practice) as conn:
        for ask in (photographs.one, sittings.one):
            with pytest.raises(NotThere):
                ask(conn, uuid4())
        with pytest.raises(NotThere):
            removed.remove(conn, removed.Kind.PHOTOGRAPH, uuid4(), uuid4(), NOW)
        with pytest.raises(NotThere):
            photographs.picture(conn, uuid4(), small=True)
