"""Weekly reviews: what the rules said of a week, on which numbers, and what the coach decided. Never altered."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conn, columns_of, many
from dimbo.store.database import add as add_row


@dataclass(frozen=True, kw_only=True)
class Review:
    """``suggested`` and ``decided`` have a verdict for the whole and one by line id; ``holds_from`` is the day from which
    doses changed, None when none did. Of two reviews of one week the later one holds."""

    id: UUID
    client_id: UUID
    assignment_id: UUID
    first_day: date
    last_day: date
    week: int
    evidence: dict[str, Any]
    suggested: dict[str, Any]
    decided: dict[str, Any]
    reason: str
    words: str
    """What the coach says to the client about the week."""
    holds_from: date | None
    program_version: int | None
    made_by: UUID
    made_at: datetime


_COLUMNS = """id, client_id, assignment_id, first_day, last_day, week, evidence, suggested, decided, reason, words, holds_from,
    program_version, made_by, made_at"""


def add(conn: Conn, practice_id: UUID, r: Review) -> bool:
    """Keep a review; False when it is here already."""
    values = {"practice_id": practice_id} | columns_of(r, json=("evidence", "suggested", "decided"))
    added = add_row(conn, "reviews", values, "on conflict (id) do nothing")
    return added.rowcount == 1


def has(conn: Conn, review_id: UUID) -> bool:
    return conn.execute("select 1 from reviews where id = %s", (review_id,)).fetchone() is not None


def of_client(conn: Conn, client_id: UUID) -> list[Review]:
    """Every review of a client, the earliest week first, of one week the later one last."""
    return many(conn, Review, f"select {_COLUMNS} from reviews where client_id = %s order by first_day, made_at", (client_id,))


def of_assignment(conn: Conn, assignment_id: UUID) -> list[Review]:
    """The same of one assignment."""
    return many(conn, Review, f"select {_COLUMNS} from reviews where assignment_id = %s order by first_day, made_at", (assignment_id,))


def every(conn: Conn, client_id: UUID | None, since: date, until: date) -> list[Review]:
    """Reviews of weeks that begin in a span of days, of one client or of all."""
    wanted = "(%s::uuid is null or client_id = %s) and first_day between %s and %s"
    sql = f"select {_COLUMNS} from reviews where {wanted} order by first_day, made_at"
    return many(conn, Review, sql, (client_id, client_id, since, until))


def own_rules(conn: Conn) -> dict[str, float]:
    """The practice's own thresholds of the weekly review."""
    row = conn.execute("select review_rules from practices where id = current_practice()").fetchone()
    return dict(row[0]) if row else {}


def set_own_rules(conn: Conn, rules: dict[str, float]) -> None:
    conn.execute("update practices set review_rules = %s where id = current_practice()", (Jsonb(rules),))
