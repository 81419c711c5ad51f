"""What a coach may look for by words: names of clients, titles, messages and notes of the practice."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple
from uuid import UUID

from dimbo.store.database import Conn, Statement

MOST_TEXTS = 200
"""The newest messages and notes that hold the longest word are looked through, this many of each."""


class NamedClient(NamedTuple):
    id: UUID
    name: str
    email: str
    archived: bool


class Titled(NamedTuple):
    """A program with whose it is, or a template of the practice."""

    id: UUID
    title: str
    of: str


class Written(NamedTuple):
    """A message or a note: of which client, its text, by whom and when."""

    client_id: UUID
    name: str
    text: str
    by: str
    at: datetime


CLIENTS = Statement(NamedClient, "select id, name, email, archived_at is not null as archived from clients order by name")
PROGRAMS = Statement(
    Titled,
    """
    select p.id, p.title, c.name as of
    from programs p join clients c on c.id = p.client_id
    order by p.updated_at desc""",
)
TEMPLATES = Statement(Titled, "select id, title, '' as of from templates order by title")


def _holds(text: str) -> str:
    """That a text holds the word, whatever its accents: as ``core.text.folded`` writes it."""
    return f"strpos(regexp_replace(lower(normalize({text}, nfkd)), '[\u0300-\u036f]', '', 'g'), %(word)s) > 0"


MESSAGES = Statement(
    Written,
    f"""
    select m.client_id, c.name, m.text, coalesce(a.name, c.name) as by, m.received_at as at
    from messages m
    join clients c on c.id = m.client_id
    left join accounts a on a.id = m.author
    where {_holds("m.text")}
    order by m.received_at desc
    limit %(most)s""",
)
NOTES = Statement(
    Written,
    f"""
    select f.client_id, c.name, f.value->>'text' as text, f.author as by, f.at
    from facts f
    join clients c on c.id = f.client_id
    where f.practice_id = current_practice() and f.kind = 'note' and {_holds("f.value->>'text'")}
    order by f.at desc
    limit %(most)s""",
)


class Searched(NamedTuple):
    clients: Sequence[NamedClient]
    programs: Sequence[Titled]
    templates: Sequence[Titled]
    messages: Sequence[Written]
    notes: Sequence[Written]


def read(conn: Conn, word: str) -> Searched:
    """Every name and title, and the newest messages and notes that hold ``word`` (small letters, no accents), in one round trip."""
    values = {"word": word, "most": MOST_TEXTS}
    with conn.pipeline():
        clients, programs, templates = CLIENTS.run(conn), PROGRAMS.run(conn), TEMPLATES.run(conn)
        messages, notes = MESSAGES.run(conn, values), NOTES.run(conn, values)
        return Searched(
            clients=clients.fetchall(),
            programs=programs.fetchall(),
            templates=templates.fetchall(),
            messages=messages.fetchall(),
            notes=notes.fetchall(),
        )
