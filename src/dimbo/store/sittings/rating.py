"""Rounds of blind rating: written once, answered once, never edited."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conn, NotThere, add, many, new_id, one_or_none


@dataclass(frozen=True, kw_only=True)
class Round:
    """``items`` are the looks in order; ``answers`` by place. ``earlier`` and ``later`` are photographs."""

    id: UUID
    client_id: UUID
    kind: str
    concern: str
    rater: str
    earlier: list[UUID]
    later: list[UUID]
    items: list[dict[str, Any]]
    begun_at: datetime
    finished_at: datetime | None
    answers: dict[str, int]


_ROUND = """select r.id, r.client_id, r.kind, r.concern, r.rater, r.earlier, r.later, r.items, r.begun_at, r.finished_at,
    coalesce((select jsonb_object_agg(place, value) from rating_answers a where a.round_id = r.id), '{}') as answers from rating_rounds r"""


def begin(
    conn: Conn,
    practice_id: UUID,
    client_id: UUID,
    *,
    kind: str,
    concern: str,
    rater: str,
    earlier: list[UUID],
    later: list[UUID],
    items: list[dict[str, Any]],
    by: UUID,
    at: datetime,
) -> UUID:
    values = {
        "practice_id": practice_id,
        "client_id": client_id,
        "kind": kind,
        "concern": concern,
        "rater": rater,
        "earlier": earlier,
        "later": later,
        "items": Jsonb(items),
        "begun_by": by,
        "begun_at": at,
    }
    return new_id(add(conn, "rating_rounds", values, "returning id"))


def of_client(conn: Conn, client_id: UUID) -> list[Round]:
    return many(conn, Round, f"{_ROUND} where r.client_id = %s order by r.begun_at desc", (client_id,))


def one(conn: Conn, round_id: UUID) -> Round:
    """Raises NotThere."""
    found = one_or_none(conn, Round, f"{_ROUND} where r.id = %s", (round_id,))
    if found is None:
        raise NotThere("There is no such round.")
    return found


def answer(conn: Conn, practice_id: UUID, client_id: UUID, round_id: UUID, place: int, value: int) -> bool:
    """Keep one answer; False when the place was answered before."""
    return bool(
        conn.execute(
            """
            insert into rating_answers (round_id, practice_id, client_id, place, value)
            values (%s, %s, %s, %s, %s)
            on conflict do nothing""",
            (round_id, practice_id, client_id, place, value),
        ).rowcount
    )


def finish(conn: Conn, round_id: UUID, at: datetime) -> None:
    conn.execute("update rating_rounds set finished_at = %s where id = %s and finished_at is null", (at, round_id))
