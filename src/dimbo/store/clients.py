"""Clients of a practice, and the practice's own settings."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.core.program import Settings

from .database import Conn, NotThere, many, one_or_none


@dataclass(frozen=True)
class Client:
    id: UUID
    name: str
    birth_year: int | None
    time_zone: str
    minutes: int | None
    concerns: list[str]
    story: str
    pace_s: float | None
    portrait: str | None
    created_at: datetime
    has_account: bool


_COLUMNS = """c.id, c.name, c.birth_year, c.time_zone, c.minutes, c.concerns, c.story, c.pace_s::float8 as pace_s,
    c.portrait, c.created_at, exists (select from accounts a where a.client_id = c.id) as has_account"""


def every(conn: Conn) -> list[Client]:
    return many(conn, Client, f"select {_COLUMNS} from clients c order by c.name")


def one(conn: Conn, client_id: UUID) -> Client:
    """Raises NotThere."""
    row = one_or_none(conn, Client, f"select {_COLUMNS} from clients c where c.id = %s", (client_id,))
    if row is None:
        raise NotThere("There is no such client.")
    return row


def create(
    conn: Conn,
    practice_id: UUID,
    name: str,
    *,
    birth_year: int | None,
    time_zone: str,
    minutes: int | None,
    concerns: list[str],
    story: str,
    portrait: str | None = None,
) -> UUID:
    row = conn.execute(
        "insert into clients (practice_id, name, birth_year, time_zone, minutes, concerns, story, portrait) "
        "values (%s, %s, %s, %s, %s, %s, %s, %s) returning id",
        (practice_id, name, birth_year, time_zone, minutes, concerns, story, portrait),
    ).fetchone()
    assert row
    return UUID(str(row[0]))


def settings(conn: Conn, client_id: UUID | None = None) -> Settings:
    """The practice's settings, with the client's own count pace where there is one."""
    row = conn.execute(
        "select coalesce(c.pace_s, p.pace_s)::float8, p.change_over_s::float8, p.oil_change_over_s::float8 "
        "from practices p left join clients c on c.id = %s where p.id = current_practice()",
        (client_id,),
    ).fetchone()
    if row is None:
        raise NotThere("There is no such practice.")
    return Settings(*row)
