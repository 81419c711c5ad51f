"""Everything that an intake is made of, asked for in one round trip."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, TypeVar
from uuid import UUID

from psycopg import Cursor
from psycopg.rows import class_row

from dimbo.store.database import Conn
from dimbo.store.people import clients
from dimbo.store.people.clients import Client
from dimbo.store.sittings import photographs

from . import facts, reasoning, self_intakes
from .facts import Fact
from .reasoning import OwnText
from .self_intakes import SelfIntake

Row = TypeVar("Row")


@dataclass(frozen=True)
class _Count:
    photographs: int


@dataclass(frozen=True, kw_only=True)
class StoredIntake:
    """What was said of a client, with what the intake stands on."""

    client: Client
    own_texts: list[OwnText]
    standing: list[Fact]
    self_intake: SelfIntake | None
    photographs: int


def load(conn: Conn, client_id: UUID) -> StoredIntake:
    """Raises NotThere."""

    def ask(kind: type[Row], sql: str, values: Sequence[Any] | dict[str, Any] = ()) -> Cursor[Row]:
        return conn.cursor(row_factory=class_row(kind)).execute(sql.encode(), values)

    with conn.pipeline():
        client = ask(Client, clients.ONE, (client_id,))
        own = ask(OwnText, reasoning.OWN)
        standing = ask(Fact, facts.STANDING, {"client": client_id})
        sent = ask(SelfIntake, self_intakes.NEWEST, (client_id,))
        count = ask(_Count, photographs.COUNT, (client_id,))
        return StoredIntake(
            client=clients.there(client.fetchone()),
            own_texts=own.fetchall(),
            standing=standing.fetchall(),
            self_intake=sent.fetchone(),
            photographs=count.fetchall()[0].photographs,
        )
