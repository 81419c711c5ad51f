"""A practice with a coach, a client with an account, and browsers (test clients) for both."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime
from uuid import UUID, uuid4

import pytest
from fastapi.testclient import TestClient

from dimbo.ops.settings import Settings
from dimbo.store.people import accounts, clients
from dimbo.store.people.accounts import Person
from dimbo.web.app import build_app
from dimbo.work.intake import consenting
from dimbo.work.people.passwords import hash_password

from ..answered import answer_all
from ..midday import MIDDAY
from . import pairs

PASSWORD = "four plain words here"
HASH = hash_password(PASSWORD)
pair = pairs.pair


@dataclass(frozen=True)
class Practice:
    id: UUID
    coach_id: UUID
    client_id: UUID
    coach_email: str
    client_email: str


def make_practice(db, owner, name: str, time_zone: str = MIDDAY, *, asked: bool = True) -> Practice:
    """A practice with one client, who was asked about their health and agreed to practise unless ``asked`` is False.

    Strength may be done on every day here, so that a program of seven sessions a week can be written plainly.
    """
    added = "insert into practices (name, limits, begun) values (%s, '{\"strength_days\": 7}', '{ways,colleague}') returning id"
    practice = owner.execute(added, (name,)).fetchone()[0]
    with db.practice(practice) as conn:
        coach = accounts.create(conn, practice, "coach", None, f"Coach of {name}", f"coach@{name}.example", HASH, standing="owner")
        client = clients.create(
            conn,
            practice,
            f"Client of {name}",
            birth_year=1980,
            time_zone=time_zone,
            minutes=15,
            concerns=["eye-less-open"],
            goals="",
            coach_id=coach,
        )
        accounts.create(conn, practice, "client", client, f"Client of {name}", f"client@{name}.example", HASH)
    owner.execute(
        "insert into confirmations (id, practice_id, value, by_name, role, confirmed_on, made_by, made_at) "
        "values (gen_random_uuid(), %s, 'strength-days', 'Dr. Ina Quell', 'physician', current_date, %s, now())",
        (practice, coach),
    )
    made = Practice(practice, coach, client, f"coach@{name}.example", f"client@{name}.example")
    person = Person(id=coach, practice_id=practice, role="coach", client_id=None, name=f"Coach of {name}", practice_name=name)
    consenting.choose(db, person, client, "photographs", consenting.Word(given=True, version=1), now=datetime.now(UTC))
    if asked:
        answer_all(db, person, client)
    return made


@pytest.fixture
def practice(db, owner) -> Practice:
    return make_practice(db, owner, "harbour")


@pytest.fixture
def app(cluster, database_name):
    return build_app(Settings(database_url=cluster.url(database=database_name), stand_in_camera=True))


@pytest.fixture
def browser(app) -> Iterator:
    """Opens signed-in (or anonymous) test clients of one running application."""
    opened: list[TestClient] = []

    def sign_in(email: str | None = None) -> TestClient:
        client = TestClient(app, headers={"x-dimbo": "1"})
        client.__enter__() if not opened else None
        opened.append(client)
        if email:
            answer = client.post("/api/sign-in", json={"email": email, "password": PASSWORD})
            assert answer.status_code == 204, answer.text
        return client

    yield sign_in
    if opened:
        opened[0].__exit__(None, None, None)


@pytest.fixture
def coach(browser, practice) -> TestClient:
    return browser(practice.coach_email)


@pytest.fixture
def colleague(browser, practice, db) -> TestClient:
    """A second coach of the practice."""
    with db.practice(practice.id) as conn:
        accounts.create(conn, practice.id, "coach", None, "Colleague", "colleague@harbour.example", HASH)
    return browser("colleague@harbour.example")


@pytest.fixture
def client(browser, practice) -> TestClient:
    return browser(practice.client_email)


def new_program(coach, client_id, weeks=4, title="Eyes", **ratings):
    """A program drafted from ratings, concern to (right, left); its id."""
    facts = [
        {"id": str(uuid4()), "kind": "rating", "key": concern.replace("_", "-"), "value": {"right": right, "left": left}}
        for concern, (right, left) in (ratings or {"eye_less_open": (2, 1)}).items()
    ]
    answer = coach.post(f"/api/clients/{client_id}/facts", json={"entries": facts})
    assert answer.status_code == 200, answer.text
    made = coach.post(f"/api/clients/{client_id}/programs", json={"title": title, "weeks": weeks, "source": "intake"})
    assert made.status_code == 201, made.text
    return made.json()["id"]


@pytest.fixture
def drafted(coach, practice):
    """Makes a drafted program of the client and reads it."""

    def make(weeks=4, title="Eyes", **ratings):
        return coach.get(f"/api/programs/{new_program(coach, practice.client_id, weeks, title, **ratings)}").json()

    return make


@pytest.fixture
def assigned(coach, practice):
    """A program that is assigned with a clock and a reminder: its first day and its id."""
    made = new_program(coach, practice.client_id)
    start = coach.get(f"/api/programs/{made}").json()["client_today"]
    wish = {"start": start, "times": {"morning": "08:00"}, "remind_min": 20}
    answer = coach.post(f"/api/programs/{made}/assignment", json=wish)
    assert answer.status_code == 201, answer.text
    return date.fromisoformat(start), answer.json()["id"]
