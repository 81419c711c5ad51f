"""Photographs, files on their way, analyses and the points that were set by hand."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from dimbo.store.database import Conn, NotThere, add_all, many, one_or_none
from dimbo.store.database import add as add_row


@dataclass(frozen=True, kw_only=True)
class Photograph:
    """A photograph without its pixels, with its newest analysis if it has one.

    ``points`` are the automatic ones, ``hand`` those set by hand, both in pixels of the stored picture. ``seen`` holds the
    numbers that quality is judged by. ``flipped`` and ``same_person`` are the coach's answers, None while not asked.
    """

    id: UUID
    sitting_id: UUID
    client_id: UUID
    view: str
    view_confirmed: bool
    flipped: bool | None
    same_person: bool | None
    source_name: str
    width: int
    height: int
    taken_at: datetime | None
    taken_told: str
    state: str
    step: str
    refusal: str
    method: str | None
    points: dict[str, list[float]] | None
    depth: dict[str, float] | None
    trust: dict[str, float] | None
    iris_px: float | None
    seen: dict[str, Any] | None
    face_print: bytes | None
    hand: dict[str, list[float]]
    not_read_by: str = ""
    """The version of the analysis that could not read it, though an earlier one had."""
    again: dict[str, list[float]] = field(default_factory=dict)
    """Points that were set a second time, without seeing the first."""


_PHOTOGRAPH = """select p.id, p.sitting_id, p.client_id, p.view, p.view_confirmed, p.flipped, p.same_person, p.source_name, p.width,
    p.height, p.taken_at, p.taken_told, p.state, p.step, p.refusal, a.method, a.points, a.depth, a.trust, a.iris_px::float8, a.seen,
    a.face_print, coalesce(h.hand, '{}') as hand, coalesce(h.again, '{}') as again, p.not_read_by
    from photographs p
    left join lateral (select * from analyses a where a.photograph_id = p.id order by made_at desc limit 1) a on true
    left join lateral (select jsonb_object_agg(point, jsonb_build_array(x, y)) filter (where x is not null and not again) as hand,
            jsonb_object_agg(point, jsonb_build_array(x, y)) filter (where x is not null and again) as again
        from (select distinct on (point, again) point, again, x, y from point_moves m where m.photograph_id = p.id
            order by point, again, id desc) m) h
        on true"""
OF_CLIENT = f"{_PHOTOGRAPH} where p.client_id = %s order by p.created_at, p.id"


def of_client(conn: Conn, client_id: UUID) -> list[Photograph]:
    """Every photograph of a client in the order of arrival."""
    return many(conn, Photograph, OF_CLIENT, (client_id,))


def one(conn: Conn, photograph_id: UUID) -> Photograph:
    """Raises NotThere."""
    row = one_or_none(conn, Photograph, f"{_PHOTOGRAPH} where p.id = %s", (photograph_id,))
    if row is None:
        raise NotThere("There is no such photograph.")
    return row


def add(
    conn: Conn,
    practice_id: UUID,
    client_id: UUID,
    sitting_id: UUID,
    photograph_id: UUID,
    *,
    source_name: str,
    source_hash: bytes,
    image: bytes,
    thumbnail: bytes,
    size: tuple[int, int],
    taken_at: datetime | None,
    taken_told: str,
    view: str | None,
) -> str:
    """Keep a photograph. Returns "added", "again" (this very upload is here) or "twice" (the same file is).

    Without a ``view`` one is suggested after the analysis, and the coach confirms it.
    """
    if exists(conn, photograph_id):
        return "again"
    width, height = size
    values = {
        "id": photograph_id,
        "practice_id": practice_id,
        "client_id": client_id,
        "sitting_id": sitting_id,
        "source_name": source_name,
        "source_hash": source_hash,
        "image": image,
        "thumbnail": thumbnail,
        "width": width,
        "height": height,
        "taken_at": taken_at,
        "taken_told": taken_told,
        "view": view or "front-neutral",
        "view_confirmed": view is not None,
    }
    added = add_row(conn, "photographs", values, "on conflict do nothing")
    return "added" if added.rowcount else "twice"


def exists(conn: Conn, photograph_id: UUID) -> bool:
    return conn.execute("select 1 from photographs where id = %s", (photograph_id,)).fetchone() is not None


def same_file(conn: Conn, client_id: UUID, source_hash: bytes, photograph_id: UUID) -> bool:
    """Whether the same file is there already, in whatever sitting of the client."""
    row = conn.execute(
        "select exists (select from photographs where client_id = %s and source_hash = %s and id <> %s)",
        (client_id, source_hash, photograph_id),
    ).fetchone()
    return bool(row and row[0])


def picture(conn: Conn, photograph_id: UUID, *, small: bool) -> tuple[UUID, bytes]:
    """The client and the JPEG file. Raises NotThere."""
    column = "thumbnail" if small else "image"
    row = conn.execute(f"select client_id, {column} from photographs where id = %s".encode(), (photograph_id,)).fetchone()
    if row is None:
        raise NotThere("There is no such photograph.")
    return UUID(str(row[0])), bytes(row[1])


def view_and_day(conn: Conn, photograph_id: UUID) -> tuple[str, date]:
    """The view of a photograph and the day of its sitting. Raises NotThere."""
    row = conn.execute(
        "select p.view, s.taken_on from photographs p join sittings s on s.id = p.sitting_id where p.id = %s", (photograph_id,)
    ).fetchone()
    if row is None:
        raise NotThere("There is no such photograph.")
    return row[0], row[1]


def step(conn: Conn, photograph_id: UUID, state: str, words: str, refusal: str = "") -> None:
    """What the worker is at, for those who wait."""
    conn.execute("update photographs set state = %s, step = %s, refusal = %s where id = %s", (state, words, refusal, photograph_id))


def suggest_view(conn: Conn, photograph_id: UUID, view: str) -> None:
    conn.execute("update photographs set view = %s where id = %s and not view_confirmed", (view, photograph_id))


def answer(
    conn: Conn,
    photograph_id: UUID,
    *,
    view: str | None = None,
    flipped: bool | None = None,
    same_person: bool | None = None,
    taken_at: datetime | None = None,
) -> None:
    """What the coach says of a photograph; what is None stays."""
    conn.execute(
        """
        update photographs
        set view = coalesce(%s, view), view_confirmed = view_confirmed or %s, flipped = coalesce(%s, flipped),
            same_person = coalesce(%s, same_person), taken_at = coalesce(%s, taken_at),
                taken_told = case when %s then 'coach' else taken_told end
        where id = %s""",
        (view, view is not None, flipped, same_person, taken_at, taken_at is not None, photograph_id),
    )


def settle(conn: Conn, sitting_id: UUID, flipped: bool) -> None:
    """That all photographs of a sitting are mirrored, or none is."""
    conn.execute("update photographs set flipped = %s where sitting_id = %s and flipped is null", (flipped, sitting_id))


def keep_analysis(
    conn: Conn,
    practice_id: UUID,
    photograph_id: UUID,
    *,
    method: str,
    points: dict[str, tuple[float, float]],
    depth: dict[str, float],
    trust: dict[str, float],
    iris_px: float,
    seen: dict[str, Any],
    face_print: bytes,
) -> None:
    """Keep one analysis per method; the same method read again replaces its own result only."""
    conn.execute(
        """
        insert into analyses (photograph_id, practice_id, client_id, method, points, depth, trust, iris_px, seen, face_print)
        select id, practice_id, client_id, %s, %s, %s, %s, %s, %s, %s
        from photographs
        where id = %s
        on conflict (photograph_id, method) do update set points = excluded.points, depth = excluded.depth,
            trust = excluded.trust, iris_px = excluded.iris_px, seen = excluded.seen, face_print = excluded.face_print,
            made_at = now()""",
        (method, Jsonb(points), Jsonb(depth), Jsonb(trust), iris_px, Jsonb(seen), face_print, photograph_id),
    )


def move_points(
    conn: Conn,
    practice_id: UUID,
    photograph: Photograph,
    moves: dict[str, tuple[float, float] | None],
    *,
    by: UUID,
    at: datetime,
    again: bool = False,
) -> None:
    """Keep where points were set by hand, or set ``again`` unseen; None puts a point back to its automatic place."""
    owned: dict[str, Any] = {"photograph_id": photograph.id, "practice_id": practice_id, "client_id": photograph.client_id}
    rows = []
    for name, place in moves.items():
        x, y = place or (None, None)
        rows.append(owned | {"point": name, "x": x, "y": y, "moved_by": by, "moved_at": at, "again": again})
    add_all(conn, "point_moves", rows)


Set = dict[str, tuple[float, float]]
"""Where points of one picture were set, by name."""


def set_twice(conn: Conn) -> list[tuple[Set, Set]]:
    """The first and the second setting of every profile of the practice that was set again."""
    rows = conn.execute(
        """
        select m.photograph_id, m.again, m.point, m.x, m.y
        from (select distinct on (photograph_id, point, again) * from point_moves
            where photograph_id in (select photograph_id from point_moves where again)
            order by photograph_id, point, again, id desc) m
        join photographs p on p.id = m.photograph_id
        where m.x is not null
        order by p.created_at, m.photograph_id"""
    ).fetchall()
    found: dict[UUID, tuple[Set, Set]] = {}
    for photograph_id, again, point, x, y in rows:
        found.setdefault(photograph_id, ({}, {}))[int(again)][point] = (float(x), float(y))
    return list(found.values())


def outdated(conn: Conn, method: str, most: int) -> list[UUID]:
    """Photographs of the practice, at most so many, that were analysed, but not by this method, and not tried in vain."""
    rows = conn.execute(
        """
        select p.id
        from photographs p
        where p.state = 'measured' and p.not_read_by <> %(method)s and exists (select from analyses a where a.photograph_id = p.id)
            and not exists (select from analyses a where a.photograph_id = p.id and a.method = %(method)s)
        order by p.created_at desc, p.id
        limit %(most)s""",
        {"method": method, "most": most},
    ).fetchall()
    return [UUID(str(r[0])) for r in rows]


def not_read_by(conn: Conn, photograph_id: UUID, method: str) -> None:
    """That a version of the analysis cannot read a photograph: its earlier result stands."""
    conn.execute("update photographs set not_read_by = %s where id = %s", (method, photograph_id))


STAMP = """
    select coalesce(sum(x), 0)::text || '/' || count(*)
    from (
        select xmin::text::bigint as x from photographs where client_id = %(client)s
        union all select xmin::text::bigint from analyses where client_id = %(client)s
        union all select xmin::text::bigint from point_moves where client_id = %(client)s
        union all select xmin::text::bigint from sittings where client_id = %(client)s
        union all select xmin::text::bigint from primary_readings where client_id = %(client)s
        union all select xmin::text::bigint from plans where client_id = %(client)s
    ) rows"""


def stamp(conn: Conn, client_id: UUID) -> str:
    """Another text with every change to what a client's photographs say: each row carries the transaction that wrote it last."""
    row = conn.execute(STAMP, {"client": client_id}).fetchone()
    return str(row[0]) if row else ""


