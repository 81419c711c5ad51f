"""Work that takes much memory or time: a few at once, a few more in line, and a plain refusal for everybody else, so that a flood
of it never takes the whole server."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock, Semaphore

from .errors import Refused, Why


class Turns:
    """At most ``at_once`` run in this process, and ``waiting`` more wait for a turn; ``words`` are said to everybody else."""

    def __init__(self, at_once: int, waiting: int, words: str) -> None:
        self._turns, self._lock, self._most, self._in, self._words = Semaphore(at_once), Lock(), at_once + waiting, 0, words

    @contextmanager
    def turn(self) -> Iterator[None]:
        """Raises Refused when too many wait already."""
        with self._lock:
            if self._in >= self._most:
                raise Refused(Why.TOO_MANY, self._words)
            self._in += 1
        try:
            with self._turns:
                yield
        finally:
            with self._lock:
                self._in -= 1
