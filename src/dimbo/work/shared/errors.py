"""Refusals that a person reads."""

from __future__ import annotations


class Refused(Exception):
    """Bad input or a rule that says no. ``field`` names what to correct, if one does."""

    def __init__(self, message: str, field: str | None = None) -> None:
        super().__init__(message)
        self.message, self.field = message, field


class TooMany(Refused):
    """Too many tries; wait."""
