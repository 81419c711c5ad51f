"""Whatever is sent to whatever operation is answered in words: never a bare fault of the server, and never half kept.

Every operation of the OpenAPI gets values made from its own schema, right and wrong ones, and then each of them with one leaf
swapped for something that breaks programs: dates at the ends of the calendar, control signs, numbers beyond any column.
"""

from __future__ import annotations

import json
import os
from copy import deepcopy
from datetime import datetime
from typing import Any
from uuid import uuid4

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.web.openapi import schema_text

from .conftest import new_program

EXAMPLES = int(os.environ.get("DIMBO_MALFORMED", "2"))
"""Values an operation, each sent as it is and spoilt; DIMBO_MALFORMED=100 looks longer."""
LEFT_OUT = {
    # It ends the sign-in by which all others are asked.
    "signOut",
    "endSignIn",
    # Each guess of a password or a code takes the time that it is meant to take; tests/web/people has them.
    "signIn",
    "setPassword",
    "acceptInvitation",
    "join",
}
ENDS = ["0001-01-01", "9999-12-31", "2026-02-30", "0001-01-01T00:00:00Z", "9999-12-31T23:59:59.999999Z", "2026-01-01T00:00:00+23:59"]
NASTY: list[Any] = [
    *ENDS,
    "a\x00b",
    "\x1b[2J",
    "\u202ereversed",
    "\ud800",
    "x" * 70_000,
    "",
    " ",
    "../../etc/passwd",
    "'; drop table clients; --",
    "=1+1",
    2**31,
    2**63,
    -(2**63),
    1e308,
    -0.0,
    True,
    None,
    [],
    {},
    [[[[[]]]]],
    "00000000-0000-0000-0000-000000000000",
    "Etc/GMT+14",
    "ı",
]

OPERATIONS = [found.ok() for found in schemathesis.openapi.from_dict(json.loads(schema_text())).get_all_operations()]


def name_of(operation) -> str:
    return operation.definition.raw["operationId"]


def leaves(value: Any, path: tuple = ()) -> list[tuple]:
    """The paths of everything within a body that can be swapped."""
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    return [path] * bool(path) + [leaf for k, v in inner for leaf in leaves(v, (*path, k))]


def swapped(body: Any, path: tuple, value: Any) -> Any:
    new = deepcopy(body)
    at = new
    for k in path[:-1]:
        at = at[k]
    at[path[-1]] = value
    return new


@pytest.fixture
def there(coach, practice, owner):
    """Something of every kind that an address can name, so that what is sent gets as far as it can."""
    c = practice.client_id
    program = new_program(coach, c)
    start = coach.get(f"/api/programs/{program}").json()["client_today"]
    assignment = coach.post(f"/api/programs/{program}/assignment", json={"start": start}).json()["id"]
    sitting = coach.post(f"/api/clients/{c}/sittings", json={"taken_on": "2026-04-20"}).json()["id"]
    photo = str(uuid4())
    data = shoot(Scene(identity="aster", state="even", seed=3)).jpeg(datetime.fromisoformat("2026-04-20T08:40:00+00:00"))
    coach.post(f"/api/sittings/{sitting}/photographs", data={"photograph_id": photo}, files={"file": ("a.jpg", data)})
    return {
        "client_id": str(c),
        "program_id": program,
        "assignment_id": assignment,
        "sitting_id": sitting,
        "key": sitting,
        "photograph_id": photo,
        "row_id": program,
        "account_id": str(practice.coach_id),
        "kind": "programs",
        "exercise_id": "lid-lift",
        "day": start,
    }


