"""What a process remembers of clients so that it need not be worked out again; forgotten when the client is erased."""

from __future__ import annotations

from threading import Lock
from typing import Any, Generic, TypeVar
from uuid import UUID

from cachetools import TTLCache

Value = TypeVar("Value")
LASTS_S = 3600
"""An erased client is forgotten at once by the process that erases, and by every other one after this long."""
_all: list[Remembered[Any]] = []


class Remembered(Generic[Value]):
    """One value a client, at most ``most``; routes run in threads, and looking up moves an entry."""

    def __init__(self, most: int) -> None:
        self._kept: TTLCache[UUID, Value] = TTLCache(maxsize=most, ttl=LASTS_S)
        self._lock = Lock()
        _all.append(self)

    def get(self, client_id: UUID) -> Value | None:
        with self._lock:
            return self._kept.get(client_id)

    def keep(self, client_id: UUID, value: Value) -> None:
        with self._lock:
            self._kept[client_id] = value

    def forget(self, client_id: UUID) -> None:
        with self._lock:
            self._kept.pop(client_id, None)

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()


def forget(client_id: UUID) -> None:
    """Nothing that this process remembers is about the client any more."""
    for kept in _all:
        kept.forget(client_id)
