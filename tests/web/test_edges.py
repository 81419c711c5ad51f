"""The edges of the site: files, headers, unknown addresses, and a page of its own for everything else."""

import pytest
from fastapi.testclient import TestClient

from dimbo.ops.settings import Settings
from dimbo.web.app import build_app


@pytest.fixture
def pages(tmp_path, cluster, database_name):
    (tmp_path / "build/_app/immutable").mkdir(parents=True)
    (tmp_path / "build/index.html").write_text("<title>Dimbo</title>")
    (tmp_path / "build/_app/immutable/a.js").write_text("1")
    (tmp_path / "secret.txt").write_text("not yours")
    app = build_app(Settings(database_url=cluster.url(database=database_name), ui_folder=tmp_path / "build"))
    with TestClient(app) as client:
        yield client


@pytest.mark.parametrize("path", ["/", "/clients", "/programs/7/anything", "/invite/token"])
def test_every_page_is_the_one_page(pages, path):
    answer = pages.get(path)
    assert answer.status_code == 200 and "Dimbo" in answer.text
    assert answer.headers["cache-control"] == "no-cache"


def test_built_files_are_kept_by_browsers_for_good(pages):
    assert "immutable" in pages.get("/_app/immutable/a.js").headers["cache-control"]


@pytest.mark.parametrize("path", ["/../secret.txt", "/%2e%2e/secret.txt", "/_app/..%2f..%2fsecret.txt", "//etc/passwd"])
def test_nothing_outside_the_build_is_served(pages, path):
    answer = pages.get(path)
    assert "not yours" not in answer.text and "root:" not in answer.text


def test_unknown_api_addresses_are_told_apart_from_pages(pages):
    answer = pages.get("/api/nothing")
    assert answer.status_code == 404 and answer.json()["message"]


def test_pages_may_not_be_framed_and_load_nothing_from_elsewhere(pages):
    headers = pages.get("/").headers
    policy = headers["content-security-policy"]
    assert "default-src 'self'" in policy and "frame-ancestors 'none'" in policy and "http" not in policy
    assert headers["x-content-type-options"] == "nosniff"


def test_answers_of_the_api_are_not_kept_by_browsers(coach):
    assert coach.get("/api/clients").headers["cache-control"] == "no-store"


def test_an_unbuilt_interface_says_so(tmp_path, cluster, database_name):
    app = build_app(Settings(database_url=cluster.url(database=database_name), ui_folder=tmp_path))
    with TestClient(app) as client:
        answer = client.get("/")
        assert answer.status_code == 503 and "not built" in answer.json()["message"]
        assert client.get("/api/health").json() == {"database": "up", "worker": "away"}


def test_the_stand_in_camera_is_off_unless_switched_on(cluster, database_name, practice):
    app = build_app(Settings(database_url=cluster.url(database=database_name)))
    with TestClient(app, headers={"x-dimbo": "1"}) as client:
        from .conftest import PASSWORD

        client.post("/api/sign-in", json={"email": practice.coach_email, "password": PASSWORD})
        assert client.get("/api/me").json()["stand_in_camera"] is False
        assert client.get(f"/api/clients/{practice.client_id}/stand-in-shot.jpg").status_code == 404


def test_behind_https_the_cookie_says_so(cluster, database_name, practice):
    from .conftest import PASSWORD

    app = build_app(Settings(database_url=cluster.url(database=database_name), secure_cookie=True))
    with TestClient(app, headers={"x-dimbo": "1"}) as client:
        answer = client.post("/api/sign-in", json={"email": practice.coach_email, "password": PASSWORD})
        assert "secure" in answer.headers["set-cookie"].lower()


# Requests that change something must come from Dimbo's own pages.


@pytest.fixture
def bare(app):
    with TestClient(app) as client:
        yield client


WRONG = {"email": "nobody@mail.example", "password": "not the password"}


def test_a_change_without_the_own_header_is_refused_before_it_is_read(bare):
    answer = bare.post("/api/sign-in", json=WRONG)
    assert answer.status_code == 403 and "own pages" in answer.json()["message"]


@pytest.mark.parametrize(("site", "status"), [("cross-site", 403), ("same-site", 403), ("same-origin", 422), ("none", 422)])
def test_a_change_from_another_site_is_refused(bare, site, status):
    assert bare.post("/api/sign-in", json=WRONG, headers={"x-dimbo": "1", "sec-fetch-site": site}).status_code == status


@pytest.mark.parametrize("path", ["/api/nothing", "/api/clients", "/api/health"])
def test_every_answer_carries_the_headers_also_a_refusal(bare, path):
    for answer in (bare.get(path), bare.post(path)):
        assert answer.headers["x-content-type-options"] == "nosniff"
        assert answer.headers["referrer-policy"] == "same-origin"
        assert answer.headers["cache-control"] == "no-store"
        assert "frame-ancestors 'none'" in answer.headers["content-security-policy"]
