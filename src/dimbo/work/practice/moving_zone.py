"""A client who moves to another time zone: days are the new zone's from now on, planned days stay the dates that they are."""

from __future__ import annotations

from dimbo.core.calendar.schedule import zone
from dimbo.store.database import Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.work.shared.errors import Refused, Why

from .days import own_client


def move(db: Database, person: Person, time_zone: str) -> None:
    """Raises Refused for a zone that is not known."""
    try:
        zone(time_zone)
    except ValueError as error:
        raise Refused(Why.UNREADABLE, f"{error}.", "time_zone") from error
    client_id = own_client(person)
    with db.of(person, client_id) as conn:
        clients.set_profile(conn, client_id, "time_zone", time_zone)
