"""GET a client page over HTTP, against its bare SQL."""

from __future__ import annotations

from collections.abc import Callable

from dimbo.store import assignments, clients, daily, facts, messages, photographs, practice, programs, self_intakes, sittings
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
            for running in assignments.of_client(conn, client_id):
                assignments.sessions(conn, running.id)
                practice.logs(conn, running.id)
                assignments.plans(conn, running.id)
            assignments.pauses(conn, client_id)
            daily.check_ins(conn, client_id)
            messages.unread_counts(conn)
            practice.stopped(conn, client_id)
            programs.of_client(conn, client_id)
            sittings.of_client(conn, client_id)
            photographs.of_client(conn, client_id)
            sittings.primary(conn, client_id)
            facts.standing(conn, client_id)
            self_intakes.newest(conn, client_id)

    return lambda: site.get(f"/api/clients/{client_id}"), bare_sql, site.close
