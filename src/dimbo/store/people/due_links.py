"""One link a client that opens all that is due: their account, the intake, photographs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, add, one_or_none


@dataclass(frozen=True, kw_only=True)
class DueLink:
    practice_id: UUID
    client_id: UUID
    made_by: UUID
    client_name: str
    practice_name: str
    expired: bool


def make(conn: Conn, *, practice_id: UUID, client_id: UUID, made_by: UUID, token_hash: bytes, expires_at: datetime) -> None:
    """A new link; the earlier one of the client ends."""
    conn.execute("delete from due_links where client_id = %s", (client_id,))
    values = {"token_hash": token_hash, "practice_id": practice_id, "client_id": client_id, "made_by": made_by, "expires_at": expires_at}
    add(conn, "due_links", values)


def by_token(conn: Conn, token_hash: bytes) -> DueLink | None:
    return one_or_none(conn, DueLink, "select * from due_link(%s)", (token_hash,))
