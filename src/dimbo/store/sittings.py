"""Sittings, photographs and their analyses."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from psycopg.types.json import Jsonb

from .database import Conn, NotThere, many, one_or_none


@dataclass(frozen=True)
class Sitting:
    id: UUID
    client_id: UUID
    taken_on: date
    note: str


@dataclass(frozen=True)
class Photograph:
    """A photograph without its pixels, with its analysis if it has one."""

    id: UUID
    sitting_id: UUID
    view: str
    source_name: str
    width: int
    height: int
    taken_at: datetime | None
    state: str
    step: str
    refusal: str
    method: str | None
    points: dict[str, list[float]] | None
    iris_px: float | None
    quality: list[dict[str, str]] | None
    readings: dict[str, dict[str, float]] | None


def create(conn: Conn, practice_id: UUID, client_id: UUID, taken_on: date, note: str) -> UUID:
    row = conn.execute(
        "insert into sittings (practice_id, client_id, taken_on, note) values (%s, %s, %s, %s) returning id",
        (practice_id, client_id, taken_on, note),
    ).fetchone()
    assert row
    return UUID(str(row[0]))


def of_client(conn: Conn, client_id: UUID) -> list[Sitting]:
    return many(
        conn, Sitting, "select id, client_id, taken_on, note from sittings where client_id = %s order by taken_on, created_at", (client_id,)
    )


def one(conn: Conn, sitting_id: UUID) -> Sitting:
    """Raises NotThere."""
    row = one_or_none(conn, Sitting, "select id, client_id, taken_on, note from sittings where id = %s", (sitting_id,))
    if row is None:
        raise NotThere("There is no such sitting.")
    return row


def add_photograph(
    conn: Conn,
    practice_id: UUID,
    sitting: Sitting,
    photograph_id: UUID,
    *,
    source_name: str,
    source_hash: bytes,
    image: bytes,
    thumbnail: bytes,
    size: tuple[int, int],
    taken_at: datetime | None,
) -> str:
    """Keep a photograph. Returns "added", "again" (this very upload is here) or "twice" (the same file is)."""
    if conn.execute("select 1 from photographs where id = %s", (photograph_id,)).fetchone():
        return "again"
    added = conn.execute(
        "insert into photographs (id, practice_id, client_id, sitting_id, source_name, source_hash, image, thumbnail, width, "
        "height, taken_at) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s) on conflict do nothing",
        (photograph_id, practice_id, sitting.client_id, sitting.id, source_name, source_hash, image, thumbnail, *size, taken_at),
    )
    return "added" if added.rowcount else "twice"


_PHOTOGRAPH = """select p.id, p.sitting_id, p.view, p.source_name, p.width, p.height, p.taken_at, p.state, p.step, p.refusal,
    a.method, a.points, a.iris_px::float8, a.quality, a.readings from photographs p left join lateral
    (select * from analyses a where a.photograph_id = p.id order by made_at desc limit 1) a on true"""


def photographs(conn: Conn, client_id: UUID) -> list[Photograph]:
    """Every photograph of a client with its newest analysis, in the order of arrival."""
    return many(conn, Photograph, f"{_PHOTOGRAPH} where p.client_id = %s order by p.created_at, p.id", (client_id,))


def picture(conn: Conn, photograph_id: UUID, *, small: bool) -> bytes:
    """The JPEG file. Raises NotThere."""
    column = "thumbnail" if small else "image"
    row = conn.execute(f"select {column} from photographs where id = %s".encode(), (photograph_id,)).fetchone()
    if row is None:
        raise NotThere("There is no such photograph.")
    return bytes(row[0])


def step(conn: Conn, photograph_id: UUID, state: str, words: str, refusal: str = "") -> None:
    """What the worker is at, for those who wait."""
    conn.execute("update photographs set state = %s, step = %s, refusal = %s where id = %s", (state, words, refusal, photograph_id))


def keep_analysis(
    conn: Conn,
    practice_id: UUID,
    photograph_id: UUID,
    *,
    method: str,
    points: dict[str, tuple[float, float]],
    iris_px: float,
    quality: list[dict[str, str]],
    readings: dict[str, dict[str, float]],
) -> None:
    """Keep one analysis per method; the same method read again replaces its own result only."""
    conn.execute(
        "insert into analyses (photograph_id, practice_id, client_id, method, points, iris_px, quality, readings) "
        "select id, practice_id, client_id, %s, %s, %s, %s, %s from photographs where id = %s "
        "on conflict (photograph_id, method) do update set points = excluded.points, iris_px = excluded.iris_px, "
        "quality = excluded.quality, readings = excluded.readings, made_at = now()",
        (method, Jsonb(points), iris_px, Jsonb(quality), Jsonb(readings), photograph_id),
    )


def delete_photograph(conn: Conn, photograph_id: UUID) -> None:
    if conn.execute("delete from photographs where id = %s", (photograph_id,)).rowcount == 0:
        raise NotThere("There is no such photograph.")


NEWEST_READINGS = """select s.taken_on, a.readings from photographs p join sittings s on s.id = p.sitting_id join lateral
    (select readings from analyses a where a.photograph_id = p.id order by made_at desc limit 1) a on true
    where p.sitting_id = (select s.id from sittings s join photographs p on p.sitting_id = s.id and p.state = 'measured'
    where s.client_id = %s order by s.taken_on desc, s.created_at desc limit 1) and p.state = 'measured'"""
"""Day and readings of each photograph of the newest sitting with measured ones."""
COUNT = "select count(*) as photographs from photographs where client_id = %s"


def photograph_count(conn: Conn, client_id: UUID) -> int:
    row = conn.execute(COUNT, (client_id,)).fetchone()
    return int(row[0]) if row else 0


def delete_photographs(conn: Conn, client_id: UUID) -> int:
    """Delete every photograph of a client with what was measured on it; returns how many there were."""
    return conn.execute("delete from photographs where client_id = %s", (client_id,)).rowcount
