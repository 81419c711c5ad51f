"""Letters: drafts that are written, and letters that were sent and stay as they are."""

from __future__ import annotations

from dataclasses import dataclass, fields
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conn, NotThere, add, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class StoredLetter:
    """``draft`` is what the coach chose and wrote, ``content`` the whole as it was sent."""

    id: UUID
    client_id: UUID
    kind: str
    draft: dict[str, Any]
    content: dict[str, Any] | None
    has_pdf: bool
    by_name: str
    changed_at: datetime
    sent_at: datetime | None
    by_mail: bool
    opened_at: datetime | None


_COLUMNS = ", ".join(f.name if f.name != "has_pdf" else "pdf is not null as has_pdf" for f in fields(StoredLetter))


def of_client(conn: Conn, client_id: UUID) -> list[StoredLetter]:
    """Every letter of a client, the newest first."""
    return many(conn, StoredLetter, f"select {_COLUMNS} from letters where client_id = %s order by changed_at desc", (client_id,))


def one(conn: Conn, letter_id: UUID) -> StoredLetter:
    """Raises NotThere."""
    found = one_or_none(conn, StoredLetter, f"select {_COLUMNS} from letters where id = %s", (letter_id,))
    if found is None:
        raise NotThere("There is no such letter.")
    return found


def pdf(conn: Conn, letter_id: UUID) -> bytes:
    """Raises NotThere, also when its photographs were deleted."""
    row = conn.execute("select pdf from letters where id = %s", (letter_id,)).fetchone()
    if row is None or row[0] is None:
        raise NotThere("There is no such letter on paper.")
    return bytes(row[0])


def begin(
    conn: Conn, practice_id: UUID, client_id: UUID, *, new: UUID, kind: str, draft: dict[str, Any], by: UUID, name: str, at: datetime
) -> None:
    values = {"id": new, "practice_id": practice_id, "client_id": client_id, "kind": kind, "draft": Jsonb(draft)}
    add(conn, "letters", values | {"written_by": by, "by_name": name, "changed_at": at})


def keep(conn: Conn, letter_id: UUID, draft: dict[str, Any], at: datetime) -> None:
    conn.execute("update letters set draft = %s, changed_at = %s where id = %s and sent_at is null", (Jsonb(draft), at, letter_id))


def send(conn: Conn, letter_id: UUID, *, content: dict[str, Any], paper: bytes, by_name: str, by_mail: bool, at: datetime) -> bool:
    """False when it was sent already."""
    sent = conn.execute(
        """
        update letters set content = %s, pdf = %s, by_name = %s, by_mail = %s, sent_at = %s, changed_at = %s
        where id = %s and sent_at is null""",
        (Jsonb(content), paper, by_name, by_mail, at, at, letter_id),
    )
    return sent.rowcount == 1


def opened(conn: Conn, letter_id: UUID, at: datetime) -> None:
    """That the client opened it, the first time."""
    conn.execute("update letters set opened_at = %s where id = %s and sent_at is not null and opened_at is null", (at, letter_id))


def drop(conn: Conn, letter_id: UUID) -> bool:
    """Remove a draft; False for a letter that was sent."""
    return conn.execute("delete from letters where id = %s and sent_at is null", (letter_id,)).rowcount == 1


def without_pictures(conn: Conn, client_id: UUID) -> None:
    """The papers of letters that show photographs, gone with them; what was written stays."""
    conn.execute(
        """
        update letters set pdf = null
        where client_id = %s and sent_at is not null and jsonb_path_exists(content, '$.passages[*].pairs[*]')""",
        (client_id,),
    )
