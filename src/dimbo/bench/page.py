"""GET a client page over HTTP, against its bare SQL."""

from __future__ import annotations

from collections.abc import Callable

from dimbo.store import clients, facts, photographs, practice, programs, self_intakes, sittings
from dimbo.store.database import enter

from .installation import Installation

NAME = "Ragna Stavros"


def make() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """One client of the demo with eight weeks of logs; the page's statements on one warm connection are the baseline."""
    site = Installation()
    practice_id, client_id = site.client(NAME)

    def bare_sql() -> None:
        conn = site.conn
        with conn.transaction():
            enter(conn, practice_id)
            clients.one(conn, client_id)
            running = programs.newest_assignment(conn, client_id)
            if running:
                programs.planned_days(conn, running.id)
                practice.logs(conn, running.id)
            practice.stopped(conn, client_id)
            programs.of_client(conn, client_id)
            sittings.of_client(conn, client_id)
            photographs.of_client(conn, client_id)
            sittings.primary(conn, client_id)
            facts.standing(conn, client_id)
            self_intakes.newest(conn, client_id)

    return lambda: site.get(f"/api/clients/{client_id}"), bare_sql, site.close
