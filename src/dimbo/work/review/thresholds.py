"""The practice's thresholds of the weekly review."""

from __future__ import annotations

from collections.abc import Mapping

from dimbo.core.review.thresholds import OutOfBounds, ReviewRules, checked_rules, own_rules
from dimbo.store.database import Database
from dimbo.store.people.accounts import Person
from dimbo.store.review import reviews
from dimbo.work.shared.errors import Refused, Why

from .week_facts import practice_rules


def of_practice(db: Database, coach: Person) -> ReviewRules:
    with db.of(coach) as conn:
        return practice_rules(conn)


def keep(db: Database, coach: Person, values: Mapping[str, float]) -> None:
    """Keep thresholds; those that are not named go back to what ships. Raises Refused that names one and its bounds."""
    try:
        rules = checked_rules(values)
    except OutOfBounds as error:
        raise Refused(Why.UNREADABLE, f"{error}.", error.field) from error
    with db.of(coach) as conn:
        reviews.set_own_rules(conn, own_rules(rules))