def send(page, operation, case, body, names: dict[str, str]):
    path = operation.path
    for name, value in (case.path_parameters or {}).items():
        path = path.replace(f"{{{name}}}", names.get(name) or str(value))
    path = path.encode("utf-8", "replace").decode().replace("?", "%3F").replace("#", "%23")
    given_body: dict[str, Any] = {}
    if case.media_type and "json" in case.media_type and not isinstance(body, type(schemathesis.core.NOT_SET)):
        text = json.dumps(body)
        given_body = {"content": text.encode("utf-8", "surrogatepass"), "headers": {"content-type": "application/json"}}
    elif case.media_type and isinstance(body, dict):
        given_body = {"data": {k: str(v).encode("utf-8", "replace") for k, v in body.items() if not isinstance(v, bytes)}}
    params = {k: v for k, v in (case.query or {}).items() if isinstance(v, str | int | float)}
    return page.request(operation.method.upper(), path, params=params, **given_body)


def says_why(answer) -> bool:
    """A refusal has words; calendar programs get them as plain text."""
    if answer.headers.get("content-type", "").startswith("text/plain"):
        return bool(answer.text)
    try:
        said = answer.json()
    except ValueError:
        return False
    return bool(said.get("code") and said.get("message"))


def described(operation, answer) -> bool:
    """Whether the description knows the status, and the kind of what came with it."""
    known = operation.definition.raw["responses"].get(str(answer.status_code))
    if known is None:
        return False
    kind = answer.headers.get("content-type", "").split(";")[0] if answer.content else ""
    return {k.split(";")[0] for k in known.get("content", {})} == ({kind} if kind else set())


@pytest.mark.parametrize("who", ["coach", "client", "browser"])
def test_no_operation_breaks(who, request, there):
    page = request.getfixturevalue(who)
    page = page() if who == "browser" else page
    page._transport.raise_server_exceptions = False
    broken: dict[str, str] = {}
    asked = 0

    def ask(operation, case, body, names):
        nonlocal asked
        asked += 1
        answer = send(page, operation, case, body, names)
        if answer.status_code >= 500:
            broken.setdefault(name_of(operation), f"{answer.status_code} {answer.request.url} {str(body)[:300]}")
        elif answer.status_code >= 400 and not says_why(answer):
            broken.setdefault(name_of(operation), f"{answer.status_code} without words: {answer.text[:100]}")
        elif not described(operation, answer):
            kind = answer.headers.get("content-type")
            broken.setdefault(name_of(operation), f"{answer.status_code} as {kind} is not described: {answer.request.url}")

    def try_out(operation):
        @settings(max_examples=EXAMPLES, database=None, derandomize=True, suppress_health_check=list(HealthCheck))
        @given(case=operation.as_strategy(), data=st.data())
        def sent(case, data):
            names = data.draw(st.sampled_from([there, {}]))
            ask(operation, case, case.body, names)
            if paths := leaves(case.body):
                body = swapped(case.body, data.draw(st.sampled_from(paths)), data.draw(st.sampled_from(NASTY)))
                ask(operation, case, body, there)
            for parameter in case.query or {}:
                case.query = {**case.query, parameter: data.draw(st.sampled_from(ENDS))}
                ask(operation, case, case.body, there)

        sent()

    for operation in OPERATIONS:
        if name_of(operation) not in LEFT_OUT:
            try_out(operation)
    assert not broken, "\n".join(f"{name}: {what}" for name, what in broken.items())
    assert asked > 500
    assert page.get("/api/me").status_code == (401 if who == "browser" else 200)


@pytest.mark.parametrize(
    "value", ["x", "%00", "%ff%fe", "a" * 3000, "00000000-0000-0000-0000-00000000000g", "..%2f..%2fetc", "%0d%0aSet-Cookie:x"]
)
def test_addresses_that_name_nothing(coach, value):
    coach._transport.raise_server_exceptions = False
    for operation in OPERATIONS:
        path = operation.path
        while "{" in path:
            path = path[: path.index("{")] + value + path[path.index("}") + 1 :]
        if path == operation.path or name_of(operation) in LEFT_OUT:
            continue
        answer = coach.request(operation.method.upper(), path, json={})
        assert 400 <= answer.status_code < 500 or answer.status_code in (200, 204), (name_of(operation), answer.status_code)
