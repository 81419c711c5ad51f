"""A practice's own exercises with their versions, and the cards that assignments were made with."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conflict, Conn, NotThere, many, one_or_none


@dataclass(frozen=True, kw_only=True)
class OwnExercise:
    """An exercise of the practice's own in its newest version."""

    id: str
    version: int
    family: str
    entry: dict[str, Any]
    retired_at: datetime | None
    saved_by: str
    saved_at: datetime


_COLUMNS = "id, version, family, entry, retired_at, saved_by, saved_at"

STAMPS = "select id, version, retired_at is not null from own_exercises order by id"
"""Id, version and whether it is retired, of every own exercise."""


def stamps(conn: Conn) -> list[tuple[str, int, bool]]:
    return conn.execute(STAMPS).fetchall()


def every(conn: Conn) -> list[OwnExercise]:
    return many(conn, OwnExercise, f"select {_COLUMNS} from own_exercises order by entry->>'name'")


def one(conn: Conn, exercise_id: str) -> OwnExercise:
    """Raises NotThere."""
    row = one_or_none(conn, OwnExercise, f"select {_COLUMNS} from own_exercises where id = %s", (exercise_id,))
    if row is None:
        raise NotThere("There is no such exercise of your own.")
    return row


def create(conn: Conn, practice_id: UUID, exercise_id: str, family: str, entry: dict[str, Any], by: str) -> None:
    """Raises Conflict when the practice has an exercise of that id."""
    done = conn.execute(
        "insert into own_exercises (practice_id, id, family, entry, saved_by) values (%s, %s, %s, %s, %s) on conflict do nothing",
        (practice_id, exercise_id, family, Jsonb(entry), by),
    )
    if done.rowcount == 0:
        raise Conflict("You have an exercise of that name already. Give this one another name.")


def save(conn: Conn, exercise_id: str, base_version: int, family: str, entry: dict[str, Any], by: str) -> int:
    """Save over ``base_version`` and return the new version. Raises Conflict when it is no longer the newest."""
    row = conn.execute(
        """
        update own_exercises
        set family = %s, entry = %s, version = version + 1, saved_by = %s, saved_at = now()
        where id = %s and version = %s
        returning version""",
        (family, Jsonb(entry), by, exercise_id, base_version),
    ).fetchone()
    if row is None:
        now = one(conn, exercise_id)
        raise Conflict(
            f"{now.saved_by} saved version {now.version} of this exercise meanwhile. Open it again; what you wrote is kept here."
        )
    return int(row[0])


def retire(conn: Conn, exercise_id: str, retired: bool) -> None:
    """Take an exercise out of the choice, or back in. Raises NotThere."""
    one(conn, exercise_id)
    conn.execute("update own_exercises set retired_at = case when %s then now() end where id = %s", (retired, exercise_id))


def keep_cards(conn: Conn, practice_id: UUID, cards: Iterable[tuple[str, str, dict[str, Any]]]) -> None:
    """Keep cards by the hash of their text: hash, family, entry."""
    with conn.cursor() as cur:
        cur.executemany(
            "insert into card_snapshots (practice_id, hash, family, entry) values (%s, %s, %s, %s) on conflict do nothing",
            [(practice_id, h, family, Jsonb(entry)) for h, family, entry in cards],
        )


def kept_cards(conn: Conn, hashes: Iterable[str]) -> Mapping[str, tuple[str, dict[str, Any]]]:
    """Family and entry by hash."""
    rows = conn.execute("select hash, family, entry from card_snapshots where hash = any(%s)", (list(hashes),)).fetchall()
    return {h: (family, entry) for h, family, entry in rows}
