"""What a client writes beside the photographs of a sitting."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn


def of_client(conn: Conn, client_id: UUID) -> dict[UUID, str]:
    """The words by sitting."""
    rows = conn.execute("select sitting_id, words from own_notes where client_id = %s", (client_id,))
    return {row[0]: row[1] for row in rows}


def write(conn: Conn, practice_id: UUID, client_id: UUID, *, sitting_id: UUID, words: str, at: datetime) -> None:
    """Keep the words; empty ones are removed."""
    if not words:
        conn.execute("delete from own_notes where client_id = %s and sitting_id = %s", (client_id, sitting_id))
        return
    conn.execute(
        """
        insert into own_notes (practice_id, client_id, sitting_id, words, written_at) values (%s, %s, %s, %s, %s)
        on conflict (sitting_id) do update set words = excluded.words, written_at = excluded.written_at""",
        (practice_id, client_id, sitting_id, words, at),
    )
