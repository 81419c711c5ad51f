"""The messenger, and the small stand-in for mail and push that ships: it delivers into the outbox, with delays and failures.

The stand-in is predictable: a letter's own id decides its fate. One in four is delayed by half a minute, one in six fails
at first and is tried again after one, then two minutes, and addresses that end in ``.unreachable.example`` always fail.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Protocol
from uuid import UUID

MOST_TRIES = 4
DELAY = timedelta(seconds=30)
AGAIN = timedelta(minutes=1)


@dataclass(frozen=True)
class Delivery:
    """What became of a try: waiting with the next try, delivered, or failed for good with the problem in words."""

    state: str
    problem: str = ""
    again_at: datetime | None = None


class Messenger(Protocol):
    """Carries letters to people."""

    def deliver(self, letter: UUID, address: str, tries: int, now: datetime) -> Delivery:
        """Try to deliver a letter that was tried ``tries`` times before."""
        ...


class StandIn:
    """The messenger that ships."""

    def deliver(self, letter: UUID, address: str, tries: int, now: datetime) -> Delivery:
        if not address:
            return Delivery("failed", problem="No address is known.")
        if address.endswith(".unreachable.example"):
            return self._again("The address does not answer.", tries, now)
        if tries == 0 and letter.int % 4 == 0:
            return Delivery("waiting", problem="On its way.", again_at=now + DELAY)
        if tries == 0 and letter.int % 6 == 1:
            return self._again("The mailbox is busy.", tries, now)
        return Delivery("delivered")

    @staticmethod
    def _again(problem: str, tries: int, now: datetime) -> Delivery:
        if tries + 1 >= MOST_TRIES:
            return Delivery("failed", problem=f"{problem} Given up after {MOST_TRIES} tries.")
        return Delivery("waiting", problem=f"{problem} Trying again.", again_at=now + AGAIN * 2**tries)
