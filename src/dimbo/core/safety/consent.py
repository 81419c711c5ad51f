"""Consents: separate, dated, revocable, each to one version of a text and for so many months."""

from __future__ import annotations

import calendar
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from uuid import UUID

from dimbo.core.text import long_date

RUNNING_OUT_DAYS = 21


class ConsentState(StrEnum):
    NEVER = "never asked"
    GIVEN = "given"
    EARLIER_TEXT = "given to an earlier text"
    EXPIRED = "run out"
    REFUSED = "not given"
    WITHDRAWN = "withdrawn"
    GUARDIAN = "waits for a guardian"
    NO_ACCOUNT = "given by name only"
    TOO_YOUNG = "not before the age of 16"


@dataclass(frozen=True, slots=True, kw_only=True)
class ConsentText:
    """One choice. ``months`` is how long a yes lasts; ``names`` is who must be named with a yes, empty for nobody."""

    id: str
    name: str
    version: int
    months: int
    text: str
    withdrawn: str
    names: str = ""
    names_colleague: bool = False
    """Whether the one who is named is a coach of the practice, by account."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """A client's word on one consent; ``before`` tells whether an earlier yes was taken back by it."""

    given: bool
    on: date
    version: int
    person: str = ""
    account: UUID | None = None
    before: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Consent:
    """Where one consent stands on a day."""

    text: ConsentText
    state: ConsentState
    on: date | None
    until: date | None
    person: str
    account: UUID | None = None
    """Of the second coach who is named."""

    @property
    def in_force(self) -> bool:
        """An earlier text binds until its own end; a new one is asked for meanwhile."""
        return self.state in (ConsentState.GIVEN, ConsentState.EARLIER_TEXT)

    @property
    def settled(self) -> bool:
        return self.state in (ConsentState.GIVEN, ConsentState.REFUSED, ConsentState.WITHDRAWN)

    @property
    def sentence(self) -> str:
        when = f" on {long_date(self.on)}" if self.on else ""
        if self.state is ConsentState.NEVER:
            return "Not asked yet."
        if self.state is ConsentState.GUARDIAN:
            return f"Given{when} by the client; under 18 a guardian must agree as well, by name."
        if self.state is ConsentState.TOO_YOUNG:
            return "Not before the age of 16; nothing is practised and nobody is photographed."
        if self.state is ConsentState.NO_ACCOUNT:
            return f"Given{when} for {self.person}, by name only. Choose the coach from the list, so that it holds for one account."
        if self.state is ConsentState.EXPIRED and self.until:
            return f"Given{when}; it ran out on {long_date(self.until)}."
        if self.in_force and self.until:
            old = ", to an earlier text" if self.state is ConsentState.EARLIER_TEXT else ""
            return f"Given{when}{old}, until {long_date(self.until)}."
        return f"{self.state.value.capitalize()}{when}."


def add_months(day: date, months: int) -> date:
    """The same day of a later month, or that month's last."""
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    return date(year, month + 1, min(day.day, calendar.monthrange(year, month + 1)[1]))


def consent(text: ConsentText, choice: Choice | None, today: date) -> Consent:
    """Where a consent stands on ``today``; the last day of a yes still counts."""
    if choice is None:
        return Consent(text=text, state=ConsentState.NEVER, on=None, until=None, person="")
    if not choice.given:
        state = ConsentState.WITHDRAWN if choice.before else ConsentState.REFUSED
        return Consent(text=text, state=state, on=choice.on, until=None, person=choice.person)
    until = add_months(choice.on, text.months)
    if today > until:
        state = ConsentState.EXPIRED
    elif choice.version < text.version:
        state = ConsentState.EARLIER_TEXT
    else:
        state = ConsentState.GIVEN
    if choice.account is None and text.names_colleague and state in (ConsentState.GIVEN, ConsentState.EARLIER_TEXT):
        state = ConsentState.NO_ACCOUNT
    return Consent(text=text, state=state, on=choice.on, until=until, person=choice.person, account=choice.account)
