"""Rows of many clients, client by client."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from typing import Protocol, TypeVar
from uuid import UUID


class OfClient(Protocol):
    """A row that is about a client."""

    @property
    def client_id(self) -> UUID: ...


Row = TypeVar("Row")
Own = TypeVar("Own", bound=OfClient)


def by(rows: Iterable[Row], key: Callable[[Row], UUID]) -> defaultdict[UUID, list[Row]]:
    """Rows by what a function says of each, in their order; whoever has none has an empty list."""
    out: defaultdict[UUID, list[Row]] = defaultdict(list)
    for row in rows:
        out[key(row)].append(row)
    return out


def by_client(rows: Iterable[Own]) -> defaultdict[UUID, list[Own]]:
    """Rows by their client."""
    return by(rows, lambda row: row.client_id)
