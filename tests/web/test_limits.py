"""What arrives is bounded before it is parsed, signed in or not, and pictures are decoded one at a time."""

from __future__ import annotations

import io
import threading
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

import pytest
from PIL import Image

from dimbo.core.intake.import_table import MOST_BYTES
from dimbo.vision import photograph
from dimbo.vision.terms import PhotographError
from dimbo.web.app import BODIES, KIB, MIB
from dimbo.work import removing
from dimbo.work.programs import exchange
from dimbo.work.shared.errors import Refused
from dimbo.work.shared.turns import Turns
from dimbo.work.sittings import taking


def in_pieces(size):
    """A body that tells no length."""
    for _ in range(size // KIB):
        yield b"x" * KIB


PATHS = ("/api/sign-in", "/api/forgotten", "/api/joining/abc", "/api/self-intakes/abc", "/api/programs/abc", "/api/nowhere")


@pytest.mark.parametrize("path", PATHS)
def test_a_body_that_is_too_large_is_refused_before_it_is_looked_at(browser, path):
    page, most = browser(), next(size for pattern, size in BODIES if pattern.fullmatch(path))
    answer = page.post(path, content=b"x" * (most + 1), headers={"content-type": "application/json"})
    assert (answer.status_code, answer.json()["code"]) == (413, "bounds")
    assert page.post(path, content=b"{}", headers={"content-length": "many"}).status_code == 413


def test_a_body_of_no_length_is_counted_while_it_comes(browser):
    answer = browser().post("/api/sign-in", content=in_pieces(64 * KIB), headers={"content-type": "application/json"})
    assert answer.status_code == 413 and "8 kB" in answer.json()["message"]


def test_what_may_be_sent_fits(coach, practice):
    """The bounds of bodies leave room for everything that the use cases take."""
    sizes = {p.pattern: most for p, most in BODIES}
    assert sizes[r"/api/import(/preview)?"] > MOST_BYTES and sizes[r"/api/sittings/[^/]+/photographs"] > photograph.MAX_BYTES
    assert sizes[r"/api/clients/[^/]+/programs/import(/preview)?"] > exchange.MOST_BYTES
    assert sizes[r"/api/(sittings|taking)/[^/]+/uploads/[^/]+"] > MIB
    long = {"id": str(uuid4()), "text": "x" * 2001}
    assert coach.post(f"/api/clients/{practice.client_id}/messages", json=long).status_code == 422, "the use case speaks, not the bound"


def picture(size, kind, **how):
    out = io.BytesIO()
    Image.new("L", size).save(out, kind, **how)
    return out.getvalue()


@pytest.mark.parametrize(
    ("size", "kind", "how", "says"),
    [
        ((6000, 5000), "PNG", {"compress_level": 1}, "30 megapixels; at most 24"),
        ((6000, 5000), "JPEG", {"progressive": True}, "30 megapixels; at most 24"),
        ((8000, 8000), "JPEG", {}, "64 megapixels; at most 60"),
        ((8000, 6000), "JPEG", {}, ""),
        ((6000, 4000), "PNG", {"compress_level": 1}, ""),
    ],
)
def test_pictures_of_so_many_pixels(size, kind, how, says):
    data = picture(size, kind, **how)
    if says:
        with pytest.raises(PhotographError, match=says):
            photograph.decode(data, "it")
    else:
        assert max(photograph.decode(data, "it").size) == photograph.LONG_EDGE


def test_a_reduced_picture_never_stands_whole_in_memory(monkeypatch):
    """48 megapixels of a phone's JPEG are reduced while they are decoded."""
    seen = []
    real = Image.Image.convert
    monkeypatch.setattr(Image.Image, "convert", lambda self, *a, **k: seen.append(self.size) or real(self, *a, **k))
    photograph.decode(picture((8000, 6000), "JPEG"), "it")
    assert max(w * h for w, h in seen) <= 24_000_000


def test_turns_are_taken_and_the_rest_is_told_to_wait():
    turns, inside, go = Turns(1, waiting=1, words="Wait a little."), threading.Event(), threading.Event()
    done = []

    def work():
        with turns.turn():
            inside.set()
            go.wait(5)
            done.append(1)

    first, second = threading.Thread(target=work), threading.Thread(target=work)
    first.start()
    inside.wait(5)
    second.start()
    while turns._in < 2:
        pass
    with pytest.raises(Refused, match="Wait a little"), turns.turn():
        pass
    go.set()
    first.join(5)
    second.join(5)
    assert done == [1, 1]
    with turns.turn():
        pass


def test_files_that_are_never_finished_have_a_bound_and_an_end(coach, practice, db, owner):
    sitting = coach.post(f"/api/clients/{practice.client_id}/sittings", json={}).json()["id"]
    piece = bytes(taking.MAX_PIECE)

    def begin(n: int):
        path = f"/api/sittings/{sitting}/uploads/{UUID(int=n)}"
        return coach.put(path, params={"starts_at": 0, "total": taking.MAX_BYTES}, files={"data": ("a", piece)})

    most = taking.MOST_UNFINISHED // taking.MAX_PIECE
    for n in range(most):
        assert begin(n).status_code == 200
    refused = begin(most)
    assert (refused.status_code, refused.json()["code"]) == (429, "too-many")
    now = datetime.now(UTC)
    removing.forget(db, now)
    assert owner.execute("select count(*) from upload_pieces").fetchone() == (most,), "what comes still is left alone"
    removing.forget(db, now + taking.UNFINISHED + timedelta(minutes=1))
    assert owner.execute("select count(*) from upload_pieces").fetchone() == (0,)
    assert begin(most).status_code == 200


def test_a_practice_keeps_its_own_emergency_number(coach, client):
    assert coach.put("/api/settings/safety/number", json={"emergency_number": "0 12 34"}).status_code == 204
    assert coach.get("/api/settings/safety").json()["emergency_number"] == "0 12 34"