COUNT = "select count(*) as photographs from photographs where client_id = %s"


def count(conn: Conn, client_id: UUID) -> int:
    row = conn.execute(COUNT, (client_id,)).fetchone()
    return int(row[0]) if row else 0


def delete_of_client(conn: Conn, client_id: UUID) -> int:
    """Delete every photograph of a client with what was measured on it and what is on its way; returns how many there were."""
    conn.execute("delete from upload_pieces where client_id = %s", (client_id,))
    return conn.execute("delete from photographs where client_id = %s", (client_id,)).rowcount


def add_piece(conn: Conn, practice_id: UUID, client_id: UUID, photograph_id: UUID, starts_at: int, data: bytes) -> None:
    """Keep one piece of a file; sent again it is kept once."""
    conn.execute(
        """
        insert into upload_pieces (photograph_id, practice_id, client_id, starts_at, data)
        values (%s, %s, %s, %s, %s)
        on conflict do nothing""",
        (photograph_id, practice_id, client_id, starts_at, data),
    )


def unfinished(conn: Conn, client_id: UUID) -> tuple[int, int]:
    """How many pieces and bytes of files that are not finished are kept for a client."""
    row = conn.execute(
        "select count(*), coalesce(sum(length(data)), 0)::bigint from upload_pieces where client_id = %s", (client_id,)
    ).fetchone()
    assert row
    return int(row[0]), int(row[1])


def forget_unfinished(conn: Conn, before: datetime) -> None:
    """Drop what was begun and not finished since."""
    conn.execute(
        """
        delete from upload_pieces where photograph_id in (
            select photograph_id from upload_pieces group by photograph_id having max(received_at) < %s)""",
        (before,),
    )


def received(conn: Conn, photograph_id: UUID) -> int:
    """How many bytes of a file are here without a gap from its beginning."""
    rows = conn.execute(
        "select starts_at, length(data) from upload_pieces where photograph_id = %s order by starts_at", (photograph_id,)
    ).fetchall()
    end = 0
    for start, length in rows:
        if start > end:
            break
        end = max(end, start + length)
    return end


def take_pieces(conn: Conn, photograph_id: UUID) -> bytes:
    """The whole file from its pieces, which are gone afterwards."""
    rows = conn.execute(
        "select starts_at, data from upload_pieces where photograph_id = %s order by starts_at", (photograph_id,)
    ).fetchall()
    whole = bytearray()
    for start, data in rows:
        whole[start : start + len(data)] = data
    conn.execute("delete from upload_pieces where photograph_id = %s", (photograph_id,))
    return bytes(whole)
