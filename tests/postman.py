"""Somebody who carries letters, for tests that are not about mail."""

from __future__ import annotations

from dimbo.work.messages.messenger import Delivery, try_again


class Postman:
    """Delivers everything, but what goes to an address that ends in ``.unreachable.example``."""

    def deliver(self, letter, now):
        if letter.address.endswith(".unreachable.example"):
            return try_again(letter, "The address does not answer.", now)
        return Delivery("delivered") if letter.address else Delivery("failed", problem="No address is known.")
