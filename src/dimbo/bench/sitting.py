"""A full sitting through the worker's analysis, against the detector alone, as many shots at once as the worker reads; and the sittings
page, against its SQL."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from dimbo.store.database import Binding, Database
from dimbo.store.intake import facts
from dimbo.store.people import clients
from dimbo.store.sittings import photographs, sittings
from dimbo.vision.photograph import decode, read_photograph
from dimbo.vision.stand_in_camera import shoot
from dimbo.vision.terms import Scene
from dimbo.work.sittings.analysing import analyse, analyse_pixels
from dimbo.worker import AT_ONCE

from .installation import Installation
from .photo import near_size, passes

STATES = ("uneven",) * 3 + ("smile", "full", "raised", "wide", "pressed", "even", "eased", "even", "eased")
"""Twelve shots that have a face from the front; profiles cost less."""
NAME = "Ragna Stavros"


def shots() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """Twelve shots analysed; baseline: decoding them and as many detector passes on like images, side by side too."""
    kept = [read_photograph(shoot(Scene(identity="aster", state=state, seed=n)).jpeg(), "bench.jpg").jpeg for n, state in enumerate(STATES)]
    small = near_size(np.asarray(decode(kept[0], "bench.jpg")))

    def decode_and_detect(jpeg: bytes) -> None:
        decode(jpeg, "bench.jpg")
        passes(small)

    workers = ThreadPoolExecutor(AT_ONCE)
    return (
        lambda: list(workers.map(analyse_pixels, kept)),
        lambda: list(workers.map(decode_and_detect, kept)),
        workers.shutdown,
    )


def page() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """A client with five sittings: everything judged, measured and compared; baseline: the page's statements."""
    site = Installation()
    practice_id, client_id = site.client(NAME)
    db = Database(site.url, most=1)
    db.open()
    with db.practice(practice_id) as conn:
        taken = [p.id for p in photographs.of_client(conn, client_id)]
    for photograph_id in taken:
        analyse(db, practice_id, photograph_id=photograph_id)
    db.close()
    site.reconnect()  # the server closed the idle connection meanwhile

    def bare_sql() -> None:
        conn = site.conn
        with conn.transaction():
            Binding(practice_id).enter(conn)
            clients.one(conn, client_id)
            sittings.of_client(conn, client_id)
            photographs.of_client(conn, client_id)
            for _ in range(3):
                facts.of_kind(conn, client_id, "consent")
            sittings.primary(conn, client_id)
            sittings.has_practised(conn, client_id)

    return lambda: site.get(f"/api/clients/{client_id}/sittings"), bare_sql, site.close
