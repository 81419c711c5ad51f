"""The intake: its page against its bare SQL, and its conclusions against one pass over its facts."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime

from dimbo.catalogue import shipped_catalogue, shipped_intake
from dimbo.core.intake.conclusions import Intake, Rating, conclude
from dimbo.core.intake.side_tests import TestResult
from dimbo.core.safety.cautions import CautionAnswer
from dimbo.store.database import Binding
from dimbo.store.intake import facts, reasoning, self_intakes
from dimbo.store.people import clients
from dimbo.store.sittings import photographs

from .installation import Installation

NAME = "Philippa Anjou-Reyes"
DAY = date(2026, 3, 20)


def page() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """The intake of a client with everything answered; the page's statements on one warm connection are the baseline."""
    site = Installation()
    practice_id, client_id = site.client(NAME)

    def bare_sql() -> None:
        conn = site.conn
        with conn.transaction():
            Binding(practice_id).enter(conn)
            clients.one(conn, client_id)
            reasoning.own(conn)
            facts.standing(conn, client_id)
            photographs.stamp(conn, client_id)
            self_intakes.newest(conn, client_id)
            photographs.count(conn, client_id)

    return lambda: site.get(f"/api/clients/{client_id}/intake"), bare_sql, site.close


def everything() -> Intake:
    """A client with every caution a yes, every concern rated, every question and side test answered."""
    tables = shipped_intake().tables
    noon = datetime(2026, 3, 20, 12, tzinfo=UTC)
    return Intake(
        ratings={c: Rating(3, left=2) for c in tables.concerns},
        answers={(e.concern, q.id): "yes" for e in tables.reasoning.values() for q in e.questions},
        results={t.id: TestResult(t.id, answer=t.answers[0], noted_on=DAY) for t in tables.tests.values()},
        cautions={r.id: CautionAnswer(caution=r.id, answer="yes", at=noon) for r in tables.cautions},
        minutes=15,
        goals="Everything.",
    )


def core() -> tuple[Callable[[], object], Callable[[], object], Callable[[], None]]:
    """Concluding from everything filled in; reading each value once is the baseline."""
    tables, cards, intake = shipped_intake().tables, shipped_catalogue().cards, everything()
    regions = {m.id: m.region for m in shipped_catalogue().muscles.values()}

    def once() -> int:
        values = (intake.ratings, intake.answers, intake.results, intake.cautions)
        return sum(len(str(v)) for mapping in values for v in mapping.values())

    return lambda: conclude(tables, intake, cards.values(), regions, DAY), once, lambda: None
