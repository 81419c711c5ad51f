"""The list of who was erased, outside the database: a backup that is older than an erasure erases again when it is restored.

A line holds a client's id, the practice's, the moment, by whom and why, as JSON; no name. The worker writes it, so that there is
one hand; the tombstone in the database says whether it stands there.
"""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from uuid import UUID

from dimbo.store.database import Conn, Database
from dimbo.store.people import practices
from dimbo.store.records import erasures
from dimbo.store.records.erasures import Erasure
from dimbo.work.shared.queue import NOTE_ERASED, defer


def queue_noting(conn: Conn) -> None:
    """Have the worker write down what this transaction erases, once it holds."""
    defer(conn, NOTE_ERASED, lock=NOTE_ERASED)


def write_down(db: Database, file: Path, now: datetime) -> int:
    """Append every erasure that the list lacks, and say so in its tombstone; returns how many. One that is written twice, because
    the worker died between the two, erases once."""
    with db.anyone() as conn:
        ids = practices.ids(conn)
    count = 0
    for practice_id in ids:
        with db.practice(practice_id) as conn:
            for e in erasures.not_noted(conn):
                _append(file, e)
                erasures.noted(conn, e.erased_client, now)
                count += 1
    return count


def _append(file: Path, e: Erasure) -> None:
    line = {"client": str(e.erased_client), "practice": str(e.practice_id), "at": e.erased_at.isoformat()}
    line |= {"by": e.by_whom, "reason": e.reason}
    with os.fdopen(os.open(file, os.O_CREAT | os.O_APPEND | os.O_WRONLY, 0o600), "a", encoding="utf-8") as out:
        out.write(json.dumps(line) + "\n")
        out.flush()
        os.fsync(out.fileno())


def read(file: Path) -> Iterator[Erasure]:
    """The lines of a list, each client once. A last line that was cut off is passed over: it is written again. Raises ValueError,
    naming the line, when another one cannot be read."""
    lines = file.read_text(encoding="utf-8").split("\n")
    seen: set[UUID] = set()
    for n, text in enumerate(lines, start=1):
        if not text.strip():
            continue
        try:
            raw = json.loads(text)
            found = Erasure(
                UUID(raw["client"]),
                practice_id=UUID(raw["practice"]),
                erased_at=datetime.fromisoformat(raw["at"]),
                by_whom=raw["by"],
                reason=raw["reason"],
            )
        except (ValueError, KeyError, TypeError) as error:
            if n == len(lines):
                return
            raise ValueError(f"Line {n} of {file} cannot be read.") from error
        if found.erased_client not in seen:
            seen.add(found.erased_client)
            yield found
