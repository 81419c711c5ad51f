"""The practice's own number for an emergency, and who has confirmed the careful starting values."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from dimbo.core.calendar.schedule import begun_anywhere
from dimbo.core.programs.program import Settings
from dimbo.core.safety.starting_values import STARTING_VALUES
from dimbo.store.database import Conn, Database
from dimbo.store.people import clients
from dimbo.store.people.accounts import Person
from dimbo.store.programs import confirmed_values
from dimbo.store.programs.confirmed_values import Confirmation
from dimbo.work.shared.errors import Refused, Why

_NUMBER = re.compile(r"[0-9+][0-9 ()/-]{1,28}[0-9]|")


@dataclass(frozen=True)
class Care:
    emergency_number: str
    confirmed: Mapping[str, Confirmation]


def of_practice(db: Database, coach: Person) -> Care:
    with db.of(coach) as conn:
        return Care(clients.emergency_number(conn), confirmed_values.confirmations(conn))


def set_number(db: Database, coach: Person, number: str) -> None:
    """Keep the number that clients are told to call; empty goes back to “your local emergency number”. Raises Refused."""
    wanted = number.strip()
    if not _NUMBER.fullmatch(wanted):
        raise Refused(Why.NEEDED, "Write the number as it is dialled: digits, and + or spaces between them.", "emergency_number")
    with db.of(coach) as conn:
        clients.set_emergency_number(conn, wanted)


def confirm(db: Database, coach: Person, confirmation_id: UUID, new: Confirmation, now: datetime) -> None:
    """Keep who has confirmed a starting value, in which role and when. Raises Refused."""
    if new.value not in STARTING_VALUES:
        raise Refused(Why.UNKNOWN, f"There is no starting value “{new.value}”.", "value")
    if len(new.by_name.strip()) < 2:
        raise Refused(Why.NEEDED, "Write the name of the clinician.", "by_name")
    if len(new.role.strip()) < 2:
        raise Refused(Why.NEEDED, "Write their profession, such as physician.", "role")
    if not begun_anywhere(new.confirmed_on, now):
        raise Refused(Why.BOUNDS, "The day of the confirmation is in the future.", "confirmed_on")
    with db.of(coach) as conn:
        said = Confirmation(new.value, by_name=new.by_name.strip(), role=new.role.strip(), confirmed_on=new.confirmed_on)
        confirmed_values.confirm(conn, coach.practice_id, confirmation_id=confirmation_id, new=said, by=coach.id, at=now)


def require_confirmed(conn: Conn, settings: Settings) -> None:
    """Raises Refused for a setting that allows more than its starting value while nobody has confirmed that."""
    confirmed = confirmed_values.confirmations(conn)
    for value in STARTING_VALUES.values():
        if value.loosened(settings) and value.id not in confirmed:
            said = f"{value.name} ships as {value.ships}. It can be loosened once a licensed clinician has confirmed it under Safety."
            raise Refused(Why.CARE, said, value.setting)
