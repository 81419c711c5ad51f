"""./dimbo practice and ./dimbo coach, as the owner of the tables that is no superuser."""

from __future__ import annotations

import argparse

import psycopg
import pytest
from fastapi.testclient import TestClient

from dimbo.ops import people
from dimbo.ops.cluster import OWNER
from dimbo.ops.settings import Settings
from dimbo.ops.supervise import CannotStart
from dimbo.store.migrate import migrate
from dimbo.web.app import build_app

WORDS = "seven otters keep lanterns"


@pytest.fixture
def run(plain_owner):
    """Carries out a command line; what it printed. The owner of the tables is an ordinary role, bound as everybody is."""
    migrate(plain_owner[1])

    def ran(*words: str) -> str:
        parser = argparse.ArgumentParser()
        people.add_commands(parser.add_subparsers(dest="command"))
        said: list[str] = []
        people.run(parser.parse_args(words), plain_owner[1], "https://practice.example", said.append)
        return "\n".join(said)

    return ran


@pytest.fixture
def page(cluster, plain_owner, run):
    with TestClient(build_app(Settings(database_url=cluster.url(database=plain_owner[0]))), headers={"x-dimbo": "1"}) as client:
        yield client


def token(text):
    return next(line.strip().rsplit("/", 1)[1] for line in text.splitlines() if "https://practice.example/" in line)


CREATE = ("practice", "create", "--name", "Quayside", "--coach", "Ottoline Marsh", "--email", "ottoline@quayside.example")


def test_a_practice_is_opened_with_a_link_that_works_once(run, page):
    assert "no practice yet" in run("practice", "list")
    link = token(run(*CREATE))
    assert page.post(f"/api/joining/{link}", json={"password": WORDS}).status_code == 204
    assert page.get("/api/me").json() | {"id": 0} == {
        "id": 0,
        "role": "coach",
        "name": "Ottoline Marsh",
        "practice_name": "Quayside",
        "client_id": None,
        "standing": "owner",
        "time_zone": None,
        "stand_in_camera": False,
    }
    assert page.get("/api/desk").status_code == 200 and page.get("/api/people").status_code == 200
    assert "1 at work, 0 clients" in run("practice", "list")
    assert page.post(f"/api/joining/{link}", json={"password": WORDS}).json()["code"] == "link"


def test_colleagues_and_new_passwords_from_the_command_line(run, page):
    page.post(f"/api/joining/{token(run(*CREATE))}", json={"password": WORDS})
    link = token(run("coach", "add", "--name", "Ines", "--email", "ines@quayside.example", "--standing", "assistant"))
    page.post(f"/api/joining/{link}", json={"password": WORDS})
    assert page.get("/api/me").json()["standing"] == "assistant"
    reset = token(run("coach", "reset-link", "--email", "INES@quayside.example"))
    assert page.post(f"/api/new-passwords/{reset}", json={"password": "another four plain words"}).json() == {"signed_in": True}


def test_what_cannot_be_done_is_said_and_nothing_is_left(run, cluster, plain_owner):
    run(*CREATE)
    for words, says in (
        (("practice", "create", "--name", "", "--coach", "A", "--email", "a@b.example"), "Name the practice"),
        (("practice", "create", "--name", "Second", "--coach", "A", "--email", "no address"), "not an e-mail address"),
        (("coach", "add", "--practice", "Nowhere", "--name", "A", "--email", "a@b.example"), "There are: Quayside"),
        (("coach", "reset-link", "--email", "nobody@b.example"), "has no account"),
    ):
        with pytest.raises(CannotStart, match=says):
            run(*words)
    with psycopg.connect(cluster.url(OWNER, plain_owner[0])) as conn:
        assert conn.execute("select count(*) from practices").fetchone() == (1,)
