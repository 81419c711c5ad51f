"""The API's description as tools of other people read it: a validator, a linter's rules, and a client made from it."""

import importlib
import subprocess
import sys
from pathlib import Path

import pytest
from openapi_spec_validator import OpenAPIV31SpecValidator

from tests.web.conftest import PASSWORD

FORMATS = Path(__file__).parents[2] / "docs/formats"


@pytest.fixture
def told(app):
    return app.openapi()


def operations(told):
    return [(m, p, o) for p, methods in told["paths"].items() for m, o in methods.items()]


def test_it_is_valid_and_served(told, browser):
    assert list(OpenAPIV31SpecValidator(told).iter_errors()) == []
    answer = browser().get("/api/openapi.json")
    assert answer.status_code == 200 and answer.json() == told


def test_every_operation_says_what_a_linter_asks_for(told):
    tags = {t["name"] for t in told["tags"]}
    ids = [o["operationId"] for _, _, o in operations(told)]
    assert len(set(ids)) == len(ids)
    for method, path, operation in operations(told):
        assert len(operation["tags"]) == 1 and set(operation["tags"]) <= tags, path
        assert operation["summary"] and "security" in operation, path
        assert path == path.rstrip("/") and any(s[0] == "2" for s in operation["responses"]), path
        assert {p["name"] for p in operation.get("parameters", []) if p["in"] == "path"} == {
            part.split("}")[0] for part in path.split("{")[1:]
        }, path
        needs = {name for one in operation["security"] for name in one}
        assert ("ownPages" in needs) == (method != "get"), path
    assert {t for _, _, o in operations(told) for t in o["tags"]} == tags
    assert not [n for n in told["components"]["schemas"] if "__" in n or n.endswith(("-Input", "-Output"))], "two views of one name"


def test_what_needs_a_sign_in_says_so_and_nothing_else_does(told, browser):
    """Asked by nobody, exactly those that say so are refused for it."""
    page = browser()
    for method, path, operation in operations(told):
        for name in ("client_id", "sitting_id", "key", "photograph_id", "program_id", "assignment_id", "account_id"):
            path = path.replace(f"{{{name}}}", "00000000-0000-0000-0000-000000000001")
        path = path.replace("{day}", "2026-01-01").replace("{place}", "0").replace("{which}", "0")
        while "{" in path:
            path = path[: path.index("{")] + "00000000-0000-0000-0000-000000000001" + path[path.index("}") + 1 :]
        answer = page.request(method.upper(), path, json={})
        signed = any("signedIn" in one for one in operation["security"])
        assert (answer.status_code == 401) == signed, (method, path, answer.status_code)


def test_a_client_that_is_made_from_it_signs_in_and_works(tmp_path, monkeypatch, browser, practice):
    out = tmp_path / "made_client"
    command = [Path(sys.executable).parent / "openapi-python-client", "generate", "--path", FORMATS / "openapi.json"]
    command += ["--config", FORMATS / "openapi-client.yml", "--output-path", out, "--meta", "none"]
    done = subprocess.run(command, capture_output=True, text=True, cwd=tmp_path)
    assert done.returncode == 0 and "WARNING" not in done.stdout + done.stderr, done.stdout[-2000:]
    monkeypatch.syspath_prepend(tmp_path)
    take = importlib.import_module
    client = take("made_client.client").Client(base_url="http://made").set_httpx_client(browser())
    models = take("made_client.models")
    wrong = take("made_client.api.people.sign_in").sync(client=client, body=models.SignInRequest(email=practice.coach_email, password="x"))
    assert isinstance(wrong, models.Problem) and wrong.code == "not-yours"
    body = models.SignInRequest(email=practice.coach_email, password=PASSWORD)
    assert take("made_client.api.people.sign_in").sync_detailed(client=client, body=body).status_code == 204
    assert take("made_client.api.people.me").sync(client=client).name == "Coach of harbour"
    rows = take("made_client.api.people.clients").sync(client=client)
    assert [r.id for r in rows] == [practice.client_id]
    table = take("made_client.api.review.export_table").sync(table="adherence", client=client)
    assert table.startswith(b"client_id,client,day")
