"""Clips and pictures of a practice's own exercises, by the hash of their files."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.store.database import Conn, NotThere, add, many

_NAMED = """(m.hash in (e.entry->'clip'->>'hash', e.entry->'picture'->>'hash'))"""


@dataclass(frozen=True, kw_only=True)
class Medium:
    """What is known of a file without its bytes."""

    media_type: str
    size: int
    made_at: datetime


def keep(conn: Conn, practice_id: UUID, file_hash: str, *, media_type: str, data: bytes, still: bytes | None, by: str) -> None:
    """Keep a file; one that is there already is kept once."""
    values = {
        "practice_id": practice_id,
        "hash": file_hash,
        "media_type": media_type,
        "data": data,
        "still": still,
        "made_by": by,
    }
    add(conn, "exercise_media", values, "on conflict do nothing")


def room(conn: Conn) -> int:
    """Bytes that all files of the practice take."""
    row = conn.execute("select coalesce(sum(length(data)), 0)::bigint from exercise_media").fetchone()
    return int(row[0]) if row else 0


def exists(conn: Conn, file_hash: str) -> bool:
    return conn.execute("select 1 from exercise_media where hash = %s", (file_hash,)).fetchone() is not None


def known(conn: Conn, file_hash: str) -> Medium:
    """Raises NotThere."""
    found = many(conn, Medium, "select media_type, length(data) as size, made_at from exercise_media where hash = %s", (file_hash,))
    if not found:
        raise NotThere("There is no such clip or picture.")
    return found[0]


def part(conn: Conn, file_hash: str, *, starts_at: int, length: int) -> bytes:
    """Bytes of a file from ``starts_at`` (from 0). Raises NotThere."""
    row = conn.execute(
        "select substring(data from %s for %s) from exercise_media where hash = %s", (starts_at + 1, length, file_hash)
    ).fetchone()
    if row is None:
        raise NotThere("There is no such clip or picture.")
    return bytes(row[0])


def still(conn: Conn, file_hash: str) -> bytes:
    """The still of a clip, or the picture itself. Raises NotThere."""
    row = conn.execute("select coalesce(still, data) from exercise_media where hash = %s", (file_hash,)).fetchone()
    if row is None:
        raise NotThere("There is no such clip or picture.")
    return bytes(row[0])


def assigned_to(conn: Conn, client_id: UUID, file_hash: str) -> bool:
    """Whether a file belongs to an exercise that was ever assigned to a client."""
    row = conn.execute(
        """
        select exists (select from plans p, jsonb_each_text(p.cards) c join card_snapshots s on s.hash = c.value
            where p.client_id = %s and %s in (s.entry->'clip'->>'hash', s.entry->'picture'->>'hash'))""",
        (client_id, file_hash),
    ).fetchone()
    return bool(row and row[0])


def forget_unused(conn: Conn, before: datetime) -> int:
    """Delete what was kept before a moment and no version of an exercise, and no assigned card, names; returns how many."""
    return conn.execute(
        f"""
        delete from exercise_media m where made_at < %s
            and not exists (select from own_exercise_versions e where e.practice_id = m.practice_id and {_NAMED})
            and not exists (select from card_snapshots e where e.practice_id = m.practice_id and {_NAMED})""",
        (before,),
    ).rowcount
