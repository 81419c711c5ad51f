"""Refusals that a person reads, each with a code that programs read."""

from __future__ import annotations

from enum import StrEnum


class Why(StrEnum):
    """The kind of a refusal; together with its field it says what is wrong, whatever the words are."""

    NEEDED = "needed"
    """Something that has to be given is missing."""
    UNREADABLE = "unreadable"
    """It is not written in a way that can be read, or is none of the choices."""
    UNKNOWN = "unknown"
    """It names something that is not there."""
    BOUNDS = "bounds"
    """A number, a day, a size or a text lies outside what can be."""
    CLASH = "clash"
    """It does not go with what else was given, or with what it is about."""
    ALREADY = "already"
    """It was done, sent, used or ended before."""
    CHANGED = "changed"
    """What it was made from has changed meanwhile; look again."""
    NOT_NOW = "not-now"
    """As things stand it cannot be done; the message says what comes first."""
    CARE = "care"
    """Health, age, pain or the checks stand against it."""
    NOT_AGREED = "not-agreed"
    """The client has not agreed to it."""
    NOT_YOURS = "not-yours"
    """It is for somebody else to do."""
    LINK = "link"
    """The link is not known, was used, was taken back or has run out."""
    TOO_MANY = "too-many"
    """Too many tries; wait."""


class Refused(Exception):
    """Bad input or a rule that says no. ``field`` names what to correct, if one does."""

    def __init__(self, why: Why, message: str, field: str | None = None) -> None:
        super().__init__(message)
        self.why, self.message, self.field = why, message, field
