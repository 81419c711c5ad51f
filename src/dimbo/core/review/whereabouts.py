"""Where a client is with the practice, in one word: what a list of clients is sorted into."""

from __future__ import annotations

from enum import StrEnum


class Whereabouts(StrEnum):
    """In the order in which a coach looks for them."""

    RUNNING = "running"
    BEGINNING = "beginning"
    """Taken on, and no program has run yet."""
    PAUSED = "paused"
    FINISHED = "finished"
    ENQUIRY = "enquiry"
    ARCHIVED = "archived"


def whereabouts(status: str, *, archived: bool, running: bool, paused: bool, practised: bool) -> Whereabouts:
    """Where a client is.

    ``status`` is what the coach noted (enquiry, active, paused or finished); what is seen goes before it: a program that runs is
    running whatever was noted, unless today lies in a pause. ``practised`` is whether any program ever ran.
    """
    if archived:
        return Whereabouts.ARCHIVED
    if running:
        return Whereabouts.PAUSED if paused else Whereabouts.RUNNING
    if status in (Whereabouts.PAUSED, Whereabouts.FINISHED):
        return Whereabouts(status)
    if practised:
        return Whereabouts.FINISHED
    return Whereabouts.ENQUIRY if status == Whereabouts.ENQUIRY else Whereabouts.BEGINNING
