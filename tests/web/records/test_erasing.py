"""Erasing: by the client or an owner, and nobody else; at once, for good, and everywhere."""

from __future__ import annotations

from datetime import UTC, datetime
from uuid import UUID, uuid4

import psycopg
import pytest

from dimbo.ops.cluster import OWNER
from dimbo.store.database import Database
from dimbo.store.migrate import migrate
from dimbo.store.records import erasures
from dimbo.work import measured
from dimbo.work.review import desk_rows

from ..conftest import PASSWORD, make_practice


def erase(page, practice, **other):
    body = {"name": "client of  HARBOUR", "password": PASSWORD, "reason": "asked for"} | other
    return page.post(f"/api/clients/{practice.client_id}/erase", json=body)


def test_a_client_erases_themselves_and_is_signed_out_everywhere(client, browser, coach, practice, owner):
    phone = browser(practice.client_email)
    answer = client.post("/api/my-record/erase", json={"password": "not this one"})
    assert answer.status_code == 422 and answer.json()["field"] == "password"
    assert client.get("/api/me").status_code == 200
    assert client.post("/api/my-record/erase", json={"password": PASSWORD}).status_code == 204
    assert client.get("/api/me").status_code == phone.get("/api/me").status_code == 401
    again = browser().post("/api/sign-in", json={"email": practice.client_email, "password": PASSWORD})
    assert again.status_code in (401, 422)
    assert coach.get(f"/api/clients/{practice.client_id}").status_code == 404
    assert coach.get("/api/clients").json() == []
    (stone,) = coach.get("/api/erasures").json()
    assert (stone["erased_client"], stone["by_whom"], stone["reason"]) == (str(practice.client_id), "client", "own wish")


def test_an_owner_erases_with_name_reason_and_password(coach, practice):
    for other, field in (({"name": "Somebody"}, "name"), ({"password": "wrong"}, "password"), ({"reason": "because"}, "reason")):
        answer = erase(coach, practice, **other)
        assert (answer.status_code, answer.json()["field"]) == (422, field)
        assert coach.get(f"/api/clients/{practice.client_id}").status_code == 200
    assert erase(coach, practice).status_code == 204
    assert erase(coach, practice).status_code == 404


def test_others_cannot(colleague, client, browser, practice, db, owner):
    other = make_practice(db, owner, "elsewhere")
    assert erase(colleague, practice).status_code == 403
    assert erase(client, practice).status_code == 403
    assert erase(browser(other.coach_email), practice).status_code == 404
    assert erase(browser(), practice).status_code == 401
    with pytest.raises(psycopg.errors.NoDataFound), db.practice(other.id) as conn:
        erasures.erase(conn, practice.client_id, by_whom="owner", reason="mistake", at=datetime.now(UTC))
    with pytest.raises(psycopg.errors.NoDataFound), db.practice(other.id, other.client_id) as conn:
        erasures.erase(conn, practice.client_id, by_whom="owner", reason="mistake", at=datetime.now(UTC))


def test_a_tombstone_stays_and_says_no_name(coach, practice, db, owner):
    erase(coach, practice)
    assert "harbour" not in str(owner.execute("select * from erasures").fetchall())
    for statement in ("delete from erasures", "update erasures set reason = 'mistake'", "insert into erasures select * from erasures"):
        with pytest.raises(psycopg.errors.InsufficientPrivilege), db.practice(practice.id) as conn:
            conn.execute(statement.encode())


def test_facts_still_cannot_be_deleted_otherwise(db, practice, owner):
    with pytest.raises(psycopg.errors.RaiseException, match="only ever added to"):
        owner.execute("delete from facts")
    with pytest.raises(psycopg.Error), db.practice(practice.id) as conn:
        conn.execute("select set_config('dimbo.erasing', %s, true)", (str(practice.client_id),))
        conn.execute(b"delete from facts")
    assert owner.execute("select count(*) from facts").fetchone()[0] > 0


def test_what_the_process_remembers_goes_too(coach, practice):
    coach.get("/api/desk")
    coach.get(f"/api/clients/{practice.client_id}")
    assert desk_rows._worked.get(practice.client_id)
    measured._kept.keep(practice.client_id, ("", None))
    erase(coach, practice)
    assert desk_rows._worked.get(practice.client_id) is None and measured._kept.get(practice.client_id) is None


def test_an_owner_of_the_tables_who_is_no_superuser_can_do_it_too(plain_owner, cluster):
    """Row-level security is forced on the owner as well, so what it hides must not be passed over."""
    name, address = plain_owner
    migrate(address)
    with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as superuser:
        database = Database(cluster.url(database=name), most=2)
        database.open()
        practice = make_practice(database, superuser, "harbour")
        sitting, photo = uuid4(), uuid4()
        superuser.execute(
            "insert into sittings (id, practice_id, client_id, taken_on) values (%s, %s, %s, current_date)",
            (sitting, practice.id, practice.client_id),
        )
        superuser.execute(
            "insert into photographs (id, practice_id, client_id, sitting_id, source_name, source_hash, image, thumbnail, width, "
            "height, removed_at) values (%s, %s, %s, %s, '', '', '', '', 1, 1, now())",
            (photo, practice.id, practice.client_id, sitting),
        )
        with database.practice(practice.id) as conn:
            erasures.erase(conn, practice.client_id, by_whom="owner", reason="mistake", at=datetime.now(UTC))
            assert conn.execute("select current_setting('dimbo.practice'), current_setting('dimbo.removed')").fetchone() == (
                str(practice.id),
                "",
            )
        left = [superuser.execute(f"select count(*) from {t}".encode()).fetchone()[0] for t in ("clients", "photographs", "facts")]
        database.close()
    assert left == [0, 0, 0]


def test_while_a_photograph_is_being_read(coach, practice, db, owner):
    """The job that runs just then ends by itself: there is nothing to read any more."""
    from dimbo.work.sittings import analysing

    erase(coach, practice)
    analysing.analyse(db, practice.id, UUID(int=5))
    analysing.give_up(db, practice.id, UUID(int=5))
